import { useCallback, useEffect, useState } from 'react'
import type { LinkedEntry, LinkedFolder, OpenedLink } from '../../core/contract'
import { Blank, Button } from '../design/controls'
import { folder } from './ask'
import { FileShown } from './file-shown'
import { refusal } from './refusal'
import { size, t } from './words'

/** Where somebody is in the folder; kept by the browser's own way back. */
interface At {
  folderId: string
  file?: LinkedEntry
}

/** A folder, whose files are looked at one by one. */
export function FolderShown({ link }: { link: OpenedLink }) {
  const start: At = { folderId: link.entry.id }
  const [at, setAt] = useState<At>((window.history.state as At | null)?.folderId ? window.history.state : start)
  const [state, setState] = useState<LinkedFolder | { why: string } | null>(null)
  const look = useCallback(
    async (folderId: string) => {
      try {
        setState(await folder(link.id, folderId))
      } catch (error) {
        setState({ why: refusal(error) })
      }
    },
    [link.id],
  )
  useEffect(() => void look(at.folderId), [look, at.folderId])
  // biome-ignore lint/correctness/useExhaustiveDependencies: the browser's way back, for as long as the page is open
  useEffect(() => {
    const back = (event: PopStateEvent) => setAt((event.state as At | null)?.folderId ? event.state : start)
    window.addEventListener('popstate', back)
    return () => window.removeEventListener('popstate', back)
  }, [])
  const go = (next: At) => {
    window.history.pushState(next, '')
    setAt(next)
  }
  const trail = state && 'trail' in state ? state.trail : []
  const way = (
    <nav aria-label={t('links.the-way-here')} className="mb-1 flex flex-wrap gap-x-2 text-[14px] text-soft">
      {trail.map(({ id, name }, index) =>
        id === at.folderId && !at.file ? null : (
          <span key={id} className="inline-flex gap-2">
            {index > 0 && <span aria-hidden>/</span>}
            <button
              type="button"
              className="underline underline-offset-2 hover:text-ink"
              onClick={() => go({ folderId: id })}
            >
              {name}
            </button>
          </span>
        ),
      )}
    </nav>
  )
  if (at.file) return <FileShown link={link} file={at.file} above={way} />
  if (!state) return <Blank screen waiting title={t('links.one-moment')} />
  if ('why' in state)
    return (
      <Blank screen title={state.why}>
        <Button className="mt-3" onClick={() => void look(at.folderId)}>
          {t('links.try-again')}
        </Button>
      </Blank>
    )
  const { entries, total } = state
  return (
    <main className="min-h-0 flex-1 overflow-auto px-4 py-4 md:px-6">
      {way}
      <h1 className="text-[24px] font-semibold leading-8">{trail.at(-1)?.name ?? link.entry.name}</h1>
      {entries.length === 0 && <p className="py-6 text-soft">{t('links.nothing-in-it')}</p>}
      <ul className="mt-4 max-w-3xl">
        {entries.map((entry) => (
          <li key={entry.id}>
            <button
              type="button"
              className="flex w-full flex-wrap items-baseline gap-x-6 border-b px-2 py-2.5 text-left hover:bg-wash"
              onClick={() =>
                go(entry.kind === 'folder' ? { folderId: entry.id } : { folderId: at.folderId, file: entry })
              }
            >
              <span className="min-w-0 flex-1 basis-64 break-words font-mono text-[15px]">
                {entry.name}
                {entry.kind === 'folder' && <span aria-hidden> /</span>}
              </span>
              <span className="text-[14px] text-soft">
                {entry.kind === 'folder'
                  ? t('links.folder')
                  : t('links.saved', { day: new Date(entry.savedAt ?? 0), size: size(entry.size ?? 0) })}
              </span>
            </button>
          </li>
        ))}
      </ul>
      {total > entries.length && (
        <p className="py-3 text-soft">{t('links.first-of', { shown: entries.length, total })}</p>
      )}
    </main>
  )
}
