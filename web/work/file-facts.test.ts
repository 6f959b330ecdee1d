import fc from 'fast-check'
import { expect, test } from 'vitest'
import type { HistoryVersion } from '../../core/contract'
import { joined } from './file-facts'

const version = (number: number) => ({ number, summary: '' }) as HistoryVersion
const numbers = (list: readonly HistoryVersion[]) => list.map(({ number }) => number)

test('all versions are there once, newest first, whatever was known of them; what is known is not asked for again', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.uniqueArray(fc.integer({ min: 1, max: 500 }), { minLength: 1, maxLength: 120 }),
      fc.integer({ min: 1, max: 40 }),
      fc.integer({ min: 1, max: 40 }),
      fc.nat(200),
      async (made, newest, page, knownFrom) => {
        const all = made.sort((a, b) => b - a).map(version)
        const facts = { versions: all.slice(0, newest), versionsInAll: all.length }
        const held = all.slice(knownFrom)
        let asked = 0
        const older = async (before: number) => {
          asked++
          return all.filter(({ number }) => number < before).slice(0, page)
        }
        expect(numbers(await joined(facts, held, older))).toEqual(numbers(all))
        if (knownFrom <= newest) expect(asked).toBe(0)
      },
    ),
  )
})
