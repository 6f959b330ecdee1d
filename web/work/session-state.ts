// What a session knows of its work, and how that changes with what its journal says: pure, without the journal.
import type { DraftKind, Problem, Version } from '../../core/contract'
import { type Beyond, standardInterval } from '../../core/contract'
import type { FromJournal } from '../../core/recovery/protocol'
import type { ReachFacts } from '../../core/recovery/reach'
import { told } from '../words'
import type { Known } from './gather'

export interface SavedFile {
  id: string
  name: string
  shareId: string
  folderId: string | null
  /** What was said of how its values are written; absent where that is not known. */
  readAs?: string | null
}

export interface SessionState {
  draftId: string
  kind: DraftKind
  bornAt: string
  file: SavedFile | null
  /** The newest version that the work is based on. */
  head: Version | null
  reach: ReachFacts
  /** The draft is open in another tab of this browser, which keeps it. */
  elsewhere: boolean
  /** Somebody went on with it elsewhere: who, and what only this page had by then. */
  taken: { by: string | null; fork: { id: string; beyond: Beyond } | null } | null
  /** The last save that the server refused, until the next one. */
  refusal: Problem | null
  ready: boolean
  /** Something that another tab did could not be followed. */
  missed: boolean
}

/** The state of a session as far as the frame around the work depends on it. */
export type SessionOutline = Omit<SessionState, 'reach'> & {
  unsaved: boolean
  /** The last edit that a recovery point holds. */
  pointSeq: number
}

export interface Beginning {
  draftId: string
  kind: DraftKind
  personId: string
  bornAt: string
  file: SavedFile | null
  head: Version | null
  /** The version that the journal stands on, and its bytes; null for work that began blank. */
  base: { versionId: string; bytes: Uint8Array } | null
  /** Another tab of this browser has the draft: it is only shown here until that one is gone. */
  heldElsewhere?: boolean
  /** A draft to go on with. */
  continued: Continued | null
}

export interface Continued extends Known {
  /** Write here even if another tab has it. */
  takeOver: boolean
}

/** When an edit was made; the oldest come first. */
export interface EditTime {
  seq: number
  at: number
}

/** What is known of a piece of work when its session begins. */
export function stateAtFirst({ continued, head, ...beginning }: Beginning): SessionState {
  const seq = continued?.lines.length ?? 0
  const lastAt = continued?.lastEditAt ? Date.parse(continued.lastEditAt) : null
  const versionSeq = continued?.savedSeq ?? 0
  return {
    draftId: beginning.draftId,
    kind: beginning.kind,
    bornAt: beginning.bornAt,
    file: beginning.file,
    head,
    elsewhere: beginning.heldElsewhere ?? false,
    taken: null,
    refusal: null,
    ready: false,
    missed: false,
    reach: {
      edit: { seq, at: lastAt },
      journal: { seq: 0, at: null, refused: null },
      point: {
        seq: Math.min(continued?.pointSeq ?? 0, seq),
        at: (continued?.pointSeq ?? 0) >= seq ? lastAt : null,
        refused: null,
      },
      waiting: { device: null, storage: null },
      interval: standardInterval,
      version: {
        seq: versionSeq,
        // The time of an edit before the last one is not known any more; none is claimed.
        at: versionSeq >= seq ? lastAt : null,
        savedAt: head ? Date.parse(head.at) : null,
        number: head?.number ?? null,
        author: head?.author.name ?? null,
      },
      waitingSave: null,
      server: 'there',
    },
  }
}

/** The facts of the reach with the times of the oldest edits that each level has not confirmed. */
export function confirmed(reach: ReachFacts, times: readonly EditTime[]): ReachFacts {
  const since = (seq: number) =>
    seq >= reach.edit.seq ? null : (times.find((time) => time.seq > seq)?.at ?? reach.edit.at)
  const shared = Math.max(reach.point.seq, reach.version.seq)
  return { ...reach, waiting: { device: since(Math.max(reach.journal.seq, shared)), storage: since(shared) } }
}

/** What becomes of the state: a change that is shown at once, or progress of the typing, which may be shown later. */
export type Heard = { change: Partial<SessionState> } | { progress: ReachFacts } | null

/**
 * What a session makes of what its journal says.
 * @param times of the edits that no version holds, and of the last one before
 * @returns null where it says nothing of this work
 */
export function afterHearing(state: SessionState, message: FromJournal, times: readonly EditTime[]): Heard {
  const { reach } = state
  const known = (next: ReachFacts): Heard => ({ change: { reach: next } })
  if (message.say === 'server')
    return message.state === reach.server ? null : known({ ...reach, server: message.state })
  if (message.say === 'refused') return known({ ...reach, journal: { ...reach.journal, refused: message.reason } })
  if (!('draftId' in message) || message.draftId !== state.draftId) return null
  const timeOf = (seq: number) => times.findLast((time) => time.seq <= seq)?.at ?? null
  switch (message.say) {
    case 'opened':
      // What was only shown so far, or went on in another tab meanwhile, is opened anew before it is written in.
      return message.stale || (state.elsewhere && !message.elsewhere)
        ? { change: { missed: true } }
        : { change: { elsewhere: message.elsewhere, ready: true } }
    case 'journaled':
      return { progress: confirmed({ ...reach, journal: { seq: message.seq, at: message.at, refused: null } }, times) }
    case 'point': {
      const next = confirmed({ ...reach, point: { seq: message.seq, at: timeOf(message.seq), refused: null } }, times)
      return reach.point.refused ? known(next) : { progress: next }
    }
    case 'point refused':
      return known({ ...reach, point: { ...reach.point, refused: message.reason } })
    case 'superseded':
      return { change: { taken: { by: message.by, fork: message.fork ?? state.taken?.fork ?? null } } }
    case 'save delayed':
      return reach.waitingSave
        ? known({ ...reach, waitingSave: { ...reach.waitingSave, delayed: told(message.problem) } })
        : null
    case 'save kept':
      return reach.waitingSave ? known({ ...reach, waitingSave: { ...reach.waitingSave, kept: true } }) : null
    case 'saved': {
      const { file, version } = message.saved
      return {
        change: {
          file: { id: file.id, name: file.name, shareId: file.shareId, folderId: file.folderId },
          head: version,
          refusal: null,
          reach: confirmed(
            {
              ...reach,
              waitingSave: null,
              version: {
                seq: message.seq,
                at: timeOf(message.seq),
                savedAt: Date.parse(version.at),
                number: version.number,
                author: version.author.name,
              },
            },
            times,
          ),
        },
      }
    }
    case 'save refused':
      return { change: { refusal: message.problem, reach: { ...reach, waitingSave: null } } }
    default:
      return null
  }
}
