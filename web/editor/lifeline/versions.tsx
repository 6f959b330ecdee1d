import clsx from 'clsx'
import { ChevronDown, ChevronUp, Download } from 'lucide-react'
import { useEffect, useRef, useState } from 'react'
import { Link } from 'react-router'
import type { FileFacts, Version } from '../../../core/contract'
import { addressOf } from '../../app/call'
import { Button } from '../../design/controls'
import { count, moment, size } from '../../design/words'

const reasons: Record<Version['reason'], string> = {
  saved: 'saved',
  'by itself': 'saved by itself',
  restored: 'brought back',
  merged: 'combined',
  'brought in': 'brought in',
  copied: 'copied',
  renamed: 'renamed',
}

/** Versions that were saved by themselves in one run are folded under the last of them. */
function foldedRuns(
  versions: readonly Version[],
  unfolded: ReadonlySet<string>,
): { version: Version; index: number; folded: number }[] {
  const shown: { version: Version; index: number; folded: number }[] = []
  for (const [index, version] of versions.entries()) {
    const last = shown.at(-1)
    const same =
      last?.version.reason === 'by itself' &&
      version.reason === 'by itself' &&
      version.author.id === last.version.author.id &&
      !unfolded.has(last.version.id)
    if (same) last.folded++
    else shown.push({ version, index, folded: 0 })
    // An unfolded run stays open to its end.
    if (last && unfolded.has(last.version.id) && version.reason === 'by itself')
      unfolded = new Set([...unfolded, version.id])
  }
  return shown
}

/** The strip along the bottom of the editor: a file's versions along time, and their list when it is open. */
export function Versions({
  versions,
  origin,
  formerNames,
  thinnedOut,
  looking,
  open,
  mayRestore,
  onOpen,
  onLook,
  onRestore,
}: {
  versions: Version[]
  /** What this file was copied from. */
  origin: FileFacts['origin']
  formerNames: readonly string[]
  /** Versions that are not there any more. */
  thinnedOut: number
  looking: string | null
  open: boolean
  mayRestore: boolean
  onOpen: (open: boolean) => void
  onLook: (version: Version | null) => void
  onRestore: (version: Version) => void
}) {
  const list = useRef<HTMLUListElement>(null)
  useEffect(() => {
    if (open) (list.current?.querySelector('[data-chosen=true]') as HTMLElement | null)?.focus()
  }, [open])
  const [unfolded, setUnfolded] = useState<ReadonlySet<string>>(new Set())
  const shown = foldedRuns(versions, unfolded)
  const newest = versions[0]
  if (!newest) return <div className="bars h-9 shrink-0 border-t bg-paper opacity-70" aria-hidden />
  const oldest = Date.parse(versions.at(-1)!.at)
  const span = Math.max(1, Date.parse(newest.at) - oldest)
  const step = (event: React.KeyboardEvent, by: number) => {
    event.preventDefault()
    const rows = [...(list.current?.querySelectorAll<HTMLElement>('[data-row]') ?? [])]
    rows[Math.max(0, Math.min(rows.length - 1, rows.indexOf(document.activeElement as HTMLElement) + by))]?.focus()
  }
  return (
    <section className="shrink-0 border-t bg-paper" aria-label="Versions">
      <button
        type="button"
        aria-expanded={open}
        onClick={() => onOpen(!open)}
        className="flex h-9 w-full items-center gap-4 px-4 text-left hover:bg-wash"
      >
        <span className="w-44 shrink-0 text-[14px]">{count(versions.length, 'version')}</span>
        <span className="relative h-4 min-w-0 flex-1" aria-hidden>
          <span className="absolute inset-x-0 top-1/2 border-t" />
          {versions.slice(0, 400).map((version) => (
            <span
              key={version.id}
              className={clsx('absolute top-0 h-4 w-[1.5px]', version.id === looking ? 'bg-accent' : 'bg-rule-strong')}
              style={{ left: `${((Date.parse(version.at) - oldest) / span) * 99.6}%` }}
            />
          ))}
        </span>
        <span className="w-48 shrink-0 text-right text-[13.5px] text-soft">latest {moment(newest.at)}</span>
        {open ? <ChevronDown size={16} aria-hidden /> : <ChevronUp size={16} aria-hidden />}
      </button>
      {open && (origin || formerNames.length > 0 || thinnedOut > 0) && (
        <p className="flex flex-wrap gap-x-6 border-t px-4 py-1.5 text-[14px] text-soft" data-testid="origin">
          {origin && (
            <span>
              Copied from{' '}
              {origin.name ? (
                <Link className="font-mono text-ink underline" to={`/open/${origin.fileId}`}>
                  {origin.name}
                </Link>
              ) : (
                'a file that you may not see'
              )}
              , version {origin.number}.
            </span>
          )}
          {formerNames.length > 0 && (
            <span>
              Named before: <bdi className="font-mono">{formerNames.join(', ')}</bdi>.
            </span>
          )}
          {thinnedOut > 0 && (
            <span>
              {count(thinnedOut, 'version')} that {thinnedOut === 1 ? 'was' : 'were'} saved by{' '}
              {thinnedOut === 1 ? 'itself is' : 'themselves are'} thinned out; the last of each run stays.
            </span>
          )}
        </p>
      )}
      {open && (
        <ul
          ref={list}
          className="max-h-56 overflow-auto border-t py-1"
          onKeyDown={(event) => {
            if (event.key === 'ArrowDown') step(event, 1)
            if (event.key === 'ArrowUp') step(event, -1)
            if (event.key === 'Escape') onOpen(false)
          }}
        >
          {shown.map(({ version, index, folded }) => {
            const chosen = version.id === (looking ?? newest.id)
            return (
              <li key={version.id} className={clsx('flex items-center gap-4 px-4', chosen && 'bg-wash')}>
                <button
                  type="button"
                  data-row
                  data-chosen={chosen}
                  onClick={() => onLook(index === 0 ? null : version)}
                  className="grid min-w-0 flex-1 grid-cols-[104px_160px_minmax(0,1fr)_120px_80px] items-center gap-4 py-1.5 text-left text-[14px] hover:text-accent"
                >
                  <span className="font-medium">Version {version.number}</span>
                  <span>{moment(version.at)}</span>
                  <span className="truncate">{version.author.name}</span>
                  <span className="text-soft">{reasons[version.reason]}</span>
                  <span className="text-right text-soft">{size(version.size)}</span>
                </button>
                <span className="flex w-64 justify-end gap-2">
                  {folded > 0 && (
                    <Button
                      look="quiet"
                      className="h-7"
                      onClick={() => setUnfolded(new Set([...unfolded, version.id]))}
                    >
                      {folded} more by itself
                    </Button>
                  )}
                  {index > 0 && mayRestore && (
                    <Button look="quiet" className="h-7" onClick={() => onRestore(version)}>
                      Restore
                    </Button>
                  )}
                  <a
                    href={addressOf('bytes', { params: { versionId: version.id } })}
                    download
                    aria-label={`Download version ${version.number}`}
                    className="grid size-7 place-items-center rounded-md hover:bg-wash"
                  >
                    <Download size={15} />
                  </a>
                </span>
              </li>
            )
          })}
        </ul>
      )}
    </section>
  )
}
