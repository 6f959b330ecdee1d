// What people do to a selection, held against the plainest ways to say what should come of it.
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { seriesOf } from '../../../core/content/series'
import { type Cell, type CellValue, cellAt, isError, type Sheet, usedSize } from '../../../core/content/workbook'
import { anyHistory } from '../../../core/content/workbook.arbitrary'
import { applyOp } from '../../../core/content/workbook-ops'
import {
  type Block,
  cellsOf,
  clearOp,
  edgeFrom,
  fillKeyOp,
  fillOp,
  movedCell,
  numbersBefore,
  pastedOp,
  sortOp,
  styled,
  styleOp,
  sumsOp,
  usedPart,
} from './acts'

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
            sortOp(sheet, 0, { x: 0, y: 0, width: 2, height: values.length }, [{ column: 0, down }], valueIn(sheet)),
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
    const sorted = become(
      sheet,
      sortOp(sheet, 0, { x: 0, y: 0, width: 1, height: 3 }, [{ column: 0, down: false }], valueIn(sheet)),
    )
    expect(valuesOf(sorted)).toEqual(['LK2', 'LK7', 'LK10'])
    expect(valuesOf(sorted, 1)).toEqual([0, 1, 2])
  })
  test('a formula that moves goes on meaning the cells of its own row', () => {
    const sheet = sheetOf([
      [{ value: 9 }, { formula: 'A1*2' }],
      [{ value: 4 }, { formula: 'A2*2' }],
    ])
    const sorted = become(
      sheet,
      sortOp(sheet, 0, { x: 0, y: 0, width: 2, height: 2 }, [{ column: 0, down: false }], valueIn(sheet)),
    )
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
          // Texts with a number at their end go on like numbers.
          const given = Array.from({ length: source.height }, (_, n) => cellAt(sheet, source.y + n, at))
          const goesOn = seriesOf(given)
          if (goesOn) expect(is?.value).toEqual(goesOn(row - source.y).value)
          else if (was?.formula !== undefined) expect(is?.formula).toBe(movedCell(was, row - from, 0)?.formula)
          else if (typeof was?.value !== 'number') expect(is?.value).toEqual(was?.value === '' ? undefined : was?.value)
        }
      }),
    )
  })
})

describe('the edge of what is filled', () => {
  const levels = column(1, 2, undefined, undefined, 5, 6, 7, undefined, 9)
  const down = (row: number) => edgeFrom(levels, { row, column: 0 }, [1, 0], usedSize(levels)).row
  const up = (row: number) => edgeFrom(levels, { row, column: 0 }, [-1, 0], usedSize(levels)).row
  test('is the last of a run, the next that is filled, and the end of what is used', () => {
    expect([0, 1, 2, 4, 5, 6, 8, 20].map(down)).toEqual([1, 4, 4, 6, 6, 8, 8, 20])
    expect([8, 7, 6, 5, 4, 1, 0, 20].map(up)).toEqual([6, 6, 4, 4, 1, 0, 0, 8])
    expect(edgeFrom(levels, { row: 3, column: 0 }, [0, 1], usedSize(levels))).toEqual({ row: 3, column: 0 })
  })
  test('is reached from anywhere, never goes the other way, and once there only what is beyond is gone to', () => {
    const steps = [
      [1, 0],
      [-1, 0],
      [0, 1],
      [0, -1],
    ] as const
    fc.assert(
      fc.property(anySheet, fc.nat(9), fc.nat(6), fc.constantFrom(...steps), (sheet, row, at, step) => {
        const used = usedSize(sheet)
        let from = { row, column: at }
        for (let n = 0; n < 40; n++) {
          const to = edgeFrom(sheet, from, step, used)
          const gone = step[0] ? to.row - from.row : to.column - from.column
          expect(Math.sign(gone) * (step[0] || step[1])).toBeGreaterThanOrEqual(0)
          if (!gone) return
          // Of what lies between, all is filled or nothing is.
          const between = Array.from({ length: Math.abs(gone) - 1 }, (_, n) => {
            const cell = cellAt(sheet, from.row + step[0] * (n + 1), from.column + step[1] * (n + 1))
            return cell?.value !== undefined || cell?.formula !== undefined
          })
          expect(new Set(between).size).toBeLessThan(2)
          from = to
        }
        throw new Error('It never comes to an end.')
      }),
    )
  })
})

describe('filling by a key', () => {
  const sheet = sheetOf([[{ value: 1 }, { formula: 'A1*2', style: { bold: true } }], [{ value: 2 }], [{ value: 3 }]])
  const filledBy = (op: ReturnType<typeof fillKeyOp>) => become(sheet, op!)
  test('goes on from the first row, or from the one before', () => {
    const filled = filledBy(fillKeyOp(sheet, 0, { x: 1, y: 0, width: 1, height: 3 }, 'down'))
    expect([1, 2].map((row) => cellAt(filled, row, 1))).toEqual([
      { formula: 'A2*2', style: { bold: true } },
      { formula: 'A3*2', style: { bold: true } },
    ])
    const one = filledBy(fillKeyOp(sheet, 0, { x: 0, y: 3, width: 1, height: 1 }, 'down'))
    expect(valuesOf(one)).toEqual([1, 2, 3, 3])
    const right = filledBy(fillKeyOp(sheet, 0, { x: 0, y: 1, width: 3, height: 2 }, 'right'))
    expect([1, 2].map((row) => right.rows[row]!.map((cell) => cell?.value))).toEqual([
      [2, 2, 2],
      [3, 3, 3],
    ])
  })
  test('has nothing to go on from at the edge', () => {
    expect(fillKeyOp(sheet, 0, { x: 0, y: 0, width: 2, height: 1 }, 'down')).toBeNull()
    expect(fillKeyOp(sheet, 0, { x: 0, y: 0, width: 1, height: 2 }, 'right')).toBeNull()
  })
})

