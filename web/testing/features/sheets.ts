// What hands reach for in a spreadsheet: for each the change that its tool makes, the walk that makes it by keys alone, what
// a program that knows nothing of this one reads in the file, and how compare tells it (held-sheets.ts).
import type { EntryRule } from '../../../core/content/entry-rules'
import { setUpOf } from '../../../core/content/sheet-set-up'
import type { Cell, Sheet, Workbook } from '../../../core/content/workbook'
import type { WorkbookOp } from '../../../core/content/workbook-ops'
import { type Block, clearOp, fillKeyOp, sortOp, styleOp, sumsOp } from '../../views/workbook/acts'
import { hideOps, linesOp, mergeOps, noLook } from '../../views/workbook/cell-looks'
import type { ByKeys } from './documents'

export interface SheetFeature {
  name: string
  /** How it is made by keys alone, from the cell B2; null where nothing shows that yet. */
  by: ByKeys | null
  /** Its element in ECMA-376 part 1, and in ISO/IEC 26300-1 or why it has none there. */
  element: string
  /** What the first sheet is before, where it is not the usual one. */
  before?: (usual: Sheet) => Sheet
  change: (workbook: Workbook) => WorkbookOp[]
  /** What openpyxl has of it: an expression about the workbook `d` and its first sheet `s`. */
  xlsx: readonly [expression: string, value: unknown]
  /** The same of odfpy, about the table `s`. */
  ods?: readonly [expression: string, value: unknown]
  said: string
}

/** Locks and their levels; what somebody else changes is in the last row. */
export const usual: Sheet = {
  name: 'Levels',
  widths: {},
  rows: [
    [{ value: 'Lock' }, { value: 'Level' }, { value: 'Kind' }],
    [{ value: 'LK02' }, { value: 1.5 }, { value: 'Gate' }],
    [{ value: 'LK01' }, { value: 1.25 }, { value: 'Weir' }],
    [{ value: 'LK03' }, { value: 2 }, { value: 'Gate' }],
    [{ value: 'LK09' }, { value: 3 }, { value: 'Weir' }],
  ],
}
const at = (x: number, y: number, width = 1, height = 1): Block => ({ x, y, width, height })
const set = (row: number, column: number, cell: Cell | null): WorkbookOp => ({
  op: 'cells',
  sheet: 0,
  cells: [{ row, column, cell }],
})
const first = ({ sheets }: Workbook): Sheet => sheets[0]!
const level = at(1, 1)

