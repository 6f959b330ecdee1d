// How sheets come to paper, as their file says: margins (§18.3.1.62), set-up (§18.3.1.63), options (§18.3.1.70), edges
// (§18.3.1.46), breaks (§18.3.1.73) and the names of what is printed and of titles (§18.2.5; ECMA-376 part 1).
import type { MergedArea } from '../../content/looks'
import { paperSizes } from '../../content/paper-sizes'
import type { SheetEdges, SheetPaper } from '../../content/sheet-paper'
import { columnNumber, largestSheet } from '../../content/workbook'
import { child, elements, textOf } from '../opc/xml'
import { areaIn } from './formula-source'
import type { WorkbookParts } from './read'

const yes = (value: string | undefined): boolean => value === '1' || value === 'true'
/** At most so many breaks, and areas, are taken of one sheet. */
const mostBreaks = 10_000
const mostAreas = 200

const inches = (value: string | undefined, otherwise: number): number => {
  const found = Number(value)
  return value !== undefined && found >= 0 && found < 50 ? found * 72 : otherwise
}
/** `210mm`, `8.5in` … as points. */
function lengthOf(value: string | undefined): number | undefined {
  const [, number, unit] = /^(\d+(?:\.\d+)?)(mm|cm|in|pt|pc|pi)$/.exec(value?.trim() ?? '') ?? []
  if (!number) return undefined
  const points = Number(number) * { mm: 72 / 25.4, cm: 72 / 2.54, in: 72, pt: 1, pc: 12, pi: 12 }[unit as 'mm']
  return points >= 20 && points <= 15_000 ? points : undefined
}

type Writable<T> = { -readonly [K in keyof T]: T[K] }
const edges = { odd: 'all', even: 'even', first: 'first' } as const

/** Takes what one sheet says, element by element. */
export function paperReader(): {
  open(name: string, attributes: Record<string, string>): boolean
  text(said: string): void
  close(name: string): void
  paper(): SheetPaper | undefined
} {
  const paper: Writable<SheetPaper> = {}
  let fits = false
  let breaks: number[] | null = null
  let collecting: { of: 'head' | 'foot'; on: keyof SheetEdges; said: string } | null = null
  let differ = { even: false, first: false }
  return {
    open(name, attributes) {
      switch (name) {
        case 'pageSetUpPr':
          fits = yes(attributes.fitToPage)
          return true
        case 'printOptions':
          if (yes(attributes.gridLines)) paper.gridLines = true
          if (yes(attributes.headings)) paper.headings = true
          if (yes(attributes.horizontalCentered) || yes(attributes.verticalCentered))
            paper.centered = { across: yes(attributes.horizontalCentered), down: yes(attributes.verticalCentered) }
          return true
        case 'pageMargins':
          paper.margins = {
            top: inches(attributes.top, 54),
            right: inches(attributes.right, 50.4),
            bottom: inches(attributes.bottom, 54),
            left: inches(attributes.left, 50.4),
            head: inches(attributes.header, 21.6),
            foot: inches(attributes.footer, 21.6),
          }
          return true
        case 'pageSetup': {
          const [width, height] = paperSizes.get(Number(attributes.paperSize ?? 1)) ?? []
          const own = [lengthOf(attributes.paperWidth), lengthOf(attributes.paperHeight)]
          if (own[0] && own[1]) Object.assign(paper, { width: own[0], height: own[1] })
          else if (attributes.paperSize !== undefined && width && height) Object.assign(paper, { width, height })
          if (attributes.orientation === 'landscape') paper.landscape = true
          else if (attributes.orientation === 'portrait') paper.landscape = false
          const scale = Number(attributes.scale ?? 100)
          if (scale >= 10 && scale <= 400 && scale !== 100) paper.scale = scale
          const pages = (value: string | undefined) =>
            Math.min(32_767, Math.max(0, Math.floor(Number(value ?? 1)) || 0))
          paper.fit = { wide: pages(attributes.fitToWidth), tall: pages(attributes.fitToHeight) }
          if (attributes.pageOrder === 'overThenDown') paper.across = true
          const first = Number(attributes.firstPageNumber)
          if (yes(attributes.useFirstPageNumber) && first > 0 && first < 100_000) paper.firstNumber = Math.floor(first)
          return true
        }
        case 'headerFooter':
          differ = { even: yes(attributes.differentOddEven), first: yes(attributes.differentFirst) }
          return true
        case 'rowBreaks':
        case 'colBreaks':
          breaks = []
          paper[name === 'rowBreaks' ? 'rowBreaks' : 'columnBreaks'] = breaks
          return true
        case 'brk': {
          const at = Number(attributes.id)
          if (breaks && breaks.length < mostBreaks && at > 0 && at < largestSheet.rows) breaks.push(at)
          return true
        }
      }
      const [, on, of] = /^(odd|even|first)(Header|Footer)$/.exec(name) ?? []
      if (on) collecting = { of: of === 'Header' ? 'head' : 'foot', on: edges[on as 'odd'], said: '' }
      return Boolean(on)
    },
    text(said) {
      if (collecting && collecting.said.length < 2000) collecting.said += said
    },
    close(name) {
      if (name === 'rowBreaks' || name === 'colBreaks') breaks = null
      if (!collecting || !/^(?:odd|even|first)(?:Header|Footer)$/.test(name)) return
      const { of, on, said } = collecting
      collecting = null
      if (on !== 'all' && !differ[on]) return
      // Also an empty one is there: the first page then has nothing where the others have something.
      if (said || on !== 'all') paper[of] = { ...paper[of], [on]: said }
    },
    paper() {
      // A first page, or even ones, of which nothing is said have nothing there.
      for (const on of ['first', 'even'] as const)
        if (differ[on] && (paper.head || paper.foot))
          for (const of of ['head', 'foot'] as const) paper[of] = { [on]: '', ...paper[of] }
      const { fit, ...rest } = paper
      const said = { ...rest, ...(fits && { fit: fit ?? { wide: 1, tall: 1 } }) }
      return Object.keys(said).length ? said : undefined
    },
  }
}

