// Where a drive is taken over into a share: a folder of this computer or of the server is chosen, and those that were begun
// are gone on with.
import { useQuery } from '@tanstack/react-query'
import { ArrowLeft, ChevronRight, HardDrive, Server } from 'lucide-react'
import { useRef, useState } from 'react'
import { Link, useNavigate, useParams, useSearchParams } from 'react-router'
import { toast } from 'sonner'
import { uuidv7 } from 'uuidv7'
import type { Intake, NewIntake } from '../../core/contract'
import { call, Refused } from '../api/call'
import { keys } from '../api/keys'
import { queries } from '../api/queries'
import { Blank, Button } from '../design/controls'
import { Question } from '../design/overlay'
import { useStillHere } from '../design/still-here'
import { t, told } from '../words/all'
import { digits, moment } from '../words/formats'
import { driveOf, type HeldDrive, holdDrive } from './held-drives'

export function Intakes() {
  const { shareId = '' } = useParams()
  const [query] = useSearchParams()
  const folderId = query.get('folder')
  const navigate = useNavigate()
  const here = useStillHere()
  const [server, setServer] = useState(false)
  const chooser = useRef<HTMLInputElement>(null)
  const shares = useQuery(queries.shares)
  const intakes = useQuery({
    queryKey: keys.intakes(shareId),
    queryFn: () => call('intakes', { params: { shareId } }),
  })
  if (intakes.isError)
    return (
      <Blank
        screen
        title={
          intakes.error instanceof Refused
            ? told(intakes.error.problem)
            : t('common.the-server-does-not-answer-right-now')
        }
      >
        <Button look="main" onClick={() => intakes.refetch()}>
          {t('common.try-again')}
        </Button>
      </Blank>
    )
  const share = shares.data?.find(({ id }) => id === shareId)
  if (!intakes.data || !share) return <Blank screen title={t('common.one-moment')} waiting />
  const begin = async (from: Pick<NewIntake, 'source' | 'root'>, drive?: HeldDrive) => {
    const id = uuidv7()
    try {
      if (drive) holdDrive(id, drive)
      await call('beginIntake', { params: { shareId }, body: { id, folderId, ...from } })
      if (here()) await navigate(`/take-over/${shareId}/${id}`)
    } catch (error) {
      toast.error(error instanceof Refused ? told(error.problem) : t('drives.could-not'))
    }
  }
  const chosen = (list: FileList | null) => {
    if (!list?.length) return
    const drive = driveOf(list)
    if (drive) void begin({ source: 'browser', root: drive.name }, drive)
  }
  const { folders } = intakes.data
  return (
    <main className="h-full min-w-0 overflow-auto">
      <div className="mx-auto w-full max-w-[880px] px-4 py-4 md:px-8 md:py-6">
        <div className="flex items-center gap-3">
          <Link
            to={`/files/${shareId}${folderId ? `/${folderId}` : ''}`}
            aria-label={t('drives.back-to-files')}
            className="grid size-9 shrink-0 place-items-center rounded-md hover:bg-wash"
          >
            <ArrowLeft size={18} />
          </Link>
          <h1 className="min-w-0 text-[20px] font-semibold leading-6 [overflow-wrap:anywhere]">
            {t('drives.title', { share: share.name })}
          </h1>
        </div>
        <p className="max-w-[64ch] pt-3 text-soft">{t('drives.what-it-does')}</p>
        <div className="flex flex-wrap gap-3 pt-5">
          <Button look="main" onClick={() => chooser.current?.click()}>
            <HardDrive size={17} aria-hidden />
            {t('drives.choose-here')}
          </Button>
          <Button onClick={() => setServer(true)} disabled={!folders.length}>
            <Server size={17} aria-hidden />
            {t('drives.choose-on-server')}
          </Button>
          <input
            ref={chooser}
            type="file"
            multiple
            className="hidden"
            aria-label={t('drives.choose-here')}
            tabIndex={-1}
            {...{ webkitdirectory: '' }}
            onChange={(event) => {
              chosen(event.target.files)
              event.target.value = ''
            }}
          />
        </div>
        {!folders.length && (
          <p className="max-w-[64ch] pt-2 text-[13.5px] text-soft">{t('drives.no-server-folders')}</p>
        )}
        {intakes.data.intakes.length > 0 && (
          <section aria-labelledby="begun" className="pt-9">
            <h2 id="begun" className="pb-2 text-[15px] font-semibold">
              {t('drives.begun')}
            </h2>
            <ul className="border-t">
              {intakes.data.intakes.map((one) => (
                <Begun key={one.id} one={one} />
              ))}
            </ul>
          </section>
        )}
      </div>
      {server && (
        <ServerFolderQuestion
          shareId={shareId}
          roots={folders}
          onClose={() => setServer(false)}
          onChoose={(root) => begin({ source: 'server', root })}
        />
      )}
    </main>
  )
}

