// The parts that every screen is made of, by the keys that a person presses.
import { Bold, Italic, Underline } from 'lucide-react'
import { useState } from 'react'
import { describe, expect, test } from 'vitest'
import { userEvent } from 'vitest/browser'
import { focused, show } from '../testing/render'
import { Button } from './controls'
import { IconButton } from './icon-button'
import { KindGlyph, NameParts, NameText } from './kind'
import { Menu, MenuItem, MenuRule, Question } from './overlay'
import { ToolRow } from './tool-row'

/** Presses a key as a person does, who sees where it brought them. */
async function press(key: string, to?: string): Promise<void> {
  await userEvent.keyboard(key)
  if (to) await expect.poll(focused).toBe(to)
}

describe('a menu', () => {
  const shown = async () => {
    const done: string[] = []
    const { screen } = await show(
      <>
        <Menu trigger={<button type="button">File</button>}>
          <MenuItem keys="Alt+R" onSelect={() => done.push('rename')}>
            Rename
          </MenuItem>
          <MenuItem disabled onSelect={() => done.push('move')}>
            Move
          </MenuItem>
          <MenuRule />
          <MenuItem onSelect={() => done.push('remove')}>Remove</MenuItem>
        </Menu>
        <button type="button">After</button>
      </>,
    )
    return { screen, done }
  }
  test('opens by a key, is gone through by arrows past what cannot be done, and gives the focus back', async () => {
    const { screen, done } = await shown()
    await userEvent.keyboard('{Tab}')
    expect(focused()).toBe('File')
    await userEvent.keyboard('{Enter}')
    await expect.element(screen.getByRole('menuitem', { name: 'Rename' })).toHaveFocus()
    await userEvent.keyboard('{ArrowDown}')
    await expect.element(screen.getByRole('menuitem', { name: 'Remove' })).toHaveFocus()
    await userEvent.keyboard('{Enter}')
    expect(done).toEqual(['remove'])
    await expect.element(screen.getByRole('menu')).not.toBeInTheDocument()
    await expect.poll(focused).toBe('File')
  })
  test('closes by Escape with nothing done, and a first letter goes to its item', async () => {
    const { screen, done } = await shown()
    await userEvent.keyboard('{Tab}{Enter}')
    await expect.element(screen.getByRole('menuitem', { name: 'Rename' })).toHaveFocus()
    await userEvent.keyboard('rem')
    await expect.element(screen.getByRole('menuitem', { name: 'Remove' })).toHaveFocus()
    await userEvent.keyboard('{Escape}')
    await expect.poll(focused).toBe('File')
    expect(done).toEqual([])
  })
  test('of things that may be on or off stays open, and tells which are on', async () => {
    function Choice() {
      const [on, setOn] = useState<readonly string[]>(['Size'])
      return (
        <Menu trigger={<button type="button">Columns</button>}>
          {['Size', 'Saved'].map((name) => (
            <MenuItem
              key={name}
              checked={on.includes(name)}
              onSelect={() => setOn(on.includes(name) ? on.filter((one) => one !== name) : [...on, name])}
            >
              {name}
            </MenuItem>
          ))}
        </Menu>
      )
    }
    const { screen } = await show(<Choice />)
    await userEvent.keyboard('{Tab}{Enter}')
    const item = (name: string) => screen.getByRole('menuitemcheckbox', { name })
    await expect.element(item('Size')).toHaveFocus()
    await expect.element(item('Size')).toHaveAttribute('aria-checked', 'true')
    await userEvent.keyboard('{Enter}')
    await expect.element(item('Size')).toHaveAttribute('aria-checked', 'false')
    await userEvent.keyboard('{ArrowDown}')
    await expect.element(item('Saved')).toHaveFocus()
    await userEvent.keyboard('{Enter}')
    await expect.element(item('Size')).toHaveAttribute('aria-checked', 'false')
    await expect.element(item('Saved')).toHaveAttribute('aria-checked', 'true')
  })
  test('that the work is to have the focus after gives it there', async () => {
    const { screen } = await show(
      <>
        <textarea aria-label="Work" />
        <Menu
          trigger={<button type="button">Heading</button>}
          returnTo={() => document.querySelector('textarea')!.focus()}
        >
          <MenuItem onSelect={() => {}}>Heading 1</MenuItem>
        </Menu>
      </>,
    )
    await userEvent.keyboard('{Tab}{Tab}{Enter}')
    await expect.element(screen.getByRole('menuitem')).toHaveFocus()
    await userEvent.keyboard('{Enter}')
    await expect.element(screen.getByRole('textbox')).toHaveFocus()
    await userEvent.keyboard('typed')
    await expect.element(screen.getByRole('textbox')).toHaveValue('typed')
  })
})

