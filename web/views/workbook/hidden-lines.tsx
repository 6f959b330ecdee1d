// Rows and columns that the file hides: how many there are, and a look at them.
import type { SheetLooks } from '../../../core/content/looks'
import { t } from '../../words/all'

export function HiddenLines({
  looks: { hiddenRows, hiddenColumns },
  shown,
  onShow,
}: {
  looks: SheetLooks
  shown: boolean
  onShow: (shown: boolean) => void
}) {
  if (!hiddenRows.size && !hiddenColumns.size) return null
  return (
    <span className="ml-auto flex shrink-0 items-center gap-2 pl-4 text-[13px] whitespace-nowrap text-soft">
      {t('sheet.hidden-in-the-file', { rows: hiddenRows.size, columns: hiddenColumns.size })}
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
