// Sheets as what is to be set on pages: which cells are where (sheet-pages.ts), their looks in fonts that are there, and what
// stands at the edges.
import type { About } from '../content/about'
import type { BorderSide } from '../content/looks'
import { fontFor, sans } from './fonts'
import { type PaperBorder, type PaperNotes, type PaperSays, paperSays } from './paper'
import { type EdgeFacts, type EdgeThirds, edgeOn } from './sheet-edges'
import { type MeasureIn, type PagedSheet, pagesOf, type SheetPage } from './sheet-pages'
import type { ShownSheet } from './shown'

/** How wide text is. @param size in points */
export type MeasureFont = (family: string, bold: boolean, italic: boolean, size: number) => (text: string) => number

interface SetLook {
  font: string[]
  size: number
  bold?: true
  italic?: true
  underline?: true
  strike?: true
  color?: string
  fill?: string
  vertical?: 'top' | 'middle' | 'bottom'
  borders?: Partial<Record<'top' | 'right' | 'bottom' | 'left', PaperBorder>>
}
interface SetPage extends SheetPage {
  /** Into `sheets`. */
  sheet: number
  first: boolean
  width: number
  height: number
  margins: PagedSheet['margins']
  scale: number
  grid: boolean
  dx: number
  dy: number
  head: EdgeThirds | null
  foot: EdgeThirds | null
}
export interface SheetsPaper {
  says: PaperSays
  /** A BCP 47 tag. */
  language: string
  /** Of what stands at the edges. */
  font: string[]
  sheets: { name: string; looks: SetLook[] }[]
  pages: SetPage[]
}
/** A number above which nothing is set: it would take all the room that there is. */
export const mostPages = 3000
/** Cells that are set take about 14 KB each while they are. */
export const mostCells = 110_000

const borderOf = ({ width, line, color }: BorderSide): PaperBorder => ({
  width: width === 1 ? 0.5 : width === 2 ? 1 : 1.75,
  color,
  dash: line === 'dotted' || line === 'dashed' ? line : 'solid',
})
const hex = (color: string | undefined): color is string => /^#[0-9a-f]{6}$/i.test(color ?? '')

/** @returns the pages, or how many of them, or cells on them, there would be */
export function sheetsPaper(
  sheets: readonly ShownSheet[],
  measure: MeasureFont,
  facts: { name: string; language: string; about?: About | null } & Pick<EdgeFacts, 'day' | 'time'>,
): { paper: SheetsPaper; notes: PaperNotes } | { tooMany: number } | { tooManyCells: number } {
  const substituted = new Map<string, PaperNotes['substituted'][number]>()
  const familyOf = (named: string, told: boolean): string => {
    const { family, same, sameWidths } = fontFor(named, sans)
    if (!same && told) substituted.set(named, { font: named, by: family, sameWidths })
    return family
  }
  const paged: PagedSheet[] = []
  let count = 0
  for (const sheet of sheets) {
    const measureIn: MeasureIn = (look) =>
      measure(
        familyOf(look.font ?? sheet.font.name, false),
        Boolean(look.bold),
        Boolean(look.italic),
        look.size ?? sheet.font.size,
      )
    const pages = pagesOf(sheet, measureIn, mostPages - count)
    if ('tooMany' in pages) return { tooMany: pages.tooMany + count }
    count += pages.pages.length
    paged.push(pages)
  }
  const cells = paged.reduce((sum, { pages }) => sum + pages.reduce((own, page) => own + page.cells.length, 0), 0)
  if (cells > mostCells) return { tooManyCells: cells }
  let number = 0
  const pages: SetPage[] = []
  for (const [at, { pages: own, scale, width, height, margins }] of paged.entries()) {
    const sheet = sheets[at]!
    const { paper } = sheet
    if (paper.firstNumber !== undefined) number = paper.firstNumber - 1
    for (const [n, page] of own.entries()) {
      number++
      const edge: EdgeFacts = { ...facts, file: facts.name, sheet: sheet.name, page: number, pages: count }
      const sum = (sizes: readonly number[]) => sizes.reduce((a, b) => a + b, 0) * scale
      const free = (room: number, taken: number) => Math.max(0, (room - taken) / 2)
      const edges = (which: 'head' | 'foot'): EdgeThirds | null => {
        const thirds = edgeOn(paper[which], n, edge)
        if (!thirds) return null
        const named = (run: EdgeThirds['left'][number]) => ({
          ...run,
          ...(run.font && { font: [familyOf(run.font, true)] as unknown as string }),
        })
        return { left: thirds.left.map(named), center: thirds.center.map(named), right: thirds.right.map(named) }
      }
      pages.push({
        ...page,
        sheet: at,
        first: n === 0,
        width,
        height,
        margins,
        scale,
        grid: Boolean(paper.gridLines),
        dx: paper.centered?.across ? free(width - margins.left - margins.right, sum(page.columns)) : 0,
        dy: paper.centered?.down ? free(height - margins.top - margins.bottom, sum(page.rows)) : 0,
        head: edges('head'),
        foot: edges('foot'),
      })
    }
  }
  return {
    paper: {
      says: paperSays(facts.about, facts.name),
      language: facts.language,
      font: [sans],
      pages,
      sheets: sheets.map((sheet) => ({
        name: sheet.name,
        looks: sheet.looks.map((look): SetLook => {
          const sides = { top: look.top, right: look.right, bottom: look.bottom, left: look.left }
          const borders = Object.entries(sides).flatMap(([side, border]) =>
            border ? [[side, borderOf(border)] as const] : [],
          )
          return {
            font: [familyOf(look.font ?? sheet.font.name, look.font !== undefined)],
            size: look.size ?? sheet.font.size,
            ...(look.bold && { bold: true }),
            ...(look.italic && { italic: true }),
            ...(look.underline && { underline: true }),
            ...(look.strike && { strike: true }),
            ...(hex(look.color) && { color: look.color }),
            ...(hex(look.fill) && { fill: look.fill }),
            ...(look.vertical && { vertical: look.vertical }),
            ...(borders.length && { borders: Object.fromEntries(borders) }),
          }
        }),
      })),
    },
    notes: { substituted: [...substituted.values()], undrawn: 0 },
  }
}
