// The workbook as the page holds it, over its real worker: whatever is done to it, model, results, journal and file agree.
import fc from 'fast-check'
import { afterEach, describe, expect, test } from 'vitest'
import { evaluate } from '../../../core/calc/evaluate'
import { type CellValue, cellAt, largestSheet, type Workbook } from '../../../core/content/workbook'
import { anyHistory, opFor } from '../../../core/content/workbook.arbitrary'
import { applyOp, type WorkbookOp } from '../../../core/content/workbook-ops'
import type { JournalRecord } from '../../../core/contract'
import { blankRoot, readCompound, writeCompound } from '../../../core/formats/compound/compound'
import { readXls } from '../../../core/formats/xls/read'
import { writeXls } from '../../../core/formats/xls/write'
import { readXlsx } from '../../../core/formats/xlsx/read'
import { writeXlsx } from '../../../core/formats/xlsx/write'
import { replayWorkbook, type WorkbookEdit } from '../../../core/recovery/replay'
import { english } from '../../../core/words/testing'
import type { Found } from '../../work/content'
import { WorkbookStore } from './store'

const stores: WorkbookStore[] = []
afterEach(() => {
  for (const store of stores.splice(0)) store.close()
})
/** A store with the journal's records of what is done to it. */
async function open(workbook?: Workbook, records: JournalRecord[] | null = null) {
  const journal: JournalRecord[] = []
  const store = new WorkbookStore((edit, how) =>
    journal.push({ seq: journal.length + 1, at: 0, edit, ...(how && { did: how.did }) }),
  )
  stores.push(store)
  const read = await store.open(workbook ? writeXlsx(workbook) : null, records)
  if ('damaged' in read) throw new Error(JSON.stringify(read.damaged))
  return { store, journal, opened: read.opened }
}
const cells = (
  sheet: number,
  ...changes: [row: number, column: number, value: CellValue | { formula: string }][]
): WorkbookOp => ({
  op: 'cells',
  sheet,
  cells: changes.map(([row, column, value]) => ({
    row,
    column,
    cell: typeof value === 'object' && 'formula' in value ? value : { value },
  })),
})
const settled = (store: WorkbookStore) => expect.poll(() => store.busy).toBe(false)
const plain = (workbook: Workbook) => JSON.parse(JSON.stringify(workbook)) as unknown
/** All results by sheet and place, without those that are nothing. */
const resultsOf = (maps: readonly ReadonlyMap<number, CellValue>[]) =>
  maps.map((map) => Object.fromEntries([...map].toSorted(([a], [b]) => a - b)))

test('a number is entered, a formula follows it, and undo takes both back one by one', async () => {
  const { store } = await open()
  store.change([cells(0, [0, 0, 12], [1, 0, 30])])
  store.change([cells(0, [2, 0, { formula: 'SUM(A1:A2)' }])])
  expect(store.result(0, 2, 0)).toBeUndefined()
  await settled(store)
  expect(store.result(0, 2, 0)).toBe(42)
  store.change([cells(0, [0, 0, 1])])
  await expect.poll(() => store.result(0, 2, 0)).toBe(31)
  store.undo()
  await expect.poll(() => store.result(0, 2, 0)).toBe(42)
  store.undo()
  await expect.poll(() => store.result(0, 2, 0)).toBeUndefined()
  expect(cellAt(store.workbook.sheets[0], 2, 0)).toBeUndefined()
  store.redo()
  await expect.poll(() => store.result(0, 2, 0)).toBe(42)
  expect([store.canUndo, store.canRedo]).toEqual([true, true])
  store.change([cells(0, [5, 5, 'new'])])
  expect(store.canRedo).toBe(false)
})

