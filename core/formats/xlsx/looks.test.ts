// What a sheet looks like beyond the model, in files of another writer, and after edits: as the saved file has it.
import ExcelJS from 'exceljs'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { looksOf, mergedAt, noLooks, type SheetLooks } from '../../content/looks'
import { applyOps, invertOp, type WorkbookOp } from '../../content/workbook-ops'
import { NotPatched } from '../refusals'
import { patchXlsx } from './patch'
import { readXlsx } from './read'

const line = { style: 'thin', color: { argb: 'FF336699' } } as const
async function ledger(): Promise<Uint8Array> {
  const workbook = new ExcelJS.Workbook()
  const sheet = workbook.addWorksheet('Tolls')
  sheet.mergeCells('A1:C1')
  sheet.mergeCells('B4:C6')
  sheet.getCell('A1').value = 'Tolls'
  sheet.getCell('A1').font = { name: 'Georgia', size: 16, bold: true }
  sheet.getCell('A1').alignment = { vertical: 'middle', horizontal: 'center' }
  sheet.getRow(1).height = 32
  sheet.getCell('B4').value = 'Closed'
  for (let row = 2; row <= 8; row++) sheet.getCell(row, 1).value = row
  sheet.getCell('A8').border = { top: line, bottom: { style: 'double' }, left: { style: 'mediumDashed' } }
  sheet.getCell('D7').border = { right: { style: 'thick', color: { argb: 'FF000000' } } }
  sheet.getRow(3).hidden = true
  sheet.getColumn(5).hidden = true
  sheet.getCell('E2').value = 'kept out of sight'
  workbook.addWorksheet('Plain').getCell('A1').value = 1
  return new Uint8Array((await workbook.xlsx.writeBuffer()) as ArrayBuffer)
}
const at = (row: number, column: number) => row * 16384 + column
/** Without what is as if it were not there, and in one order. */
const plain = (looks: readonly SheetLooks[]) =>
  looks.map(({ merged, heights, hiddenRows, hiddenColumns, cells }) => ({
    merged: merged.toSorted((a, b) => a.top - b.top || a.left - b.left),
    heights: [...heights].toSorted((a, b) => a[0] - b[0]),
    hiddenRows: [...hiddenRows].toSorted((a, b) => a - b),
    hiddenColumns: [...hiddenColumns].toSorted((a, b) => a - b),
    cells: [...cells].toSorted((a, b) => a[0] - b[0]),
  }))

const base = await ledger()
const read = readXlsx(base)

test('merged cells, borders, fonts, heights and what is hidden are read as another writer has them', () => {
  const [looks, second] = read.looks
  expect(looks!.merged).toEqual([
    { top: 0, left: 0, bottom: 0, right: 2 },
    { top: 3, left: 1, bottom: 5, right: 2 },
  ])
  expect(mergedAt(looks!, 4, 2)).toEqual({ top: 3, left: 1, bottom: 5, right: 2 })
  expect(mergedAt(looks!, 6, 2)).toBeUndefined()
  expect(looks!.heights.get(0)).toBe(32)
  expect([...looks!.hiddenRows]).toEqual([2])
  expect([...looks!.hiddenColumns]).toEqual([4])
  expect(looks!.cells.get(at(0, 0))).toEqual({ font: 'Georgia', size: 16, vertical: 'middle' })
  expect(looks!.cells.get(at(7, 0))).toEqual({
    top: { width: 1, line: 'solid', color: '#336699' },
    bottom: { width: 3, line: 'double', color: null },
    left: { width: 2, line: 'dashed', color: null },
  })
  // A cell with nothing in it but its border.
  expect(looks!.cells.get(at(6, 3))).toEqual({ right: { width: 3, line: 'solid', color: '#000000' } })
  expect(plain([second!])).toEqual(plain([noLooks]))
})

