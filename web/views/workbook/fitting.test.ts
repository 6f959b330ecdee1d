// Rows as high, and columns as wide, as what they show.
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { displayOf } from '../../../core/content/display'
import { cellAt, type Sheet } from '../../../core/content/workbook'
import { anyHistory } from '../../../core/content/workbook.arbitrary'
import { neededWidth, noNeeds, rowNeeds, wrapped } from './fitting'

/** Each letter is ten pixels wide. */
const measure = (text: string) => text.length * 10
const textIn = (sheet: Sheet) => (row: number, column: number) => {
  const cell = cellAt(sheet, row, column)
  return displayOf(cell, cell?.formula === undefined ? undefined : 7)
}
const widthIn = (sheet: Sheet) => (column: number) => sheet.widths[column] ?? 96

test('lines hold every letter, and only a word that is wider than the room is wider', () => {
  fc.assert(
    fc.property(fc.string({ maxLength: 80 }), fc.integer({ min: 10, max: 300 }), (text, width) => {
      const lines = wrapped(text, width, measure)
      expect(lines.join('').replace(/\s/g, '')).toBe(text.replace(/\s/g, ''))
      for (const line of lines) if (/\S\s+\S/.test(line)) expect(measure(line.trimEnd())).toBeLessThanOrEqual(width)
    }),
  )
})

test('what rows need after edits is what is found when they are looked through anew', () => {
  fc.assert(
    fc.property(anyHistory(8), ({ start, end }) => {
      const [was, is] = [start.sheets[0]!, end.sheets[0]!]
      const before = rowNeeds(noNeeds, was, textIn(was), widthIn(was), measure)
      const found = rowNeeds(before, is, textIn(is), widthIn(is), measure)
      expect(found.needs).toEqual(rowNeeds(noNeeds, is, textIn(is), widthIn(is), measure).needs)
      // Where nothing changed, nothing is to be drawn anew.
      expect(rowNeeds(found, { ...is, rows: [...is.rows] }, textIn(is), widthIn(is), measure).needs).toBe(found.needs)
    }),
    { numRuns: 300 },
  )
})

test('a wrapped text needs its lines, a large one its size, and what lies over several rows says nothing of one', () => {
  const long = { value: 'one two three', style: { wrap: true as const } }
  const sheet: Sheet = {
    name: 'Levels',
    widths: { 0: 66 },
    rows: [
      [long],
      [{ value: 'x', style: { size: 24 } }],
      [{ value: 'one two three' }],
      [long],
      [{ value: 'a\nb', style: { wrap: true } }],
      [long],
    ],
    merged: [
      { top: 3, left: 0, bottom: 4, right: 0 },
      { top: 5, left: 0, bottom: 5, right: 1 },
    ],
  }
  const { needs } = rowNeeds(noNeeds, sheet, textIn(sheet), widthIn(sheet), measure)
  // Over two columns there is room for the same text.
  expect([...needs]).toEqual([
    [0, 67],
    [1, 52],
  ])
})

test('a column is as wide as its longest line', () => {
  const sheet: Sheet = {
    name: 'Levels',
    widths: {},
    rows: [
      [{ value: 'short' }],
      [{ value: 'the longest of all' }],
      [{ value: 'two\nlines of it' }],
      [{ value: 'over several cells, so it does not count' }, undefined],
    ],
    merged: [{ top: 3, left: 0, bottom: 3, right: 1 }],
  }
  expect(neededWidth(sheet, 0, textIn(sheet), measure)).toBe(180 + 16)
  expect(neededWidth(sheet, 1, textIn(sheet), measure)).toBeNull()
})
