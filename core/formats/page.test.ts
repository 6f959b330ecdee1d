// Files as pages to look at: what is hidden is not in them, and nothing in them runs.
import * as fc from 'fast-check'
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import { describe, expect, test } from 'vitest'
import { documentSchema } from '../content/document'
import { writeDocument } from './documents'
import { pageOfSheets } from './html/sheets-write'
import { shownPage } from './page'
import { mostRowsShown } from './shown-rows'
import { writeXlsx } from './xlsx/write'

describe('sheets', () => {
  const area = fc.record({ top: fc.nat(7), left: fc.nat(5), high: fc.nat(3), wide: fc.nat(3) })
  test('show each cell that is not hidden, and of what is hidden no letter', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.nat(9), { maxLength: 6 }),
        fc.uniqueArray(fc.nat(7), { maxLength: 5 }),
        area,
        fc.integer({ min: 1, max: 12 }),
        (rows, columns, { top, left, high, wide }, most) => {
          const [hiddenRows, hiddenColumns] = [new Set(rows), new Set(columns)]
          const merged = { top, left, bottom: top + high, right: left + wide }
          const named = (row: number, column: number) => `r${row}c${column}.`
          const sheet = {
            name: 'Levels',
            merged: [merged],
            hiddenRows: [...hiddenRows],
            hiddenColumns: [...hiddenColumns],
            rows: Array.from({ length: 10 }, (_, row) =>
              Array.from({ length: 8 }, (_, column) => ({ value: named(row, column) })),
            ),
            widths: {},
          }
          const page = pageOfSheets({ workbook: { sheets: [sheet] }, resultOf: () => undefined }, { rows: most })
          const area = (from: number, to: number, hidden: Set<number>) =>
            Array.from({ length: to - from + 1 }, (_, at) => from + at).filter((line) => !hidden.has(line))
          const [shownRows, shownColumns] = [area(top, top + high, hiddenRows), area(left, left + wide, hiddenColumns)]
          for (let row = 0; row < 10; row++)
            for (let column = 0; column < 8; column++) {
              const inside = row >= top && row <= merged.bottom && column >= left && column <= merged.right
              const isFirst = row === top && column === left
              const seen = inside
                ? isFirst && shownColumns.length > 0 && shownRows.length > 0 && shownRows[0]! < most
                : row < most && !hiddenRows.has(row) && !hiddenColumns.has(column)
              expect(page.includes(named(row, column)), named(row, column)).toBe(seen)
            }
          // Every line has as many columns as are shown, with those that hang into it.
          const height = Math.min(most, Math.max(10, merged.bottom + 1))
          const width = area(0, Math.max(7, merged.right), hiddenColumns).length
          const filled = new Map<number, number>()
          const lines = [...page.matchAll(/<tr>(.*?)<\/tr>/gs)].map(([, cells]) => cells!)
          expect(lines).toHaveLength(area(0, height - 1, hiddenRows).length)
          for (const [at, cells] of lines.entries())
            for (const [, spans] of cells.matchAll(/<td([^>]*)>/g)) {
              const of = (name: string) => Number(new RegExp(`${name}="(\\d+)"`).exec(spans!)?.[1] ?? 1)
              for (let line = at; line < at + of('rowspan'); line++)
                filled.set(line, (filled.get(line) ?? 0) + of('colspan'))
            }
          for (const at of lines.keys()) expect(filled.get(at) ?? 0).toBe(width)
        },
      ),
      { numRuns: 300 },
    )
  })
  test('show results as the file has them, say which are not shown to their end, and leave out hidden sheets', () => {
    const rows = Array.from({ length: mostRowsShown + 1 }, (_, row) => [{ value: row }])
    rows[0] = [{ formula: '=SUM(A3:A4)' } as never]
    const parts = unzipSync(
      writeXlsx({
        sheets: [
          { name: 'Long', rows, widths: {} },
          { name: 'Short', rows: [], widths: {} },
          ...Array.from({ length: 7 }, (_, at) => ({
            name: `Hidden ${at}`,
            rows: [[{ value: 'not to be seen' }]],
            widths: {},
          })),
        ],
      }),
    )
    const list = strFromU8(parts['xl/workbook.xml']!).replaceAll('name="Hidden', 'state="hidden" name="Hidden')
    const book = zipSync({ ...parts, 'xl/workbook.xml': strToU8(list) })
    const shown = shownPage(book, 'xlsx')!
    expect(shown.cut).toEqual(['Long'])
    expect(shown.page).toContain('>5<')
    expect(shown.page).toContain(`>${mostRowsShown - 1}<`)
    expect(shown.page).not.toContain(`>${mostRowsShown}<`)
    expect(shown.page).toContain('Short')
    expect(shown.page).not.toMatch(/Hidden|not to be seen/)
  })
})

describe('documents', () => {
  test('are pages of their words', () => {
    const { bytes } = writeDocument(
      documentSchema.node('doc', null, [
        documentSchema.node('paragraph', null, [documentSchema.text('The paddles <turn> again.')]),
      ]),
      null,
      'docx',
    )
    expect(shownPage(bytes, 'docx')!.page).toContain('The paddles &#60;turn&#62; again.')
    expect(shownPage(strToU8('Reeds & towpath'), 'txt')!.page).toContain('Reeds &#38; towpath')
  })
  test('that are pages of somebody else are written anew: nothing of them runs or is fetched', () => {
    const { page } = shownPage(
      strToU8(
        `<p onclick="alert(1)">Weir</p><script>alert(2)</script><iframe src="https://example.org/"></iframe>
         <a href="javascript:alert(3)">Lock</a><img src="https://example.org/spy.png"><style>p{background:url(https://example.org/)}</style>`,
      ),
      'html',
    )!
    expect(page).toContain('Weir')
    expect(page).toContain('Lock')
    expect(page).not.toMatch(/alert|example\.org|<script|<iframe/)
  })
  test('of other types are not shown', () => {
    expect(shownPage(strToU8('%PDF-1.7'), 'pdf')).toBeNull()
  })
})
