import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { type MergedArea, noLooks, type SheetLooks } from '../content/looks'
import { papersThrough } from '../content/papers'
import type { SheetPaper } from '../content/sheet-paper'
import type { Cell, Sheet } from '../content/workbook'
import { sheetWith } from './choices'
import { linesOf } from './lines'
import { edgeOf, edgeOn } from './sheet-edges'
import { lineShare, type PagedSheet, pagesOf, usualHeight, usualWidth } from './sheet-pages'
import { type ShownSheet, shownSheet } from './shown'

/** Each letter is half as wide as high. */
const measureIn =
  ({ size = 11 }: { size?: number }) =>
  (text: string) =>
    text.length * size * 0.5
const none = () => undefined
const aSheet = (cells: Record<string, Cell>, more: Partial<Sheet> = {}): Sheet => {
  const rows: (Cell | undefined)[][] = []
  for (const [at, cell] of Object.entries(cells)) {
    const [row, column] = at.split(',').map(Number) as [number, number]
    while (rows.length <= row) rows.push([])
    rows[row]![column] = cell
  }
  return { name: 'Levels', rows, widths: {}, ...more }
}
const paged = (sheet: Sheet, looks: Partial<SheetLooks> = {}): PagedSheet => {
  const found = pagesOf(shownSheet(sheet, { ...noLooks, ...looks }, none), measureIn)
  if ('tooMany' in found) throw new Error(String(found.tooMany))
  return found
}
/** What each cell of a page says, by its place. */
const saysOf = ({ pages }: PagedSheet) =>
  pages.map(({ cells }) =>
    Object.fromEntries(cells.filter(({ lines }) => lines.length).map((c) => [`${c.y},${c.x}`, c.lines.join('|')])),
  )

const paper: fc.Arbitrary<SheetPaper> = fc.record(
  {
    landscape: fc.boolean(),
    scale: fc.integer({ min: 40, max: 200 }),
    fit: fc.record({ wide: fc.nat(3), tall: fc.nat(3) }),
    across: fc.boolean(),
    gridLines: fc.boolean(),
    headings: fc.boolean(),
    titleRows: fc.constantFrom<[number, number]>([0, 0], [0, 1], [2, 3]),
    titleColumns: fc.constantFrom<[number, number]>([0, 0], [1, 2]),
    rowBreaks: fc.array(fc.integer({ min: 1, max: 60 }), { maxLength: 3 }),
    columnBreaks: fc.array(fc.integer({ min: 1, max: 10 }), { maxLength: 2 }),
  },
  { requiredKeys: [] },
)
const cell: fc.Arbitrary<Cell> = fc.record(
  {
    value: fc.oneof(
      fc.integer(),
      fc.lorem({ maxCount: 3 }),
      fc.lorem({ maxCount: 90 }),
      fc.string({ minLength: 1, maxLength: 300 }),
    ),
    style: fc.record({ wrap: fc.constant(true), fill: fc.constant('#ddeeff') }, { requiredKeys: [] }) as fc.Arbitrary<
      NonNullable<Cell['style']>
    >,
  },
  { requiredKeys: ['value'] },
) as fc.Arbitrary<Cell>
const anySheet = fc
  .record({
    cells: fc.array(fc.tuple(fc.nat(70), fc.nat(12), cell), { minLength: 1, maxLength: 60 }),
    widths: fc.dictionary(fc.nat(12).map(String), fc.integer({ min: 20, max: 900 }), { maxKeys: 6 }),
    heights: fc.array(fc.tuple(fc.nat(70), fc.integer({ min: 6, max: 400 })), { maxLength: 5 }),
    hiddenRows: fc.array(fc.nat(70), { maxLength: 4 }),
    hiddenColumns: fc.array(fc.nat(12), { maxLength: 3 }),
    merged: fc.option(fc.tuple(fc.nat(60), fc.nat(8), fc.nat(12), fc.nat(4))),
    paper,
  })
  .map(({ cells, widths, heights, hiddenRows, hiddenColumns, merged, paper }): ShownSheet => {
    const places = Object.fromEntries(cells.map(([row, column, one]) => [`${row},${column}`, one]))
    const area: MergedArea | null = merged && {
      top: merged[0],
      left: merged[1],
      bottom: merged[0] + merged[2],
      right: merged[1] + merged[3] + (merged[2] ? 0 : 1),
    }
    return shownSheet(
      aSheet(places, { widths: widths as unknown as Record<number, number> }),
      {
        ...noLooks,
        heights: new Map(heights),
        hiddenRows: new Set(hiddenRows),
        hiddenColumns: new Set(hiddenColumns),
        merged: area ? [area] : [],
        paper,
      },
      none,
    )
  })

