// Zip containers (PKWARE APPNOTE 6.3) as ECMA-376 part 2 allows them: stored or deflated
// entries, no encryption. What a container declares is checked before anything is unpacked,
// and what it unpacks to is checked against its CRC-32.
import { inflateSync, type Zippable, zipSync } from 'fflate'
import { type Sentence, say } from '../../words/said'
import { DamagedFile } from '../refusals'
import { isEncryptedPackage } from '../signature'

/** Expanded size of a whole container, and of one entry against its packed size. */
export const expansionBounds = { bytes: 512 * 1024 * 1024, ratio: 400, freeBytes: 8 * 1024 * 1024, entries: 20_000 }

const endOfDirectory = 0x06054b50
const directoryEntry = 0x02014b50
const localEntry = 0x04034b50

interface DirectoryEntry {
  name: string
  method: number
  crc: number
  packed: number
  expanded: number
  offset: number
}

export interface Container {
  names: readonly string[]
  /** What its parts of XML expand to, as it declares; bytes. What an entry really expands to is held against it. */
  xmlBytes: number
  /** An entry's bytes; undefined when there is none of that name. @throws DamagedFile */
  read(name: string): Uint8Array | undefined
}

/** Reads a container's directory. @throws DamagedFile when it is none, is damaged or would expand past the bounds */
export function openZip(bytes: Uint8Array): Container {
  if (isEncryptedPackage(bytes)) throw new DamagedFile(say('formats.this-file-is-protected-by-a-password'))
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const entries = readDirectory(bytes, view)
  let total = 0
  for (const entry of entries.values()) {
    total += entry.expanded
    if (total > expansionBounds.bytes)
      throw new DamagedFile(say('formats.this-file-would-expand-to-more-than', { it: expansionBounds.bytes >> 20 }))
    if (entry.expanded > expansionBounds.freeBytes && entry.expanded > entry.packed * expansionBounds.ratio)
      throw new DamagedFile(say('formats.a-part-of-this-file-would-expand'))
  }
  return {
    names: [...entries.keys()],
    xmlBytes: [...entries.values()].reduce(
      (sum, { name, expanded }) => sum + (/\.(xml|rels)$/i.test(name) ? expanded : 0),
      0,
    ),
    read(name) {
      const entry = entries.get(name)
      return entry && unpack(bytes, view, entry)
    },
  }
}

function readDirectory(bytes: Uint8Array, view: DataView): Map<string, DirectoryEntry> {
  const damaged = (what: Sentence) => new DamagedFile(say('formats.this-file-is-damaged', { what }))
  let end = bytes.length - 22
  const lowest = Math.max(0, end - 65535)
  while (end >= lowest && view.getUint32(end, true) !== endOfDirectory) end--
  if (end < lowest || end < 0) throw damaged(say('formats.the-directory-at-its-end-is-missing'))
  const count = view.getUint16(end + 10, true)
  let at = view.getUint32(end + 16, true)
  if (count > expansionBounds.entries) throw damaged(say('formats.it-has-too-many-parts'))
  const entries = new Map<string, DirectoryEntry>()
  for (let i = 0; i < count; i++) {
    if (at + 46 > bytes.length || view.getUint32(at, true) !== directoryEntry)
      throw damaged(say('formats.its-directory-cannot-be-read'))
    const nameLength = view.getUint16(at + 28, true)
    const name = new TextDecoder().decode(bytes.subarray(at + 46, at + 46 + nameLength)).replaceAll('\\', '/')
    if (view.getUint16(at + 8, true) & 1) throw new DamagedFile(say('formats.this-file-is-protected-by-a-password-2'))
    entries.set(name, {
      name,
      method: view.getUint16(at + 10, true),
      crc: view.getUint32(at + 16, true),
      packed: view.getUint32(at + 20, true),
      expanded: view.getUint32(at + 24, true),
      offset: view.getUint32(at + 42, true),
    })
    at += 46 + nameLength + view.getUint16(at + 30, true) + view.getUint16(at + 32, true)
  }
  return entries
}

function unpack(bytes: Uint8Array, view: DataView, entry: DirectoryEntry): Uint8Array {
  const damaged = new DamagedFile(say('formats.this-file-is-damaged-its-part-cannot', { entryName: entry.name }))
  if (entry.offset + 30 > bytes.length || view.getUint32(entry.offset, true) !== localEntry) throw damaged
  const start = entry.offset + 30 + view.getUint16(entry.offset + 26, true) + view.getUint16(entry.offset + 28, true)
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

/** Writes a container; the same parts always give the same bytes. @param parts in the order they are to stand */
export function writeZip(parts: readonly (readonly [name: string, content: string | Uint8Array])[]): Uint8Array {
  const zippable: Zippable = {}
  const encoder = new TextEncoder()
  for (const [name, content] of parts) {
    const packedAlready = /\.(png|jpe?g|gif)$/.test(name)
    zippable[name] = [
      typeof content === 'string' ? encoder.encode(content) : content,
      { level: packedAlready ? 0 : 6, mtime: new Date(1980, 0, 1) },
    ]
  }
  return zipSync(zippable)
}
