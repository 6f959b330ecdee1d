// Together at once: what others save of a file that is open here flows into it, through the versions and the merge that
// there are, as long as nobody has to choose.
import { useEffect, useRef, useState } from 'react'
import type { useMerging } from '../work/merging'
import type { DraftSession } from '../work/session'
import type { OpenFile } from './use-file'

/** While somebody is in the middle of something, it is tried again this often; milliseconds. */
const again = 300

/**
 * @param may nothing that somebody looks at or chooses is in the way
 * @returns whether the newer version that there is flows in by itself, and nobody has to be asked
 */
export function useFlow(
  session: DraftSession,
  { newer }: OpenFile,
  { flowIn }: ReturnType<typeof useMerging>,
  may: boolean,
): boolean {
  /** A version that waits for a person. */
  const [left, setLeft] = useState<string | null>(null)
  const busy = useRef(false)
  const latest = useRef(flowIn)
  latest.current = flowIn
  const flows = may && newer !== null && newer.id !== left
  // biome-ignore lint/correctness/useExhaustiveDependencies: a version is one by its id
  useEffect(() => {
    if (!flows || !newer) return
    const attempt = async () => {
      if (busy.current || !session.atRest) return
      busy.current = true
      try {
        // What somebody began meanwhile comes first; it is tried again after it.
        if (!(await latest.current(newer)) && session.atRest) setLeft(newer.id)
      } catch {
        // The server is away, or it cannot be read: it is offered, and a person sees what becomes of it.
        setLeft(newer.id)
      } finally {
        busy.current = false
      }
    }
    void attempt()
    const timer = setInterval(attempt, again)
    return () => clearInterval(timer)
  }, [session, newer?.id, flows])
  return flows
}
