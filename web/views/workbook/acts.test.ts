// What people do to a selection, held against the plainest ways to say what should come of it.
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { type Cell, type CellValue, cellAt, isError, type Sheet } from '../../../core/content/workbook'
import { anyHistory } from '../../../core/content/workbook.arbitrary'
import { applyOp } from '../../../core/content/workbook-ops'
import { type Block, cellsOf, clearOp, fillOp, movedCell, sortOp, styled, styleOp, usedPart } from './acts'

const block: fc.Arbitrary<Block> = fc.record({
  x: fc.nat(4),
  y: fc.nat(5),
  width: fc.integer({ min: 1, max: 4 }),
  height: fc.integer({ min: 1, max: 5 }),
})
const anySheet = anyHistory(6).map(({ end }) => end.sheets[0]!)
const inside = ({ x, y, width, height }: Block, row: number, column: number) =>
  row >= y && row < y + height && column >= x && column < x + width
const corner = Array.from({ length: 14 * 12 }, (_, i) => [Math.floor(i / 12), i % 12] as const)
const become = (sheet: Sheet, op: Parameters<typeof applyOp>[1]): Sheet => applyOp({ sheets: [sheet] }, op).sheets[0]!
const sheetOf = (rows: (Cell | undefined)[][]): Sheet => ({ name: 'Levels', rows, widths: {} })
const column = (...values: (CellValue | undefined)[]): Sheet =>
  sheetOf(values.map((value) => (value === undefined ? [] : [{ value }])))
const valuesOf = (sheet: Sheet, at = 0) => sheet.rows.map((row) => row?.[at]?.value)

describe('a block', () => {
  test('is gone through row by row, each of its cells once', () => {
    fc.assert(
      fc.property(block, (one) => {
        const cells = [...cellsOf(one)]
        expect(cells).toHaveLength(one.width * one.height)
        expect(new Set(cells.map(String)).size).toBe(cells.length)
        for (const [row, at] of cells) expect(inside(one, row, at)).toBe(true)
        expect(cells).toEqual(cells.toSorted(([a, b], [c, d]) => a - c || b - d))
      }),
    )
  })
  test('is cut down to what the sheet uses, and never grows', () => {
    fc.assert(
      fc.property(anySheet, block, fc.nat(8), (sheet, one, columns) => {
        const used = usedPart(sheet, one, columns)
        expect(used.width).toBeLessThanOrEqual(one.width)
        expect(used.height).toBeLessThanOrEqual(one.height)
        for (const [row, at] of cellsOf(one))
          if (row < sheet.rows.length && at < columns) expect(inside(used, row, at)).toBe(true)
        for (const [row, at] of cellsOf(used)) {
          expect(row).toBeLessThan(sheet.rows.length)
          expect(at).toBeLessThan(columns)
        }
      }),
    )
  })
})

describe('styles', () => {
  test('a trait is set on each cell of a block and on no other; what stands in the cells stays', () => {
    fc.assert(
      fc.property(anySheet, block, (sheet, one) => {
        const made = become(sheet, styleOp(sheet, 0, one, { bold: true }))
        for (const [row, at] of corner) {
          const [was, is] = [cellAt(sheet, row, at), cellAt(made, row, at)]
          if (inside(one, row, at)) {
            expect(is?.style).toEqual({ ...was?.style, bold: true })
            expect([is?.value, is?.formula]).toEqual([was?.value === '' ? undefined : was?.value, was?.formula])
          } else expect(is).toEqual(was)
        }
      }),
    )
  })
  test('a trait that is taken away leaves the others, and a cell with nothing in it is no cell', () => {
    expect(styled({ value: 1, style: { bold: true, italic: true } }, { bold: undefined })).toEqual({
      value: 1,
      style: { italic: true },
    })
    expect(styled({ style: { bold: true } }, { bold: undefined })).toBeNull()
    expect(styled(undefined, { fill: '#fffbe6' })).toEqual({ style: { fill: '#fffbe6' } })
  })
})

test('clearing takes what stands in the cells of a block and leaves how they look', () => {
  fc.assert(
    fc.property(anySheet, block, (sheet, one) => {
      const cleared = become(sheet, clearOp(sheet, 0, one))
      for (const [row, at] of corner) {
        const [was, is] = [cellAt(sheet, row, at), cellAt(cleared, row, at)]
        if (!inside(one, row, at)) expect(is).toEqual(was)
        else {
          expect(is?.value).toBeUndefined()
          expect(is?.formula).toBeUndefined()
          expect(is?.style).toEqual(was?.style)
        }
      }
    }),
  )
})

