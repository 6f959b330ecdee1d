import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import type { JournalRecord } from '../contract'
import { joinJournals, readJournal, type StoredRecord, storedRecord } from './journal'

const draftId = '00000000-0000-4000-8000-000000000001'
const anyRecords = fc
  .array(fc.tuple(fc.integer({ min: 0, max: 2e12 }), fc.json()), { minLength: 1, maxLength: 40 })
  .map((all) => all.map(([at, text], index): JournalRecord => ({ seq: index + 1, at, edit: { steps: [text] } })))

/** As a device kept them: some by an older Jaula, then by this one. */
const stored = (records: readonly JournalRecord[], old: number): StoredRecord[] =>
  records.map((record, index) => (index < old ? { draftId, ...record } : storedRecord(draftId, record)))

describe('a journal on the device', () => {
  test('reads back whole, whichever Jaula wrote it and in whatever order it comes', () => {
    fc.assert(
      fc.property(anyRecords, fc.nat(40), fc.nat(40), (records, old, after) => {
        const from = after % records.length
        const read = readJournal(stored(records, old).reverse(), from, records.length)
        expect(read).toEqual({ records: records.slice(from), damage: null })
      }),
    )
  })

  test('with a record that was altered, cut off or lost: everything before it is there, and where it ends is told', () => {
    const harms: ((row: StoredRecord) => unknown)[] = [
      ({ edit: _, ...row }) => row,
      ({ sum: _, ...row }) => row,
      (row) => ({ ...row, at: row.at + 1 }),
      (row) => ({ ...row, edit: { steps: [...(row.edit as { steps: unknown[] }).steps, 'x'] } }),
      (row) => ({ seq: row.seq, draftId }),
      (row) => ({ ...row, edit: 'torn' }),
      (row) => ({ ...row, form: 3 }),
      () => undefined,
    ]
    fc.assert(
      fc.property(anyRecords, fc.nat(), fc.constantFrom(...harms), (records, n, harm) => {
        const at = n % records.length
        const rows = stored(records, 0)
          .map((row, index) => (index === at ? harm(row) : row))
          .filter((row) => row !== undefined)
        const read = readJournal(rows, 0, records.length)
        expect(read.records).toEqual(records.slice(0, at))
        expect(read.damage?.from).toBe(at + 1)
      }),
    )
  })

  test('is continued from recovery points where the device lost it, and never across a gap', () => {
    fc.assert(
      fc.property(anyRecords, fc.nat(), fc.nat(), (records, a, b) => {
        const lost = a % (records.length + 1)
        const points = records.slice(0, b % (records.length + 1))
        const device = readJournal(
          stored(records, 0).filter(({ seq }) => seq !== lost + 1),
          0,
          records.length,
        )
        const joined = joinJournals(device, points)
        const reach = Math.max(device.records.length, points.length)
        expect(joined.records).toEqual(records.slice(0, reach))
        expect(joined.damage === null).toBe(reach > lost || lost === records.length)
      }),
    )
  })
})
