// Closing work: with everything saved it is nothing; with unsaved work it is asked about. Going to another screen
// closes nothing (web/work/open-works.ts), except what this device cannot keep: that is asked about like closing.
import { type RefObject, useEffect, useRef, useState } from 'react'
import { useBlocker, useNavigate } from 'react-router'
import { WouldLose } from '../../core/formats/refusals'
import { saidBy } from '../../core/words/said'
import { useSession } from '../api/signed-in'
import { useStillHere } from '../design/still-here'
import { t, told } from '../words/all'
import type { useMerging } from '../work/merging'
import { type HowClosed, type Outcome, putAside, showWork, workGone } from '../work/open-works'
import { type DraftSession, isProblem } from '../work/session'
import type { SessionOutline } from '../work/session-state'
import { LeavingQuestion } from './questions'
import type { OpenFile } from './use-file'
import type { Filing } from './use-filing'

/** @param leaving set while the work is left on purpose @returns the question while it is asked, and closing */
export function useLeaving(
  session: DraftSession,
  state: SessionOutline,
  { name }: OpenFile,
  filing: Filing,
  { saveMerging }: ReturnType<typeof useMerging>,
  leaving: RefObject<boolean>,
  savesItself: boolean,
) {
  const { settings } = useSession()
  const navigate = useNavigate()
  const here = useStillHere()
  const [asking, setAsking] = useState(false)
  const blocker = useBlocker(() => {
    // A cell that is being written in is part of the work.
    session.settle()
    const { edit, journal, point } = session.state.reach
    return session.unsaved && !leaving.current && !!journal.refused && point.seq < edit.seq
  })
  useEffect(() => {
    if (blocker.state === 'blocked') setAsking(true)
  }, [blocker.state])
  /** For whoever saves everything that is open. */
  const save = async (): Promise<Outcome> => {
    if (!state.file) {
      filing.openSlip('first')
      return { ok: false, result: t('editor.needs-a-name-its-slip-is-open') }
    }
    session.settle()
    let answer: Awaited<ReturnType<typeof saveMerging>>
    try {
      answer = await saveMerging()
    } catch (error) {
      if (!(error instanceof WouldLose)) throw error
      return { ok: false, result: told(saidBy(error)) }
    }
    return isProblem(answer)
      ? { ok: false, result: told(answer) }
      : { ok: true, result: t('common.saved-as-version', { number: answer.version.number }) }
  }
  const latest = useRef({ save, name, savesItself })
  latest.current = { save, name, savesItself }
  const close = (how: HowClosed) => {
    leaving.current = true
    setAsking(false)
    return session.close(how)
  }
  // biome-ignore lint/correctness/useExhaustiveDependencies: the same work for as long as it is shown; the rest is asked for when it is needed
  useEffect(() => {
    showWork(session, {
      name: () => latest.current.name,
      save: () => latest.current.save(),
      savesItself: () => latest.current.savesItself,
      close,
    })
    return () => (leaving.current ? workGone(session) : putAside(session))
  }, [session])
  const leave = async (how: 'finished' | 'closed' | 'let go') => {
    await close(how)
    if (blocker.state === 'blocked') blocker.proceed()
    else if (here()) void navigate('/')
  }
  const stay = () => {
    setAsking(false)
    if (blocker.state === 'blocked') blocker.reset()
  }
  const saveAndLeave = async () => {
    // Something has to be settled first, where the work is.
    if (!state.file) {
      stay()
      return filing.save()
    }
    setAsking(false)
    const answer = await saveMerging().catch((error: Error) => {
      stay()
      filing.hindered(error)
    })
    if (!answer) return
    if (isProblem(answer)) {
      if (blocker.state === 'blocked') blocker.reset()
    } else await leave('finished')
  }
  const question = asking && (
    <LeavingQuestion
      name={name}
      head={state.head}
      saved={!!state.file}
      keptDays={settings.keptDays}
      onSave={saveAndLeave}
      onLeave={leave}
      onStay={stay}
    />
  )
  return {
    question,
    /** Closes it; what is unsaved is asked about. */
    ask: () => {
      session.settle()
      if (session.unsaved) setAsking(true)
      else void leave('finished')
    },
  }
}
