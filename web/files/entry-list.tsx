// The list of a folder: a grid of rows that are fetched as they come into sight, chosen by pointer
// or keyboard, renamed in place, dragged to folders, with everything that can be done in its menu.
import { useVirtualizer } from '@tanstack/react-virtual'
import clsx from 'clsx'
import { ArrowDown, ArrowUp } from 'lucide-react'
import { ContextMenu } from 'radix-ui'
import { useEffect, useMemo, useRef, useState } from 'react'
import { useNavigate } from 'react-router'
import type { Entry, ListOrder, Place } from '../../core/contract'
import { readyConvention } from '../../core/naming/convention'
import { addressOf } from '../api/call'
import { conventionIn, useShareNaming } from '../places/place'
import { t } from '../words'
import { addressOfEntry } from './address'
import { ColumnsMenu, columnNames, rowGrid, useColumns } from './columns'
import { Row, type RowActs } from './entry-row'
import { type Listed, stretch } from './use-stretches'

/** The height of the row of headings. */
const heading = 30

export interface ListActs {
  onRename: (entries: Entry[]) => void
  onMove: (entries: Entry[]) => void
  onRemove: (entries: Entry[]) => void
}

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
  const { columns, template, wished, wish } = useColumns(scroller)
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
              style={{ gridTemplateColumns: template }}
              className={clsx(rowGrid, 'sticky top-0 z-10 h-[30px] border-b bg-desk px-2 text-[13px] text-soft')}
            >
              <span role="columnheader">
                <span className="sr-only">{t('files.kind')}</span>
              </span>
              {(['name', ...columns] as const).map((by) => (
                <span
                  key={by}
                  role="columnheader"
                  className={by === 'size' ? 'text-right' : undefined}
                  aria-sort={by === order ? (turned ? 'descending' : 'ascending') : 'none'}
                >
                  {by === 'version' ? (
                    columnNames[by]
                  ) : (
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
                      {by === 'name' ? t('common.name') : columnNames[by]}
                      {by === order &&
                        (turned ? <ArrowDown size={13} aria-hidden /> : <ArrowUp size={13} aria-hidden />)}
                    </button>
                  )}
                </span>
              ))}
              <span role="columnheader">
                <ColumnsMenu wished={wished} onWish={wish} />
              </span>
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
                  columns={columns}
                  template={template}
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
              <Item onSelect={() => here() && void navigate(`/access/${here()!.id}`)}>
                {t('files.who-can-reach-it')}
              </Item>
              {here()?.kind === 'file' && (
                <Item onSelect={() => void navigate(`${addressOfEntry(here()!)}?about`)}>
                  {t('common.about-this-file')}
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
