import { z } from 'zod'
import { largestInteger, SentenceShape } from './text'

/** A path on the drive that is taken over, from its folder down, with `/`. */
const DrivePath = z.string().min(1).max(4000)
const Sha256 = z.string().regex(/^[0-9a-f]{64}$/)

/** looking: its files are read. planning: they are put together. ready: somebody decides. taking: they come in. */
export const IntakeState = z.enum(['looking', 'planning', 'ready', 'taking', 'done'])
export type IntakeState = z.infer<typeof IntakeState>
/** litter: what a program left for itself, and nobody's work. */
export const DriveFault = z.enum(['empty', 'damaged', 'protected', 'unreadable', 'litter', 'too large'])
export type DriveFault = z.infer<typeof DriveFault>
export const Certainty = z.enum(['sure', 'doubtful', 'by hand'])

/** A drive that is taken over into a share, and how far that is. */
export const Intake = z.object({
  id: z.uuid(),
  share: z.object({ id: z.uuid(), name: z.string() }),
  /** Folders from the share down to where it goes. */
  into: z.array(z.string()),
  /** Whether the server reads it, or the page of whoever takes it over. */
  source: z.enum(['server', 'browser']),
  /** What the folder is called, or where the server has it. */
  root: z.string(),
  by: z.object({ id: z.uuid(), name: z.string() }),
  at: z.iso.datetime(),
  state: IntakeState,
  /** What stands against going on. */
  problem: SentenceShape.nullable(),
  files: z.number().int(),
  bytes: z.number(),
  /** How many of the files were read. */
  read: z.number().int(),
  /** By what is wrong with them. */
  faults: z.record(DriveFault, z.number().int()),
  /** Of what was planned: files that there will be, and of these by certainty; versions and doubles of them. */
  planned: z.object({
    files: z.number().int(),
    wanted: z.number().int(),
    series: z.number().int(),
    /** Files of the drive that become versions, and those that hold what another one does. */
    versions: z.number().int(),
    doubles: z.number().int(),
    doubtful: z.number().int(),
    byHand: z.number().int(),
  }),
  /** Files of the drive that come in, are in, and were refused. */
  coming: z.number().int(),
  taken: z.number().int(),
  refused: z.number().int(),
})
export type Intake = z.infer<typeof Intake>

export const Intakes = z.object({
  /** Folders of the server that may be taken over. */
  folders: z.array(z.string()),
  intakes: z.array(Intake),
})
export type Intakes = z.infer<typeof Intakes>

export const ServerFolders = z.object({ path: z.string(), folders: z.array(z.string()) })
export type ServerFolders = z.infer<typeof ServerFolders>

export const NewIntake = z.object({
  id: z.uuid(),
  folderId: z.uuid().nullable(),
  source: z.enum(['server', 'browser']),
  root: DrivePath,
})
export type NewIntake = z.infer<typeof NewIntake>

/** A file as whoever has the drive describes it. */
export const DriveFile = z.object({
  path: DrivePath,
  size: z.number().int().min(0).max(largestInteger),
  modified: z.iso.datetime(),
  /** Empty for what was not read. */
  sha256: Sha256.nullable(),
  ownAt: z.iso.datetime().nullable(),
  author: z.string().max(200),
  title: z.string().max(200),
  /** The hashes of its sketch, four bytes each, little end first; base64. */
  sketch: z.string().max(1000),
  fault: DriveFault.nullable(),
})
export type DriveFile = z.infer<typeof DriveFile>
export const DriveFiles = z.object({
  files: z.array(DriveFile).max(500),
  /** There are no more: what is there is planned. */
  last: z.boolean(),
})

/** Paths of those that were sent of which the server does not know yet what they hold. */
export const StillUnread = z.object({ unread: z.array(z.string()) })

export const SeriesFile = z.object({
  no: z.number().int(),
  path: z.string(),
  size: z.number(),
  at: z.iso.datetime(),
  author: z.string(),
  sha256: Sha256.nullable(),
  /** It holds what another one of them does. */
  double: z.boolean(),
  fault: DriveFault.nullable(),
  taken: z.boolean(),
  refused: SentenceShape.nullable(),
})
/** A file that there will be, of one or several of the drive's. */
export const PlannedSeries = z.object({
  no: z.number().int(),
  name: z.string(),
  /** From the share down. */
  folders: z.array(z.string()),
  certainty: Certainty,
  why: z.array(SentenceShape),
  doubts: z.array(SentenceShape),
  remarks: z.array(SentenceShape),
  wanted: z.boolean(),
  /** Where it is, once it is there. */
  fileId: z.uuid().nullable(),
  /** Oldest first. */
  files: z.array(SeriesFile),
})
export type PlannedSeries = z.infer<typeof PlannedSeries>

export const shownSeries = z.enum(['all', 'series', 'doubtful', 'by hand', 'faults', 'refused', 'left out'])
export type ShownSeries = z.infer<typeof shownSeries>
export const SeriesPage = z.object({ series: z.array(PlannedSeries), inAll: z.number().int() })
export type SeriesPage = z.infer<typeof SeriesPage>

export const Decisions = z.object({
  series: z
    .array(
      z.object({
        no: z.number().int().max(largestInteger),
        wanted: z.boolean().optional(),
        name: z.string().min(1).max(300).optional(),
        folders: z.array(z.string().min(1).max(300)).max(50).optional(),
        /** Files of it that become files of their own. */
        apart: z.array(z.number().int().max(largestInteger)).max(500).optional(),
      }),
    )
    .max(500),
  /** For every one of these. */
  all: z.object({ show: shownSeries, wanted: z.boolean() }).optional(),
})
export type Decisions = z.infer<typeof Decisions>
