// The words of a file, for search and for suggestions: its title, headings, sheet names and text.

import { type FileWords, longestText, noWords, wordsOfDocument, wordsOfWorkbook } from '../content/words'
import { saidIn } from './csv/said'
import { readDocument } from './documents'
import { openZip } from './opc/zip'
import { textOf } from './text/encoding'
import { familyOf, fileType, isCsv, isText } from './types'
import { readWorkbook } from './workbooks'

/** XML that is read for its words at most; a text of a thousand pages has some ten million. Bytes. */
const mostXml = 48_000_000
const zipped = new Set(['docx', 'xlsx', 'odt', 'ods'])
/** Types whose words can be had. */
export const hasWords = (type: string): boolean => fileType(type).editable

/** The words of a file by its type; none for types that Jaula does not read, for damaged files and for what expands too far. */
export function wordsOfFile(bytes: Uint8Array, type: string): FileWords {
  try {
    if (zipped.has(familyOf(type)) && openZip(bytes).xmlBytes > mostXml) return noWords
    // Of what is all text, also where that is more than is edited.
    if (isCsv(type)) return { ...noWords, text: textOf(bytes, longestText, saidIn(type).encoding) }
    if (isText(type)) return { ...noWords, text: textOf(bytes, longestText) }
    const { kind, editable } = fileType(type)
    if (!editable) return noWords
    return kind === 'document'
      ? wordsOfDocument(readDocument(bytes, type).doc)
      : wordsOfWorkbook(readWorkbook(bytes, type).workbook)
  } catch {
    return noWords
  }
}
