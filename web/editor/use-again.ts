// Work that another tab or device has: read anew when it comes back, or when something of it was missed.
import { type RefObject, useEffect, useRef } from 'react'
import { lockName } from '../work/device'
import type { DraftSession } from '../work/session'
import type { SessionOutline } from '../work/session-state'

/**
 * @param leaving set while the work is left on purpose
 * @returns reads the work anew; `here` to write it here, whoever has it
 */
export function useAgain(
  session: DraftSession,
  state: SessionOutline,
  leaving: RefObject<boolean>,
  onReload: (here?: boolean) => void,
): (here?: boolean) => void {
  const renewing = useRef(false)
  const again = (here = false) => {
    // Both that the other tab is gone and that something was missed may say so.
    if (renewing.current) return
    renewing.current = true
    leaving.current = true
    void session.leave().then(() => onReload(here))
  }
  // biome-ignore lint/correctness/useExhaustiveDependencies: waits for as long as another tab has the work
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
  // biome-ignore lint/correctness/useExhaustiveDependencies: opened anew when it is told that something was missed
  useEffect(() => {
    if (state.missed) again()
  }, [state.missed])
  return again
}
