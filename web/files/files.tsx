import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useVirtualizer } from '@tanstack/react-virtual'
import clsx from 'clsx'
import { ChevronRight, Download, FileText, FolderPlus, Inbox, Table2, Upload, X } from 'lucide-react'
import { useEffect, useRef, useState } from 'react'
import { useDropzone } from 'react-dropzone'
import { Link, useNavigate, useParams, useSearchParams } from 'react-router'
import type { Entry, Place } from '../../core/contract'
import { fileType } from '../../core/formats/types'
import { checkName, correctName, nameKey } from '../../core/naming/check'
import { addressOf, call, isAway, Refused } from '../app/call'
import { useOffer } from '../app/commands'
import { useSession } from '../app/session'
import { Blank, Button, Field, IconButton } from '../design/controls'
import { KindGlyph, NameParts } from '../design/kind'
import { Question } from '../design/overlay'
import { count, moment, size } from '../design/words'
import { type BroughtIn, send, toBringIn } from './bring-in'

/** Shares and folders, and what is in them. */
export function Files() {
  const { shareId, folderId } = useParams()
  const navigate = useNavigate()
  const shares = useQuery({ queryKey: ['shares'], queryFn: () => call('shares', {}) })
  const [query] = useSearchParams()
  useEffect(() => {
    if (!shareId && shares.data?.[0])
      void navigate(
        `/files/${(query.get('bring') ? shares.data.find(({ role }) => role !== 'view') : null)?.id ?? shares.data[0].id}${query.get('bring') ? '?bring=1' : ''}`,
        { replace: true },
      )
  }, [shareId, shares.data])
  if (shares.isPending) return <Blank title="One moment" waiting />
  if (shares.isError)
    return (
      <Blank title="Shared storage does not answer right now">
        <Button look="main" onClick={() => shares.refetch()}>
          Try again
        </Button>
      </Blank>
    )
  if (shares.data.length === 0)
    return (
      <Blank title="You are not a member of any share yet">
        <p>Ask an administrator to add you to one.</p>
      </Blank>
    )
  return (
    <div className="flex h-full">
      <nav className="w-60 shrink-0 overflow-auto border-r px-3 py-6" aria-label="Shares">
        <h2 className="px-3 pb-2 text-[13px] text-soft">Shares</h2>
        <ul>
          {shares.data.map((share) => (
            <li key={share.id}>
              <Link
                to={`/files/${share.id}`}
                aria-current={share.id === shareId ? 'page' : undefined}
                className={clsx(
                  'flex items-center gap-2.5 rounded-md px-3 py-2',
                  share.id === shareId ? 'bg-wash font-semibold' : 'hover:bg-wash',
                )}
              >
                <Inbox size={17} className="text-soft" aria-hidden />
                <span className="min-w-0 flex-1 truncate">{share.name}</span>
                <span className="text-[13px] font-normal text-soft">{share.files}</span>
              </Link>
            </li>
          ))}
        </ul>
      </nav>
      {shareId && <Folder key={`${shareId} ${folderId}`} shareId={shareId} folderId={folderId ?? null} />}
    </div>
  )
}

