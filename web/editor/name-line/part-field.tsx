import clsx from 'clsx'
import { useCombobox } from 'downshift'
import { useEffect, useMemo, useRef, useState } from 'react'
import type { ReadyPart } from '../../../core/naming/convention'
import { findDates } from '../../../core/naming/dates'
import { skeleton } from '../../../core/naming/lookalike'
import type { PartReading } from '../../../core/naming/reading'
import type { Suggestion } from '../../../core/naming/suggest'
import { t, told } from '../../words/all'

interface Choice {
  value: string
  /** What stands beside the value. */
  aside: string
}

/** One part of the name: a value with its suggestions, each with where it is from. */
export function PartField({
  ready,
  value,
  suggestions,
  reading,
  onChange,
}: {
  ready: ReadyPart
  value: string
  suggestions: readonly Suggestion[]
  /** What was read for this part in a typed name. */
  reading: PartReading | undefined
  onChange: (value: string) => void
}) {
  const { part } = ready
  const [typed, showTyped] = useState<string | null>(null)
  // What stands in the field counts at once, not when it is drawn: a Tab may follow the last letter in the same moment.
  const typedNow = useRef<string | null>(null)
  const setTyped = (text: string | null) => {
    typedNow.current = text
    showTyped(text)
  }
  // biome-ignore lint/correctness/useExhaustiveDependencies: a convention that is ready carries its parts
  const choices = useMemo((): Choice[] => {
    const label = (code: string) => ready.values.find((one) => one.code === code)?.label ?? ''
    const first = suggestions.map(({ value: one, why }) => ({
      value: one,
      aside: [label(one), why].filter(Boolean).join(', '),
    }))
    const known = new Set(first.map((one) => one.value))
    const rest = ready.values
      .filter(({ code, retired }) => !retired && !known.has(code))
      .map(({ code, label: words }) => ({ value: code, aside: words }))
    const kinds = part.kind === 'file kind' ? Object.keys(part.words).filter((kind) => !known.has(kind)) : []
    return [...first, ...rest, ...kinds.map((kind) => ({ value: kind, aside: '' }))]
  }, [ready, suggestions])
  const wanted = typed === null ? '' : skeleton(typed)
  const shown = choices
    .filter(({ value: one, aside }) => !wanted || skeleton(`${one} ${aside}`).includes(wanted))
    .slice(0, 40)
  const accept = (text: string) => {
    setTyped(null)
    if (text.trim() === '') return onChange('')
    const known = choices.find(
      (one) => skeleton(one.value) === skeleton(text.trim()) || skeleton(one.aside) === skeleton(text.trim()),
    )
    const date = part.kind === 'date' ? findDates(text)[0]?.value : undefined
    onChange(known?.value ?? ready.fit(text.trim()) ?? (date && ready.fit(date)) ?? text.trim())
  }
  const box = useCombobox<Choice>({
    items: shown,
    inputValue: typed ?? value,
    selectedItem: null,
    itemToString: (item) => item?.value ?? '',
    onSelectedItemChange: ({ selectedItem }) => selectedItem && accept(selectedItem.value),
  })
  // biome-ignore lint/correctness/useExhaustiveDependencies: a value that was set from outside ends what was being typed
  useEffect(() => setTyped(null), [value])
  const from = suggestions.find((one) => one.value === value)
  const unfit = value !== '' && ready.fit(value) === null
  const fault = unfit
    ? faultOf(ready, value)
    : reading && ['failed', 'missing', 'guessed'].includes(reading.state)
      ? reading.reason
      : ''
  return (
    <div className="grid grid-cols-[92px_1fr] items-start gap-x-3">
      <label
        {...box.getLabelProps()}
        htmlFor={box.getLabelProps().htmlFor}
        className="pt-[7px] text-[13px] leading-[18px] text-soft"
      >
        {part.label}
        {part.optional && <span className="block text-[12px]">{t('common.optional')}</span>}
      </label>
      <div className="relative min-w-0">
        <input
          {...box.getInputProps({
            onKeyDown: (event) => {
              const text = typedNow.current
              if (event.key === 'Enter' && text !== null && (!box.isOpen || box.highlightedIndex < 0)) accept(text)
              if (event.key === 'Escape' && box.isOpen) event.stopPropagation()
            },
            onChange: (event) => setTyped(event.currentTarget.value),
            onBlur: () => {
              if (typedNow.current !== null) accept(typedNow.current)
            },
            onFocus: (event) => event.target.select(),
          })}
          aria-invalid={fault ? true : undefined}
          data-part={part.id}
          spellCheck={false}
          dir="auto"
          placeholder={placeholders[part.kind]}
          className={clsx(
            'h-8 w-full rounded-md border bg-sheet px-2 font-mono text-[14px] placeholder:font-sans placeholder:text-soft',
            fault ? 'border-rust' : 'border-rule-strong',
          )}
        />
        {fault ? (
          <p className="pt-0.5 text-[13px] leading-[17px] text-rust">{told(fault)}</p>
        ) : (
          from && <p className="pt-0.5 text-[12px] leading-[16px] text-soft">{told(from.why)}</p>
        )}
        <ul
          {...box.getMenuProps()}
          className={clsx(
            'absolute inset-x-0 top-9 z-30 max-h-60 overflow-auto rounded-md border bg-paper p-1 shadow-slip',
            !(box.isOpen && shown.length) && 'hidden',
          )}
        >
          {box.isOpen &&
            shown.map((item, index) => (
              <li
                key={item.value}
                {...box.getItemProps({ item, index })}
                className={clsx(
                  'flex cursor-pointer items-baseline gap-3 rounded px-2 py-1',
                  index === box.highlightedIndex && 'bg-wash',
                )}
              >
                <span className="shrink-0 font-mono text-[14px]" dir="auto">
                  {item.value}
                </span>
                <span className="min-w-0 truncate text-[13px] text-soft">{item.aside}</span>
              </li>
            ))}
        </ul>
      </div>
    </div>
  )
}

const placeholders: Record<string, string> = {
  date: 'Year-month-day',
  list: t('slip.from-the-list'),
  words: t('slip.in-a-few-words'),
  counter: t('slip.set-when-saved'),
}

function faultOf({ part }: ReadyPart, value: string): string {
  if (part.kind === 'list') return t('slip.is-not-in-the-list', { value })
  if (part.kind === 'date')
    return t('slip.is-not-a-date-with-what-this', { value, includes: Boolean(part.form.includes('DD')) })
  if (part.kind === 'counter') return t('slip.use-digits-only')
  return t('slip.nothing-of-can-be-used-in-this', { value })
}
