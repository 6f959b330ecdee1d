// A stream of the binary format is records: a type, a length, and up to 8,224 bytes ([MS-XLS] §2.1.4). What is longer
// goes on in records that follow.

export const record = {
  formula: 0x06,
  endOfPart: 0x0a,
  sheetProtection: 0x12,
  header: 0x14,
  footer: 0x15,
  externSheet: 0x17,
  name: 0x18,
  columnBreaks: 0x1a,
  rowBreaks: 0x1b,
  note: 0x1c,
  date1904: 0x22,
  externName: 0x23,
  filePass: 0x2f,
  font: 0x31,
  goesOn: 0x3c,
  pane: 0x41,
  codePage: 0x42,
  defaultWidth: 0x55,
  object: 0x5d,
  columns: 0x7d,
  bound: 0x85,
  palette: 0x92,
  filter: 0x9d,
  shortNumbers: 0xbd,
  blanks: 0xbe,
  table: 0xb0,
  indexOfRows: 0xd7,
  format: 0xe0,
  merged: 0xe5,
  strings: 0xfc,
  text: 0xfd,
  stringIndex: 0xff,
  calculated: 0x1c1,
  supBook: 0x1ae,
  conditions: 0x1b0,
  rule: 0x1be,
  link: 0x1b8,
  size: 0x200,
  blank: 0x201,
  number: 0x203,
  label: 0x204,
  truthOrError: 0x205,
  string: 0x207,
  row: 0x208,
  index: 0x20b,
  array: 0x221,
  dataTable: 0x236,
  window: 0x23e,
  shortNumber: 0x27e,
  numberFormat: 0x41e,
  shared: 0x4bc,
  begin: 0x809,
  feature: 0x872,
  feature12: 0x878,
} as const

export interface BiffRecord {
  type: number
  /** Where it begins in its stream, with its head. */
  from: number
  to: number
  data: Uint8Array
}

/** The records from a place on, one after the other; one that ends behind the stream is the last. */
export function* recordsOf(stream: Uint8Array, from = 0): Generator<BiffRecord> {
  let at = from
  while (at + 4 <= stream.length) {
    const type = stream[at]! | (stream[at + 1]! << 8)
    const length = stream[at + 2]! | (stream[at + 3]! << 8)
    const to = Math.min(stream.length, at + 4 + length)
    // Some programs fill a stream up with zeros.
    if (type === 0 && length === 0) return
    yield { type, from: at, to, data: stream.subarray(at + 4, to) }
    at = to
  }
}

export const viewOf = (data: Uint8Array): DataView => new DataView(data.buffer, data.byteOffset, data.byteLength)

/** A number in two bytes, and in four, the lowest one first. */
export const short = (value: number) => [value & 0xff, (value >>> 8) & 0xff]
export const long = (value: number) => [...short(value & 0xffff), ...short(value >>> 16)]

/** The longest record. */
export const mostInRecord = 8224

export function written(type: number, data: ArrayLike<number> = []): Uint8Array {
  const bytes = new Uint8Array(4 + data.length)
  bytes[0] = type & 0xff
  bytes[1] = type >> 8
  bytes[2] = data.length & 0xff
  bytes[3] = data.length >> 8
  bytes.set(data, 4)
  return bytes
}
