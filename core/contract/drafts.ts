import { z } from 'zod'
import { count, described, deviceTime, largestInteger, whole } from './text'

/** What a draft holds beyond its last saved version, as counted from its journal. */
export const Beyond = z.object({
  edits: whole,
  charactersAdded: whole,
  charactersRemoved: whole,
  cells: whole,
})
export type Beyond = z.infer<typeof Beyond>

/** One journaled edit: `edit` is ProseMirror steps or workbook operations, by the draft's kind. */
export const JournalRecord = z.object({
  /** 1 for a draft's first record, then without gaps. */
  seq: whole.min(1),
  /** Milliseconds since 1970, by the device's clock. */
  at: z.number().min(-8.64e15).max(8.64e15),
  edit: z.unknown(),
  /** How it came about; typing where it says nothing. What was taken in came from others. */
  did: z.enum(['undo', 'redo', 'taken in']).optional(),
  /** It begins a new step of undo. */
  begins: z.boolean().optional(),
})
export type JournalRecord = z.infer<typeof JournalRecord>

/** A SHA-256 in hexadecimal. */
export const Digest = z.string().regex(/^[0-9a-f]{64}$/)

/** Whoever writes a draft now: the epoch that its last take-over raised, and an id that was made for it. */
export const Sender = z.object({ epoch: z.number().int().min(0).max(2_000_000_000), writerId: z.uuid() })
export type Sender = z.infer<typeof Sender>

/** What a draft's records are applied to, and by which reader: they mean nothing on another model. */
export const DraftModel = z.object({
  /** The form of the model (core/recovery/models.ts). */
  form: z.number().int().min(1).max(1000),
  /** The type of the base's bytes, with what was said of how they are read (core/formats/csv/said.ts). */
  type: z.string().max(120),
  /** The digest of the decoded base; null where it could not be taken. */
  base: Digest.nullable(),
})
export type DraftModel = z.infer<typeof DraftModel>

/** Where the cursor rests, as the editor of the kind says it. */
export const Resting = z.object({
  /** The last record when it was so. */
  seq: count,
  /** In a document: positions. In a spreadsheet: sheet, row, column and the far corner. */
  at: z.array(whole.min(-largestInteger)).max(8),
})
export type Resting = z.infer<typeof Resting>

/** The draft that another one was parted from, and the last record that both have. */
export const ForkOf = z.object({
  draftId: z.uuid(),
  seq: count,
  /** The file that the other one was saved in since, as shared storage knows. */
  fileId: z.uuid().nullish(),
})
export type ForkOf = z.infer<typeof ForkOf>

export const DraftKind = z.enum(['document', 'spreadsheet'])
export type DraftKind = z.infer<typeof DraftKind>

const draftFacts = {
  id: z.uuid(),
  kind: DraftKind,
  deviceId: z.uuid(),
  deviceName: described(100),
  /** When the work was begun. */
  bornAt: deviceTime,
  /** The version that the records are applied to; null for work that began blank. */
  baseVersionId: z.uuid().nullable(),
  /** The file it is saved in by now; null while it was never saved. */
  fileId: z.uuid().nullable(),
  /** The file's version that the next save is based on; null while there is none. */
  headVersionId: z.uuid().nullable().default(null),
  /** Records up to this one are in the file's newest version by this draft. */
  savedSeq: count,
  /** The last record committed on the device. */
  journalSeq: count,
  lastEditAt: deviceTime.nullable(),
  /** First words of it, to know it by. */
  opening: described(200),
  beyond: Beyond,
}

/** Sent every few seconds while a draft is open, so that a hung, a closed and a lost page can be told apart. */
export const Heartbeat = z.object({
  ...draftFacts,
  /** For how long the page (not only its worker) has not answered, in milliseconds by the device's own clock. */
  pageSilentMs: count.default(0),
  /** What is on the device and in no recovery point. */
  unsent: Beyond.optional(),
  /** Absent from a tab of a Jaula before epochs. */
  sender: Sender.optional(),
  /** The digests of the last record on the device and of the last one in a version. */
  journalHead: Digest.optional(),
  savedHead: Digest.nullish(),
  model: DraftModel.nullish(),
  resting: Resting.nullish(),
  forkOf: ForkOf.nullish(),
  /** A page has it open; not so when its device only brings shared storage up to date. */
  live: z.boolean().default(true),
  /** Recovery points are switched off. */
  pointsOff: z.boolean().optional(),
})
export type Heartbeat = z.infer<typeof Heartbeat>

/** A recovery point: the records since the previous one. */
export const NewPoint = z.union([
  z.object({
    heartbeat: Heartbeat.required({ sender: true }),
    /** The record before the first one sent, with its digest. */
    after: z.object({ seq: count, digest: Digest }),
    /** The exact texts of the records. */
    lines: z.array(z.string().max(64_000_000)).min(1).max(1_000_000),
  }),
  /** What a tab of a Jaula before epochs sends. */
  z.object({ heartbeat: Heartbeat, records: z.array(JournalRecord).min(1).max(1_000_000) }),
])
export type NewPoint = z.infer<typeof NewPoint>

