// Where the cursor goes on a sheet with merged and hidden cells, and how far its rows reach.
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { noLooks, type SheetLooks } from '../../../core/content/looks'
import { largestSheet } from '../../../core/content/workbook'
import { sizes } from '../size'
import { pastHidden, sceneOf, settled } from './scene'

const size = 12
const line = fc.nat(size - 1)
const looks: fc.Arbitrary<SheetLooks> = fc
  .tuple(
    fc.array(fc.tuple(line, line, fc.nat(3), fc.nat(3)), { maxLength: 6 }),
    fc.uniqueArray(line, { maxLength: 6 }),
    fc.uniqueArray(line, { maxLength: 6 }),
    fc.array(fc.tuple(line, fc.integer({ min: 3, max: 60 })), { maxLength: 5 }),
  )
  .map(([areas, rows, columns, heights]) => {
    const taken = new Set<string>()
    const merged = areas.flatMap(([top, left, tall, wide]) => {
      const [bottom, right] = [Math.min(size - 1, top + tall), Math.min(size - 1, left + wide)]
      const cells: string[] = []
      for (let y = top; y <= bottom; y++) for (let x = left; x <= right; x++) cells.push(`${y} ${x}`)
      // Areas of a sheet never lie over each other, and begin where something is shown.
      if (cells.length < 2 || cells.some((cell) => taken.has(cell)) || rows.includes(top) || columns.includes(left))
        return []
      for (const cell of cells) taken.add(cell)
      return [{ top, left, bottom, right }]
    })
    return { ...noLooks, merged, heights: new Map(heights), hiddenRows: new Set(rows), hiddenColumns: new Set(columns) }
  })

test('the cursor rests on what is shown, on the first cell of an area, and an arrow never stays where it was but at the edge', () => {
  fc.assert(
    fc.property(looks, line, line, fc.constantFrom([1, 0], [-1, 0], [0, 1], [0, -1]), (its, column, row, [dx, dy]) => {
      fc.pre(its.hiddenRows.size < size && its.hiddenColumns.size < size)
      const scene = sceneOf(its, false)
      const [start] = [settled(scene, undefined, [column, row], [size, size])]
      const [x, y] = start.cell
      expect(its.hiddenRows.has(y) || its.hiddenColumns.has(x)).toBe(false)
      const area = scene.mergedAt(y, x)
      if (area) expect([area.left, area.top]).toEqual([x, y])
      const [toX, toY] = [x + dx!, y + dy!]
      if (toX < 0 || toY < 0 || toX >= size || toY >= size) return
      const next = settled(scene, start.cell, [toX, toY], [size, size])
      expect(its.hiddenRows.has(next.cell[1]) || its.hiddenColumns.has(next.cell[0])).toBe(false)
      // Whatever is shown beyond, that way, is reached: the cursor moves unless nothing is.
      const [from, hidden] = dx
        ? [area ? (dx > 0 ? area.right : area.left) : x, its.hiddenColumns]
        : [area ? (dy! > 0 ? area.bottom : area.top) : y, its.hiddenRows]
      const way = dx || dy!
      let beyond = from + way
      while (beyond >= 0 && beyond < size && hidden.has(beyond)) beyond += way
      if (beyond >= 0 && beyond < size) expect(next.cell).not.toEqual(start.cell)
    }),
  )
})

test('heights are summed as row after row has them, also over all rows of a sheet', () => {
  fc.assert(
    fc.property(looks, line, fc.nat(40), fc.constantFrom(...sizes), (its, from, count, shown) => {
      const { rowHeight, heightBetween } = sceneOf(its, false, undefined, undefined, shown)
      let sum = 0
      for (let row = from; row < from + count; row++) sum += typeof rowHeight === 'number' ? rowHeight : rowHeight(row)
      expect(heightBetween(from, from + count)).toBe(sum)
    }),
  )
  const scene = sceneOf({ ...noLooks, heights: new Map([[3, 30]]) }, false)
  expect(scene.heightBetween(0, largestSheet.rows)).toBe(largestSheet.rows * 26 + 20)
})

test('what is selected by keys ends at a line that is seen, and each key moves one edge by one such line', () => {
  fc.assert(
    fc.property(
      looks,
      line,
      fc.array(fc.constantFrom('down', 'up', 'left', 'right'), { maxLength: 12 }),
      (frame, start, keys) => {
        const scene = sceneOf(frame, false)
        const shown = (axis: 'row' | 'column') =>
          Array.from({ length: size }, (_, at) => at).filter((at) => !scene.isHidden(axis, at))
        const [rows, columns] = [shown('row'), shown('column')]
        if (!rows.length || !columns.length) return
        const [row, column] = [rows[start % rows.length]!, columns[start % columns.length]!]
        let range = { x: column, y: row, width: 1, height: 1 }
        let [down, across] = [rows.indexOf(row), columns.indexOf(column)]
        for (const key of keys) {
          // As the grid moves the edge that is not the cursor's.
          const stretched = { ...range }
          const vertical = key === 'down' || key === 'up'
          const step = key === 'down' || key === 'right' ? 1 : -1
          const far = vertical
            ? range.y < row
              ? range.y
              : range.y + range.height - 1
            : range.x < column
              ? range.x
              : range.x + range.width - 1
          const to = Math.max(0, Math.min(size - 1, far + step))
          const own = vertical ? row : column
          const [first, last] = [Math.min(own, to), Math.max(own, to)]
          Object.assign(
            stretched,
            vertical ? { y: first, height: last - first + 1 } : { x: first, width: last - first + 1 },
          )
          range = pastHidden(scene, range, stretched, [size, size])
          if (vertical) down = Math.max(0, Math.min(rows.length - 1, down + step))
          else across = Math.max(0, Math.min(columns.length - 1, across + step))
          const [top, bottom] = [row, rows[down]!].sort((a, b) => a - b)
          const [left, right] = [column, columns[across]!].sort((a, b) => a - b)
          expect(range).toEqual({ x: left, y: top, width: right! - left! + 1, height: bottom! - top! + 1 })
        }
      },
    ),
    { numRuns: 500 },
  )
})
