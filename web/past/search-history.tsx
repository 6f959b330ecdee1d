// When words disappeared, and with whom: over all versions of one file, or of the files of a place that lost them.
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import clsx from 'clsx'
import { Search, X } from 'lucide-react'
import { useEffect, useMemo, useRef, useState } from 'react'
import { Link, useSearchParams } from 'react-router'
import type { PastAnswer, PastChange, PastFile, PastLine } from '../../core/contract'
import { Phrase } from '../../core/history/past-words'
import { call } from '../api/call'
import { keys } from '../api/keys'
import { queries } from '../api/queries'
import { Blank } from '../design/controls'
import { KindGlyph, NameText } from '../design/kind'
import { folderOf } from '../files/address'
import { CannotSearch } from '../find/cannot-search'
import { T, t } from '../words/all'
import { day, moment } from '../words/formats'

/** Pause in typing before it is asked; milliseconds. */
const pause = 250

/** Where it is searched, from the address. */
interface Scope {
  fileId: string | undefined
  shareId: string | undefined
  folderId: string | undefined
}

export function SearchHistory() {
  const [query, setQuery] = useSearchParams()
  const q = query.get('q') ?? ''
  const scope: Scope = {
    fileId: query.get('file') ?? undefined,
    shareId: query.get('share') ?? undefined,
    folderId: query.get('folder') ?? undefined,
  }
  const [typed, setTyped] = useState(q)
  const later = useRef<ReturnType<typeof setTimeout>>(undefined)
  const input = useRef<HTMLInputElement>(null)
  useEffect(() => input.current?.focus(), [])
  const asking = (next: string) => {
    const address = new URLSearchParams(query)
    if (next.trim()) address.set('q', next)
    else address.delete('q')
    setQuery(address, { replace: true })
  }
  // biome-ignore lint/correctness/useExhaustiveDependencies: follows the typing, and the address where that changes meanwhile
  useEffect(() => {
    later.current = setTimeout(() => typed !== q && asking(typed), pause)
    return () => clearTimeout(later.current)
  }, [typed, query])
  /** Who goes elsewhere right after typing is not called back by what was typed. */
  const leave = (event: React.MouseEvent) => {
    const { target, ctrlKey, metaKey } = event
    if (!ctrlKey && !metaKey && (target as HTMLElement).closest('a[href]')) clearTimeout(later.current)
  }
  const phrase = useMemo(() => new Phrase(q), [q])
  const answer = useQuery({
    queryKey: keys.past(q, scope.fileId, scope.shareId, scope.folderId),
    enabled: !phrase.isEmpty,
    placeholderData: keepPreviousData,
    queryFn: () => call('searchPast', { query: { q, ...scope } }),
    // What was saved just now is looked through soon.
    refetchInterval: ({ state }) => (state.data?.waiting ? 3000 : false),
  })
  const found = phrase.isEmpty ? undefined : answer.data
  const list = useRef<HTMLDivElement>(null)
  /** Up and down go from hit to hit, and from the first one to what is typed. */
  const step = (event: React.KeyboardEvent) => {
    if (event.key !== 'ArrowDown' && event.key !== 'ArrowUp') return
    const hits = [...(list.current?.querySelectorAll<HTMLElement>('[data-hit]') ?? [])]
    if (!hits.length) return
    event.preventDefault()
    const at = hits.indexOf(document.activeElement as HTMLElement)
    const to = event.key === 'ArrowDown' ? Math.min(at + 1, hits.length - 1) : at - 1
    if (to < 0) input.current?.focus()
    else hits[to]!.focus()
    hits[to]?.scrollIntoView({ block: 'nearest' })
  }
  return (
    <main className="relative h-full min-w-0 overflow-auto" onKeyDown={step} onClick={leave}>
      <div className="mx-auto flex min-h-full w-full max-w-[1000px] flex-col px-4 py-4 md:px-8 md:py-6">
        <div className="flex flex-wrap items-baseline gap-x-4 gap-y-1 pb-3">
          <h1 className="text-[20px] font-semibold">{t('common.search-in-history')}</h1>
          <Where
            scope={scope}
            onEverywhere={() => {
              setQuery(typed.trim() ? { q: typed } : {}, { replace: true })
              input.current?.focus()
            }}
          />
        </div>
        <label className="flex h-11 shrink-0 items-center gap-3 rounded-md border border-rule-strong bg-sheet px-3 focus-within:outline-2 focus-within:outline-accent">
          <Search size={18} className="text-soft" aria-hidden />
          <input
            ref={input}
            aria-label={t('past.what')}
            placeholder={t('past.what')}
            className="h-full min-w-0 flex-1 bg-transparent text-[16px] outline-none"
            maxLength={300}
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
            onKeyDown={(event) => {
              if (event.key === 'Enter') asking(typed)
              else if (event.key === 'Escape') setTyped('')
            }}
          />
        </label>
        <p className="min-h-9 py-2 text-[14px] text-soft" role="status">
          {found && !answer.isPlaceholderData && said(found, scope)}
        </p>
        {phrase.isEmpty ? (
          <Blank title={t('past.when-did-it-go')}>{t('past.how')}</Blank>
        ) : answer.isError ? (
          <CannotSearch error={answer.error} onAgain={() => void answer.refetch()} />
        ) : found && !found.files.some(({ changes }) => changes.length) ? (
          <Blank title={saidOfNothing(found, scope)}>
            {scope.fileId ? (
              t('past.check-words')
            ) : (
              <T
                k="past.maybe-there"
                v={{
                  link: (c) => (
                    // What is typed goes along, also where it is not looked for yet.
                    <Link
                      className="text-accent underline"
                      to={`/find?${new URLSearchParams({ q: typed.trim() || q })}`}
                    >
                      {c}
                    </Link>
                  ),
                }}
              />
            )}
          </Blank>
        ) : (
          <div ref={list} className={clsx('pb-8', answer.isPlaceholderData && 'opacity-60')}>
            {found?.files.map((one) => (
              <FileHistory key={one.file.id} one={one} phrase={phrase} q={q} />
            ))}
          </div>
        )}
      </div>
    </main>
  )
}