function Folder({ shareId, folderId }: { shareId: string; folderId: string | null }) {
  const client = useQueryClient()
  const navigate = useNavigate()
  const { session } = useSession()
  const [query, setQuery] = useSearchParams()
  const [items, setItems] = useState<BroughtIn[]>([])
  const [makingFolder, setMakingFolder] = useState(false)
  const place = useQuery({
    queryKey: ['place', shareId, folderId],
    queryFn: () => call('place', { params: { shareId }, query: { folderId: folderId ?? undefined } }),
  })
  const mayEdit = place.data?.share.role !== 'view'
  const change = (key: string, part: Partial<BroughtIn>) =>
    setItems((all) => all.map((item) => (item.key === key ? { ...item, ...part } : item)))
  const bring = async (queue: BroughtIn[]) => {
    const next = async (): Promise<void> => {
      const item = queue.shift()
      if (!item) return
      change(item.key, { state: 'sending', problem: null })
      const answer = await send(item, { shareId, folderId }, (progress) => change(item.key, { progress }))
      if ('status' in answer) change(item.key, { state: 'refused', problem: answer })
      else change(item.key, { state: 'done', progress: 1 })
      return next()
    }
    await Promise.all([next(), next()])
    await client.invalidateQueries({ queryKey: ['place', shareId] })
    await client.invalidateQueries({ queryKey: ['shares'] })
  }
  const accept = (files: File[]) => {
    const arrived = files.map((file) => toBringIn(file, session.largestFile))
    setItems((all) => [...all.filter((item) => item.state !== 'done'), ...arrived])
    void bring(arrived.filter((item) => item.state === 'waiting'))
  }
  const again = (item: BroughtIn, name: string) => {
    const renewed: BroughtIn = {
      ...item,
      ...(name !== item.name && { key: crypto.randomUUID() }),
      name,
      state: 'waiting',
      problem: null,
      progress: 0,
    }
    setItems((all) => all.map((one) => (one.key === item.key ? renewed : one)))
    void bring([renewed])
  }
  const { getRootProps, getInputProps, open, isDragActive } = useDropzone({
    onDrop: accept,
    noClick: true,
    noKeyboard: true,
    disabled: !mayEdit,
  })
  useEffect(() => {
    if (query.get('bring') && place.data) {
      setQuery({}, { replace: true })
      open()
    }
  }, [query, place.data])
  const beginAt = `?share=${shareId}${folderId ? `&folder=${folderId}` : ''}`
  useOffer(
    mayEdit
      ? [
          { id: 'bring in', label: 'Bring in files', group: 'Begin', run: open },
          { id: 'new folder', label: 'New folder', group: 'Begin', run: () => setMakingFolder(true) },
        ]
      : [],
  )

  if (place.isPending) return <Blank title="One moment" waiting />
  if (place.isError)
    return (
      <div className="flex-1">
        <Blank title={isAway(place.error) ? 'Shared storage does not answer right now' : 'This place is not here'}>
          <Button look="main" onClick={() => place.refetch()}>
            Try again
          </Button>
        </Blank>
      </div>
    )
  return (
    <main
      {...(mayEdit ? getRootProps() : {})}
      className={clsx('relative flex min-w-0 flex-1 flex-col', isDragActive && 'bg-wash')}
    >
      <input {...getInputProps()} aria-label="Choose files to bring in" />
      <div className="flex flex-wrap items-center gap-3 px-6 pb-3 pt-6">
        <Trail place={place.data} />
        {mayEdit ? (
          <div className="ml-auto flex gap-2">
            <Button onClick={() => setMakingFolder(true)}>
              <FolderPlus size={16} />
              New folder
            </Button>
            <Button onClick={open}>
              <Upload size={16} />
              Bring in files
            </Button>
            <Button onClick={() => navigate(`/new/document${beginAt}`)}>
              <FileText size={16} className="text-plum" />
              New document
            </Button>
            <Button onClick={() => navigate(`/new/spreadsheet${beginAt}`)}>
              <Table2 size={16} className="text-ochre" />
              New spreadsheet
            </Button>
          </div>
        ) : (
          <span className="ml-auto text-soft">You may look here, not change anything.</span>
        )}
      </div>
      {items.length > 0 && <BroughtInList items={items} onAgain={again} onClose={() => setItems([])} />}
      {place.data.entries.length === 0 ? (
        <Blank title="This place is empty">
          {mayEdit && (
            <p>
              Drop files here, or begin something new. Files up to {size(session.largestFile)} are kept byte for byte,
              whatever their type.
            </p>
          )}
        </Blank>
      ) : (
        <EntryList entries={place.data.entries} shareId={shareId} />
      )}
      {isDragActive && (
        <div className="pointer-events-none absolute inset-3 grid place-items-center rounded-lg border-2 border-dashed border-accent text-[18px] font-medium">
          Drop to bring them in here
        </div>
      )}
      {makingFolder && <NewFolder place={place.data} folderId={folderId} onClose={() => setMakingFolder(false)} />}
    </main>
  )
}

