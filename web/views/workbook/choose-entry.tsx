// The list of a cell: what may be entered into it, one of which is chosen.
import { Command as List } from 'cmdk'
import { useMemo, useState } from 'react'
import type { RuleChoice } from '../../../core/content/entry-rules'
import { folded } from '../../../core/content/sheet-filter'
import { t } from '../../words/all'
import { AtCell, type CellSpot } from './at-cell'

/** More are found by typing. */
const mostShown = 200

export function ChooseEntry({
  address,
  choices,
  now,
  at,
  onChoose,
  onClose,
}: {
  address: string
  choices: readonly RuleChoice[]
  /** What the cell shows. */
  now: string
  /** Where the cell is on screen. */
  at: CellSpot
  onChoose: (choice: RuleChoice) => void
  onClose: () => void
}) {
  const [typed, setTyped] = useState('')
  const [chosen, setChosen] = useState(() => {
    const here = choices.findIndex(({ text }) => text === now)
    return String(Math.max(0, here))
  })
  const found = useMemo(() => {
    const wanted = folded(typed.trim())
    return choices.flatMap((one, index) => (folded(one.text).includes(wanted) ? [{ ...one, index }] : []))
  }, [choices, typed])
  return (
    <AtCell
      label={t('sheet.choices-for', { address })}
      at={at}
      className="max-h-[min(360px,var(--radix-popover-content-available-height))] w-[min(280px,calc(100vw-16px))]"
      onClose={onClose}
    >
      <List
        shouldFilter={false}
        label={t('sheet.choices-for', { address })}
        value={chosen}
        onValueChange={setChosen}
        className="flex min-h-0 flex-col"
      >
        <List.Input
          value={typed}
          onValueChange={(text) => {
            setTyped(text)
            const wanted = folded(text.trim())
            setChosen(String(choices.findIndex((one) => folded(one.text).includes(wanted))))
          }}
          placeholder={t('sheet.choice-part')}
          aria-label={t('sheet.choice-part')}
          className="h-9 shrink-0 border-b bg-transparent px-3 outline-none"
        />
        <List.List className="min-h-0 overflow-y-auto p-1">
          {found.slice(0, mostShown).map((one) => (
            <List.Item
              key={one.index}
              value={String(one.index)}
              onSelect={() => onChoose(one)}
              className="flex min-h-8 cursor-default items-center rounded px-2 text-[14px] data-[selected=true]:bg-wash data-[selected=true]:font-medium"
            >
              <span className="min-w-0 truncate">{one.text}</span>
            </List.Item>
          ))}
          {found.length > mostShown && (
            <p className="px-2 py-1.5 text-[13px] text-soft">
              {t('sheet.more-choices', { n: found.length - mostShown })}
            </p>
          )}
          {!found.length && <p className="px-2 py-1.5 text-[13px] text-soft">{t('sheet.no-choice')}</p>}
        </List.List>
      </List>
    </AtCell>
  )
}
