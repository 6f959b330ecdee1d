// How sheets come to paper in the binary format ([MS-XLS] 2.4.257 Setup, 2.4.351 WsBool, margins, edges, breaks, and the
// names that the format has for what is printed and for titles, 2.5.66).

import { paperSizes } from '../../content/paper-sizes'
import type { SheetPaper } from '../../content/sheet-paper'
import { printNameIn } from '../xlsx/paper'
import type { BiffRecord } from './records'
import { viewOf } from './records'
import { textAt } from './strings'

type Writable<T> = { -readonly [K in keyof T]: T[K] }
const types = {
  header: 0x14,
  footer: 0x15,
  columnBreaks: 0x1a,
  rowBreaks: 0x1b,
  left: 0x26,
  right: 0x27,
  top: 0x28,
  bottom: 0x29,
  headings: 0x2a,
  gridLines: 0x2b,
  bool: 0x81,
  across: 0x83,
  down: 0x84,
  setup: 0xa1,
} as const
/** The rows of the format. */
const mostRows = 65_536

/** Takes what one sheet says, record by record. */
export function xlsPaperReader(): { take(one: Pick<BiffRecord, 'type' | 'data'>): void; paper(): SheetPaper } {
  const paper: Writable<SheetPaper> = {}
  const margins: Partial<Writable<NonNullable<SheetPaper['margins']>>> = {}
  const centered = { across: false, down: false }
  let fits = false
  let fit = { wide: 1, tall: 1 }
  const inches = (value: number): number | undefined => (value >= 0 && value < 50 ? value * 72 : undefined)
  const takeOne = ({ type, data }: Pick<BiffRecord, 'type' | 'data'>): void => {
    const view = viewOf(data)
    const isOn = () => data.length >= 2 && view.getUint16(0, true) !== 0
    switch (type) {
      case types.header:
      case types.footer:
        if (data.length > 2)
          paper[type === types.header ? 'head' : 'foot'] = { all: textAt(data, 0, 2).text.slice(0, 2000) }
        return
      case types.left:
      case types.right:
      case types.top:
      case types.bottom: {
        const name = ({ 38: 'left', 39: 'right', 40: 'top', 41: 'bottom' } as const)[type]
        const length = data.length >= 8 ? inches(view.getFloat64(0, true)) : undefined
        if (length !== undefined) margins[name] = length
        return
      }
      case types.headings:
        if (isOn()) paper.headings = true
        return
      case types.gridLines:
        if (isOn()) paper.gridLines = true
        return
      case types.across:
      case types.down:
        centered[type === types.across ? 'across' : 'down'] = isOn()
        return
      case types.bool:
        fits = data.length >= 2 && (view.getUint16(0, true) & 0x100) !== 0
        return
      case types.rowBreaks:
      case types.columnBreaks: {
        const breaks: number[] = []
        for (let at = 2; at + 6 <= data.length && breaks.length < 10_000; at += 6) {
          const line = view.getUint16(at, true)
          if (line > 0) breaks.push(line)
        }
        if (breaks.length) paper[type === types.rowBreaks ? 'rowBreaks' : 'columnBreaks'] = breaks
        return
      }
      case types.setup: {
        if (data.length < 34) return
        const flags = view.getUint16(10, true)
        if (flags & 1) paper.across = true
        const length = (at: number, otherwise: number) => inches(view.getFloat64(at, true)) ?? otherwise
        margins.head = length(16, 36)
        margins.foot = length(24, 36)
        fit = { wide: view.getUint16(6, true) & 0x7fff, tall: view.getUint16(8, true) & 0x7fff }
        const first = view.getInt16(4, true)
        if (flags & 0x80 && first > 0) paper.firstNumber = first
        // Where no printer was there, nothing of the paper is said.
        if (flags & 4) return
        const [width, height] = paperSizes.get(view.getUint16(0, true)) ?? []
        if (width && height) Object.assign(paper, { width, height })
        if (!(flags & 0x40)) paper.landscape = !(flags & 2)
        const scale = view.getUint16(2, true)
        if (scale >= 10 && scale <= 400 && scale !== 100) paper.scale = scale
      }
    }
  }
  return {
    take(one) {
      try {
        takeOne(one)
      } catch (error) {
        // What ends before it says so says nothing; the sheet is there all the same.
        if (!(error instanceof RangeError)) throw error
      }
    },
    paper() {
      return {
        ...paper,
        ...(Object.keys(margins).length && {
          // What the format has where nothing is said, in inches: 1, 0.75 at the sides, 0.5 for the edges.
          margins: { top: 72, bottom: 72, left: 54, right: 54, head: 36, foot: 36, ...margins },
        }),
        ...(fits && { fit }),
        ...((centered.across || centered.down) && { centered }),
      }
    },
  }
}

/** What a name of the format says, by its number there: 6 of what is printed, 7 of titles. */
export function xlsPrintName(number: number, formula: string): SheetPaper {
  // Whole rows and columns are said by their first and their last cell.
  const plain = formula
    .replace(/\$A\$(\d+):\$IV\$(\d+)/g, '$$$1:$$$2')
    .replace(new RegExp(`\\$([A-Z]+)\\$1:\\$([A-Z]+)\\$${mostRows}`, 'g'), '$$$1:$$$2')
  return printNameIn(number === 6 ? '_xlnm.Print_Area' : '_xlnm.Print_Titles', plain)
}
