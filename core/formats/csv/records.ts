// The records of separated values (RFC 4180), with what each field was written as: text that holds a separator, a quote or
// an end of line stands in quotes, in which a quote is doubled. What the RFC leaves open is read as it was meant.

export interface Field {
  text: string
  quoted: boolean
}
export interface CsvLine {
  /** Where it stands in the text, without what ends it. */
  from: number
  to: number
  /** What ends it; empty for the last one of a text that ends without. */
  end: string
}
export interface CsvRecord extends CsvLine {
  fields: Field[]
}

/**
 * Goes through the records of a text.
 * @param most records; after these nothing is read
 * @param take is called with each: its fields, and which of them stood in quotes, in arrays that are filled anew for the next
 * @returns how many there were
 */
export function eachRecord(
  text: string,
  separator: string,
  most: number,
  take: (fields: readonly string[], quoted: readonly boolean[], line: CsvLine) => void,
): number {
  const fields: string[] = []
  const quoted: boolean[] = []
  const { length } = text
  const separatorCode = separator.charCodeAt(0)
  // Where the next of each stands: looked for again only when it was passed.
  let nextSeparator = -1
  let nextFeed = -1
  let nextReturn = -1
  const next = (sign: string, known: number, at: number): number => {
    if (known >= at) return known
    const found = text.indexOf(sign, at)
    return found < 0 ? length : found
  }
  let at = 0
  let count = 0
  for (; at < length && count < most; count++) {
    const from = at
    let field = 0
    for (;;) {
      let said = ''
      const isQuoted = text.charCodeAt(at) === 34
      if (isQuoted) {
        at++
        for (;;) {
          const close = text.indexOf('"', at)
          said += text.slice(at, close < 0 ? length : close)
          at = close < 0 ? length : close + 1
          if (close < 0 || text.charCodeAt(at) !== 34) break
          said += '"'
          at++
        }
      }
      // What follows a closing quote belongs to the field all the same.
      nextSeparator = next(separator, nextSeparator, at)
      nextFeed = next('\n', nextFeed, at)
      nextReturn = next('\r', nextReturn, at)
      const stop = Math.min(nextSeparator, nextFeed, nextReturn)
      fields[field] = isQuoted ? said + text.slice(at, stop) : text.slice(at, stop)
      quoted[field++] = isQuoted
      at = stop
      if (text.charCodeAt(at) !== separatorCode) break
      at++
    }
    fields.length = field
    quoted.length = field
    const to = at
    if (text.charCodeAt(at) === 13) at++
    if (text.charCodeAt(at) === 10) at++
    take(fields, quoted, { from, to, end: text.slice(to, at) })
  }
  return count
}

/** @param most records; after these nothing is read @returns none for an empty text */
export function recordsOf(text: string, separator: string, most = Number.POSITIVE_INFINITY): CsvRecord[] {
  const records: CsvRecord[] = []
  eachRecord(text, separator, most, (fields, quoted, line) =>
    records.push({ ...line, fields: fields.map((text, at) => ({ text, quoted: quoted[at]! })) }),
  )
  return records
}

/** A field as it is written. */
export function written(text: string, separator: string, always: boolean): string {
  const needs = always || text.includes(separator) || /["\r\n]/.test(text) || /^\s|\s$/.test(text)
  return needs ? `"${text.replaceAll('"', '""')}"` : text
}
