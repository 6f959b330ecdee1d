// Controlled lists as CSV (RFC 4180): a header, then code, label and whether the value is retired.
import Papa from 'papaparse'
import type { ListValue } from '../contract/naming'
import { type Sentence, say } from '../words/said'
import { checkListValues } from './rules'

const yes = /^(?:yes|true|1|x|retired)$/i
const no = /^(?:no|false|0|)$/i

// A spreadsheet program calculates what begins like a formula. An apostrophe before it keeps it text, and is taken off
// again when the list is read back (OWASP, CSV Injection).
const asText = (value: string) => (/^'*[=+\-@\t\r]/.test(value) ? `'${value}` : value)
const asItWas = (value: string) => (/^'+[=+\-@\t\r]/.test(value) ? value.slice(1) : value)

/** A list's values as CSV text. */
export const listToCsv = (values: readonly ListValue[]): string =>
  `${Papa.unparse({ fields: ['code', 'label', 'retired'], data: values.map(({ code, label, retired }) => [asText(code), asText(label), retired ? 'yes' : 'no']) }, { newline: '\r\n', quotes: false })}\r\n`

/**
 * Values from CSV text: all of them, or the faults with their lines and none.
 * Lines are counted as a text editor counts them where no value holds a line break.
 */
export function listFromCsv(text: string): { values: ListValue[] } | { faults: { line: number; reason: Sentence }[] } {
  const parsed = Papa.parse<string[]>(text.replace(/^\ufeff/, ''), { skipEmptyLines: 'greedy' })
  const rows = parsed.data
  const faults: { line: number; reason: Sentence }[] = parsed.errors
    .filter(({ code }) => code !== 'UndetectableDelimiter')
    .map(({ row, message }) => ({ line: (row ?? 0) + 1, reason: message.endsWith('.') ? message : `${message}.` }))
  if (faults.length) return { faults }
  if (!rows.length) return { faults: [{ line: 1, reason: say('naming.there-is-nothing-in-this-file') }] }
  const head = rows[0]!.map((cell) => cell.trim().toLowerCase())
  const hasHead = head.includes('code')
  const column = {
    code: hasHead ? head.indexOf('code') : 0,
    label: hasHead ? head.indexOf('label') : 1,
    retired: hasHead ? head.indexOf('retired') : 2,
  }
  const values: ListValue[] = []
  const first = hasHead ? 1 : 0
  for (const [index, row] of rows.slice(first).entries()) {
    const line = index + first + 1
    const cell = (at: number) => asItWas((at >= 0 ? (row[at] ?? '') : '').trim())
    const retired = cell(column.retired)
    if (!yes.test(retired) && !no.test(retired))
      faults.push({ line, reason: say('naming.does-not-say-whether-the-value-is', { retired }) })
    if (cell(column.code).length > 40) faults.push({ line, reason: say('naming.the-code-is-longer-than-40-letters') })
    if (cell(column.label).length > 80) faults.push({ line, reason: say('naming.the-label-is-longer-than-80-letters') })
    if (row.length > 3 && !hasHead)
      faults.push({ line, reason: say('naming.this-line-has-values-a-list-has', { row: row.length }) })
    values.push({ code: cell(column.code), label: cell(column.label), retired: yes.test(retired) })
  }
  for (const { row, reason } of checkListValues(values, first)) faults.push({ line: row + first + 1, reason })
  return faults.length ? { faults: faults.sort((a, b) => a.line - b.line) } : { values }
}
