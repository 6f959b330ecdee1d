// An earlier moment as it is put on pages.
import { Transform } from 'prosemirror-transform'
import { documentFromJSON, documentSchema, hasMark, type Look } from '../../core/content/document'
import { looksOf } from '../../core/content/looks'
import { largestSheet, type Workbook } from '../../core/content/workbook'
import { applyOps } from '../../core/content/workbook-ops'
import { type ShownSheet, shownSheet } from '../../core/paper/shown'
import type { PutOnPaper } from '../work/content'
import type { SheetMarks, Then } from '../workers/looking-back'

/** What is looked at in place of the work. */
export interface LookedAtThen {
  id: string
  then: Then
  /** The work that it was told against. */
  present: unknown
  /** The version that it is; null for a moment between them. */
  version: { id: string; number: number } | null
}

/** What is on the pages in place of white where it is not there any more, stands elsewhere, or looks otherwise. */
export const marks = { gone: '#f8d3cb', moved: '#d7dff5', look: '#efe6c0' } as const

function markedDocument(json: unknown, then: Extract<Then, { kind: 'document' }>): unknown {
  const doc = documentFromJSON(json)
  const marked = new Transform(doc)
  for (const kind of ['look', 'moved', 'gone'] as const)
    for (const { from, to } of then[kind])
      doc.nodesBetween(Math.max(0, from), Math.min(to, doc.content.size), (node, at) => {
        if (!node.isText) return
        const { color = null, size = null, font = null } = (hasMark(node.marks, 'look')?.attrs ?? {}) as Partial<Look>
        const look = documentSchema.mark('look', { color, size, font, fill: marks[kind] })
        marked.addMark(Math.max(from, at), Math.min(to, at + node.nodeSize), look)
      })
  return marked.doc.toJSON()
}

/** Cells that differ are filled; of rows and columns that are not there any more, all that is in them. */
function markedSheet(sheet: ShownSheet, { cells, rows, columns }: SheetMarks): ShownSheet {
  const marked = new Set(cells.map(([row, column]) => row * largestSheet.columns + column))
  const [goneRows, goneColumns] = [new Set(rows), new Set(columns)]
  const looks = [...sheet.looks]
  const filled = new Map<number, number>()
  const lookOf = (look: number, fill: string): number => {
    const key = look * 2 + (fill === marks.gone ? 1 : 0)
    const known = filled.get(key) ?? looks.length
    if (known === looks.length) {
      looks.push({ ...looks[look], fill })
      filled.set(key, known)
    }
    return known
  }
  return {
    ...sheet,
    looks,
    rows: sheet.rows.map(({ row, cells: own }) => ({
      row,
      cells: own.map((cell) => {
        if (goneRows.has(row) || goneColumns.has(cell.column)) return { ...cell, look: lookOf(cell.look, marks.gone) }
        return marked.has(row * largestSheet.columns + cell.column)
          ? { ...cell, look: lookOf(cell.look, marks.look) }
          : cell
      }),
    })),
  }
}

/**
 * @param only its first sheet
 * @param marked what differs from now is marked
 * @returns null for what cannot be shown
 */
export function thenOnPaper({ then, present }: LookedAtThen, only: boolean, marked: boolean): PutOnPaper | null {
  if (then.kind === 'document') return { kind: 'document', json: marked ? markedDocument(then.json, then) : then.json }
  if (then.kind !== 'spreadsheet') return null
  const { sheets } = applyOps(present as Workbook, then.ops)
  return {
    kind: 'sheets',
    sheets: sheets.slice(0, only ? 1 : sheets.length).map((sheet, at) => {
      const shown = shownSheet(sheet, looksOf(sheet, then.papers[at]), (row, column) =>
        then.results[at]?.get(row * largestSheet.columns + column),
      )
      const differs = marked ? then.marks[at] : undefined
      return differs ? markedSheet(shown, differs) : shown
    }),
    others: sheets.length - 1,
  }
}
