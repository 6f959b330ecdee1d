// The editor's frame: name line and reach above, the work in the middle, versions below. It owns
// the draft session and every way to save, look back and leave.
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useRef, useState, useSyncExternalStore } from 'react'
import { useBlocker, useLocation, useNavigate, useSearchParams } from 'react-router'
import { toast } from 'sonner'
import { uuidv7 } from 'uuidv7'
import type { Entry, Problem, Version } from '../../core/contract'
import type { Limit } from '../../core/formats/refusals'
import { defaultType } from '../../core/formats/types'
import { splitExtension } from '../../core/naming/check'
import { unnamed } from '../../core/naming/propose'
import { call, Refused } from '../app/call'
import { useOffer } from '../app/commands'
import { useFocusHome } from '../app/focus'
import { SaveAll, useOpenWork } from '../app/save-all'
import { useSession } from '../app/session'
import { Blank, Notice } from '../design/controls'
import { act } from '../files/acts'
import { lockName } from '../work/device'
import { wholeFacts } from '../work/file-facts'
import { onJournal } from '../work/journal'
import { useMerging } from '../work/merging'
import type { Opening } from '../work/opening'
import { PartedNotices, usePartedPieces } from '../work/parted'
import { DraftSession, isProblem } from '../work/session'
import { ChoiceBar } from './choice-bar'
import { DocumentBody } from './document/body'
import { type SlipPurpose, WorkspaceHeader } from './header'
import { useLifeline } from './lifeline/use-lifeline'
import { FilingSlip } from './name-line/filing-slip'
import { type CopiedMoment, slipActsFor } from './name-line/slip-acts'
import type { SlipBeginning, SlipTarget } from './name-line/use-slip'
import {
  ClockNotice,
  ElsewhereNotice,
  GapNotice,
  LimitsNotice,
  MissingNotice,
  NewerNotice,
  RecoveredNotice,
  RefusalNotice,
  TakenNotice,
} from './notices'
import { useOrigin } from './origin'
import { OtherFile } from './other-file'
import { useOthers } from './others'
import { LeavingQuestion, LimitsQuestion, RestoringQuestion } from './questions'
import { useProtection } from './reach/protection'
import { TemplateQuestion } from './template-question'
import { WorkbookBody } from './workbook/body'

/** Work that was left alone for this long becomes a version by itself, where that is wished. */
const quietSeconds = 5

type Asking =
  | { about: 'limits'; then: () => void }
  | { about: 'leaving' }
  | { about: 'restoring'; version: Version }
  | { about: 'template' }
  | { about: 'all' }
  | null

