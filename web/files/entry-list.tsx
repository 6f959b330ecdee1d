// The list of a folder: a grid of rows that are fetched as they come into sight, chosen by pointer
// or keyboard, renamed in place, dragged to folders, with everything that can be done in its menu.
import { useQueryClient } from '@tanstack/react-query'
import { useVirtualizer } from '@tanstack/react-virtual'
import clsx from 'clsx'
import { ArrowDown, ArrowUp, Download } from 'lucide-react'
import { ContextMenu } from 'radix-ui'
import { memo, useEffect, useMemo, useRef, useState } from 'react'
import { Link, useNavigate } from 'react-router'
import type { Entry, ListOrder, Place } from '../../core/contract'
import { fileType } from '../../core/formats/types'
import { checkName, correctName, splitExtension } from '../../core/naming/check'
import { type ReadyConvention, readyConvention } from '../../core/naming/convention'
import { addressOf } from '../api/call'
import { KindGlyph, NameParts } from '../design/kind'
import { conventionIn, useShareNaming } from '../places/place'
import { t, told } from '../words'
import { moment, size } from '../words/formats'
import { act } from './acts'
import { useDrag, useDrop } from './dragging'
import { type Listed, stretch } from './use-stretches'

/** The name is what people come for: it has what room there is, and the rest gives way to it. */
const columns =
  'grid grid-cols-[20px_minmax(0,1fr)_36px] items-center gap-x-4 md:grid-cols-[20px_minmax(0,1fr)_116px_36px] lg:grid-cols-[20px_minmax(0,1fr)_92px_60px_116px_36px] xl:grid-cols-[20px_minmax(0,1fr)_92px_60px_116px_124px_32px]'
/** The height of the row of headings. */
const heading = 30
const lg = 'max-lg:hidden'
const xl = 'max-xl:hidden'
const headings: [ListOrder, string, string][] = [
  ['name', t('common.name'), ''],
  ['type', t('common.type'), lg],
  ['size', t('common.size'), `${lg} text-right`],
  ['saved', t('common.saved'), 'max-md:hidden'],
  ['by', t('common.by'), xl],
]

export interface ListActs {
  onRename: (entries: Entry[]) => void
  onMove: (entries: Entry[]) => void
  onRemove: (entries: Entry[]) => void
}

export const addressOfEntry = (entry: Entry): string =>
  entry.kind === 'folder' ? `/files/${entry.shareId}/${entry.id}` : `/open/${entry.id}`

