import fc from 'fast-check'
import { expect, test } from 'vitest'
import { findText, type TextPiece } from './find-text'

const piece = (text: string, y = 0, ends = false): TextPiece => ({
  text,
  x: 10,
  y,
  width: text.length * 5,
  height: 12,
  ends,
})

test('words are found wherever they stand, also over pieces and the end of a line', () => {
  const page = [piece('The Weir', 90), piece(' at LK02 was', 90, true), piece('passed on Monday.', 75, true)]
  expect(findText(page, 'weir')).toEqual([[{ x: 30, y: 90, width: 20, height: 12 }]])
  expect(findText(page, 'weir  at lk')).toHaveLength(1)
  expect(findText(page, 'was passed')[0]!.map(({ y }) => y)).toEqual([90, 75])
  expect(findText(page, 'as')).toHaveLength(2)
  expect(findText(page, 'gate')).toEqual([])
  expect(findText(page, '  ')).toEqual([])
})

test('as often as they are in the text of a page, each within the piece that it is in', () => {
  const text = fc.string({ unit: fc.constantFrom('a', 'b', 'É', ' ', 'ß'), minLength: 1, maxLength: 12 })
  fc.assert(
    fc.property(
      fc.array(fc.tuple(text, fc.boolean()), { maxLength: 6 }),
      fc.string({ unit: fc.constantFrom('a', 'b', 'é'), minLength: 1, maxLength: 3 }),
      (parts, words) => {
        const pieces = parts.map(([one, ends], at) => ({ ...piece(one, at * 20, ends), x: at }))
        const whole = parts
          .map(([one, ends]) => one + (ends ? ' ' : ''))
          .join('')
          .toLowerCase()
        const hits = findText(pieces, words)
        expect(hits).toHaveLength(whole.split(words).length - 1)
        for (const boxes of hits)
          for (const { x, y, width } of boxes) {
            const own = pieces[y / 20]!
            expect(x).toBeGreaterThanOrEqual(own.x)
            expect(x + width).toBeLessThanOrEqual(own.x + own.width + 0.001)
          }
      },
    ),
  )
})
