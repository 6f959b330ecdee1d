// What is typed into a cell stays whole, whoever else reaches for the focus.
import { useState } from 'react'
import { expect, test } from 'vitest'
import { userEvent } from 'vitest/browser'
import { show } from '../../testing/render'
import { EntryField } from './entry-field'

function Cell({ taken }: { taken: (string | null)[] }) {
  const [open, setOpen] = useState(true)
  return (
    <div className="relative h-40">
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: stands for the grid, which has the focus itself */}
      <div data-testid="cells" tabIndex={0} className="h-20 w-full" />
      {open && (
        <EntryField
          row={0}
          column={0}
          entry="1"
          x={0}
          y={90}
          width={80}
          height={24}
          typed
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