describe('a question', () => {
  test('has the focus, keeps it, is named by its title, and Escape answers it', async () => {
    const answers: string[] = []
    function Asking() {
      const [open, setOpen] = useState(false)
      const answer = (which: string) => {
        answers.push(which)
        setOpen(false)
      }
      return (
        <>
          <button type="button" onClick={() => setOpen(true)}>
            Ask
          </button>
          {open && (
            <Question
              title="Close 3 files?"
              onClose={() => answer('cancel')}
              answers={
                <>
                  <Button look="main" onClick={() => answer('close')}>
                    Close
                  </Button>
                  <Button onClick={() => answer('cancel')}>Cancel</Button>
                </>
              }
            >
              One has unsaved changes.
            </Question>
          )}
        </>
      )
    }
    const { screen } = await show(<Asking />)
    await userEvent.keyboard('{Tab}{Enter}')
    const dialog = screen.getByRole('dialog', { name: 'Close 3 files?' })
    await expect.element(dialog).toHaveAccessibleDescription('One has unsaved changes.')
    await expect.poll(focused).toBe('Close')
    await press('{Tab}', 'Cancel')
    await press('{Tab}', 'Close')
    await press('{Shift>}{Tab}{/Shift}', 'Cancel')
    await userEvent.keyboard('{Escape}')
    await expect.element(dialog).not.toBeInTheDocument()
    // What asked has the focus again.
    await expect.poll(focused).toBe('Ask')
    await press('{Enter}', 'Close')
    await userEvent.keyboard('{Enter}')
    expect(answers).toEqual(['cancel', 'close'])
  })
})

describe('a row of tools', () => {
  test('is one stop of the Tab key, and arrows go through it', async () => {
    const pressed: string[] = []
    await show(
      <>
        <button type="button">Before</button>
        <ToolRow label="Tools">
          {(
            [
              ['Bold', Bold],
              ['Italic', Italic],
              ['Underline', Underline],
            ] as const
          ).map(([label, Icon]) => (
            <IconButton key={label} label={label} pressed={label === 'Bold'} onClick={() => pressed.push(label)}>
              <Icon />
            </IconButton>
          ))}
        </ToolRow>
        <button type="button">After</button>
      </>,
    )
    await userEvent.keyboard('{Tab}{Tab}')
    expect(focused()).toBe('Bold')
    expect(document.activeElement?.getAttribute('aria-pressed')).toBe('true')
    await press('{ArrowRight}', 'Italic')
    await press('{ArrowRight}', 'Underline')
    await press('{Enter}')
    expect(pressed).toEqual(['Underline'])
    await press('{ArrowRight}', 'Bold')
    await press('{Tab}', 'After')
    await press('{Shift>}{Tab}{/Shift}', 'Bold')
  })
  test('upright, the arrows up and down go through it', async () => {
    await show(
      <ToolRow label="Tools" upright>
        <IconButton label="Bold">
          <Bold />
        </IconButton>
        <IconButton label="Italic">
          <Italic />
        </IconButton>
      </ToolRow>,
    )
    await press('{Tab}', 'Bold')
    await press('{ArrowDown}', 'Italic')
    await press('{ArrowUp}', 'Bold')
  })
  test('a button of an icon alone has its words, also as a tip', async () => {
    const { screen } = await show(
      <IconButton label="Up a level" keys="Alt+U">
        <Bold />
      </IconButton>,
    )
    await userEvent.keyboard('{Tab}')
    await expect.element(screen.getByRole('tooltip')).toHaveTextContent('Up a levelAlt+U')
  })
})

describe('names and kinds', () => {
  test.each([
    ['docx', 'Document'],
    ['xlsx', 'Spreadsheet'],
    ['pdf', 'File'],
    ['', 'File'],
  ])('what is %s is called a %s', async (type, kind) => {
    const { screen } = await show(<KindGlyph type={type} />)
    await expect.element(screen.getByLabelText(kind)).toBeVisible()
  })
  test('a name reads as it is written, however its parts are told apart', async () => {
    for (const name of ['2026-10-12_LK07_Inspection.docx', '_a__b_.x', 'No parts', 'שלום_2.xlsx', 'a.b.c']) {
      const parts = await show(<NameParts name={name} />)
      expect(parts.screen.container.textContent).toBe(name)
      await parts.screen.unmount()
      const text = await show(<NameText name={name} />)
      expect(text.screen.container.textContent).toBe(name)
      await text.screen.unmount()
    }
  })
  test('a long name breaks after its separators, and stays in its place', async () => {
    const name = '2026-11-26_LK07_Notice_Closure of the lock at Kettleford for three days in November.docx'
    const { screen } = await show(
      <div style={{ width: 180 }}>
        <NameText name={name} />
      </div>,
    )
    const box = screen.container.querySelector('div')!
    expect(box.scrollWidth).toBeLessThanOrEqual(180)
    expect(box.getBoundingClientRect().height).toBeGreaterThan(40)
  })
})
