import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { shownLooks } from '../../content/looks'
import { sameSetUp, setUpOf, withoutSetUps } from '../../content/sheet-set-up'
import { anyHistory } from '../../content/workbook.arbitrary'
import { DamagedFile } from '../refusals'
import { readXlsx } from './read'
import { writeXlsx } from './write'

describe('an .xlsx', () => {
  test('read back is the workbook that was written, with nothing reported as lost', () => {
    fc.assert(
      fc.property(anyHistory(10), ({ end }) => {
        const { workbook, looks, limits } = readXlsx(writeXlsx(end))
        expect(workbook.sheets).toEqual(withoutSetUps(end.sheets))
        for (const [at, { setUp }] of end.sheets.entries())
          expect(sameSetUp(setUpOf(looks[at]!.paper), setUp ?? setUpOf(undefined))).toBe(true)
        expect(limits.filter(({ feature }) => !shownLooks.has(feature))).toEqual([])
      }),
      { numRuns: 400 },
    )
  })

  test('carries the results of its formulas', () => {
    const sheet = {
      name: 'S',
      rows: [[{ formula: '1+1' }, { formula: 'A1&"x"' }, { formula: '1/0' }, { formula: 'TRUE()' }]],
      widths: {},
    }
    const given = [2, '2_x0041_\r', { error: '#DIV/0!' }, true]
    const { results } = readXlsx(writeXlsx({ sheets: [sheet] }, (_sheet, _row, column) => given[column]))
    expect([...results[0]!.values()]).toEqual(given)
  })

  test('that is cut off or altered anywhere is refused with a reason, or reads as it was', () => {
    const whole = {
      sheets: [
        {
          name: 'Levels',
          rows: [[{ value: 'LK07' }, { value: 1.25 }], undefined, [{ formula: 'SUM(B1)' }]],
          widths: { 0: 120 },
        },
      ],
    }
    const bytes = writeXlsx(whole)
    fc.assert(
      fc.property(fc.nat(bytes.length - 1), fc.integer({ min: 1, max: 255 }), fc.boolean(), (at, change, cut) => {
        const broken = cut ? bytes.slice(0, at) : bytes.slice()
        if (!cut) broken[at]! ^= change
        try {
          expect(readXlsx(broken).workbook).toEqual(whole)
        } catch (error) {
          if (!(error instanceof DamagedFile)) throw error
        }
      }),
      { numRuns: 600 },
    )
  })
})
