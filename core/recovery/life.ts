// The life of a draft, as a state machine. A draft is written by one page at a time; what the page
// hands over, the device's journal commits; what is committed goes to shared storage in points, and
// becomes a version by a save. Each of these confirms on its own, and confirmations can be late or
// lost. Nothing is taken to be kept before its confirmation came; what was kept without the page
// knowing is found when the draft is opened again.
//
//            edit              close, let go
//   blank ─────────▶ working ─────────────────▶ set aside ──call back──▶ interrupted
//                    │   ▲  ▲                       │ days over
//               save │   │  │ reopen                ▼
//                    ▼   │  │                     ended
//                  settled ─┼──close──▶ ended
//                    working ─crash─▶ interrupted ──let go──▶ set aside
import type { DraftState } from '../contract'

export type Phase = 'blank' | 'working' | 'settled' | 'interrupted' | 'set aside' | 'ended'

/** What is known of a draft from outside: its state as it was last told, and whether a live page holds it. */
export interface DraftSigns {
  state: DraftState
  journalSeq: number
  savedSeq: number
  /** A page that was heard from lately, or that holds the draft's lock. */
  live: boolean
  keptUntil: string | null
}

/** The phase that the signs tell of. @param now ISO 8601 */
export function phaseOf({ state, journalSeq, savedSeq, live, keptUntil }: DraftSigns, now: string): Phase {
  if (state === 'finished') return 'ended'
  const unsaved = journalSeq > savedSeq
  if (live) return unsaved ? 'working' : journalSeq > 0 ? 'settled' : 'blank'
  if (!unsaved) return 'ended'
  if (state === 'open') return 'interrupted'
  return keptUntil !== null && keptUntil < now ? 'ended' : 'set aside'
}

/** The states that a person's wish can bring a draft into; work that is ended stays so. */
export const mayBecome: Record<DraftState, readonly DraftState[]> = {
  open: ['open', 'closed', 'let go', 'finished'],
  closed: ['open', 'closed', 'let go', 'finished'],
  'let go': ['open', 'closed', 'let go', 'finished'],
  finished: ['finished'],
}
