// The editor's frame: name line and reach above, the work in the middle, versions below. It owns the draft session;
// every way to save, look back and leave has a file of its own.

import { lazy, Suspense, useEffect, useRef, useState, useSyncExternalStore } from 'react'
import { useLocation, useNavigate } from 'react-router'
import type { Version } from '../../core/contract'
import type { Limit } from '../../core/formats/refusals'
import { isPoor, isReadOnly, typeOfName, typeOfWork, typeWritten } from '../../core/formats/types'
import type { Sentence } from '../../core/words/said'
import { useSession } from '../api/signed-in'
import { Blank } from '../design/controls'
import { useFocusHome } from '../design/focus'
import { AccessBeside } from '../people/beside'
import { useSending } from '../send/use-sending'
import { t, told } from '../words/all'
import { useMerging } from '../work/merging'
import type { Opening } from '../work/opening'
import { DraftSession } from '../work/session'
import { AboutBeside } from './about/about-beside'
import { DocumentBody } from './document/body'
import { WorkspaceHeader } from './header'
import { useLifeline } from './lifeline/use-lifeline'
import { useOrigin } from './origin'
import { OtherFile } from './other-file'
import { useOthers } from './others'
import { LimitsQuestion, RestoringQuestion } from './questions'
import { useProtection } from './reach/protection'
import { restoring } from './restoring'
import { TemplateQuestion } from './template-question'
import { useAgain } from './use-again'
import { useBeside } from './use-beside'
import { useContinuousSave } from './use-continuous-save'
import { useFile } from './use-file'
import { useFileCommands } from './use-file-commands'
import { useFiling } from './use-filing'
import { useFlow } from './use-flow'
import { useLeaving } from './use-leaving'
import { WorkbookBody } from './workbook/body'
import { WorkspaceNotices } from './workspace-notices'

/** With what draws its pages: fetched when they are looked at. */
const PaperBeside = lazy(async () => ({ default: (await import('../paper/paper-beside')).PaperBeside }))

