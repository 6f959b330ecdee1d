// What a workbook has that its file has not: what was written is read again, and laid beside the work.

import { saidBy } from '../content/entry-rules'
import { type CellLook, looksOf, noLooks, withoutLook } from '../content/looks'
import { sameFilter } from '../content/sheet-filter'
import { sameSetUp, setUpOf } from '../content/sheet-set-up'
import { type Cell, cellAt, largestSheet, sameStyle, sameValue, type Workbook } from '../content/workbook'
import type { Beside } from './beside'
import { type Limit, Limits } from './refusals'
import type { ReadWorkbook } from './xlsx/read'
import type { ResultOf } from './xlsx/write'

/** A workbook with all that goes along where it is written. */
export interface SheetsWork extends Beside {
  workbook: Workbook
  resultOf: ResultOf
}

/**
 * @param again what was read of what was written
 * @param most what a sheet of its type can hold
 * @param sameFormat whether two number formats are the same in that type
 */
export function lostInSheets(
  { workbook, resultOf, names = [] }: SheetsWork,
  again: ReadWorkbook,
  most: { rows: number; columns: number } = largestSheet,
  sameFormat = (a: string | undefined, b: string | undefined): boolean => a === b,
): Limit[] {
  const limits = new Limits()
  const { rows: mostRows, columns: mostColumns } = most
  const held = (row: number, column: number) => row < mostRows && column < mostColumns
  for (const [index, sheet] of workbook.sheets.entries()) {
    const { name } = sheet
    const there = again.workbook.sheets[index]
    const before = looksOf(sheet)
    const after = there ? looksOf(there) : noLooks
    for (const [row, line] of sheet.rows.entries())
      for (const [column, cell] of (line ?? []).entries()) {
        if (!cell) continue
        const place = [index, row, column]
        if (!held(row, column)) {
          limits.add('cells beyond what the type can hold', name, 1, place)
          continue
        }
        const read = cellAt(there, row, column)
        if (cell.formula !== undefined && read?.formula === undefined) {
          const result = resultOf(index, row, column)
          limits.add(
            result === undefined || !sameValue(read?.value, result)
              ? 'formulas without a result (nothing of them stays)'
              : 'formulas (their results stay)',
            name,
            1,
            place,
          )
        } else if (cell.formula === undefined && !sameContent(cell, read))
          limits.add('values that are read as something else', name, 1, place)
        if (sameStyle(cell.style, read?.style)) continue
        // Lines and fonts are told for themselves.
        const { format, ...look } = withoutLook(cell.style) ?? {}
        const { format: formatRead, ...lookRead } = withoutLook(read?.style) ?? {}
        if (!sameFormat(format, formatRead)) limits.add('number formats', name, 1, place)
        if (!sameStyle(look, lookRead)) limits.add('looks of cells', name, 1, place)
      }
    if (sheet.setUp && !sameSetUp(setUpOf(again.looks[index]?.paper), sheet.setUp))
      limits.add('page set-up', name, 1, [index, 0, 0])
    if (sheet.filter && !sameFilter(there?.filter, sheet.filter))
      limits.add('filters', name, 1, [index, sheet.filter.area.top, sheet.filter.area.left])
    const rulesThere = new Set(there?.rules?.map(saidBy))
    for (const rule of sheet.rules ?? [])
      if (!rulesThere.has(saidBy(rule)))
        limits.add('input rules', name, 1, [index, rule.areas[0]!.top, rule.areas[0]!.left])
    for (const [key, look] of before.cells) {
      const [row, column] = [Math.floor(key / largestSheet.columns), key % largestSheet.columns]
      if (!sameLook(look, after.cells.get(key))) limits.add('borders and fonts of cells', name, 1, [index, row, column])
    }
    const places = (areas: readonly { top: number; left: number; bottom: number; right: number }[]) =>
      new Set(areas.map(({ top, left, bottom, right }) => `${top} ${left} ${bottom} ${right}`))
    const merged = places(after.merged)
    for (const area of before.merged)
      if (!merged.has([...places([area])][0]!))
        limits.add('merged cells (their content stays in the first one)', name, 1, [index, area.top, area.left])
  }
  const kept = new Set(again.source.names.map((one) => JSON.stringify([one.name.toLowerCase(), one.sheet])))
  const goneIn = (formula: string) => formula.endsWith('#REF!')
  const broken = new Set(
    again.source.names.filter(({ formula }) => goneIn(formula)).map((one) => one.name.toLowerCase()),
  )
  for (const { name, sheet, formula } of names)
    if (!kept.has(JSON.stringify([name.toLowerCase(), sheet])) || (broken.has(name.toLowerCase()) && !goneIn(formula)))
      limits.add('defined names', name)
  return limits.list()
}

const sameContent = (cell: Cell, read: Cell | undefined) =>
  read?.formula === undefined && sameValue(cell.value === '' ? undefined : cell.value, read?.value)

const sides = ['top', 'right', 'bottom', 'left'] as const
function sameLook(a: CellLook, b: CellLook | undefined): boolean {
  return (
    a.font === b?.font &&
    a.size === b?.size &&
    // At the foot is where text stands anyway.
    (a.vertical ?? 'bottom') === (b?.vertical ?? 'bottom') &&
    sides.every((side) => {
      const [one, other] = [a[side], b?.[side]]
      return one?.width === other?.width && one?.line === other?.line && one?.color === other?.color
    })
  )
}
