// What older files say of themselves: the property set of a compound file ([MS-OLEPS] §2.20–2.25, §3.1.2).
import { type About, type AboutField, tidyAbout } from '../../content/about'
import { blankRoot, isCompound, readCompound, streamOf, writeCompound } from '../compound/compound'
import { NotPatched } from '../refusals'

const streamName = '\u0005SummaryInformation'
/** {F29F85E0-4FF9-1068-AB91-08002B27B3D9}, as it is stored. */
const summary = [0xe0, 0x85, 0x9f, 0xf2, 0xf9, 0x4f, 0x68, 0x10, 0xab, 0x91, 0x08, 0x00, 0x2b, 0x27, 0xb3, 0xd9]
const identifiers: Readonly<Record<AboutField, number>> = { title: 2, subject: 3, author: 4, keywords: 5 }
const codePage = 1
const [shortNumber, bytesText, wideText] = [0x02, 0x1e, 0x1f]
const headerLength = 28 + 20

interface Property {
  id: number
  /** With its type, padded to four bytes. */
  bytes: Uint8Array
}
interface PropertySet {
  page: number
  properties: Property[]
}

const labels: Readonly<Record<number, string>> = {
  65001: 'utf-8',
  10000: 'macintosh',
  932: 'shift_jis',
  936: 'gbk',
  949: 'euc-kr',
  950: 'big5',
  874: 'windows-874',
  28591: 'iso-8859-1',
}
function decoderOf(page: number): TextDecoder {
  try {
    return new TextDecoder(labels[page] ?? `windows-${page}`)
  } catch {
    return new TextDecoder('windows-1252')
  }
}

/** The first set of a stream; null where it is none of this kind. */
function setOf(stream: Uint8Array): PropertySet | null {
  const view = new DataView(stream.buffer, stream.byteOffset, stream.byteLength)
  const uint = (at: number) => (at + 4 <= stream.length ? view.getUint32(at, true) : 0)
  if (stream.length < headerLength + 8 || view.getUint16(0, true) !== 0xfffe) return null
  if (summary.some((byte, at) => stream[28 + at] !== byte)) return null
  const from = uint(44)
  const size = Math.min(uint(from), stream.length - from)
  const count = Math.min(uint(from + 4), size >> 3)
  const places: { id: number; at: number }[] = []
  for (let index = 0; index < count; index++) {
    const at = uint(from + 12 + index * 8)
    if (at >= 8 && at < size) places.push({ id: uint(from + 8 + index * 8), at })
  }
  const ends = [...places.map(({ at }) => at), size].sort((a, b) => a - b)
  const properties = places.map(({ id, at }): Property => {
    const end = ends.find((one) => one > at) ?? size
    return { id, bytes: padded(stream.subarray(from + at, from + end)) }
  })
  const written = properties.find(({ id }) => id === codePage)?.bytes
  const page =
    written && written.length >= 6 ? new DataView(written.buffer, written.byteOffset).getUint16(4, true) : 1252
  return { page, properties }
}
function padded(bytes: Uint8Array): Uint8Array {
  const whole = new Uint8Array((bytes.length + 3) & ~3)
  whole.set(bytes)
  return whole
}

function textOfProperty({ bytes }: Property, page: number): string {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  if (bytes.length < 8) return ''
  const [type, length] = [view.getUint16(0, true), view.getUint32(4, true)]
  const wide = type === wideText || (type === bytesText && page === 1200)
  if (type !== bytesText && type !== wideText) return ''
  const end = Math.min(bytes.length, 8 + length * (type === wideText ? 2 : 1))
  const said = (wide ? new TextDecoder('utf-16le') : decoderOf(page)).decode(bytes.subarray(8, end))
  return said.split('\0', 1)[0]!
}

/** In letters that every reader of these files knows, whatever the code page. */
function propertyOf(id: number, said: string): Property {
  const bytes = new Uint8Array((8 + (said.length + 1) * 2 + 3) & ~3)
  const view = new DataView(bytes.buffer)
  view.setUint32(0, wideText, true)
  view.setUint32(4, said.length + 1, true)
  for (let at = 0; at < said.length; at++) view.setUint16(8 + at * 2, said.charCodeAt(at), true)
  return { id, bytes }
}

function streamOfSet(properties: readonly Property[], head: Uint8Array | null): Uint8Array {
  const list = 8 + properties.length * 8
  const size = list + properties.reduce((sum, { bytes }) => sum + bytes.length, 0)
  const stream = new Uint8Array(headerLength + size)
  const view = new DataView(stream.buffer)
  if (head) stream.set(head.subarray(0, 28))
  else view.setUint16(0, 0xfffe, true)
  view.setUint32(24, 1, true)
  stream.set(summary, 28)
  view.setUint32(44, headerLength, true)
  view.setUint32(headerLength, size, true)
  view.setUint32(headerLength + 4, properties.length, true)
  let at = list
  for (const [index, { id, bytes }] of properties.entries()) {
    view.setUint32(headerLength + 8 + index * 8, id, true)
    view.setUint32(headerLength + 12 + index * 8, at, true)
    stream.set(bytes, headerLength + at)
    at += bytes.length
  }
  return stream
}

/** @throws DamagedFile */
export function aboutOfCompound(bytes: Uint8Array): About | null {
  const stream = isCompound(bytes) ? streamOf(readCompound(bytes), streamName) : undefined
  const set = stream && setOf(stream.bytes)
  if (!set) return null
  const said = (wanted: number) => {
    const property = set.properties.find(({ id }) => id === wanted)
    return property ? textOfProperty(property, set.page) : ''
  }
  return tidyAbout(Object.fromEntries(Object.entries(identifiers).map(([field, id]) => [field, said(id)])))
}

/** The file with some of what it says of itself changed; its other streams stay. @throws NotPatched, DamagedFile */
export function withAboutInCompound(
  bytes: Uint8Array,
  about: About | null,
  changed: readonly AboutField[],
): Uint8Array {
  if (!isCompound(bytes)) throw new NotPatched('about')
  const root = readCompound(bytes)
  const stream = streamOf(root, streamName)
  const there = stream ? setOf(stream.bytes) : null
  if (stream && !there) throw new NotPatched('about')
  const gone = new Set(changed.map((field) => identifiers[field]))
  const page = new Uint8Array(8)
  new DataView(page.buffer).setUint16(0, shortNumber, true)
  new DataView(page.buffer).setUint16(4, 1252, true)
  const properties = [
    ...(there?.properties ?? [{ id: codePage, bytes: page }]).filter(({ id }) => !gone.has(id)),
    ...changed.flatMap((field) => {
      const said = about?.[field]
      return said === undefined ? [] : [propertyOf(identifiers[field], said)]
    }),
  ].sort((a, b) => a.id - b.id)
  const made = { is: 'stream' as const, name: streamName, bytes: streamOfSet(properties, stream?.bytes ?? null) }
  const children = stream ? root.children.map((one) => (one === stream ? made : one)) : [...root.children, made]
  return writeCompound({ ...blankRoot(children), ...root, children })
}
