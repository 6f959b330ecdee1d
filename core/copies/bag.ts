// Bags: ordinary files in ordinary folders, with their checksums (BagIt 1.0, RFC 8493). What is said here of a bag is its
// text; where its files are is somebody else's.
import { SaidError, say } from '../words/said'

/** A bag, or part of one, that is not as RFC 8493 has it. Nothing of it is followed. */
export class BadBag extends SaidError {
  override readonly name = 'BadBag'
}

/** `bagit.txt` (§2.1.1). */
export const declaration = 'BagIt-Version: 1.0\nTag-File-Character-Encoding: UTF-8\n'
export const payloadFolder = 'data/'

/** A path as a manifest has it: line ends and the percent sign are written as they are in addresses (§2.1.3). */
const encoded = (path: string): string =>
  path.replace(/[%\r\n]/g, (sign) => `%${sign.charCodeAt(0).toString(16).toUpperCase().padStart(2, '0')}`)
const decoded = (path: string): string =>
  path.replace(/%(25|0[aAdD])/g, (_, code: string) => String.fromCharCode(Number.parseInt(code, 16)))

/** @param files SHA-256, in hex, by path @returns a manifest's text, in the order of its paths (§2.1.3) */
export const manifestOf = (files: ReadonlyMap<string, string>): string =>
  [...files]
    .sort(([a], [b]) => (a < b ? -1 : a > b ? 1 : 0))
    .map(([path, sha256]) => `${sha256}  ${encoded(path)}\n`)
    .join('')

/**
 * The files that a manifest lists.
 * @param inside what each path begins with; empty for tag files, which lie anywhere but in the payload
 * @returns SHA-256, in small letters, by path @throws BadBag
 */
export function readManifest(text: string, inside: string = payloadFolder): Map<string, string> {
  const files = new Map<string, string>()
  for (const [index, line] of text
    .replace(/^\uFEFF/, '')
    .split(/\r\n|\r|\n/)
    .entries()) {
    if (line === '') continue
    const fault = (code: Parameters<typeof say>[0]) => new BadBag(say(code, { line: index + 1 }))
    // Between the two stands white space; an asterisk is of another program's way to say that a file is binary.
    const [, sum, rest] = /^([0-9a-fA-F]{64})[ \t]+\*?(.+)$/s.exec(line) ?? []
    if (!sum || !rest) throw fault('copies.no-line-of-a-manifest')
    const path = decoded(rest).replace(/^(?:\.\/)+/, '')
    if (!isInside(path, inside)) throw fault('copies.a-path-outside-the-bag')
    if (files.has(path)) throw fault('copies.a-path-that-is-listed-twice')
    files.set(path, sum.toLowerCase())
  }
  return files
}

/** Whether a path leads to something inside of a bag, on any system (§2.1.3, §5.1, §5.3). */
export function isInside(path: string, inside = ''): boolean {
  if (!path.startsWith(inside) || path.length === inside.length) return false
  if (inside === '' && path.startsWith(payloadFolder)) return false
  if (/^[/~]|^[A-Za-z]:|[\\\0]/.test(path)) return false
  return path.split('/').every((step) => step !== '' && step !== '.' && step !== '..')
}

/** `bag-info.txt` (§2.2.2): labels and values, in their order. */
export const infoOf = (fields: readonly (readonly [label: string, value: string | number])[]): string =>
  fields.map(([label, value]) => `${label}: ${String(value).replace(/\s+/g, ' ').trim()}\n`).join('')

/** @returns the values by their labels in small letters, of one that is there twice the first */
export function readInfo(text: string): Map<string, string> {
  const fields = new Map<string, string>()
  // A line that begins with white space goes on with the one before.
  for (const line of text
    .replace(/^\uFEFF/, '')
    .replace(/(?:\r\n|\r|\n)[ \t]+/g, ' ')
    .split(/\r\n|\r|\n/)) {
    const [, label, value] = /^([^:]+?)[ \t]*:[ \t]*(.*)$/s.exec(line) ?? []
    const key = label?.toLowerCase()
    if (key && !fields.has(key)) fields.set(key, value!.trim())
  }
  return fields
}

/** `Payload-Oxum`: bytes and files of the payload. */
export const oxumOf = (bytes: number, files: number): string => `${bytes}.${files}`

/** Rows as CSV (RFC 4180); a value that a spreadsheet would reckon is text. */
export const csvOf = (rows: readonly (readonly (string | number)[])[]): string =>
  rows
    .map((row) =>
      row
        .map((value) => {
          const text = typeof value === 'string' && /^[=+\-@\t\r]/.test(value) ? `'${value}` : String(value)
          return /[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text
        })
        .join(','),
    )
    .map((line) => `${line}\r\n`)
    .join('')