export function EntryList({
  listed,
  place,
  mayEdit,
  chosen,
  onChoose,
  onVisible,
  order,
  turned,
  onOrder,
  acts,
}: {
  listed: Listed
  place: Place
  mayEdit: boolean
  chosen: ReadonlyMap<string, Entry>
  onChoose: (chosen: ReadonlyMap<string, Entry>) => void
  onVisible: (range: readonly [number, number]) => void
  order: ListOrder
  turned: boolean
  /** A heading was pressed: the same one once more turns the order round. */
  onOrder: (by: ListOrder) => void
  acts: ListActs
}) {
  const navigate = useNavigate()
  const scroller = useRef<HTMLDivElement>(null)
  const [at, setAt] = useState(0)
  const [anchor, setAnchor] = useState(0)
  const [renaming, setRenaming] = useState<string | null>(null)
  const rows = useVirtualizer({
    count: listed.total,
    getScrollElement: () => scroller.current,
    estimateSize: () => 40,
    overscan: 6,
    scrollMargin: heading,
    scrollPaddingStart: heading,
    useFlushSync: false,
  })
  const shown = rows.getVirtualItems()
  const [first, last] = [shown[0]?.index ?? 0, shown.at(-1)?.index ?? 0]
  // Told by stretches, so that the folder around the list is not drawn anew at each row.
  const [from, to] = [first - (first % stretch), last - (last % stretch)]
  // biome-ignore lint/correctness/useExhaustiveDependencies: told when other rows come to sight; who is told stays the same
  useEffect(() => onVisible([from, to]), [from, to])
  // biome-ignore lint/correctness/useExhaustiveDependencies: kept within the list when the list gets shorter
  useEffect(() => {
    if (at >= listed.total && listed.total > 0) setAt(listed.total - 1)
  }, [listed.total])
  const naming = useShareNaming(place.share.id)
  const convention = conventionIn(naming.data, place.trail)
  const ready = useMemo(
    () =>
      convention && naming.data
        ? [convention, ...convention.earlier].map(({ rules }) => readyConvention(rules, naming.data.lists))
        : null,
    [convention, naming.data],
  )

  const chooseRange = async (from: number, to: number) => {
    const [low, high] = from < to ? [from, to] : [to, from]
    onChoose(new Map((await listed.range(low, high)).map((entry) => [entry.id, entry])))
  }
  const go = (index: number, extend = false) => {
    const to = Math.max(0, Math.min(listed.total - 1, index))
    setAt(to)
    rows.scrollToIndex(to)
    if (extend) void chooseRange(anchor, to)
    else {
      setAnchor(to)
      if (chosen.size) onChoose(new Map())
    }
  }
  const toggle = (entry: Entry) => {
    const next = new Map(chosen)
    if (!next.delete(entry.id)) next.set(entry.id, entry)
    onChoose(next)
  }
  const here = () => listed.row(at)
  /** What an act is about: what is chosen, else the row that one is at. */
  const meant = (): Entry[] => (chosen.size ? [...chosen.values()] : [here()].filter((entry) => entry !== undefined))
  const rename = (entries: Entry[]) => {
    if (entries.length === 1) setRenaming(entries[0]!.id)
    else if (entries.length) acts.onRename(entries)
  }
  const keys: Record<string, (shift: boolean) => void> = {
    ArrowDown: (shift) => go(at + 1, shift),
    ArrowUp: (shift) => go(at - 1, shift),
    Home: (shift) => go(0, shift),
    End: (shift) => go(listed.total - 1, shift),
    PageDown: (shift) => go(at + 15, shift),
    PageUp: (shift) => go(at - 15, shift),
    Enter: () => here() && void navigate(addressOfEntry(here()!)),
    ' ': () => here() && toggle(here()!),
    Escape: () => onChoose(new Map()),
    ...(mayEdit && {
      F2: () => rename(meant()),
      Delete: () => acts.onRemove(meant()),
    }),
  }
  const press = (event: React.PointerEvent, entry: Entry, index: number) => {
    setAt(index)
    if (event.button === 2) {
      if (!chosen.has(entry.id)) onChoose(new Map())
      return
    }
    if (event.shiftKey) void chooseRange(anchor, index)
    else if (event.ctrlKey || event.metaKey) toggle(entry)
    else {
      setAnchor(index)
      // What is chosen stays chosen while it may be about to be dragged.
      if (!chosen.has(entry.id) && chosen.size) onChoose(new Map())
    }
  }
  const end = () => {
    setRenaming(null)
    scroller.current?.focus()
  }
  // One object for all time: a row is drawn anew only when it itself changes.
  const latest = useRef({ press, end })
  latest.current = { press, end }
  const rowActs = useMemo(
    (): RowActs => ({
      press: (...given) => latest.current.press(...given),
      end: () => latest.current.end(),
    }),
    [],
  )
  return (
    <div className="flex min-h-0 flex-1 flex-col px-3 pb-4 md:px-6">
      <ContextMenu.Root modal={false}>
        <ContextMenu.Trigger asChild>
          <div
            ref={scroller}
            tabIndex={0}
            role="grid"
            aria-label={t('files.files-and-folders-3')}
            aria-multiselectable
            aria-rowcount={listed.total + 1}
            aria-activedescendant={`entry-${here()?.id}`}
            className="min-h-0 flex-1 overflow-auto"
            onKeyDown={(event) => {
              if (event.target !== event.currentTarget) return
              if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'a') {
                event.preventDefault()
                void chooseRange(0, listed.total - 1)
                return
              }
              const run = event.ctrlKey || event.metaKey || event.altKey ? undefined : keys[event.key]
              if (!run) return
              event.preventDefault()
              run(event.shiftKey)
            }}
          >
            <div
              role="row"
              aria-rowindex={1}
              className={clsx(columns, 'sticky top-0 z-10 h-[30px] border-b bg-desk px-2 text-[13px] text-soft')}
            >
              <span role="columnheader">
                <span className="sr-only">{t('files.kind')}</span>
              </span>
              {headings.map(([by, label, look]) => (
                <span
                  key={by}
                  role="columnheader"
                  className={look}
                  aria-sort={by === order ? (turned ? 'descending' : 'ascending') : 'none'}
                >
                  <button
                    type="button"
                    className={clsx(
                      'inline-flex h-6 items-center gap-1 rounded hover:text-ink',
                      by === order && 'font-medium text-ink',
                    )}
                    onClick={() => {
                      onOrder(by)
                      scroller.current?.focus()
                    }}
                  >
                    {label}
                    {by === order && (turned ? <ArrowDown size={13} aria-hidden /> : <ArrowUp size={13} aria-hidden />)}
                  </button>
                </span>
              ))}
            </div>
            <div style={{ height: rows.getTotalSize() }} className="relative">
              {shown.map(({ index, start }) => (
                <Row
                  // By what it shows: a press on a row that moved away meanwhile does nothing to another one.
                  key={listed.row(index)?.id ?? `row ${index}`}
                  entry={listed.row(index)}
                  index={index}
                  start={start - heading}
                  here={index === at}
                  isChosen={chosen.has(listed.row(index)?.id ?? '')}
                  ready={ready}
                  mayEdit={mayEdit}
                  isRenamed={renaming !== null && renaming === listed.row(index)?.id}
                  acts={rowActs}
                />
              ))}
            </div>
          </div>
        </ContextMenu.Trigger>
        <ContextMenu.Portal>
          <section aria-label={t('common.menu')}>
            <ContextMenu.Content
              className="z-50 min-w-56 rounded-md border bg-paper p-1 shadow-slip"
              onCloseAutoFocus={(event) => renaming && event.preventDefault()}
            >
              <Item onSelect={() => here() && void navigate(addressOfEntry(here()!))} keys="Enter">
                {t('common.open')}
              </Item>
              {here()?.head && (
                <Item
                  onSelect={() =>
                    window.location.assign(addressOf('bytes', { params: { versionId: here()!.head!.id } }))
                  }
                >
                  {t('common.download')}
                </Item>
              )}
              {mayEdit && (
                <>
                  <Item onSelect={() => setTimeout(() => rename(meant()))} keys="F2">
                    {chosen.size > 1 ? t('files.rename-3', { chosen: chosen.size }) : t('common.rename')}
                  </Item>
                  <Item onSelect={() => acts.onMove(meant())}>{t('files.move-to')}</Item>
                  {meant().some(({ kind }) => kind === 'file') && convention && (
                    <Item onSelect={() => acts.onRename(meant())}>
                      {t('files.name-by', { conventionName: convention.name })}
                    </Item>
                  )}
                  <ContextMenu.Separator className="my-1 border-t" />
                  <Item onSelect={() => acts.onRemove(meant())} keys="Delete">
                    {t('common.remove')}
                  </Item>
                </>
              )}
            </ContextMenu.Content>
          </section>
        </ContextMenu.Portal>
      </ContextMenu.Root>
    </div>
  )
}

