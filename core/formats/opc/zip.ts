// Zip containers (PKWARE APPNOTE 6.3) as ECMA-376 part 2 allows them: stored or deflated
// entries, no encryption. What a container declares is checked before anything is unpacked,
// and what it unpacks to is checked against its CRC-32.
import { deflateSync, inflateSync, type Zippable, zipSync } from 'fflate'
import { resplice } from '../../deflate'
import { type Sentence, say } from '../../words/said'
import { DamagedFile } from '../refusals'
import { isEncryptedPackage } from '../signature'

/** Expanded size of a whole container, and of one entry against its packed size. */
export const expansionBounds = { bytes: 512 * 1024 * 1024, ratio: 400, freeBytes: 8 * 1024 * 1024, entries: 20_000 }

const endOfDirectory = 0x06054b50
const directoryEntry = 0x02014b50
const localEntry = 0x04034b50
const wideEnd = 0x06064b50
const wideLocator = 0x07064b50

interface DirectoryEntry {
  name: string
  method: number
  crc: number
  packed: number
  expanded: number
  offset: number
  /** Where its record in the directory stands, and how long it is. */
  record: number
  recordLength: number
}

export interface Container {
  names: readonly string[]
  /** What its parts of XML expand to, as it declares; bytes. What an entry really expands to is held against it. */
  xmlBytes: number
  /** An entry's bytes; undefined when there is none of that name. @throws DamagedFile */
  read(name: string): Uint8Array | undefined
  /**
   * The container with some entries changed. What is not changed keeps its packed bytes, its headers and its place.
   * @param changes new bytes by name; null removes an entry; names that are not there yet are added at the end
   * @returns null where entries lie over each other, so that none of them can be moved
   */
  patched(changes: ReadonlyMap<string, Uint8Array | null>): Uint8Array | null
}

/** Reads a container's directory. @throws DamagedFile when it is none, is damaged or would expand past the bounds */
export function openZip(given: Uint8Array): Container {
  // Node.js's own kind of bytes gives views where a copy is meant: what is made here would be written into what was given.
  const bytes = new Uint8Array(given.buffer, given.byteOffset, given.byteLength)
  if (isEncryptedPackage(bytes)) throw new DamagedFile(say('formats.this-file-is-protected-by-a-password'))
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const { entries, end, start } = readDirectory(bytes, view)
  let total = 0
  for (const entry of entries.values()) {
    total += entry.expanded
    if (total > expansionBounds.bytes)
      throw new DamagedFile(say('formats.this-file-would-expand-to-more-than', { it: expansionBounds.bytes >> 20 }))
    if (entry.expanded > expansionBounds.freeBytes && entry.expanded > entry.packed * expansionBounds.ratio)
      throw new DamagedFile(say('formats.a-part-of-this-file-would-expand'))
  }
  // Part names are the same whatever their case (ECMA-376 part 2, §9.1.1.2).
  const anyCase = new Map([...entries.values()].map((entry) => [entry.name.toLowerCase(), entry]))
  const entryOf = (name: string) => entries.get(name) ?? anyCase.get(name.toLowerCase())
  return {
    names: [...entries.keys()],
    xmlBytes: [...entries.values()].reduce(
      (sum, { name, expanded }) => sum + (/\.(xml|rels)$/i.test(name) ? expanded : 0),
      0,
    ),
    read(name) {
      const entry = entryOf(name)
      return entry && unpack(bytes, view, entry)
    },
    patched: (changes) => {
      const named = new Map([...changes].map(([name, content]) => [entryOf(name)?.name ?? name, content]))
      return patched(bytes, view, [...entries.values()], start, end, named)
    },
  }
}

/** 64-bit numbers that stand in a record's extra fields instead of 32-bit ones that are all ones (APPNOTE 4.5.3). */
function wide(view: DataView, from: number, to: number, fields: readonly number[]): number[] {
  if (!fields.includes(0xffffffff)) return [...fields]
  for (let at = from; at + 4 <= to; at += 4 + view.getUint16(at + 2, true)) {
    if (view.getUint16(at, true) !== 1) continue
    let next = at + 4
    return fields.map((field) => {
      if (field !== 0xffffffff || next + 8 > to) return field
      const number = Number(view.getBigUint64(next, true))
      next += 8
      return number
    })
  }
  return [...fields]
}

