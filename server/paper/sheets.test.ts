// Sheets on pages, by the real typesetter, read again by programs that share nothing with it (poppler, qpdf).
import { execFileSync, spawnSync } from 'node:child_process'
import { randomUUID } from 'node:crypto'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import ExcelJS from 'exceljs'
import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { noLooks } from '../../core/content/looks'
import { anyHistory } from '../../core/content/workbook.arbitrary'
import { noChoices, type PaperChoices } from '../../core/contract'
import { readWorkbook } from '../../core/formats/workbooks'
import { type ShownSheet, shownSheet } from '../../core/paper/shown'
import { infoOf, lettersOf, textOf, usualAsk } from './testing'
import { typesetHere } from './typeset'

let folder: string
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'jaula-sheets-test-'))
})
afterAll(() => rmSync(folder, { recursive: true, force: true }))

async function set(sheets: readonly ShownSheet[], choices: Partial<PaperChoices> = {}, corner = '') {
  const answer = await typesetHere({
    ...usualAsk,
    // As it comes from a browser.
    what: { kind: 'sheets', sheets: JSON.parse(JSON.stringify(sheets)) },
    choices: { ...noChoices, ...choices },
    corner,
  })
  if ('fault' in answer) return { fault: answer.fault, file: '', pages: 0, substituted: [] }
  const file = join(folder, `${randomUUID()}.pdf`)
  writeFileSync(file, answer.pdf)
  return { fault: null, file, ...answer.facts }
}
const opened = async (make: (book: ExcelJS.Workbook) => void): Promise<ShownSheet[]> => {
  const book = new ExcelJS.Workbook()
  make(book)
  const read = readWorkbook(new Uint8Array(await book.xlsx.writeBuffer()), 'xlsx')
  return read.workbook.sheets.map((sheet, at) =>
    shownSheet(
      sheet,
      read.looks[at] ?? noLooks,
      (row, column) => read.results[at]?.get(row * 16_384 + column),
      read.usual,
    ),
  )
}

