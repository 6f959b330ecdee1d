// Pictures in the lines of a document ([MS-DOC] §2.9.192, PICFAndOfficeArtData), in the records of [MS-ODRAW] §2.2.
import { Numbers } from './file'

export interface DocPicture {
  /** Its media type; null for one that browsers do not show. */
  type: string | null
  bytes: Uint8Array
  alt: string
  /** Pixels. */
  width: number
  height: number
}

const twipsPerPixel = 15
/** Records that hold others, and the one that holds a picture of a store. */
const holders = new Set([0xf004, 0xf002, 0xf003])
const storeEntry = 0xf007
const options = 0xf00b
const altProperty = 0x0381
const withName = 0x66

/** @param at its place in the stream of data */
export function pictureAt(data: Uint8Array, at: number): DocPicture | null {
  const of = new Numbers(data)
  const size = of.u32(at)
  const header = of.u16(at + 4)
  if (at < 0 || size < header || header < 44 || at + size > data.length) return null
  const pixels = (goal: number, scale: number) =>
    Math.max(
      1,
      Math.min(10_000, Math.round(((of.u16(at + goal) / twipsPerPixel) * (of.u16(at + scale) || 1000)) / 1000)),
    )
  const picture: DocPicture = {
    type: null,
    bytes: new Uint8Array(),
    alt: '',
    width: pixels(28, 32),
    height: pixels(30, 34),
  }
  let begin = at + header
  if (of.i16(at + 6) === withName) begin += 1 + of.u8(begin)
  records(data.subarray(begin, at + size), picture, 0)
  return picture
}

function records(bytes: Uint8Array, picture: DocPicture, depth: number): void {
  const of = new Numbers(bytes)
  for (let at = 0; at + 8 <= bytes.length && depth < 8; ) {
    const instance = of.u16(at) >> 4
    const kind = of.u16(at + 2)
    const size = of.u32(at + 4)
    const body = bytes.subarray(at + 8, Math.min(bytes.length, at + 8 + size))
    if (holders.has(kind)) records(body, picture, depth + 1)
    else if (kind === storeEntry) records(body.subarray(36 + (body[33] ?? 0)), picture, depth + 1)
    else if (kind === options) picture.alt ||= textProperty(body, instance)
    else if (kind >= 0xf018 && kind <= 0xf117) blip(kind, instance, body, picture)
    at += 8 + size
  }
}

/** A picture's own bytes stand behind one or two sums of them (§2.2.23). */
function blip(kind: number, instance: number, body: Uint8Array, picture: DocPicture): void {
  if (picture.type) return
  const isPng = kind === 0xf01e
  const isJpeg = kind === 0xf01d || kind === 0xf02a
  if (!isPng && !isJpeg) return
  const sums = instance === 0x6e1 || instance === 0x46b || instance === 0x6e3 ? 2 : 1
  picture.type = isPng ? 'image/png' : 'image/jpeg'
  picture.bytes = body.slice(sums * 16 + 1)
}

/** What a picture is said to show. @param count of properties, whose longer values follow them */
function textProperty(body: Uint8Array, count: number): string {
  const of = new Numbers(body)
  let at = count * 6
  for (let index = 0; index < count; index++) {
    const code = of.u16(index * 6)
    const size = of.u32(index * 6 + 2)
    if (!(code & 0x8000)) continue
    if ((code & 0x3fff) === altProperty) {
      const letters = of.text(at, Math.min(size >> 1, 4000))
      return letters.replace(/\u0000[\s\S]*$/, '')
    }
    at += size
  }
  return ''
}
