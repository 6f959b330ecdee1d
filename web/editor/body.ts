import type { Limit } from '../../core/formats/refusals'
import type { Sentence } from '../../core/words/said'
import type { Selected } from '../work/content'
import type { Opening } from '../work/opening'
import type { DraftSession } from '../work/session'
import type { Then } from '../workers/looking-back'

/** What the frame may ask of the moment on show. */
export interface ThenDesk {
  selected(): Selected | null
  /** Shows the next place that differs from now, or the one before it. @returns which one it is, from 1 */
  step(by: 1 | -1): number
  differences: number
}

export interface LookedAt {
  id: string
  then: Then
  /** The work that it was told against, as plain data. */
  present: unknown
  /** What somebody looked for in the history and goes to see: it is set off, and come to sight. */
  sought?: string | null
}

/** What the workspace asks of the editor of a kind. */
export interface BodyProps {
  opening: Opening
  session: DraftSession
  editable: boolean
  /** An earlier moment to show in place of the work, read only. */
  looking: LookedAt | null
  /** Somebody is near the lifeline: what takes long to show the first time may be made ready. */
  near: boolean
  /** Told while a moment is on show. */
  onThen: (desk: ThenDesk | null) => void
  /** The filing slip, when it is open: it stands beside the work. */
  slip: React.ReactNode
  /** What the file holds, and keeps, and the editor does not show. */
  onUnseen: (limits: Limit[]) => void
  onDamaged: (reason: Sentence) => void
  /** The work was written on its file as an earlier Jaula read it: this edit makes it anew. */
  onCarried: (edit: unknown) => void
  /** Looks at the pages that the work comes to; absent for whoever may not. */
  onPages: (() => void) | undefined
  /** Replay could not apply everything. */
  onGap: (lostFrom: number) => void
  /** What is said of how the values of its list are written; undefined while that is not known. */
  readAs: string | null | undefined
  /** Its file is to be read anew: something else was said of how it is written. */
  onReadAnew: () => void
}
