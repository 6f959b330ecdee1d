// Rows that stay in sight, over the real grid and store: seen while the sheet is scrolled, and worked in as in others.
import { expect, test } from 'vitest'
import { userEvent } from 'vitest/browser'
import { blankWorkbook } from '../../../core/content/workbook'
import { applyOp } from '../../../core/content/workbook-ops'
import { writeXlsx } from '../../../core/formats/xlsx/write'
import { show } from '../../testing/render'
import { setSize, sizeOf } from '../size'
import { Grid, type GridPlace } from './grid'
import { WorkbookStore } from './store'

/** Tolls of sixty locks, with their headings above. */
async function tolls(frozen: number) {
  const cells = Array.from({ length: 61 }, (_, row) =>
    Array.from({ length: 30 }, (_, column) => ({
      row,
      column,
      cell: { value: row ? row * 100 + column : `Heading ${column}` },
    })),
  ).flat()
  let workbook = applyOp(blankWorkbook(), { op: 'cells', sheet: 0, cells })
  workbook = applyOp(workbook, { op: 'freeze', sheet: 0, frozen: { rows: frozen, columns: 1 } })
  const store = new WorkbookStore(null)
  await store.open(writeXlsx(workbook), null)
  const places: GridPlace[] = []
  const { screen } = await show(
    <div style={{ width: 700, height: 400, display: 'flex', flexDirection: 'column' }}>
      <Grid
        store={store}
        sheet={0}
        editable
        onPlace={(place) => places.push(place)}
        onMenu={() => {}}
        writing={null}
        onWriting={() => {}}
        functions={[]}
      />
    </div>,
  )
  const sheet = () => screen.container.querySelector<HTMLElement>('.dvn-scroller')!
  const band = () => screen.container.querySelector<HTMLElement>('.frozen-rows')
  await expect.poll(() => document.activeElement?.closest('[data-testid="grid"]')).toBeTruthy()
  return { store, sheet, band, place: () => [places.at(-1)!.row, places.at(-1)!.column] }
}
const down = (times: number) => userEvent.keyboard(`{ArrowDown>${times}/}`)

test('they are there when the sheet is scrolled, to the side with it, and gone when it is at its top', async () => {
  const { sheet, band, place, store } = await tolls(2)
  expect(band()).toBeNull()
  await down(20)
  await expect.poll(place).toEqual([20, 0])
  await expect.poll(() => band()?.textContent).toContain('Heading 1')
  await userEvent.keyboard('{ArrowRight>12/}')
  await expect.poll(place).toEqual([20, 12])
  await expect.poll(() => sheet().scrollLeft).toBeGreaterThan(0)
  await expect.poll(() => band()!.querySelector('.dvn-scroller')!.scrollLeft === sheet().scrollLeft).toBe(true)
  // Going up the cursor is never under them.
  await userEvent.keyboard('{ArrowUp>14/}')
  await expect.poll(place).toEqual([6, 12])
  const rowHeight = 26
  await expect.poll(() => sheet().scrollTop).toBeLessThanOrEqual((6 - 2) * rowHeight)
  await userEvent.keyboard('{Control>}{Home}{/Control}')
  await expect.poll(band).toBeNull()
  store.close()
})

test('a cell of them is chosen by a click, the sheet stays where it is, and what is typed goes into it', async () => {
  const { sheet, band, place, store } = await tolls(2)
  await down(24)
  await expect.poll(() => band()?.textContent).toContain('Heading 1')
  const before = sheet().scrollTop
  await userEvent.click(band()!.querySelector('.dvn-scroller')!, { position: { x: 180, y: 13 } })
  await expect.poll(place).toEqual([0, 1])
  await expect.poll(() => sheet().scrollTop).toBe(before)
  await userEvent.keyboard('Boats{Enter}')
  await expect.poll(() => store.workbook.sheets[0]!.rows[0]![1]!.value).toBe('Boats')
  await expect.poll(place).toEqual([1, 1])
  // They are seen twice, and a step of the Tab key once.
  expect(band()!.querySelectorAll('[tabindex="0"]')).toHaveLength(0)
  store.close()
})

test('more of them than leave room for others do not stay', async () => {
  const { band, place, sheet, store } = await tolls(12)
  await down(24)
  await expect.poll(place).toEqual([24, 0])
  await expect.poll(() => sheet().scrollTop).toBeGreaterThan(0)
  expect(band()).toBeNull()
  store.close()
})

test('a sheet that becomes larger or smaller shows what it showed, and the cursor where it was in sight', async () => {
  const { sheet, place, store } = await tolls(0)
  await down(45)
  await expect.poll(place).toEqual([45, 0])
  const first = () => sheet().scrollTop / (26 * sizeOf('sheet'))
  await expect.poll(first).toBeGreaterThan(28)
  // The cursor was at the foot of it: larger, it is still in sight.
  const all = sheet().scrollHeight
  setSize('sheet', 2)
  await expect.poll(() => sheet().scrollTop + sheet().clientHeight).toBeGreaterThanOrEqual(28 * 2 + 46 * 52)
  expect(first()).toBeLessThan(45)
  setSize('sheet', 1)
  await expect.poll(() => sheet().scrollHeight).toBe(all)
  await expect.poll(() => 28 + 46 * 26 - sheet().scrollTop).toBeLessThanOrEqual(sheet().clientHeight)
  // Out of sight it is not gone to: what is at the top stays there.
  sheet().scrollTop = 10 * 26
  await expect.poll(first).toBe(10)
  for (const size of [1.5, 0.5, 1]) {
    setSize('sheet', size)
    await expect.poll(first).toBeCloseTo(10, 0)
  }
  expect(place()).toEqual([45, 0])
  store.close()
})

test('larger, the cursor is not under the rows that stay, and from the top only as much is scrolled as it needs', async () => {
  const { sheet, band, place, store } = await tolls(2)
  const all = sheet().scrollHeight
  await down(3)
  await expect.poll(place).toEqual([3, 0])
  setSize('sheet', 2)
  await expect.poll(() => sheet().scrollHeight).toBeGreaterThan(all)
  expect(sheet().scrollTop).toBe(0)
  setSize('sheet', 1)
  await expect.poll(() => sheet().scrollHeight).toBe(all)
  await down(20)
  // Up to just below the rows that stay.
  await userEvent.keyboard('{ArrowUp>12/}')
  await expect.poll(place).toEqual([11, 0])
  await expect.poll(() => 11 * 26 - sheet().scrollTop).toBeLessThan(4 * 26)
  setSize('sheet', 2)
  await expect.poll(() => sheet().scrollHeight).toBeGreaterThan(all)
  await expect.poll(() => band()?.clientHeight).toBe(2 * 52)
  expect(11 * 52 - sheet().scrollTop).toBeGreaterThanOrEqual(2 * 52)
  setSize('sheet', 1)
  store.close()
})
