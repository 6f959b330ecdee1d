// What cells may hold, in a sheet: where that is said, what is said of it at a cell, and the list that a cell has.
import { ChevronDown } from 'lucide-react'
import { type RefObject, useEffect, useState } from 'react'
import { toast } from 'sonner'
import { displayOf } from '../../../core/content/display'
import { ruleAt, ruleChoices, withChoice } from '../../../core/content/entry-rules'
import { cellAt, columnName } from '../../../core/content/workbook'
import type { WorkbookOp } from '../../../core/content/workbook-ops'
import { useOffer } from '../../design/commands'
import { t } from '../../words/all'
import type { CellSpot } from './at-cell'
import { ChooseEntry } from './choose-entry'
import type { GridPlace } from './grid'
import { RuleOfCells } from './rule-of-cells'
import { rulesView } from './rules'
import type { ShownWorkbook } from './still'

export function useRules({
  store,
  index,
  place,
  editable,
  offered,
  near,
  act,
  back,
  spotOf,
  onOpen,
}: {
  store: ShownWorkbook
  index: number
  place: GridPlace
  editable: boolean
  /** The workbook may be edited, and its file can hold rules. */
  offered: boolean
  /** Its file says each cell that has one: whole columns end some way behind what is used. */
  near: boolean
  /** @returns whether it was done */
  act: (ops: WorkbookOp[]) => boolean
  /** The keyboard goes back to the cells. */
  back: () => void
  spotOf: RefObject<((column: number, row: number) => CellSpot | undefined) | null>
  /** It takes the place of another panel. */
  onOpen: () => void
}) {
  const [saying, setSaying] = useState(false)
  const [choosing, setChoosing] = useState(false)
  const sheet = store.workbook.sheets[index]!
  const { row, column } = place
  const rule = ruleAt(sheet, row, column)
  // A list is of one cell.
  // biome-ignore lint/correctness/useExhaustiveDependencies: closed when the cell is another
  useEffect(() => setChoosing(false), [index, row, column])
  const toggle = () => {
    if (saying) {
      setSaying(false)
      return back()
    }
    onOpen()
    setSaying(true)
  }
  const choices = editable && choosing && rule ? ruleChoices(rule, place, rulesView(store, index)) : null
  const isListed = editable && rule?.condition.kind === 'one of'
  const choose = (): boolean => {
    if (!isListed) return false
    if (ruleChoices(rule, place, rulesView(store, index))) setChoosing(true)
    else toast(t('sheet.list-not-known'))
    return true
  }
  useOffer(
    [
      ...(offered ? [{ id: 'entry rule', label: t('sheet.what-may-be-entered'), run: toggle }] : []),
      ...(isListed ? [{ id: 'choose entry', label: t('sheet.choose-entry'), keys: 'Alt+ArrowDown', run: choose }] : []),
    ].map((one) => ({ ...one, group: t('common.in-a-spreadsheet') })),
  )
  const cell = cellAt(sheet, row, column)
  const hint = [rule?.hint?.title, rule?.hint?.text].filter(Boolean).join(': ')
  const shown = isListed && rule.condition.kind === 'one of' && rule.condition.shown
  return {
    choose,
    toggle,
    close: () => setSaying(false),
    /** What stands behind the entry of the cell that the cursor is in. */
    atCell: (hint || shown) && (
      <>
        {hint && (
          <span
            className="min-w-0 max-w-[45%] shrink truncate border-l px-3 font-sans text-[13px] leading-9 text-soft max-sm:sr-only"
            title={hint}
            aria-live="polite"
          >
            {hint}
          </span>
        )}
        {shown && (
          <button
            type="button"
            className="flex h-full shrink-0 items-center gap-1 border-l px-3 font-sans text-[13px] font-medium text-accent hover:bg-wash"
            title="Alt+↓"
            onClick={choose}
          >
            {t('sheet.choose-entry')}
            <ChevronDown size={15} aria-hidden />
          </button>
        )}
      </>
    ),
    panel:
      offered && saying ? (
        <RuleOfCells
          store={store}
          index={index}
          place={place}
          near={near}
          onSet={(rules) => act([{ op: 'rules', sheet: index, rules }])}
          onGoTo={(toRow, toColumn) => store.reveal?.(index, toRow, toColumn)}
          onClose={toggle}
        />
      ) : null,
    list: choices && (
      <ChooseEntry
        address={`${columnName(column)}${row + 1}`}
        choices={choices}
        now={displayOf(cell, cell?.formula === undefined ? undefined : store.result(index, row, column))}
        at={spotOf.current?.(column, row) ?? { x: 96, y: 120, width: 96, height: 26 }}
        onChoose={(choice) => {
          setChoosing(false)
          act([{ op: 'cells', sheet: index, cells: [{ row, column, cell: withChoice(cell, choice) }] }])
          back()
        }}
        onClose={() => {
          setChoosing(false)
          back()
        }}
      />
    ),
  }
}
