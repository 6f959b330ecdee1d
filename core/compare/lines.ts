// Files of plain text, compared by lines and the words in them: each line is a paragraph of a document, so that what
// is said of documents is said of these.
import type { Node } from 'prosemirror-model'
import { documentSchema, storableText } from '../content/document'

/** Types that are read as lines of text. */
export const lineTypes: ReadonlySet<string> = new Set([
  'txt',
  'csv',
  'tsv',
  'md',
  'json',
  'xml',
  'html',
  'htm',
  'log',
  'ini',
  'yml',
  'yaml',
  'ics',
])
/** More of a text is not laid beside another one; characters. */
const longest = 4_000_000

/** A text as a document of its lines. @returns null for one that is too long, or is no text */
export function documentOfLines(bytes: Uint8Array): Node | null {
  if (bytes.length > longest) return null
  const text = textOf(bytes)
  if (text === null) return null
  const { nodes } = documentSchema
  return nodes.doc.create(
    null,
    text.split(/\r\n|\r|\n/).map((line) => {
      const kept = storableText(line)
      return nodes.paragraph.create(null, kept ? documentSchema.text(kept) : null)
    }),
  )
}

/** UTF-8, or UTF-16 where a byte order mark says so; what is no UTF-8 is read as ISO 8859-1. */
function textOf(bytes: Uint8Array): string | null {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return new TextDecoder('utf-16le').decode(bytes)
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return new TextDecoder('utf-16be').decode(bytes)
  if (bytes.subarray(0, 4096).includes(0)) return null
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes)
  } catch {
    return new TextDecoder('iso-8859-1').decode(bytes)
  }
}
