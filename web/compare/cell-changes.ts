import { entryOf } from '../../core/content/entry'
import { columnName } from '../../core/content/workbook'
import { t } from '../words/all'
import type { Comparison } from '../workers/looking-back'
import type { ListedChange } from './kinds'

type Sheets = Extract<Comparison, { kind: 'spreadsheet' }>
export interface CellPlace {
  sheet: string
  older: { row: number; column: number } | null
  newer: { row: number; column: number } | null
}

/** Where each listed change is, in the order of `cellChanges`. */
export function cellPlaces({ changes }: Sheets): (CellPlace & Omit<ListedChange, 'id'>)[] {
  const several = changes.sheets.length > 1
  const places: (CellPlace & Omit<ListedChange, 'id'>)[] = []
  for (const sheet of changes.sheets) {
    const where = (said: string) => (several ? `${sheet.name}, ${said}` : said)
    const line = (
      said: string,
      what: string,
      older: CellPlace['older'],
      newer: CellPlace['newer'],
      text: { before?: string; now?: string } = {},
    ) => places.push({ sheet: sheet.name, where: where(said), what, older, newer, before: '', now: '', ...text })
    if (sheet.state !== 'changed') {
      line(
        t('compare.the-whole-sheet'),
        t(sheet.state === 'added' ? 'compare.sheet-added' : 'compare.sheet-removed'),
        null,
        null,
        { now: sheet.name },
      )
      continue
    }
    const { rowsCame, rowsGone, columnsCame, columnsGone } = sheet.lines
    for (const row of rowsGone)
      line(t('compare.row', { n: row + 1 }), t('compare.row-removed'), { row, column: 0 }, null)
    for (const row of rowsCame) line(t('compare.row', { n: row + 1 }), t('compare.row-added'), null, { row, column: 0 })
    for (const column of columnsGone)
      line(t('compare.column', { name: columnName(column) }), t('compare.column-removed'), { row: 0, column }, null)
    for (const column of columnsCame)
      line(t('compare.column', { name: columnName(column) }), t('compare.column-added'), null, { row: 0, column })
    for (const one of changes.listed) {
      if (one.sheet !== sheet.name) continue
      const formula = one.before?.formula !== undefined || one.now?.formula !== undefined
      line(
        `${columnName(one.column)}${one.row + 1}`,
        formula ? t('compare.formula') : '',
        one.was,
        { row: one.row, column: one.column },
        { before: one.before ? entryOf(one.before) : '', now: one.now ? entryOf(one.now) : '' },
      )
    }
  }
  return places
}
export const cellChanges = (found: Sheets): ListedChange[] =>
  cellPlaces(found).map(({ where, what, before, now }, index) => ({ id: String(index), where, what, before, now }))
