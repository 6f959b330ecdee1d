import type { Stretch } from '../../core/compare/document'
import type { Limit } from '../../core/formats/refusals'
import type { DraftSession } from './draft-session'
import type { Opening } from './opening'

/** What the workspace asks of the editor of a kind. */
export interface BodyProps {
  opening: Opening
  session: DraftSession
  editable: boolean
  /** An earlier version to show in place of the work, read only; its bytes. */
  looking: { id: string; bytes: Uint8Array; gone: readonly Stretch[] } | null
  /** The filing slip, when it is open: it stands beside the work. */
  slip: React.ReactNode
  onLimits: (limits: Limit[]) => void
  onDamaged: (reason: string) => void
  /** Replay could not apply everything. */
  onGap: (lostFrom: number) => void
}