const entry = (
  name: string,
  cell: Cell,
  xlsx: SheetFeature['xlsx'],
  ods: SheetFeature['ods'],
  typed: string,
  said = '1 cell changed in ‹Levels›.',
): SheetFeature => ({
  name,
  by: { keys: [{ type: typed }, 'Enter'] },
  element: 'c §18.3.1.4; table:table-cell §9.1.4',
  change: () => [set(1, 1, cell)],
  xlsx,
  ...(ods && { ods }),
  said,
})
const entries: SheetFeature[] = [
  entry('a text', { value: 'dry' }, ["s['B2'].value", 'dry'], ['words(1, 1)', 'dry'], 'dry'),
  entry('a number', { value: 1.75 }, ["s['B2'].value", 1.75], ['value(1, 1)', '1.75'], '1.75'),
  entry(
    'a formula',
    { formula: 'B3*2' },
    ["s['B2'].value", '=B3*2'],
    ["cell(1, 1).getAttribute('formula')", 'of:=[.B3]*2'],
    '=B3*2',
    '1 cell changed in ‹Levels›, a formula.',
  ),
  entry(
    'a percentage',
    { value: 0.15, style: { format: '0%' } },
    ["[s['B2'].value, s['B2'].number_format]", [0.15, '0%']],
    ["cell(1, 1).getAttribute('value')", '0.15'],
    '15%',
  ),
  {
    ...entry(
      'money',
      { value: 12.5, style: { format: '[$€]#,##0.00' } },
      ["[s['B2'].value, s['B2'].number_format]", [12.5, '[$€]#,##0.00']],
      ["[cell(1, 1).getAttribute('valuetype'), cell(1, 1).getAttribute('value')]", ['currency', '12.5']],
      '€12.50',
    ),
    by: { walk: 'formulas.spec.ts: money and days' },
  },
  entry(
    'a day',
    { value: 46314, style: { format: 'dd/mm/yyyy' } },
    ["[str(s['B2'].value), s['B2'].number_format]", ['2026-10-19 00:00:00', 'dd/mm/yyyy']],
    ["cell(1, 1).getAttribute('datevalue')", '2026-10-19'],
    '19/10/2026',
  ),
  {
    ...entry(
      'a line that ends within a cell',
      { value: 'upper\nlower', style: { wrap: true } },
      ["[s['B2'].value, s['B2'].alignment.wrap_text]", ['upper\nlower', true]],
      ['[str(p) for p in cell(1, 1).getElementsByType(text.P)]', ['upper', 'lower']],
      '',
    ),
    by: { keys: [{ type: 'upper' }, 'Alt+Enter', { type: 'lower' }, 'Enter'] },
  },
  {
    name: 'cells cleared',
    by: { keys: ['Delete'] },
    element: 'c §18.3.1.4; table:table-cell §9.1.4',
    change: (book) => [clearOp(first(book), 0, level)],
    xlsx: ["s['B2'].value", null],
    ods: ['words(1, 1)', ''],
    said: '1 cell changed in ‹Levels›.',
  },
  {
    name: 'a sum in one step',
    by: { walk: 'formulas.spec.ts: by keys alone a formula' },
    element: 'f §18.3.1.40; table:formula §19.642',
    change: (book) => [sumsOp(first(book), 0, at(1, 1, 1, 5), (row) => row > 0 && row < 5)],
    xlsx: ["s['B6'].value", '=SUM(B2:B5)'],
    ods: ["cell(5, 1).getAttribute('formula')", 'of:=SUM([.B2:.B5])'],
    said: '1 row added in ‹Levels›.',
  },
  {
    name: 'filled down',
    by: { keys: ['Shift+ArrowDown', 'Shift+ArrowDown', 'Control+d'] },
    element: 'c §18.3.1.4; table:table-cell §9.1.4',
    change: (book) => [fillKeyOp(first(book), 0, at(1, 1, 1, 3), 'down') as WorkbookOp].flat(),
    xlsx: ["[s['B3'].value, s['B4'].value]", [1.5, 1.5]],
    ods: ['[value(2, 1), value(3, 1)]', ['1.5', '1.5']],
    said: '2 cells changed in ‹Levels›.',
  },
]

