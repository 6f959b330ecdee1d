// What the files of sheets say of paper, which stays with its rows and columns while they are edited: print areas, titles,
// breaks. What is chosen here is a part of the model (sheet-set-up.ts).
import { type AxisName, movedArea, movedPlaces } from './moved-lines'
import type { SheetPaper } from './sheet-paper'
import type { WorkbookOp } from './workbook-ops'

/** By sheet; undefined where a file says nothing of it. */
export type Papers = readonly (SheetPaper | undefined)[]

/** What was read of each sheet's paper. */
export const papersIn = (looks: readonly { paper?: SheetPaper }[] | undefined): Papers =>
  looks?.map(({ paper }) => paper) ?? []

function moved(paper: SheetPaper, axis: AxisName, at: number, count: number): SheetPaper {
  const lines = (span: readonly [number, number] | undefined): readonly [number, number] | undefined => {
    const now = span && movedArea({ top: span[0], bottom: span[1], left: 0, right: 0 }, 'rows', at, count)
    return now ? [now.top, now.bottom] : undefined
  }
  const { areas, titleRows, titleColumns, rowBreaks, columnBreaks, ...rest } = paper
  const down = axis === 'rows'
  const now = {
    areas: areas?.flatMap((area) => movedArea(area, axis, at, count) ?? []),
    titleRows: down ? lines(titleRows) : titleRows,
    titleColumns: down ? titleColumns : lines(titleColumns),
    rowBreaks: down ? rowBreaks && movedPlaces(rowBreaks, at, count) : rowBreaks,
    columnBreaks: down ? columnBreaks : columnBreaks && movedPlaces(columnBreaks, at, count),
  }
  return {
    ...rest,
    // Where all of what was to be printed is gone, it is said by nothing any more.
    ...(now.areas?.length && { areas: now.areas }),
    ...(now.titleRows && { titleRows: now.titleRows }),
    ...(now.titleColumns && { titleColumns: now.titleColumns }),
    ...(now.rowBreaks && { rowBreaks: now.rowBreaks }),
    ...(now.columnBreaks && { columnBreaks: now.columnBreaks }),
  }
}

/** @param sheets how many there were without the edit */
function papersAfter(papers: Papers, op: WorkbookOp, sheets: number): Papers {
  switch (op.op) {
    case 'insert':
    case 'remove': {
      const own = papers[op.sheet]
      return own ? papers.with(op.sheet, moved(own, op.axis, op.at, op.op === 'insert' ? op.count : -op.count)) : papers
    }
    case 'add sheet':
    case 'put sheet':
      return padded(papers, sheets).toSpliced(op.at, 0, undefined)
    case 'remove sheet':
      return padded(papers, sheets).toSpliced(op.sheet, 1)
    case 'move sheet': {
      const all = padded(papers, sheets)
      return all.toSpliced(op.sheet, 1).toSpliced(op.to, 0, all[op.sheet])
    }
    default:
      return papers
  }
}
const padded = (papers: Papers, sheets: number): (SheetPaper | undefined)[] =>
  Array.from({ length: sheets }, (_, index) => papers[index])

/** After edits, one after the other; what was undone at once is as it was before. @param sheets how many there were */
export function papersThrough(papers: Papers, ops: readonly WorkbookOp[], sheets: number): Papers {
  let now = papers
  let count = sheets
  const past: { op: Extract<WorkbookOp, { op: 'insert' | 'remove' }>; papers: Papers }[] = []
  for (const op of ops) {
    const last = past.at(-1)
    if (op.op === 'insert' || op.op === 'remove') {
      const undoes =
        last &&
        last.op.op !== op.op &&
        last.op.sheet === op.sheet &&
        last.op.axis === op.axis &&
        last.op.at === op.at &&
        last.op.count === op.count
      if (undoes) {
        now = last.papers
        past.pop()
        continue
      }
      past.push({ op, papers: now })
    } else if (op.op === 'add sheet' || op.op === 'put sheet' || op.op === 'remove sheet' || op.op === 'move sheet')
      past.length = 0
    now = papersAfter(now, op, count)
    count += op.op === 'add sheet' || op.op === 'put sheet' ? 1 : op.op === 'remove sheet' ? -1 : 0
  }
  return now
}
