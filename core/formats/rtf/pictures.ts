// Pictures of Rich Text Format 1.9.1 ("Pictures"): their bytes in hexadecimal or as they are, their size and what they show.
import { storableText } from '../../content/document'
import type { Scanner } from './tokens'
import { Words } from './words'

export interface RtfPicture {
  /** Its media type; null for one that browsers do not show. */
  type: string | null
  bytes: Uint8Array
  alt: string
  /** Pixels. */
  width: number
  height: number
}

const types: Readonly<Record<string, string>> = { pngblip: 'image/png', jpegblip: 'image/jpeg' }
const twipsPerPixel = 15

/** Reads the rest of a group that is a picture. */
export function readPicture(scanner: Scanner, page: number): RtfPicture {
  let type: string | null = null
  const numbers: Record<string, number> = {}
  const pieces: Uint8Array[] = []
  // What is said of it beside: the name of each property, and what it is.
  let property = ''
  let words = new Words(scanner.bytes, page)
  let alt = ''
  scanner.restOfGroup((token, depth) => {
    if (token.is === 'word') {
      const { name, value } = token
      if (depth === 0 && types[name]) type = types[name]
      else if (depth === 0 && name === 'bin' && value) pieces.push(scanner.bytes.slice(token.to - value, token.to))
      else if (depth === 0 && value !== null) numbers[name] = value
      else if (name === 'sn' || name === 'sv') {
        if (name === 'sv') property = words.text
        words = new Words(scanner.bytes, page)
        return
      }
    } else if (token.is === 'close' && property === 'wzDescription') {
      alt = words.text
      property = ''
    } else if (token.is === 'text' && depth === 0) pieces.push(hexBytes(scanner.bytes.subarray(token.from, token.to)))
    if (depth > 0) words.take(token)
  })
  const size = (goal: string, own: string, scale: string) => {
    const twips = numbers[goal] || 0
    const pixels = twips ? twips / twipsPerPixel : numbers[own] || 240
    return Math.max(1, Math.min(10_000, Math.round((pixels * (numbers[scale] || 100)) / 100)))
  }
  let length = 0
  for (const piece of pieces) length += piece.length
  const bytes = new Uint8Array(length)
  let at = 0
  for (const piece of pieces) {
    bytes.set(piece, at)
    at += piece.length
  }
  return {
    type: length ? type : null,
    bytes,
    alt: storableText(alt),
    width: size('picwgoal', 'picw', 'picscalex'),
    height: size('pichgoal', 'pich', 'picscaley'),
  }
}

/** Digits in pairs; what is none is passed over. A line of a picture has whole pairs. */
function hexBytes(digits: Uint8Array): Uint8Array {
  const bytes = new Uint8Array(digits.length >> 1)
  let at = 0
  let half = -1
  for (const digit of digits) {
    const low = digit | 0x20
    const value = digit >= 0x30 && digit <= 0x39 ? digit - 0x30 : low >= 0x61 && low <= 0x66 ? low - 0x57 : -1
    if (value < 0) continue
    if (half < 0) half = value
    else {
      bytes[at++] = half * 16 + value
      half = -1
    }
  }
  return bytes.subarray(0, at)
}
const hex = Array.from({ length: 256 }, (_, byte) => byte.toString(16).padStart(2, '0'))
/** Bytes as pairs of digits, in lines that old programs can read. */
export function hexText(bytes: Uint8Array): string {
  const lines: string[] = []
  for (let at = 0; at < bytes.length; at += 64)
    lines.push(Array.from(bytes.subarray(at, at + 64), (byte) => hex[byte]!).join(''))
  return lines.join('\n')
}
