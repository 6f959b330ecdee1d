// How sheets come to paper, as their file says (OpenDocument 1.3 part 3: page layouts 16.5, master pages 16.9, print ranges
// 19.655, header rows and columns 9.2.7 and 9.2.8).
import type { MergedArea } from '../../content/looks'
import type { SheetEdges, SheetPaper } from '../../content/sheet-paper'
import { columnNumber, largestSheet } from '../../content/workbook'
import { pointsOf } from '../odf/lengths'
import { countOf } from '../odf/styles'
import { child, elements, type XmlElement } from '../opc/xml'
import type { OdsParts } from './read'

type Writable<T> = { -readonly [K in keyof T]: T[K] }

/** Print ranges: `Levels.A1:Levels.D10`, parted by blanks; a name with blanks is in quotation marks. */
function areasIn(said: string | undefined): MergedArea[] {
  const found: MergedArea[] = []
  const sheet = `(?:\\$?(?:'(?:[^']|'')*'|[^\\s.':]*)\\.)?`
  const cell = '\\$?([A-Z]{1,3})\\$?(\\d{1,7})'
  for (const [, left, top, right = left, bottom = top] of (said ?? '').matchAll(
    new RegExp(`${sheet}${cell}(?::${sheet}${cell})?(?=\\s|$)`, 'g'),
  )) {
    const area = {
      top: Number(top) - 1,
      left: columnNumber(left!),
      bottom: Number(bottom) - 1,
      right: columnNumber(right!),
    }
    const fits = area.top >= 0 && area.bottom < largestSheet.rows && area.right < largestSheet.columns
    if (fits && area.top <= area.bottom && area.left <= area.right) found.push(area)
  }
  return found.slice(0, 200)
}

/** The lines that stand in a group of titles, both ends included. */
function titlesIn(table: XmlElement, line: 'row' | 'column'): [number, number] | undefined {
  let at = 0
  let found: [number, number] | undefined
  const walk = (parent: XmlElement, titles: boolean): void => {
    for (const one of elements(parent)) {
      if (one.name === `table:table-${line}`) {
        const count = countOf(one.attributes[`table:number-${line}s-repeated`])
        if (titles) found = [found?.[0] ?? at, at + count - 1]
        at += count
      } else if (new RegExp(`^table:table-(?:header-${line}s|${line}s|${line}-group)$`).test(one.name))
        walk(one, titles || one.name === `table:table-header-${line}s`)
    }
  }
  walk(table, false)
  const most = line === 'row' ? largestSheet.rows : largestSheet.columns
  return found && found[1] < most ? found : undefined
}

const fields: Readonly<Record<string, string>> = {
  'text:page-number': '&P',
  'text:page-count': '&N',
  'text:date': '&D',
  'text:time': '&T',
  'text:file-name': '&F',
  'text:title': '&F',
  'text:sheet-name': '&A',
}
/** What stands at an edge, in the codes that sheets have here (core/content/sheet-paper.ts). */
function codeOf(edge: XmlElement): string {
  const textIn = (parent: XmlElement): string =>
    parent.children
      .map((one) =>
        typeof one === 'string'
          ? one.replaceAll('&', '&&')
          : (fields[one.name] ?? (one.name === 'text:s' ? ' ' : one.name === 'text:line-break' ? '\n' : textIn(one))),
      )
      .join('')
  const paragraphs = (parent: XmlElement | undefined) =>
    [...elements(parent, 'text:p')].map(textIn).join('\n').slice(0, 600)
  const regions = (['left', 'center', 'right'] as const).map((side) => child(edge, `style:region-${side}`))
  if (!regions.some(Boolean)) return paragraphs(edge) && `&C${paragraphs(edge)}`
  return regions
    .map((region, at) => {
      const said = paragraphs(region)
      return said && `&${'LCR'[at]}${said}`
    })
    .join('')
}
const edgeNames = [
  ['style:header', 'head', 'all'],
  ['style:header-left', 'head', 'even'],
  ['style:header-first', 'head', 'first'],
  ['style:footer', 'foot', 'all'],
  ['style:footer-left', 'foot', 'even'],
  ['style:footer-first', 'foot', 'first'],
] as const