interface Directory {
  entries: Map<string, DirectoryEntry>
  /** Where the directory begins, and where the record that ends it stands. */
  start: number
  end: number
}

function readDirectory(bytes: Uint8Array, view: DataView): Directory {
  const damaged = (what: Sentence) => new DamagedFile(say('formats.this-file-is-damaged', { what }))
  let end = bytes.length - 22
  const lowest = Math.max(0, end - 65535)
  while (end >= lowest && view.getUint32(end, true) !== endOfDirectory) end--
  if (end < lowest || end < 0) throw damaged(say('formats.the-directory-at-its-end-is-missing'))
  let count = view.getUint16(end + 10, true)
  let at = view.getUint32(end + 16, true)
  // A container whose numbers need 64 bits, or were written so, has a second record before this one (APPNOTE 4.3.14).
  if ((count === 0xffff || at === 0xffffffff) && end >= 20 && view.getUint32(end - 20, true) === wideLocator) {
    const record = Number(view.getBigUint64(end - 12, true))
    if (record + 56 > bytes.length || view.getUint32(record, true) !== wideEnd)
      throw damaged(say('formats.its-directory-cannot-be-read'))
    count = Number(view.getBigUint64(record + 32, true))
    at = Number(view.getBigUint64(record + 48, true))
  }
  const start = at
  if (count > expansionBounds.entries) throw damaged(say('formats.it-has-too-many-parts'))
  const entries = new Map<string, DirectoryEntry>()
  for (let i = 0; i < count; i++) {
    if (at + 46 > bytes.length || view.getUint32(at, true) !== directoryEntry)
      throw damaged(say('formats.its-directory-cannot-be-read'))
    const nameLength = view.getUint16(at + 28, true)
    const extra = at + 46 + nameLength
    const recordLength = 46 + nameLength + view.getUint16(at + 30, true) + view.getUint16(at + 32, true)
    const [expanded = 0, packed = 0, offset = 0] = wide(view, extra, extra + view.getUint16(at + 30, true), [
      view.getUint32(at + 24, true),
      view.getUint32(at + 20, true),
      view.getUint32(at + 42, true),
    ])
    const name = new TextDecoder().decode(bytes.subarray(at + 46, at + 46 + nameLength)).replaceAll('\\', '/')
    if (view.getUint16(at + 8, true) & 1) throw new DamagedFile(say('formats.this-file-is-protected-by-a-password-2'))
    entries.set(name, {
      name,
      method: view.getUint16(at + 10, true),
      crc: view.getUint32(at + 16, true),
      packed,
      expanded,
      offset,
      record: at,
      recordLength,
    })
    at += recordLength
  }
  return { entries, start, end }
}

/** A record or a header for bytes that are packed anew: its name and its date stay, what it says of 64 bits goes. */
function renewed(old: Uint8Array, fixed: number, packed: Uint8Array, plain: Uint8Array): Uint8Array {
  const local = fixed === 30
  const view = new DataView(old.buffer, old.byteOffset, old.byteLength)
  const nameLength = view.getUint16(local ? 26 : 28, true)
  const extraLength = view.getUint16(local ? 28 : 30, true)
  const from = fixed + nameLength
  const extra: number[] = []
  for (let at = from; at + 4 <= from + extraLength; ) {
    const next = at + 4 + view.getUint16(at + 2, true)
    if (view.getUint16(at, true) !== 1) extra.push(...old.subarray(at, next))
    at = next
  }
  const comment = local ? new Uint8Array() : old.subarray(from + extraLength)
  const made = new Uint8Array(from + extra.length + comment.length)
  made.set(old.subarray(0, from))
  made.set(extra, from)
  made.set(comment, from + extra.length)
  const out = new DataView(made.buffer)
  const at = local ? 6 : 8
  // Sizes stand in the header itself, not in a descriptor behind the bytes.
  out.setUint16(at, view.getUint16(at, true) & ~8, true)
  out.setUint16(at + 2, 8, true)
  out.setUint32(at + 8, crc32(plain), true)
  out.setUint32(at + 12, packed.length, true)
  out.setUint32(at + 16, plain.length, true)
  out.setUint16(at + 22, extra.length, true)
  // Where it stands is written when that is known, and fits into 32 bits.
  if (!local) out.setUint32(42, 0, true)
  return made
}

