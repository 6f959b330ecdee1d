// The editor's frame: name line and reach above, the work in the middle, versions below. It owns
// the draft session and every way to save, look back and leave.
import { useQuery } from '@tanstack/react-query'
import { ArrowLeft, EllipsisVertical } from 'lucide-react'
import { useEffect, useMemo, useRef, useState, useSyncExternalStore } from 'react'
import { Link, useBlocker, useLocation, useNavigate, useSearchParams } from 'react-router'
import { toast } from 'sonner'
import { uuidv7 } from 'uuidv7'
import type { Problem, Version } from '../../core/contract'
import type { Limit } from '../../core/formats/refusals'
import { proposeName, unnamed } from '../../core/naming/propose'
import { addressOf, call, Refused } from '../app/call'
import { useOffer } from '../app/commands'
import { useSession } from '../app/session'
import { Blank, Button, IconButton, Notice } from '../design/controls'
import { KindGlyph, NameParts } from '../design/kind'
import { Menu, MenuItem, MenuRule } from '../design/overlay'
import { withControl } from '../design/words'
import { DocumentBody } from './document/body'
import { DraftSession, isProblem } from './draft-session'
import { Versions } from './lifeline/versions'
import { FilingSlip } from './name-line/filing-slip'
import {
  ElsewhereNotice,
  GapNotice,
  LimitsNotice,
  LookingNotice,
  NewerNotice,
  RecoveredNotice,
  RefusalNotice,
} from './notices'
import type { Opening } from './opening'
import { LeavingQuestion, LimitsQuestion, RestoringQuestion } from './questions'
import { ReachLine } from './reach/reach-line'
import { OtherType } from './routes'
import { WorkbookBody } from './workbook/body'

type Asking =
  | { about: 'limits'; then: () => void }
  | { about: 'leaving' }
  | { about: 'restoring'; version: Version }
  | null