describe('a sheet on pages', () => {
  test('of any sheet every page fits its paper, and every word that is not hidden is on one, in lines that have room', () => {
    fc.assert(
      fc.property(anySheet, (sheet) => {
        const found = pagesOf(sheet, measureIn)
        if ('tooMany' in found) throw new Error('too many')
        const { pages, scale, width, height, margins } = found
        const hidden = { rows: new Set(sheet.hiddenRows), columns: new Set(sheet.hiddenColumns) }
        const there = new Map<string, number>()
        for (const page of pages) {
          const sum = (sizes: readonly number[]) => sizes.reduce((a, b) => a + b, 0)
          expect(sum(page.columns) * scale).toBeLessThan(width - margins.left - margins.right + 0.01)
          expect(sum(page.rows) * scale).toBeLessThan(height - margins.top - margins.bottom + 0.01)
          const taken = new Set<string>()
          for (const one of page.cells) {
            for (let y = one.y; y < one.y + one.rows; y++)
              for (let x = one.x; x < one.x + one.columns; x++) {
                expect([x < page.columns.length, y < page.rows.length]).toEqual([true, true])
                // No cell lies over another.
                expect(taken.has(`${y},${x}`)).toBe(false)
                taken.add(`${y},${x}`)
              }
            if (one.heading) continue
            const size = 11 * (one.smaller ?? 1)
            const room = sum(page.columns.slice(one.x, one.x + one.columns))
            for (const line of one.lines)
              if (line.length > 1) expect(measureIn({ size })(line)).toBeLessThanOrEqual(room)
            expect(one.lines.length * size * lineShare).toBeLessThanOrEqual(
              sum(page.rows.slice(one.y, one.y + one.rows)) + 0.01,
            )
            const letters = one.lines.join('').replace(/\s/g, '')
            // Titles are there again.
            if (one.y >= page.titles) for (const letter of letters) there.set(letter, (there.get(letter) ?? 0) + 1)
            else for (const letter of letters) there.set(letter, there.get(letter) ?? 0)
          }
        }
        const area = sheet.merged[0]
        const inside = (row: number, column: number) =>
          area && row >= area.top && row <= area.bottom && column >= area.left && column <= area.right
        const titleColumns = sheet.paper.titleColumns
        const titleRows = sheet.paper.titleRows
        const wanted = new Map<string, number>()
        for (const { row, cells } of sheet.rows)
          for (const { column, text } of cells) {
            if (hidden.rows.has(row) || hidden.columns.has(column)) continue
            // Under a merged area nothing is shown but its first cell.
            if (inside(row, column) && (row !== area!.top || column !== area!.left)) continue
            if (titleRows && row >= titleRows[0] && row <= titleRows[1]) continue
            if (titleColumns && column >= titleColumns[0] && column <= titleColumns[1]) continue
            for (const letter of text.replace(/\s/g, '')) wanted.set(letter, (wanted.get(letter) ?? 0) + 1)
          }
        for (const [letter, count] of wanted)
          expect([letter, there.get(letter) ?? 0]).toEqual([letter, expect.toSatisfy((n: number) => n >= count)])
      }),
      { numRuns: 150 },
    )
  })

  test('goes down first, and across where that is chosen; titles are there again', () => {
    const cells: Record<string, Cell> = {}
    for (let row = 0; row < 100; row++)
      for (let column = 0; column < 8; column++) cells[`${row},${column}`] = { value: `${row}:${column}` }
    const down = paged(aSheet(cells), { paper: { titleRows: [0, 0], titleColumns: [0, 0] } })
    const across = paged(aSheet(cells), { paper: { titleRows: [0, 0], titleColumns: [0, 0], across: true } })
    expect(down.pages.map(({ columns, rows }) => [columns.length, rows.length])).toEqual([
      [6, 48],
      [6, 48],
      [6, 6],
      [3, 48],
      [3, 48],
      [3, 6],
    ])
    const corner = (one: PagedSheet) => saysOf(one).map((page) => [page['0,0'], page['1,1']])
    expect(corner(down)).toEqual([
      ['0:0', '1:1'],
      ['0:0', '48:1'],
      ['0:0', '95:1'],
      ['0:0', '1:6'],
      ['0:0', '48:6'],
      ['0:0', '95:6'],
    ])
    expect(corner(across).map(([, one]) => one)).toEqual(['1:1', '1:6', '48:1', '48:6', '95:1', '95:6'])
    expect(down.pages.map(({ titles }) => titles)).toEqual([0, 1, 1, 0, 1, 1])
  })

  test('is as small as it must be to fit, and no smaller', () => {
    const cells = Object.fromEntries(Array.from({ length: 20 }, (_, column) => [`0,${column}`, { value: column }]))
    const fit = paged(aSheet(cells), { paper: { fit: { wide: 1, tall: 0 } } })
    expect(fit.pages).toHaveLength(1)
    const room = fit.width - fit.margins.left - fit.margins.right
    expect(fit.scale * 20 * usualWidth).toBeLessThanOrEqual(room)
    expect((fit.scale + 0.002) * 20 * usualWidth).toBeGreaterThan(room)
    // Smaller than it is, never larger.
    expect(paged(aSheet({ '0,0': { value: 1 } }), { paper: { fit: { wide: 1, tall: 1 } } }).scale).toBe(1)
    const tall = Object.fromEntries(Array.from({ length: 200 }, (_, row) => [`${row},0`, { value: row }]))
    expect(paged(aSheet(tall), { paper: { fit: { wide: 0, tall: 2 } } }).pages).toHaveLength(2)
    const chosen = sheetWith(
      { scale: 60 },
      {
        size: 'a5',
        landscape: true,
        margins: null,
        remarks: 'none',
        colours: true,
        corner: false,
        properties: true,
        fit: 'width',
        gridLines: null,
        headings: null,
        across: null,
      },
    )
    expect(chosen).toMatchObject({ fit: { wide: 1, tall: 0 }, landscape: true })
    expect(chosen.scale).toBeUndefined()
  })

  test('text goes over empty cells beside it, and is broken where there are none; numbers are set smaller', () => {
    const long = 'The upper paddle lifts without a load'
    const over = paged(aSheet({ '0,0': { value: long } }))
    expect(over.pages[0]!.cells[0]).toMatchObject({ x: 0, columns: 3, lines: [long] })
    const beside = paged(aSheet({ '0,0': { value: long }, '0,4': { value: 'x' } }))
    expect(beside.pages[0]!.cells.find(({ x }) => x === 0)).toMatchObject({ columns: 3, lines: [long] })
    const closed = paged(aSheet({ '0,0': { value: long }, '0,1': { value: 'x' } }))
    const lines = closed.pages[0]!.cells.find(({ x }) => x === 0)!.lines
    expect(lines.join(' ')).toBe(long)
    expect(closed.pages[0]!.rows[0]).toBeCloseTo(lines.length * 11 * lineShare + 1)
    // Towards the left, where that is its side.
    const right = paged(aSheet({ '0,4': { value: long, style: { align: 'right' } } }))
    expect(right.pages[0]!.cells[0]).toMatchObject({ x: 2, columns: 3, lines: [long] })
    const number = paged(aSheet({ '0,0': { value: 123456789012 }, '0,1': { value: 1 } }, { widths: { 0: 40 } }))
    const [one] = number.pages[0]!.cells
    expect(one).toMatchObject({ lines: ['123456789012'] })
    expect(one!.smaller).toBeLessThan(0.6)
  })

  test('a row that is higher than a page goes on over the next ones', () => {
    const words = Array.from({ length: 900 }, (_, n) => `w${n}`).join(' ')
    const { pages } = paged(aSheet({ '0,0': { value: words, style: { wrap: true } }, '1,0': { value: 'after' } }))
    expect(pages.length).toBeGreaterThan(3)
    const said = pages.flatMap(({ cells }) => cells.flatMap(({ lines }) => lines))
    expect(said.join(' ')).toBe(`${words} after`)
  })

  test('what is printed moves along with rows and columns', () => {
    const paper: SheetPaper = {
      areas: [{ top: 2, left: 0, bottom: 9, right: 3 }],
      titleRows: [2, 3],
      titleColumns: [0, 0],
      rowBreaks: [6],
      columnBreaks: [2],
    }
    const papers = [paper]
    const after = papersThrough(papers, [{ op: 'insert', sheet: 0, axis: 'rows', at: 1, count: 2 }], 1)
    expect(after[0]).toEqual({
      ...paper,
      areas: [{ top: 4, left: 0, bottom: 11, right: 3 }],
      titleRows: [4, 5],
      rowBreaks: [8],
    })
    const gone = papersThrough(papers, [{ op: 'remove', sheet: 0, axis: 'rows', at: 0, count: 20 }], 1)
    expect(gone[0]).toEqual({ titleColumns: [0, 0], rowBreaks: [], columnBreaks: [2] })
    const columns = papersThrough(papers, [{ op: 'remove', sheet: 0, axis: 'columns', at: 0, count: 1 }], 1)
    expect(columns[0]).toEqual({
      areas: [{ top: 2, left: 0, bottom: 9, right: 2 }],
      titleRows: [2, 3],
      rowBreaks: [6],
      columnBreaks: [1],
    })
  })

  test('where they would be too many pages, it says how many', () => {
    const tall = shownSheet(aSheet({ '0,0': { value: 1 }, '9999,0': { value: 2 } }), noLooks, none)
    expect(pagesOf(tall, measureIn, 100)).toEqual({
      tooMany: Math.ceil(10_000 / Math.floor((841.89 - 108) / usualHeight)),
    })
  })
})

