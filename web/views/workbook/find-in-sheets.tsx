// Find and replace in a spreadsheet: on all of its sheets or on one, in what cells show or in their formulas.
import { useEffect, useRef, useState, useSyncExternalStore } from 'react'
import { toast } from 'sonner'
import { type CellSearch, type FoundCell, replacedCell } from '../../../core/content/find-cells'
import { cellAt } from '../../../core/content/workbook'
import type { CellChange, WorkbookOp } from '../../../core/content/workbook-ops'
import { t } from '../../words/all'
import { FindBar, FindChoice } from '../find-bar'
import type { ShownWorkbook } from './still'

export function FindInSheets({
  store,
  index,
  place,
  editable,
  onFound,
  onGoTo,
  onClose,
}: {
  store: ShownWorkbook
  /** The sheet that is shown, and where its cursor is. */
  index: number
  place: { row: number; column: number }
  editable: boolean
  /** All that is found, and which of it is gone to. */
  onFound: (found: readonly FoundCell[]) => void
  onGoTo: (found: FoundCell) => void
  onClose: () => void
}) {
  const revision = useSyncExternalStore(store.subscribe, store.snapshot)
  const [search, setSearch] = useState<CellSearch>({ text: '', sameCase: false, whole: false, formulas: false })
  const [here, setHere] = useState(false)
  const [replacement, setReplacement] = useState('')
  const [found, setFound] = useState<readonly FoundCell[]>([])
  const only = here ? index : null
  const asked = useRef(0)
  // biome-ignore lint/correctness/useExhaustiveDependencies: looked for anew when the workbook says that something changed
  useEffect(() => {
    const mine = ++asked.current
    void store.find(search, only).then((now) => {
      if (mine !== asked.current) return
      setFound(now)
      onFound(now)
    })
  }, [store, search, only, revision])
  useEffect(() => () => onFound([]), [onFound])

  const at = found.findIndex(([sheet, row, column]) => sheet === index && row === place.row && column === place.column)
  const go = async (way: 'next' | 'previous') => {
    // Keys may come before what was found is shown.
    const among = await store.find(search, only)
    if (!among.length) return
    const order = ([sheet, row, column]: FoundCell) => sheet - index || row - place.row || column - place.column
    const next =
      way === 'next'
        ? (among.find((one) => order(one) > 0) ?? among[0]!)
        : (among.findLast((one) => order(one) < 0) ?? among.at(-1)!)
    onGoTo(next)
  }
  /** What cells are with the other text; those that cannot be are left as they are. */
  const changesOf = (cells: readonly FoundCell[]): { ops: WorkbookOp[]; left: number } => {
    const bySheet = new Map<number, CellChange[]>()
    let left = 0
    for (const [sheet, row, column] of cells) {
      const cell = cellAt(store.workbook.sheets[sheet], row, column)
      const now = cell && replacedCell(cell, search, replacement)
      if (!now) {
        left++
        continue
      }
      const changes = bySheet.get(sheet)
      if (changes) changes.push({ row, column, cell: now })
      else bySheet.set(sheet, [{ row, column, cell: now }])
    }
    return { ops: [...bySheet].map(([sheet, changes]) => ({ op: 'cells' as const, sheet, cells: changes })), left }
  }
  const replace = () => {
    // The one that is gone to; where none is, the next one is gone to first.
    if (at < 0) return void go('next')
    const { ops } = changesOf([found[at]!])
    if (ops.length) store.change(ops)
    else toast(t('sheet.not-replaced', { n: 1 }))
    void go('next')
  }
  const replaceAll = () => {
    const { ops, left } = changesOf(found)
    const done = found.length - left
    if (ops.length) store.change(ops)
    if (done) toast(t('sheet.replaced', { n: done }))
    if (left) toast(t('sheet.not-replaced', { n: left }))
  }
  const status = !search.text
    ? ''
    : found.length === 0
      ? t('document.not-here')
      : at >= 0
        ? t('common.of', { at: at + 1, all: found.length })
        : t('document.n-found', { n: found.length })
  const choose = (part: Partial<CellSearch>) => setSearch({ ...search, ...part })
  return (
    <FindBar
      text={search.text}
      onText={(text) => choose({ text })}
      replacement={replacement}
      onReplacement={setReplacement}
      found={found.length}
      status={status}
      sameCase={search.sameCase}
      onSameCase={(sameCase) => choose({ sameCase })}
      editable={editable}
      onGo={(way) => void go(way)}
      onReplace={replace}
      onReplaceAll={replaceAll}
      onClose={onClose}
    >
      <FindChoice label={t('sheet.whole-cells')} checked={search.whole} onChange={(whole) => choose({ whole })} />
      <FindChoice
        label={t('sheet.in-formulas')}
        checked={search.formulas}
        onChange={(formulas) => choose({ formulas })}
      />
      {store.workbook.sheets.length > 1 && (
        <FindChoice label={t('sheet.only-this-sheet')} checked={here} onChange={setHere} />
      )}
    </FindBar>
  )
}
