// A convention is built by its parts. Every change shows at once what names look like, and what
// stands against it: an ambiguous convention is told with a name that could be read in two ways.
import clsx from 'clsx'
import { ArrowDown, ArrowLeft, ArrowUp, Plus, Trash2 } from 'lucide-react'
import { useEffect, useState } from 'react'
import { toast } from 'sonner'
import type { ControlledList, Convention, FolderPiece, NamePart, PartKind, Rules, Share } from '../../core/contract'
import type { RuleFault } from '../../core/naming/rules'
import { call, Refused } from '../api/call'
import { Button, Field } from '../design/controls'
import { IconButton } from '../design/icon-button'
import { Menu, MenuItem } from '../design/overlay'
import { namingWork } from '../workers/naming'
import { Examples, Where } from './conventions'

const kindNames: Record<PartKind, string> = {
  date: 'Date',
  list: 'From a list',
  words: 'Free words',
  counter: 'Number',
  initials: 'Initials',
  'file kind': 'Kind of file',
  text: 'Fixed text',
}

function newPart(kind: PartKind, id: string, lists: readonly ControlledList[]): NamePart {
  const facts = { id, label: kindNames[kind], separator: '_', optional: false }
  switch (kind) {
    case 'text':
      return { ...facts, kind, text: 'Text' }
    case 'date':
      return { ...facts, kind, form: 'YYYY-MM-DD', source: 'content' }
    case 'list':
      return { ...facts, kind, listId: lists[0]?.id ?? '00000000-0000-4000-8000-000000000000', shows: 'code' }
    case 'words':
      return { ...facts, kind, letters: 'as typed', longest: 60, symbols: 'letters and digits', spaces: '-' }
    case 'counter':
      return { ...facts, kind, width: 3, start: 1, per: 'folder' }
    case 'initials':
      return { ...facts, kind }
    case 'file kind':
      return { ...facts, kind, words: { document: 'Doc', spreadsheet: 'Sheet', other: 'File' } }
  }
}