/** The header and the record of a new entry. */
function fresh(name: string, fixed: number): Uint8Array {
  const encoded = new TextEncoder().encode(name)
  const made = new Uint8Array(fixed + encoded.length)
  made.set(encoded, fixed)
  const view = new DataView(made.buffer)
  const local = fixed === 30
  view.setUint32(0, local ? localEntry : directoryEntry, true)
  view.setUint16(4, 20, true)
  if (!local) view.setUint16(6, 20, true)
  // The first of January 1980, as writeZip dates every entry.
  view.setUint16(local ? 12 : 14, 0x21, true)
  view.setUint16(local ? 26 : 28, encoded.length, true)
  return made
}

function patched(
  bytes: Uint8Array,
  view: DataView,
  entries: readonly DirectoryEntry[],
  directory: number,
  end: number,
  changes: ReadonlyMap<string, Uint8Array | null>,
): Uint8Array | null {
  const pieces: Uint8Array[] = []
  let length = 0
  const put = (piece: Uint8Array) => {
    pieces.push(piece)
    length += piece.length
  }
  const byOffset = entries.toSorted((a, b) => a.offset - b.offset)
  const offsets = new Map<DirectoryEntry, number>()
  const records = new Map<DirectoryEntry, Uint8Array>()
  if (byOffset[0]) put(bytes.subarray(0, byOffset[0].offset))
  for (const [index, entry] of byOffset.entries()) {
    const next = byOffset[index + 1]?.offset ?? directory
    const content = localContent(bytes, view, entry)
    if (content + entry.packed > next || next > directory) return null
    const change = changes.get(entry.name)
    if (change === null) continue
    offsets.set(entry, length)
    const record = bytes.subarray(entry.record, entry.record + entry.recordLength)
    if (!change) {
      put(bytes.subarray(entry.offset, next))
      records.set(entry, record.slice())
      continue
    }
    const packed = repacked(bytes, view, entry, change)
    put(renewed(bytes.subarray(entry.offset, content), 30, packed, change))
    put(packed)
    records.set(entry, renewed(record, 46, packed, change))
  }
  const known = new Set(entries.map(({ name }) => name))
  const added: [Uint8Array, number][] = []
  for (const [name, change] of changes) {
    if (known.has(name) || !change) continue
    const packed = pack(change)
    added.push([renewed(fresh(name, 46), 46, packed, change), length])
    put(renewed(fresh(name, 30), 30, packed, change))
    put(packed)
  }
  const newStart = length
  for (const entry of entries) {
    const record = records.get(entry)
    if (!record) continue
    placeRecord(record, offsets.get(entry)!)
    put(record)
  }
  for (const [record, offset] of added) {
    placeRecord(record, offset)
    put(record)
  }
  const count = records.size + added.length
  // Its comment stays; what it says in 64 bits fits into 32 here.
  const last = bytes.slice(end)
  const lastView = new DataView(last.buffer)
  lastView.setUint16(8, count, true)
  lastView.setUint16(10, count, true)
  lastView.setUint32(12, length - newStart, true)
  lastView.setUint32(16, newStart, true)
  put(last)
  const whole = new Uint8Array(length)
  let at = 0
  for (const piece of pieces) {
    whole.set(piece, at)
    at += piece.length
  }
  return whole
}

/** Writes where an entry stands into its record of the directory. */
function placeRecord(record: Uint8Array, offset: number): void {
  const view = new DataView(record.buffer, record.byteOffset, record.byteLength)
  if (view.getUint32(42, true) !== 0xffffffff) return view.setUint32(42, offset, true)
  const nameLength = view.getUint16(28, true)
  for (let at = 46 + nameLength; at + 4 <= 46 + nameLength + view.getUint16(30, true); ) {
    const size = view.getUint16(at + 2, true)
    if (view.getUint16(at, true) === 1) {
      const before = [20, 24].filter((field) => view.getUint32(field, true) === 0xffffffff).length
      view.setBigUint64(at + 4 + before * 8, BigInt(offset), true)
      return
    }
    at += 4 + size
  }
}

/** Where an entry's packed bytes begin. */
function localContent(bytes: Uint8Array, view: DataView, entry: DirectoryEntry): number {
  if (entry.offset + 30 > bytes.length || view.getUint32(entry.offset, true) !== localEntry)
    throw new DamagedFile(say('formats.this-file-is-damaged-its-part-cannot', { entryName: entry.name }))
  return entry.offset + 30 + view.getUint16(entry.offset + 26, true) + view.getUint16(entry.offset + 28, true)
}

