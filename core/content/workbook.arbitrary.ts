// Workbooks and operations that the editor can make, for property tests.
import fc from 'fast-check'
import { type EntryRule, type RuleCondition, ruleOutcomes, withRule } from './entry-rules'
import { overlap } from './looks'
import type { ColumnFilter, SheetFilter } from './sheet-filter'
import type { SheetSetUp } from './sheet-set-up'
import { type Cell, type CellStyle, type MergedArea, sheetNameFault, type Workbook } from './workbook'
import { applyOp, type CellChange, type WorkbookOp } from './workbook-ops'

const color = fc.constantFrom('#aa3311', '#fffbe6', '#0f6a5f')
const border = fc.constantFrom('1 solid', '2 dashed #aa3311', '3 solid #0f6a5f', '3 double', '1 dotted')
const style: fc.Arbitrary<CellStyle> = fc.record(
  {
    bold: fc.constant(true as const),
    italic: fc.constant(true as const),
    underline: fc.constant(true as const),
    strike: fc.constant(true as const),
    fill: color,
    color,
    align: fc.constantFrom('left' as const, 'center' as const, 'right' as const),
    wrap: fc.constant(true as const),
    format: fc.constantFrom('0.00', 'yyyy-mm-dd', '#,##0', '0%', '"a&b" 0', '@'),
    font: fc.constantFrom('Georgia', 'Grüße', 'A & B'),
    size: fc.constantFrom(8, 10.5, 24),
    vertical: fc.constantFrom('top' as const, 'middle' as const),
    top: border,
    right: border,
    bottom: border,
    left: border,
  },
  { requiredKeys: [] },
)
const text = fc.oneof(
  fc.constantFrom('Lock', ' LK07 ', 'a\nb', '_x0041_', '<&>', 'שלום', '\u0001', '\r\n', '=A1', '\ud800'),
  fc.string({ unit: 'binary', maxLength: 10 }),
)
const value = fc.oneof(
  text,
  fc.double({ noNaN: true, noDefaultInfinity: true }).map((n) => (Object.is(n, -0) ? 0 : n)),
  fc.integer(),
  fc.boolean(),
  fc.constantFrom({ error: '#N/A' }, { error: '#DIV/0!' }),
)
/** Formulas over a corner of the sheets, so that moves hit them. */
export const anyFormula = fc.oneof(
  fc.constantFrom(
    'SUM(A1:B3)',
    'A1+$B$2',
    "'Sheet 2'!A1*2",
    'Other!B2',
    'IF(A1>1,"A1",B1)',
    'SUM(A:B)',
    'SUM(2:3)',
    'LOG10(A1)',
    'A1&"""A1"""',
    'B2:B2',
  ),
  fc
    .tuple(fc.nat(5), fc.nat(5), fc.boolean(), fc.boolean())
    .map(([row, column, a, b]) => `${a ? '$' : ''}${'ABCDEF'[column]}${b ? '$' : ''}${row + 1}+1`),
)
const cell: fc.Arbitrary<Cell | null> = fc.oneof(
  fc.tuple(value, fc.option(style)).map(([one, look]) => ({ value: one, ...(look && { style: look }) })),
  fc.tuple(anyFormula, fc.option(style)).map(([formula, look]) => ({ formula, ...(look && { style: look }) })),
  style.map((look) => ({ style: look })),
  fc.constant(null),
)
const change: fc.Arbitrary<CellChange> = fc.record({ row: fc.nat(7), column: fc.nat(6), cell })
/** Corners of a few areas, so that they meet. */
const area = fc
  .tuple(fc.nat(6), fc.nat(5), fc.nat(2), fc.integer({ min: 1, max: 2 }))
  .map(([top, left, down, right]) => ({
    top,
    left,
    bottom: top + down,
    right: left + right,
  }))
const spans = fc
  .array(fc.tuple(fc.nat(8), fc.nat(3)), { maxLength: 2 })
  .map((all) => all.map(([from, more]): [number, number] => [from, from + more]))