test('new rows at the place of removed ones have nothing of theirs; rows that come back have it', () => {
  const removal: WorkbookOp = { op: 'remove', sheet: 0, axis: 'rows', at: 1, count: 2 }
  const without = applyOps(read.workbook, [removal])
  const hidden = (...then: WorkbookOp[]) => {
    const ops = [removal, ...then]
    const workbook = applyOps(read.workbook, ops)
    const saved = patchXlsx({ base, read, workbook, ops, resultOf: () => undefined, isNew: () => false })
    return [...readXlsx(saved).looks[0]!.hiddenRows]
  }
  const insert: WorkbookOp = { ...removal, op: 'insert' }
  expect(read.looks[0]!.hiddenRows).toEqual(new Set([2]))
  expect(hidden(insert)).toEqual([])
  expect(hidden(insert, { op: 'cells', sheet: 0, cells: [{ row: 2, column: 0, cell: { value: 'new' } }] })).toEqual([])
  expect(hidden(...invertOp(read.workbook, removal))).toEqual([2])
  expect(applyOps(without, invertOp(read.workbook, removal))).toEqual(read.workbook)
})

test('after rows, columns and sheets come, go and move they are what the saved file has', () => {
  const reshape = fc.record({
    op: fc.constantFrom('insert' as const, 'remove' as const),
    sheet: fc.constant(0),
    axis: fc.constantFrom('rows' as const, 'columns' as const),
    at: fc.nat(9),
    count: fc.integer({ min: 1, max: 3 }),
  })
  const sheets = fc.constantFrom<WorkbookOp>(
    { op: 'move sheet', sheet: 0, to: 1 },
    { op: 'move sheet', sheet: 1, to: 0 },
    { op: 'add sheet', at: 0, name: 'New' },
    { op: 'cells', sheet: 0, cells: [{ row: 6, column: 3, cell: { value: 'bordered', style: { right: '3 solid' } } }] },
    { op: 'merge', sheet: 0, areas: [{ top: 4, left: 0, bottom: 6, right: 1 }] },
    { op: 'unmerge', sheet: 0, areas: [{ top: 0, left: 0, bottom: 0, right: 2 }] },
    { op: 'height', sheet: 0, spans: [[5, 5]], height: 40 },
    {
      op: 'hide',
      sheet: 0,
      axis: 'rows',
      spans: [
        [1, 3],
        [30, 31],
      ],
      hidden: true,
    },
    { op: 'hide', sheet: 0, axis: 'columns', spans: [[3, 6]], hidden: false },
    { op: 'hide', sheet: 0, axis: 'columns', spans: [[1, 2]], hidden: true },
  )
  let compared = 0
  fc.assert(
    fc.property(
      fc.array(fc.oneof({ weight: 3, arbitrary: reshape }, sheets), { minLength: 1, maxLength: 4 }),
      (ops) => {
        const workbook = applyOps(read.workbook, ops)
        let saved: Uint8Array
        try {
          saved = patchXlsx({ base, read, workbook, ops, resultOf: () => undefined, isNew: () => false })
        } catch (error) {
          expect(error).toBeInstanceOf(NotPatched)
          return
        }
        compared++
        const again = readXlsx(saved)
        expect(plain(workbook.sheets.map((sheet) => looksOf(sheet)))).toEqual(plain(again.looks))
        expect(again.workbook.sheets.map(({ merged }) => merged)).toEqual(workbook.sheets.map(({ merged }) => merged))
      },
    ),
    { numRuns: 120 },
  )
  expect(compared).toBeGreaterThan(80)
})

test('an insertion that is undone leaves everything where it was', () => {
  fc.assert(
    fc.property(
      fc.constantFrom('rows' as const, 'columns' as const),
      fc.nat(9),
      fc.integer({ min: 1, max: 5 }),
      (axis, where, count) => {
        const op: WorkbookOp = { op: 'insert', sheet: 0, axis, at: where, count }
        const back = applyOps(read.workbook, [op, ...invertOp(read.workbook, op)])
        expect(plain(back.sheets.map((sheet) => looksOf(sheet)))).toEqual(plain(read.looks))
      },
    ),
  )
})
