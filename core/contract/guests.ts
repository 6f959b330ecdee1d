import type { Api } from './api'

/**
 * What somebody may ask for who came by a link to write, of the files that it leads to, beside what anybody may; everything
 * else is refused.
 */
export const forGuests: ReadonlySet<keyof Api> = new Set([
  'settings',
  'file',
  'versions',
  'bytes',
  'nextVersion',
  'restore',
  'presence',
  'trace',
  'drafts',
  'draft',
  'points',
  'heartbeat',
  'point',
  'takeOver',
  'endDraft',
  'protection',
  'events',
])