function Item({ children, keys, onSelect }: { children: React.ReactNode; keys?: string; onSelect: () => void }) {
  return (
    <ContextMenu.Item
      onSelect={onSelect}
      className="flex cursor-pointer items-center gap-3 rounded px-2.5 py-1.5 outline-none data-[highlighted]:bg-wash"
    >
      {children}
      {keys && <kbd className="ml-auto pl-4 font-mono text-[12px] text-soft">{keys}</kbd>}
    </ContextMenu.Item>
  )
}

/** The kind in one word; the ending, which says which program's it is, stands in the name. */
const shortType = (type: string): string => {
  const { kind, label } = fileType(type)
  return kind === 'other' ? told(label) : kind === 'document' ? t('common.document') : t('common.spreadsheet')
}

interface RowActs {
  press: (event: React.PointerEvent, entry: Entry, index: number) => void
  end: () => void
}

const Row = memo(function Row({
  entry,
  index,
  start,
  here,
  isChosen,
  ready,
  mayEdit,
  isRenamed,
  acts,
}: {
  entry: Entry | undefined
  index: number
  start: number
  here: boolean
  isChosen: boolean
  ready: readonly ReadyConvention[] | null
  mayEdit: boolean
  isRenamed: boolean
  acts: RowActs
}) {
  const element = useRef<HTMLDivElement>(null)
  // Every element of a row costs while the list runs by: what only the pointer needs comes with the pointer.
  const [under, setUnder] = useState(false)
  useDrag(element, mayEdit && !isRenamed ? entry : undefined)
  const over = useDrop(
    element,
    mayEdit && entry?.kind === 'folder' && !isChosen
      ? { shareId: entry.shareId, folderId: entry.id, name: entry.name }
      : null,
  )
  if (!entry)
    return (
      <div
        style={{ transform: `translateY(${start}px)` }}
        className={clsx(columns, 'absolute inset-x-0 h-10 border-b px-2')}
        role="row"
        aria-busy
      >
        <span />
        <span className="h-3 w-1/2 rounded bg-rule/60" />
      </div>
    )
  const follows = entry.kind === 'folder' || !ready || ready.some((one) => one.parse(splitExtension(entry.name)[0]))
  return (
    <div
      ref={element}
      id={`entry-${entry.id}`}
      role="row"
      aria-rowindex={index + 2}
      aria-selected={isChosen || here}
      style={{ transform: `translateY(${start}px)` }}
      className={clsx(
        columns,
        'absolute inset-x-0 h-10 border-b px-2 [contain:layout_style]',
        isChosen ? 'bg-wash shadow-[inset_3px_0_0_var(--accent)]' : here && 'bg-wash/60 [[role=grid]:focus_&]:bg-wash',
        over && 'outline-2 -outline-offset-2 outline-accent',
      )}
      onPointerDown={(event) => acts.press(event, entry, index)}
      onPointerEnter={() => setUnder(true)}
      onPointerLeave={() => setUnder(false)}
    >
      <span role="gridcell">
        <KindGlyph type={entry.type} folder={entry.kind === 'folder'} />
      </span>
      <span role="gridcell" className="flex min-w-0 items-center gap-2">
        {isRenamed ? (
          <RenameField entry={entry} onEnd={acts.end} />
        ) : (
          <>
            <Link
              tabIndex={-1}
              to={addressOfEntry(entry)}
              draggable={false}
              className="truncate hover:underline"
              onClick={(event) => (event.shiftKey || event.ctrlKey || event.metaKey) && event.preventDefault()}
            >
              <NameParts name={entry.name} className={entry.kind === 'file' ? 'font-mono text-[14px]' : ''} />
            </Link>
            {!follows && (
              <span
                className="size-2 shrink-0 rounded-full bg-ochre"
                title={t('files.this-name-does-not-follow-the-convention')}
              >
                <span className="sr-only">{t('files.does-not-follow-the-convention')}</span>
              </span>
            )}
          </>
        )}
      </span>
      <span role="gridcell" className={clsx(lg, 'truncate text-[14px] text-soft')}>
        {entry.kind === 'folder' ? t('files.items', { it: entry.children ?? 0 }) : shortType(entry.type)}
      </span>
      <span role="gridcell" className={clsx(lg, 'text-right text-[14px] text-soft')}>
        {entry.head ? size(entry.head.size) : ''}
      </span>
      <span role="gridcell" className="truncate text-[14px] text-soft max-md:hidden">
        {entry.head ? moment(entry.head.at) : ''}
      </span>
      <span role="gridcell" className={clsx(xl, 'truncate text-[14px] text-soft')}>
        {entry.head?.author.name}
      </span>
      {entry.head && (under || here) && (
        <span role="gridcell">
          <a
            href={addressOf('bytes', { params: { versionId: entry.head.id } })}
            download
            draggable={false}
            tabIndex={-1}
            aria-label={t('files.download', { entryName: entry.name })}
            className={clsx(
              'grid size-8 place-items-center rounded-md hover:bg-wash',
              !under && 'opacity-0 focus:opacity-100',
            )}
          >
            <Download size={16} />
          </a>
        </span>
      )}
    </div>
  )
})

