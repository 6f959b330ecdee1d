// One search over all shares: by any part of a name, former names, values, people and content.

import { useQuery } from '@tanstack/react-query'
import clsx from 'clsx'
import { FolderOpen, Search, TextSearch, X } from 'lucide-react'
import { useEffect, useRef, useState } from 'react'
import { Link, useNavigate, useSearchParams } from 'react-router'
import type { Facet, Hit } from '../../core/contract'
import { skeleton } from '../../core/naming/lookalike'
import { typedWords } from '../../core/naming/search-words'
import { call } from '../api/call'
import { keys } from '../api/keys'
import { Blank } from '../design/controls'
import { KindGlyph } from '../design/kind'
import { useStillHere } from '../design/still-here'
import { folderOf } from '../files/address'
import { T, t } from '../words'
import { listed, moment } from '../words/formats'
import { CannotSearch } from './cannot-search'

export function Find() {
  const [query, setQuery] = useSearchParams()
  const navigate = useNavigate()
  const [typed, setTyped] = useState(query.get('q') ?? '')
  const q = query.get('q') ?? ''
  const facets = query.getAll('f')
  const input = useRef<HTMLInputElement>(null)
  const list = useRef<HTMLDivElement>(null)
  const [at, setAt] = useState(0)
  useEffect(() => input.current?.focus(), [])
  const gone = useRef(false)
  const here = useStillHere()
  /** A file is to be gone to as soon as what was typed is answered. */
  const [awaited, setAwaited] = useState<{ inFolder: boolean } | null>(null)
  const facetsNow = useRef(facets)
  facetsNow.current = facets
  // biome-ignore lint/correctness/useExhaustiveDependencies: follows the typing alone; the address is what it writes
  useEffect(() => {
    // The address follows the typing, a pause behind it; not any more when a file is being gone to.
    const later = setTimeout(() => {
      if (typed !== q && !gone.current && here()) setQuery(address(typed, facetsNow.current), { replace: true })
    }, 120)
    return () => clearTimeout(later)
  }, [typed])
  const answer = useQuery({
    queryKey: keys.search(q, facets.join('\n')),
    enabled: q.trim() !== '' || facets.length > 0,
    placeholderData: (before) => before,
    queryFn: () => call('search', { query: { q, facets: facets.join('\n') } }),
  })
  // biome-ignore lint/correctness/useExhaustiveDependencies: another answer begins at its first hit
  useEffect(() => setAt(0), [answer.data])
  const hits = answer.data?.hits ?? []
  const open = (hit: Hit, inFolder: boolean) => {
    gone.current = true
    void navigate(inFolder ? folderOf(hit.file) : `/open/${hit.file.id}`)
  }
  /** The answer is that to what is typed. */
  const answered = typed === q && !answer.isPlaceholderData && !answer.isFetching
  const goTo = (inFolder: boolean) => {
    const hit = hits[at]
    if (answered || at > 0) return hit && open(hit, inFolder)
    // Whoever types on quickly means the first of what that finds, not of what was found so far.
    setAwaited({ inFolder })
    if (typed !== q) setQuery(address(typed, facets), { replace: true })
  }
  // biome-ignore lint/correctness/useExhaustiveDependencies: gone to once its answer is there
  useEffect(() => {
    if (!awaited || !answered) return
    setAwaited(null)
    if (hits[0]) open(hits[0], awaited.inFolder)
  }, [awaited, answered])
  const asked = q.trim() !== '' || facets.length > 0
  const words = [...typedWords(q), ...(answer.data?.taken.flatMap(({ taken }) => taken) ?? [])]
  const go = (next: number) => {
    const to = Math.max(0, Math.min(hits.length - 1, next))
    setAt(to)
    list.current?.children[to]?.scrollIntoView({ block: 'nearest' })
  }
  const change = (key: string, on: boolean) =>
    setQuery(address(typed, on ? [...facets, key] : facets.filter((one) => one !== key)), { replace: true })
  const groups = grouped((answer.data?.facets ?? []).filter(({ key }) => !facets.includes(key)))
  return (
    <main className="flex h-full min-w-0 flex-col md:flex-row">
      <h1 className="sr-only">{t('common.find')}</h1>
      <aside
        className="order-last max-h-40 w-full shrink-0 overflow-auto border-t px-5 py-3 md:order-first md:max-h-none md:w-60 md:border-r md:border-t-0 md:py-6"
        aria-label={t('find.narrow-it-down')}
      >
        {groups.map(([name, those]) => (
          <section key={name} className="pb-5">
            <h2 className="pb-1 text-[13px] text-soft">{name}</h2>
            <ul>
              {those.slice(0, 8).map((facet) => (
                <li key={facet.key}>
                  <button
                    type="button"
                    className="flex w-full items-baseline gap-2 rounded px-2 py-1 text-left hover:bg-wash"
                    onClick={() => change(facet.key, true)}
                  >
                    <span className="min-w-0 flex-1 truncate">{labelOf(facet)}</span>
                    <span className="text-[13px] text-soft">{facet.files}</span>
                  </button>
                </li>
              ))}
            </ul>
          </section>
        ))}
        {!groups.length && <p className="text-[14px] text-soft">{t('find.here-you-can-narrow-it-down-by')}</p>}
      </aside>
      <div className="flex min-h-0 min-w-0 flex-1 flex-col px-3 pt-3 md:px-6 md:pt-6">
        <label className="flex h-11 items-center gap-3 rounded-md border border-rule-strong bg-sheet px-3 focus-within:outline-2 focus-within:outline-accent">
          <Search size={18} className="text-soft" aria-hidden />
          <input
            ref={input}
            aria-label={t('find.find-files')}
            className="h-full min-w-0 flex-1 bg-transparent text-[16px] outline-none"
            placeholder={t('find.any-part-of-a-name-a-code')}
            value={typed}
            onChange={(event) => {
              setTyped(event.target.value)
              setAwaited(null)
              gone.current = false
            }}
            onKeyDown={(event) => {
              const keys: Record<string, () => void> = {
                ArrowDown: () => go(at + 1),
                ArrowUp: () => go(at - 1),
                Enter: () => goTo(event.altKey || event.shiftKey),
                Escape: () => setTyped(''),
              }
              if (!keys[event.key]) return
              event.preventDefault()
              keys[event.key]!()
            }}
            role="combobox"
            aria-haspopup="grid"
            aria-expanded={hits.length > 0}
            aria-controls="hits"
            aria-activedescendant={hits[at] ? `hit-${hits[at].file.id}` : undefined}
          />
        </label>
        {facets.length > 0 && (
          <ul className="flex flex-wrap gap-2 pt-2" aria-label={t('find.only-files-with')}>
            {facets.map((key) => (
              <li key={key}>
                <button
                  type="button"
                  className="flex items-center gap-1.5 rounded-full border border-accent bg-wash px-3 py-0.5 text-[14px]"
                  onClick={() => change(key, false)}
                >
                  {labelOf({ key, label: key.slice(key.indexOf(':') + 1), files: 0 })}
                  <X size={14} aria-label={t('find.take-away')} />
                </button>
              </li>
            ))}
          </ul>
        )}
        <p className="py-2 text-[14px] text-soft" role="status">
          {asked && answer.data && !answer.isPlaceholderData
            ? `${answer.data.more ? t('find.the-newest-add-a-word-to-narrow', { hits: hits.length }) : `${t('find.files', { hits: hits.length })}.`} ${answer.data.taken
                .map(({ typed: word, taken }) => t('find.was-read-as', { word, taken: taken.join(', ') }))
                .join(' ')}`
            : ' '}
        </p>
        {answer.isError ? (
          <CannotSearch error={answer.error} onAgain={() => void answer.refetch()} />
        ) : !asked ? (
          <Blank title={t('find.find-a-file-in-any-of-your')}>{t('find.half-a-name-is-enough-in-any')}</Blank>
        ) : hits.length === 0 && answer.data && !answer.isPlaceholderData ? (
          <Blank title={t('find.nothing-found')}>
            <T
              k="find.no-file-in-your-shares-has-all"
              v={{
                link: (c) => (
                  <Link className="text-accent underline" to="/files">
                    {c}
                  </Link>
                ),
              }}
            />
            <Link
              className="mt-3 flex items-center justify-center gap-1.5 text-accent underline"
              to={`/history?${new URLSearchParams({ q })}`}
            >
              <TextSearch size={16} aria-hidden />
              {t('find.look-in-history')}
            </Link>
          </Blank>
        ) : (
          <div
            id="hits"
            ref={list}
            className="min-h-0 flex-1 overflow-auto border-t pb-6"
            role="grid"
            aria-label={t('find.found-files')}
            onClickCapture={(event) => {
              if (event.target instanceof Element && event.target.closest('a')) gone.current = true
            }}
          >
            {hits.map((hit, index) => (
              <HitRow key={hit.file.id} hit={hit} words={words} here={index === at} />
            ))}
          </div>
        )}
      </div>
    </main>
  )
}

