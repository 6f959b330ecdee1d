// What is seen of a calculation that takes long, over the real store and its workers.
import { useSyncExternalStore } from 'react'
import { expect, test } from 'vitest'
import { userEvent } from 'vitest/browser'
import { heavyFile } from '../../testing/heavy'
import { show } from '../../testing/render'
import { CalculationLine } from './calculation-line'
import { WorkbookStore } from './store'

function Foot({ store }: { store: WorkbookStore }) {
  useSyncExternalStore(store.subscribe, store.snapshot)
  return <CalculationLine store={store} />
}

test('says what it is at, is stopped by a key, says what is not known, and is done when it is done', async () => {
  const store = new WorkbookStore(null)
  await store.open(heavyFile(), null)
  const { screen } = await show(<Foot store={store} />)
  await expect.element(screen.getByText(/^Calculating 4,001 formulas: \d+ seconds?$/)).toBeVisible()
  await userEvent.keyboard('{Tab}{Enter}')
  await expect.element(screen.getByRole('status')).toHaveTextContent('Calculation stopped: every result is known')
  store.change([{ op: 'cells', sheet: 0, cells: [{ row: 2, column: 5, cell: { value: 5 } }] }])
  await expect.element(screen.getByRole('status')).toHaveTextContent('Calculation stopped: 1 result is not known')
  // Without the heavy ones it comes to its end.
  store.change([{ op: 'remove', sheet: 0, axis: 'columns', at: 2, count: 1 }])
  await expect.element(screen.getByRole('button', { name: 'Calculate' })).toHaveFocus()
  await userEvent.keyboard('{Enter}')
  await expect.element(screen.getByRole('status')).not.toBeInTheDocument()
  await expect.poll(() => store.result(0, 2, 3)).toBe(10)
  await expect.element(screen.getByRole('button')).not.toBeInTheDocument()
  store.close()
})
