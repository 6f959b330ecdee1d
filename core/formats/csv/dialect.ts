// How separated values are written: nobody says it in the file, so it is recognised, and can be said otherwise (said.ts).
import { z } from 'zod'
import { decoded, encodingOf, encodings, isGuessed, lettersOfUtf8 } from '../text/encoding'
import { type CsvLine, type CsvRecord, recordsOf } from './records'
import type { SaidOfList } from './said'

export const CsvDialect = z.object({
  encoding: z.enum(encodings),
  separator: z.enum([',', ';', '\t', '|']),
  /** Which fields stand in quotes beside those that need them. */
  quotes: z.enum(['needed', 'texts', 'all']),
  end: z.enum(['\r\n', '\n', '\r']),
  /** The last record has an end, too. */
  ended: z.boolean(),
  decimal: z.enum(['.', ',']),
  /** Which comes first in a date of three numbers; one that begins with its year is that. */
  dates: z.enum(['day', 'month']),
  /** A text that a program could take for a formula stands behind an apostrophe (values.ts). */
  guarded: z.literal(true).optional(),
})
export type CsvDialect = z.infer<typeof CsvDialect>

export const usualDialect: CsvDialect = {
  encoding: 'utf-8',
  separator: ',',
  quotes: 'needed',
  end: '\r\n',
  ended: true,
  decimal: '.',
  dates: 'day',
}

/** How a new list of a type is written. */
export const dialectOf = (type: string): CsvDialect =>
  type === 'tsv' ? { ...usualDialect, separator: '\t' } : usualDialect

/** What is looked at to recognise it. */
const lookedAt = 200_000
const most = 2000

/** Whether quotes stand where none can, as in fields that were parted inside of them. */
const isTorn = (fields: CsvRecord['fields'], separator: string, whole: string): boolean =>
  whole.includes('"') &&
  (fields.some(({ text, quoted }) => !quoted && text.includes('"')) ||
    fields.map(({ text, quoted }) => (quoted ? `"${text.replaceAll('"', '""')}"` : text)).join(separator) !== whole)

/** How well a separator explains the text: records of one width, of more than one field. */
function evenness(records: readonly CsvRecord[], separator: string, text: string): number {
  const widths = new Map<number, number>()
  let filled = 0
  for (const { fields, from, to } of records) {
    if (from === to) continue
    filled++
    if (isTorn(fields, separator, text.slice(from, to))) continue
    widths.set(fields.length, (widths.get(fields.length) ?? 0) + 1)
  }
  let best = 0
  for (const [width, count] of widths)
    if (width > 1) best = Math.max(best, (count / filled) ** 2 * Math.min(4, Math.log2(width) + 1))
  return best
}

/** What the text of a list does not decide, with what of it could be either. */
export interface Doubts {
  separator?: CsvDialect['separator']
  decimal?: string
  dates?: string
  /** Letters of another encoding than the one that it is read in. */
  mixed?: number
}

/** Whether the last record has an end, too. */
export const isEnded = (records: readonly CsvLine[]): boolean => records.at(-1)?.end !== ''

/**
 * How it is written, and what of that nothing in it says.
 * @param type the file's ending, which decides where the text does not
 * @param said what somebody said of it, where it was recognised as something else, or could be either
 */