function HitRow({ hit, words, here }: { hit: Hit; words: readonly string[]; here: boolean }) {
  const { file, share, folders } = hit
  const elsewhere = !hit.found.includes('name') && hit.found.filter((one) => one !== 'former name')
  return (
    <div
      id={`hit-${file.id}`}
      role="row"
      aria-selected={here}
      className={clsx(
        'group grid grid-cols-[20px_minmax(0,1fr)] items-center gap-x-4 border-b px-2 py-2 md:grid-cols-[20px_minmax(0,1fr)_auto_150px]',
        here && 'bg-wash/70',
      )}
    >
      <span role="gridcell">
        <KindGlyph type={file.type} />
      </span>
      <span role="gridcell" className="min-w-0">
        <Link
          to={`/open/${file.id}`}
          tabIndex={-1}
          className="block truncate font-mono text-[14px] hover:underline"
          dir="auto"
        >
          <Marked text={file.name} words={words} />
        </Link>
        <span className="block truncate text-[13px] text-soft">
          <bdi>{[share, ...folders].join(' / ')}</bdi>
          {hit.formerName && (
            <T k="find.before" v={{ formerName: hit.formerName, bdi: (c) => <bdi className="font-mono">{c}</bdi> }} />
          )}
          {elsewhere &&
            elsewhere.length > 0 &&
            t('find.found-in', { places: listed(elsewhere.map((one) => foundIn[one])) })}
        </span>
      </span>
      <span role="gridcell" className="max-md:col-start-2">
        <Link
          to={folderOf(file)}
          tabIndex={-1}
          className="flex items-center gap-1.5 rounded-md px-2 py-1 text-[13px] text-soft opacity-0 hover:bg-sheet focus:opacity-100 group-hover:opacity-100 group-aria-selected:opacity-100"
        >
          <FolderOpen size={15} aria-hidden /> {t('find.show-in-its-folder')}
        </Link>
      </span>
      <span role="gridcell" className="text-[13px] text-soft max-md:col-start-2 md:text-right">
        {file.head && moment(file.head.at)}
        <span className="block truncate">{file.head?.author.name}</span>
      </span>
    </div>
  )
}

