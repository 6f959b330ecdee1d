import fc from 'fast-check'
import Papa from 'papaparse'
import { expect, test } from 'vitest'
import { inEnglish } from '../words/in-english'
import { listFromCsv, listToCsv } from './list-csv'

const value = fc.record({
  code: fc.stringMatching(/^[A-Z0-9=+@'-]{1,12}$/),
  label: fc.stringMatching(/^[a-z0-9=+@',"-]{0,12}$/),
  retired: fc.boolean(),
})

test('a list comes back as it went out, and nothing in it is calculated by a program that opens it', () => {
  fc.assert(
    fc.property(
      fc.uniqueArray(value, { minLength: 1, maxLength: 20, selector: ({ code }) => code.toLowerCase() }),
      (values) => {
        const text = listToCsv(values)
        for (const cell of Papa.parse<string[]>(text.trim()).data.flat()) expect(cell).not.toMatch(/^[=+\-@\t\r]/)
        const read = listFromCsv(text)
        // Some of these are no codes for other reasons; what is read is what was written.
        if ('values' in read) expect(read.values).toEqual(values)
        else expect(read.faults.every(({ reason }) => !/formula/.test(inEnglish(reason)))).toBe(true)
      },
    ),
  )
  const kept = [{ code: 'A', label: '=HYPERLINK(1)', retired: false }]
  expect(listToCsv(kept)).toContain("'=HYPERLINK(1)")
  expect(listFromCsv(listToCsv(kept))).toEqual({ values: kept })
})
