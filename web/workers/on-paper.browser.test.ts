// Sheets as they are put on paper by the worker that holds them: what the file hides, what is chosen of its paper, what is
// not there.
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import { afterEach, expect, test } from 'vitest'
import { setUpOf } from '../../core/content/sheet-set-up'
import { readXlsx } from '../../core/formats/xlsx/read'
import { writeXlsx } from '../../core/formats/xlsx/write'
import { WorkbookStore } from '../views/workbook/store'

let store: WorkbookStore
afterEach(() => store.close())

/** Tolls are shown, wages are not (ECMA-376 part 1, §18.2.19). */
function file(): Uint8Array {
  const sheet = (name: string) => ({ name, rows: [[{ value: 1 }, { formula: 'A1+1' }]], widths: {} })
  const parts = unzipSync(writeXlsx({ sheets: [sheet('Tolls'), sheet('Wages')] }))
  const main = strFromU8(parts['xl/workbook.xml']!).replace(/(<sheet [^>]*name="Wages")/, '$1 state="hidden"')
  return zipSync({ ...parts, 'xl/workbook.xml': strToU8(main) })
}

test('sheets that the file hides are on paper only where one of them is asked for, and that is told', async () => {
  store = new WorkbookStore(null)
  await store.open(file(), null)
  const names = async (only: number | null) => (await store.shown(only)).map(({ name }) => name)
  expect([await names(null), await names(1)]).toEqual([['Tolls'], ['Wages']])
  expect((await store.notOnPaper()).map(({ feature, count, where }) => [feature, count, where])).toEqual([
    ['formulas (their results stay)', 1, ['Tolls']],
    ['hidden sheets (they become visible)', 1, ['Wages']],
  ])
})

test('what is chosen of its paper is on its pages at once, in its file when it is saved, and had back by undo after that', async () => {
  store = new WorkbookStore(null)
  await store.open(file(), null)
  const usual = setUpOf(undefined)
  store.change([{ op: 'set up', sheet: 0, setUp: { ...usual, landscape: true, gridLines: true }, was: usual }])
  expect((await store.shown(0))[0]!.paper).toMatchObject({ landscape: true, gridLines: true })
  const { bytes, lost } = await store.encode()
  expect(lost).toEqual([])
  expect(readXlsx(bytes).looks[0]!.paper).toMatchObject({ landscape: true, gridLines: true })
  await store.standOn(bytes)
  store.undo()
  const { paper } = readXlsx((await store.encode()).bytes).looks[0]!
  expect([paper?.landscape ?? false, paper?.gridLines ?? false]).toEqual([false, false])
})
