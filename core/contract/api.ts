// Every request Jaula answers, once: the server mounts these, the pages call these, and
// the OpenAPI description is made from these.
import { z } from 'zod'
import { AuditEntry } from './audit'
import {
  Activity,
  Draft,
  DraftContent,
  DraftEnd,
  Heartbeat,
  NewPoint,
  PointOutline,
  PointTaken,
  Room,
  TakenOver,
  TakeOver,
} from './drafts'
import { Drill, NewDrill } from './drills'
import {
  ActResult,
  AuditMaterial,
  ChangedFile,
  Defaults,
  Entry,
  FileFacts,
  HistoryVersion,
  ListKind,
  ListOrder,
  NewAct,
  NewFile,
  NewFolder,
  NewTemplate,
  NextVersion,
  Place,
  Presence,
  Present,
  RecentFile,
  RecentPlace,
  RemovedEntry,
  Saved,
  Share,
  Template,
} from './files'
import { Hold, Label, PlaceRule, Retention, RetentionPreview, Trace, TracedPlace } from './history'
import {
  AuditFindings,
  AuditStanding,
  ControlledList,
  Convention,
  ConventionChange,
  ListChange,
  NewConvention,
  NewList,
  PartValues,
  ShareNaming,
} from './naming'
import { FirstAdministrator, NewPassword, Session, Settings, SignedInSession, SignIn } from './people'
import { OwnProtection, PlaceProtection, ProtectionLayer } from './protection'
import { SearchAnswer } from './search'
import { largestInteger } from './text'

export interface Endpoint {
  method: 'GET' | 'POST' | 'PUT' | 'DELETE'
  /** With `:name` for the parameters, which are all UUIDs. */
  path: string
  summary: string
  query?: z.ZodObject
  /** A schema for JSON, `bytes` for a file's exact bytes. */
  body?: z.ZodType | 'bytes'
  /** How large a JSON body may be, as it is after unpacking; bytes. 64 KB where it says nothing. */
  largest?: number
  /** The body may come packed with gzip. */
  packed?: boolean
  /** A schema for JSON, `bytes` for a file's exact bytes, `events` for a stream, absent for nothing. */
  answer?: z.ZodType | 'bytes' | 'events'
  /**
   * Who may ask. Of a share: its members from this role on, and to others it is not there. `own`: whose it is, and,
   * where the subject says so, the managers of its share. A refusal comes before anything else is looked at.
   */
  right: 'anybody' | 'signed in' | 'view' | 'edit' | 'manage' | 'own' | 'administrator'
}

const define = <const T extends Record<string, Endpoint>>(endpoints: T) => endpoints

const Health = z.object({
  ok: z.boolean(),
  database: z.boolean(),
  /** What is wrong, in sentences. */
  problems: z.array(z.string()),
  version: z.string(),
  at: z.iso.datetime(),
})

