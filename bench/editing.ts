// What people do to a large sheet in one step: filtered and sorted, each beside one plain pass over the same cells; and
// the share of what hands reach for that holds in everything asked of it.
import {
  type ColumnFilter,
  choicesIn,
  rowsHidden,
  type SheetFilter,
  viewOf,
  withColumn,
} from '../core/content/sheet-filter'
import { type Cell, type CellValue, cellAt, type Sheet } from '../core/content/workbook'
import { applyOps } from '../core/content/workbook-ops'
import { documentFeatures } from '../web/testing/features/documents'
import { heldDocuments } from '../web/testing/features/held-documents'
import { heldSheets } from '../web/testing/features/held-sheets'
import { sheetFeatures } from '../web/testing/features/sheets'
import { sortOp } from '../web/views/workbook/acts'
import { filterOps } from '../web/views/workbook/filter-acts'
import { inTurn, report } from './report'

const rowCount = 200_000
const date = { format: 'yyyy-mm-dd' }
const level = { format: '0.00' }
const headings = ['Lock', 'Level', 'Date', 'Read by', 'Above', 'Note'].map((value): Cell => ({ value }))
const people = ['Ida', 'Ben', 'Priya', 'Tom']
const rows: Cell[][] = Array.from({ length: rowCount }, (_, at) => [
  { value: `LK${String((at * 7) % 60).padStart(2, '0')}` },
  { value: ((at * 7919) % 5000) / 1000, style: level },
  { value: 44_000 + ((at * 31) % 2500), style: date },
  { value: people[at % 4]! },
  { formula: `B${at + 2}*2`, style: level },
  { value: `Reading ${(at * 7907) % rowCount}` },
])
const sheet: Sheet = { name: 'Levels', rows: [headings, ...rows], widths: {} }
const valueAt = (row: number, column: number): CellValue | undefined => {
  const cell = cellAt(sheet, row, column)
  return cell?.formula === undefined ? cell?.value : (((row - 1) * 7919) % 5000) / 500
}
const area = { top: 0, left: 0, bottom: rowCount, right: 5 }
const plain: SheetFilter = { area, columns: {} }

/** One pass that only takes every cell once. */
function pass(): number {
  let letters = 0
  for (const row of sheet.rows) for (const cell of row ?? []) letters += String(cell?.value ?? '').length
  return letters
}

const conditions: readonly [string, number, ColumnFilter][] = [
  ['text', 0, { by: 'one of', texts: ['LK07', 'LK12'], empty: false }],
  ['date', 2, { by: 'tested', tests: [{ test: 'at least', with: 45_000 }], all: true }],
  ['distinct', 5, { by: 'tested', tests: [{ test: 'contains', with: '77' }], all: true }],
]
for (const [name, column, one] of conditions) {
  const list = await inTurn(
    5,
    () =>
      choicesIn(
        plain,
        column,
        viewOf(sheet, (row) => valueAt(row, 4)),
        new Set(),
      ),
    pass,
  )
  report({
    suite: 'editing',
    case: `choices-200k-${name}`,
    value: list.ours,
    unit: 'ms',
    baseline: list.baseline,
    better: 'lower',
  })
  const filter = withColumn(plain, column, one)
  const step = await inTurn(
    5,
    () => {
      const hidden = rowsHidden(
        filter,
        viewOf(sheet, (row) => valueAt(row, 4)),
        new Set(),
      )
      return applyOps({ sheets: [sheet] }, filterOps(sheet, 0, filter, hidden))
    },
    pass,
  )
  report({
    suite: 'editing',
    case: `filter-200k-${name}`,
    value: step.ours,
    unit: 'ms',
    baseline: step.baseline,
    better: 'lower',
  })
}
for (const [name, by] of [
  ['number', [{ column: 1, down: false }]],
  [
    'two-columns',
    [
      { column: 0, down: true },
      { column: 2, down: false },
    ],
  ],
] as const) {
  const block = { x: 0, y: 1, width: 6, height: rowCount }
  const step = await inTurn(3, () => applyOps({ sheets: [sheet] }, [sortOp(sheet, 0, block, by, valueAt)]), pass)
  report({
    suite: 'editing',
    case: `sort-200k-${name}`,
    value: step.ours,
    unit: 'ms',
    baseline: step.baseline,
    better: 'lower',
  })
}

// -- The table of features: of each, in every type that has a place for it, all that is asked of it ------------------
const held = [
  ...(['docx', 'odt'] as const).flatMap((type) => heldDocuments(documentFeatures, type)),
  ...(['xlsx', 'ods'] as const).flatMap((type) => heldSheets(sheetFeatures, type)),
]
const features = [...documentFeatures, ...sheetFeatures]
const whole = features.filter(
  ({ name, by }) => by && held.every((one) => one.name !== name || !Object.keys(one.faults).length),
)
report({
  suite: 'editing',
  case: 'features-whole',
  value: whole.length / features.length,
  unit: 'share',
  baseline: null,
  better: 'higher',
})