export function Workspace({
  opening,
  slipAtOnce,
  onReload,
  onCarried,
}: {
  opening: Opening
  slipAtOnce: boolean
  onReload: (here?: boolean) => void
  /** Goes on in a draft of its own with this edit on the same base. */
  onCarried: (edit: unknown) => void
}) {
  const { person, settings } = useSession()
  const navigate = useNavigate()
  const { pathname } = useLocation()
  const [query] = useSearchParams()
  const [session] = useState(() => new DraftSession({ ...opening.beginning, personId: person.id }))
  const state = useSyncExternalStore(session.subscribe, session.outline)
  const client = useQueryClient()
  const [slip, setSlipState] = useState<{ purpose: SlipPurpose; part?: string; beginning: SlipBeginning } | null>(null)
  const [limits, setLimits] = useState<Limit[]>([])
  const [limitsSeen, setLimitsSeen] = useState(false)
  const accepted = useRef(false)
  const [damaged, setDamaged] = useState<string | null>(null)
  const [gap, setGap] = useState<number | null>(opening.lostFrom ?? null)
  const [recovered, setRecovered] = useState(opening.recoveredFrom !== null)
  const [asking, setAsking] = useState<Asking>(null)
  const { merging, choices, settle, takeIn, takeInOver, takeInParted, saveMerging } = useMerging(session)
  const leaving = useRef(false)
  const renewing = useRef(false)

  const fileId = state.file?.id
  const facts = useQuery({
    queryKey: ['file', fileId],
    enabled: !!fileId,
    initialData: fileId === opening.facts?.file.id ? (opening.facts ?? undefined) : undefined,
    queryFn: () => wholeFacts(fileId!, client.getQueryData(['file', fileId])),
  })
  // A file is opened with its newest versions; the older ones follow.
  const partly = facts.data && facts.data.versions.length < facts.data.versionsInAll
  useEffect(() => {
    if (partly) void facts.refetch()
  }, [partly, fileId])
  const others = useOthers(fileId)
  const history = facts.data?.file.id === fileId ? facts.data : undefined
  const versions = history?.versions ?? []
  const role = facts.data?.share.role ?? 'edit'
  const editable = role !== 'view' && !state.elsewhere && !state.taken
  const parted = usePartedPieces(state.draftId, fileId)
  useFocusHome(() => session.focus())
  const newer = versions[0] && state.head && versions[0].number > state.head.number ? versions[0] : null
  /** A moment that is saved as a copy, while its slip is open. */
  const copied = useRef<CopiedMoment | null>(null)
  const lifeline = useLifeline({
    session,
    state,
    facts: history,
    personId: person.id,
    mayEdit: editable,
    onRestore: (version) => setAsking({ about: 'restoring', version }),
    onCopy: (moment) => {
      copied.current = moment
      setSlip('copy of a moment')
    },
  })
  const looking = lifeline.moment
  const origin = useOrigin({
    facts: history,
    kind: state.kind,
    head: state.head,
    mayEdit: editable,
    takeIn: (base, theirs, part, told) => takeInOver(base, theirs, { adopt: false, part, told }),
  })
  // The server's word on the name counts: it may have been renamed elsewhere.
  const known = facts.data?.file.id === fileId ? facts.data?.file : undefined
  const name = known?.name ?? state.file?.name ?? unnamed(state.kind, new Date(state.bornAt))

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
    const { head } = state
    if (!head) return
    // What was asked for before the save, and not answered yet, does not know of it: then it is asked once more.
    void facts.refetch().then(({ data }) => {
      if (data?.file.id === head.fileId && !data.versions.some(({ id }) => id === head.id)) void facts.refetch()
    })
  }, [state.head?.id])
  useEffect(() => {
    // A file that was renamed or moved elsewhere takes its draft along.
    if (known && state.file && (known.name !== state.file.name || known.folderId !== state.file.folderId))
      session.adopt({ id: known.id, name: known.name, shareId: known.shareId, folderId: known.folderId }, state.head)
  }, [known?.name, known?.folderId])

  /** Reads the work anew. @param here to write it here, whoever has it */
  const again = (here = false) => {
    // Both that the other tab is gone and that something was missed may say so.
    if (renewing.current) return
    renewing.current = true
    leaving.current = true
    void session.leave().then(() => onReload(here))
  }

  // -- Another tab has it ---------------------------------------------------------------------
  useEffect(() => {
    if (!state.elsewhere) return
    // The lock falls to this tab when the one that has the draft is gone, however it went.
    const stop = new AbortController()
    void navigator.locks
      ?.request(lockName(state.draftId), { signal: stop.signal }, () => {})
      .then(() => again())
      .catch(() => {})
    return () => stop.abort()
  }, [state.elsewhere, state.draftId])
  useEffect(() => {
    if (state.missed) again()
  }, [state.missed])

  // -- Protection -------------------------------------------------------------------------
  const [clockAhead, setClockAhead] = useState(0)
  useEffect(() => onJournal((message) => message.say === 'clock' && setClockAhead(message.ahead)), [])
  const { protection } = useProtection(state.kind, facts.data)
  useEffect(() => session.setInterval(protection.interval), [protection.interval])
  useEffect(() => {
    if (!protection.continuous || !editable || !state.file || !session.unsaved || looking || slip || state.refusal)
      return
    // What somebody has to choose first is not saved by itself.
    if (choices?.list.length || merging) return
    // Only what can be kept whole is saved by itself.
    if (limits.length > 0 && !accepted.current) return
    let last = session.state.reach.edit.seq
    const watching = setInterval(() => {
      const { edit, waitingSave, server } = session.state.reach
      const quiet = edit.seq === last
      last = edit.seq
      // Never merged by itself: a refusal waits for a person.
      if (quiet && session.unsaved && !waitingSave && server === 'there')
        void session.save('own file', 'by itself').catch(() => {})
    }, quietSeconds * 1000)
    return () => clearInterval(watching)
  }, [
    protection.continuous,
    editable,
    state.file?.id,
    session.unsaved,
    looking,
    slip,
    state.refusal,
    limits.length,
    choices,
    merging,
  ])

  // -- Saving ------------------------------------------------------------------------------
  const setSlip = (purpose: SlipPurpose | null, part?: string) => {
    if (!purpose) return setSlipState(null)
    session.settle()
    const asked = query.get('share')
    const place = asked
      ? { shareId: asked, folderId: query.get('folder'), path: [] }
      : facts.data
        ? { shareId: facts.data.file.shareId, folderId: facts.data.file.folderId, path: [] }
        : (opening.place ?? null)
    setSlipState({
      purpose,
      ...(part && { part }),
      beginning: {
        kind: state.kind,
        type: state.file ? splitExtension(name)[1].slice(1).toLowerCase() : defaultType[state.kind],
        present: state.file ? splitExtension(name)[0] : null,
        keep: purpose === 'rename',
        clues: session.clues(),
        place,
        presets: opening.presets,
      },
    })
  }
  const slipAsked = useRef(slipAtOnce)
  useEffect(() => {
    if (!slipAsked.current || !state.ready) return
    slipAsked.current = false
    setSlip('first')
  }, [state.ready])
  /** The slip closes when the server answered; when it is away, as soon as the device keeps the save. */
  const saveThrough = async (saving: ReturnType<typeof session.save>): Promise<Problem | null> => {
    const answer = await Promise.race([saving, keptOnDevice()])
    if (answer && isProblem(answer)) return answer
    accepted.current = true
    setLimits([])
    setSlip(null)
    if (answer) afterFirstSave(answer.file)
    else void saving.then((later) => (isProblem(later) ? setSlip('first') : afterFirstSave(later.file)))
    return null
  }
  const fileAway = (target: SlipTarget) => {
    asked.current = target.name
    return saveThrough(session.save({ ...target, ...(state.head && { originId: state.head.id }) }))
  }
  /** Goes on in a file that is there already, with this work as its next version. */
  const fileOnto = (there: Entry) => {
    session.adopt({ id: there.id, name: there.name, shareId: there.shareId, folderId: there.folderId }, there.head)
    return saveThrough(session.save('own file'))
  }
  /** Goes on in a file that is there already, with this work combined with what is there. */
  const fileInto = async (there: Entry): Promise<Problem | null> => {
    if (!there.head) return null
    // What both came of, where one came of the other.
    const { versions: others } = await wholeFacts(there.id)
    const known = [state.head?.id, history?.origin?.versionId]
    const base = known.find((id) => others.some((version) => version.id === id)) ?? null
    const taken = await takeInOver(base, there.head, {
      adopt: false,
      told: (summary) => `Combined with ${there.name}: ${summary}`,
    })
    if (!taken) return null
    session.adopt({ id: there.id, name: there.name, shareId: there.shareId, folderId: there.folderId }, there.head)
    if (!taken.choices.length) return saveThrough(session.save('own file', 'merged'))
    // What both wrote in one place is chosen first; saving is the person's then.
    setSlip(null)
    afterFirstSave(there)
    return null
  }
  const saveCopy = async (
    target: Parameters<DraftSession['copy']>[0],
    bytes = () => session.encode(),
  ): Promise<Problem | null> => {
    try {
      const answer = await session.copy(target, await bytes())
      if (answer === 'kept') {
        setSlip(null)
        toast(`The copy is kept on this device and completed as soon as it can be. You go on in ${name}.`)
        return null
      }
      if (isProblem(answer)) return answer
      const { file } = answer
      setSlip(null)
      toast(`The copy is saved as ${file.name}. You go on in ${name}.`, {
        duration: 10_000,
        action: { label: 'Open the copy', onClick: () => window.open(`/open/${file.id}`, '_blank') },
      })
      void client.invalidateQueries({ queryKey: ['place', file.shareId] })
      return null
    } catch (error) {
      if (error instanceof Refused) return error.problem
      throw error
    }
  }
  const slipActs = slipActsFor({
    name,
    head: state.head,
    moment: copied.current,
    fileAway,
    fileOnto,
    fileInto,
    saveCopy,
    rename: (changes) => act(client, 'rename', [{ id: fileId!, from: name, ...changes }]),
    onDone: () => setSlip(null),
  })
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
  const asked = useRef('')
  const afterFirstSave = ({ id, name: called }: Entry) => {
    if (asked.current && asked.current !== called)
      toast(`Saved as ${called}: the number before it was taken meanwhile.`)
    asked.current = ''
    leaving.current = true
    // The address becomes the file's own, without a new start of the editor.
    window.history.replaceState(window.history.state, '', `/open/${id}`)
    leaving.current = false
    void facts.refetch()
  }
  const save = () => {
    if (!editable || looking) return
    session.settle()
    if (!state.file) return setSlip('first')
    if (limits.length > 0 && !accepted.current) return setAsking({ about: 'limits', then: saveNow })
    saveNow()
  }
  const saveNow = () => {
    session.settle()
    if (!session.unsaved) return void toast('There is nothing new to save.')
    if (session.state.reach.waitingSave) return
    void saveMerging().catch((error: Error) => toast.error(`It could not be saved: ${error.message}`))
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
      return setSlip('first')
    }
    if (limits.length > 0 && !accepted.current) {
      stay()
      return save()
    }
    setAsking(null)
    const answer = await saveMerging()
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
      run: () => setSlip(state.file ? 'separate' : 'first'),
    },
    ...(state.file
      ? [
          {
            id: 'save a copy',
            label: 'Save a copy',
            keys: 'Alt+C',
            group: 'This file' as const,
            run: () => setSlip('copy'),
          },
          ...(editable
            ? [
                {
                  id: 'rename',
                  label: 'Rename or move',
                  keys: 'Alt+R',
                  group: 'This file' as const,
                  run: () => setSlip('rename'),
                },
              ]
            : []),
        ]
      : []),
    {
      id: 'save all',
      label: 'Save everything open',
      keys: 'Alt+S',
      group: 'This file',
      run: () => setAsking({ about: 'all' }),
    },
    { id: 'close', label: 'Close this file', keys: 'Alt+W', group: 'This file', run: () => void navigate('/') },
  ])

  useOpenWork(
    { draftId: state.draftId, name, type: defaultType[state.kind], unsaved: session.unsaved, named: !!state.file },
    async () => {
      if (!state.file) {
        setSlip('first')
        return { ok: false, result: 'Needs a name: its slip is open in its tab.' }
      }
      if (limits.length > 0 && !accepted.current)
        return { ok: false, result: 'Would lose something: save it in its tab.' }
      session.settle()
      const answer = await saveMerging()
      return isProblem(answer)
        ? { ok: false, result: answer.title }
        : { ok: true, result: `Saved as version ${answer.version.number}` }
    },
  )

  if (damaged && opening.facts)
    return <OtherFile facts={opening.facts} reason={`${damaged} It is kept as it is; you can download it.`} />
  if (damaged) return <Blank title="This work cannot be opened">{damaged}</Blank>
  const Body = state.kind === 'document' ? DocumentBody : WorkbookBody

  return (
    <div className="flex h-full flex-col">
      <WorkspaceHeader
        session={session}
        state={state}
        name={name}
        facts={known ? facts.data : undefined}
        mayEdit={editable}
        looking={!!looking}
        others={others}
        onSave={save}
        onSlip={setSlip}
        onVersions={() => lifeline.showList(true)}
        onTemplate={() => setAsking({ about: 'template' })}
        onSaveAll={() => setAsking({ about: 'all' })}
        onClose={() => void navigate('/')}
      />

      {clockAhead !== 0 && <ClockNotice ahead={clockAhead} />}
      {state.elsewhere && <ElsewhereNotice onHere={() => again(true)} />}
      {state.taken && <TakenNotice taken={state.taken} onHere={() => again(true)} />}
      {editable && !looking && <PartedNotices pieces={parted} takeIn={(work) => takeInParted(work)} />}
      {role === 'view' && <Notice>You may look at this file, not change it.</Notice>}
      {gap !== null && <GapNotice lostFrom={gap} onSeen={() => setGap(null)} />}
      {!recovered && opening.missing && parted.length === 0 && <MissingNotice missing={opening.missing} />}
      {recovered && (
        <RecoveredNotice
          lastEditAt={opening.beginning.continued?.lastEditAt ?? null}
          from={opening.recoveredFrom}
          head={state.head}
          saved={!!state.file}
          edits={opening.beginning.continued?.lines.length ?? 0}
          // What has come since is offered by itself.
          missing={parted.length ? null : (opening.missing ?? null)}
          lostFrom={gap}
          onSeparately={() => setSlip('separate')}
          onSeen={() => setRecovered(false)}
        />
      )}
      {limits.length > 0 && !limitsSeen && <LimitsNotice limits={limits} onSeen={() => setLimitsSeen(true)} />}
      {!!choices?.list.length && !looking && (
        <ChoiceBar choices={choices.list} author={choices.author} onSettled={settle} />
      )}
      {state.refusal && state.refusal.type !== 'signed-out' && !slip && !merging && (
        <RefusalNotice
          refusal={state.refusal}
          onMerge={() => void saveMerging().catch((error: Error) => toast.error(error.message))}
          onSaveOnTop={saveOnTop}
          onSeparately={() => setSlip('separate')}
        />
      )}
      {newer && !state.refusal && (newer.author.id !== person.id || !session.state.reach.waitingSave) && (
        <NewerNotice
          own={newer.author.id === person.id}
          newer={newer}
          mine={state.head}
          unsaved={session.unsaved}
          onShow={() => {
            leaving.current = true
            void session.close('finished').then(reopen)
          }}
          onTakeIn={() => void takeIn(newer)}
        />
      )}
      {!looking && origin.notice}
      {lifeline.bar}
      {lifeline.comparing}

      <div className={lifeline.comparing ? 'hidden' : 'contents'}>
        <Body
          opening={opening}
          session={session}
          editable={editable}
          {...lifeline.body}
          onLimits={(found) => setLimits(found)}
          onDamaged={setDamaged}
          onCarried={(edit) => {
            leaving.current = true
            void session.leave().then(() => onCarried(edit))
          }}
          onGap={setGap}
          slip={
            slip && (
              <FilingSlip
                key={slip.purpose}
                act={slipActs[slip.purpose]}
                beginning={slip.beginning}
                focusPart={slip.part ?? null}
                onClose={() => setSlip(null)}
              />
            )
          }
        />
      </div>
      {lifeline.strip}
      {lifeline.questions}
      {origin.question}

      {asking?.about === 'leaving' && (
        <LeavingQuestion
          name={name}
          head={state.head}
          saved={!!state.file}
          keptDays={settings.keptDays}
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
            setSlip('separate')
          }}
          onAccept={() => {
            accepted.current = true
            setAsking(null)
            asking.then()
          }}
        />
      )}
      {asking?.about === 'template' && facts.data && state.head && (
        <TemplateQuestion facts={facts.data} version={state.head} onClose={() => setAsking(null)} />
      )}
      {asking?.about === 'all' && <SaveAll onClose={() => setAsking(null)} />}
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
