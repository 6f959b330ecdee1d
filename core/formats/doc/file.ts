// What a document of the binary format ([MS-DOC]) is made of: its streams, where its parts stand, and how much text is what.
import { say } from '../../words/said'
import { type CompoundStorage, readCompound, streamOf } from '../compound/compound'
import { DamagedFile } from '../refusals'

/** Places in FibRgFcLcb97 (§2.5.6), each of which says where a part stands. */
export const parts = {
  styles: 1,
  footnoteReferences: 2,
  footnoteTexts: 3,
  sections: 6,
  headers: 11,
  letters: 12,
  paragraphs: 13,
  fonts: 15,
  bookmarks: 22,
  document: 31,
  pieces: 33,
  shapes: 40,
  boxes: 56,
  endnoteReferences: 46,
  endnoteTexts: 47,
  lists: 73,
  listUses: 74,
} as const

/** How many letters each story has, in the order in which they follow one another (§2.5.4). */
export interface StoryLengths {
  text: number
  footnotes: number
  headers: number
  comments: number
  endnotes: number
  boxes: number
  headerBoxes: number
}
export interface DocFile {
  root: CompoundStorage
  main: Uint8Array
  table: Uint8Array
  data: Uint8Array
  lengths: StoryLengths
  /** A part of the table stream, from where it begins to its end; empty where there is none. */
  part(at: number): Uint8Array
  /** The same with all that follows it. */
  from(at: number): Uint8Array
}

/** A stream as numbers; what is beyond its end is 0. */
export class Numbers {
  private readonly view: DataView
  constructor(readonly bytes: Uint8Array) {
    this.view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  }
  get length(): number {
    return this.bytes.length
  }
  u8(at: number): number {
    return this.bytes[at] ?? 0
  }
  u16(at: number): number {
    return at >= 0 && at + 2 <= this.length ? this.view.getUint16(at, true) : 0
  }
  i16(at: number): number {
    return at >= 0 && at + 2 <= this.length ? this.view.getInt16(at, true) : 0
  }
  u32(at: number): number {
    return at >= 0 && at + 4 <= this.length ? this.view.getUint32(at, true) : 0
  }
  i32(at: number): number {
    return at >= 0 && at + 4 <= this.length ? this.view.getInt32(at, true) : 0
  }
  /** Letters of two bytes. */
  text(at: number, letters: number): string {
    let text = ''
    for (let one = 0; one < letters; one++) text += String.fromCharCode(this.u16(at + one * 2))
    return text
  }
}

const damaged = () => new DamagedFile(say('formats.this-file-is-damaged-its-parts'))
/** The first version whose texts are in pieces as they are read here: that of 1997 (§2.5.1). */
const firstVersion = 0x00c1
const binaryDocument = 0xa5ec
const olderThan1997 = () => new DamagedFile(say('formats.older-than-can-be-read'))
/** What documents begin with that are no compound files, before 1993. */
const olderStarts = [0x9b, 0xdb, 0xdc]

/** @throws DamagedFile for a file that is no such document, is older than 1997, or has a password */
export function openDoc(bytes: Uint8Array): DocFile {
  if (olderStarts.some((start) => bytes[0] === start && bytes[1] === 0xa5)) throw olderThan1997()
  const root = readCompound(bytes)
  const main = streamOf(root, 'WordDocument')?.bytes
  if (!main || main.length < 154) throw damaged()
  const of = new Numbers(main)
  if (of.u16(0) !== binaryDocument && of.u16(2) >= firstVersion) throw damaged()
  if (of.u16(2) < firstVersion) throw olderThan1997()
  const flags = of.u16(10)
  if (flags & 0x8100) throw new DamagedFile(say('formats.this-file-is-protected-by-a-password'))
  const table = streamOf(root, flags & 0x0200 ? '1Table' : '0Table')?.bytes
  if (!table) throw damaged()
  const words = 34 + of.u16(32) * 2
  const longs = words + 2
  const places = longs + of.u16(words) * 4 + 2
  const count = of.u16(places - 2)
  const where = (at: number): [number, number] =>
    at < count ? [of.u32(places + at * 8), of.u32(places + at * 8 + 4)] : [0, 0]
  const length = (at: number) => Math.max(0, of.i32(longs + at * 4))
  return {
    root,
    main,
    table,
    data: streamOf(root, 'Data')?.bytes ?? new Uint8Array(),
    lengths: {
      text: length(3),
      footnotes: length(4),
      headers: length(5),
      comments: length(7),
      endnotes: length(8),
      boxes: length(9),
      headerBoxes: length(10),
    },
    part(at) {
      const [from, size] = where(at)
      return from + size <= table.length ? table.subarray(from, from + size) : new Uint8Array()
    },
    from(at) {
      const [from, size] = where(at)
      return size ? table.subarray(Math.min(from, table.length)) : new Uint8Array()
    },
  }
}

/** A list of places with something of a fixed size for each stretch between them ([MS-DOC] §2.2.2, PLC). */
export function plc(bytes: Uint8Array, size: number): { places: number[]; at: (index: number) => Numbers } {
  const count = Math.max(0, Math.floor((bytes.length - 4) / (4 + size)))
  const of = new Numbers(bytes)
  const places = bytes.length < 4 ? [] : Array.from({ length: count + 1 }, (_, index) => of.u32(index * 4))
  return {
    places,
    at: (index) => {
      const from = (count + 1) * 4 + index * size
      return new Numbers(bytes.subarray(from, from + size))
    },
  }
}