const columnFilter: fc.Arbitrary<ColumnFilter> = fc.oneof(
  fc
    .record({
      by: fc.constant('one of' as const),
      texts: fc.uniqueArray(fc.constantFrom('Lock', '7', 'a & b', 'Größe', '12.00'), { maxLength: 3 }),
      empty: fc.boolean(),
    })
    .map((one) => (one.texts.length ? one : { ...one, empty: true })),
  fc
    .record({
      by: fc.constant('tested' as const),
      tests: fc.array(
        fc.oneof(
          fc.record({
            test: fc.constantFrom('is' as const, 'is not' as const, 'contains' as const, 'lacks' as const),
            with: fc.constantFrom('Lock', 'a*b?', '~'),
          }),
          fc.record({ test: fc.constantFrom('is' as const, 'is not' as const), with: fc.constant('') }),
          fc.record({ test: fc.constantFrom('begins' as const, 'ends' as const), with: fc.constantFrom('Lo', '*') }),
          fc.record({
            test: fc.constantFrom('above' as const, 'at least' as const, 'below' as const, 'at most' as const),
            with: fc.constantFrom(0, -2.5, 46000, 'm'),
          }),
          fc.record({ test: fc.constantFrom('is' as const, 'is not' as const), with: fc.constantFrom(7, 0.1) }),
        ),
        { minLength: 1, maxLength: 2 },
      ),
      all: fc.boolean(),
    })
    .map((one) => (one.tests.length > 1 ? one : { ...one, all: true })),
)
/** A filter over a corner of a sheet. */
export const anyFilter: fc.Arbitrary<SheetFilter> = fc
  .tuple(area, fc.array(fc.tuple(fc.nat(3), columnFilter), { maxLength: 2 }))
  .map(([one, columns]) => ({
    area: one,
    columns: Object.fromEntries(columns.map(([at, filter]) => [Math.min(one.right, one.left + at), filter])),
  }))
const limit = fc.constantFrom('0', '2.5', '-7', '46000', 'A1', '$B$2', 'Other!C3', 'LEN(A1)+1')
const condition: fc.Arbitrary<RuleCondition> = fc.oneof(
  fc.record({
    kind: fc.constant('one of' as const),
    choices: fc.oneof(
      fc.uniqueArray(fc.constantFrom('Lock', '7', 'a & b', 'Größe', '"so"'), { minLength: 1, maxLength: 3 }),
      fc.record({ from: fc.constantFrom('$A$1:$A$4', 'B2:C3', "'It''s'!A1:A3", 'Kinds') }),
    ),
    shown: fc.boolean(),
  }),
  fc.record({
    kind: fc.constantFrom(
      'whole number' as const,
      'number' as const,
      'date' as const,
      'time' as const,
      'length' as const,
    ),
    test: fc.constantFrom('is' as const, 'is not' as const, 'above' as const, 'at most' as const),
    limits: limit.map((one): readonly [string] => [one]),
  }),
  fc.record({
    kind: fc.constantFrom('whole number' as const, 'date' as const),
    test: fc.constantFrom('between' as const, 'not between' as const),
    limits: fc.tuple(limit, limit),
  }),
  fc.constant({ kind: 'anything' as const }),
  fc.constantFrom('A1>0', 'COUNTIF($A$1:$A$9,A1)=1').map((formula) => ({ kind: 'formula' as const, formula })),
)
const ruleWords = fc.option(
  fc.constantFrom({ title: 'Which?' }, { text: 'One & only.\nNo other.' }, { title: 'A', text: 'b' }),
  { nil: undefined },
)
/** A rule for whatever areas. */
export const anyRule: fc.Arbitrary<Omit<EntryRule, 'areas'>> = fc
  .record({
    condition,
    empty: fc.boolean(),
    otherwise: fc.constantFrom(...ruleOutcomes),
    hint: ruleWords,
    fault: ruleWords,
  })
  .map(({ hint, fault, ...rule }) => ({ ...rule, ...(hint && { hint }), ...(fault && { fault }) }))
/** Rules of a sheet, of which no cell has two. */
export const anyRules: fc.Arbitrary<EntryRule[]> = fc
  .array(fc.tuple(fc.array(area, { minLength: 1, maxLength: 2 }), fc.option(anyRule)), { maxLength: 3 })
  .map((all) => all.reduce((rules: EntryRule[], [areas, rule]) => withRule(rules, parted(areas), rule), []))
/** Areas without the cells that one before them has. */
const parted = ([first, second]: readonly MergedArea[]): MergedArea[] =>
  second && !overlap(first!, second) ? [first!, second] : [first!]
const names = ['Sheet 1', 'Sheet 2', 'Other', "It's", 'A1', 'Größe']

