// Compound files ([MS-CFB]): a small file system in one file, which older office programs keep their work in.
import { say } from '../../words/said'
import { DamagedFile } from '../refusals'
import { compoundSignature } from './signature'

export interface CompoundStorage {
  readonly is: 'storage'
  readonly name: string
  /** What its program knows it by, 16 bytes. */
  readonly classId: Uint8Array
  readonly state: number
  /** Made and changed, each as 8 bytes of the file's own. */
  readonly times: Uint8Array
  readonly children: readonly CompoundEntry[]
}
export interface CompoundStream {
  readonly is: 'stream'
  readonly name: string
  readonly bytes: Uint8Array
}
export type CompoundEntry = CompoundStorage | CompoundStream

const free = 0xffffffff
const endOfChain = 0xfffffffe
const ofAllocation = 0xfffffffd
const ofAllocationList = 0xfffffffc
/** Streams below this size share sectors of 64 bytes (§2.2). */
const smallStream = 4096
const smallSector = 64
const entrySize = 128

const damaged = () => new DamagedFile(say('formats.this-file-is-damaged-its-parts'))
export const isCompound = (bytes: Uint8Array): boolean => compoundSignature.every((byte, at) => bytes[at] === byte)

/** @returns the root storage @throws DamagedFile */
export function readCompound(bytes: Uint8Array): CompoundStorage {
  if (!isCompound(bytes) || bytes.length < 512) throw damaged()
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const shift = view.getUint16(30, true)
  if (shift !== 9 && shift !== 12) throw damaged()
  const size = 1 << shift
  const sectors = Math.ceil((bytes.length - size) / size) + 1
  const sector = (at: number) => bytes.subarray((at + 1) * size, (at + 2) * size)
  const uint = (from: Uint8Array, at: number) =>
    at + 4 <= from.length ? new DataView(from.buffer, from.byteOffset).getUint32(at, true) : free

  // Where the table of sectors stands: in the header first, then in a chain of its own (§2.5).
  const tables: number[] = []
  for (let at = 76; at < 512; at += 4) tables.push(view.getUint32(at, true))
  const seen = new Set<number>()
  for (let next = view.getUint32(68, true); next < sectors && !seen.has(next); ) {
    seen.add(next)
    const list = sector(next)
    for (let at = 0; at < size - 4; at += 4) tables.push(uint(list, at))
    next = uint(list, size - 4)
  }
  const nextOf = new Uint32Array(sectors).fill(free)
  let number = 0
  for (const table of tables) {
    if (table >= sectors) continue
    const part = sector(table)
    for (let at = 0; at < size && number < sectors; at += 4) nextOf[number++] = uint(part, at)
  }
  function chain(first: number, next: Uint32Array): number[] {
    const found: number[] = []
    for (let at = first; at < next.length; at = next[at]!) {
      found.push(at)
      if (found.length > next.length) throw damaged()
    }
    return found
  }
  function gathered(first: number, length: number): Uint8Array {
    const all = new Uint8Array(length)
    let at = 0
    for (const one of chain(first, nextOf)) {
      if (at >= length) break
      all.set(sector(one).subarray(0, length - at), at)
      at += size
    }
    if (at < length) throw damaged()
    return all
  }

  const directory = chain(view.getUint32(48, true), nextOf)
  const entries = gathered(view.getUint32(48, true), directory.length * size)
  const of = new DataView(entries.buffer)
  const count = Math.floor(entries.length / entrySize)
  if (!count || of.getUint8(66) !== 5) throw damaged()
  const lengthOf = (at: number) => {
    // Files with small sectors may have anything in the upper half (§2.6.1).
    const length = of.getUint32(at + 120, true)
    if (length > bytes.length) throw damaged()
    return length
  }
  const smallBytes = gathered(of.getUint32(116, true), lengthOf(0))
  const smallTable = chain(view.getUint32(60, true), nextOf)
  const nextSmall = new Uint32Array((smallTable.length * size) / 4).fill(free)
  for (const [index, one] of smallTable.entries())
    for (let at = 0; at < size; at += 4) nextSmall[(index * size + at) / 4] = uint(sector(one), at)
  function streamAt(at: number): Uint8Array {
    const length = lengthOf(at)
    const first = of.getUint32(at + 116, true)
    if (length >= smallStream) return gathered(first, length)
    const all = new Uint8Array(length)
    let to = 0
    for (const one of length ? chain(first, nextSmall) : []) {
      if (to >= length) break
      all.set(smallBytes.subarray(one * smallSector, one * smallSector + Math.min(smallSector, length - to)), to)
      to += smallSector
    }
    if (to < length) throw damaged()
    return all
  }

  const visited = new Set<number>()
  function storageAt(index: number, depth: number): CompoundStorage {
    const at = index * entrySize
    const children: CompoundEntry[] = []
    if (depth > 40) throw damaged()
    const waiting = [of.getUint32(at + 76, true)]
    for (let next = waiting.pop(); next !== undefined; next = waiting.pop()) {
      if (next >= count) continue
      if (visited.has(next)) throw damaged()
      visited.add(next)
      const place = next * entrySize
      waiting.push(of.getUint32(place + 68, true), of.getUint32(place + 72, true))
      const kind = of.getUint8(place + 66)
      if (kind === 1) children.push(storageAt(next, depth + 1))
      else if (kind === 2) children.push({ is: 'stream', name: nameAt(place), bytes: streamAt(place) })
    }
    return {
      is: 'storage',
      name: nameAt(at),
      classId: entries.slice(at + 80, at + 96),
      state: of.getUint32(at + 96, true),
      times: entries.slice(at + 100, at + 116),
      children: children.sort((a, b) => order(a.name, b.name)),
    }
  }
  function nameAt(at: number): string {
    const letters = Math.max(0, Math.min(31, of.getUint16(at + 64, true) / 2 - 1))
    let name = ''
    for (let letter = 0; letter < letters; letter++) name += String.fromCharCode(of.getUint16(at + letter * 2, true))
    return name
  }
  return storageAt(0, 0)
}

