// What a page and its journal worker say to each other. The worker keeps the journal, takes the
// recovery points and completes the saves, whether or not the page still answers.
import type { Beyond, Composition, DraftKind, JournalRecord, Problem, Reason, Saved } from '../contract'

/** A draft as its device keeps it. */
export interface StoredDraft {
  id: string
  personId: string
  kind: DraftKind
  bornAt: string
  baseVersionId: string | null
  fileId: string | null
  fileName: string | null
  /** The newest version of the file that this draft knows: what the next save is based on. */
  headVersionId: string | null
  savedSeq: number
  journalSeq: number
  pointSeq: number
  lastEditAt: string | null
  opening: string
  beyond: Beyond
  state: 'open' | 'closed' | 'let go'
  keptUntil: string | null
}

/** A save that is to be completed exactly once. */
export interface StoredSave {
  key: string
  draftId: string
  personId: string
  seq: number
  at: number
  reason: Reason
  bytes: Uint8Array
  /** A new file's place, or the draft's own file. */
  target: SavePlace | 'own file'
}

/** Where a save makes a new file. */
export interface SavePlace {
  shareId: string
  folderId: string | null
  /** Folders below that place; those that are missing are made. */
  path?: string[]
  name: string
  composition?: Composition
  /** The version that it is a copy of. */
  originId?: string
}

/** A draft's owner tells here what it committed; tabs that only show it follow. */
export const followChannel = 'jaula-journal-follow'

export type ToJournal =
  | { do: 'start'; personId: string; deviceName: string; interval: number; keptDays: number }
  /** `seenSeq` is how far the device's journal went when the page read it. */
  | { do: 'open'; draft: StoredDraft; base: Uint8Array | null; records: JournalRecord[] | null; seenSeq: number }
  | { do: 'edit'; draftId: string; record: JournalRecord; opening: string }
  | { do: 'save'; save: StoredSave }
  | { do: 'adopt'; draftId: string; fileId: string | null; fileName: string | null; headVersionId: string | null }
  | { do: 'close'; draftId: string; how: 'finished' | 'closed' | 'let go' }
  | { do: 'answer' }
  | { do: 'try now' }
  | { do: 'interval'; seconds: number }

export type FromJournal =
  /** `stale`: another tab went on with it since the page read it; it is to be read anew. */
  | { say: 'opened'; draftId: string; elsewhere: boolean; stale: boolean }
  | { say: 'journaled'; draftId: string; seq: number; at: number }
  | { say: 'refused'; reason: string }
  /** `edits` and `bytes` say what the point cost; 0 where it was learnt from the server. */
  | { say: 'point'; draftId: string; seq: number; edits: number; bytes: number }
  | { say: 'point refused'; draftId: string; reason: string }
  /** How far this device's clock is ahead of the server's, in milliseconds. */
  | { say: 'clock'; ahead: number }
  | { say: 'save kept'; draftId: string; key: string }
  | { say: 'saved'; draftId: string; key: string; seq: number; saved: Saved }
  | { say: 'save refused'; draftId: string; key: string; problem: Problem }
  | { say: 'closed'; draftId: string }
  | { say: 'server'; state: 'there' | 'away' | 'signed out' }
  | { say: 'do you answer' }