/** The name in its row, without its ending, so that it cannot be broken by accident. */
function RenameField({ entry, onEnd }: { entry: Entry; onEnd: () => void }) {
  const client = useQueryClient()
  const [stem, ending] = entry.kind === 'file' ? splitExtension(entry.name) : [entry.name, '']
  const [text, setText] = useState(stem)
  const [refusal, setRefusal] = useState<{ title: string; better?: string | undefined } | null>(null)
  const field = useRef<HTMLInputElement>(null)
  const ended = useRef(false)
  useEffect(() => {
    field.current?.focus()
    field.current?.select()
  }, [])
  const name = text.trim() + ending
  const fault = checkName(name)
  const keep = async () => {
    if (ended.current) return
    if (name === entry.name) return onEnd()
    if (fault) return setRefusal({ title: told(fault.reason), better: correctName(name) ?? undefined })
    ended.current = true
    const problem = await act(client, 'rename', [{ id: entry.id, name, from: entry.name }])
    // The field goes when the name is kept, and going it loses the focus: that is not another wish.
    if (!problem) return onEnd()
    ended.current = false
    setRefusal({ title: told(problem), better: problem.freeName })
  }
  const said =
    refusal ?? (fault && text.trim() ? { title: told(fault.reason), better: correctName(name) ?? undefined } : null)
  return (
    <span className="relative flex min-w-0 flex-1 items-center" onPointerDown={(event) => event.stopPropagation()}>
      <input
        ref={field}
        aria-label={t('files.new-name-of', { entryName: entry.name })}
        aria-invalid={said ? true : undefined}
        className={clsx(
          'h-8 min-w-0 flex-1 rounded border bg-sheet px-2 font-mono text-[14px]',
          said ? 'border-rust' : 'border-accent',
        )}
        value={text}
        dir="auto"
        spellCheck={false}
        onChange={(event) => {
          setText(event.target.value)
          setRefusal(null)
        }}
        onBlur={() => void keep()}
        onKeyDown={(event) => {
          event.stopPropagation()
          if (event.key === 'Enter') void keep()
          if (event.key === 'Escape') {
            ended.current = true
            onEnd()
          }
        }}
      />
      <span className="pl-1 font-mono text-[14px] text-soft">{ending}</span>
      {said && (
        <span
          role="alert"
          className="absolute left-0 top-9 z-20 max-w-xl rounded border bg-paper px-3 py-1.5 text-[13px] text-rust shadow-slip"
        >
          {said.title}{' '}
          {said.better && (
            <button
              type="button"
              className="underline"
              onMouseDown={(event) => event.preventDefault()}
              onClick={() => {
                setText(ending && said.better!.endsWith(ending) ? said.better!.slice(0, -ending.length) : said.better!)
                setRefusal(null)
              }}
            >
              {t('common.use', { better: said.better })}
            </button>
          )}
        </span>
      )}
    </span>
  )
}
