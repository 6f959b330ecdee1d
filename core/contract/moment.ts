import { z } from 'zod'

export const Differs = z.enum(['removed', 'moved', 'renamed', 'changed', 'new'])

/** What is other than it was at the moment. */
export const MomentDifference = z.object({
  id: z.uuid(),
  kind: z.enum(['folder', 'file']),
  type: z.string(),
  differs: z.array(Differs).min(1),
  /** Its name then, or now where it is new, and the folders that it lay in. */
  name: z.string(),
  folders: z.array(z.string()),
  /** Its name now where that is another one. */
  nameNow: z.string().nullable(),
  /** The version of then and the one of now, of a file that was there. */
  version: z.object({ number: z.number().int(), at: z.iso.datetime(), author: z.string() }).nullable(),
  versionNow: z.object({ number: z.number().int(), at: z.iso.datetime(), author: z.string() }).nullable(),
  /** The version of then went by retention: the one before it is what there is. */
  nearest: z.boolean(),
  /** It was removed so long ago that it cannot be brought back. */
  gone: z.boolean(),
})
export type MomentDifference = z.infer<typeof MomentDifference>

export const Moment = z.object({
  /** Not all where there are very many. */
  differences: z.array(MomentDifference),
  inAll: z.number().int(),
  /** Of all of them, how many differ in which way. */
  counts: z.record(Differs, z.number().int()),
})
export type Moment = z.infer<typeof Moment>

/** How much was changed in a place, by stretches of ten minutes; those without changes are left out. */
export const PlaceChanges = z.object({
  /** When the place was made. */
  since: z.iso.datetime(),
  stretches: z.array(
    z.object({
      at: z.iso.datetime(),
      versions: z.number().int(),
      moves: z.number().int(),
      people: z.array(z.string()),
    }),
  ),
})
export type PlaceChanges = z.infer<typeof PlaceChanges>

export const MomentQuery = z.object({ at: z.iso.datetime(), folderId: z.uuid().optional() })
/** Brings back what was: all that differs but what is new, or these. */
export const ToMoment = z.object({
  /** The act's id: a repeated request finds it done. */
  id: z.uuid(),
  at: z.iso.datetime(),
  folderId: z.uuid().nullable(),
  entries: z.array(z.uuid()).min(1).max(100_000).nullable(),
})
