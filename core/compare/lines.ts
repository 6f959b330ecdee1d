// Files of plain text, compared by lines and the words in them: each line is a paragraph of a document, so that what
// is said of documents is said of these.
import type { Node } from 'prosemirror-model'
import { documentSchema, storableText } from '../content/document'
import { textOf } from '../formats/text/encoding'

/** Types that are read as lines of text. */
export const lineTypes: ReadonlySet<string> = new Set([
  'txt',
  'csv',
  'tsv',
  'json',
  'xml',
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
  if (text.slice(0, 4096).includes('\0')) return null
  const { nodes } = documentSchema
  return nodes.doc.create(
    null,
    text.split(/\r\n|\r|\n/).map((line) => {
      const kept = storableText(line)
      return nodes.paragraph.create(null, kept ? documentSchema.text(kept) : null)
    }),
  )
}