describe('sheets on pages', () => {
  test('come to paper as their file says: area, titles, order, edges, breaks, paper', async () => {
    const sheets = await opened((book) => {
      const sheet = book.addWorksheet('Gates', {
        pageSetup: {
          paperSize: 9,
          orientation: 'landscape',
          printArea: 'A1:D61',
          printTitlesRow: '1:1',
          margins: { left: 0.5, right: 0.5, top: 0.8, bottom: 0.8, header: 0.3, footer: 0.3 },
        },
        headerFooter: {
          oddHeader: '&LMerrowdale&R&D',
          oddFooter: '&CPage &P of &N, &A',
          firstHeader: '&CFront',
          differentFirst: true,
          firstFooter: '',
        },
      })
      sheet.addRow(['Lock', 'Gate', 'Levels', 'Note', 'Not printed'])
      for (let row = 1; row <= 60; row++)
        sheet.addRow([`LK${String(row).padStart(2, '0')}`, row % 2 ? 'upper' : 'lower', row / 7, 'tight', 'no'])
      sheet.getColumn(3).numFmt = '0.00'
      sheet.getRow(31).addPageBreak()
      book.addWorksheet('Empty')
    })
    expect(sheets[0]!.paper).toMatchObject({
      landscape: true,
      areas: [{ top: 0, left: 0, bottom: 60, right: 3 }],
      titleRows: [0, 0],
      rowBreaks: [31],
      margins: { left: 36, top: expect.closeTo(57.6), head: expect.closeTo(21.6) },
      head: { all: '&LMerrowdale&R&D', first: '&CFront' },
      foot: { all: '&CPage &P of &N, &A' },
    })
    const { file, pages } = await set(sheets)
    expect(pages).toBe(2)
    expect(infoOf(file)).toMatch(/Tagged:\s+yes[\s\S]*Page size:\s+841\.\d+ x 595\.\d+ pts/)
    const each = textOf(file, '-layout').split('\f').slice(0, 2)
    expect(each[0]).toMatch(/Front[\s\S]*Lock\s+Gate\s+Levels\s+Note[\s\S]*LK01\s+upper\s+0\.14\s+tight/)
    expect(each[0]).not.toMatch(/Merrowdale|Page 1/)
    expect(each[1]).toMatch(/Merrowdale\s+29 November 2026[\s\S]*Lock\s+Gate\s+Levels\s+Note[\s\S]*Page 2 of 2, Gates/)
    expect(each.slice(1).every((page) => /^\s*Lock\s+Gate/m.test(page))).toBe(true)
    // The break in the file is one on paper.
    expect(each.some((page) => /LK30/.test(page) && /LK31/.test(page))).toBe(false)
    expect(each.join()).not.toMatch(/Not printed|\bno\b/)
    expect(spawnSync('qpdf', ['--check', file]).status).toBe(0)
  })

  test('what somebody chooses goes before what the file says', async () => {
    const sheets = await opened((book) => {
      const sheet = book.addWorksheet('Wide')
      for (let row = 0; row < 3; row++) sheet.addRow(Array.from({ length: 30 }, (_, column) => `c${column}r${row}`))
      sheet.getCell('A1').fill = { type: 'pattern', pattern: 'solid', fgColor: { argb: 'FFFF0000' } }
    })
    const plain = await set(sheets)
    expect(plain.pages).toBeGreaterThan(3)
    const fit = await set(sheets, { fit: 'width', size: 'a3', landscape: true, headings: true, gridLines: true }, '')
    expect(fit.pages).toBe(1)
    expect(infoOf(fit.file)).toMatch(/Page size:\s+1190\.\d+ x 841\.\d+ pts \(A3\)/)
    expect(textOf(fit.file, '-layout')).toMatch(/A\s+B\s+C[\s\S]*1\s+c0r0\s+c1r0[\s\S]*c29r2/)
    const drawn = (file: string) => {
      const ppm = execFileSync('pdftoppm', ['-r', '40', '-f', '1', '-l', '1', file], { maxBuffer: 1e9 })
      let red = 0
      for (let at = 15; at + 2 < ppm.length; at += 3)
        if (ppm[at]! > 240 && ppm[at + 1]! < 20 && ppm[at + 2]! < 20) red++
      return red
    }
    expect(drawn(plain.file)).toBeGreaterThan(50)
    expect(drawn((await set(sheets, { colours: false })).file)).toBe(0)
    const corner = await set(sheets, { corner: true, properties: false, fit: 'page' }, 'Levels, version 3')
    expect(textOf(corner.file)).toContain('Levels, version 3')
    expect(infoOf(corner.file)).not.toMatch(/Title:/)
  })

  test('of any workbook have every word that is not hidden, none of it cut', { timeout: 240_000 }, async () => {
    let [words, there] = [0, 0]
    for (const { end: workbook } of fc.sample(anyHistory(6), { numRuns: 90, seed: 11 })) {
      const sheets = workbook.sheets.map((sheet) => shownSheet(sheet, noLooks, () => undefined))
      const { fault, file } = await set(sheets)
      if (fault) {
        expect(sheets.every(({ rows }) => rows.every(({ cells }) => cells.every(({ text }) => !text)))).toBe(true)
        continue
      }
      const found = lettersOf(textOf(file, '-raw'))
      for (const { text } of sheets.flatMap(({ rows }) => rows.flatMap(({ cells }) => cells)))
        for (const word of text.match(/[A-Za-z0-9]{2,}/g) ?? []) {
          words++
          if (found.includes(word)) there++
        }
    }
    expect(words).toBeGreaterThan(100)
    expect(there / words).toBeGreaterThanOrEqual(0.99)
  })

  test('what is no sheet, has nothing, or would be thousands of pages is refused with a sentence', async () => {
    const one = shownSheet({ name: 'A', rows: [], widths: {} }, noLooks, () => undefined)
    const says = async (sheets: unknown) => ((await set(sheets as ShownSheet[])).fault as { say: string }).say
    expect(await says([one])).toBe('problem.nothing-to-print')
    expect(await says([])).toBe('problem.nothing-to-print')
    expect(await says({ rows: 3 })).toBe('problem.no-sheets')
    expect(
      await says([{ ...one, rows: [{ row: 0, cells: [{ column: -1, look: 0, text: 'x', side: 'left' }] }] }]),
    ).toBe('problem.no-sheets')
    const far = {
      ...one,
      rows: [0, 1_000_000].map((row) => ({ row, cells: [{ column: 0, look: 0, text: 'x', side: 'left' }] })),
    }
    expect(await says([far])).toBe('problem.too-many-pages')
    const full = {
      ...one,
      rows: Array.from({ length: 6000 }, (_, row) => ({
        row,
        cells: Array.from({ length: 20 }, (_, column) => ({ column, look: 0, text: 'x', side: 'left' })),
      })),
    }
    expect(await says([full])).toBe('problem.too-many-cells-to-set')
    // A look that is not there is that of cells that have none.
    expect(
      (await set([{ ...one, rows: [{ row: 0, cells: [{ column: 0, look: 9, text: 'x', side: 'left' }] }] }])).fault,
    ).toMatchObject({ say: 'problem.no-sheets' })
  })
})
