import { type QueryClient, useQuery, useQueryClient } from '@tanstack/react-query'
import clsx from 'clsx'
import {
  ChevronRight,
  FileText,
  FolderPlus,
  HardDriveDownload,
  History,
  Hourglass,
  Inbox,
  ListFilter,
  Table2,
  TextSearch,
  Trash2,
  Upload,
  UsersRound,
  X,
} from 'lucide-react'
import { useEffect, useRef, useState } from 'react'
import { useDropzone } from 'react-dropzone'
import { Link, redirect, replace, useNavigate, useParams, useRevalidator, useSearchParams } from 'react-router'
import { toast } from 'sonner'
import { uuidv7 } from 'uuidv7'
import { type Entry, ListKind, ListOrder, type Place, type Share } from '../../core/contract'
import { isAway } from '../api/call'
import { keys } from '../api/keys'
import { queries } from '../api/queries'
import { useSession } from '../api/signed-in'
import { useOffer } from '../design/commands'
import { Blank, Button } from '../design/controls'
import { IconButton } from '../design/icon-button'
import { Menu, MenuItem } from '../design/overlay'
import type { CopyOf } from '../own/choose'
import { t, told } from '../words'
import { size } from '../words/formats'
import { act } from './acts'
import { type BroughtIn, checkedEnding, send, toBringIn } from './bring-in'
import { BroughtInList } from './brought-in-list'
import { BulkRename } from './bulk-rename'
import { chosenToDrag, useDrop, useDropped } from './dragging'
import { EntryList } from './entry-list'
import { MoveQuestion } from './move-question'
import { NewFolder } from './new-folder'
import { NewShare } from './new-share'
import { Removed } from './removed'
import { useStretches } from './use-stretches'

/** Goes to a share where the address names none, once the shares are known. */
export function toShare(client: QueryClient, request: Request): Response | null {
  const known = client.getQueryData(queries.shares.queryKey)
  if (!known?.length) return null
  const { pathname, searchParams } = new URL(request.url)
  const bring = searchParams.get('bring')
  const share = (bring && known.find(({ role }) => role !== 'view')) || known[0]!
  const address = `/files/${share.id}${bring ? '?bring=1' : ''}`
  return window.location.pathname === pathname ? replace(address) : redirect(address)
}

/** Shares and folders, and what is in them. */
export const RemovedFiles = () => <Files removed />

