// How much one formula may read or make, told before it is calculated: whoever runs out of memory loses the whole page.
import { largestSheet, type Workbook } from '../content/workbook'
import type { Area } from './source'

/** More cells than these are not read by one formula, nor made by one: they would take all the memory that there is. */
export const mostCells = 5_000_000
/** Where an array comes of them, each takes far more room: as many as one column has, which people look through whole. */
export const mostOfArray = largestSheet.rows
/** Functions that make so many rows and columns. */
export const making = new Set(['SEQUENCE', 'MUNIT', 'RANDARRAY'])

const widths = new WeakMap<Workbook['sheets'][number], number>()
/** So many columns of a sheet hold something. */
function widthOf(sheet: Workbook['sheets'][number]): number {
  let width = widths.get(sheet)
  if (width === undefined)
    widths.set(sheet, (width = sheet.rows.reduce((most, row) => Math.max(most, row?.length ?? 0), 0)))
  return width
}
/** The cells of an area that the engine goes through; of whole rows and columns those that the sheet has. */
export function cellsIn({ sheet, top, left, bottom, right }: Area, workbook: Workbook): number {
  const there = workbook.sheets[sheet]
  const [height, width] = [bottom - top + 1, right - left + 1]
  if (there && height === largestSheet.rows) return there.rows.length * width
  return there && width === largestSheet.columns ? height * widthOf(there) : height * width
}
