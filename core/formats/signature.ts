// A file's type by its first bytes, whatever its name says.
import { compoundSignature } from './compound/signature'

const ascii = (bytes: Uint8Array, from: number, to: number) => String.fromCharCode(...bytes.subarray(from, to))
const starts = (bytes: Uint8Array, ...signature: number[]) => signature.every((byte, index) => bytes[index] === byte)

/**
 * The type that bytes have by their signature, null when they have none that is known.
 * Sources: APPNOTE.TXT 4.3 (zip), ECMA-376 part 2, ISO/IEC 26300-3 §3.3 (mimetype is the first,
 * stored member), ISO 32000-1 §7.5.2, ISO/IEC 15948 §5.2, ISO/IEC 10918-1 annex B, Rich Text Format 1.9.1 ("RTF Version").
 */
export function typeOfBytes(bytes: Uint8Array): string | null {
  if (starts(bytes, 0x25, 0x50, 0x44, 0x46, 0x2d)) return 'pdf'
  if (starts(bytes, 0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a)) return 'png'
  if (starts(bytes, 0xff, 0xd8, 0xff)) return 'jpg'
  if (starts(bytes, 0x7b, 0x5c, 0x72, 0x74, 0x66)) return 'rtf'
  if (starts(bytes, ...compoundSignature)) return typeOfCompound(bytes)
  if (!starts(bytes, 0x50, 0x4b, 0x03, 0x04)) return null
  const first = ascii(bytes, 30, 120)
  if (first.startsWith('mimetypeapplication/vnd.oasis.opendocument.text')) return 'odt'
  if (first.startsWith('mimetypeapplication/vnd.oasis.opendocument.spreadsheet')) return 'ods'
  // The central directory is at the end; its names tell what the package holds.
  const tail = new TextDecoder('latin1').decode(bytes.subarray(Math.max(0, bytes.length - 65_536)))
  if (tail.includes('word/document')) return 'docx'
  if (tail.includes('xl/workbook')) return 'xlsx'
  return null
}

/** By the streams that [MS-XLS] §2.1.2 and [MS-DOC] §2.1.1 keep the work in, as the beginning of the directory names them. */
function typeOfCompound(bytes: Uint8Array): string | null {
  if (bytes.length < 512) return null
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const from = (view.getUint32(48, true) + 1) * (1 << view.getUint16(30, true))
  const to = Math.min(bytes.length, from + 64 * 128)
  for (let at = from; at + 128 <= to; at += 128) {
    let name = ''
    for (let letter = at; letter < at + 64 && bytes[letter]; letter += 2) name += String.fromCharCode(bytes[letter]!)
    if (/^workbook$/i.test(name)) return 'xls'
    if (/^worddocument$/i.test(name)) return 'doc'
  }
  return null
}

/**
 * Whether a file is protected by a password: a compound file ([MS-CFB] §2.2) with the stream that
 * [MS-OFFCRYPTO] §1.3.2 puts an encrypted package in, by its name in the directory (UTF-16LE).
 */
export function isEncryptedPackage(bytes: Uint8Array): boolean {
  if (!starts(bytes, ...compoundSignature)) return false
  // A directory entry begins at a multiple of 128 bytes, with its name.
  const name = Array.from('EncryptedPackage', (letter) => letter.charCodeAt(0))
  for (let at = 512; at + 128 <= bytes.length; at += 128)
    if (name.every((code, index) => bytes[at + index * 2] === code && bytes[at + index * 2 + 1] === 0)) return true
  return false
}
