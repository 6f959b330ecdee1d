// One part of a convention's names, as its manager sets it: what it is called, what it may hold, how it is written.
import clsx from 'clsx'
import type { ControlledList, NamePart, PartKind } from '../../core/contract'
import type { RuleFault } from '../../core/naming/rules'
import { Choice } from '../design/choice'
import { t, told } from '../words/all'

export const kindNames: Record<PartKind, string> = {
  date: t('common.date'),
  list: t('names.from-a-list'),
  words: t('names.free-words'),
  counter: t('names.number'),
  initials: t('names.initials'),
  'file kind': t('names.kind-of-file'),
  text: t('names.fixed-text'),
}

export const control = 'h-8 rounded-md border border-rule-strong bg-sheet px-2 text-[14px]'

export function Text({
  label,
  value,
  className,
  onChange,
  ...rest
}: {
  label: string
  value: string
  className?: string
  type?: string
  onChange: (value: string) => void
}) {
  return (
    <label className="flex flex-col text-[12px] text-soft">
      {label}
      <input
        className={clsx(control, 'text-ink', className)}
        value={value}
        onChange={(event) => onChange(event.target.value)}
        {...rest}
      />
    </label>
  )
}

export function PartEditor({
  part,
  first,
  lists,
  others,
  faults,
  onChange,
  children,
}: {
  part: NamePart
  first: boolean
  lists: readonly ControlledList[]
  others: readonly NamePart[]
  faults: readonly RuleFault[]
  onChange: (part: NamePart) => void
  children: React.ReactNode
}) {
  return (
    <>
      <div className="flex items-start gap-3">
        <div className="flex min-w-0 flex-1 flex-wrap items-end gap-3">
          {!first && (
            <Text
              label={t('names.before-it')}
              className="w-16 text-center font-mono"
              value={part.separator}
              onChange={(separator) => onChange({ ...part, separator })}
            />
          )}
          <Text
            label={kindNames[part.kind]}
            className="w-28 font-medium"
            value={part.label}
            onChange={(label) => onChange({ ...part, label })}
          />
          <PartControls part={part} lists={lists} others={others} onChange={onChange} />
        </div>
        <div className="-mr-1 flex items-center gap-2 pt-4">
          {part.kind !== 'text' && part.kind !== 'counter' && (
            <label className="flex h-8 items-center gap-1.5 text-[14px]">
              <input
                type="checkbox"
                className="accent-accent"
                checked={part.optional}
                onChange={(event) => onChange({ ...part, optional: event.target.checked })}
              />
              {t('common.optional')}
            </label>
          )}
          <span className="flex">{children}</span>
        </div>
      </div>
      {faults
        .map(({ reason }) => told(reason))
        .map((reason) => (
          <p key={reason} role="alert" className="pt-1.5 text-[13px] text-rust">
            {reason}
          </p>
        ))}
    </>
  )
}

const dateForms = [
  ['YYYY-MM-DD', '2026-10-14'],
  ['YYYYMMDD', '20261014'],
  ['YYYY-MM', '2026-10'],
  ['YYYY', '2026'],
  ['DD.MM.YYYY', '14.10.2026'],
  ['MM-DD-YYYY', '10-14-2026'],
  ['YYYY-Www', t('names.2026-w42-week')],
  ['YYYY-Qq', t('names.2026-q4-quarter')],
] as const