type Asking =
  | { about: 'limits'; then: () => void }
  | { about: 'restoring'; version: Version }
  | { about: 'template' }
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
  const { person } = useSession()
  const navigate = useNavigate()
  const { pathname } = useLocation()
  const [session] = useState(() => new DraftSession({ ...opening.beginning, personId: person.id }))
  const state = useSyncExternalStore(session.subscribe, session.outline)
  const [damaged, setDamaged] = useState<Sentence | null>(null)
  const [unseen, setUnseen] = useState<readonly Limit[]>([])
  const [gap, setGap] = useState<number | null>(opening.lostFrom ?? null)
  const [asking, setAsking] = useState<Asking>(null)
  const { beside, show, toggle } = useBeside(() => session.focus())
  const leaving = useRef(false)
  const merging = useMerging(session)
  const file = useFile(session, state, opening.facts ?? null)
  const { name, facts, history, newest } = file
  const others = useOthers(file.fileId, () => session.place())
  const editable = file.role !== 'view' && !state.elsewhere && !state.taken
  const again = useAgain(session, state, leaving, onReload)
  useFocusHome(() => session.focus())

  /** Ends the draft and goes on; where something is not saved yet it stays as it is, and is saved as what its file is. */
  const endAnd = (then: () => void) => {
    session.settle()
    if (session.unsaved) return
    leaving.current = true
    void session.close('finished').then(then)
  }
  const lifeline = useLifeline({
    session,
    state,
    facts: history,
    personId: person.id,
    mayEdit: editable,
    onRestore: (version) => setAsking({ about: 'restoring', version }),
    onCopy: (moment) => filing.copyMoment(moment),
    sending: () => sending,
  })
  const looking = !!lifeline.moment
  const filing = useFiling({
    session,
    state,
    file,
    opening,
    merging,
    editable,
    looking,
    slipAtOnce,
    leaving,
    onLimits: (then) => setAsking({ about: 'limits', then }),
    onRetyped: (fileId) =>
      endAnd(() => {
        if (pathname === `/open/${fileId}`) onReload()
        else void navigate(`/open/${fileId}`, { replace: true })
      }),
  })
  const sending = useSending({
    fileId: file.fileId ?? undefined,
    facts: history,
    unsaved: session.unsaved && editable ? { save: () => filing.save() } : null,
    onChanges: (versionId) => lifeline.compare(versionId),
  })
  const origin = useOrigin({
    facts: history,
    kind: state.kind,
    head: state.head,
    mayEdit: editable,
    takeIn: (base, theirs, part, saying) =>
      merging.takeInOver(base, theirs, { adopt: false, baseType: history?.origin?.type, part, saying }),
  })
  const { protection } = useProtection(state.kind, facts.data)
  useEffect(() => session.setInterval(protection.interval), [session, protection.interval])
  const inTheWay = looking || filing.isOpen || state.refusal || merging.choices?.list.length || merging.merging
  // What a file goes on as is seen by somebody who saves.
  const savesItself =
    protection.continuous && editable && !!state.file && !inTheWay && !isReadOnly(typeOfName(state.file.name))
  useContinuousSave(session, savesItself)
  const chosen = !!merging.choices?.list.length
  const refused = state.refusal && state.refusal.type !== 'newer-version'
  // Whoever may only look sees what others save, too; what they wrote while they might is theirs to keep first.
  const looksOn = file.role === 'view' && !session.unsaved && !state.elsewhere && !state.taken
  const flows = useFlow(
    session,
    file,
    merging,
    (editable || looksOn) && !looking && !filing.isOpen && !refused && !chosen && !merging.merging,
  )
  const closing = useLeaving(session, state, file, filing, merging, leaving, savesItself)
  const guest = person.guestOf !== undefined
  const pages = guest ? undefined : () => toggle('pages')
  const prints = guest ? undefined : () => show('printing')
  const tellsAbout = guest ? undefined : () => toggle('about')
  const reaches = () => toggle('reach')
  useFileCommands(state, filing, {
    editable,
    guest,
    onReach: reaches,
    onAbout: tellsAbout,
    onPages: pages,
    onPrint: prints,
    onClose: closing.ask,
  })

  /** Opens the file anew; work that began without a name has the file's address only since its first save. */
  const reopen = () => {
    leaving.current = true
    if (file.fileId && pathname !== `/open/${file.fileId}`) void navigate(`/open/${file.fileId}`, { replace: true })
    else onReload()
  }

  if (damaged && opening.facts)
    return <OtherFile facts={opening.facts} reason={t('editor.it-is-kept-as-it-is-you', { damaged })} />
  if (damaged)
    return (
      <Blank screen title={t('editor.this-work-cannot-be-opened')}>
        {told(damaged)}
      </Blank>
    )
  const Body = state.kind === 'document' ? DocumentBody : WorkbookBody
  const stopAsking = () => setAsking(null)
  return (
    <div className="flex h-full flex-col">
      <WorkspaceHeader
        session={session}
        state={state}
        name={name}
        facts={history}
        mayEdit={editable}
        looking={looking}
        others={others}
        onSave={filing.save}
        onSlip={filing.openSlip}
        onVersions={() => lifeline.showList(true)}
        onTemplate={() => setAsking({ about: 'template' })}
        onSend={sending.send && (() => sending.send!())}
        onSent={sending.sent}
        onReach={reaches}
        onAbout={tellsAbout}
        onPages={pages}
        onClose={closing.ask}
      />
      <main className="relative flex min-h-0 flex-1 flex-col" aria-label={name}>
        <WorkspaceNotices
          session={session}
          state={state}
          file={file}
          opening={opening}
          filing={filing}
          merging={merging}
          editable={editable}
          looking={looking}
          gap={gap}
          unseen={unseen}
          flows={flows}
          onGapSeen={() => setGap(null)}
          onHere={() => again(true)}
          onShowNewer={() => {
            leaving.current = true
            void session.close('finished').then(reopen)
          }}
        />
        {!looking && sending.notices}
        {!looking && origin.notice}
        {lifeline.bar}
        {lifeline.comparing}
        <div className={lifeline.comparing ? 'hidden' : 'contents'}>
          <Body
            opening={opening}
            session={session}
            editable={editable}
            {...lifeline.body}
            onDamaged={setDamaged}
            onCarried={(edit) => {
              leaving.current = true
              void session.leave().then(() => onCarried(edit))
            }}
            onUnseen={setUnseen}
            onGap={setGap}
            onPages={pages}
            // What is known of the file before a save says nothing of how its newest version is read.
            readAs={history?.versions.some(({ id }) => id === state.head?.id) ? history.readAs : undefined}
            onReadAnew={() => endAnd(reopen)}
            slip={
              filing.slip ||
              ((beside === 'pages' || beside === 'printing') && (
                <Suspense fallback={null}>
                  <PaperBeside
                    session={session}
                    name={name}
                    number={state.head?.number ?? null}
                    printing={beside === 'printing'}
                    editable={editable}
                    looked={
                      lifeline.body.looking && {
                        ...lifeline.body.looking,
                        version:
                          lifeline.moment?.kind === 'version' && lifeline.moment.id === lifeline.body.looking.id
                            ? lifeline.moment.version
                            : null,
                      }
                    }
                    onClose={() => show(null)}
                  />
                </Suspense>
              )) ||
              (beside === 'about' && !guest && (
                <AboutBeside
                  facts={history}
                  editing={{
                    session,
                    type: typeWritten(typeOfWork(state.file?.name ?? null, state.kind), state.kind),
                    editable: editable && !looking,
                  }}
                  onReach={reaches}
                  onVersions={() => lifeline.showList(true)}
                  onClose={() => show(null)}
                />
              )) ||
              (beside === 'reach' && file.fileId && <AccessBeside id={file.fileId} onClose={() => show(null)} />)
            }
          />
        </div>
        {lifeline.strip}
      </main>
      {lifeline.questions}
      {origin.question}
      {sending.questions}
      {closing.question}
      {asking?.about === 'limits' && (
        <LimitsQuestion
          head={state.head}
          limits={filing.limits}
          poorer={isPoor(typeOfName(state.file?.name ?? ''))}
          onClose={stopAsking}
          onSeparately={() => {
            stopAsking()
            filing.openSlip('separate')
          }}
          onAccept={() => {
            filing.accept()
            stopAsking()
            asking.then()
          }}
        />
      )}
      {asking?.about === 'template' && facts.data && state.head && (
        <TemplateQuestion facts={facts.data} version={state.head} onClose={stopAsking} />
      )}
      {asking?.about === 'restoring' && (
        <RestoringQuestion
          version={asking.version}
          newest={newest?.number ?? 0}
          unsaved={session.unsaved}
          onClose={stopAsking}
          onRestore={() => {
            stopAsking()
            void restoring(session, file, reopen)(asking.version)
          }}
        />
      )}
    </div>
  )
}
