// Folders and what lies in them: looked at, found, and moved by acts that can be undone.
import { z } from 'zod'
import type { Endpoint } from './endpoint'
import {
  ActResult,
  ChangedFile,
  Defaults,
  Entry,
  ListKind,
  ListOrder,
  NewAct,
  NewFolder,
  Place,
  RecentFile,
  RecentPlace,
  RemovedEntry,
  Share,
} from './files'
import { PastAnswer, PastQuery, SearchAnswer } from './search'
import { largestInteger } from './text'

export const placeEndpoints = {
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
  searchPast: {
    method: 'GET',
    path: '/api/past',
    right: 'signed in',
    summary: 'In which versions words came into a file and went, in one file or in all of a place that lost them',
    query: PastQuery,
    answer: PastAnswer,
  },
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
} as const satisfies Record<string, Endpoint>