const looks = (
  name: string,
  part: Parameters<typeof styleOp>[3],
  element: string,
  xlsx: SheetFeature['xlsx'],
  ods: SheetFeature['ods'],
  by: ByKeys,
): SheetFeature => ({
  name,
  by,
  element,
  change: (book) => [styleOp(first(book), 0, level, part)],
  xlsx,
  ...(ods && { ods }),
  said: 'Only the look of 1 cell in ‹Levels›.',
})
const cellLooks: SheetFeature[] = [
  looks(
    'bold cells',
    { bold: true },
    'b §18.8.2; fo:font-weight §20.194',
    ["s['B2'].font.b", true],
    ["look(1, 1)['fontweight']", 'bold'],
    { keys: ['Control+b'] },
  ),
  looks(
    'italic cells',
    { italic: true },
    'i §18.8.26; fo:font-style §20.191',
    ["s['B2'].font.i", true],
    ["look(1, 1)['fontstyle']", 'italic'],
    { keys: ['Control+i'] },
  ),
  looks(
    'underlined cells',
    { underline: true },
    'u §18.4.13; style:text-underline-style §20.380',
    ["s['B2'].font.u", 'single'],
    ["look(1, 1)['textunderlinestyle']", 'solid'],
    { keys: [{ button: 'Underline' }] },
  ),
  looks(
    'struck cells',
    { strike: true },
    'strike §18.4.10; style:text-line-through-style §20.369',
    ["s['B2'].font.strike", true],
    ["look(1, 1)['textlinethroughstyle']", 'solid'],
    { keys: [{ button: 'Strike through' }] },
  ),
  looks(
    'a font of cells',
    { font: 'Caladea' },
    'name §18.8.29; fo:font-family §20.190',
    ["s['B2'].font.name", 'Caladea'],
    ["look(1, 1)['fontfamily']", "'Caladea'"],
    { walk: 'cell-looks.spec.ts: cells are merged' },
  ),
  looks(
    'a size of cells',
    { size: 16 },
    'sz §18.4.11; fo:font-size §20.192',
    ["s['B2'].font.sz", 16],
    ["look(1, 1)['fontsize']", '16pt'],
    { keys: [{ field: 'Size', is: '16' }] },
  ),
  looks(
    'a colour of cells',
    { color: '#a3402a' },
    'color §18.3.1.15; fo:color §20.182',
    ["s['B2'].font.color.rgb", 'FFA3402A'],
    ["look(1, 1)['color']", '#a3402a'],
    { keys: [{ button: 'Colour #a3402a' }] },
  ),
  looks(
    'what is behind cells',
    { fill: '#f7eccb' },
    'fill §18.8.20; fo:background-color §20.175',
    ["s['B2'].fill.fgColor.rgb", 'FFF7ECCB'],
    ["look(1, 1)['backgroundcolor']", '#f7eccb'],
    { keys: [{ button: 'Colour #f7eccb' }] },
  ),
  looks(
    'cells in the middle',
    { align: 'center' },
    'alignment §18.8.1; fo:text-align §20.227',
    ["s['B2'].alignment.horizontal", 'center'],
    ["look(1, 1)['textalign']", 'center'],
    { keys: [{ menu: 'Alignment', item: 'Centre' }] },
  ),
  looks(
    'text at the top of cells',
    { vertical: 'top' },
    'alignment §18.8.1; style:vertical-align §20.396',
    ["s['B2'].alignment.vertical", 'top'],
    ["look(1, 1)['verticalalign']", 'top'],
    { keys: [{ button: 'At the top' }] },
  ),
  looks(
    'text that is wrapped',
    { wrap: true },
    'alignment §18.8.1; fo:wrap-option §20.230',
    ["s['B2'].alignment.wrap_text", true],
    ["look(1, 1)['wrapoption']", 'wrap'],
    { keys: [{ menu: 'Alignment', item: 'Wrap into lines' }] },
  ),
  looks(
    'how a number is shown',
    { format: '#,##0.00' },
    'numFmt §18.8.30; number:number §16.29.3',
    ["s['B2'].number_format", '#,##0.00'],
    ['words(1, 1)', '1.50'],
    { keys: [{ menu: 'Number format', item: 'Two decimals' }] },
  ),
  {
    ...looks(
      'lines around cells',
      {},
      'border §18.8.4; fo:border §20.176',
      ["[s['B2'].border.top.style, s['B2'].border.left.style]", ['thin', 'thin']],
      ["'solid' in look(1, 1).get('border', look(1, 1).get('bordertop', ''))", true],
      { walk: 'cell-looks.spec.ts: cells are merged' },
    ),
    change: (book) => [linesOp(first(book), 0, level, 'around', '1 solid')],
    said: 'Only the look of 1 cell in ‹Levels›.',
  },
  {
    ...looks(
      'looks cleared',
      {},
      'no s §18.3.1.4; no table:style-name §19.731',
      ["[s['B2'].font.b, s['B2'].fill.fill_type]", [false, null]],
      ["look(1, 1).get('fontweight')", null],
      { keys: ['Control+\\'] },
    ),
    before: (sheet) => ({
      ...sheet,
      rows: sheet.rows.with(1, [
        sheet.rows[1]![0],
        { value: 1.5, style: { bold: true, fill: '#f7eccb' } },
        sheet.rows[1]![2],
      ]),
    }),
    change: (book) => [styleOp(first(book), 0, level, noLook)],
  },
]

