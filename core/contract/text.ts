// Bounds of what a request may carry. Every text has a longest, every number fits where it is kept.
import { z } from 'zod'
import type { Code } from '../words/en'
import type { Said, Sentence } from '../words/said'

/** The largest number of a PostgreSQL integer. */
export const largestInteger = 2_147_483_647
/** A name as somebody typed it, before it is checked: names that are kept are shorter (core/naming/check.ts). */
export const longestName = 1000
/** A sentence, or a value in a cell. */
export const longestSentence = 10_000

export const anyName = z.string().max(longestName, 'contract.name-too-long' satisfies Code)
export const whole = z.number().int().max(largestInteger)
export const count = whole.min(0)

/** A lone half of a letter, which no UTF-8 has, or the one letter that PostgreSQL keeps in no text. */
const unkept = /\0|[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/
/** Whether a text can be kept as it is: it has no NUL and no lone surrogate. */
export const canBeKept = (text: string): boolean => !unkept.test(text)

/**
 * Words that a device says of its work. They are put right instead of being refused: what somebody wrote is not to be
 * without a recovery point because its first words end in half a letter.
 */
export const described = (longest: number) =>
  z
    .string()
    .max(longest * 2)
    .transform((text) => text.replace(new RegExp(unkept, 'g'), '').slice(0, longest).toWellFormed())

/** A time by a device's clock, whatever that says: one that no calendar of the server has becomes its beginning. */
export const deviceTime = z.iso.datetime().transform((text) => {
  const time = new Date(text)
  return time.getTime() >= Date.UTC(1, 0, 1) && time.getTime() < Date.UTC(9999, 0, 1)
    ? text
    : '1970-01-01T00:00:00.000Z'
})

/** A sentence as code and facts (core/words/said.ts); whoever knows the code says it. */
export const SaidShape = z.custom<Said>(
  (value) => typeof value === 'object' && value !== null && 'say' in value && typeof value.say === 'string',
)
export const SentenceShape: z.ZodType<Sentence> = z.union([z.string(), SaidShape])