function Trail({ place }: { place: Place }) {
  const steps = [{ id: '', name: place.share.name }, ...place.trail]
  return (
    <h1 className="flex min-w-0 flex-wrap items-center text-[20px] font-semibold">
      {steps.map((step, index) => (
        <span key={step.id} className="flex items-center">
          {index > 0 && <ChevronRight size={17} className="mx-1 text-soft" aria-hidden />}
          {index === steps.length - 1 ? (
            step.name
          ) : (
            <Link
              className="font-normal text-soft hover:text-ink"
              to={`/files/${place.share.id}${step.id ? `/${step.id}` : ''}`}
            >
              {step.name}
            </Link>
          )}
        </span>
      ))}
    </h1>
  )
}

const columns = 'grid grid-cols-[20px_minmax(0,1fr)_150px_72px_128px_150px_36px] items-center gap-5'

function EntryList({ entries, shareId }: { entries: Entry[]; shareId: string }) {
  const navigate = useNavigate()
  const scroller = useRef<HTMLDivElement>(null)
  const [at, setAt] = useState(0)
  const rows = useVirtualizer({
    count: entries.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => 40,
    overscan: 12,
  })
  const address = (entry: Entry) => (entry.kind === 'folder' ? `/files/${shareId}/${entry.id}` : `/open/${entry.id}`)
  const go = (index: number) => {
    const to = Math.max(0, Math.min(entries.length - 1, index))
    setAt(to)
    rows.scrollToIndex(to)
  }
  const keys: Record<string, () => void> = {
    ArrowDown: () => go(at + 1),
    ArrowUp: () => go(at - 1),
    Home: () => go(0),
    End: () => go(entries.length - 1),
    PageDown: () => go(at + 15),
    PageUp: () => go(at - 15),
    Enter: () => void navigate(address(entries[at]!)),
  }
  return (
    <div className="flex min-h-0 flex-1 flex-col px-6 pb-4">
      <div className={clsx(columns, 'border-b px-2 pb-1.5 text-[13px] text-soft')} aria-hidden>
        <span />
        <span>Name</span>
        <span>Type</span>
        <span className="text-right">Size</span>
        <span>Saved</span>
        <span>By</span>
        <span />
      </div>
      <div
        ref={scroller}
        tabIndex={0}
        role="grid"
        aria-label="Files and folders"
        aria-rowcount={entries.length}
        aria-activedescendant={`entry-${entries[at]?.id}`}
        className="min-h-0 flex-1 overflow-auto"
        onKeyDown={(event) => {
          const run = event.target === event.currentTarget ? keys[event.key] : undefined
          if (!run) return
          event.preventDefault()
          run()
        }}
      >
        <div style={{ height: rows.getTotalSize() }} className="relative">
          {rows.getVirtualItems().map(({ index, start }) => {
            const entry = entries[index]!
            return (
              <div
                key={entry.id}
                id={`entry-${entry.id}`}
                role="row"
                aria-rowindex={index + 1}
                aria-selected={index === at}
                style={{ transform: `translateY(${start}px)` }}
                className={clsx(
                  columns,
                  'group absolute inset-x-0 h-10 border-b px-2',
                  index === at && 'bg-wash/60 [[role=grid]:focus_&]:bg-wash',
                )}
                onPointerDown={() => setAt(index)}
              >
                <KindGlyph type={entry.type} folder={entry.kind === 'folder'} />
                <span role="gridcell" className="min-w-0 truncate">
                  <Link tabIndex={-1} to={address(entry)} className="hover:underline">
                    <NameParts name={entry.name} className={entry.kind === 'file' ? 'font-mono text-[14px]' : ''} />
                  </Link>
                </span>
                <span className="truncate text-[14px] text-soft">
                  {entry.kind === 'folder' ? count(entry.children ?? 0, 'item') : shortType(entry.type)}
                </span>
                <span className="text-right text-[14px] text-soft">{entry.head ? size(entry.head.size) : ''}</span>
                <span className="truncate text-[14px] text-soft">{entry.head ? moment(entry.head.at) : ''}</span>
                <span className="truncate text-[14px] text-soft">{entry.head?.author.name}</span>
                {entry.head && (
                  <a
                    href={addressOf('bytes', { params: { versionId: entry.head.id } })}
                    download
                    aria-label={`Download ${entry.name}`}
                    className="grid size-8 place-items-center rounded-md opacity-0 hover:bg-wash focus:opacity-100 group-hover:opacity-100"
                  >
                    <Download size={16} />
                  </a>
                )}
              </div>
            )
          })}
        </div>
      </div>
    </div>
  )
}