export const api = define({
  health: {
    method: 'GET',
    path: '/api/health',
    right: 'anybody',
    summary: 'Whether the server and its database answer',
    answer: Health,
  },
  session: { method: 'GET', path: '/api/session', right: 'anybody', summary: 'Who is signed in', answer: Session },
  signIn: { method: 'POST', path: '/api/session', right: 'anybody', summary: 'Sign in', body: SignIn, answer: Session },
  signOut: { method: 'DELETE', path: '/api/session', right: 'anybody', summary: 'Sign out' },
  firstAdministrator: {
    method: 'POST',
    path: '/api/first-administrator',
    right: 'anybody',
    summary: 'Make the first account and share of an empty Jaula',
    body: FirstAdministrator,
    answer: Session,
  },
  sessions: {
    method: 'GET',
    path: '/api/sessions',
    right: 'signed in',
    summary: 'Where I am signed in',
    answer: z.array(SignedInSession),
  },
  endOtherSessions: {
    method: 'POST',
    path: '/api/sessions/end-others',
    right: 'signed in',
    summary: 'Sign me out everywhere but here',
    answer: z.object({ ended: z.number().int() }),
  },
  endSession: {
    method: 'DELETE',
    path: '/api/sessions/:sessionId',
    right: 'signed in',
    summary: 'Sign me out of one browser',
  },
  changePassword: {
    method: 'POST',
    path: '/api/password',
    right: 'signed in',
    summary: 'Change my password; my other sessions end',
    body: NewPassword,
  },
  settings: { method: 'GET', path: '/api/settings', right: 'signed in', summary: 'My settings', answer: Settings },
  setSettings: {
    method: 'PUT',
    path: '/api/settings',
    right: 'signed in',
    summary: 'Change my settings',
    body: Settings,
    answer: Settings,
  },

  shares: {
    method: 'GET',
    path: '/api/shares',
    right: 'signed in',
    summary: 'Shares I am a member of',
    answer: z.array(Share),
  },
  place: {
    method: 'GET',
    path: '/api/shares/:shareId/entries',
    right: 'view',
    summary: 'What a share or a folder holds',
    query: z.object({
      folderId: z.uuid().optional(),
      offset: z.coerce.number().int().min(0).max(largestInteger).default(0),
      limit: z.coerce.number().int().min(1).max(2000).default(2000),
      /** Folders below that place, joined by slashes; what is not there is told. */
      path: z.string().max(1000).optional(),
      /** Only names that hold this. */
      find: z.string().max(200).optional(),
      order: ListOrder.default('name'),
      /** From the last to the first. */
      turned: z.enum(['true', 'false']).default('false'),
      /** Only files of this kind. */
      kind: ListKind.optional(),
    }),
    answer: Place,
  },
  placeNames: {
    method: 'GET',
    path: '/api/shares/:shareId/names',
    right: 'view',
    summary: 'All names in a share or a folder, to check a new one against',
    query: z.object({ folderId: z.uuid().optional() }),
    answer: z.object({ names: z.array(z.string()) }),
  },
  shareDefaults: {
    method: 'PUT',
    path: '/api/shares/:shareId/defaults',
    right: 'manage',
    summary: "Set a share's default places and types",
    body: Defaults,
    answer: Share,
  },
  recentPlaces: {
    method: 'GET',
    path: '/api/recent-places',
    right: 'signed in',
    summary: 'Folders I filed in last',
    answer: z.array(RecentPlace),
  },
  removed: {
    method: 'GET',
    path: '/api/shares/:shareId/removed',
    right: 'view',
    summary: 'What was removed from a share in the last 30 days',
    answer: z.array(RemovedEntry),
  },
  act: {
    method: 'POST',
    largest: 32_000_000,
    path: '/api/acts',
    right: 'edit',
    summary: 'Rename, move, remove or bring back files and folders, as one act',
    body: NewAct,
    answer: ActResult,
  },
  undo: { method: 'POST', path: '/api/acts/:actId/undo', right: 'edit', summary: 'Undo an act', answer: ActResult },
  search: {
    method: 'GET',
    path: '/api/search',
    right: 'signed in',
    summary: 'Find files by any part of a name, former names, values, people and content',
    query: z.object({
      q: z.string().max(300).default(''),
      shareId: z.uuid().optional(),
      /** Facet keys joined by new lines: only files that have them all. */
      facets: z.string().max(1000).optional(),
    }),
    answer: SearchAnswer,
  },

  naming: {
    method: 'GET',
    path: '/api/shares/:shareId/naming',
    right: 'view',
    summary: "A share's conventions and controlled lists",
    answer: ShareNaming,
  },
  newList: {
    method: 'POST',
    largest: 8_000_000,
    path: '/api/lists',
    right: 'manage',
    summary: 'New controlled list',
    body: NewList,
    answer: ControlledList,
  },
  changeList: {
    method: 'PUT',
    largest: 8_000_000,
    path: '/api/lists/:listId',
    right: 'manage',
    summary: 'Change a controlled list, whole or not at all',
    body: ListChange,
    answer: ControlledList,
  },
  newConvention: {
    method: 'POST',
    largest: 1_000_000,
    path: '/api/conventions',
    right: 'manage',
    summary: 'Attach a new convention to a share or a folder',
    body: NewConvention,
    answer: Convention,
  },
  changeConvention: {
    method: 'PUT',
    largest: 1_000_000,
    path: '/api/conventions/:conventionId',
    right: 'manage',
    summary: 'A new version of a convention',
    body: ConventionChange,
    answer: Convention,
  },
  endConvention: {
    method: 'POST',
    path: '/api/conventions/:conventionId/end',
    right: 'manage',
    summary: 'Detach a convention; what is above holds again',
  },
  nextNumber: {
    method: 'POST',
    path: '/api/conventions/:conventionId/next-number',
    right: 'view',
    summary: "A counter's next number for these values, not yet taken",
    body: z.object({ values: PartValues, folderId: z.uuid().nullable() }),
    answer: z.object({ next: z.number().int().nullable() }),
  },
  usedValues: {
    method: 'GET',
    path: '/api/conventions/:conventionId/used',
    right: 'view',
    summary: 'Values I used last under a convention',
    answer: z.array(PartValues),
  },
  auditMaterial: {
    method: 'GET',
    path: '/api/shares/:shareId/audit',
    right: 'view',
    summary: 'All names of a share, for an audit',
    answer: AuditMaterial,
  },
  noteAudit: {
    method: 'PUT',
    path: '/api/shares/:shareId/audit',
    right: 'manage',
    summary: 'Note what an audit of a share found',
    body: AuditFindings,
    answer: AuditStanding,
  },
  audits: {
    method: 'GET',
    path: '/api/audits',
    right: 'signed in',
    summary: 'The last audits of the shares that I manage and that have conventions',
    answer: z.array(AuditStanding),
  },

  templates: {
    method: 'GET',
    path: '/api/templates',
    right: 'signed in',
    summary: 'Templates I can start from',
    answer: z.array(Template),
  },
  newTemplate: {
    method: 'POST',
    path: '/api/templates',
    right: 'edit',
    summary: 'Make a template of a version of a file',
    body: NewTemplate,
    answer: Template,
  },
  removeTemplate: { method: 'DELETE', path: '/api/templates/:templateId', right: 'edit', summary: 'Remove a template' },
  newFolder: {
    method: 'POST',
    path: '/api/folders',
    right: 'edit',
    summary: 'New folder',
    body: NewFolder,
    answer: Entry,
  },
  recent: {
    method: 'GET',
    path: '/api/recent',
    right: 'signed in',
    summary: 'Files I used last',
    answer: z.array(RecentFile),
  },
  changedByOthers: {
    method: 'GET',
    path: '/api/changed-by-others',
    right: 'signed in',
    summary: 'Files that others saved last',
    answer: z.array(ChangedFile),
  },
  file: {
    method: 'GET',
    path: '/api/files/:fileId',
    right: 'view',
    summary: 'A file, where it is and its versions',
    answer: FileFacts,
  },
  versions: {
    method: 'GET',
    path: '/api/files/:fileId/versions',
    right: 'view',
    summary: "A page of a file's versions, newest first",
    query: z.object({
      /** Only those with a smaller number. */
      before: z.coerce.number().int().min(1).max(largestInteger).optional(),
      limit: z.coerce.number().int().min(1).max(2000).default(1000),
    }),
    answer: z.array(HistoryVersion),
  },
  presence: {
    method: 'PUT',
    path: '/api/files/:fileId/presence',
    right: 'view',
    summary: 'This page has the file open; who else has',
    body: Presence,
    answer: z.array(Present),
  },
  newFile: {
    method: 'POST',
    path: '/api/files',
    right: 'edit',
    summary: 'Save a new file: the body is its exact bytes',
    query: NewFile,
    body: 'bytes',
    answer: Saved,
  },
  nextVersion: {
    method: 'POST',
    path: '/api/files/:fileId/versions',
    right: 'edit',
    summary: "Save a file's next version: the body is its exact bytes",
    query: NextVersion,
    body: 'bytes',
    answer: Saved,
  },
  restore: {
    method: 'POST',
    path: '/api/versions/:versionId/restore',
    right: 'edit',
    summary: 'Make an earlier version the newest one, as a new version',
    body: z.object({ key: z.uuid(), baseId: z.uuid() }),
    answer: Saved,
  },
  bytes: {
    method: 'GET',
    path: '/api/versions/:versionId/bytes',
    right: 'view',
    summary: "A version's exact bytes",
    answer: 'bytes',
  },

  setOrigin: {
    method: 'PUT',
    path: '/api/files/:fileId/origin',
    right: 'edit',
    summary: 'Note up to which version of its origin a copy has taken in what changed there',
    body: z.object({ versionId: z.uuid() }),
  },
  labelVersion: {
    method: 'PUT',
    path: '/api/versions/:versionId/label',
    right: 'edit',
    summary: 'Keep a version under a label, or no longer',
    body: Label,
  },
  trace: {
    method: 'POST',
    path: '/api/versions/:versionId/trace',
    right: 'view',
    summary: 'Where a paragraph or a cell changed, from this version back',
    body: TracedPlace,
    answer: Trace,
  },
  retention: {
    method: 'GET',
    path: '/api/shares/:shareId/retention',
    right: 'view',
    summary: "A share's rules of retention, the holds on them, and what went",
    answer: Retention,
  },
  setRetention: {
    method: 'PUT',
    path: '/api/shares/:shareId/retention',
    right: 'manage',
    summary: 'Set or take away the rule of retention of a share or a folder',
    body: PlaceRule,
  },
  previewRetention: {
    method: 'POST',
    path: '/api/shares/:shareId/retention/preview',
    right: 'manage',
    summary: 'What a rule of retention would remove now, and what that would free',
    body: PlaceRule,
    answer: RetentionPreview,
  },
  hold: {
    method: 'PUT',
    path: '/api/entries/:entryId/hold',
    right: 'manage',
    summary: 'Hold a file or a folder: retention removes nothing there; or no longer',
    body: Hold,
  },

  drafts: {
    method: 'GET',
    path: '/api/drafts',
    right: 'signed in',
    summary: 'Drafts that are open, interrupted or closed unsaved: mine, and open ones in shares that I manage',
    answer: z.array(Draft),
  },
  draft: {
    method: 'GET',
    path: '/api/drafts/:draftId',
    right: 'own',
    summary: 'A draft with the records of its recovery points',
    answer: DraftContent,
  },
  points: {
    method: 'GET',
    path: '/api/drafts/:draftId/points',
    right: 'own',
    summary: 'The recovery points of one’s own draft, without what they hold',
    answer: z.array(PointOutline),
  },
  heartbeat: {
    method: 'PUT',
    path: '/api/drafts/:draftId',
    right: 'own',
    summary: 'A draft is open on a device',
    body: Heartbeat,
    answer: PointTaken,
  },
  point: {
    method: 'POST',
    largest: 64_000_000,
    packed: true,
    path: '/api/drafts/:draftId/points',
    right: 'own',
    summary: 'Take a recovery point',
    body: NewPoint,
    answer: PointTaken,
  },
  takeOver: {
    method: 'POST',
    path: '/api/drafts/:draftId/writer',
    right: 'own',
    summary: 'Go on with a draft of mine here: whoever wrote it before writes it no more',
    body: TakeOver,
    answer: TakenOver,
  },
  askForPoint: {
    method: 'POST',
    path: '/api/drafts/:draftId/ask',
    right: 'own',
    summary: 'Ask the device that has a draft open for a recovery point now',
    answer: Draft,
  },
  noteSafeCopy: {
    method: 'POST',
    path: '/api/drafts/:draftId/safe-copy',
    right: 'own',
    summary: 'Note that a safe copy of this work was saved',
  },
  room: {
    method: 'GET',
    path: '/api/drafts/room',
    right: 'signed in',
    summary: 'The room that my unsaved work takes on shared storage, and what went to make room',
    answer: Room,
  },
  activity: {
    method: 'GET',
    path: '/api/activity',
    right: 'signed in',
    summary: "What was done with other people's unsaved work, for them and for the managers of its share",
    answer: z.array(Activity),
  },
  protection: {
    method: 'GET',
    path: '/api/protection',
    right: 'signed in',
    summary: 'Every setting that has a say in how often a file or new work in a place is protected',
    query: z.object({
      kind: z.enum(['document', 'spreadsheet']),
      fileId: z.uuid().optional(),
      shareId: z.uuid().optional(),
      folderId: z.uuid().optional(),
    }),
    answer: z.array(ProtectionLayer),
  },
  setProtection: {
    method: 'PUT',
    path: '/api/protection',
    right: 'signed in',
    summary: 'Set my own protection for a kind, a share, a folder or a file',
    body: OwnProtection,
  },
  managedProtection: {
    method: 'GET',
    path: '/api/protection/places',
    right: 'signed in',
    summary: 'What is set for everyone in the shares that I manage',
    answer: z.array(PlaceProtection),
  },
  setPlaceProtection: {
    method: 'PUT',
    path: '/api/protection/places',
    right: 'manage',
    summary: 'Set protection and its bounds for everyone in a share or folder',
    body: PlaceProtection,
  },
  drills: {
    method: 'GET',
    path: '/api/drills',
    right: 'signed in',
    summary: 'My recovery drills, the last one first',
    answer: z.array(Drill),
  },
  newDrill: {
    method: 'POST',
    path: '/api/drills',
    right: 'signed in',
    summary: 'Keep the report of a recovery drill',
    body: NewDrill,
    answer: Drill,
  },
  endDraft: {
    method: 'POST',
    path: '/api/drafts/:draftId/end',
    right: 'own',
    summary: 'Close a draft, let it go, or call it back',
    body: DraftEnd,
    answer: Draft,
  },

  auditLog: {
    method: 'GET',
    path: '/api/audit-log',
    right: 'administrator',
    summary: 'What was done to accounts, rights and holds: for administrators',
    query: z.object({ before: z.uuid().optional() }),
    answer: z.array(AuditEntry),
  },

  events: {
    method: 'GET',
    path: '/api/events',
    right: 'signed in',
    summary: 'News, as server-sent events',
    answer: 'events',
  },
})
export type Api = typeof api