/** How far one is, in a few words. */
export const sayState = (one: Intake): string =>
  ({
    looking: () => t('drives.is-read', { read: digits(one.read), files: digits(one.files) }),
    planning: () => t('drives.is-planned'),
    ready: () => t('drives.is-ready', { n: one.planned.wanted }),
    taking: () => t('drives.is-taken', { taken: digits(one.taken), coming: digits(one.coming) }),
    done: () => t('drives.is-done', { n: one.taken }),
  })[one.state]()

function Begun({ one }: { one: Intake }) {
  return (
    <li className="border-b">
      <Link
        to={`/take-over/${one.share.id}/${one.id}`}
        className="flex flex-wrap items-baseline gap-x-4 px-1 py-2.5 hover:bg-wash"
      >
        <span className="min-w-0 flex-1 truncate font-medium">{one.root.slice(one.root.lastIndexOf('/') + 1)}</span>
        <span className={one.problem ? 'text-rust' : ''}>{one.problem ? told(one.problem) : sayState(one)}</span>
        <span className="text-[13.5px] text-soft">{moment(one.at)}</span>
      </Link>
    </li>
  )
}

/** A folder of the server is chosen by walking to it, from those that were named. */
function ServerFolderQuestion({
  shareId,
  roots,
  onChoose,
  onClose,
}: {
  shareId: string
  roots: readonly string[]
  onChoose: (path: string) => void
  onClose: () => void
}) {
  const [path, setPath] = useState<string | null>(roots.length === 1 ? roots[0]! : null)
  const inside = useQuery({
    queryKey: keys.intakes(shareId, 'folders', path),
    enabled: path !== null,
    retry: false,
    queryFn: () => call('serverFolders', { params: { shareId }, query: { path: path! } }),
  })
  const up = path === null || roots.includes(path) ? null : path.slice(0, path.lastIndexOf('/'))
  const folders = path === null ? [...roots] : (inside.data?.folders ?? [])
  const go = (to: string | null) => setPath(to)
  return (
    <Question
      title={t('drives.which-server-folder')}
      onClose={onClose}
      answers={
        <>
          <Button look="main" disabled={path === null || inside.isError} onClick={() => path && onChoose(path)}>
            {path === null ? t('drives.choose-one') : t('drives.look-into', { folder: nameOf(path) })}
          </Button>
          <Button look="quiet" onClick={onClose}>
            {t('common.cancel')}
          </Button>
        </>
      }
    >
      <p className="break-all pb-2 font-mono text-[13.5px]">{path ?? t('drives.named-folders')}</p>
      <ul className="h-64 overflow-auto rounded-md border bg-sheet text-ink">
        {(up !== null || (path !== null && roots.length > 1)) && (
          <li>
            <FolderButton name={t('drives.one-up')} onClick={() => go(up)} up />
          </li>
        )}
        {folders.map((folder) => (
          <li key={folder}>
            <FolderButton
              name={path === null ? folder : folder}
              onClick={() => go(path === null ? folder : `${path}/${folder}`)}
            />
          </li>
        ))}
        {inside.isError && (
          <li role="alert" className="px-3 py-2 text-rust">
            {inside.error instanceof Refused
              ? told(inside.error.problem)
              : t('common.the-server-does-not-answer-right-now')}
          </li>
        )}
        {path !== null && inside.data && !folders.length && (
          <li className="px-3 py-2 text-soft">{t('drives.no-folders-in-it')}</li>
        )}
      </ul>
    </Question>
  )
}

const nameOf = (path: string) => path.slice(path.lastIndexOf('/') + 1) || path

function FolderButton({ name, onClick, up = false }: { name: string; onClick: () => void; up?: boolean }) {
  return (
    <button
      type="button"
      onClick={onClick}
      className="flex w-full items-center gap-2 px-3 py-1.5 text-left hover:bg-wash focus-visible:outline-offset-[-2px]"
    >
      <span className={`min-w-0 flex-1 truncate ${up ? 'text-soft' : ''}`}>{name}</span>
      {!up && <ChevronRight size={16} className="text-soft" aria-hidden />}
    </button>
  )
}
