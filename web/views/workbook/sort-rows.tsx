// Rows in order by several of their columns.
import { ArrowDownAZ, ArrowUpZA, X } from 'lucide-react'
import { useState } from 'react'
import { type CellValue, columnName } from '../../../core/content/workbook'
import { Choice } from '../../design/choice'
import { Button } from '../../design/controls'
import { IconButton } from '../../design/icon-button'
import { Question } from '../../design/overlay'
import { t } from '../../words/all'
import type { Block, SortKey } from './acts'

const mostKeys = 5

export function SortRows({
  block,
  column,
  valueAt,
  onSort,
  onClose,
}: {
  /** What may be sorted, with its headings where it has some. */
  block: Block
  /** Where the cursor is. */
  column: number
  valueAt: (row: number, column: number) => CellValue | undefined
  /** @param rows without the headings */
  onSort: (rows: Block, keys: readonly SortKey[]) => void
  onClose: () => void
}) {
  const columns = Array.from({ length: block.width }, (_, at) => block.x + at)
  const first = columns.includes(column) ? column : block.x
  // A first row of nothing but texts, over rows that are more than that, names its columns.
  const isText = (row: number) => columns.every((one) => ['string', 'undefined'].includes(typeof valueAt(row, one)))
  const [headed, setHeaded] = useState(
    () =>
      isText(block.y) &&
      Array.from({ length: Math.min(50, block.height - 1) }).some((_, at) => !isText(block.y + 1 + at)),
  )
  const [keys, setKeys] = useState<readonly SortKey[]>([{ column: first, down: false }])
  const nameOf = (one: number) => {
    const heading = headed ? valueAt(block.y, one) : undefined
    return typeof heading === 'string' && heading.trim()
      ? t('sheet.column-named', { column: columnName(one), heading: heading.slice(0, 40) })
      : t('sheet.column', { column: columnName(one) })
  }
  const set = (at: number, part: Partial<SortKey>) =>
    setKeys(keys.map((key, n) => (n === at ? { ...key, ...part } : key)))
  const free = columns.find((one) => !keys.some((key) => key.column === one))
  const rows = headed ? { ...block, y: block.y + 1, height: block.height - 1 } : block
  return (
    <Question
      title={t('sheet.sort-rows', { from: rows.y + 1, to: rows.y + rows.height })}
      onClose={onClose}
      answers={
        <>
          <Button look="main" onClick={() => onSort(rows, keys)}>
            {t('sheet.sort')}
          </Button>
          <Button look="quiet" onClick={onClose}>
            {t('common.cancel')}
          </Button>
        </>
      }
    >
      <div className="flex flex-col gap-3 pt-2">
        {keys.map((key, at) => (
          <div key={key.column} className="flex items-end gap-2">
            <div className="flex-1 [&>label]:w-full">
              <Choice
                label={at === 0 ? t('sheet.sort-by') : t('sheet.then-by')}
                value={String(key.column)}
                choices={columns
                  .filter((one) => one === key.column || !keys.some((other) => other.column === one))
                  .map((one) => [String(one), nameOf(one)] as const)}
                onChange={(one) => set(at, { column: Number(one) })}
              />
            </div>
            <IconButton
              label={key.down ? t('sheet.largest-first') : t('sheet.smallest-first')}
              pressed={key.down}
              onClick={() => set(at, { down: !key.down })}
            >
              {key.down ? <ArrowUpZA /> : <ArrowDownAZ />}
            </IconButton>
            {keys.length > 1 && (
              <IconButton
                label={t('sheet.not-by-this-column', { column: columnName(key.column) })}
                onClick={() => setKeys(keys.filter((_, n) => n !== at))}
              >
                <X />
              </IconButton>
            )}
          </div>
        ))}
        {free !== undefined && keys.length < mostKeys && (
          <div>
            <Button look="quiet" onClick={() => setKeys([...keys, { column: free, down: false }])}>
              {t('sheet.another-column')}
            </Button>
          </div>
        )}
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            className="accent-accent"
            checked={headed}
            onChange={(event) => setHeaded(event.target.checked)}
          />
          {t('sheet.first-row-names-columns')}
        </label>
      </div>
    </Question>
  )
}
