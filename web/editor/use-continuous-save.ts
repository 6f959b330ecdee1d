// A file that saves itself: work that was left alone for a moment becomes a version.
import { useEffect } from 'react'
import type { DraftSession } from '../work/session'

/** Work that was left alone for this long becomes a version by itself, where that is wished. */
const quietSeconds = 5

/** @param wished by the settings, and nothing that somebody has to see or choose first is in the way */
export function useContinuousSave(session: DraftSession, wished: boolean): void {
  const watching = wished && session.unsaved
  useEffect(() => {
    if (!watching) return
    let last = session.state.reach.edit.seq
    const timer = setInterval(() => {
      const { edit, waitingSave, server } = session.state.reach
      const quiet = edit.seq === last
      last = edit.seq
      // What somebody else saved meanwhile flows in first (use-flow.ts), or waits for a person.
      if (quiet && session.unsaved && !waitingSave && server === 'there')
        void session.save('own file', 'by itself').catch(() => {})
    }, quietSeconds * 1000)
    return () => clearInterval(timer)
  }, [session, watching])
}