const shortType = (type: string) =>
  fileType(type)
    .label.replace('Office Open XML ', 'OOXML ')
    .replace(/^./, (letter) => letter.toUpperCase())

function BroughtInList({
  items,
  onAgain,
  onClose,
}: {
  items: BroughtIn[]
  onAgain: (item: BroughtIn, name: string) => void
  onClose: () => void
}) {
  const done = items.filter((item) => item.state === 'done').length
  return (
    <section className="mx-6 mb-3 rounded-md border bg-paper" aria-label="Files being brought in">
      <div className="flex items-center px-4 py-2">
        <span className="font-medium" role="status">
          {done} of {count(items.length, 'file')} brought in
        </span>
        <IconButton label="Close this list" className="ml-auto size-7" onClick={onClose}>
          <X />
        </IconButton>
      </div>
      <ul className="max-h-44 overflow-auto border-t">
        {items.map((item) => (
          <li key={item.key} className="flex items-center gap-3 px-4 py-1.5 text-[14px]">
            <span className="w-72 shrink-0 truncate font-mono">{item.name}</span>
            {item.state === 'refused' ? (
              <span className="flex flex-wrap items-center gap-x-3 text-rust" role="alert">
                {item.problem?.title}
                {item.problem?.freeName && (
                  <button type="button" className="underline" onClick={() => onAgain(item, item.problem!.freeName!)}>
                    Use {item.problem.freeName}
                  </button>
                )}
                {(item.problem?.status ?? 500) >= 500 || item.problem?.status === 0 ? (
                  <button type="button" className="underline" onClick={() => onAgain(item, item.name)}>
                    Try again
                  </button>
                ) : null}
              </span>
            ) : (
              <>
                <progress
                  className="h-1.5 w-40 accent-accent"
                  value={item.progress}
                  aria-label={`Progress of ${item.name}`}
                />
                <span className="text-soft">
                  {item.state === 'done'
                    ? 'Here'
                    : item.state === 'sending'
                      ? `${Math.round(item.progress * 100)} %`
                      : 'Waiting'}
                </span>
              </>
            )}
          </li>
        ))}
      </ul>
    </section>
  )
}

function NewFolder({ place, folderId, onClose }: { place: Place; folderId: string | null; onClose: () => void }) {
  const client = useQueryClient()
  const [name, setName] = useState('')
  const [refusal, setRefusal] = useState('')
  const fault = name ? checkName(name) : null
  const correction = fault ? correctName(name) : null
  const there = place.entries.some((entry) => nameKey(entry.name) === nameKey(name.trim()))
  const make = async () => {
    if (!name.trim() || fault || there) return
    try {
      await call('newFolder', { body: { shareId: place.share.id, folderId, name: name.trim() } })
      await client.invalidateQueries({ queryKey: ['place', place.share.id] })
      onClose()
    } catch (error) {
      setRefusal(error instanceof Refused ? error.problem.title : 'It could not be made.')
    }
  }
  return (
    <Question
      title={`New folder in ${place.trail.at(-1)?.name ?? place.share.name}`}
      onClose={onClose}
      answers={
        <>
          <Button look="main" disabled={!name.trim() || !!fault || there} onClick={make}>
            Make it
          </Button>
          <Button look="quiet" onClick={onClose}>
            Not now
          </Button>
        </>
      }
    >
      <Field
        label="Name"
        autoFocus
        value={name}
        onChange={(event) => {
          setName(event.target.value)
          setRefusal('')
        }}
        onKeyDown={(event) => event.key === 'Enter' && void make()}
        fault={
          fault ? (
            <>
              {fault.reason}{' '}
              {correction && (
                <button type="button" className="underline" onClick={() => setName(correction)}>
                  Use {correction}
                </button>
              )}
            </>
          ) : there ? (
            'This name is taken here.'
          ) : (
            refusal
          )
        }
      />
    </Question>
  )
}