test('whatever is done, undone and redone: the model is what was done, its journal replays to it, and its results are computed from it', async () => {
  const acts = fc.array(
    fc.oneof({ weight: 4, arbitrary: fc.nat(1000) }, fc.constantFrom('undo' as const, 'redo' as const)),
    {
      minLength: 1,
      maxLength: 12,
    },
  )
  await fc.assert(
    fc.asyncProperty(anyHistory(3), acts, fc.nat(), async ({ end: start }, done, seed) => {
      const read = readXlsx(writeXlsx(start)).workbook
      const { store, journal } = await open(read)
      expect(plain(store.workbook)).toEqual(plain(read))
      // The plainest model of undo: two piles of workbooks.
      const before: Workbook[] = []
      const after: Workbook[] = []
      for (const [at, act] of done.entries()) {
        const now = store.workbook
        if (act === 'undo') {
          store.undo()
          const was = before.pop()
          if (was) after.push(now)
          expect(plain(store.workbook)).toEqual(plain(was ?? now))
        } else if (act === 'redo') {
          store.redo()
          const next = after.pop()
          if (next) before.push(now)
          expect(plain(store.workbook)).toEqual(plain(next ?? now))
        } else {
          const [op] = fc.sample(opFor(now), { numRuns: 1, seed: seed + at * 1009 + act })
          store.change([op!])
          before.push(now)
          after.length = 0
          expect(plain(store.workbook)).toEqual(plain(applyOp(now, op!)))
        }
      }
      await settled(store)
      const kept = JSON.parse(JSON.stringify(journal)) as JournalRecord[]
      expect(plain(replayWorkbook(read, kept).model)).toEqual(plain(store.workbook))
      // What a file held no results of is calculated after it is shown, with nobody waiting for it.
      await expect.poll(() => resultsOf(store.allResults)).toEqual(resultsOf(evaluate(store.workbook)))
      // What is saved is this very workbook.
      expect(plain(readXlsx((await store.encode()).bytes).workbook)).toEqual(
        plain(readXlsx(writeXlsx(store.workbook)).workbook),
      )
      store.close()
    }),
    // Told at the first that is found: the search for a shorter one takes longer than a test may.
    { numRuns: 7, endOnFailure: true },
  )
})

describe('a draft that is gone on with', () => {
  test('is its base with its records, and can be undone as far as it could before', async () => {
    const base: Workbook = { sheets: [{ name: 'Levels', rows: [[{ value: 1 }]], widths: {} }] }
    const first = await open(base)
    first.store.change([cells(0, [1, 0, 2])])
    first.store.change([cells(0, [2, 0, { formula: 'A1+A2' }])])
    first.store.undo()
    const { store, opened } = await open(base, first.journal)
    expect(plain(store.workbook)).toEqual(plain(first.store.workbook))
    expect(opened.replay).toMatchObject({ seq: 3, lostFrom: null })
    expect([store.canUndo, store.canRedo]).toEqual([true, true])
    store.redo()
    await expect.poll(() => store.result(0, 2, 0)).toBe(3)
    store.undo()
    store.undo()
    expect(store.canUndo).toBe(false)
    expect(plain(store.workbook)).toEqual(plain(readXlsx(writeXlsx(base)).workbook))
  })
  test('has the entry that was still being typed', async () => {
    const first = await open()
    first.store.typing({ sheet: 0, row: 3, column: 1, entry: '=2*3' })
    const { store } = await open(undefined, first.journal)
    expect(cellAt(store.workbook.sheets[0], 3, 1)).toEqual({ formula: '2*3' })
    await expect.poll(() => store.result(0, 3, 1)).toBe(6)
    // Given up, it is no entry.
    first.store.typing(null)
    const given = await open(undefined, first.journal)
    expect(given.store.workbook.sheets[0]!.rows).toEqual([])
  })
})