export function ConventionEditor({
  convention,
  lists,
  share,
  mayChange,
  onClose,
  onKept,
}: {
  convention: Convention
  lists: ControlledList[]
  share: Share
  mayChange: boolean
  onClose: () => void
  onKept: () => void
}) {
  const [name, setName] = useState(convention.name)
  const [rules, setRules] = useState<Rules>(convention.rules)
  const [faults, setFaults] = useState<RuleFault[]>([])
  const [checked, setChecked] = useState<Rules | null>(null)
  const [refusal, setRefusal] = useState('')
  const changed = name !== convention.name || JSON.stringify(rules) !== JSON.stringify(convention.rules)
  useEffect(() => {
    let gone = false
    void namingWork()
      .tryRules(rules, lists)
      .then((found) => {
        if (gone) return
        setFaults(found)
        setChecked(rules)
      })
    return () => {
      gone = true
    }
  }, [rules, lists])
  const setPart = (index: number, part: NamePart) =>
    setRules({ ...rules, parts: rules.parts.map((one, at) => (at === index ? part : one)) })
  const move = (index: number, by: number) => {
    const parts = [...rules.parts]
    const [part] = parts.splice(index, 1)
    parts.splice(index + by, 0, part!)
    setRules({ ...rules, parts })
  }
  const add = (kind: PartKind) => {
    let number = 1
    while (rules.parts.some(({ id }) => id === `part-${number}`)) number++
    setRules({ ...rules, parts: [...rules.parts, newPart(kind, `part-${number}`, lists)] })
  }
  const keep = async () => {
    try {
      const next = await call('changeConvention', {
        params: { conventionId: convention.id },
        body: { name, rules, number: convention.number },
      })
      toast(`‹${next.name}› holds as version ${next.number} from now on. Names that followed before stay right.`)
      onKept()
      onClose()
    } catch (error) {
      setRefusal(error instanceof Refused ? error.problem.title : 'It could not be kept.')
    }
  }
  const general = faults.filter(({ partId }) => !partId)
  return (
    <div className="h-full max-lg:overflow-auto lg:grid lg:grid-cols-[minmax(0,1fr)_300px]">
      <div className="min-w-0 px-4 py-5 md:px-6 lg:overflow-auto">
        <button
          type="button"
          className="mb-3 flex items-center gap-1.5 text-[14px] text-soft hover:text-ink"
          onClick={onClose}
        >
          <ArrowLeft size={15} aria-hidden /> All conventions of {share.name}
        </button>
        <fieldset disabled={!mayChange} className="min-w-0">
          <Field
            label="Name of the convention"
            className="mb-5 max-w-sm"
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
          <h2 className="pb-2 font-semibold">Parts, in their order</h2>
          <ol className="flex flex-col gap-2">
            {rules.parts.map((part, index) => (
              <li key={part.id} className="rounded-md border bg-paper px-3 py-2">
                <PartEditor
                  part={part}
                  first={index === 0}
                  lists={lists}
                  others={rules.parts.filter(({ id, kind }) => id !== part.id && kind !== 'counter' && kind !== 'text')}
                  faults={faults.filter(({ partId }) => partId === part.id)}
                  onChange={(next) => setPart(index, next)}
                >
                  <IconButton
                    label={`Move ${part.label} up`}
                    className="size-7"
                    disabled={index === 0}
                    onClick={() => move(index, -1)}
                  >
                    <ArrowUp />
                  </IconButton>
                  <IconButton
                    label={`Move ${part.label} down`}
                    className="size-7"
                    disabled={index === rules.parts.length - 1}
                    onClick={() => move(index, 1)}
                  >
                    <ArrowDown />
                  </IconButton>
                  <IconButton
                    label={`Take ${part.label} out`}
                    className="size-7"
                    disabled={rules.parts.length === 1}
                    onClick={() => setRules({ ...rules, parts: rules.parts.filter((one) => one !== part) })}
                  >
                    <Trash2 />
                  </IconButton>
                </PartEditor>
              </li>
            ))}
          </ol>
          <Menu
            align="start"
            trigger={
              <Button className="mt-2">
                <Plus size={16} aria-hidden />
                Add a part
              </Button>
            }
          >
            {(Object.keys(kindNames) as PartKind[]).map((kind) => (
              <MenuItem key={kind} onSelect={() => add(kind)}>
                {kindNames[kind]}
              </MenuItem>
            ))}
          </Menu>
          <h2 className="pb-1 pt-7 font-semibold">Filing rule</h2>
          <p className="pb-2 text-[14px] text-soft">
            Folders below <Where share={share} folderId={convention.folderId} />, one in the other. A folder whose part
            has no value is left out.
          </p>
          <FolderRule rules={rules} onChange={setRules} />
        </fieldset>
      </div>
      <aside
        className="flex min-h-0 flex-col border-t bg-paper px-5 py-5 lg:border-l lg:border-t-0"
        aria-label="What it gives"
      >
        <h2 className="font-semibold">What it gives</h2>
        <Examples rules={rules} naming={{ conventions: [], lists }} />
        <ul
          className="flex min-h-0 flex-1 flex-col gap-2 overflow-auto pt-4 text-[14px]"
          aria-live="polite"
          data-testid="rule-faults"
        >
          {general.map(({ reason }) => (
            <li key={reason} className="text-rust" role="alert">
              {reason}
            </li>
          ))}
          {checked === rules && faults.length === 0 && (
            <li className="text-soft">Every name it gives can be read back in one way only.</li>
          )}
        </ul>
        {refusal && (
          <p role="alert" className="pb-2 text-[14px] text-rust">
            {refusal}
          </p>
        )}
        {mayChange && (
          <div className="flex gap-2 pt-3">
            <Button
              look="main"
              disabled={!changed || checked !== rules || faults.length > 0 || !name.trim()}
              onClick={keep}
            >
              Let it hold as version {convention.number + 1}
            </Button>
          </div>
        )}
        {convention.earlier.length > 0 && (
          <p className="pt-3 text-[13px] leading-[18px] text-soft">
            Names from before follow the version that held then. There{' '}
            {convention.earlier.length === 1 ? 'is one' : `are ${convention.earlier.length}`}.
          </p>
        )}
      </aside>
    </div>
  )
}