export function Files({ removed = false }: { removed?: boolean }) {
  const { shareId, folderId } = useParams()
  const { revalidate } = useRevalidator()
  const { person } = useSession()
  const shares = useQuery(queries.shares)
  useMoves()
  // Once the shares are known. Not by going there from here: whoever went elsewhere meanwhile would be fetched back.
  const unchosen = !shareId && !removed && !!shares.data?.length
  useEffect(() => {
    if (unchosen) void revalidate()
  }, [unchosen, revalidate])
  if (shares.isPending) return <Blank screen title={t('common.one-moment')} waiting />
  if (shares.isError)
    return (
      <Blank screen title={t('common.the-server-does-not-answer-right-now')}>
        <Button look="main" onClick={() => shares.refetch()}>
          {t('common.try-again')}
        </Button>
      </Blank>
    )
  // Whoever was given a folder is in it all the same.
  if (shares.data.length === 0 && !shareId)
    return (
      <Blank screen title={t('common.you-are-not-a-member-of-any')}>
        {person.administrator ? <NewShare open /> : <p>{t('files.ask-an-administrator-to-add-you-to')}</p>}
      </Blank>
    )
  return (
    <div className="flex h-full flex-col md:flex-row">
      <nav
        className="flex w-full shrink-0 overflow-x-auto border-b px-3 py-2 md:w-60 md:flex-col md:overflow-auto md:border-b-0 md:border-r md:py-6"
        aria-label={t('files.shares')}
      >
        <h2 className="px-3 pb-2 text-[13px] text-soft max-md:sr-only">{t('files.shares')}</h2>
        <ul className="flex-1 max-md:flex">
          {shares.data.map((share) => (
            <ShareLink key={share.id} share={share} here={share.id === shareId} />
          ))}
          {person.administrator && <NewShare />}
        </ul>
        {shareId && (
          <Link
            to={`/removed/${shareId}`}
            aria-current={removed ? 'page' : undefined}
            className={clsx(
              'flex items-center gap-2.5 whitespace-nowrap rounded-md px-3 py-2',
              removed ? 'bg-wash font-semibold' : 'text-soft hover:bg-wash',
            )}
          >
            <Trash2 size={17} aria-hidden />
            {t('files.removed-files')}
          </Link>
        )}
        {shareId && (
          <Link
            to={`/access/${folderId ?? shareId}`}
            className="flex items-center gap-2.5 whitespace-nowrap rounded-md px-3 py-2 text-soft hover:bg-wash"
          >
            <UsersRound size={17} aria-hidden />
            {t('files.who-can-reach-it')}
          </Link>
        )}
        {shareId && (
          <Link
            to={`/moment/${shareId}${folderId ? `?folder=${folderId}` : ''}`}
            className="flex items-center gap-2.5 whitespace-nowrap rounded-md px-3 py-2 text-soft hover:bg-wash"
          >
            <History size={17} aria-hidden />
            {t('files.as-it-was')}
          </Link>
        )}
        {shareId && (
          <Link
            to={`/history?share=${shareId}${folderId ? `&folder=${folderId}` : ''}`}
            className="flex items-center gap-2.5 whitespace-nowrap rounded-md px-3 py-2 text-soft hover:bg-wash"
          >
            <TextSearch size={17} aria-hidden />
            {t('common.search-in-history')}
          </Link>
        )}
        {shareId && (
          <Link
            to={`/copies/retention/${shareId}`}
            className="flex items-center gap-2.5 whitespace-nowrap rounded-md px-3 py-2 text-soft hover:bg-wash"
          >
            <Hourglass size={17} aria-hidden />
            {t('common.retention')}
          </Link>
        )}
        {shareId && shares.data.find(({ id }) => id === shareId)?.role === 'manage' && (
          <Link
            to={`/take-over/${shareId}${folderId ? `?folder=${folderId}` : ''}`}
            className="flex items-center gap-2.5 whitespace-nowrap rounded-md px-3 py-2 text-soft hover:bg-wash"
          >
            <HardDriveDownload size={17} aria-hidden />
            {t('files.take-over')}
          </Link>
        )}
      </nav>
      {shareId && removed && <Removed />}
      {shareId && !removed && <Folder key={`${shareId} ${folderId}`} shareId={shareId} folderId={folderId ?? null} />}
    </div>
  )
}

function ShareLink({ share, here }: { share: Share; here: boolean }) {
  const element = useRef<HTMLLIElement>(null)
  const over = useDrop(element, share.role === 'view' ? null : { shareId: share.id, folderId: null, name: share.name })
  return (
    <li ref={element} className={clsx('rounded-md', over && 'outline-2 outline-accent')}>
      <Link
        to={`/files/${share.id}`}
        aria-current={here ? 'page' : undefined}
        className={clsx(
          'flex items-center gap-2.5 whitespace-nowrap rounded-md px-3 py-2',
          here ? 'bg-wash font-semibold' : 'hover:bg-wash',
        )}
      >
        <Inbox size={17} className="text-soft" aria-hidden />
        <span className="min-w-0 flex-1 truncate">{share.name}</span>
        {share.archived && <span className="text-[13px] font-normal text-soft">{t('files.archived')}</span>}
        {!share.archived && share.files > 0 && <span className="text-[13px] font-normal text-soft">{share.files}</span>}
      </Link>
    </li>
  )
}

/** What was dropped is moved; where it went is told and can be undone. */
function useMoves(): void {
  const client = useQueryClient()
  useDropped((entries, to) => {
    void act(
      client,
      'move',
      entries.map(({ id, name }) => ({ id, from: name, shareId: to.shareId, folderId: to.folderId })),
      t('files.things-to', {
        things: entries.length === 1 ? entries[0]!.name : t('files.items-2', { entries: entries.length }),
        place: to.name,
      }),
    ).then((problem) => problem && toast.error(told(problem)))
  })
}