/** Who writes a draft on shared storage, and what is there of it. */
export const Standing = z.object({
  epoch: z.number().int(),
  writerId: z.uuid().nullable(),
  /** The device that writes it, or wrote it last. */
  deviceId: z.uuid(),
  deviceName: z.string(),
  pointSeq: z.number().int(),
  pointHead: Digest,
  savedSeq: z.number().int(),
  savedHead: Digest.nullable(),
  state: z.enum(['open', 'closed', 'let go', 'finished']),
  keptUntil: z.iso.datetime().nullable(),
  /** It is finished, or its days have passed by the server's clock. */
  over: z.boolean(),
})
export type Standing = z.infer<typeof Standing>

export const Verdict = z.enum(['taken', 'gap', 'superseded', 'differs'])

export const PointTaken = z.object({
  /** What became of it; absent for a tab of a Jaula before epochs. */
  verdict: Verdict.optional(),
  standing: Standing.optional(),
  pointSeq: z.number().int(),
  /** The server's time. */
  at: z.iso.datetime(),
  /** Somebody asks for a recovery point now. */
  pointWanted: z.boolean(),
})
export type PointTaken = z.infer<typeof PointTaken>

/**
 * open: a page has it. closed: left on purpose, unsaved work kept. let go: not wanted any more,
 * kept until `keptUntil` all the same. finished: nothing unsaved was left.
 */
export const DraftState = z.enum(['open', 'closed', 'let go', 'finished'])
export type DraftState = z.infer<typeof DraftState>

export const Draft = z.object({
  ...draftFacts,
  state: DraftState,
  person: z.object({ id: z.uuid(), name: z.string() }),
  file: z.object({ name: z.string(), share: z.string(), folders: z.array(z.string()) }).nullable(),
  /** Where its points are kept while it has no file; null: only its owner sees them. */
  keptIn: z.array(z.string()).nullable(),
  pointSeq: z.number().int(),
  pointAt: z.iso.datetime().nullable(),
  answeredAt: z.iso.datetime(),
  pageAnsweredAt: z.iso.datetime(),
  keptUntil: z.iso.datetime().nullable(),
  /** Whether its device was heard from so lately that it must be taken to be open there. */
  heardFrom: z.boolean(),
  /** answers: the page did. hangs: its worker answers and the page does not. silent: nothing was heard lately. */
  page: z.enum(['answers', 'hangs', 'silent']),
  /** The time of the last edit that is in a recovery point. */
  pointEditAt: z.iso.datetime().nullable(),
  /** What its device holds beyond the last recovery point, as it told last; null when it never told. */
  unsent: Beyond.nullable(),
  /** Who writes it, as shared storage knows. */
  epoch: z.number().int(),
  /** Edits that another device still had when this work was gone on with, and that have not come since. */
  leftBehind: z
    .object({ edits: z.number().int(), deviceId: z.uuid(), deviceName: z.string(), beyond: Beyond.nullable() })
    .nullable(),
  model: DraftModel.nullable(),
  resting: Resting.nullable(),
  forkOf: ForkOf.nullable(),
  pointsOff: z.boolean(),
  /** Whether it is mine; other people's are shown to the managers of their share. */
  mine: z.boolean(),
  /** Somebody asked for a recovery point that is not taken yet. */
  pointWanted: z.boolean(),
})
export type Draft = z.infer<typeof Draft>

/** When a recovery point was taken, and the last record it holds. */
export const PointOutline = z.object({ toSeq: z.number().int(), at: z.iso.datetime() })
export type PointOutline = z.infer<typeof PointOutline>

export const DraftContent = z.object({
  draft: Draft,
  standing: Standing,
  /** The exact texts of all records that are in recovery points. */
  lines: z.array(z.string()),
  /** The digests at the ends of recovery points, also of those that are there no more. */
  marks: z.array(z.object({ seq: z.number().int(), digest: Digest })),
  /** The recovery points, oldest first. */
  points: z.array(PointOutline),
})

export type DraftContent = z.infer<typeof DraftContent>

/** Something done with other people's work, for them and for the managers to see. */
export const Activity = z.object({
  id: z.uuid(),
  at: z.iso.datetime(),
  /** Who did it. */
  person: z.string(),
  what: z.enum(['looked inside', 'asked for a point', 'saved a safe copy']),
  /** Whose work it was. */
  owner: z.string(),
  name: z.string(),
  share: z.string(),
})
export type Activity = z.infer<typeof Activity>

export const DraftEnd = z.object({
  state: z.enum(['closed', 'let go', 'finished', 'open']),
  heartbeat: Heartbeat.optional(),
})
export type DraftEnd = z.input<typeof DraftEnd>

/** Going on with a draft: from the epoch that was seen, under an id made for this take-over. */
export const TakeOver = z.object({
  from: count,
  writerId: z.uuid(),
  deviceId: z.uuid(),
  deviceName: described(100),
})
export const TakenOver = z.object({ taken: z.boolean(), standing: Standing })
export type TakenOver = z.infer<typeof TakenOver>

/** What a person's unsaved work takes on shared storage. */
export const Room = z.object({
  /** Bytes. */
  taken: z.number(),
  pieces: z.number().int(),
  /** Bytes by which work that never goes by itself takes more than is allowed. */
  over: z.number(),
  /** What went to make room in the last ninety days. */
  went: z.array(z.object({ name: z.string(), opening: z.string(), at: z.iso.datetime() })),
})
export type Room = z.infer<typeof Room>
