// The words of a document or a workbook, for search and for suggestions.
import type { Node } from 'prosemirror-model'
import type { Workbook } from './workbook'

export interface FileWords {
  title: string
  headings: string[]
  sheets: string[]
  /** At most `longestText` letters. */
  text: string
}
export const longestText = 200_000
export const noWords: FileWords = { title: '', headings: [], sheets: [], text: '' }

/** What a note or a comment says is found too; the result of a field is part of its line. */
export const wordsKept = (leaf: Node): string => {
  if (leaf.type.name !== 'kept') return ''
  return leaf.attrs.kind === 'field' ? leaf.attrs.words : ` ${leaf.attrs.words} `
}

export function wordsOfDocument(doc: Node, longest = longestText): FileWords {
  const headings: string[] = []
  const lines: string[] = []
  let length = 0
  doc.descendants((node) => {
    if (!node.isTextblock || length > longest) return length <= longest
    const text = node.textBetween(0, node.content.size, ' ', wordsKept).trim()
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
  return { ...noWords, sheets: workbook.sheets.map(({ name }) => name), text: [...seen].join('\n').slice(0, longest) }
}