/** An operation that fits a workbook. */
export function opFor(workbook: Workbook): fc.Arbitrary<WorkbookOp> {
  const count = workbook.sheets.length
  const sheet = fc.nat(count - 1)
  const axis = fc.constantFrom('rows' as const, 'columns' as const)
  const free = names.filter(
    (name) =>
      !sheetNameFault(
        name,
        workbook.sheets.map((one) => one.name),
      ),
  )
  const shift = fc.record({ sheet, axis, at: fc.nat(7), count: fc.integer({ min: 1, max: 3 }) })
  const options: fc.Arbitrary<WorkbookOp>[] = [
    fc.record({ op: fc.constant('cells' as const), sheet, cells: fc.array(change, { minLength: 1, maxLength: 6 }) }),
    shift.map((one) => ({ op: 'insert' as const, ...one })),
    shift.map((one) => ({ op: 'remove' as const, ...one })),
    fc
      .tuple(sheet, fc.nat(6), fc.option(fc.integer({ min: 20, max: 600 })))
      .map(([one, column, width]) => ({ op: 'width' as const, sheet: one, column, width })),
    fc.record({
      op: fc.constantFrom('merge' as const, 'unmerge' as const),
      sheet,
      areas: fc.array(area, { maxLength: 2 }),
    }),
    fc
      .tuple(sheet, spans, fc.option(fc.constantFrom(8, 22.5, 60)))
      .map(([one, rows, height]) => ({ op: 'height' as const, sheet: one, spans: rows, height })),
    fc
      .tuple(sheet, axis, spans, fc.boolean())
      .map(([one, on, lines, hidden]) => ({ op: 'hide' as const, sheet: one, axis: on, spans: lines, hidden })),
    fc.record({ op: fc.constant('move sheet' as const), sheet, to: sheet }),
    fc
      .tuple(sheet, fc.option(anyFilter))
      .map(([one, filter]) => ({ op: 'filter' as const, sheet: one, filter: filter as SheetFilter | null })),
    fc.record({ op: fc.constant('rules' as const), sheet, rules: anyRules }),
    fc
      .tuple(sheet, fc.option(anySetUp))
      .map(([one, setUp]) => ({ op: 'set up' as const, sheet: one, setUp: setUp as SheetSetUp | null, was: null })),
  ]
  if (count > 1) options.push(sheet.map((one) => ({ op: 'remove sheet' as const, sheet: one })))
  if (free.length) {
    const name = fc.constantFrom(...free)
    options.push(
      fc.record({ op: fc.constant('add sheet' as const), at: fc.nat(count), name }),
      fc.record({ op: fc.constant('rename sheet' as const), sheet, name }),
    )
  }
  return fc.oneof({ weight: 3, arbitrary: options[0]! }, ...options.slice(1))
}

/** How a sheet is put on paper. */
export const anySetUp: fc.Arbitrary<SheetSetUp> = fc
  .record({
    size: fc.option(fc.constantFrom<[number, number]>([419.53, 595.28], [595.28, 841.89], [612, 792], [300, 500])),
    landscape: fc.boolean(),
    margins: fc.option(
      fc.record({
        top: fc.nat(200),
        right: fc.nat(200),
        bottom: fc.nat(200),
        left: fc.nat(200),
        head: fc.nat(50),
        foot: fc.nat(50),
      }),
    ),
    scale: fc.constantFrom(100, 40, 250),
    fit: fc.constant(null),
    gridLines: fc.boolean(),
    headings: fc.boolean(),
    across: fc.boolean(),
  })
  .chain((one) =>
    fc.option(fc.record({ wide: fc.nat(3), tall: fc.nat(3) })).map((fit) => (fit ? { ...one, fit, scale: null } : one)),
  )

/** Operations one after the other, each fitting what the ones before made, and where they lead. */
export const anyHistory = (longest: number): fc.Arbitrary<{ start: Workbook; ops: WorkbookOp[]; end: Workbook }> =>
  fc.tuple(fc.array(change, { maxLength: 12 }), fc.infiniteStream(fc.nat())).chain(([cells, seeds]) => {
    let workbook: Workbook = {
      sheets: [
        { name: 'Sheet 1', rows: [], widths: {} },
        { name: 'Sheet 2', rows: [], widths: {} },
      ],
    }
    workbook = applyOp(workbook, { op: 'cells', sheet: 0, cells })
    const start = workbook
    return fc.nat(longest).map((length) => {
      const ops: WorkbookOp[] = []
      let at = start
      for (let i = 0; i < length; i++) {
        const [op] = fc.sample(opFor(at), { numRuns: 1, seed: seeds.next().value as number })
        ops.push(op!)
        at = applyOp(at, op!)
      }
      return { start, ops, end: at }
    })
  })
