// The records of separated values (RFC 4180), with what each field was written as: text that holds a separator, a quote or
// an end of line stands in quotes, in which a quote is doubled. What the RFC leaves open is read as it was meant.

export interface Field {
  text: string
  quoted: boolean
}
export interface CsvRecord {
  fields: Field[]
  /** Where it stands in the text, without what ends it. */
  from: number
  to: number
  /** What ends it; empty for the last one of a text that ends without. */
  end: string
}

/**
 * @param most records; after these nothing is read
 * @returns none for an empty text
 */
export function recordsOf(text: string, separator: string, most = Number.POSITIVE_INFINITY): CsvRecord[] {
  const records: CsvRecord[] = []
  const plainEnd = new RegExp(`[${separator === '|' ? '\\|' : separator}\r\n]`, 'g')
  let at = 0
  while (at < text.length && records.length < most) {
    const from = at
    const fields: Field[] = []
    for (;;) {
      let said = ''
      const quoted = text[at] === '"'
      if (quoted) {
        at++
        for (;;) {
          const close = text.indexOf('"', at)
          said += text.slice(at, close < 0 ? text.length : close)
          at = close < 0 ? text.length : close + 1
          if (close < 0 || text[at] !== '"') break
          said += '"'
          at++
        }
      }
      // What follows a closing quote belongs to the field all the same.
      plainEnd.lastIndex = at
      const stop = plainEnd.exec(text)?.index ?? text.length
      said += text.slice(at, stop)
      at = stop
      fields.push({ text: said, quoted })
      if (text[at] !== separator) break
      at++
    }
    const to = at
    if (text[at] === '\r') at++
    if (text[at] === '\n') at++
    records.push({ fields, from, to, end: text.slice(to, at) })
  }
  return records
}

/** A field as it is written. */
export function written(text: string, separator: string, always: boolean): string {
  const needs = always || text.includes(separator) || /["\r\n]/.test(text) || /^\s|\s$/.test(text)
  return needs ? `"${text.replaceAll('"', '""')}"` : text
}
