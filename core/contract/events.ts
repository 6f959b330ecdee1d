import { z } from 'zod'

/** News that the server sends to every open page that may know it. */
export const News = z.discriminatedUnion('about', [
  z.object({ about: z.literal('place'), shareId: z.uuid(), folderId: z.uuid().nullable() }),
  z.object({ about: z.literal('file'), shareId: z.uuid(), fileId: z.uuid(), versionId: z.uuid(), authorId: z.uuid() }),
  z.object({ about: z.literal('names'), shareId: z.uuid() }),
  /** What is found by words has changed. */
  z.object({ about: z.literal('words'), shareId: z.uuid() }),
  /** Copies of it were made, checked or asked for, or could not be. */
  z.object({ about: z.literal('copies'), shareId: z.uuid() }),
  /** Somebody has opened a file, or has it open no more. */
  z.object({ about: z.literal('presence'), shareId: z.uuid(), fileId: z.uuid() }),
  z.object({ about: z.literal('draft'), draftId: z.uuid(), personId: z.uuid() }),
  /** What became of a message that somebody sent is known now. */
  z.object({ about: z.literal('mail'), personId: z.uuid() }),
  /** Something that this person prints is elsewhere on its way. */
  z.object({ about: z.literal('printing'), personId: z.uuid() }),
  /** Somebody signed out, here or elsewhere. */
  z.object({ about: z.literal('session'), sessionId: z.uuid(), personId: z.uuid() }),
])
export type News = z.infer<typeof News>