function unpack(bytes: Uint8Array, view: DataView, entry: DirectoryEntry): Uint8Array {
  const damaged = new DamagedFile(say('formats.this-file-is-damaged-its-part-cannot', { entryName: entry.name }))
  const start = localContent(bytes, view, entry)
  if (start + entry.packed > bytes.length) throw damaged
  const packed = bytes.subarray(start, start + entry.packed)
  let plain: Uint8Array
  if (entry.method === 0) plain = packed
  else if (entry.method === 8) {
    try {
      // Never more than the directory declared: a lying entry fails its checksum below.
      plain = inflateSync(packed, { out: new Uint8Array(entry.expanded) })
    } catch {
      throw damaged
    }
  } else throw new DamagedFile(say('formats.this-file-is-packed-in-a-way', { method: entry.method }))
  if (plain.length !== entry.expanded || crc32(plain) !== entry.crc) throw damaged
  return plain
}

const crcTables = (() => {
  const tables = Array.from({ length: 4 }, () => new Uint32Array(256))
  for (let n = 0; n < 256; n++) {
    let c = n
    for (let k = 0; k < 8; k++) c = c & 1 ? 0xedb88320 ^ (c >>> 1) : c >>> 1
    tables[0]![n] = c
  }
  for (let n = 0; n < 256; n++)
    for (let t = 1; t < 4; t++) tables[t]![n] = tables[0]![tables[t - 1]![n]! & 255]! ^ (tables[t - 1]![n]! >>> 8)
  return tables as [Uint32Array, Uint32Array, Uint32Array, Uint32Array]
})()

/** CRC-32 (ISO 3309), four bytes a step. */
export function crc32(bytes: Uint8Array): number {
  const [t0, t1, t2, t3] = crcTables
  let crc = -1
  let i = 0
  for (const whole = bytes.length - 3; i < whole; i += 4) {
    crc ^= bytes[i]! | (bytes[i + 1]! << 8) | (bytes[i + 2]! << 16) | (bytes[i + 3]! << 24)
    crc = t3[crc & 255]! ^ t2[(crc >>> 8) & 255]! ^ t1[(crc >>> 16) & 255]! ^ t0[crc >>> 24]!
  }
  for (; i < bytes.length; i++) crc = t0[(crc ^ bytes[i]!) & 255]! ^ (crc >>> 8)
  return (crc ^ -1) >>> 0
}

/** A large part is packed faster and a little less: its packing is half of what a save takes. */
const pack = (content: Uint8Array): Uint8Array => deflateSync(content, { level: content.length > 2 << 20 ? 3 : 6 })

function unpacksTo(packed: Uint8Array, plain: Uint8Array): boolean {
  try {
    const found = inflateSync(packed, { out: new Uint8Array(plain.length) })
    return found.length === plain.length && found.every((byte, at) => byte === plain[at])
  } catch {
    return false
  }
}

/** A part that was edited, packed with what its packing was before, so that history keeps little of it. */
function repacked(bytes: Uint8Array, view: DataView, entry: DirectoryEntry, change: Uint8Array): Uint8Array {
  if (entry.method !== 8) return pack(change)
  const start = localContent(bytes, view, entry)
  const old = bytes.subarray(start, start + entry.packed)
  const again = resplice(old, unpack(bytes, view, entry), change)
  // Not every part is read again after a save: what was packed in this way is unpacked before it is trusted.
  return again && unpacksTo(again, change) ? again : pack(change)
}

/** Writes a container; the same parts always give the same bytes. @param parts in the order they are to stand */
export function writeZip(parts: readonly (readonly [name: string, content: string | Uint8Array])[]): Uint8Array {
  const zippable: Zippable = {}
  const encoder = new TextEncoder()
  for (const [name, content] of parts) {
    // What says the type of an OpenDocument package stands there as it is (ISO/IEC 26300-3 §3.3).
    const packedAlready = /\.(png|jpe?g|gif)$|^mimetype$/.test(name)
    zippable[name] = [
      typeof content === 'string' ? encoder.encode(content) : content,
      { level: packedAlready ? 0 : 6, mtime: new Date(1980, 0, 1) },
    ]
  }
  return zipSync(zippable)
}
