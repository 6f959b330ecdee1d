// What the keeper asks of the world: a disk, shared storage, a clock, a lock and chance. The worker wires
// them to IndexedDB, HTTP and the browser; tests wire them to a world that fails in every way it can.

import type { DraftContent, DraftEnd, Heartbeat, NewPoint, PointTaken, Problem, Saved, TakenOver } from '../contract'
import { asKept } from '../words/said'
import type { Digest } from './chain'
import type { StoredRecord } from './journal'
import type { Followed, FromJournal, StoredDraft, StoredSave } from './protocol'

/** Another writer of this browser has the draft: nothing was written. */
export class Superseded extends Error {}
/** The draft's row is not there, although it was: the browser cleared it. Nothing was written. */
export class Cleared extends Error {}

/** Everything in it happens, or nothing does. */
export interface DiskChange {
  /**
   * The generation that each draft's row must have, read first in the same transaction, and the head of its chain
   * where the change was made from it; null: there must be none.
   * @throws Superseded, Cleared
   */
  expect: [draftId: string, generation: string | null, head?: Digest][]
  drafts?: StoredDraft[]
  bases?: { draftId: string; bytes: Uint8Array }[]
  records?: StoredRecord[]
  /** Drafts that go, with their bases and all records. */
  forget?: string[]
  /** A save without an order gets the next one. */
  saves?: StoredSave[]
  endSaves?: string[]
}

/** What this device keeps. An answer means that the bytes are on the disk. */
export interface Disk {
  deviceId(): Promise<string>
  draft(id: string): Promise<StoredDraft | undefined>
  drafts(): Promise<StoredDraft[]>
  rows(draftId: string): Promise<unknown[]>
  base(draftId: string): Promise<Uint8Array | null>
  saves(): Promise<StoredSave[]>
  /** @throws Superseded, Cleared, or whatever the disk says */
  commit(change: DiskChange): Promise<void>
}

/** Shared storage. @throws Fault */
export interface SharedStorage {
  point(draftId: string, body: NewPoint): Promise<PointTaken & { sent: number }>
  heartbeat(draftId: string, body: Heartbeat): Promise<PointTaken>
  takeOver(
    draftId: string,
    body: { from: number; writerId: string; deviceId: string; deviceName: string },
  ): Promise<TakenOver>
  content(draftId: string): Promise<DraftContent>
  end(draftId: string, body: DraftEnd): Promise<void>
  save(save: StoredSave): Promise<Saved>
}

/** What shared storage says no with. */
export class Fault extends Error {
  constructor(readonly problem: Problem) {
    super(asKept(problem.says ?? problem.title))
  }
}
/** Nothing answered: neither yes nor no. */
export const isSilence = (error: unknown): boolean =>
  error instanceof Fault && error.problem.type === 'storage-unavailable'

export interface Clock {
  /** Milliseconds since 1970, as this device believes. */
  now(): number
  /** Milliseconds of a clock that never jumps. */
  steady(): number
  sleep(milliseconds: number): Promise<void>
}

/** Tells live pages of this browser apart from dead ones. It is a hint: nothing relies on it for what is written. */
export interface Lock {
  /** @param force take it from whoever has it. @returns null when another live page has it */
  take(draftId: string, force: boolean): Promise<(() => void) | null>
  held(): Promise<Set<string>>
}

export interface Ports {
  disk: Disk
  storage: SharedStorage
  clock: Clock
  lock: Lock
  newId(): string
  say(message: FromJournal): void
  /** To the other pages of this browser. */
  tell(message: Followed): void
}
