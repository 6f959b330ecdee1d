// Every request Jaula answers, once: the server mounts these, the pages call these, and
// the OpenAPI description is made from these.
import { z } from 'zod'
import { Draft, DraftContent, DraftEnd, Heartbeat, NewPoint, PointTaken } from './drafts'
import { Entry, FileFacts, NewFile, NewFolder, NextVersion, Place, RecentFile, Saved, Share } from './files'
import { FirstAdministrator, Session, Settings, SignIn } from './people'

export interface Endpoint {
  method: 'GET' | 'POST' | 'PUT' | 'DELETE'
  /** With `:name` for the parameters, which are all UUIDs. */
  path: string
  summary: string
  query?: z.ZodObject
  /** A schema for JSON, `bytes` for a file's exact bytes. */
  body?: z.ZodType | 'bytes'
  /** A schema for JSON, `bytes` for a file's exact bytes, `events` for a stream, absent for nothing. */
  answer?: z.ZodType | 'bytes' | 'events'
  /** Also for people who are not signed in. */
  open?: boolean
}

const define = <const T extends Record<string, Endpoint>>(endpoints: T) => endpoints

const Health = z.object({ ok: z.boolean(), database: z.boolean(), version: z.string(), at: z.iso.datetime() })

export const api = define({
  health: {
    method: 'GET',
    path: '/api/health',
    summary: 'Whether the server and its database answer',
    answer: Health,
    open: true,
  },
  session: { method: 'GET', path: '/api/session', summary: 'Who is signed in', answer: Session, open: true },
  signIn: { method: 'POST', path: '/api/session', summary: 'Sign in', body: SignIn, answer: Session, open: true },
  signOut: { method: 'DELETE', path: '/api/session', summary: 'Sign out', open: true },
  firstAdministrator: {
    method: 'POST',
    path: '/api/first-administrator',
    summary: 'Make the first account and share of an empty Jaula',
    body: FirstAdministrator,
    answer: Session,
    open: true,
  },
  settings: { method: 'GET', path: '/api/settings', summary: 'My settings', answer: Settings },
  setSettings: {
    method: 'PUT',
    path: '/api/settings',
    summary: 'Change my settings',
    body: Settings,
    answer: Settings,
  },

  shares: { method: 'GET', path: '/api/shares', summary: 'Shares I am a member of', answer: z.array(Share) },
  place: {
    method: 'GET',
    path: '/api/shares/:shareId/entries',
    summary: 'What a share or a folder holds',
    query: z.object({ folderId: z.uuid().optional() }),
    answer: Place,
  },
  newFolder: { method: 'POST', path: '/api/folders', summary: 'New folder', body: NewFolder, answer: Entry },
  recent: { method: 'GET', path: '/api/recent', summary: 'Files I used last', answer: z.array(RecentFile) },
  file: {
    method: 'GET',
    path: '/api/files/:fileId',
    summary: 'A file, where it is and its versions',
    answer: FileFacts,
  },
  newFile: {
    method: 'POST',
    path: '/api/files',
    summary: 'Save a new file: the body is its exact bytes',
    query: NewFile,
    body: 'bytes',
    answer: Saved,
  },
  nextVersion: {
    method: 'POST',
    path: '/api/files/:fileId/versions',
    summary: "Save a file's next version: the body is its exact bytes",
    query: NextVersion,
    body: 'bytes',
    answer: Saved,
  },
  restore: {
    method: 'POST',
    path: '/api/versions/:versionId/restore',
    summary: 'Make an earlier version the newest one, as a new version',
    body: z.object({ key: z.uuid(), baseId: z.uuid() }),
    answer: Saved,
  },
  bytes: { method: 'GET', path: '/api/versions/:versionId/bytes', summary: "A version's exact bytes", answer: 'bytes' },

  drafts: {
    method: 'GET',
    path: '/api/drafts',
    summary: 'My drafts that are open, interrupted or closed unsaved',
    answer: z.array(Draft),
  },
  draft: {
    method: 'GET',
    path: '/api/drafts/:draftId',
    summary: 'A draft with the records of its recovery points',
    answer: DraftContent,
  },
  heartbeat: {
    method: 'PUT',
    path: '/api/drafts/:draftId',
    summary: 'A draft is open on a device',
    body: Heartbeat,
    answer: PointTaken,
  },
  point: {
    method: 'POST',
    path: '/api/drafts/:draftId/points',
    summary: 'Take a recovery point',
    body: NewPoint,
    answer: PointTaken,
  },
  endDraft: {
    method: 'POST',
    path: '/api/drafts/:draftId/end',
    summary: 'Close a draft, let it go, or call it back',
    body: DraftEnd,
    answer: Draft,
  },

  events: { method: 'GET', path: '/api/events', summary: 'News, as server-sent events', answer: 'events' },
})
export type Api = typeof api