/** Lines like `$1:$3` or `$A:$C`. */
function linesIn(ref: string): { rows: [number, number] } | { columns: [number, number] } | null {
  const [, from, to] = /^\$?(\d{1,7}):\$?(\d{1,7})$/.exec(ref) ?? []
  if (from && to && Number(from) >= 1 && Number(from) <= Number(to) && Number(to) <= largestSheet.rows)
    return { rows: [Number(from) - 1, Number(to) - 1] }
  const [, left, right] = /^\$?([A-Z]{1,3}):\$?([A-Z]{1,3})$/i.exec(ref) ?? []
  if (!left || !right) return null
  const columns: [number, number] = [columnNumber(left), columnNumber(right)]
  return columns[0] <= columns[1] && columns[1] < largestSheet.columns ? { columns } : null
}
/** The references in a name's formula, each without its sheet. */
const refsIn = (formula: string): string[] =>
  [...formula.matchAll(/(?:'(?:[^']|'')*'|[^!,']*)!([^,]+)/g)].map(([, ref]) => ref!.trim())

/** What one of these names says. */
export function printNameIn(name: '_xlnm.Print_Area' | '_xlnm.Print_Titles', formula: string): SheetPaper {
  const own: Writable<SheetPaper> = {}
  if (name === '_xlnm.Print_Area') {
    const areas = refsIn(formula).flatMap((ref): MergedArea[] => {
      const lines = linesIn(ref)
      if (lines)
        return [
          'rows' in lines
            ? { top: lines.rows[0], bottom: lines.rows[1], left: 0, right: largestSheet.columns - 1 }
            : { top: 0, bottom: largestSheet.rows - 1, left: lines.columns[0], right: lines.columns[1] },
        ]
      const area = areaIn(ref, 0)
      return area ? [{ top: area.top, left: area.left, bottom: area.bottom, right: area.right }] : []
    })
    if (areas.length) own.areas = areas.slice(0, mostAreas)
    return own
  }
  for (const ref of refsIn(formula)) {
    const lines = linesIn(ref)
    if (lines && 'rows' in lines) own.titleRows = lines.rows
    else if (lines) own.titleColumns = lines.columns
  }
  return own
}

/** What names say is printed, and is there again on each page, by the number of its sheet among those that hold cells. */
export function printNamesOf({ root, sheets, relationships }: WorkbookParts): Map<number, SheetPaper> {
  const order = [...elements(child(root, 'sheets'), 'sheet')].map(({ attributes }) => {
    const part = relationships.get(attributes['r:id'] ?? '')?.target
    return sheets.findIndex((sheet) => sheet.part === part)
  })
  const found = new Map<number, SheetPaper>()
  for (const element of elements(child(root, 'definedNames'), 'definedName')) {
    const { name, localSheetId } = element.attributes
    const sheet = order[Number(localSheetId)] ?? -1
    if (localSheetId === undefined || sheet < 0) continue
    if (name !== '_xlnm.Print_Area' && name !== '_xlnm.Print_Titles') continue
    found.set(sheet, { ...found.get(sheet), ...printNameIn(name, textOf(element)) })
  }
  return found
}
