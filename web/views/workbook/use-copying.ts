// Copying and pasting in a sheet: what was copied is kept with its formulas and looks, so that it comes in again as it was;
// what comes from elsewhere is typed.
import type { GridSelection, Item } from '@glideapps/glide-data-grid'
import { type RefObject, useLayoutEffect } from 'react'
import { displayOf } from '../../../core/content/display'
import { cellAt, type Sheet } from '../../../core/content/workbook'
import { movedCell, tiledOp } from './acts'
import { copiedCells, keepCopied } from './copied'
import { seenFrom, shownParts, shownRows } from './filter-acts'
import { noticeOf } from './rules'
import type { ShownWorkbook } from './still'
import { typedCell } from './typed'

const asText = (rows: string[][]) => rows.map((row) => row.join('\t')).join('\n')

/** @returns what pastes texts, from a cell on */
export function useCopying({
  store,
  sheet,
  model,
  selection,
  holder,
}: {
  store: ShownWorkbook
  sheet: number
  model: Sheet
  selection: GridSelection['current']
  /** Has the sheet in it: what is copied elsewhere is none of its. */
  holder: RefObject<HTMLElement | null>
}): (at: Item, values: readonly (readonly string[])[]) => false {
  // biome-ignore lint/correctness/useExhaustiveDependencies: results are those of the sheet as it is drawn; the next key may be the one that copies
  useLayoutEffect(() => {
    const note = () => {
      const range = selection?.range
      if (!range || !holder.current?.contains(document.activeElement)) return
      const rows = shownRows(model, range)
      const cells = rows.map((y) => Array.from({ length: range.width }, (_, dx) => cellAt(model, y, range.x + dx)))
      keepCopied({
        cells,
        results: cells.map((row, dy) =>
          row.map((cell, dx) =>
            cell?.formula === undefined ? undefined : store.result(sheet, rows[dy]!, range.x + dx),
          ),
        ),
        rows,
        x: range.x,
        text: asText(
          cells.map((row, dy) => row.map((cell, dx) => displayOf(cell, store.result(sheet, rows[dy]!, range.x + dx)))),
        ),
      })
    }
    document.addEventListener('copy', note, true)
    document.addEventListener('cut', note, true)
    return () => {
      document.removeEventListener('copy', note, true)
      document.removeEventListener('cut', note, true)
    }
  }, [selection, model, sheet])

  return ([x, y], values) => {
    const text = asText(values.map((row) => [...row]))
    const last = copiedCells()
    const own = last && last.text === text ? last : null
    const source = (own?.cells ?? values).map((row) => row.length)
    const range = selection?.range
    const height = range ? shownParts(model, range).reduce((sum, part) => sum + part.height, 0) : 1
    const target = { x, y, width: range?.width ?? 1, height }
    const op = tiledOp(
      sheet,
      target,
      { height: source.length, width: Math.max(...source, 0) },
      (sy, sx, row, column) =>
        own
          ? movedCell(own.cells[sy]?.[sx], row - own.rows[sy]!, column - own.x - sx)
          : typedCell(values[sy]?.[sx] ?? '', cellAt(model, row, column), store.workbook, sheet),
      seenFrom(model, y),
    )
    try {
      store.change([op])
      noticeOf(store, op)
    } catch {
      // It would reach past the end of the sheet: nothing is changed.
    }
    return false
  }
}