describe('adding up in one step', () => {
  const sheet = sheetOf([
    [{ value: 'Lock' }, { value: 'Boats' }, { value: 'Toll' }],
    [{ value: 'LK01' }, { value: 12 }, { value: 4.5, style: { format: '0.00' } }],
    [{ value: 'LK02' }, { value: 7 }, { value: 5, style: { format: '0.00' } }],
  ])
  const isNumber = (row: number, at: number) => typeof cellAt(sheet, row, at)?.value === 'number'
  test('is of the numbers above, or else of those before', () => {
    expect(numbersBefore({ row: 3, column: 1 }, isNumber)).toEqual({ top: 1, left: 1, bottom: 2, right: 1 })
    expect(numbersBefore({ row: 2, column: 3 }, isNumber)).toEqual({ top: 2, left: 1, bottom: 2, right: 2 })
    expect(numbersBefore({ row: 3, column: 0 }, isNumber)).toBeNull()
  })
  test('of a block it stands below each column of numbers, or behind the only row, and over nothing', () => {
    expect(sumsOp(sheet, 0, { x: 0, y: 1, width: 3, height: 2 }, isNumber).cells).toEqual([
      { row: 3, column: 1, cell: { formula: 'SUM(B2:B3)' } },
      { row: 3, column: 2, cell: { formula: 'SUM(C2:C3)', style: { format: '0.00' } } },
    ])
    expect(sumsOp(sheet, 0, { x: 1, y: 1, width: 2, height: 3 }, isNumber).cells).toHaveLength(2)
    expect(sumsOp(sheet, 0, { x: 1, y: 2, width: 2, height: 1 }, isNumber).cells).toEqual([
      { row: 2, column: 3, cell: { formula: 'SUM(B3:C3)', style: { format: '0.00' } } },
    ])
    expect(sumsOp(sheet, 0, { x: 0, y: 0, width: 3, height: 1 }, isNumber).cells).toEqual([])
    // Below these is something: it stays.
    expect(sumsOp(sheet, 0, { x: 1, y: 0, width: 1, height: 2 }, isNumber).cells).toEqual([])
  })
})

describe('sorting by several columns', () => {
  test('is by the first, where that is equal by the next, and keeps what is equal in all as it was', () => {
    const row = fc.tuple(fc.nat(2), fc.constantFrom('a', 'b', 'c'))
    fc.assert(
      fc.property(fc.array(row, { minLength: 2, maxLength: 9 }), fc.boolean(), fc.boolean(), (rows, first, second) => {
        const sheet = sheetOf(rows.map(([number, text], at) => [{ value: number }, { value: text }, { value: at }]))
        const keys = [
          { column: 0, down: first },
          { column: 1, down: second },
        ]
        const block = { x: 0, y: 0, width: 3, height: rows.length }
        const sorted = become(
          sheet,
          sortOp(sheet, 0, block, keys, (at, column) => cellAt(sheet, at, column)?.value),
        )
        const expected = rows
          .map(([number, text], at) => ({ number, text, at }))
          .sort(
            (a, b) =>
              (a.number - b.number) * (first ? -1 : 1) ||
              a.text.localeCompare(b.text) * (second ? -1 : 1) ||
              a.at - b.at,
          )
        expect(valuesOf(sorted, 2)).toEqual(expected.map(({ at }) => at))
      }),
    )
  })
})

describe('what was copied is pasted', () => {
  const copied = {
    text: '',
    rows: [0, 1],
    x: 0,
    cells: [
      [
        { value: 'Toll', style: { bold: true as const } },
        { value: 4.5, style: { format: '0.00' } },
      ],
      [{ formula: 'B1*2', style: { format: '0.00' } }, undefined],
    ],
    results: [
      [undefined, undefined],
      [9, undefined],
    ],
  }
  const sheet = sheetOf([[], [], [undefined, undefined, { value: 'x', style: { fill: '#d3e6ea' } }]])
  const at = { x: 2, y: 2, width: 1, height: 1 }
  test('as values, that calculate nothing, in the looks that are there', () => {
    expect(pastedOp(sheet, 0, at, copied, 'values').cells).toEqual([
      { row: 2, column: 2, cell: { value: 'Toll', style: { fill: '#d3e6ea' } } },
      { row: 2, column: 3, cell: { value: 4.5, style: { format: '0.00' } } },
      { row: 3, column: 2, cell: { value: 9, style: { format: '0.00' } } },
      { row: 3, column: 3, cell: null },
    ])
  })
  test('as looks, over what is there', () => {
    expect(pastedOp(sheet, 0, at, copied, 'looks').cells).toEqual([
      { row: 2, column: 2, cell: { value: 'x', style: { bold: true } } },
      { row: 2, column: 3, cell: { style: { format: '0.00' } } },
      { row: 3, column: 2, cell: { style: { format: '0.00' } } },
      { row: 3, column: 3, cell: null },
    ])
  })
  test('with its rows as columns', () => {
    const turned = become(sheet, pastedOp(sheet, 0, { ...at, x: 4 }, copied, 'turned'))
    expect([cellAt(turned, 2, 4)?.value, cellAt(turned, 3, 4)?.value, cellAt(turned, 2, 5)?.formula]).toEqual([
      'Toll',
      4.5,
      'G2*2',
    ])
  })
  test('again over a larger block that it fits into', () => {
    expect(pastedOp(sheet, 0, { ...at, width: 4, height: 2 }, copied, 'values').cells).toHaveLength(8)
    expect(pastedOp(sheet, 0, { ...at, width: 3, height: 3 }, copied, 'values').cells).toHaveLength(4)
  })
})