describe('what comes from elsewhere', () => {
  test('another tab’s edit is followed, computed and not undone here', async () => {
    const { store, journal } = await open()
    const edit: WorkbookEdit = { ops: [cells(0, [0, 0, 5], [0, 1, { formula: 'A1*A1' }])] }
    store.follow(edit)
    await expect.poll(() => store.result(0, 0, 1)).toBe(25)
    expect([journal.length, store.canUndo]).toEqual([0, false])
  })
  test('another version is merged in as one change; where both wrote, both are told', async () => {
    const base: Workbook = { sheets: [{ name: 'Levels', rows: [[{ value: 1 }, { value: 'a' }]], widths: {} }] }
    const theirs: Workbook = {
      sheets: [{ name: 'Levels', rows: [[{ value: 9 }, { value: 'b' }], [{ value: 'theirs' }]], widths: {} }],
    }
    const { store } = await open(base)
    store.change([cells(0, [0, 1, 'c'])])
    const merged = await store.takeIn({ bytes: writeXlsx(base) }, { bytes: writeXlsx(theirs) }, null, false)
    if ('refused' in merged) throw new Error(JSON.stringify(merged.refused))
    expect(merged.conflicts).toHaveLength(1)
    expect(merged.conflicts[0]).toMatchObject({
      sheet: 'Levels',
      row: 0,
      column: 1,
      mine: { value: 'c' },
      theirs: { value: 'b' },
    })
    expect(store.workbook.sheets[0]!.rows.map((row) => row?.map((cell) => cell?.value))).toEqual([[9, 'c'], ['theirs']])
    store.undo()
    expect(store.workbook.sheets[0]!.rows.map((row) => row?.map((cell) => cell?.value))).toEqual([[1, 'c']])
  })
  test('by itself it is no step of undo, here and where the draft is gone on with; what was found decides', async () => {
    const base: Workbook = { sheets: [{ name: 'Levels', rows: [[{ value: 1 }, { value: 'a' }]], widths: {} }] }
    const theirs: Workbook = {
      sheets: [{ name: 'Levels', rows: [[{ value: 9 }, { value: 'a' }], [{ value: 'theirs' }]], widths: {} }],
    }
    const { store, journal } = await open(base)
    store.change([cells(0, [0, 1, 'c'])])
    const found: Found[] = []
    const take = (other: Workbook, may: boolean) =>
      store.takeIn({ bytes: writeXlsx(base) }, { bytes: writeXlsx(other) }, null, false, (one, change) => {
        found.push(one)
        if (may) change()
        return may
      })
    expect(await take(theirs, false)).toEqual({ left: true })
    expect(cellAt(store.workbook.sheets[0], 0, 0)?.value).toBe(1)
    expect(await take(theirs, true)).toHaveProperty('ops')
    const shown = () => store.workbook.sheets[0]!.rows.map((row) => row?.map((cell) => cell?.value))
    expect(shown()).toEqual([[9, 'c'], ['theirs']])
    store.undo()
    expect(shown()).toEqual([[9, 'a'], ['theirs']])
    expect(store.canUndo).toBe(false)
    store.redo()
    const again = await open(base, journal)
    again.store.undo()
    store.undo()
    expect(plain(again.store.workbook)).toEqual(plain(store.workbook))
    expect(again.store.canUndo).toBe(false)
    // Rows that come would move what can be undone; a cell that both changed is somebody's to choose.
    const longer: Workbook = {
      sheets: [{ name: 'Levels', rows: [[{ value: 'new' }], [{ value: 1 }, { value: 'a' }]], widths: {} }],
    }
    await take(longer, false)
    const other: Workbook = { sheets: [{ name: 'Levels', rows: [[{ value: 1 }, { value: 'b' }]], widths: {} }] }
    store.change([cells(0, [0, 1, 'd'])])
    await take(other, false)
    expect(found.map(({ choices, moves }) => [choices, moves])).toEqual([
      [0, false],
      [0, false],
      [0, true],
      [1, false],
    ])
  })
  test('work that goes on while a version is merged is in what comes of it', async () => {
    const rows = Array.from({ length: 3000 }, (_, n) => [{ value: n }, { value: `row ${n}` }])
    const base: Workbook = { sheets: [{ name: 'Levels', rows, widths: {} }] }
    const theirs: Workbook = {
      sheets: [{ name: 'Levels', rows: rows.with(2999, [{ value: 'theirs' }, { value: 'last' }]), widths: {} }],
    }
    const { store } = await open(base)
    const merging = store.takeIn({ bytes: writeXlsx(base) }, { bytes: writeXlsx(theirs) }, null, false)
    store.change([cells(0, [0, 0, 'mine'])])
    await merging
    expect(cellAt(store.workbook.sheets[0], 0, 0)?.value).toBe('mine')
    expect(cellAt(store.workbook.sheets[0], 2999, 0)?.value).toBe('theirs')
  })
})