const lines: SheetFeature[] = [
  {
    name: 'rows put in',
    by: {
      keys: [
        'ArrowDown',
        { menu: 'Rows', item: 'Insert a row above' },
        'Control+Home',
        'ArrowDown',
        'ArrowDown',
        { type: 'LK07' },
        'Enter',
      ],
    },
    element: 'row §18.3.1.73; table:table-row §9.1.3',
    change: () => [{ op: 'insert', sheet: 0, axis: 'rows', at: 2, count: 1 }, set(2, 0, { value: 'LK07' })],
    xlsx: ["[c.value for c in s['A']]", ['Lock', 'LK02', 'LK07', 'LK01', 'LK03', 'LK09']],
    ods: ['column(0)', ['Lock', 'LK02', 'LK07', 'LK01', 'LK03', 'LK09']],
    said: '1 row added in ‹Levels›.',
  },
  {
    name: 'rows taken out',
    by: { keys: ['ArrowDown', { menu: 'Rows', item: 'Remove row 3' }] },
    element: 'row §18.3.1.73; table:table-row §9.1.3',
    change: () => [{ op: 'remove', sheet: 0, axis: 'rows', at: 2, count: 1 }],
    xlsx: ["[c.value for c in s['A']]", ['Lock', 'LK02', 'LK03', 'LK09']],
    ods: ['column(0)', ['Lock', 'LK02', 'LK03', 'LK09']],
    said: '1 row removed in ‹Levels›.',
  },
  {
    name: 'columns put in',
    by: {
      keys: [
        { menu: 'Columns', item: 'Insert a column before' },
        'Control+Home',
        'ArrowRight',
        { type: 'Day' },
        'Enter',
      ],
    },
    element: 'c §18.3.1.4; table:table-column §9.1.6',
    change: () => [{ op: 'insert', sheet: 0, axis: 'columns', at: 1, count: 1 }, set(0, 1, { value: 'Day' })],
    xlsx: ['[c.value for c in s[1]]', ['Lock', 'Day', 'Level', 'Kind']],
    ods: ['row(0)', ['Lock', 'Day', 'Level', 'Kind']],
    said: '1 column added in ‹Levels›.',
  },
  {
    name: 'columns taken out',
    by: { keys: [{ menu: 'Columns', item: 'Remove column B' }] },
    element: 'c §18.3.1.4; table:table-column §9.1.6',
    change: () => [{ op: 'remove', sheet: 0, axis: 'columns', at: 1, count: 1 }],
    xlsx: ['[c.value for c in s[1]]', ['Lock', 'Kind']],
    ods: ['row(0)', ['Lock', 'Kind']],
    said: '1 column removed in ‹Levels›.',
  },
  {
    name: 'the height of rows',
    by: { walk: 'cell-looks.spec.ts: cells are merged' },
    element: 'ht §18.3.1.73; style:row-height §20.341',
    change: () => [{ op: 'height', sheet: 0, spans: [[1, 1]], height: 30 }],
    xlsx: ['s.row_dimensions[2].height', 30],
    ods: ["rowLook(1)['rowheight']", '30pt'],
    said: '1 row made higher or lower in ‹Levels›.',
  },
  {
    name: 'the width of columns',
    by: { keys: [{ field: 'Column width', is: '110.25' }] },
    element: 'col §18.3.1.13; style:column-width §20.254',
    change: () => [{ op: 'width', sheet: 0, column: 1, width: 147 }],
    xlsx: ["round(s.column_dimensions['B'].width)", 20],
    ods: ["columnLook(1)['columnwidth']", '110.25pt'],
    said: '1 column made wider or narrower in ‹Levels›.',
  },
  {
    name: 'rows hidden',
    by: { walk: 'cell-looks.spec.ts: cells are merged' },
    element: 'hidden §18.3.1.73; table:visibility §19.749',
    change: (book) => hideOps(first(book), 0, 'rows', { at: 2, count: 1 }, true),
    xlsx: ['s.row_dimensions[3].hidden', true],
    ods: ["rows()[2].getAttribute('visibility')", 'collapse'],
    said: '1 row or column hidden in ‹Levels›.',
  },
  {
    name: 'columns hidden',
    by: { keys: ['ArrowRight', { command: 'Hide this column' }] },
    element: 'hidden §18.3.1.13; table:visibility §19.749',
    change: (book) => hideOps(first(book), 0, 'columns', { at: 2, count: 1 }, true),
    xlsx: ["s.column_dimensions['C'].hidden", true],
    ods: ["columnAt(2).getAttribute('visibility')", 'collapse'],
    said: '1 row or column hidden in ‹Levels›.',
  },
  {
    name: 'rows that stay in sight',
    by: { keys: [{ menu: 'Rows', item: 'Keep the row above in sight' }] },
    element: 'pane §18.3.1.66; config:config-item §3.10.5',
    change: () => [{ op: 'freeze', sheet: 0, frozen: { rows: 1, columns: 0 } }],
    xlsx: ['s.freeze_panes', 'A2'],
    said: 'other rows or columns stay in sight in ‹Levels›.',
  },
  {
    name: 'cells made one',
    by: { walk: 'cell-looks.spec.ts: cells are merged' },
    element: 'mergeCell §18.3.1.54; table:number-columns-spanned §19.679',
    change: (book) => mergeOps(first(book), 0, at(0, 5, 2, 1), () => undefined).ops,
    xlsx: ['[str(m) for m in s.merged_cells.ranges]', ['A6:B6']],
    ods: ["cell(5, 0).getAttribute('numbercolumnsspanned')", '2'],
    said: 'cells merged in ‹Levels›.',
  },
  {
    name: 'a merged cell divided',
    by: { walk: 'cell-looks.spec.ts: cells are merged' },
    element: 'mergeCell §18.3.1.54; table:number-columns-spanned §19.679',
    before: (sheet) => ({ ...sheet, merged: [{ top: 5, left: 0, bottom: 5, right: 1 }] }),
    change: () => [{ op: 'unmerge', sheet: 0, areas: [{ top: 5, left: 0, bottom: 5, right: 1 }] }],
    xlsx: ['[str(m) for m in s.merged_cells.ranges]', []],
    said: 'a merged cell divided again in ‹Levels›.',
  },
  {
    name: 'sorted by a column',
    by: { walk: 'formulas.spec.ts: money and days' },
    element: 'c §18.3.1.4; table:table-cell §9.1.4',
    change: (book) => [
      sortOp(
        first(book),
        0,
        at(0, 1, 3, 3),
        [{ column: 0, down: false }],
        (row, column) => first(book).rows[row]?.[column]?.value,
      ),
    ],
    xlsx: ["[c.value for c in s['A']]", ['Lock', 'LK01', 'LK02', 'LK03', 'LK09']],
    ods: ['column(0)', ['Lock', 'LK01', 'LK02', 'LK03', 'LK09']],
    said: '1 row moved in ‹Levels›.',
  },
]

