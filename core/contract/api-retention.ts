// What was there at a moment, and how long versions are kept.
import { z } from 'zod'
import type { Endpoint } from './endpoint'
import { ActResult } from './files'
import { Hold, PlaceRule, Retention, RetentionPreview } from './history'
import { Moment, MomentQuery, PlaceChanges, ToMoment } from './moment'

export const retentionEndpoints = {
  placeChanges: {
    method: 'GET',
    path: '/api/shares/:shareId/changes',
    right: 'view',
    summary: 'How much was changed in a share or folder, by stretches of ten minutes',
    query: z.object({ folderId: z.uuid().optional() }),
    answer: PlaceChanges,
  },
  moment: {
    method: 'GET',
    path: '/api/shares/:shareId/moment',
    right: 'view',
    summary: 'What of a share or folder is other than at a moment',
    query: MomentQuery,
    answer: Moment,
  },
  toMoment: {
    method: 'POST',
    path: '/api/shares/:shareId/moment',
    right: 'edit',
    summary: 'Bring back what was at a moment, as one act that can be undone',
    body: ToMoment,
    largest: 8_000_000,
    answer: ActResult,
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
} as const satisfies Record<string, Endpoint>
