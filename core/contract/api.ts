// Every request Jaula answers, once: the server mounts these, the pages call these, and
// the OpenAPI description is made from these.
import { z } from 'zod'
import { accountEndpoints } from './api-accounts'
import { copyEndpoints } from './api-copies'
import { draftEndpoints } from './api-drafts'
import { intakeEndpoints } from './api-intake'
import { linkEndpoints } from './api-links'
import { namingEndpoints } from './api-naming'
import { paperEndpoints } from './api-paper'
import { placeEndpoints } from './api-places'
import { printingEndpoints } from './api-printing'
import { retentionEndpoints } from './api-retention'
import { rightEndpoints } from './api-rights'
import { sendingEndpoints } from './api-sending'
import { versionEndpoints } from './api-versions'
import { AuditEntry } from './audit'
import type { Endpoint } from './endpoint'

export type { Endpoint } from './endpoint'

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
  ...accountEndpoints,
  ...rightEndpoints,
  ...linkEndpoints,
  ...sendingEndpoints,
  ...placeEndpoints,
  ...namingEndpoints,
  ...versionEndpoints,
  ...copyEndpoints,
  ...intakeEndpoints,
  ...retentionEndpoints,
  ...draftEndpoints,
  ...paperEndpoints,
  ...printingEndpoints,
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
