// Every key that does something, on one screen.
import { Button } from '../design/controls'
import { Question } from '../design/overlay'
import { withControl } from '../design/words'
import { useCommands } from './commands'

/** For example `Mod+Shift+S` as it stands on this machine's keys. */
export const keysInWords = (keys: string): string => keys.replace('Mod+', withControl(''))

const always: [string, [string, string][]][] = [
  [
    'In a document',
    [
      ['Mod+B', 'Bold'],
      ['Mod+I', 'Italic'],
      ['Mod+U', 'Underlined'],
      ['Alt+Shift+D', 'Struck through'],
      ['Alt+Shift+1 … 4', 'Heading of that level'],
      ['Alt+Shift+0', 'Text'],
      ['Mod+K', 'Link'],
      ['Mod+Enter', 'New page'],
      ['Tab', 'On: to the next cell, deeper in a list, else out of the document'],
      ['Escape, Tab', 'Out of the document, wherever the cursor is'],
    ],
  ],
  [
    'In a spreadsheet',
    [
      ['F2', 'Change the cell'],
      ['Enter', 'Keep it and go down'],
      ['Tab', 'Keep it and go right'],
      ['Escape', 'Leave it as it was'],
    ],
  ],
  [
    'In a list of files',
    [
      ['Enter', 'Open'],
      ['Space', 'Choose'],
      ['F2', 'Rename'],
      ['Delete', 'Remove'],
    ],
  ],
  [
    'On the lifeline',
    [
      ['←  →', 'One moment earlier or later'],
      ['Home, End', 'The first moment, now'],
      ['Escape', 'Back to now'],
    ],
  ],
]

export function AllKeys({ onClose }: { onClose: () => void }) {
  const commands = useCommands().filter(({ keys }) => keys)
  const groups: [string, [string, string][]][] = [
    ...[...new Set(commands.map(({ group }) => group))].map((group): [string, [string, string][]] => [
      group,
      commands.filter((one) => one.group === group).map(({ keys, label }) => [keys!, label]),
    ]),
    ...always,
  ]
  return (
    <Question
      title="All keys"
      wide
      onClose={onClose}
      answers={
        <Button look="main" onClick={onClose}>
          Close
        </Button>
      }
    >
      <div className="columns-1 gap-8 text-ink sm:columns-2">
        {groups.map(([group, keys]) => (
          <section key={group} className="mb-4 break-inside-avoid">
            <h3 className="mb-1 text-[13px] text-soft">{group}</h3>
            <dl className="grid grid-cols-[minmax(0,1fr)_auto] gap-x-4 gap-y-1 text-[14px]">
              {keys.map(([key, label]) => (
                <div key={key + label} className="contents">
                  <dt>{label}</dt>
                  <dd className="text-right font-mono text-[12.5px] text-soft">{keysInWords(key)}</dd>
                </div>
              ))}
            </dl>
          </section>
        ))}
      </div>
    </Question>
  )
}