function PartControls({
  part,
  lists,
  others,
  onChange,
}: {
  part: NamePart
  lists: readonly ControlledList[]
  others: readonly NamePart[]
  onChange: (part: NamePart) => void
}) {
  switch (part.kind) {
    case 'text':
      return (
        <Text
          label={t('common.text')}
          className="w-32 font-mono"
          value={part.text}
          onChange={(text) => onChange({ ...part, text })}
        />
      )
    case 'date':
      return (
        <>
          <Choice
            small
            label={t('names.written')}
            value={part.form}
            choices={dateForms}
            onChange={(form) => onChange({ ...part, form })}
          />
          <Choice
            small
            label={t('names.proposed')}
            value={part.source}
            choices={[
              ['content', t('names.from-content-else-today')],
              ['today', t('names.today')],
              ['chosen', t('names.nothing-it-is-chosen')],
            ]}
            onChange={(source) => onChange({ ...part, source })}
          />
        </>
      )
    case 'list':
      return (
        <>
          <Choice
            small
            label={t('names.list')}
            value={part.listId}
            choices={[
              ...(lists.some(({ id }) => id === part.listId) ? [] : [[part.listId, t('names.choose-one')] as const]),
              ...lists.map(({ id, name }) => [id, name] as const),
            ]}
            onChange={(listId) => onChange({ ...part, listId })}
          />
          <Choice
            small
            label={t('names.shows')}
            value={part.shows}
            choices={[
              ['code', t('names.its-code')],
              ['label', t('names.its-label')],
            ]}
            onChange={(shows) => onChange({ ...part, shows })}
          />
        </>
      )
    case 'words':
      return (
        <>
          <Choice
            small
            label={t('names.spaces-become')}
            value={part.spaces}
            choices={[
              ['-', 'dashes'],
              ['_', 'underscores'],
              [' ', t('names.stay-spaces')],
              ['.', 'dots'],
              ['', 'nothing'],
            ]}
            onChange={(spaces) => onChange({ ...part, spaces })}
          />
          <Choice
            small
            label={t('names.letters')}
            value={part.letters}
            choices={[
              ['as typed', t('names.as-typed')],
              ['small', t('names.all-small')],
              ['capitals', t('names.all-capitals')],
              ['first capital', t('names.first-a-capital')],
            ]}
            onChange={(letters) => onChange({ ...part, letters })}
          />
          <Choice
            small
            label={t('names.takes')}
            value={part.symbols}
            choices={[
              ['letters and digits', t('names.letters-and-digits')],
              ['any', t('names.any-symbol-that-is-safe-in-names')],
            ]}
            onChange={(symbols) => onChange({ ...part, symbols })}
          />
          <Text
            label={t('common.at-most')}
            type="number"
            className="w-16"
            value={String(part.longest)}
            onChange={(text) =>
              onChange({ ...part, longest: Math.min(80, Math.max(1, Math.round(Number(text)) || 1)) })
            }
          />
        </>
      )
    case 'counter':
      return (
        <>
          <Text
            label={t('names.digits')}
            type="number"
            className="w-16"
            value={String(part.width)}
            onChange={(text) => onChange({ ...part, width: Math.min(9, Math.max(1, Math.round(Number(text)) || 1)) })}
          />
          <Text
            label={t('names.from-2')}
            type="number"
            className="w-20"
            value={String(part.start)}
            onChange={(text) =>
              onChange({ ...part, start: Math.min(999_999_999, Math.max(0, Math.round(Number(text)) || 0)) })
            }
          />
          <Choice
            small
            label={t('names.counted-for-each')}
            value={part.per === 'folder' ? 'folder' : part.per.join(' ')}
            choices={[
              ['folder', 'folder'],
              ['', t('names.whole-place-in-one')],
              ...others.map(({ id, label }) => [id, label] as const),
            ]}
            onChange={(per) => onChange({ ...part, per: per === 'folder' ? 'folder' : per ? per.split(' ') : [] })}
          />
        </>
      )
    case 'file kind':
      return (
        <>
          {(['document', 'spreadsheet', 'other'] as const).map((kind) => (
            <Text
              key={kind}
              label={kind === 'other' ? t('names.other') : `A ${kind}`}
              className="w-24 font-mono"
              value={part.words[kind]}
              onChange={(word) => onChange({ ...part, words: { ...part.words, [kind]: word } })}
            />
          ))}
        </>
      )
    case 'initials':
      return null
  }
}