/** Shorter names first, then by capital letters (§2.6.4). */
function order(a: string, b: string): number {
  if (a.length !== b.length) return a.length - b.length
  const [left, right] = [a.toUpperCase(), b.toUpperCase()]
  return left < right ? -1 : left > right ? 1 : 0
}

/** A root with nothing in it. */
export const blankRoot = (children: readonly CompoundEntry[]): CompoundStorage => ({
  is: 'storage',
  name: 'Root Entry',
  classId: new Uint8Array(16),
  state: 0,
  times: new Uint8Array(16),
  children,
})

/** A stream of the root; undefined where it has none of that name. */
export const streamOf = (root: CompoundStorage, name: string): CompoundStream | undefined =>
  root.children.find(
    (one): one is CompoundStream => one.is === 'stream' && one.name.toLowerCase() === name.toLowerCase(),
  )

interface Placed {
  entry: CompoundEntry
  child: number
  left: number
  right: number
  red: boolean
  first: number
  length: number
}

/** Writes a compound file of sectors of 512 bytes; the same root always gives the same bytes. */
export function writeCompound(root: CompoundStorage): Uint8Array {
  const size = 512
  const placed: Placed[] = []
  const place = (entry: CompoundEntry): number =>
    placed.push({ entry, child: free, left: free, right: free, red: false, first: endOfChain, length: 0 }) - 1
  // Siblings are a red-black tree: halved, with the last level red where it is not full.
  function tree(siblings: readonly number[], depth: number, full: number): number {
    if (!siblings.length) return free
    const middle = siblings.length >> 1
    const one = placed[siblings[middle]!]!
    one.red = depth >= full
    one.left = tree(siblings.slice(0, middle), depth + 1, full)
    one.right = tree(siblings.slice(middle + 1), depth + 1, full)
    return siblings[middle]!
  }
  function descend(storage: CompoundStorage, at: number): void {
    const children = [...storage.children]
      .sort((a, b) => order(a.name, b.name))
      .map((one) => [one, place(one)] as const)
    placed[at]!.child = tree(
      children.map(([, index]) => index),
      0,
      Math.floor(Math.log2(children.length + 1)),
    )
    for (const [one, index] of children) if (one.is === 'storage') descend(one, index)
  }
  place(root)
  descend(root, 0)

  const next: number[] = []
  const data: Uint8Array[] = []
  /** Puts bytes into sectors of their own. @returns the first one */
  function put(bytes: Uint8Array): number {
    if (!bytes.length) return endOfChain
    const first = next.length
    const count = Math.ceil(bytes.length / size)
    for (let index = 0; index < count; index++) next.push(index === count - 1 ? endOfChain : first + index + 1)
    data.push(bytes, new Uint8Array(count * size - bytes.length))
    return first
  }
  const small: Uint8Array[] = []
  const nextSmall: number[] = []
  for (const one of placed) {
    if (one.entry.is !== 'stream') continue
    const { bytes } = one.entry
    one.length = bytes.length
    if (bytes.length >= smallStream) one.first = put(bytes)
    else if (bytes.length) {
      one.first = nextSmall.length
      const count = Math.ceil(bytes.length / smallSector)
      for (let index = 0; index < count; index++)
        nextSmall.push(index === count - 1 ? endOfChain : one.first + index + 1)
      small.push(bytes, new Uint8Array(count * smallSector - bytes.length))
    }
  }
  const smallBytes = joined(small)
  placed[0]!.length = smallBytes.length
  placed[0]!.first = put(smallBytes)
  const perSector = size / 4
  const firstSmallTable = put(numbers(nextSmall, Math.ceil(nextSmall.length / perSector) * perSector))
  const smallTables = Math.ceil(nextSmall.length / perSector)
  const perDirectory = size / entrySize
  const directory = new Uint8Array(Math.ceil(placed.length / perDirectory) * size)
  const of = new DataView(directory.buffer)
  for (let at = 0; at < directory.length; at += entrySize)
    for (const link of [68, 72, 76]) of.setUint32(at + link, free, true)
  for (const [index, one] of placed.entries()) {
    const at = index * entrySize
    const { entry } = one
    const name = entry.name.slice(0, 31)
    for (let letter = 0; letter < name.length; letter++) of.setUint16(at + letter * 2, name.charCodeAt(letter), true)
    of.setUint16(at + 64, (name.length + 1) * 2, true)
    of.setUint8(at + 66, index === 0 ? 5 : entry.is === 'storage' ? 1 : 2)
    of.setUint8(at + 67, one.red ? 0 : 1)
    of.setUint32(at + 68, one.left, true)
    of.setUint32(at + 72, one.right, true)
    of.setUint32(at + 76, one.child, true)
    if (entry.is === 'storage') {
      directory.set(entry.classId, at + 80)
      of.setUint32(at + 96, entry.state, true)
      directory.set(entry.times, at + 100)
    }
    of.setUint32(at + 116, entry.is === 'storage' && index > 0 ? 0 : one.first, true)
    of.setUint32(at + 120, one.length, true)
  }
  const firstDirectory = put(directory)

  // The table of sectors lists its own sectors as well, and those that list it.
  let tables = 0
  let lists = 0
  for (;;) {
    const all = next.length + tables + lists
    const wanted = Math.ceil(all / perSector)
    const listed = Math.ceil(Math.max(0, wanted - 109) / (perSector - 1))
    if (wanted === tables && listed === lists) break
    tables = wanted
    lists = listed
  }
  const firstTable = next.length
  for (let index = 0; index < tables; index++) next.push(ofAllocation)
  const firstList = next.length
  for (let index = 0; index < lists; index++) next.push(ofAllocationList)
  data.push(numbers(next, tables * perSector))
  const listed = Array.from({ length: tables }, (_, index) => firstTable + index)
  for (let index = 0; index < lists; index++) {
    const from = 109 + index * (perSector - 1)
    const part = listed.slice(from, from + perSector - 1)
    while (part.length < perSector - 1) part.push(free)
    data.push(numbers([...part, index === lists - 1 ? endOfChain : firstList + index + 1], perSector))
  }

  const header = new Uint8Array(size)
  header.set(compoundSignature)
  const head = new DataView(header.buffer)
  head.setUint16(24, 0x3e, true)
  head.setUint16(26, 3, true)
  head.setUint16(28, 0xfffe, true)
  head.setUint16(30, 9, true)
  head.setUint16(32, 6, true)
  head.setUint32(44, tables, true)
  head.setUint32(48, firstDirectory, true)
  head.setUint32(56, smallStream, true)
  head.setUint32(60, firstSmallTable, true)
  head.setUint32(64, smallTables, true)
  head.setUint32(68, lists ? firstList : endOfChain, true)
  head.setUint32(72, lists, true)
  for (let index = 0; index < 109; index++) head.setUint32(76 + index * 4, listed[index] ?? free, true)
  return joined([header, ...data])
}

/** Numbers of four bytes, filled up with free ones. */
function numbers(values: readonly number[], count: number): Uint8Array {
  const bytes = new Uint8Array(count * 4)
  const view = new DataView(bytes.buffer)
  for (let index = 0; index < count; index++) view.setUint32(index * 4, values[index] ?? free, true)
  return bytes
}

export function joined(pieces: readonly Uint8Array[]): Uint8Array {
  const all = new Uint8Array(pieces.reduce((sum, { length }) => sum + length, 0))
  let at = 0
  for (const piece of pieces) {
    all.set(piece, at)
    at += piece.length
  }
  return all
}
