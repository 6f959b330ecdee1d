// A workbook whose calculation takes longer than anybody waits: it is saved, stopped, edited and calculated after all.
import { strFromU8, unzipSync } from 'fflate'
import { afterEach, beforeEach, expect, test, vi } from 'vitest'
import type { Cell } from '../../core/content/workbook'
import { readXlsx } from '../../core/formats/xlsx/read'
import { writeXlsx } from '../../core/formats/xlsx/write'
import { asItCame, heavy, heavyFile, heavyFormulas } from '../testing/heavy'
import { WorkbookStore } from '../views/workbook/store'

// Seconds of calculation where nothing else is at work; a machine that others use may take ten times as long.
vi.setConfig({ testTimeout: 180_000 })

let store: WorkbookStore
beforeEach(async () => {
  store = new WorkbookStore(null)
  await store.open(heavyFile(), null)
})
afterEach(() => store.close())
const enter = (row: number, column: number, cell: Cell | null) =>
  store.change([{ op: 'cells', sheet: 0, cells: [{ row, column, cell }] }])
/** What a file holds: the results of some formulas, and whether it asks to be calculated. */
function heldBy(bytes: Uint8Array) {
  const results = readXlsx(bytes).results[0]!
  const main = strFromU8(unzipSync(bytes)['xl/workbook.xml']!)
  return {
    first: results.get(2),
    last: results.get(3999 * 16384 + 2),
    apart: results.get(2 * 16384 + 4),
    asks: /fullCalcOnLoad="(1|true)"/.test(main),
  }
}

test('a save does not wait for it: what an edit may have changed is written without a result, the rest as it came', async () => {
  expect(store.result(0, 0, 2)).toBe(asItCame)
  enter(7, 1, { value: 1000 })
  const { bytes } = await store.encode()
  await expect.poll(() => store.calculation.is).toBe('working')
  expect(heldBy(bytes)).toEqual({ first: undefined, last: undefined, apart: 42, asks: true })
  // Nothing that is long past stands there as if it were known.
  expect(readXlsx(bytes).workbook.sheets[0]!.rows[7]![1]).toEqual({ value: 1000 })
})

test('a file that holds no results is saved without them at first, and with them once they are there', async () => {
  store.close()
  store = new WorkbookStore(null)
  const [sheet] = heavy.sheets
  const rows = sheet!.rows.map((row, index) => (index < 100 ? row : row!.with(2, undefined)))
  await store.open(writeXlsx({ sheets: [{ ...sheet!, rows }] }), null)
  // A look alone changes no result; it makes the file another one.
  store.change([{ op: 'width', sheet: 0, column: 0, width: 240 }])
  expect(heldBy((await store.encode()).bytes)).toMatchObject({ asks: true })
  await expect.poll(() => store.result(0, 0, 2)).toBeGreaterThan(0)
  await expect.poll(() => store.busy).toBe(false)
  enter(0, 7, { formula: 'C1*2' })
  await expect.poll(() => store.result(0, 0, 7)).toBeGreaterThan(0)
  const { workbook, results } = readXlsx((await store.encode()).bytes)
  expect(results[0]!.get(7)).toBe(store.result(0, 0, 7))
  expect(workbook.sheets[0]!.widths[0]).toBeGreaterThan(200)
})

test('it is stopped, says what is not known, follows edits all the same, and goes on to the end', async () => {
  await expect.poll(() => store.calculation).toMatchObject({ is: 'working', formulas: heavyFormulas + 1 })
  await store.stopCalculation()
  await expect.poll(() => store.calculation).toEqual({ is: 'stopped', by: 'person', unknown: 0 })
  // Edits go on: what they lead to is not known, what they do not lead to stays, and moves along with its cell.
  enter(7, 1, { value: 1000 })
  await expect.poll(() => store.calculation).toEqual({ is: 'stopped', by: 'person', unknown: heavyFormulas })
  await expect.poll(() => store.markOf(0, 0, 2)?.standing).toBe('stale')
  expect(store.markOf(0, 2, 4)).toBeUndefined()
  store.change([{ op: 'insert', sheet: 0, axis: 'columns', at: 8, count: 1 }])
  await expect.poll(() => store.busy).toBe(false)
  expect(store.result(0, 2, 4)).toBe(42)
  expect(heldBy((await store.encode()).bytes)).toEqual({ first: undefined, last: undefined, apart: 42, asks: true })
  // Less is asked of it: it comes to its end.
  store.change([
    {
      op: 'cells',
      sheet: 0,
      cells: Array.from({ length: 3995 }, (_, row) => ({ row: row + 5, column: 2, cell: null })),
    },
  ])
  await expect.poll(() => store.calculation).toMatchObject({ unknown: 5 })
  await store.calculateAgain()
  await expect.poll(() => store.result(0, 0, 2)).not.toBe(asItCame)
  await expect.poll(() => store.calculation.is).toBe('done')
  const sum = heavy.sheets[0]!.rows.reduce((all, _, row) => all + row * (row === 7 ? 1000 : row % 7), 0)
  expect([store.result(0, 0, 2), store.result(0, 4, 2), store.result(0, 2, 4)]).toEqual([sum, sum + 4, 42])
  await expect.poll(() => store.markOf(0, 0, 2)).toBeUndefined()
  expect(heldBy((await store.encode()).bytes)).toMatchObject({ first: sum, apart: 42 })
})

test('by itself it does not go on for ever', async () => {
  store.close()
  store = new WorkbookStore(null, 2000)
  await store.open(heavyFile(), null)
  enter(7, 1, { value: 1000 })
  await expect.poll(() => store.calculation).toEqual({ is: 'stopped', by: 'bound', unknown: heavyFormulas })
  await expect.poll(() => store.busy).toBe(false)
  expect(store.result(0, 2, 4)).toBe(42)
})

test('a workbook without formulas asks for no engine, and its first formula is calculated with all that was done before', async () => {
  const plain = new WorkbookStore(null)
  try {
    const rows = [[{ value: 2 }], [{ value: 3 }]]
    await plain.open(writeXlsx({ sheets: [{ name: 'Levels', rows, widths: {} }] }), null)
    plain.change([{ op: 'cells', sheet: 0, cells: [{ row: 0, column: 0, cell: { value: 5 } }] }])
    plain.change([{ op: 'insert', sheet: 0, axis: 'rows', at: 0, count: 1 }])
    expect(readXlsx((await plain.encode()).bytes).workbook.sheets[0]!.rows[1]![0]).toEqual({ value: 5 })
    plain.change([{ op: 'cells', sheet: 0, cells: [{ row: 0, column: 0, cell: { formula: 'SUM(A2:A9)' } }] }])
    await expect.poll(() => plain.result(0, 0, 0)).toBe(8)
    plain.undo()
    plain.change([{ op: 'cells', sheet: 0, cells: [{ row: 2, column: 0, cell: { value: 4 } }] }])
    plain.change([{ op: 'cells', sheet: 0, cells: [{ row: 0, column: 0, cell: { formula: 'SUM(A2:A9)' } }] }])
    await expect.poll(() => plain.result(0, 0, 0)).toBe(9)
    expect(readXlsx((await plain.encode()).bytes).results[0]!.get(0)).toBe(9)
  } finally {
    plain.close()
  }
})
