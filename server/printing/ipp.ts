// Messages to and from printers as bytes (RFC 8010, section 3). Whatever a printer answers is read within its bounds.

/** Kinds of values (RFC 8010, section 3.5.2). */
const tags = {
  unsupported: 0x10,
  unknown: 0x12,
  'no-value': 0x13,
  integer: 0x21,
  boolean: 0x22,
  enum: 0x23,
  octets: 0x30,
  date: 0x31,
  resolution: 0x32,
  range: 0x33,
  collection: 0x34,
  'text-in': 0x35,
  'name-in': 0x36,
  end: 0x37,
  text: 0x41,
  name: 0x42,
  keyword: 0x44,
  uri: 0x45,
  'uri-scheme': 0x46,
  charset: 0x47,
  language: 0x48,
  mime: 0x49,
  member: 0x4a,
} as const
type Kind = Exclude<keyof typeof tags, 'end' | 'member'>
const kinds = new Map<number, Kind>(Object.entries(tags).map(([kind, tag]) => [tag, kind as Kind]))

export type IppValue =
  | { kind: 'integer' | 'enum'; value: number }
  | { kind: 'boolean'; value: boolean }
  | { kind: 'range'; value: readonly [number, number] }
  | { kind: 'collection'; value: Attributes }
  | {
      kind: 'text' | 'name' | 'keyword' | 'uri' | 'uri-scheme' | 'charset' | 'language' | 'mime'
      value: string
    }
  /** Others, as they came. */
  | { kind: 'octets' | 'date' | 'resolution'; value: Uint8Array }
  | { kind: 'unsupported' | 'unknown' | 'no-value'; value: null }
export type Attributes = Map<string, readonly IppValue[]>
/** Groups of attributes (RFC 8010, section 3.5.1). */
export const groups = { operation: 1, job: 2, printer: 4, unsupported: 5 } as const
const endOfAttributes = 3

export interface IppMessage {
  version: readonly [number, number]
  /** What is asked for, or how it went. */
  code: number
  id: number
  groups: readonly { group: number; attributes: Attributes }[]
  data: Uint8Array
}
/** Bytes that are no message. */
export class NoMessage extends Error {}

const deepest = 8
const textKinds = ['text', 'name', 'keyword', 'uri', 'uri-scheme', 'charset', 'language', 'mime'] as const
const isText = (kind: Kind): kind is (typeof textKinds)[number] => (textKinds as readonly Kind[]).includes(kind)

export const integer = (value: number): IppValue => ({ kind: 'integer', value })
export const enumerated = (value: number): IppValue => ({ kind: 'enum', value })
export const boolean = (value: boolean): IppValue => ({ kind: 'boolean', value })
export const keyword = (value: string): IppValue => ({ kind: 'keyword', value })
export const uri = (value: string): IppValue => ({ kind: 'uri', value })
export const mime = (value: string): IppValue => ({ kind: 'mime', value })
export const range = (from: number, to: number): IppValue => ({ kind: 'range', value: [from, to] })
const encoder = new TextEncoder()
/** At most so many bytes (RFC 8011, section 5.1), and no letter parted. */
function cut(text: string, most: number): string {
  if (encoder.encode(text).length <= most) return text
  let kept = ''
  for (const letter of text) {
    if (encoder.encode(kept + letter).length > most) break
    kept += letter
  }
  return kept
}
export const name = (value: string): IppValue => ({ kind: 'name', value: cut(value, 255) })
export const text = (value: string): IppValue => ({ kind: 'text', value: cut(value, 1023) })
/** What every message begins with (RFC 8011, section 4.1.4). */
export const speaking = (): [string, IppValue[]][] => [
  ['attributes-charset', [{ kind: 'charset', value: 'utf-8' }]],
  ['attributes-natural-language', [{ kind: 'language', value: 'en' }]],
]

export function encodeIpp({ version, code, id, groups, data }: IppMessage): Buffer {
  const parts: Buffer[] = []
  const put = (tag: number, label: string, value: Uint8Array) => {
    const called = Buffer.from(label)
    const head = Buffer.alloc(3)
    head.writeUInt8(tag)
    head.writeUInt16BE(called.length, 1)
    const size = Buffer.alloc(2)
    size.writeUInt16BE(value.length)
    parts.push(head, called, size, Buffer.from(value))
  }
  const numbers = (...all: number[]) => {
    const bytes = Buffer.alloc(4 * all.length)
    for (const [at, number] of all.entries()) bytes.writeInt32BE(number, at * 4)
    return bytes
  }
  const putValue = (label: string, one: IppValue): void => {
    const tag = tags[one.kind]
    switch (one.kind) {
      case 'integer':
      case 'enum':
        return put(tag, label, numbers(one.value))
      case 'boolean':
        return put(tag, label, Buffer.of(one.value ? 1 : 0))
      case 'range':
        return put(tag, label, numbers(...one.value))
      case 'collection':
        put(tag, label, Buffer.alloc(0))
        for (const [member, values] of one.value) {
          put(tags.member, '', Buffer.from(member))
          for (const value of values) putValue('', value)
        }
        return put(tags.end, '', Buffer.alloc(0))
      case 'octets':
      case 'date':
      case 'resolution':
        return put(tag, label, one.value)
      case 'unsupported':
      case 'unknown':
      case 'no-value':
        return put(tag, label, Buffer.alloc(0))
      default:
        return put(tag, label, Buffer.from(one.value))
    }
  }
  const head = Buffer.alloc(8)
  head.writeUInt8(version[0])
  head.writeUInt8(version[1], 1)
  head.writeUInt16BE(code, 2)
  head.writeInt32BE(id, 4)
  parts.push(head)
  for (const { group, attributes } of groups) {
    parts.push(Buffer.of(group))
    for (const [label, values] of attributes)
      for (const [at, value] of values.entries()) putValue(at ? '' : label, value)
  }
  parts.push(Buffer.of(endOfAttributes), Buffer.from(data))
  return Buffer.concat(parts)
}