export function Workspace({
  opening,
  slipAtOnce,
  onReload,
}: {
  opening: Opening
  slipAtOnce: boolean
  onReload: () => void
}) {
  const { person } = useSession()
  const navigate = useNavigate()
  const { pathname } = useLocation()
  const [query] = useSearchParams()
  const [session] = useState(() => new DraftSession({ ...opening.beginning, personId: person.id }))
  const state = useSyncExternalStore(session.subscribe, session.outline)
  const [slip, setSlip] = useState(slipAtOnce)
  const [limits, setLimits] = useState<Limit[]>([])
  const [limitsSeen, setLimitsSeen] = useState(false)
  const accepted = useRef(false)
  const [damaged, setDamaged] = useState<string | null>(null)
  const [gap, setGap] = useState<number | null>(null)
  const [recovered, setRecovered] = useState(opening.recoveredFrom !== null)
  const [asking, setAsking] = useState<Asking>(null)
  const [versionsOpen, setVersionsOpen] = useState(false)
  const [looking, setLooking] = useState<{ version: Version; bytes: Uint8Array } | null>(null)
  const leaving = useRef(false)

  const fileId = state.file?.id
  const facts = useQuery({
    queryKey: ['file', fileId],
    enabled: !!fileId,
    initialData: fileId === opening.facts?.file.id ? (opening.facts ?? undefined) : undefined,
    queryFn: () => call('file', { params: { fileId: fileId! } }),
  })
  const versions = facts.data && facts.data.file.id === fileId ? facts.data.versions : []
  const role = facts.data?.share.role ?? 'edit'
  const editable = role !== 'view' && !state.elsewhere
  const newer = versions[0] && state.head && versions[0].number > state.head.number ? versions[0] : null
  const name = state.file?.name ?? unnamed(state.kind, new Date(state.bornAt))

  useEffect(() => {
    document.title = `${session.unsaved ? '• ' : ''}${name} – Jaula`
  })
  useEffect(
    () => () => {
      document.title = 'Jaula'
    },
    [],
  )
  useEffect(() => {
    if (state.head) void facts.refetch()
  }, [state.head?.id])

  // -- Saving ------------------------------------------------------------------------------
  const place = query.get('share')
    ? { shareId: query.get('share')!, folderId: query.get('folder') }
    : facts.data
      ? { shareId: facts.data.file.shareId, folderId: facts.data.file.folderId }
      : null
  const fileAway = async (target: {
    shareId: string
    folderId: string | null
    name: string
  }): Promise<Problem | null> => {
    const saving = session.save(target)
    // The slip closes when the server answered; when it is away, as soon as the device keeps the save.
    const answer = await Promise.race([saving, keptOnDevice()])
    if (answer && isProblem(answer)) return answer
    accepted.current = true
    setLimits([])
    setSlip(false)
    if (answer) afterFirstSave(answer.file.id)
    else void saving.then((later) => (isProblem(later) ? setSlip(true) : afterFirstSave(later.file.id)))
    return null
  }
  const keptOnDevice = () =>
    new Promise<null>((resolve) => {
      const stop = session.subscribe(() => {
        const { reach } = session.state
        if (reach.waitingSave?.kept && reach.server !== 'there') {
          stop()
          resolve(null)
        }
      })
    })
  const afterFirstSave = (id: string) => {
    leaving.current = true
    // The address becomes the file's own, without a new start of the editor.
    window.history.replaceState(window.history.state, '', `/open/${id}`)
    leaving.current = false
    void facts.refetch()
  }
  const save = () => {
    if (!editable || looking) return
    session.settle()
    if (!state.file) return setSlip(true)
    if (limits.length > 0 && !accepted.current) return setAsking({ about: 'limits', then: saveNow })
    saveNow()
  }
  const saveNow = () => {
    session.settle()
    if (!session.unsaved) return void toast('There is nothing new to save.')
    if (session.state.reach.waitingSave) return
    void session.save('own file').catch((error: Error) => toast.error(`It could not be saved: ${error.message}`))
  }
  const saveOnTop = (head: Version) => {
    session.adopt(state.file, head)
    void session.save('own file')
  }

  /** Opens the file anew; work that began without a name has the file's address only since its first save. */
  const reopen = () => {
    leaving.current = true
    if (fileId && pathname !== `/open/${fileId}`) void navigate(`/open/${fileId}`, { replace: true })
    else onReload()
  }

  // -- Looking back ------------------------------------------------------------------------
  const look = async (version: Version | null) => {
    if (!version) return setLooking(null)
    try {
      setLooking({ version, bytes: await call('bytes', { params: { versionId: version.id } }) })
    } catch (error) {
      toast.error(error instanceof Refused ? error.problem.title : 'This version could not be opened.')
    }
  }
  const restore = async (version: Version) => {
    try {
      const { version: made } = await call('restore', {
        params: { versionId: version.id },
        body: { key: uuidv7(), baseId: versions[0]!.id },
      })
      toast(`Version ${version.number} is back, as version ${made.number}.`)
      await session.close(session.unsaved ? 'closed' : 'finished')
      reopen()
    } catch (error) {
      toast.error(error instanceof Refused ? error.problem.title : 'It could not be restored.')
    }
  }

  // -- Leaving -----------------------------------------------------------------------------
  const blocker = useBlocker(() => session.unsaved && !leaving.current)
  useEffect(() => {
    if (blocker.state === 'blocked') setAsking({ about: 'leaving' })
  }, [blocker.state])
  useEffect(() => {
    const warn = (event: BeforeUnloadEvent) => {
      if (session.unsaved) event.preventDefault()
    }
    window.addEventListener('beforeunload', warn)
    return () => window.removeEventListener('beforeunload', warn)
  }, [session])
  useEffect(
    () => () => {
      if (!leaving.current) void session.close(session.unsaved ? 'closed' : 'finished')
    },
    [session],
  )
  const leave = async (how: 'finished' | 'closed' | 'let go') => {
    leaving.current = true
    setAsking(null)
    await session.close(how)
    if (blocker.state === 'blocked') blocker.proceed()
    else void navigate('/')
  }
  const stay = () => {
    setAsking(null)
    if (blocker.state === 'blocked') blocker.reset()
  }
  const saveAndLeave = async () => {
    if (!state.file) {
      stay()
      return setSlip(true)
    }
    if (limits.length > 0 && !accepted.current) {
      stay()
      return save()
    }
    setAsking(null)
    const answer = await session.save('own file')
    if (isProblem(answer)) {
      if (blocker.state === 'blocked') blocker.reset()
    } else await leave('finished')
  }

  useOffer([
    { id: 'save', label: 'Save', keys: 'Mod+S', group: 'This file', run: save },
    {
      id: 'save separately',
      label: 'Save as a separate file',
      keys: 'Mod+Shift+S',
      group: 'This file',
      run: () => setSlip(true),
    },
    {
      id: 'versions',
      label: 'Versions',
      keys: 'Alt+V',
      group: 'This file',
      run: () => setVersionsOpen((open) => !open),
    },
    { id: 'close', label: 'Close this file', keys: 'Alt+W', group: 'This file', run: () => void navigate('/') },
  ])

  const proposal = useMemo(
    () => (slip ? proposeName(session.opening(), new Date().toISOString().slice(0, 10), state.file?.name) : ''),
    [slip],
  )

  if (damaged && opening.facts)
    return <OtherType facts={opening.facts} reason={`${damaged} It is kept as it is; you can download it.`} />
  if (damaged) return <Blank title="This work cannot be opened">{damaged}</Blank>
  const Body = state.kind === 'document' ? DocumentBody : WorkbookBody
  const where = facts.data ? [facts.data.share.name, ...facts.data.trail.map((one) => one.name)] : []

  return (
    <div className="flex h-full flex-col">
      <header className="flex h-[60px] [contain:strict] shrink-0 items-center gap-3 border-b bg-paper px-3">
        <Link
          to={
            facts.data
              ? `/files/${facts.data.file.shareId}${facts.data.file.folderId ? `/${facts.data.file.folderId}` : ''}`
              : '/'
          }
          aria-label="Back"
          className="grid size-9 shrink-0 place-items-center rounded-md hover:bg-wash"
        >
          <ArrowLeft size={18} />
        </Link>
        <div className="bars h-10 w-[9px] shrink-0" aria-hidden />
        <div className="min-w-0 flex-1">
          <div className="flex items-center gap-2">
            <KindGlyph type={state.kind === 'document' ? 'docx' : 'xlsx'} />
            {where.length > 0 && (
              <span className="hidden shrink truncate text-[14px] text-soft md:inline">{where.join(' / ')} /</span>
            )}
            {state.file ? (
              <NameParts name={name} className="shrink-0 truncate font-mono text-[15px] font-medium" />
            ) : (
              <button
                type="button"
                className="truncate text-[15px] font-medium italic hover:text-accent"
                onClick={() => setSlip(true)}
                title="Give it a name and a place"
              >
                {name}
              </button>
            )}
          </div>
          <ReachLine session={session} />
        </div>
        <Button
          look={session.unsaved ? 'main' : 'plain'}
          onClick={save}
          disabled={!editable || !!looking}
          title={withControl('S')}
        >
          {state.file ? 'Save' : 'Save …'}
        </Button>
        <Menu
          trigger={
            <IconButton label="More for this file">
              <EllipsisVertical />
            </IconButton>
          }
        >
          <MenuItem keys={withControl('Shift+S')} onSelect={() => setSlip(true)}>
            Save as a separate file
          </MenuItem>
          {state.file && (
            <MenuItem keys="Alt+V" onSelect={() => setVersionsOpen(true)}>
              Versions
            </MenuItem>
          )}
          {state.head && (
            <MenuItem
              onSelect={() => window.location.assign(addressOf('bytes', { params: { versionId: state.head!.id } }))}
            >
              Download version {state.head.number}
            </MenuItem>
          )}
          <MenuRule />
          <MenuItem keys="Alt+W" onSelect={() => navigate('/')}>
            Close
          </MenuItem>
        </Menu>
      </header>

      {state.elsewhere && <ElsewhereNotice onAgain={onReload} />}
      {role === 'view' && <Notice>You may look at this file, not change it.</Notice>}
      {gap !== null && <GapNotice lostFrom={gap} onSeen={() => setGap(null)} />}
      {recovered && (
        <RecoveredNotice
          lastEditAt={opening.beginning.continued?.lastEditAt ?? null}
          from={opening.recoveredFrom}
          head={state.head}
          saved={!!state.file}
          onSeparately={() => setSlip(true)}
          onSeen={() => setRecovered(false)}
        />
      )}
      {limits.length > 0 && !limitsSeen && <LimitsNotice limits={limits} onSeen={() => setLimitsSeen(true)} />}
      {state.refusal && state.refusal.type !== 'signed-out' && !slip && (
        <RefusalNotice refusal={state.refusal} onSaveOnTop={saveOnTop} onSeparately={() => setSlip(true)} />
      )}
      {newer && !state.refusal && newer.author.id !== person.id && (
        <NewerNotice
          newer={newer}
          mine={state.head}
          unsaved={session.unsaved}
          onShow={() => {
            leaving.current = true
            void session.close('finished').then(reopen)
          }}
        />
      )}
      {looking && (
        <LookingNotice
          version={looking.version}
          mayRestore={editable}
          onRestore={() => setAsking({ about: 'restoring', version: looking.version })}
          onBack={() => setLooking(null)}
        />
      )}

      <Body
        opening={opening}
        session={session}
        editable={editable}
        looking={looking && { id: looking.version.id, bytes: looking.bytes }}
        onLimits={(found) => setLimits(found)}
        onDamaged={setDamaged}
        onGap={setGap}
        slip={
          slip && (
            <FilingSlip
              kind={state.kind}
              proposal={proposal}
              place={place}
              title={state.file ? 'Save as a separate file' : 'Name and place'}
              onFile={fileAway}
              onClose={() => setSlip(false)}
            />
          )
        }
      />
      <Versions
        versions={versions}
        looking={looking?.version.id ?? null}
        open={versionsOpen}
        mayRestore={editable}
        onOpen={setVersionsOpen}
        onLook={look}
        onRestore={(version) => setAsking({ about: 'restoring', version })}
      />

      {asking?.about === 'leaving' && (
        <LeavingQuestion
          name={name}
          head={state.head}
          saved={!!state.file}
          onSave={saveAndLeave}
          onLeave={leave}
          onStay={stay}
        />
      )}
      {asking?.about === 'limits' && (
        <LimitsQuestion
          head={state.head}
          limits={limits}
          onClose={() => setAsking(null)}
          onSeparately={() => {
            setAsking(null)
            setSlip(true)
          }}
          onAccept={() => {
            accepted.current = true
            setAsking(null)
            asking.then()
          }}
        />
      )}
      {asking?.about === 'restoring' && (
        <RestoringQuestion
          version={asking.version}
          newest={versions[0]?.number ?? 0}
          unsaved={session.unsaved}
          onClose={() => setAsking(null)}
          onRestore={() => {
            const { version } = asking
            setAsking(null)
            void restore(version)
          }}
        />
      )}
    </div>
  )
}