const control = 'h-8 rounded-md border border-rule-strong bg-sheet px-2 text-[14px]'

function Choice<T extends string>({
  label,
  value,
  choices,
  onChange,
}: {
  label: string
  value: T
  choices: readonly (readonly [T, string])[]
  onChange: (value: T) => void
}) {
  return (
    <label className="flex flex-col text-[12px] text-soft">
      {label}
      <select
        className={clsx(control, 'text-ink')}
        value={value}
        onChange={(event) => onChange(event.target.value as T)}
      >
        {choices.map(([one, words]) => (
          <option key={one} value={one}>
            {words}
          </option>
        ))}
      </select>
    </label>
  )
}

function Text({
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

function PartEditor({
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
              label="Before it"
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
              optional
            </label>
          )}
          <span className="flex">{children}</span>
        </div>
      </div>
      {faults.map(({ reason }) => (
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
  ['YYYY-Www', '2026-W42 (week)'],
  ['YYYY-Qq', '2026-Q4 (quarter)'],
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
          label="Text"
          className="w-32 font-mono"
          value={part.text}
          onChange={(text) => onChange({ ...part, text })}
        />
      )
    case 'date':
      return (
        <>
          <Choice
            label="Written"
            value={part.form}
            choices={dateForms}
            onChange={(form) => onChange({ ...part, form })}
          />
          <Choice
            label="Proposed"
            value={part.source}
            choices={[
              ['content', 'from content, else today'],
              ['today', 'today'],
              ['chosen', 'nothing, it is chosen'],
            ]}
            onChange={(source) => onChange({ ...part, source })}
          />
        </>
      )
    case 'list':
      return (
        <>
          <Choice
            label="List"
            value={part.listId}
            choices={[
              ...(lists.some(({ id }) => id === part.listId) ? [] : [[part.listId, 'Choose one'] as const]),
              ...lists.map(({ id, name }) => [id, name] as const),
            ]}
            onChange={(listId) => onChange({ ...part, listId })}
          />
          <Choice
            label="Shows"
            value={part.shows}
            choices={[
              ['code', 'its code'],
              ['label', 'its label'],
            ]}
            onChange={(shows) => onChange({ ...part, shows })}
          />
        </>
      )
    case 'words':
      return (
        <>
          <Choice
            label="Spaces become"
            value={part.spaces}
            choices={[
              ['-', 'dashes'],
              ['_', 'underscores'],
              [' ', 'stay spaces'],
              ['.', 'dots'],
              ['', 'nothing'],
            ]}
            onChange={(spaces) => onChange({ ...part, spaces })}
          />
          <Choice
            label="Letters"
            value={part.letters}
            choices={[
              ['as typed', 'as typed'],
              ['small', 'all small'],
              ['capitals', 'all capitals'],
              ['first capital', 'first a capital'],
            ]}
            onChange={(letters) => onChange({ ...part, letters })}
          />
          <Choice
            label="Holds"
            value={part.symbols}
            choices={[
              ['letters and digits', 'letters and digits'],
              ['any', 'any safe symbol'],
            ]}
            onChange={(symbols) => onChange({ ...part, symbols })}
          />
          <Text
            label="At most"
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
            label="Digits"
            type="number"
            className="w-16"
            value={String(part.width)}
            onChange={(text) => onChange({ ...part, width: Math.min(9, Math.max(1, Math.round(Number(text)) || 1)) })}
          />
          <Text
            label="From"
            type="number"
            className="w-20"
            value={String(part.start)}
            onChange={(text) =>
              onChange({ ...part, start: Math.min(999_999_999, Math.max(0, Math.round(Number(text)) || 0)) })
            }
          />
          <Choice
            label="Counted for each"
            value={part.per === 'folder' ? 'folder' : part.per.join(' ')}
            choices={[
              ['folder', 'folder'],
              ['', 'whole place, in one'],
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
              label={kind === 'other' ? 'Other' : `A ${kind}`}
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

const pieceKey = (piece: FolderPiece) => ('text' in piece ? 'text' : `${piece.part} ${piece.as}`)

function FolderRule({ rules, onChange }: { rules: Rules; onChange: (rules: Rules) => void }) {
  const choices: [string, string][] = [
    ['text', 'fixed text'],
    ...rules.parts.flatMap((part): [string, string][] =>
      part.kind === 'text'
        ? []
        : part.kind === 'date'
          ? [
              [`${part.id} year`, `year of ${part.label}`],
              ...(part.form === 'YYYY' || part.form.startsWith('YYYY-W') || part.form.startsWith('YYYY-Q')
                ? []
                : [[`${part.id} month`, `month of ${part.label}`] as [string, string]]),
              [`${part.id} name`, part.label],
            ]
          : part.kind === 'list'
            ? [
                [`${part.id} name`, part.label],
                [`${part.id} label`, `label of ${part.label}`],
              ]
            : [[`${part.id} name`, part.label]],
    ),
  ]
  const pieceOf = (key: string): FolderPiece => {
    const [part, as] = key.split(' ') as [string, 'name' | 'year' | 'month' | 'label']
    return key === 'text' ? { text: 'Folder' } : { part, as }
  }
  const setLevel = (level: number, pieces: FolderPiece[]) =>
    onChange({
      ...rules,
      folders: pieces.length
        ? rules.folders.map((one, at) => (at === level ? pieces : one))
        : rules.folders.filter((_, at) => at !== level),
    })
  return (
    <ol className="flex flex-col gap-2">
      {rules.folders.map((pieces, level) => (
        <li
          key={level}
          className="flex flex-wrap items-center gap-2 rounded-md border bg-paper px-3 py-2"
          style={{ marginLeft: level * 18 }}
        >
          {pieces.map((piece, index) => (
            <span key={index} className="flex items-center gap-1">
              <select
                aria-label={`Folder ${level + 1}, piece ${index + 1}`}
                className={control}
                value={pieceKey(piece)}
                onChange={(event) =>
                  setLevel(
                    level,
                    pieces.map((one, at) => (at === index ? pieceOf(event.target.value) : one)),
                  )
                }
              >
                {!choices.some(([key]) => key === pieceKey(piece)) && (
                  <option value={pieceKey(piece)}>a part that is gone</option>
                )}
                {choices.map(([key, words]) => (
                  <option key={key} value={key}>
                    {words}
                  </option>
                ))}
              </select>
              {'text' in piece && (
                <input
                  aria-label={`Text of folder ${level + 1}`}
                  className={clsx(control, 'w-28')}
                  value={piece.text}
                  onChange={(event) =>
                    setLevel(
                      level,
                      pieces.map((one, at) => (at === index ? { text: event.target.value } : one)),
                    )
                  }
                />
              )}
            </span>
          ))}
          <IconButton
            label={`Another piece in folder ${level + 1}`}
            className="size-7"
            onClick={() => setLevel(level, [...pieces, { text: ' ' }])}
          >
            <Plus />
          </IconButton>
          <IconButton
            label={`Take folder ${level + 1} out`}
            className="ml-auto size-7"
            onClick={() => setLevel(level, pieces.slice(0, -1))}
          >
            <Trash2 />
          </IconButton>
        </li>
      ))}
      <li style={{ marginLeft: rules.folders.length * 18 }}>
        <Button
          onClick={() => onChange({ ...rules, folders: [...rules.folders, [pieceOf(choices[1]?.[0] ?? 'text')]] })}
        >
          <Plus size={16} aria-hidden />
          {rules.folders.length ? 'A folder in it' : 'Add a folder'}
        </Button>
      </li>
    </ol>
  )
}
