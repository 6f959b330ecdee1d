// The words of a file, for search and for suggestions: its title, headings, sheet names and text.
import type { Node } from 'prosemirror-model'
import type { Workbook } from '../content/workbook'
import { readDocx } from './docx/read'
import { openZip } from './opc/zip'
import { readXlsx } from './xlsx/read'

export interface FileWords {
  title: string
  headings: string[]
  sheets: string[]
  /** At most `longestText` letters. */
  text: string
}
export const longestText = 200_000
const nothing: FileWords = { title: '', headings: [], sheets: [], text: '' }

export function wordsOfDocument(doc: Node, longest = longestText): FileWords {
  const headings: string[] = []
  const lines: string[] = []
  let length = 0
  doc.descendants((node) => {
    if (!node.isTextblock || length > longest) return length <= longest
    const text = node.textBetween(0, node.content.size, ' ').trim()
    if (node.type.name === 'heading' && text) headings.push(text)
    lines.push(text)
    length += text.length + 1
    return false
  })
  return {
    title: headings[0] ?? '',
    headings: headings.slice(0, 40),
    sheets: [],
    text: lines.join('\n').slice(0, longest),
  }
}

export function wordsOfWorkbook(workbook: Workbook, longest = longestText): FileWords {
  const seen = new Set<string>()
  let length = 0
  for (const sheet of workbook.sheets)
    for (const row of sheet.rows) {
      if (length > longest) break
      for (const cell of row ?? []) {
        const value = cell?.value
        if (typeof value !== 'string' || seen.has(value)) continue
        seen.add(value)
        length += value.length
      }
    }
  return { ...nothing, sheets: workbook.sheets.map(({ name }) => name), text: [...seen].join('\n').slice(0, longest) }
}

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

/** The words of a file by its type; none for types that Jaula does not read and for damaged files. */
export function wordsOfFile(bytes: Uint8Array, type: string): FileWords {
  try {
    switch (type) {
      case 'docx':
        return wordsOfDocument(readDocx(bytes).doc)
      case 'xlsx':
        return wordsOfWorkbook(readXlsx(bytes).workbook)
      case 'odt':
      case 'ods':
        return openDocumentText(bytes)
      case 'csv':
      case 'txt':
        return { ...nothing, text: new TextDecoder().decode(bytes.subarray(0, longestText)) }
      default:
        return nothing
    }
  } catch {
    return nothing
  }
}