function said({ files, more, waiting }: PastAnswer, { fileId }: Scope): string {
  const parts: string[] = []
  const [only] = files
  if (fileId && only?.changes.length) parts.push(t('past.in-newest', { now: only.now }))
  if (!fileId && files.length) parts.push(t('past.files-lost-them', { n: files.length, more: String(more) }))
  if (waiting) parts.push(t('past.waiting', { n: waiting }))
  if (fileId && only?.unread) parts.push(t('past.unread', { n: only.unread }))
  return parts.join(' ')
}

/** Nothing was found: of all that there is, or of what was looked through so far. */
const saidOfNothing = ({ files, waiting }: PastAnswer, { fileId }: Scope): string =>
  waiting || files.some(({ unread }) => unread)
    ? t('past.not-in-those-looked-through')
    : t(fileId ? 'past.never' : 'past.no-file-lost-them')

/** Where it is searched, and the way to all shares. */
function Where({ scope: { fileId, shareId, folderId }, onEverywhere }: { scope: Scope; onEverywhere: () => void }) {
  const shares = useQuery({ ...queries.shares, enabled: !!shareId })
  const place = useQuery({
    queryKey: keys.place(shareId, folderId, '', 0, 1),
    enabled: !!shareId,
    queryFn: () => call('place', { params: { shareId: shareId! }, query: { folderId, limit: 1 } }),
  })
  const file = useQuery({
    queryKey: keys.file(fileId),
    enabled: !!fileId,
    queryFn: () => call('file', { params: { fileId: fileId! } }),
  })
  const share = shares.data?.find(({ id }) => id === shareId)
  const name = fileId
    ? file.data?.file.name
    : shareId
      ? share && [share.name, ...(place.data?.trail ?? []).map((folder) => folder.name)].join(' / ')
      : null
  if (name === undefined) return null
  return (
    <p className="flex min-w-0 items-center gap-1.5 text-soft">
      <bdi className="min-w-0 truncate">{name === null ? t('past.of-all') : t('past.in', { place: name })}</bdi>
      {name !== null && (
        <button
          type="button"
          aria-label={t('past.search-everywhere')}
          title={t('past.search-everywhere')}
          className="grid size-6 shrink-0 place-items-center rounded hover:bg-wash"
          onClick={onEverywhere}
        >
          <X size={15} aria-hidden />
        </button>
      )}
    </p>
  )
}

function FileHistory({ one, phrase, q }: { one: PastFile; phrase: Phrase; q: string }) {
  const { file, share, folders, changes } = one
  return (
    <section className="border-t py-4" aria-label={file.name}>
      <div className="flex min-w-0 items-center gap-3">
        <KindGlyph type={file.type} />
        <h2 className="min-w-0 text-[14px] font-normal">
          <Link to={`/open/${file.id}`} className="hover:underline">
            <NameText name={file.name} />
          </Link>
        </h2>
        <Link to={folderOf(file)} className="min-w-0 truncate text-[13px] text-soft hover:underline">
          <bdi>{[share, ...folders].join(' / ')}</bdi>
        </Link>
      </div>
      <Line one={one} />
      <ul>
        {changes.map((change) => (
          <Change key={change.version.id} change={change} file={one} phrase={phrase} q={q} />
        ))}
      </ul>
    </section>
  )
}