const foundIn = {
  value: t('find.in-values'),
  person: t('find.in-people'),
  content: t('find.in-content'),
  'former name': t('find.in-former-name'),
  name: t('find.in-name'),
} as const

/** A name with the stretches that were looked for set off. */
function Marked({ text, words }: { text: string; words: readonly string[] }) {
  const bones = skeleton(text)
  // Only where each letter of the skeleton stands for one of the text can stretches be told.
  if (bones.length !== text.length) return text
  const on = new Array<boolean>(text.length).fill(false)
  for (const word of words)
    for (let from = bones.indexOf(word); word && from >= 0; from = bones.indexOf(word, from + 1))
      on.fill(true, from, from + word.length)
  const runs: { text: string; on: boolean }[] = []
  for (let index = 0; index < text.length; index++) {
    const last = runs.at(-1)
    if (last && last.on === on[index]) last.text += text[index]
    else runs.push({ text: text[index]!, on: on[index]! })
  }
  return runs.map((run, index) =>
    run.on ? (
      <mark key={index} className="bg-transparent font-semibold text-accent underline decoration-2 underline-offset-2">
        {run.text}
      </mark>
    ) : (
      <span key={index}>{run.text}</span>
    ),
  )
}

function address(q: string, facets: readonly string[]): URLSearchParams {
  const next = new URLSearchParams()
  if (q) next.set('q', q)
  for (const facet of facets) next.append('f', facet)
  return next
}

const first = ['type', 'year', 'person']
const heads: Record<string, string> = {
  type: t('find.documents-and-spreadsheets'),
  year: t('find.year'),
  person: t('find.people'),
}
const labelOf = ({ key, label }: Facet) =>
  key.startsWith('type:')
    ? ({ document: t('common.documents'), spreadsheet: t('common.spreadsheets'), other: t('common.other-files') }[
        label
      ] ?? label)
    : label

function grouped(facets: readonly Facet[]): [string, Facet[]][] {
  const groups = new Map<string, Facet[]>()
  for (const facet of facets) {
    const name = facet.key.slice(0, facet.key.indexOf(':'))
    groups.set(name, [...(groups.get(name) ?? []), facet])
  }
  return [...groups]
    .sort(([a], [b]) => ((first.indexOf(a) + 9) % 9) - ((first.indexOf(b) + 9) % 9))
    .map(([name, those]) => [
      heads[name] ?? name.replace(/^./, (letter) => letter.toUpperCase()),
      name === 'year' ? [...those].sort((a, b) => b.label.localeCompare(a.label)) : those,
    ])
}
