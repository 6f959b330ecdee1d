import { afterAll, beforeAll, expect, test } from 'vitest'
import { tryMatrix } from './matrix.cells'
import { openTestOffice, type TestOffice } from './testing'

let office: TestOffice
beforeAll(async () => {
  office = await openTestOffice()
})
afterAll(() => office.close())

test('every endpoint answers everybody as the contract says', { timeout: 240_000 }, async () => {
  const { cells, wrong } = await tryMatrix(office)
  expect(wrong).toEqual([])
  // Nine kinds of people, and every endpoint but those by which one signs in and out.
  expect(cells % 9).toBe(0)
  expect(cells).toBeGreaterThan(1000)
})
