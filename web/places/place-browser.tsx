import { useQuery, useQueryClient } from '@tanstack/react-query'
import clsx from 'clsx'
import { ChevronRight, CornerLeftUp, FolderPlus, History, Inbox } from 'lucide-react'
import { useState } from 'react'
import type { Entry, Place } from '../../core/contract'
import { call, Refused } from '../api/call'
import { keys } from '../api/keys'
import { queries } from '../api/queries'
import { IconButton } from '../design/icon-button'
import { KindGlyph, NameParts } from '../design/kind'
import { Menu, MenuItem } from '../design/overlay'
import { t, told } from '../words'
import { digits } from '../words/formats'
import { type ChosenPlace, usePlace } from './place'

/**
 * A place is chosen by walking: shares, folders, up a level, recent ones, a new one. Files are listed
 * too, whatever their type, so that nothing looks free that is not.
 */
export function PlaceBrowser({
  at,
  onChoose,
  onPoint,
  marked,
  className,
}: {
  at: ChosenPlace | null
  onChoose: (place: ChosenPlace | null) => void
  /** A file was pointed at; without it files are only shown. */
  onPoint?: (file: Entry) => void
  /** The entry whose name is being given. */
  marked?: string | undefined
  className?: string
}) {
  const client = useQueryClient()
  const [folder, setFolder] = useState<string | null>(null)
  const [refusal, setRefusal] = useState('')
  const shares = useQuery(queries.shares)
  const recent = useQuery(queries.recentPlaces)
  const listing = usePlace(at)
  const place = at ? listing.data : undefined
  const to = (shareId: string, folderId: string | null) => {
    setFolder(null)
    onChoose({ shareId, folderId, path: [] })
  }
  const up = () => {
    if (!at || !place) return onChoose(null)
    const above = place.missing.length ? place.trail : place.trail.slice(0, -1)
    if (!place.missing.length && !place.trail.length) onChoose(null)
    else to(at.shareId, above.at(-1)?.id ?? null)
  }
  async function makeFolder() {
    const name = folder?.trim()
    if (!name || !at) return setFolder(null)
    try {
      const made = await call('newFolder', {
        body: { shareId: at.shareId, folderId: place?.trail.at(-1)?.id ?? null, name },
      })
      await client.invalidateQueries({ queryKey: keys.place(at.shareId) })
      setRefusal('')
      to(at.shareId, made.id)
    } catch (error) {
      setRefusal(error instanceof Refused ? told(error.problem) : t('files.the-folder-could-not-be-made'))
    }
  }
  const row = 'flex w-full items-center gap-2 px-3 py-1.5 text-left hover:bg-wash'
  return (
    <section className={clsx('flex min-h-0 flex-col', className)} aria-label={t('files.place')}>
      <div className="flex items-center gap-0.5 border-b px-1.5 py-1">
        <IconButton label={t('files.up-a-level')} className="size-7" disabled={!at} onClick={up}>
          <CornerLeftUp />
        </IconButton>
        <Menu
          align="start"
          trigger={
            <IconButton label={t('files.recent-places')} className="size-7" disabled={!recent.data?.length}>
              <History />
            </IconButton>
          }
        >
          {recent.data?.map((one) => (
            <MenuItem key={`${one.shareId} ${one.folderId}`} onSelect={() => to(one.shareId, one.folderId)}>
              {[one.share, ...one.folders].join(' / ')}
            </MenuItem>
          ))}
        </Menu>
        <IconButton
          label={t('files.new-folder-here')}
          className="size-7"
          disabled={!place}
          onClick={() => setFolder('')}
        >
          <FolderPlus />
        </IconButton>
      </div>
      <nav
        className="flex flex-wrap items-center gap-x-0.5 border-b px-2 py-1.5 text-[14px]"
        aria-label={t('files.chosen-place')}
      >
        <button
          type="button"
          className="min-h-6 rounded px-1 hover:bg-wash"
          aria-label={t('files.all-shares')}
          onClick={() => onChoose(null)}
        >
          <Inbox size={15} />
        </button>
        {place && at && <Crumbs place={place} onGo={(folderId) => to(at.shareId, folderId)} />}
      </nav>
      <ul className="min-h-24 flex-1 overflow-auto py-1">
        {folder !== null && (
          <li className="px-2 py-1">
            <input
              autoFocus
              aria-label={t('files.name-of-the-new-folder')}
              className="h-7 w-full rounded border border-rule-strong bg-paper px-2"
              value={folder}
              placeholder={t('files.name-of-the-new-folder')}
              onChange={(event) => setFolder(event.target.value)}
              onBlur={() => void makeFolder()}
              onKeyDown={(event) => {
                if (event.key === 'Enter') {
                  event.preventDefault()
                  void makeFolder()
                }
                if (event.key === 'Escape') {
                  event.stopPropagation()
                  setFolder(null)
                }
              }}
            />
            {refusal && (
              <p role="alert" className="pt-1 text-[13px] text-rust">
                {refusal}
              </p>
            )}
          </li>
        )}
        {!at &&
          shares.data
            ?.filter(({ role, archived }) => role !== 'view' && !archived)
            .map((share) => (
              <li key={share.id}>
                <button type="button" className={row} onClick={() => to(share.id, null)}>
                  <Inbox size={16} className="text-soft" />
                  {share.name}
                </button>
              </li>
            ))}
        {place?.entries.map((entry) => (
          <li key={entry.id}>
            {entry.kind === 'folder' ? (
              <button type="button" className={row} onClick={() => to(entry.shareId, entry.id)}>
                <KindGlyph type="" folder size={16} />
                <span className="truncate" dir="auto">
                  {entry.name}
                </span>
              </button>
            ) : (
              <button
                type="button"
                disabled={!onPoint}
                title={onPoint ? t('files.name-it-like', { entryName: entry.name }) : entry.name}
                className={clsx(row, 'disabled:hover:bg-transparent', entry.id === marked ? 'text-rust' : 'text-soft')}
                onClick={() => onPoint?.(entry)}
              >
                <KindGlyph type={entry.type} size={16} />
                <NameParts
                  name={entry.name}
                  className="line-clamp-2 min-w-0 whitespace-normal! break-all font-mono text-[12.5px] leading-[16px]"
                />
              </button>
            )}
          </li>
        ))}
        {place && place.total > place.entries.length && (
          <li className="px-3 py-1 text-[13px] text-soft">
            {t('common.and-more', { it: digits(place.total - place.entries.length) })}
          </li>
        )}
        {place && place.missing.length > 0 && (
          <li className="px-3 py-2 text-[14px] text-soft">
            {t('files.is-not-there-yet-it-is-made', { missing: place.missing.join(' / ') })}
          </li>
        )}
        {place && !place.missing.length && place.total === 0 && folder === null && (
          <li className="px-3 py-2 text-[14px] text-soft">{t('files.this-place-is-empty-2')}</li>
        )}
        {listing.isError && (
          <li className="px-3 py-2 text-[14px] text-rust">{t('files.the-server-does-not-answer-right-now')}</li>
        )}
      </ul>
    </section>
  )
}

function Crumbs({ place, onGo }: { place: Place; onGo: (folderId: string | null) => void }) {
  const steps = [{ id: null as string | null, name: place.share.name }, ...place.trail]
  return (
    <>
      {steps.map((step) => (
        <span key={step.id} className="flex items-center">
          <ChevronRight size={13} className="text-soft" aria-hidden />
          <button type="button" className="min-h-6 rounded px-1 hover:bg-wash" dir="auto" onClick={() => onGo(step.id)}>
            {step.name}
          </button>
        </span>
      ))}
      {place.missing.map((name) => (
        <span key={name} className="flex items-center italic text-soft">
          <ChevronRight size={13} aria-hidden />
          <span className="px-1" dir="auto">
            {name}
          </span>
        </span>
      ))}
    </>
  )
}
