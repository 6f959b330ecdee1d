// The words of a file, for search and for suggestions: its title, headings, sheet names and text.

import { type FileWords, longestText, noWords, wordsOfDocument, wordsOfWorkbook } from '../content/words'
import { saidIn } from './csv/said'
import { readDocument } from './documents'
import { openZip } from './opc/zip'
import { textOf } from './text/encoding'
import { familyOf, fileType, isCsv, isText } from './types'
import { readWorkbook } from './workbooks'

/** Text of an OpenDocument content.xml, where paragraphs and headings end lines. ISO/IEC 26300-1 §5.1. */
function openDocumentText(bytes: Uint8Array): FileWords {
  const xml = new TextDecoder().decode(openZip(bytes).read('content.xml') ?? new Uint8Array())
  const plain = (part: string) =>
    part
      .replace(/<[^>]*>/g, '')
      .replace(/&lt;/g, '<')
      .replace(/&gt;/g, '>')
      .replace(/&quot;/g, '"')
      .replace(/&apos;/g, "'")
      .replace(/&amp;/g, '&')
  const headings = Array.from(xml.matchAll(/<text:h[ >][\s\S]*?<\/text:h>/g), ([part]) => plain(part).trim()).filter(
    Boolean,
  )
  const sheets = Array.from(xml.matchAll(/<table:table [^>]*table:name="([^"]*)"/g), (match) => plain(match[1]!))
  const text = plain(xml.replace(/<\/text:[ph]>/g, '\n')).replace(/\n+/g, '\n')
  return { title: headings[0] ?? '', headings: headings.slice(0, 40), sheets, text: text.trim().slice(0, longestText) }
}

/** XML that is read for its words at most; a text of a thousand pages has some ten million. Bytes. */
const mostXml = 48_000_000
const zipped = new Set(['docx', 'xlsx', 'odt', 'ods'])
const isOpenDocument = (type: string): boolean => type === 'odt' || type === 'ods'
/** Types whose words can be had. */
export const hasWords = (type: string): boolean => fileType(type).editable || zipped.has(familyOf(type))

/** The words of a file by its type; none for types that Jaula does not read, for damaged files and for what expands too far. */
export function wordsOfFile(bytes: Uint8Array, type: string): FileWords {
  try {
    if (zipped.has(familyOf(type)) && openZip(bytes).xmlBytes > mostXml) return noWords
    // Of what is all text, also where that is more than is edited.
    if (isCsv(type)) return { ...noWords, text: textOf(bytes, longestText, saidIn(type).encoding) }
    if (isText(type)) return { ...noWords, text: textOf(bytes, longestText) }
    const { kind, editable } = fileType(type)
    if (!editable) return isOpenDocument(type) ? openDocumentText(bytes) : noWords
    return kind === 'document'
      ? wordsOfDocument(readDocument(bytes, type).doc)
      : wordsOfWorkbook(readWorkbook(bytes, type).workbook)
  } catch {
    return noWords
  }
}
