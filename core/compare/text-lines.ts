// What a file says, line by line: a line is what is read in one go, a paragraph, a row of a table or a row of a sheet.
// Which lines came and which went from one version to the next is kept with each version, so that a search in history
// reads what changed and not every version.
import type { Node } from 'prosemirror-model'
import { displayOf } from '../content/display'
import { wordsKept } from '../content/words'
import { largestSheet, type Workbook } from '../content/workbook'
import type { Decoded } from './files'
import type { Results } from './workbook'

export interface TextLine {
  /** Cells of a row that say something, parted by tabs. */
  text: string
  /** The heading that it is under, or the sheet that it is on; empty where there is none. */
  under: string
  /** Which row of a sheet it is, from 0; null in a document. */
  row: number | null
}

/** From one version to the next. */
export interface CameAndWent {
  came: TextLine[]
  went: TextLine[]
  /** There was nothing that could be read before: what came is all that there is. */
  whole: boolean
}

/** A tab parts words here, and cells of a row in a line. */
const textOf = (block: Node): string =>
  block.textBetween(0, block.content.size, ' ', wordsKept).replaceAll('\t', ' ').trim()

/** All that is written in a node, its blocks parted by spaces. */
function allOf(node: Node): string {
  if (node.isTextblock) return textOf(node)
  const texts: string[] = []
  node.descendants((block) => {
    if (!block.isTextblock) return true
    texts.push(textOf(block))
    return false
  })
  return texts.filter(Boolean).join(' ')
}

function linesOfDocument(doc: Node): TextLine[] {
  const lines: TextLine[] = []
  let under = ''
  const add = (text: string) => text && lines.push({ text, under, row: null })
  doc.descendants((node) => {
    if (node.type.name === 'table_row') {
      const cells: string[] = []
      node.forEach((cell) => cells.push(allOf(cell)))
      if (cells.some(Boolean)) add(cells.join('\t'))
      return false
    }
    if (!node.isTextblock) return true
    const text = textOf(node)
    if (node.type.name === 'heading' && text) under = text
    add(text)
    return false
  })
  return lines
}

function linesOfWorkbook(workbook: Workbook, results: Results): TextLine[] {
  const lines: TextLine[] = []
  for (const [at, { name, rows }] of workbook.sheets.entries())
    for (const [row, cells] of rows.entries()) {
      if (!cells?.length) continue
      const texts: string[] = []
      // Only cells that say something: a row may be coloured to the end of the sheet.
      cells.forEach((cell, column) => {
        const text = displayOf(cell ?? undefined, results[at]?.get(row * largestSheet.columns + column))
        if (text && text !== '…') texts.push(text.replaceAll('\t', ' '))
      })
      if (texts.length) lines.push({ text: texts.join('\t'), under: name, row })
    }
  return lines
}

/** What is read in it, from its beginning to its end. */
export const linesOf = (file: Decoded): TextLine[] =>
  file.kind === 'spreadsheet' ? linesOfWorkbook(file.workbook, file.results) : linesOfDocument(file.doc)

/** Those of `lines` that are not in `others` as well, each as often as it is there more often. */
function moreOf(lines: readonly TextLine[], others: readonly TextLine[]): TextLine[] {
  const left = new Map<string, number>()
  for (const { text } of others) left.set(text, (left.get(text) ?? 0) + 1)
  return lines.filter(({ text }) => {
    const there = left.get(text) ?? 0
    if (there) left.set(text, there - 1)
    return !there
  })
}

/** @param older null where nothing was before, or nothing that could be read */
export function cameAndWent(older: Decoded | null, newer: Decoded): CameAndWent {
  const now = linesOf(newer)
  if (!older) return { came: now, went: [], whole: true }
  const before = linesOf(older)
  return { came: moreOf(now, before), went: moreOf(before, now), whole: false }
}
