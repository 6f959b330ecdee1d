// Leaving work: with everything saved it is nothing; with unsaved work it is asked about, in the page and by the browser.
import { type RefObject, useEffect, useState } from 'react'
import { useBlocker, useNavigate } from 'react-router'
import { useSession } from '../app/session'
import type { useMerging } from '../work/merging'
import { type DraftSession, isProblem, type SessionOutline } from '../work/session'
import { LeavingQuestion } from './questions'
import type { OpenFile } from './use-file'
import type { Filing } from './use-filing'

/** @param leaving set while the work is left on purpose @returns the question, while it is asked */
export function useLeaving(
  session: DraftSession,
  state: SessionOutline,
  { name }: OpenFile,
  filing: Filing,
  { saveMerging }: ReturnType<typeof useMerging>,
  leaving: RefObject<boolean>,
) {
  const { settings } = useSession()
  const navigate = useNavigate()
  const [asking, setAsking] = useState(false)
  const blocker = useBlocker(() => session.unsaved && !leaving.current)
  useEffect(() => {
    if (blocker.state === 'blocked') setAsking(true)
  }, [blocker.state])
  useEffect(() => {
    const warn = (event: BeforeUnloadEvent) => {
      if (session.unsaved) event.preventDefault()
    }
    window.addEventListener('beforeunload', warn)
    return () => window.removeEventListener('beforeunload', warn)
  }, [session])
  // biome-ignore lint/correctness/useExhaustiveDependencies: read when the page goes, as it is then
  useEffect(
    () => () => {
      if (!leaving.current) void session.close(session.unsaved ? 'closed' : 'finished')
    },
    [session],
  )
  const leave = async (how: 'finished' | 'closed' | 'let go') => {
    leaving.current = true
    setAsking(false)
    await session.close(how)
    if (blocker.state === 'blocked') blocker.proceed()
    else void navigate('/')
  }
  const stay = () => {
    setAsking(false)
    if (blocker.state === 'blocked') blocker.reset()
  }
  const saveAndLeave = async () => {
    // Something has to be settled first, where the work is.
    if (!state.file || filing.mayLose) {
      stay()
      return filing.save()
    }
    setAsking(false)
    const answer = await saveMerging()
    if (isProblem(answer)) {
      if (blocker.state === 'blocked') blocker.reset()
    } else await leave('finished')
  }
  return (
    asking && (
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
  )
}
