// What is done to how cells look, held against the plainest ways to say what should come of it.
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { lookOf, sides } from '../../../core/content/looks'
import { type Cell, cellAt, type Sheet } from '../../../core/content/workbook'
import { anyHistory } from '../../../core/content/workbook.arbitrary'
import { applyOps, type WorkbookOp } from '../../../core/content/workbook-ops'
import { type Block, cellsOf, styleOp } from './acts'
import { areaOf, commonLook, hideOps, type Lines, linesOp, mergedIn, mergeOps, noLook } from './cell-looks'

const block: fc.Arbitrary<Block> = fc.record({
  x: fc.nat(4),
  y: fc.nat(5),
  width: fc.integer({ min: 1, max: 4 }),
  height: fc.integer({ min: 1, max: 4 }),
})
const anySheet = anyHistory(6).map(({ end }) => end.sheets[0]!)
const become = (sheet: Sheet, ops: WorkbookOp[]): Sheet => applyOps({ sheets: [sheet] }, ops).sheets[0]!
const sheetOf = (rows: (Cell | undefined)[][]): Sheet => ({ name: 'Levels', rows, widths: {} })

describe('lines', () => {
  test('come to the sides that are meant, and to no others', () => {
    const which = fc.constantFrom<Lines>('all', 'around', 'inside', 'top', 'right', 'bottom', 'left')
    fc.assert(
      fc.property(anySheet, block, which, (sheet, one, of) => {
        const now = become(sheet, [linesOp(sheet, 0, one, of, '2 solid #0f6a5f')])
        for (let row = 0; row < 12; row++)
          for (let column = 0; column < 10; column++) {
            const inside = row >= one.y && row < one.y + one.height && column >= one.x && column < one.x + one.width
            const edge = {
              top: row === one.y,
              bottom: row === one.y + one.height - 1,
              left: column === one.x,
              right: column === one.x + one.width - 1,
            }
            for (const side of sides) {
              const meant =
                inside &&
                (of === 'all' ||
                  (of === 'around' ? edge[side] : of === 'inside' ? !edge[side] : of === side && edge[side]))
              const was = cellAt(sheet, row, column)?.style?.[side]
              expect(cellAt(now, row, column)?.style?.[side]).toBe(meant ? '2 solid #0f6a5f' : was)
            }
          }
      }),
    )
  })
  test('taken away there are none around any of the cells, on whichever side of an edge they were said', () => {
    fc.assert(
      fc.property(anySheet, block, (sheet, one) => {
        const now = become(sheet, [linesOp(sheet, 0, one, 'none', '')])
        for (const [row, column] of cellsOf(one)) {
          for (const side of sides) expect(cellAt(now, row, column)?.style?.[side]).toBeUndefined()
          expect(lookOf(cellAt(now, row - 1, column)?.style)?.bottom).toBeUndefined()
          expect(lookOf(cellAt(now, row + 1, column)?.style)?.top).toBeUndefined()
          expect(lookOf(cellAt(now, row, column - 1)?.style)?.right).toBeUndefined()
          expect(lookOf(cellAt(now, row, column + 1)?.style)?.left).toBeUndefined()
        }
      }),
    )
  })
})

describe('cells made one', () => {
  test('hold all that they held in the first one, and nothing out of sight', () => {
    fc.assert(
      fc.property(anySheet, block, (sheet, one) => {
        fc.pre(one.width * one.height > 1)
        const { ops, together } = mergeOps(sheet, 0, one, () => 7)
        const now = become(sheet, ops)
        expect(now.merged).toContainEqual(areaOf(one))
        expect(mergedIn(now, one)).toEqual([areaOf(one)])
        const filled = [...cellsOf(one)].flatMap(([row, column]) => {
          const cell = cellAt(sheet, row, column)
          return cell?.value !== undefined || cell?.formula !== undefined ? [cell!] : []
        })
        const first = cellAt(now, one.y, one.x)
        for (const [row, column] of cellsOf(one))
          if (row !== one.y || column !== one.x) {
            const { style: _, ...content } = cellAt(now, row, column) ?? {}
            expect(content).toEqual({})
          }
        expect(together).toBe(filled.length > 1 ? filled.length : 0)
        if (filled.length === 1) expect([first?.value, first?.formula]).toEqual([filled[0]!.value, filled[0]!.formula])
      }),
    )
  })
  test('texts and results come together as they are shown', () => {
    const sheet = sheetOf([
      [{ value: 'Lock' }, { value: 0.5, style: { format: '0%' } }],
      [undefined, { formula: '1+2', style: { bold: true } }],
    ])
    const { ops, together } = mergeOps(sheet, 0, { x: 0, y: 0, width: 2, height: 2 }, () => 3)
    expect(together).toBe(3)
    expect(become(sheet, ops).rows).toEqual([
      [{ value: 'Lock 50% 3' }, { style: { format: '0%' } }],
      [undefined, { style: { bold: true } }],
    ])
  })
})

test('what is hidden comes back with the rows at its edges, and nothing is said where nothing is', () => {
  const sheet: Sheet = { ...sheetOf([]), hiddenRows: [2, 3, 4, 9] }
  const shown = hideOps(sheet, 0, 'rows', { at: 5, count: 1 }, false)
  expect(become(sheet, shown).hiddenRows).toEqual([9])
  expect(hideOps(sheet, 0, 'rows', { at: 6, count: 2 }, false)).toEqual([])
  expect(become(sheet, hideOps(sheet, 0, 'rows', { at: 0, count: 2 }, true)).hiddenRows).toEqual([0, 1, 2, 3, 4, 9])
})

test('what cells have in common, and nothing of it once it is cleared, but for how numbers are written', () => {
  const style = { font: 'Georgia', size: 14, top: '1 solid', wrap: true as const, format: '0.00', bold: true as const }
  const sheet = sheetOf([
    [
      { value: 1, style },
      { value: 2, style: { ...style, size: 10 } },
    ],
  ])
  const both = { x: 0, y: 0, width: 2, height: 1 }
  expect(commonLook(sheet, both)).toEqual({
    font: 'Georgia',
    size: undefined,
    color: null,
    fill: null,
    vertical: null,
    align: null,
    wrap: true,
  })
  const cleared = become(sheet, [styleOp(sheet, 0, both, noLook)])
  expect(cleared.rows[0]!.map((cell) => cell?.style)).toEqual([{ format: '0.00' }, { format: '0.00' }])
})
