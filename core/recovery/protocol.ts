// What a page and its journal worker say to each other. The worker keeps the journal, takes the
// recovery points and completes the saves, whether or not the page still answers.

import type {
  Beyond,
  Composition,
  DraftKind,
  DraftModel,
  ForkOf,
  JournalRecord,
  Problem,
  Reason,
  Resting,
  Saved,
} from '../contract'
import type { Sentence } from '../words/said'
import type { Digest } from './chain'

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
  /** The last record that is in a version, with the chain's digest there. */
  savedSeq: number
  savedHead: Digest | null
  /** The last record on this device, with the chain's digest there. */
  journalSeq: number
  head: Digest
  /** The last record that shared storage confirmed of this chain. */
  pointSeq: number
  lastEditAt: string | null
  opening: string
  beyond: Beyond
  state: 'open' | 'closed' | 'let go' | 'finished'
  keptUntil: string | null
  /** Made anew by whoever takes the draft over in this browser: a writer of another one writes no more. */
  generation: string
  /** Who this device's writer is on shared storage. 0: shared storage never heard of a writer. */
  epoch: number
  writerId: string
  /** Shared storage has confirmed this writer. */
  claimed: boolean
  /** What its records are applied to; null from a Jaula that did not keep it. */
  model: DraftModel | null
  resting: Resting | null
  forkOf: ForkOf | null
  /** It was closed, let go or finished here, and shared storage has not heard of it. */
  endUntold: boolean
  /** Recovery points are switched off for it. */
  pointsOff: boolean
  /** A kept save of it was refused for good, why, and under what name it was to be. */
  refused: { problem: Problem; name: string | null } | null
}

/** What a save is based on: a version, or whatever the save with that key becomes. */
export type SaveBase = { version: string } | { after: string } | null

/** A save that is to be completed exactly once. */
export interface StoredSave {
  key: string
  /** Null for a copy, which belongs to no draft. */
  draftId: string | null
  personId: string
  /** Its place among the saves of this device: they go out in the order in which they were made. */
  order: number
  seq: number
  /** The digest of the records up to `seq`. */
  head: Digest | null
  epoch: number
  writerId: string | null
  base: SaveBase
  at: number
  reason: Reason
  bytes: Uint8Array
  /** A new file's place, or a file. */
  target: SavePlace | { fileId: string | null; name: string | null; type?: string; writtenAs?: string }
  /** How often it was tried in vain. */
  tries: number
  /** Shared storage refused a copy for good; it stays until the person decides. */
  refused: Problem | null
}

/** What a page knows of a save; the rest is settled when it is kept. */
export type AskedSave = Pick<StoredSave, 'key' | 'draftId' | 'personId' | 'seq' | 'at' | 'reason' | 'bytes'> & {
  /** A copy of the work, in which nobody goes on. */
  copy?: boolean
  /** The version of the file that a copy becomes the next version of. */
  baseId?: string
  /** The type that its own file goes on as. */
  type?: string
  /** How a list was written, said whole. */
  writtenAs?: string
} & { target: SavePlace | 'own file' | { fileId: string; name: string } }

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

/** A draft's writer tells here what it committed, and who takes one over says so; tabs that show it follow. */
export const followChannel = 'jaula-journal-follow'
export type Followed =
  | { draftId: string; records: JournalRecord[] }
  | { draftId: string; taken: { generation: string } }

/** What is known of a draft that is opened. */
export interface OpenedDraft {
  draft: Omit<StoredDraft, 'generation' | 'epoch' | 'writerId' | 'claimed' | 'endUntold' | 'refused' | 'pointsOff'>
  base: Uint8Array | null
  /** All its records, as their texts; the ones that this device keeps already among them. */
  lines: string[]
  /** What of it this device kept when the page read it; null for nothing. */
  seen: { generation: string; head: Digest } | null
  /** The epoch that is gone on from; null when shared storage was never told of it, or could not be asked. */
  from: number | null
  /** Writes here even if another page of this browser has it open. */
  takeOver: boolean
}

export type ToJournal =
  | { do: 'start'; personId: string; deviceName: string; interval: number }
  | ({ do: 'open' } & OpenedDraft)
  | { do: 'edit'; draftId: string; record: JournalRecord; opening: string; resting: number[] | null }
  | { do: 'rest'; draftId: string; at: number[] }
  | { do: 'model'; draftId: string; model: DraftModel }
  | { do: 'save'; save: AskedSave }
  | {
      do: 'adopt'
      draftId: string
      fileId: string | null
      fileName: string | null
      headVersionId: string | null
      /** The work up to this record is what that version holds; null where it is not known. */
      same: number | null
    }
  | { do: 'close'; draftId: string; how: 'finished' | 'closed' | 'let go' }
  /** The page reads the draft anew: it is left as it is until then. */
  | { do: 'leave'; draftId: string }
  | { do: 'answer' }
  /** Somebody signed in, or shared storage may be there again. */
  | { do: 'try now' }
  /** Something was told of this draft: whether it is still written here is asked at once. */
  | { do: 'look'; draftId: string }
  /** Compares a draft that no page has open with shared storage now; answered when that is done. */
  | { do: 'settle'; draftId: string }
  /** Seconds; 0 for no recovery points. */
  | { do: 'interval'; draftId: string | null; seconds: number }

export type FromJournal =
  /** `stale`: another page went on with it since the page read it; it is to be read anew. */
  | { say: 'opened'; draftId: string; elsewhere: boolean; stale: boolean }
  | { say: 'journaled'; draftId: string; seq: number; at: number }
  | { say: 'refused'; reason: Sentence }
  /** `edits` and `bytes` say what the point cost; 0 where it was learnt from the server. */
  | { say: 'point'; draftId: string; seq: number; edits: number; bytes: number }
  | { say: 'point refused'; draftId: string; reason: Sentence }
  /** Another writer has this draft. What this one had beyond the common records is the draft `fork`. */
  | {
      say: 'superseded'
      draftId: string
      /** Who has it now; null for another page of this browser. */
      by: string | null
      fork: { id: string; beyond: Beyond } | null
    }
  /** How far this device's clock is ahead of the server's, in milliseconds. */
  | { say: 'clock'; ahead: number }
  | { say: 'save kept'; draftId: string | null; key: string }
  /** Shared storage could not complete it; it is tried again. */
  | { say: 'save delayed'; draftId: string | null; key: string; problem: Problem }
  | { say: 'saved'; draftId: string | null; key: string; seq: number; saved: Saved }
  | { say: 'save refused'; draftId: string | null; key: string; problem: Problem }
  | { say: 'closed'; draftId: string }
  | { say: 'settled'; draftId: string }
  | { say: 'server'; state: 'there' | 'away' | 'signed out' }
  | { say: 'do you answer' }