test('what cannot be read is said, and nothing is shown for it', async () => {
  const store = new WorkbookStore(null)
  stores.push(store)
  const read = await store.open(new Uint8Array([80, 75, 3, 4, 0, 0]), null)
  if (!('damaged' in read)) throw new Error('It was read.')
  expect(String(english(read.damaged))).toMatch(/\w{3} .*\.$/)
  expect(store.workbook.sheets).toEqual([])
})

test('a large workbook comes in pieces, whole, with the results that its formulas have', async () => {
  const rows = Array.from({ length: 4000 }, (_, n) => [{ value: n }, { formula: `A${n + 1}*2` }])
  const { store, opened } = await open({ sheets: [{ name: 'Long', rows, widths: {} }] })
  expect(opened.cells).toBe(8000)
  expect(store.workbook.sheets[0]!.rows).toHaveLength(4000)
  await expect.poll(() => store.result(0, 3999, 1)).toBe(7998)
  expect(store.allResults[0]!.size).toBe(4000)
  expect(store.allResults[0]!.get(1999 * largestSheet.columns + 1)).toBe(3998)
})

test('an older spreadsheet is changed where it stands, and written whole where its lines move', async () => {
  const sheet = {
    name: 'Levels',
    widths: {},
    rows: [[{ value: 'Lock' }, { value: 2 }], [{ formula: 'B1*2' }]],
    merged: [{ top: 3, left: 0, bottom: 4, right: 1 }],
  }
  const { bytes } = writeXls({
    workbook: { sheets: [sheet] },
    resultOf: () => 4,
    names: [{ name: 'First', sheet: null, formula: 'Levels!$B$1' }],
  })
  const root = readCompound(bytes)
  const macros = { ...blankRoot([{ is: 'stream', name: 'dir', bytes: new Uint8Array(9) }]), name: '_VBA_PROJECT_CUR' }
  const file = writeCompound({ ...root, children: [...root.children, macros] })
  const store = new WorkbookStore(() => {})
  stores.push(store)
  const read = await store.open(file, null, null, 'xls')
  if ('damaged' in read) throw new Error(JSON.stringify(read.damaged))
  expect(read.opened.limits.map(({ feature }) => feature)).toContain('macros')
  store.change([cells(0, [0, 1, 21])])
  await expect.poll(() => store.result(0, 1, 0)).toBe(42)
  const patched = await store.encode()
  expect(patched.lost).toEqual([])
  expect(readXls(patched.bytes).results[0]!.get(largestSheet.columns)).toBe(42)
  expect(readCompound(patched.bytes).children.map(({ name }) => name)).toContain(macros.name)
  // Rows that come make it be written whole: what is beside its cells goes along, and what cannot is told.
  store.change([{ op: 'insert', sheet: 0, axis: 'rows', at: 0, count: 1 }])
  await settled(store)
  const whole = await store.encode()
  expect(whole.lost.map(({ feature }) => feature)).toEqual(['macros'])
  const again = readXls(whole.bytes)
  expect(again.looks[0]!.merged).toEqual([{ top: 4, left: 0, bottom: 5, right: 1 }])
  expect(again.source.names).toEqual([{ name: 'First', sheet: null, formula: 'Levels!$B$2' }])
  // As one of today it keeps them as well.
  const today = await store.encode({ type: 'xlsx' })
  expect(today.lost.map(({ feature }) => feature)).toEqual(['macros'])
  expect(readXlsx(today.bytes).looks[0]!.merged).toEqual([{ top: 4, left: 0, bottom: 5, right: 1 }])
  expect(readXlsx(today.bytes).source.names).toEqual([{ name: 'First', sheet: null, formula: 'Levels!$B$2' }])
})
