import { z } from 'zod'
import { Entry, Version } from './files'
import { SaidShape, SentenceShape } from './text'

/**
 * Refusals, as RFC 9457 problem details. `type` is stable and is what programs test;
 * `title` is an English sentence; `says` is the same as its code and its facts, for whoever reads another language.
 */
export const problemTypes = [
  'invalid',
  'signed-out',
  'wrong-password',
  'second-factor',
  'too-many-attempts',
  'not-allowed',
  'not-found',
  'name-refused',
  'name-taken',
  'newer-version',
  'changed-meanwhile',
  'last-manager',
  'link-over',
  'convention-refused',
  'too-large',
  'checksum-differs',
  'no-room',
  'storage-unavailable',
  'unexpected',
] as const
export type ProblemType = (typeof problemTypes)[number]

export const Problem = z.object({
  type: z.enum(problemTypes),
  title: z.string(),
  says: SaidShape.optional(),
  status: z.number().int(),
  /** One sentence for each input that was wrong, by the input's name. */
  fields: z.record(z.string(), SentenceShape).optional(),
  /** name-taken: what has the name now, and the next free one. */
  entry: Entry.optional(),
  freeName: z.string().optional(),
  /** newer-version: the version that is there now. */
  head: Version.optional(),
  /** too-many-attempts: seconds to wait. */
  retryAfter: z.number().optional(),
})
export type Problem = z.infer<typeof Problem>