describe('sorting', () => {
  const valueIn = (sheet: Sheet) => (row: number, at: number) => cellAt(sheet, row, at)?.value
  /** By number, then text, then truth, then error; nothing at the end. */
  const kind = (value: CellValue | undefined) =>
    value === undefined ? 4 : isError(value) ? 3 : { number: 0, string: 1, boolean: 2 }[typeof value as 'number']

  test('puts rows in order, keeps each row together and equal rows in their order', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.option(
            fc.oneof(fc.integer({ min: -3, max: 9 }), fc.constantFrom('LK2', 'LK10', 'lk2', 'Weir'), fc.boolean()),
          ),
          {
            minLength: 1,
            maxLength: 12,
          },
        ),
        fc.boolean(),
        (values, down) => {
          const sheet = sheetOf(
            values.map((value, n) => [value === null ? undefined : { value: value as CellValue }, { value: n }]),
          )
          const sorted = become(
            sheet,
            sortOp(sheet, 0, { x: 0, y: 0, width: 2, height: values.length }, 0, down, valueIn(sheet)),
          )
          const rows = values.map(
            (_, row) => [cellAt(sorted, row, 0)?.value, cellAt(sorted, row, 1)!.value as number] as const,
          )
          // The same rows, each still beside its own number.
          expect(rows.map(([, n]) => n).toSorted((a, b) => a - b)).toEqual(values.map((_, n) => n))
          for (const [value, n] of rows) expect(value ?? null).toEqual(values[n])
          const filled = rows.filter(([value]) => value !== undefined)
          expect(rows.slice(0, filled.length)).toEqual(filled)
          for (let at = 1; at < filled.length; at++) {
            const [[a, i], [b, j]] = [filled[at - 1]!, filled[at]!]
            const order =
              kind(a) - kind(b) ||
              (typeof a === 'string' && typeof b === 'string'
                ? a.localeCompare(b, undefined, { numeric: true, sensitivity: 'base' })
                : Number(a) - Number(b))
            expect(down ? -order : order).toBeLessThanOrEqual(0)
            if (order === 0) expect(i).toBeLessThan(j)
          }
        },
      ),
    )
  })
  test('numbers within names count as numbers, and what is beside the block stays', () => {
    const sheet = sheetOf(['LK10', 'LK2', 'LK7'].map((value, n) => [{ value }, { value: n }]))
    const sorted = become(sheet, sortOp(sheet, 0, { x: 0, y: 0, width: 1, height: 3 }, 0, false, valueIn(sheet)))
    expect(valuesOf(sorted)).toEqual(['LK2', 'LK7', 'LK10'])
    expect(valuesOf(sorted, 1)).toEqual([0, 1, 2])
  })
  test('a formula that moves goes on meaning the cells of its own row', () => {
    const sheet = sheetOf([
      [{ value: 9 }, { formula: 'A1*2' }],
      [{ value: 4 }, { formula: 'A2*2' }],
    ])
    const sorted = become(sheet, sortOp(sheet, 0, { x: 0, y: 0, width: 2, height: 2 }, 0, false, valueIn(sheet)))
    expect(sorted.rows.map((row) => row?.[1]?.formula)).toEqual(['A1*2', 'A2*2'])
    expect(valuesOf(sorted)).toEqual([4, 9])
  })
})

describe('filling', () => {
  const one = (x: number, y: number, width: number, height: number): Block => ({ x, y, width, height })
  test('a run of numbers goes on by its step, down and across', () => {
    const sheet = column(2, 5)
    expect(valuesOf(become(sheet, fillOp(sheet, 0, one(0, 0, 1, 2), one(0, 0, 1, 5))))).toEqual([2, 5, 8, 11, 14])
    const across = sheetOf([[{ value: 0.1 }, { value: 0.2 }]])
    const filled = become(across, fillOp(across, 0, one(0, 0, 2, 1), one(0, 0, 5, 1)))
    expect(filled.rows[0]!.map((cell) => cell?.value)).toEqual([0.1, 0.2, 0.3, 0.4, 0.5])
  })
  test('one number is repeated, texts take their turns', () => {
    const sheet = column(7)
    expect(valuesOf(become(sheet, fillOp(sheet, 0, one(0, 0, 1, 1), one(0, 0, 1, 3))))).toEqual([7, 7, 7])
    const names = column('early', 'late')
    expect(valuesOf(become(names, fillOp(names, 0, one(0, 0, 1, 2), one(0, 0, 1, 5))))).toEqual([
      'early',
      'late',
      'early',
      'late',
      'early',
    ])
  })
  test('formulas go on relative to where they are', () => {
    const sheet = sheetOf([[{ value: 1 }, { formula: 'A1+$A$1' }]])
    const filled = become(sheet, fillOp(sheet, 0, one(1, 0, 1, 1), one(1, 0, 1, 3)))
    expect(filled.rows.map((row) => row?.[1]?.formula)).toEqual(['A1+$A$1', 'A2+$A$1', 'A3+$A$1'])
  })
  test('what is filled from stays, and each cell comes from its place in the pattern', () => {
    fc.assert(
      fc.property(anySheet, block, fc.nat(4), (sheet, source, more) => {
        const target = { ...source, height: source.height + more }
        const filled = become(sheet, fillOp(sheet, 0, source, target))
        for (const [row, at] of corner) {
          if (inside(source, row, at) || !inside(target, row, at)) {
            expect(cellAt(filled, row, at)).toEqual(cellAt(sheet, row, at))
            continue
          }
          const from = source.y + ((row - source.y) % source.height)
          const [was, is] = [cellAt(sheet, from, at), cellAt(filled, row, at)]
          expect(is?.style).toEqual(was?.style)
          if (was?.formula !== undefined) expect(is?.formula).toBe(movedCell(was, row - from, 0)?.formula)
          else if (typeof was?.value !== 'number') expect(is?.value).toEqual(was?.value === '' ? undefined : was?.value)
        }
      }),
    )
  })
})