/** The file's life from its first version until now: where the words were there, it is drawn thick. */
function Line({ one: { first, stretches, changes } }: { one: PastFile }) {
  const begin = Date.parse(first.at)
  const end = Math.max(Date.now(), begin + 1)
  const at = (iso: string) => `${Math.min(100, Math.max(0, ((Date.parse(iso) - begin) / (end - begin)) * 100))}%`
  const spans = stretches.map(({ from, until }) =>
    until
      ? t('past.was-there', { from: moment(from.at), until: moment(until.at) })
      : t('past.is-there', { from: moment(from.at) }),
  )
  return (
    <div className="flex items-center gap-3 py-2 text-[13px] text-soft">
      <span className="shrink-0">{day(Date.parse(first.at))}</span>
      <div className="relative h-4 min-w-0 flex-1" role="img" aria-label={spans.join('; ')} title={spans.join('\n')}>
        <span className="absolute inset-x-0 top-1/2 h-px bg-rule-strong" />
        {stretches.map(({ from, until }) => (
          <span
            key={from.id}
            className="absolute top-1/2 h-1.5 -translate-y-1/2 rounded-full bg-accent"
            style={{ left: at(from.at), right: until ? `calc(100% - ${at(until.at)})` : 0, minWidth: 6 }}
          />
        ))}
        {changes
          .filter(({ before, after }) => after < before)
          .map(({ version }) => (
            <span
              key={version.id}
              className="absolute top-1/2 size-3 -translate-x-1/2 -translate-y-1/2 rounded-full border-2 border-ochre bg-sheet"
              style={{ left: at(version.at) }}
            />
          ))}
      </div>
      <span className="shrink-0">{t('past.now')}</span>
    </div>
  )
}

function Change({ change, file, phrase, q }: { change: PastChange; file: PastFile; phrase: Phrase; q: string }) {
  const { version, last, before, after, lines } = change
  const gone = after < before
  // Where it can still be seen.
  const seen = gone ? (last ?? version) : version
  const author = version.author
  const again = before ? 'more' : file.stretches[0]?.from.id === version.id ? 'new' : 'true'
  return (
    <li>
      <Link
        data-hit
        to={`/open/${file.file.id}?${new URLSearchParams({ at: seen.id, words: q })}`}
        className="group grid grid-cols-1 gap-x-5 gap-y-1 rounded-md px-3 py-2.5 hover:bg-wash/60 focus-visible:bg-wash/60 md:grid-cols-[128px_minmax(0,1fr)]"
      >
        <span className="text-[13px] leading-[21px] text-soft max-md:flex max-md:gap-3">
          <span className="md:block">{moment(version.at)}</span>
          <span className="md:block">{t('past.version', { number: version.number })}</span>
        </span>
        <span className="min-w-0">
          <span className="flex flex-wrap items-baseline gap-x-4">
            <span className={clsx('min-w-0 flex-1', gone && 'font-semibold')}>
              {gone
                ? t('past.taken-out', { author, all: String(after === 0), n: before - after, before })
                : t('past.put-in', { author, again, n: after - before })}
            </span>
            <span className="text-[13px] text-soft underline-offset-2 group-hover:underline group-focus-visible:underline">
              {t('past.see-it', { number: seen.number })}
            </span>
          </span>
          {gone && last && last.number + 1 < version.number && (
            <span className="block text-[13.5px] text-soft">
              {t('past.between', { last: last.number, lastAt: moment(last.at) })}
            </span>
          )}
          {gone && lines.length === 0 && (
            <span className="block text-[13.5px] text-soft">{t('past.not-read-between')}</span>
          )}
          {lines.map(({ line, instead }, index) => (
            <span key={index} className="block pt-1.5">
              <Quoted line={line} phrase={phrase} gone={gone} />
              {instead && (
                <span className="block pt-1 pl-3.5">
                  <span className="text-[13px] text-soft">{t('past.instead')}</span>{' '}
                  <Cells text={instead.text} phrase={phrase} />
                </span>
              )}
            </span>
          ))}
        </span>
      </Link>
    </li>
  )
}

function Quoted({ line, phrase, gone }: { line: PastLine; phrase: Phrase; gone: boolean }) {
  const place =
    line.row !== null
      ? t('past.row-of-sheet', { sheet: line.under, row: line.row + 1 })
      : line.under && line.under !== line.text
        ? t('past.under-heading', { heading: line.under })
        : ''
  return (
    <span className={clsx('block border-l-2 pl-3', gone ? 'border-ochre' : 'border-accent')}>
      <Cells text={line.text} phrase={phrase} />
      {place && <span className="block text-[13px] text-soft">{place}</span>}
    </span>
  )
}

/** A line, its cells parted by rules, with what was looked for set off. */
function Cells({ text, phrase }: { text: string; phrase: Phrase }) {
  const cells = text.split('\t')
  return (
    <bdi className="break-words">
      {cells.map((cell, index) =>
        cell || cells.length === 1 ? (
          <span key={index} className={clsx(cells.length > 1 && 'mr-2.5 border-r pr-2.5 last:border-r-0')}>
            <Marked text={cell} places={phrase.placesIn(cell)} />
          </span>
        ) : null,
      )}
    </bdi>
  )
}

function Marked({ text, places }: { text: string; places: readonly (readonly [number, number])[] }) {
  const runs: React.ReactNode[] = []
  let done = 0
  for (const [from, to] of places) {
    runs.push(
      text.slice(done, from),
      <mark key={from} className="bg-transparent font-semibold text-accent underline decoration-2 underline-offset-2">
        {text.slice(from, to)}
      </mark>,
    )
    done = to
  }
  return [...runs, text.slice(done)]
}