test('lines are the text again, and none is wider than it may be', () => {
  fc.assert(
    fc.property(
      fc.oneof(fc.lorem({ maxCount: 30 }), fc.string({ unit: 'grapheme', maxLength: 80 })),
      fc.integer({ min: 12, max: 200 }),
      (text, width) => {
        const measure = (one: string) => [...one].length * 5
        const lines = linesOf(text, width, measure)
        expect(lines.join('').replace(/\s/g, '')).toBe(text.replace(/\s/g, ''))
        const letters = new Intl.Segmenter(undefined, { granularity: 'grapheme' })
        for (const line of lines) expect(measure(line) <= width || [...letters.segment(line)].length === 1).toBe(true)
      },
    ),
  )
  expect(linesOf('left-hand gate', 50, (text) => text.length * 5)).toEqual(['left-hand', 'gate'])
  expect(linesOf('left-hand gate', 30, (text) => text.length * 5)).toEqual(['left-', 'hand', 'gate'])
})

describe('what stands at the edges', () => {
  const facts = { page: 4, pages: 9, day: '29 November', time: '14:30', file: 'Levels.xlsx', sheet: 'LK07' }
  const plain = (code: string) => {
    const found = edgeOf(code, facts)
    return found && [found.left, found.center, found.right].map((runs) => runs.map(({ t }) => t).join(''))
  }
  test('is read from its codes', () => {
    expect(plain('&LPage &P of &N&C&A &&  co&R&D &T &F')).toEqual([
      'Page 4 of 9',
      'LK07 &  co',
      '29 November 14:30 Levels.xlsx',
    ])
    expect(plain('Levels')).toEqual(['', 'Levels', ''])
    expect(plain('')).toBe(null)
    expect(edgeOf('&L&"Arial,Bold"&14Gate&B no&R&KFF0000&I x', facts)).toEqual({
      left: [
        { t: 'Gate', font: 'Arial', bold: true, size: 14 },
        { t: ' no', font: 'Arial', size: 14 },
      ],
      center: [],
      right: [{ t: ' x', italic: true }],
    })
    expect(plain('&P+1&C&P-3')).toEqual(['', '1', ''].map((_, n) => (n === 1 ? '51' : '')))
  })
  test('is another one on the first page, and on even ones', () => {
    const edges = { all: 'all', first: '', even: 'even' }
    const on = (at: number, page: number) => edgeOn(edges, at, { ...facts, page })?.center[0]?.t
    expect([on(0, 1), on(1, 2), on(2, 3)]).toEqual([undefined, 'even', 'all'])
  })
  test('whatever its codes are', () => {
    fc.assert(
      fc.property(
        fc.string({ unit: fc.constantFrom('&', 'L', 'C', 'R', 'P', 'K', '"', ',', '1', '+', 'x', ' ') }),
        (code) => {
          edgeOf(code, facts)
        },
      ),
    )
  })
})