export function lookAt(
  bytes: Uint8Array,
  type: string,
  said: SaidOfList = {},
): { dialect: CsvDialect; doubts: Doubts } {
  // What a mark says is so, whatever somebody says.
  const found = encodingOf(bytes)
  const encoding = isGuessed(found) ? (said.encoding ?? found) : found
  const whole = decoded(bytes.subarray(0, lookedAt), encoding)
  // A letter that was cut through, and a record that was, say nothing.
  const cut = bytes.length > lookedAt ? Math.max(whole.lastIndexOf('\n'), whole.lastIndexOf('\r')) : -1
  const text = cut > 0 ? whole.slice(0, cut + 1) : whole
  const usual: CsvDialect['separator'] = type === 'tsv' ? '\t' : ','
  const others = ([';', '\t', '|', ','] as const).filter((one) => one !== usual)
  const ways = [usual, ...others].map((separator) => {
    const records = recordsOf(text, separator, most)
    return { separator, records, even: evenness(records, separator, text) }
  })
  // The usual one where they explain it as well; an unstable order would be another answer for the same text.
  const byEvenness = ways.toSorted((a, b) => (Math.abs(b.even - a.even) > 1e-9 ? b.even - a.even : 0))
  const { separator, records, even } = said.separator
    ? ways.find((one) => one.separator === said.separator)!
    : byEvenness[0]!
  const second = said.separator ? undefined : byEvenness[1]
  const fields = records.flatMap((record) => record.fields)
  const count = (pattern: RegExp) => fields.reduce((sum, { text }) => sum + (pattern.test(text) ? 1 : 0), 0)
  const first = (pattern: RegExp) => fields.find(({ text }) => pattern.test(text))?.text
  const ends = new Map<string, number>()
  for (const { end } of records) if (end) ends.set(end, (ends.get(end) ?? 0) + 1)
  const end = [...ends].sort((a, b) => b[1] - a[1])[0]?.[0] ?? usualDialect.end
  const texts = fields.filter(({ text }) => text !== '' && !isPlainNumber.test(text))
  const allQuoted = fields.length > 0 && fields.every(({ text, quoted }) => quoted || text === '')
  const tail = decoded(bytes.subarray(-8), encoding === 'utf-8 with a mark' ? 'utf-8' : encoding)
  const [commas, points] = [count(/^-?\d+,\d+$/), count(/^-?\d+\.\d+$/)]
  const monthFirst = count(/^(?:0?[1-9]|1[0-2])([./-])(?:1[3-9]|2\d|3[01])\1\d{4}$/)
  const dayFirst = count(/^(?:1[3-9]|2\d|3[01])([./-])\d{1,2}\1\d{4}$/)
  const dialect: CsvDialect = {
    encoding,
    separator,
    quotes:
      allQuoted && fields.some(({ quoted }) => quoted)
        ? 'all'
        : texts.length > 1 && texts.every(({ quoted }) => quoted)
          ? 'texts'
          : 'needed',
    end: end as CsvDialect['end'],
    // An end of line in a quote that is never closed ends no record.
    ended: bytes.length > lookedAt || records.length === most ? /[\r\n]$/.test(tail) : isEnded(records),
    decimal: said.decimal ?? (commas > points ? ',' : '.'),
    dates: said.dates ?? (monthFirst > 0 && dayFirst === 0 ? 'month' : 'day'),
    ...(said.guarded && { guarded: true as const }),
  }
  const doubts: Doubts = {}
  if (second && even > 0 && second.even > even * 0.8) doubts.separator = second.separator
  // Thousands and thousandths look alike.
  const both = commas + points > 0 && fields.every(({ text }) => !/^-?\d+[.,]\d+$/.test(text) || isThousands.test(text))
  const number = said.decimal || !both ? undefined : first(isThousands)
  if (number) doubts.decimal = number
  // Other letters than it is said to have would be said to be right.
  const mixed = !said.encoding && encoding === 'windows-1252' ? lettersOfUtf8(bytes) : 0
  if (mixed) doubts.mixed = mixed
  const date = said.dates || monthFirst > 0 !== dayFirst > 0 ? undefined : first(isEitherDate)
  if (date) doubts.dates = date
  return { dialect, doubts }
}
/** With full stops the day comes first wherever they are written so. */
const isEitherDate = /^(?:0?[1-9]|1[0-2])([/-])(?:0?[1-9]|1[0-2])\1\d{4}$/
const isThousands = /^-?[1-9]\d{0,2}[.,]\d{3}$/
const isPlainNumber = /^-?\d+(?:[.,]\d+)?$/
