// Every key that does something, on one screen.

import { useCommands } from '../design/commands'
import { Button } from '../design/controls'
import { Question } from '../design/overlay'
import { t } from '../words'
import { withControl } from '../words/formats'

/** For example `Mod+Shift+S` as it stands on this machine's keys. */
export const keysInWords = (keys: string): string => keys.replace('Mod+', withControl(''))

const always: [string, [string, string][]][] = [
  [
    t('common.in-a-document'),
    [
      ['Mod+B', t('common.bold')],
      ['Mod+I', t('common.italic')],
      ['Mod+U', t('app.underlined')],
      ['Alt+Shift+D', t('app.struck-through')],
      ['Alt+Shift+1 … 4', t('app.heading-of-that-level')],
      ['Alt+Shift+0', t('common.text')],
      ['Mod+K', t('common.link')],
      ['Mod+Enter', t('common.new-page')],
      ['Tab', t('app.to-the-next-cell-deeper-in-a')],
      ['Escape, Tab', t('app.out-of-the-document-wherever-the-cursor')],
    ],
  ],
  [
    t('common.in-a-spreadsheet'),
    [
      ['F2', t('app.change-the-cell')],
      ['Enter', t('app.take-what-was-typed-and-go-down')],
      ['Tab', t('app.take-what-was-typed-and-go-right')],
      ['Escape', t('app.leave-the-cell-as-it-was')],
      ['↑ ↓ ← →', t('app.name-cells-while-a-formula-asks')],
      ['F4', t('app.keep-what-is-named-when-copied')],
      ['Mod+↑ ↓ ← →', t('app.to-the-edge-of-what-is-filled')],
      ['Mod+D', t('app.fill-downwards')],
      ['Mod+R', t('app.fill-to-the-right')],
      ['Mod+Shift+V', t('app.paste-values-only')],
    ],
  ],
  [
    t('app.in-a-list-of-files'),
    [
      ['Enter', t('common.open')],
      ['Space', t('app.choose')],
      ['F2', t('common.rename')],
      ['Delete', t('common.remove')],
    ],
  ],
  [
    t('app.on-the-lifeline'),
    [
      ['←  →', t('app.one-moment-earlier-or-later')],
      ['Home, End', t('app.to-the-first-moment-to-now')],
      ['Escape', t('common.back-to-now')],
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
      title={t('app.all-keys')}
      wide
      onClose={onClose}
      answers={
        <Button look="main" onClick={onClose}>
          {t('common.close')}
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