const area = { top: 0, left: 0, bottom: 4, right: 2 }
const rule = (condition: EntryRule['condition'], rest: Partial<EntryRule> = {}): WorkbookOp[] => [
  {
    op: 'rules',
    sheet: 0,
    rules: [
      { areas: [{ top: 1, left: 2, bottom: 4, right: 2 }], condition, empty: true, otherwise: 'refused', ...rest },
    ],
  },
]
const rules: SheetFeature[] = [
  {
    name: 'a filter',
    by: { walk: 'filter.spec.ts: rows are filtered' },
    element: 'autoFilter §18.3.1.2; table:filter-condition §9.5.3',
    change: () => [
      { op: 'filter', sheet: 0, filter: { area, columns: { 2: { by: 'one of', texts: ['Gate'], empty: false } } } },
      {
        op: 'hide',
        sheet: 0,
        axis: 'rows',
        spans: [
          [2, 2],
          [4, 4],
        ],
        hidden: true,
      },
    ],
    xlsx: ['[s.auto_filter.ref, s.auto_filter.filterColumn[0].filters.filter]', ['A1:C5', ['Gate']]],
    ods: ["[f.getAttribute('value') for f in d.getElementsByType(table.FilterCondition)]", ['Gate']],
    said: '2 rows and columns hidden, other rows are filtered in ‹Levels›.',
  },
  {
    name: 'a list to choose from',
    by: { walk: 'rules.spec.ts: a list is said' },
    element: 'dataValidation §18.3.1.32; table:content-validation §9.4.5',
    change: () => rule({ kind: 'one of', choices: ['Gate', 'Weir'], shown: true }),
    xlsx: [
      '[[v.type, v.formula1, str(v.sqref)] for v in s.data_validations.dataValidation]',
      [['list', '"Gate,Weir"', 'C2:C5']],
    ],
    ods: [
      "[v.getAttribute('condition') for v in d.getElementsByType(table.ContentValidation)]",
      ['of:cell-content-is-in-list("Gate";"Weir")'],
    ],
    said: 'other entries are allowed in ‹Levels›.',
  },
  {
    name: 'numbers within limits',
    by: null,
    element: 'dataValidation §18.3.1.32; table:content-validation §9.4.5',
    change: () => rule({ kind: 'whole number', test: 'between', limits: ['1', '9'] }),
    xlsx: [
      '[[v.type, v.operator, v.formula1, v.formula2] for v in s.data_validations.dataValidation]',
      [['whole', null, '1', '9']],
    ],
    ods: ['len(d.getElementsByType(table.ContentValidation))', 1],
    said: 'other entries are allowed in ‹Levels›.',
  },
  {
    name: 'a hint at a cell',
    by: null,
    element: 'prompt §18.3.1.32; table:help-message §9.4.6',
    change: () => rule({ kind: 'anything' }, { hint: { title: 'Kind', text: 'Gate or weir' } }),
    xlsx: ['[[v.promptTitle, v.prompt] for v in s.data_validations.dataValidation]', [['Kind', 'Gate or weir']]],
    ods: ['[str(m) for m in d.getElementsByType(table.HelpMessage)]', ['Gate or weir']],
    said: 'other entries are allowed in ‹Levels›.',
  },
]