/** @throws NoMessage */
export function decodeIpp(given: Uint8Array): IppMessage {
  const bytes = Buffer.from(given.buffer, given.byteOffset, given.byteLength)
  let at = 8
  if (bytes.length < 9) throw new NoMessage('It ends too early.')
  const take = (count: number): Buffer => {
    if (at + count > bytes.length) throw new NoMessage('It ends too early.')
    at += count
    return bytes.subarray(at - count, at)
  }
  const byte = () => take(1)[0]!
  const sized = () => take(take(2).readUInt16BE())
  const valueOf = (tag: number, value: Buffer, depth: number): IppValue => {
    const kind = kinds.get(tag)
    if (kind === undefined) return { kind: 'octets', value: Uint8Array.from(value) }
    const bytes = (count: number) => {
      if (value.length !== count) throw new NoMessage(`A value of ${value.length} bytes should have ${count}.`)
      return value
    }
    switch (kind) {
      case 'integer':
      case 'enum':
        return { kind, value: bytes(4).readInt32BE() }
      case 'boolean':
        return { kind, value: bytes(1)[0] !== 0 }
      case 'range':
        return { kind, value: [bytes(8).readInt32BE(), bytes(8).readInt32BE(4)] }
      case 'collection':
        return { kind, value: members(depth + 1) }
      case 'text-in':
      case 'name-in': {
        // The language, then the words.
        const language = value.length >= 2 ? value.readUInt16BE() : value.length
        const words = value.subarray(2 + language)
        const size = words.length >= 2 ? words.readUInt16BE() : 0
        return { kind: kind === 'text-in' ? 'text' : 'name', value: words.subarray(2, 2 + size).toString() }
      }
      case 'unsupported':
      case 'unknown':
      case 'no-value':
        return { kind, value: null }
      default:
        return isText(kind) ? { kind, value: value.toString() } : { kind, value: Uint8Array.from(value) }
    }
  }
  const members = (depth: number): Attributes => {
    if (depth > deepest) throw new NoMessage('It is too deep.')
    const own = new Map<string, IppValue[]>()
    let last: IppValue[] | null = null
    for (;;) {
      const tag = byte()
      sized()
      const value = sized()
      if (tag === tags.end) return own
      if (tag === tags.member) {
        last = []
        own.set(value.toString(), last)
      } else if (last) last.push(valueOf(tag, value, depth))
      else throw new NoMessage('A member has no name.')
    }
  }
  const all: { group: number; attributes: Map<string, IppValue[]> }[] = []
  let last: IppValue[] | null = null
  for (;;) {
    const tag = byte()
    if (tag === endOfAttributes) break
    if (tag < 0x10) {
      all.push({ group: tag, attributes: new Map() })
      last = null
      continue
    }
    const own = all.at(-1)
    if (!own) throw new NoMessage('An attribute is in no group.')
    const label = sized().toString()
    const value = valueOf(tag, sized(), 0)
    if (label) {
      last = [value]
      own.attributes.set(label, last)
    } else if (last) last.push(value)
    else throw new NoMessage('A value has no name.')
  }
  return {
    version: [bytes[0]!, bytes[1]!],
    code: bytes.readUInt16BE(2),
    id: bytes.readInt32BE(4),
    groups: all,
    data: Uint8Array.from(bytes.subarray(at)),
  }
}

/** All attributes of the groups of one kind, the first of a name. */
export function attributesIn({ groups: all }: IppMessage, group: number): Attributes {
  const found: Attributes = new Map()
  for (const one of all)
    if (one.group === group)
      for (const [label, values] of one.attributes) if (!found.has(label)) found.set(label, values)
  return found
}
/** What an attribute says as text. */
export const wordsIn = (attributes: Attributes, label: string): string[] =>
  (attributes.get(label) ?? []).flatMap(({ value }) => (typeof value === 'string' ? [value] : []))
export const numberIn = (attributes: Attributes, label: string): number | null => {
  const value = attributes.get(label)?.[0]?.value
  return typeof value === 'number' ? value : null
}
export const isTrueIn = (attributes: Attributes, label: string): boolean | null => {
  const value = attributes.get(label)?.[0]?.value
  return typeof value === 'boolean' ? value : null
}
