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
import { Menu, MenuItem, MenuRule, Question } from '../design/overlay'
import { count, moment, withControl } from '../design/words'
import { DocumentBody } from './document/body'
import { DraftSession, isProblem } from './draft-session'
import { Versions } from './lifeline/versions'
import { FilingSlip } from './name-line/filing-slip'
import type { Opening } from './opening'
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

      {state.elsewhere && (
        <Notice tone="alarm" actions={<Button onClick={onReload}>Try again</Button>}>
          This work is open in another tab of this browser, which keeps it. Here you can only read it.
        </Notice>
      )}
      {role === 'view' && <Notice>You may look at this file, not change it.</Notice>}
      {gap !== null && (
        <Notice tone="alarm" actions={<Button onClick={() => setGap(null)}>I have seen it</Button>}>
          The journal is damaged after change {gap - 1}. Everything before that is here; what came after could not be
          read.
        </Notice>
      )}
      {recovered && (
        <Notice
          actions={
            <>
              {state.file && <Button onClick={() => setSlip(true)}>Keep as a separate file</Button>}
              <Button look="quiet" onClick={() => setRecovered(false)}>
                Good
              </Button>
            </>
          }
        >
          You go on with unsaved work of{' '}
          {opening.beginning.continued?.lastEditAt ? moment(opening.beginning.continued.lastEditAt) : 'before'}, from{' '}
          {opening.recoveredFrom === 'device' ? 'this device' : 'shared storage'}. Nothing of it is lost.{' '}
          {state.head && `Version ${state.head.number} stays as it is until you save.`}
        </Notice>
      )}
      {limits.length > 0 && !limitsSeen && (
        <Notice
          actions={
            <Button look="quiet" onClick={() => setLimitsSeen(true)}>
              Good to know
            </Button>
          }
        >
          <LimitList limits={limits} lead="This file holds more than Jaula can keep when it is saved:" /> The version
          that came in stays as it was.
        </Notice>
      )}
      {state.refusal && state.refusal.type !== 'signed-out' && !slip && (
        <Notice
          tone="alarm"
          actions={
            <>
              {state.refusal.head && (
                <Button onClick={() => saveOnTop(state.refusal!.head!)}>
                  Save mine as version {state.refusal.head.number + 1}
                </Button>
              )}
              <Button onClick={() => setSlip(true)}>Save as a separate file</Button>
            </>
          }
        >
          {state.refusal.title}{' '}
          {state.refusal.head
            ? `Your work is not saved yet, and nothing is overwritten: ${state.refusal.head.author.name}’s version stays in the file’s versions whatever you choose.`
            : 'Your work is kept on this device.'}
        </Notice>
      )}
      {newer && !state.refusal && newer.author.id !== person.id && (
        <Notice
          actions={
            <Button
              disabled={session.unsaved}
              onClick={() => {
                leaving.current = true
                void session.close('finished').then(reopen)
              }}
            >
              {session.unsaved ? 'Save first to take it in' : 'Show it'}
            </Button>
          }
        >
          {newer.author.name} saved version {newer.number}, {moment(newer.at)}. You are working on version{' '}
          {state.head?.number}.
        </Notice>
      )}
      {looking && (
        <Notice
          actions={
            <>
              {editable && (
                <Button onClick={() => setAsking({ about: 'restoring', version: looking.version })}>Restore</Button>
              )}
              <Button look="main" onClick={() => setLooking(null)}>
                Back to now
              </Button>
            </>
          }
        >
          You are looking at <strong>version {looking.version.number}</strong> of {moment(looking.version.at)} by{' '}
          {looking.version.author.name}. It cannot be changed; your work is untouched.
        </Notice>
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
        <Question
          title={
            state.file
              ? `${name} has changes since ${state.head ? `version ${state.head.number}` : 'its last save'}`
              : `${name} was never saved`
          }
          onClose={stay}
          answers={
            <>
              <Button look="main" onClick={saveAndLeave}>
                {state.file ? 'Save and close' : 'Name and save it'}
              </Button>
              <Button onClick={() => leave('closed')}>Close, keep it in Rescue</Button>
              <Button look="quiet" onClick={stay}>
                Stay here
              </Button>
              <Button look="quiet" className="text-rust" onClick={() => leave('let go')}>
                Let it go
              </Button>
            </>
          }
        >
          Unsaved work is kept in Rescue for 14 days, also when you let it go.
        </Question>
      )}
      {asking?.about === 'limits' && (
        <Question
          title={`Version ${(state.head?.number ?? 0) + 1} would be without these`}
          onClose={() => setAsking(null)}
          answers={
            <>
              <Button
                look="main"
                onClick={() => {
                  setAsking(null)
                  setSlip(true)
                }}
              >
                Save as a separate file
              </Button>
              <Button
                onClick={() => {
                  accepted.current = true
                  setAsking(null)
                  asking.then()
                }}
              >
                Save version {(state.head?.number ?? 0) + 1} without them
              </Button>
              <Button look="quiet" onClick={() => setAsking(null)}>
                Not now
              </Button>
            </>
          }
        >
          <ul className="mb-2 list-disc pl-5 text-ink">
            {limits.map((limit) => (
              <li key={limit.feature}>{limitInWords(limit)}</li>
            ))}
          </ul>
          Version {state.head?.number} keeps them and stays in the file’s versions.
        </Question>
      )}
      {asking?.about === 'restoring' && (
        <Question
          title={`Restore version ${asking.version.number}?`}
          onClose={() => setAsking(null)}
          answers={
            <>
              <Button
                look="main"
                onClick={() => {
                  const { version } = asking
                  setAsking(null)
                  void restore(version)
                }}
              >
                Restore as version {(versions[0]?.number ?? 0) + 1}
              </Button>
              <Button look="quiet" onClick={() => setAsking(null)}>
                Not now
              </Button>
            </>
          }
        >
          It becomes the newest version, number {(versions[0]?.number ?? 0) + 1}. Version {versions[0]?.number} and all
          others stay. {session.unsaved && 'Your unsaved changes are kept in Rescue.'}
        </Question>
      )}
    </div>
  )
}

const limitInWords = ({ feature, count: many, where }: Limit) =>
  `${count(many, feature, feature)}${
    where.filter(Boolean).length
      ? ` (near ${where
          .filter(Boolean)
          .map((one) => `‹${one}›`)
          .join(', ')})`
      : ''
  }`

function LimitList({ limits, lead }: { limits: Limit[]; lead: string }) {
  return (
    <span>
      {lead} {limits.map(limitInWords).join('; ')}.
    </span>
  )
}