const ofTheBook: SheetFeature[] = [
  {
    name: 'a sheet added',
    by: { keys: [{ press: 'Add a sheet' }] },
    element: 'sheet §18.2.19; table:table §9.1.2',
    change: () => [{ op: 'add sheet', at: 1, name: 'Sheet 3' }],
    xlsx: ['d.sheetnames', ['Levels', 'Sheet 3', 'Elsewhere']],
    ods: ['sheets()', ['Levels', 'Sheet 3', 'Elsewhere']],
    said: 'The sheet ‹Sheet 3› added, with 0 cells.',
  },
  {
    name: 'a sheet taken out',
    by: { keys: [{ menu: 'More for sheet Levels', item: 'Remove' }] },
    element: 'sheet §18.2.19; table:table §9.1.2',
    change: () => [{ op: 'remove sheet', sheet: 0 }],
    xlsx: ['d.sheetnames', ['Elsewhere']],
    ods: ['sheets()', ['Elsewhere']],
    said: 'The sheet ‹Levels› removed.',
  },
  {
    name: 'a sheet renamed',
    by: {
      keys: [
        { menu: 'More for sheet Levels', item: 'Rename' },
        { asked: 'Name' },
        'Control+a',
        { type: 'Level 2026' },
        'Enter',
      ],
    },
    element: 'sheet §18.2.19; table:name §19.673',
    change: () => [{ op: 'rename sheet', sheet: 0, name: 'Level 2026' }],
    xlsx: ['d.sheetnames', ['Level 2026', 'Elsewhere']],
    ods: ['sheets()', ['Level 2026', 'Elsewhere']],
    said: '‹Levels› renamed in ‹Level 2026›.',
  },
  {
    name: 'a sheet moved',
    by: { keys: [{ menu: 'More for sheet Levels', item: 'Move to the right' }] },
    element: 'sheet §18.2.19; table:table §9.1.2',
    change: () => [{ op: 'move sheet', sheet: 0, to: 1 }],
    xlsx: ['d.sheetnames', ['Elsewhere', 'Levels']],
    ods: ['sheets()', ['Elsewhere', 'Levels']],
    said: 'The sheets are in another order.',
  },
  {
    name: 'how a sheet is put on paper',
    by: { walk: 'pdf.spec.ts: how a sheet' },
    element: 'pageSetup §18.3.1.63; style:page-layout §16.5 (not written there yet)',
    change: () => [{ op: 'set up', sheet: 0, setUp: { ...setUpOf(undefined), landscape: true }, was: null }],
    xlsx: ['s.page_setup.orientation', 'landscape'],
    said: 'page set-up changed in ‹Levels›.',
  },
  {
    name: 'a title of a spreadsheet',
    by: { walk: 'about.spec.ts: of a spreadsheet' },
    element: 'dc:title (part 2, §11); dc:title §4.3.2.3',
    change: () => [{ op: 'about', about: { title: 'Levels of 2026' } }],
    xlsx: ['d.properties.title', 'Levels of 2026'],
    ods: ['[str(t) for t in d.meta.getElementsByType(dc.Title)]', ['Levels of 2026']],
    said: 'title of the file changed.',
  },
]

export const sheetFeatures: readonly SheetFeature[] = [...entries, ...cellLooks, ...lines, ...rules, ...ofTheBook]
