// What is typed into a cell stays whole, whoever else reaches for the focus.
import { useState } from 'react'
import { expect, test } from 'vitest'
import { userEvent } from 'vitest/browser'
import { show } from '../../testing/render'
import { EntryField, putInEvent } from './entry-field'

function Cell({
  taken,
  entry = '1',
  goesOn,
  quiet = false,
}: {
  taken: (string | null)[]
  entry?: string
  goesOn?: (typed: string) => readonly string[]
  quiet?: boolean
}) {
  const [open, setOpen] = useState(true)
  return (
    <div className="relative h-40">
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: stands for the grid, which has the focus itself */}
      <div data-testid="cells" tabIndex={0} className="h-20 w-full" />
      <div data-for-entry>
        <input type="search" aria-label="Beside" />
      </div>
      {open && (
        <EntryField
          row={0}
          column={0}
          entry={entry}
          {...(goesOn && { goesOn })}
          x={0}
          y={90}
          width={80}
          height={24}
          typed
          quiet={quiet}
          sheet={0}
          room={{ width: 400, height: 160 }}
          functions={[]}
          onWriting={() => {}}
          onTyping={() => {}}
          onFinish={(text) => {
            taken.push(text)
            setOpen(false)
          }}
        />
      )}
    </div>
  )
}

test('a grid that takes the focus late, after a click before, does not cut an entry in two', async () => {
  const taken: (string | null)[] = []
  const { screen } = await show(<Cell taken={taken} />)
  await expect.element(screen.getByRole('textbox')).toHaveFocus()
  const cells = screen.getByTestId('cells').element() as HTMLElement
  cells.focus()
  await userEvent.keyboard('2{Enter}')
  expect(taken).toEqual(['12'])
})
test('a click beside it takes the entry in', async () => {
  const taken: (string | null)[] = []
  const { screen } = await show(<Cell taken={taken} />)
  await expect.element(screen.getByRole('textbox')).toHaveFocus()
  await userEvent.keyboard('3')
  await userEvent.click(screen.getByTestId('cells'))
  expect(taken).toEqual(['13'])
})

const known = ['Lock gate', 'Lock keeper', 'Weir']
const goesOn = (typed: string) =>
  known.filter((one) => one !== typed && one.toLowerCase().startsWith(typed.toLowerCase()))

test('what is typed is entered as it is, whatever is offered; what is gone to with the arrows is entered with the same key', async () => {
  for (const [keys, entered] of [
    ['o{Enter}', 'Lo'],
    ['o{ArrowDown}{Enter}', 'Lock gate'],
    ['o{ArrowDown}{ArrowDown}{Tab}', 'Lock keeper'],
    ['o{ArrowUp}{Enter}', 'Lock keeper'],
    // Past the end it is what was typed again, and so it is after Escape.
    ['o{ArrowDown}{ArrowDown}{ArrowDown}{Enter}', 'Lo'],
    ['o{ArrowDown}{Escape}ts{Enter}', 'Lots'],
    ['o{Escape}', null],
    // Another letter is another entry, and nothing of it is chosen.
    ['o{ArrowDown}ck{Enter}', 'Lock'],
  ] as const) {
    const taken: (string | null)[] = []
    const { screen } = await show(<Cell taken={taken} entry="L" goesOn={goesOn} />)
    const field = screen.getByRole('textbox')
    await expect.element(field).toHaveFocus()
    await expect.element(screen.getByRole('listbox', { name: 'What it may go on to be' })).toBeVisible()
    await userEvent.keyboard(keys)
    expect(taken).toEqual([entered])
    await screen.unmount()
  }
})
test('an entry that is offered and pressed stays in its field, and is told to who hears it', async () => {
  const taken: (string | null)[] = []
  const { screen } = await show(<Cell taken={taken} entry="L" goesOn={goesOn} />)
  const field = screen.getByRole('textbox')
  await expect.element(field).toHaveFocus()
  await userEvent.keyboard('{ArrowDown}')
  const first = screen.getByRole('option', { name: 'Lock gate' })
  await expect.element(first).toHaveAttribute('aria-selected', 'true')
  expect((field.element() as HTMLElement).getAttribute('aria-activedescendant')).toBe(first.element().id)
  await userEvent.click(screen.getByRole('option', { name: 'Lock keeper' }))
  await expect.element(field).toHaveValue('Lock keeper')
  await expect.element(field).toHaveFocus()
  await userEvent.keyboard(' of LK07{Enter}')
  expect(taken).toEqual(['Lock keeper of LK07'])
  // Nothing is offered for a formula but its functions.
  const formula = await show(<Cell taken={taken} entry="=" goesOn={() => ['=no']} />)
  await expect.element(formula.screen.getByRole('textbox').last()).toHaveFocus()
  expect(formula.screen.getByRole('listbox').query()).toBe(null)
})

const putIn = (letters: string) =>
  document.querySelector('textarea')!.dispatchEvent(new CustomEvent(putInEvent, { detail: letters }))

test('what is put in from beside it goes to the caret; it stays open until somebody goes on elsewhere', async () => {
  const taken: (string | null)[] = []
  const { screen } = await show(<Cell taken={taken} entry="8 mm" />)
  const field = screen.getByRole('textbox', { name: 'Cell entry' })
  const beside = screen.getByRole('searchbox', { name: 'Beside' })
  await expect.element(field).toHaveFocus()
  await userEvent.keyboard('{Home}{ArrowRight}')
  await userEvent.click(beside)
  await expect.element(beside).toHaveFocus()
  putIn('–')
  putIn('½')
  await expect.element(field).toHaveValue('8–½ mm')
  expect(taken).toEqual([])
  // Back in it the keys go on there, and what beside it has is not entered twice.
  await userEvent.click(field)
  await userEvent.keyboard('{End}!{Enter}')
  expect(taken).toEqual(['8–½ mm!'])
})
test('an entry that is begun from beside it leaves the keys there, and is entered when they go elsewhere', async () => {
  const taken: (string | null)[] = []
  const { screen } = await show(<Cell taken={taken} entry="20" quiet />)
  const field = screen.getByRole('textbox', { name: 'Cell entry' })
  await expect.element(field).toBeVisible()
  expect(document.activeElement).not.toBe(field.element())
  putIn(' °C')
  await expect.element(field).toHaveValue('20 °C')
  await userEvent.click(screen.getByRole('searchbox', { name: 'Beside' }))
  expect(taken).toEqual([])
  await userEvent.click(screen.getByTestId('cells'))
  expect(taken).toEqual(['20 °C'])
})