function Folder({ shareId, folderId }: { shareId: string; folderId: string | null }) {
  const client = useQueryClient()
  const navigate = useNavigate()
  const { session, person } = useSession()
  const [query, setQuery] = useSearchParams()
  const [items, setItems] = useState<BroughtIn[]>([])
  const [makingFolder, setMakingFolder] = useState(false)
  const [visible, setVisible] = useState<readonly [number, number]>([0, 0])
  const find = query.get('find') ?? ''
  const kind = ListKind.safeParse(query.get('kind')).data ?? null
  const order = ListOrder.safeParse(query.get('order')).data ?? 'name'
  const turned = query.get('turned') !== null
  const listed = useStretches(shareId, folderId, { find, kind, order, turned }, visible)
  /** What is shown stands in the address, so that going back comes to the same list. */
  const show = (part: Record<string, string | null>) => {
    const next = new URLSearchParams(query)
    for (const [name, value] of Object.entries(part)) value === null ? next.delete(name) : next.set(name, value)
    setQuery(next, { replace: true })
  }
  const place = listed.first
  const [chosen, setChosen] = useState<ReadonlyMap<string, Entry>>(new Map())
  const [asking, setAsking] = useState<{ about: 'rename' | 'move'; entries: Entry[] } | null>(null)
  const remove = async (entries: readonly Entry[]) => {
    if (!entries.length) return
    const problem = await act(
      client,
      'remove',
      entries.map(({ id, name }) => ({ id, from: name })),
      entries.length === 1 ? entries[0]!.name : t('files.items-2', { entries: entries.length }),
    )
    if (problem) toast.error(told(problem))
    else setChosen(new Map())
  }
  useEffect(() => {
    chosenToDrag.current = chosen
  }, [chosen])
  // What was moved away is not here to be chosen any more.
  useDropped(() => setChosen(new Map()))
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
    await client.invalidateQueries({ queryKey: keys.place(shareId) })
    await client.invalidateQueries({ queryKey: keys.shares() })
  }
  const accept = (files: File[]) => {
    const arrived = files.map((file) => toBringIn(file, session.largestFile))
    setItems((all) => [...all.filter((item) => item.state !== 'done'), ...arrived])
    void Promise.all(arrived.map(checkedEnding)).then((checked) => {
      setItems((all) => all.map((item) => checked.find(({ key }) => key === item.key) ?? item))
      return bring(checked.filter((item) => item.state === 'waiting'))
    })
  }
  const again = (item: BroughtIn, name: string) => {
    const renewed: BroughtIn = {
      ...item,
      ...(name !== item.name && { key: uuidv7() }),
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
  // biome-ignore lint/correctness/useExhaustiveDependencies: opens the chooser once, where the address asks for it
  useEffect(() => {
    if (query.get('bring') && place.data) {
      setQuery({}, { replace: true })
      open()
    }
  }, [query, place.data])
  const beginAt = `?share=${shareId}${folderId ? `&folder=${folderId}` : ''}`
  useOffer(
    canKeepOwn && place.data
      ? [
          {
            id: 'keep own',
            label: t('files.keep-own'),
            group: t('common.begin'),
            run: () => {
              const { share, trail } = place.data!
              const of = { shareId, entryId: folderId, kind: 'folder' as const, name: trail.at(-1)?.name ?? share.name }
              void keepOwn(person.id, of)
            },
          },
        ]
      : [],
  )
  useOffer(
    mayEdit
      ? [
          { id: 'bring in', label: t('common.bring-in-files'), group: t('common.begin'), run: open },
          {
            id: 'new folder',
            label: t('files.new-folder'),
            group: t('common.begin'),
            run: () => setMakingFolder(true),
          },
        ]
      : [],
  )

  if (place.isPending) return <Blank screen title={t('common.one-moment')} waiting />
  if (place.isError)
    return (
      <div className="flex-1">
        <Blank
          screen
          title={
            isAway(place.error)
              ? t('common.the-server-does-not-answer-right-now')
              : t('files.this-place-does-not-exist-or-you')
          }
        >
          <Button look="main" onClick={() => place.refetch()}>
            {t('common.try-again')}
          </Button>
        </Blank>
      </div>
    )
  return (
    <main
      {...(mayEdit ? getRootProps({ role: 'main' }) : {})}
      className={clsx('relative flex min-h-0 min-w-0 flex-1 flex-col', isDragActive && 'bg-wash')}
    >
      <input {...getInputProps()} aria-label={t('files.choose-files-to-bring-in')} />
      <div className="flex flex-wrap items-center gap-3 px-3 pb-3 pt-3 md:px-6 md:pt-6">
        <Trail place={place.data} />
        <Menu
          align="start"
          trigger={
            <IconButton label={t('files.types-that-are-shown')} pressed={kind !== null}>
              <ListFilter />
            </IconButton>
          }
        >
          <MenuItem onSelect={() => show({ kind: null })}>{t('files.all-types')}</MenuItem>
          {Object.entries(kindNames).map(([value, label]) => (
            <MenuItem key={value} onSelect={() => show({ kind: value })}>
              {t('files.only', { label: label.toLowerCase() })}
            </MenuItem>
          ))}
        </Menu>
        {mayEdit ? (
          <div className="ml-auto flex flex-wrap gap-2">
            <Button onClick={() => setMakingFolder(true)}>
              <FolderPlus size={16} />
              {t('files.new-folder')}
            </Button>
            <Button onClick={open}>
              <Upload size={16} />
              {t('common.bring-in-files')}
            </Button>
            <Button onClick={() => navigate(`/new/document${beginAt}`)}>
              <FileText size={16} className="text-plum" />
              {t('common.new-document')}
            </Button>
            <Button onClick={() => navigate(`/new/spreadsheet${beginAt}`)}>
              <Table2 size={16} className="text-ochre" />
              {t('common.new-spreadsheet')}
            </Button>
          </div>
        ) : (
          <span className="ml-auto text-soft">{t('files.you-may-look-here-not-change-anything')}</span>
        )}
      </div>
      {items.length > 0 && <BroughtInList items={items} onAgain={again} onClose={() => setItems([])} />}
      {find && (
        <p className="mx-6 mb-2 flex items-center gap-3 rounded-md bg-wash px-3 py-1.5 text-[14px]" role="status">
          {t('files.only-names-with-are-shown-items', { find, total: listed.total })}
          <button type="button" className="underline" onClick={() => show({ find: null })}>
            {t('common.show-all')}
          </button>
        </p>
      )}
      {kind && (
        <p
          className="mx-3 mb-2 flex items-center gap-3 rounded-md bg-wash px-3 py-1.5 text-[14px] md:mx-6"
          role="status"
        >
          {t('files.only-folders-and-are-shown-items', { it: kindNames[kind].toLowerCase(), total: listed.total })}
          <button type="button" className="underline" onClick={() => show({ kind: null })}>
            {t('common.show-all')}
          </button>
        </p>
      )}
      {chosen.size > 0 && (
        <div
          className="mx-6 mb-2 flex items-center gap-2 rounded-md bg-wash px-3 py-1.5"
          role="group"
          aria-label={t('files.what-is-chosen')}
        >
          <span className="pr-3 font-medium">{t('files.items-chosen', { chosen: chosen.size })}</span>
          {mayEdit && (
            <>
              <Button onClick={() => setAsking({ about: 'rename', entries: [...chosen.values()] })}>
                {t('files.rename-4')}
              </Button>
              <Button onClick={() => setAsking({ about: 'move', entries: [...chosen.values()] })}>
                {t('files.move-to')}
              </Button>
              <Button onClick={() => void remove([...chosen.values()])}>{t('common.remove')}</Button>
            </>
          )}
          {chosen.size === 1 && canKeepOwn && (
            <Button onClick={() => void keepOwn(person.id, ofEntry([...chosen.values()][0]!))}>
              {t('files.keep-own')}
            </Button>
          )}
          <IconButton
            label={t('files.clear-the-selection')}
            className="ml-auto size-7"
            onClick={() => setChosen(new Map())}
          >
            <X />
          </IconButton>
        </div>
      )}
      {listed.total === 0 ? (
        <Blank
          title={
            find
              ? t('files.no-name-here-has-that')
              : kind
                ? t('files.no-here', { it: kindNames[kind].toLowerCase() })
                : t('files.this-place-is-empty')
          }
        >
          {mayEdit && !find && !kind && (
            <p>{t('files.drop-files-here-or-begin-something-new', { largestFile: size(session.largestFile) })}</p>
          )}
        </Blank>
      ) : (
        <EntryList
          listed={listed}
          place={place.data}
          mayEdit={mayEdit}
          chosen={chosen}
          onChoose={setChosen}
          onVisible={setVisible}
          order={order}
          turned={turned}
          onOrder={(by) => show({ order: by === 'name' ? null : by, turned: by === order && !turned ? '' : null })}
          acts={{
            onRename: (entries) => setAsking({ about: 'rename', entries }),
            onMove: (entries) => setAsking({ about: 'move', entries }),
            onRemove: (entries) => void remove(entries),
          }}
        />
      )}
      {asking?.about === 'move' && asking.entries.length > 0 && (
        <MoveQuestion
          entries={asking.entries}
          onClose={() => {
            setAsking(null)
            setChosen(new Map())
          }}
        />
      )}
      {asking?.about === 'rename' && (
        <BulkRename
          entries={asking.entries}
          place={place.data}
          onClose={() => {
            setAsking(null)
            setChosen(new Map())
          }}
        />
      )}
      {isDragActive && (
        <div className="pointer-events-none absolute inset-3 grid place-items-center rounded-lg border-2 border-dashed border-accent text-[18px] font-medium">
          {t('files.drop-to-bring-them-in-here')}
        </div>
      )}
      {makingFolder && <NewFolder place={place.data} folderId={folderId} onClose={() => setMakingFolder(false)} />}
    </main>
  )
}

const ofEntry = ({ id, shareId, kind, name }: Entry): CopyOf => ({ shareId, entryId: id, kind, name })
/** Whether this browser lets a page use a folder of the computer. */
const canKeepOwn = 'showDirectoryPicker' in window
async function keepOwn(personId: string, of: CopyOf): Promise<void> {
  try {
    const { keepOwnCopy } = await import('../own/choose')
    const kept = await keepOwnCopy(personId, of)
    if (kept) toast(t(kept.done ? 'files.own-kept' : 'files.own-not-all', { folder: kept.folder }))
  } catch {
    toast.error(t('files.own-could-not'))
  }
}

const kindNames: Record<ListKind, string> = {
  document: t('common.documents'),
  spreadsheet: t('common.spreadsheets'),
  other: t('common.other-files'),
}

function Trail({ place }: { place: Place }) {
  const steps = [{ id: '', name: place.share.name }, ...place.trail]
  return (
    <h1 className="flex min-w-0 flex-wrap items-center text-[20px] font-semibold">
      {steps.map((step, index) => (
        <span key={step.id} className="flex items-center">
          {index > 0 && <ChevronRight size={17} className="mx-1 text-soft" aria-hidden />}
          {index === steps.length - 1 ? <bdi>{step.name}</bdi> : <Step shareId={place.share.id} step={step} />}
        </span>
      ))}
    </h1>
  )
}

function Step({ shareId, step }: { shareId: string; step: { id: string; name: string } }) {
  const element = useRef<HTMLAnchorElement>(null)
  const over = useDrop(element, { shareId, folderId: step.id || null, name: step.name })
  return (
    <Link
      ref={element}
      draggable={false}
      className={clsx('rounded font-normal text-soft hover:text-ink', over && 'outline-2 outline-accent')}
      to={`/files/${shareId}${step.id ? `/${step.id}` : ''}`}
    >
      <bdi>{step.name}</bdi>
    </Link>
  )
}