export function sheetPaperOf(
  table: XmlElement,
  { opened, styles }: OdsParts,
  breaks: { rows: readonly number[]; columns: readonly number[] },
): SheetPaper | undefined {
  const paper: Writable<SheetPaper> = {}
  const root = opened.styles?.root
  const wanted = styles.automaticStyle('table', table.attributes['table:style-name'])?.attributes[
    'style:master-page-name'
  ]
  const masters = [...elements(child(root, 'office:master-styles'), 'style:master-page')]
  const master = wanted ? masters.find((one) => one.attributes['style:name'] === wanted) : undefined
  const layout = [...elements(child(root, 'office:automatic-styles'), 'style:page-layout')].find(
    (one) => one.attributes['style:name'] === master?.attributes['style:page-layout-name'],
  )
  const says = child(layout, 'style:page-layout-properties')?.attributes ?? {}
  const [width, height] = [pointsOf(says['fo:page-width']), pointsOf(says['fo:page-height'])]
  if (width && height && Math.min(width, height) >= 20 && Math.max(width, height) <= 15_000) {
    // A page that lies is said as wide as it is.
    Object.assign(paper, { width: Math.min(width, height), height: Math.max(width, height) })
    paper.landscape = width > height
  }
  const edges: { head: Writable<SheetEdges>; foot: Writable<SheetEdges> } = { head: {}, foot: {} }
  for (const [name, of, on] of edgeNames) {
    const edge = child(master, name)
    if (!edge || edge.attributes['style:display'] === 'false') continue
    const code = codeOf(edge)
    if (code || on !== 'all') edges[of][on] = code
  }
  for (const of of ['head', 'foot'] as const) if (Object.keys(edges[of]).length) paper[of] = edges[of]
  const length = (said: string | undefined, otherwise: number) => {
    const points = pointsOf(said)
    return points !== undefined && points >= 0 && points < 3600 ? points : otherwise
  }
  if (layout) {
    const usual = length(says['fo:margin'], 56.7)
    const [top, bottom] = [length(says['fo:margin-top'], usual), length(says['fo:margin-bottom'], usual)]
    /** The edge's own height lies between the margin and the cells. */
    const taken = (which: 'header' | 'footer') => {
      const own = child(child(layout, `style:${which}-style`), 'style:header-footer-properties')?.attributes ?? {}
      return length(own['fo:min-height'] ?? own['svg:height'], 0)
    }
    paper.margins = {
      top: top + (paper.head ? taken('header') : 0),
      bottom: bottom + (paper.foot ? taken('footer') : 0),
      left: length(says['fo:margin-left'], usual),
      right: length(says['fo:margin-right'], usual),
      head: top,
      foot: bottom,
    }
  }
  const printed = (says['style:print'] ?? '').split(/\s+/)
  if (printed.includes('grid')) paper.gridLines = true
  if (printed.includes('headers')) paper.headings = true
  if (says['style:print-page-order'] === 'ltr') paper.across = true
  const centered = says['style:table-centering']
  if (centered && centered !== 'none')
    paper.centered = { across: centered !== 'vertical', down: centered !== 'horizontal' }
  const scale = Number.parseFloat(says['style:scale-to'] ?? '')
  if (scale >= 10 && scale <= 400 && scale !== 100) paper.scale = scale
  const count = (name: string) => {
    const pages = Math.floor(Number(says[name]))
    return pages > 0 && pages <= 32_767 ? pages : 0
  }
  // Names that files have for it beside the standard's.
  const [wide, tall] = [count('style:scale-to-X'), count('style:scale-to-Y')]
  const pages = count('style:scale-to-pages')
  if (wide || tall) paper.fit = { wide, tall }
  else if (pages) paper.fit = { wide: 1, tall: pages }
  const first = count('style:first-page-number')
  if (first) paper.firstNumber = first
  const areas = areasIn(table.attributes['table:print-ranges'])
  if (areas.length) paper.areas = areas
  const [titleRows, titleColumns] = [titlesIn(table, 'row'), titlesIn(table, 'column')]
  if (titleRows) paper.titleRows = titleRows
  if (titleColumns) paper.titleColumns = titleColumns
  if (breaks.rows.length) paper.rowBreaks = breaks.rows
  if (breaks.columns.length) paper.columnBreaks = breaks.columns
  return Object.keys(paper).length ? paper : undefined
}
