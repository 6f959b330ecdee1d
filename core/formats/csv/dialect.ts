// How separated values are written: nobody says it in the file, so it is recognised, and can be said otherwise.
import { z } from 'zod'
import { decoded, encodingOf, encodings } from '../text/encoding'
import { type CsvRecord, recordsOf } from './records'

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

/** What is looked at to recognise it. */
const lookedAt = 200_000
const most = 2000

/** How well a separator explains the text: records of one width, of more than one field. */
function evenness(records: readonly CsvRecord[]): number {
  const widths = new Map<number, number>()
  let filled = 0
  for (const { fields, from, to } of records) {
    if (from === to) continue
    filled++
    widths.set(fields.length, (widths.get(fields.length) ?? 0) + 1)
  }
  let best = 0
  for (const [width, count] of widths)
    if (width > 1) best = Math.max(best, (count / filled) ** 2 * Math.min(4, Math.log2(width) + 1))
  return best
}

/** @param type the file's ending, which decides where the text does not */
export function recogniseDialect(bytes: Uint8Array, type: string): CsvDialect {
  const encoding = encodingOf(bytes)
  const whole = decoded(bytes.subarray(0, lookedAt), encoding)
  // A letter that was cut through, and a record that was, say nothing.
  const cut = bytes.length > lookedAt ? Math.max(whole.lastIndexOf('\n'), whole.lastIndexOf('\r')) : -1
  const text = cut > 0 ? whole.slice(0, cut + 1) : whole
  let separator: CsvDialect['separator'] = type === 'tsv' ? '\t' : ','
  let records = recordsOf(text, separator, most)
  let best = evenness(records)
  for (const other of [';', '\t', '|', ','] as const) {
    const found = recordsOf(text, other, most)
    const even = evenness(found)
    if (even > best + 1e-9) {
      best = even
      separator = other
      records = found
    }
  }
  const fields = records.flatMap((record) => record.fields)
  const count = (pattern: RegExp) => fields.reduce((sum, { text }) => sum + (pattern.test(text) ? 1 : 0), 0)
  const ends = new Map<string, number>()
  for (const { end } of records) if (end) ends.set(end, (ends.get(end) ?? 0) + 1)
  const end = [...ends].sort((a, b) => b[1] - a[1])[0]?.[0] ?? usualDialect.end
  const texts = fields.filter(({ text }) => text !== '' && !isPlainNumber.test(text))
  const allQuoted = fields.length > 0 && fields.every(({ text, quoted }) => quoted || text === '')
  const tail = decoded(bytes.subarray(-8), encoding === 'utf-8 with a mark' ? 'utf-8' : encoding)
  return {
    encoding,
    separator,
    quotes:
      allQuoted && fields.some(({ quoted }) => quoted)
        ? 'all'
        : texts.length > 1 && texts.every(({ quoted }) => quoted)
          ? 'texts'
          : 'needed',
    end: end as CsvDialect['end'],
    ended: records.length === 0 || /[\r\n]$/.test(tail),
    decimal: count(/^-?\d+,\d+$/) > count(/^-?\d+\.\d+$/) ? ',' : '.',
    dates:
      count(/^(?:0?[1-9]|1[0-2])([./-])(?:1[3-9]|2\d|3[01])\1\d{4}$/) > 0 &&
      count(/^(?:1[3-9]|2\d|3[01])([./-])\d{1,2}\1\d{4}$/) === 0
        ? 'month'
        : 'day',
  }
}
const isPlainNumber = /^-?\d+(?:[.,]\d+)?$/
