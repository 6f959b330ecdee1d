// Files and their versions.

import { z } from 'zod'
import { SaidOfList } from '../formats/csv/said'
import type { Endpoint } from './endpoint'
import { Entry, FileFacts, HistoryVersion, NewFile, NextVersion, Presence, Present, Saved } from './files'
import { Label, Trace, TracedPlace } from './history'
import { NewSideLists, NewSidePdf, SideLists } from './side-lists'
import { largestInteger } from './text'

export const versionEndpoints = {
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
  setReading: {
    method: 'PUT',
    path: '/api/files/:fileId/reading',
    right: 'edit',
    summary:
      'Say how the values of a list are written, where it was recognised as something else; what is not said is recognised',
    body: SaidOfList,
  },
  sideLists: {
    method: 'GET',
    path: '/api/files/:fileId/side-lists',
    right: 'view',
    summary:
      'Lists of its values, and PDFs, that are kept in step beside a file; or the file that this one is kept in step with',
    answer: SideLists,
  },
  newSideLists: {
    method: 'POST',
    path: '/api/files/:fileId/side-lists',
    right: 'edit',
    summary:
      'Put lists of the values of some sheets beside a spreadsheet, once or in step with each version: all or none',
    body: NewSideLists,
    answer: z.array(Entry),
  },
  newSidePdf: {
    method: 'POST',
    path: '/api/files/:fileId/side-pdf',
    right: 'edit',
    summary: 'Put a PDF of its newest version beside a document or spreadsheet, once or in step with each version',
    body: NewSidePdf,
    answer: Entry,
  },
  endSideList: {
    method: 'DELETE',
    path: '/api/side-lists/:sideListId',
    right: 'edit',
    summary: 'Keep a list, or a PDF, in step no longer; it stays as the file that it is',
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
} as const satisfies Record<string, Endpoint>
