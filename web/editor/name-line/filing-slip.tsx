import { useQuery, useQueryClient } from '@tanstack/react-query'
import clsx from 'clsx'
import { ChevronRight, FolderPlus, Inbox } from 'lucide-react'
import { useEffect, useRef, useState } from 'react'
import type { DraftKind, Problem } from '../../../core/contract'
import { defaultType, fileType } from '../../../core/formats/types'
import { checkName, correctName, freeName, nameKey } from '../../../core/naming/check'
import { call, Refused } from '../../app/call'
import { Button, Field, IconButton } from '../../design/controls'
import { KindGlyph, NameParts } from '../../design/kind'

export interface FilingPlace {
  shareId: string
  folderId: string | null
}
const lastPlaceKey = 'jaula-last-place'

/** Where this person filed last on this device. */
export function lastPlace(): FilingPlace | null {
  try {
    return JSON.parse(localStorage.getItem(lastPlaceKey) ?? 'null')
  } catch {
    return null
  }
}

/**
 * The filing slip: a name, a place and a type are settled here, beside the work.
 * `onFile` answers with a refusal, or null when the file is on its way.
 */
export function FilingSlip({
  kind,
  proposal,
  place,
  title,
  onFile,
  onClose,
}: {
  kind: DraftKind
  proposal: string
  place: FilingPlace | null
  title: string
  onFile: (target: { shareId: string; folderId: string | null; name: string }) => Promise<Problem | null>
  onClose: () => void
}) {
  const client = useQueryClient()
  const [stem, setStem] = useState(proposal)
  const [at, setAt] = useState<FilingPlace | null>(place ?? lastPlace())
  const [refusal, setRefusal] = useState<Problem | null>(null)
  const [busy, setBusy] = useState(false)
  const [folder, setFolder] = useState<string | null>(null)
  const input = useRef<HTMLInputElement>(null)
  const shares = useQuery({ queryKey: ['shares'], queryFn: () => call('shares', {}) })
  const writable = shares.data?.filter(({ role }) => role !== 'view') ?? []
  useEffect(() => {
    if (shares.data && (!at || !writable.some(({ id }) => id === at.shareId)) && writable[0])
      setAt({ shareId: writable[0].id, folderId: null })
  }, [shares.data, at])
  const listing = useQuery({
    queryKey: ['place', at?.shareId, at?.folderId],
    enabled: !!at,
    queryFn: () => call('place', { params: { shareId: at!.shareId }, query: { folderId: at!.folderId ?? undefined } }),
  })
  useEffect(() => {
    // A folder that is gone gives way to its share.
    if (at?.folderId && listing.error instanceof Refused && listing.error.problem.type === 'not-found')
      setAt({ shareId: at.shareId, folderId: null })
  }, [listing.error])
  useEffect(() => input.current?.select(), [])

  const type = defaultType[kind]
  const name = stem.trim().toLowerCase().endsWith(`.${type}`) ? stem.trim() : `${stem.trim()}.${type}`
  const taken = new Set((listing.data?.entries ?? []).map((entry) => nameKey(entry.name)))
  const fault = stem.trim() === '' ? checkName('') : checkName(name)
  const there = taken.has(nameKey(name))
    ? listing.data?.entries.find((entry) => nameKey(entry.name) === nameKey(name))
    : undefined
  const free = freeName(name, taken)
  const correction = fault?.correction ? correctName(name) : null
  const withoutType = (whole: string) => whole.slice(0, -(type.length + 1))
  const path = listing.data ? [listing.data.share.name, ...listing.data.trail.map((one) => one.name)] : []

  async function file() {
    if (fault || there || !at || busy) return input.current?.focus()
    setBusy(true)
    setRefusal(null)
    localStorage.setItem(lastPlaceKey, JSON.stringify(at))
    const answer = await onFile({ ...at, name }).catch((error: Error) => ({
      type: 'unexpected' as const,
      title: error.message,
      status: 0,
    }))
    setBusy(false)
    setRefusal(answer)
    if (answer) void client.invalidateQueries({ queryKey: ['place', at.shareId] })
  }
  async function makeFolder() {
    if (!folder?.trim() || !at) return setFolder(null)
    try {
      const made = await call('newFolder', { body: { ...at, name: folder.trim() } })
      setFolder(null)
      setAt({ shareId: at.shareId, folderId: made.id })
      await client.invalidateQueries({ queryKey: ['place', at.shareId] })
    } catch (error) {
      setRefusal(error instanceof Refused ? error.problem : null)
    }
  }
  const faultWords = fault ? (
    <>
      {fault.reason}{' '}
      {correction && (
        <button type="button" className="underline" onClick={() => setStem(withoutType(correction))}>
          Use {correction}
        </button>
      )}
    </>
  ) : there ? (
    <>
      {there.kind === 'folder' ? 'A folder' : 'A file'} with this name is here already.{' '}
      <button type="button" className="underline" onClick={() => setStem(withoutType(free))}>
        Use {withoutType(free)}
      </button>
    </>
  ) : undefined

  return (
    <form
      aria-label="Filing slip"
      className="flex w-[348px] shrink-0 flex-col border-r bg-paper"
      onSubmit={(event) => {
        event.preventDefault()
        void file()
      }}
      onKeyDown={(event) => {
        if (event.key === 'Escape') onClose()
      }}
    >
      <div className="bars h-2 border-b" aria-hidden />
      <div className="flex min-h-0 flex-1 flex-col gap-4 p-4">
        <h2 className="text-[17px] font-semibold">{title}</h2>
        <Field
          ref={input}
          label="Name"
          className="font-mono [&_label]:font-sans"
          value={stem}
          onChange={(event) => {
            setStem(event.target.value)
            setRefusal(null)
          }}
          fault={faultWords}
          autoFocus
          spellCheck={false}
        />
        <div>
          <span className="block text-[13px] text-soft">Type</span>
          <span className="flex items-center gap-2">
            <KindGlyph type={type} />
            {fileType(type).label} <span className="font-mono text-[13px] text-soft">.{type}</span>
          </span>
        </div>
        <div className="flex min-h-0 flex-1 flex-col">
          <div className="mb-1 flex items-end justify-between">
            <span className="text-[13px] text-soft">Place</span>
            <IconButton label="New folder here" className="size-7" onClick={() => setFolder('')}>
              <FolderPlus />
            </IconButton>
          </div>
          <div className="flex min-h-0 flex-1 flex-col overflow-hidden rounded-md border border-rule-strong bg-sheet">
            <nav
              className="flex flex-wrap items-center gap-x-0.5 border-b px-2 py-1.5 text-[14px]"
              aria-label="Chosen place"
            >
              <button
                type="button"
                className="rounded px-1 hover:bg-wash"
                aria-label="All shares"
                onClick={() => setAt(null)}
              >
                <Inbox size={15} />
              </button>
              {listing.data && at && (
                <>
                  <ChevronRight size={13} className="text-soft" aria-hidden />
                  <button
                    type="button"
                    className="rounded px-1 hover:bg-wash"
                    onClick={() => setAt({ shareId: at.shareId, folderId: null })}
                  >
                    {listing.data.share.name}
                  </button>
                  {listing.data.trail.map((one) => (
                    <span key={one.id} className="flex items-center">
                      <ChevronRight size={13} className="text-soft" aria-hidden />
                      <button
                        type="button"
                        className="rounded px-1 hover:bg-wash"
                        onClick={() => setAt({ shareId: at.shareId, folderId: one.id })}
                      >
                        {one.name}
                      </button>
                    </span>
                  ))}
                </>
              )}
            </nav>
            <ul className="min-h-24 flex-1 overflow-auto py-1">
              {folder !== null && (
                <li className="px-2 py-1">
                  <input
                    autoFocus
                    aria-label="Name of the new folder"
                    className="h-7 w-full rounded border border-rule-strong bg-paper px-2"
                    value={folder}
                    placeholder="Name of the new folder"
                    onChange={(event) => setFolder(event.target.value)}
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
                </li>
              )}
              {!at &&
                writable.map((share) => (
                  <li key={share.id}>
                    <button
                      type="button"
                      className="flex w-full items-center gap-2 px-3 py-1 text-left hover:bg-wash"
                      onClick={() => setAt({ shareId: share.id, folderId: null })}
                    >
                      <Inbox size={16} className="text-soft" />
                      {share.name}
                    </button>
                  </li>
                ))}
              {at &&
                listing.data?.entries.map((entry) =>
                  entry.kind === 'folder' ? (
                    <li key={entry.id}>
                      <button
                        type="button"
                        className="flex w-full items-center gap-2 px-3 py-1 text-left hover:bg-wash"
                        onClick={() => setAt({ shareId: at.shareId, folderId: entry.id })}
                      >
                        <KindGlyph type="" folder size={16} />
                        <span className="truncate">{entry.name}</span>
                      </button>
                    </li>
                  ) : (
                    <li
                      key={entry.id}
                      className={clsx(
                        'flex items-center gap-2 px-3 py-1 text-soft',
                        entry.id === there?.id && 'text-rust',
                      )}
                    >
                      <KindGlyph type={entry.type} size={16} />
                      <NameParts name={entry.name} className="truncate font-mono text-[13px]" />
                    </li>
                  ),
                )}
              {at && listing.data?.entries.length === 0 && folder === null && (
                <li className="px-3 py-2 text-[14px] text-soft">This place is empty.</li>
              )}
              {listing.isError && (
                <li className="px-3 py-2 text-[14px] text-rust">
                  Shared storage does not answer right now. A save into this place waits for it.
                </li>
              )}
            </ul>
          </div>
        </div>
        <p className="break-words text-[13px] leading-[18px] text-soft" data-testid="full-path">
          {path.length ? (
            <>
              {path.join(' / ')} / <span className="font-mono text-ink">{name}</span>
            </>
          ) : (
            'Choose a place.'
          )}
        </p>
        {refusal && (
          <p role="alert" className="text-[14px] text-rust">
            {refusal.title}
            {refusal.freeName && (
              <>
                {' '}
                <button
                  type="button"
                  className="underline"
                  onClick={() => {
                    setStem(withoutType(refusal.freeName!))
                    setRefusal(null)
                  }}
                >
                  Use {refusal.freeName}
                </button>
              </>
            )}
          </p>
        )}
        <div className="flex gap-2">
          <Button look="main" type="submit" disabled={busy || !at}>
            {busy ? 'Saving …' : 'Save here'}
          </Button>
          <Button look="quiet" onClick={onClose}>
            Not now
          </Button>
        </div>
      </div>
    </form>
  )
}
