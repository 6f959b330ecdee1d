// Rows and columns that are hidden: how many there are, and a look at them.
import { rowsFilteredOut } from '../../../core/content/sheet-filter'
import type { Sheet } from '../../../core/content/workbook'
import { t } from '../../words/all'

export function HiddenLines({
  sheet,
  shown,
  onShow,
}: {
  sheet: Sheet
  shown: boolean
  onShow: (shown: boolean) => void
}) {
  // Those that a filter hides are told of with it.
  const hiddenRows = (sheet.hiddenRows?.length ?? 0) - rowsFilteredOut(sheet).length
  const { hiddenColumns = [] } = sheet
  if (!hiddenRows && !hiddenColumns.length) return null
  return (
    <span className="ml-auto flex shrink-0 items-center gap-2 pl-4 text-[13px] whitespace-nowrap text-soft">
      {t('sheet.hidden-in-the-file', { rows: hiddenRows, columns: hiddenColumns.length })}
      <button
        type="button"
        aria-pressed={shown}
        className="min-h-6 rounded px-2 font-medium text-accent hover:underline"
        onClick={() => onShow(!shown)}
      >
        {shown ? t('sheet.hide-them') : t('sheet.show-them')}
      </button>
    </span>
  )
}
