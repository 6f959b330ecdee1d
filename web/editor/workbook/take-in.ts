import { entryOf } from '../../../core/content/entry'
import { columnName } from '../../../core/content/workbook'
import type { WorkbookStore } from '../../views/workbook/store'
import { t } from '../../words/all'
import type { Apply, TakenIn, TakenPart, Work } from '../../work/content'

/** Merges another version into the workbook. @param onShow brings a cell to sight */
export async function takeInWorkbook(
  store: WorkbookStore,
  base: Work | null,
  theirs: Work,
  part: TakenPart | null,
  adopted: boolean,
  onShow: (sheet: number, row: number, column: number) => void,
  apply?: Apply,
): Promise<TakenIn> {
  const merged = await store.takeIn(base, theirs, part?.sheets ?? null, adopted, apply)
  if (!('ops' in merged)) return merged
  if (adopted && theirs.bytes) await store.standOn(theirs.bytes)
  return {
    summary: merged.summary,
    choices: merged.conflicts.map((conflict, index) => {
      const { sheet, row, column } = conflict
      const sheetIndex = () => store.workbook.sheets.findIndex(({ name }) => name === sheet)
      return {
        id: `${sheet} ${row} ${column} ${index}`,
        where: `${columnName(column)}${row + 1}${store.workbook.sheets.length > 1 ? t('sheet.in', { sheet }) : ''}`,
        mine: conflict.mine ? entryOf(conflict.mine) : '',
        theirs: conflict.theirs ? entryOf(conflict.theirs) : '',
        mayKeepBoth: false,
        show: () => onShow(sheetIndex(), row, column),
        choose(which) {
          const at = sheetIndex()
          if (which === 'theirs' && at >= 0)
            store.change([{ op: 'cells', sheet: at, cells: [{ row, column, cell: conflict.theirs }] }])
        },
      }
    }),
  }
}
