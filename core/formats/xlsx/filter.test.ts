import { describe, expect, test } from 'vitest'
import type { SheetFilter } from '../../content/sheet-filter'
import { blankSheet, blankWorkbook } from '../../content/workbook'
import { applyOps } from '../../content/workbook-ops'
import { filterIn, patchFilter } from './filter'
import { patchXlsx } from './patch'
import { openParts, readXlsx } from './read'
import { writeXlsx } from './write'

const sheetXml = (filter: string, prefix = '') =>
  `<${prefix}worksheet xmlns${prefix && `:${prefix.slice(0, -1)}`}="m"><${prefix}sheetData><${prefix}row r="1"/></${prefix}sheetData><${prefix}sheetProtection sheet="1"/>${filter}<${prefix}mergeCells count="0"/></${prefix}worksheet>`
const read = (columns: string) => filterIn(sheetXml(`<autoFilter ref="B2:D9">${columns}</autoFilter>`))

describe('the filter of a sheet of a file', () => {
  test('is its area and what its columns say, counted from the sheet’s first column', () => {
    expect(
      read(
        '<filterColumn colId="0"><filters blank="1"><filter val="Lock &amp; weir"/><filter val="7"/></filters></filterColumn>' +
          '<filterColumn colId="2"><customFilters and="1"><customFilter operator="greaterThanOrEqual" val="2.5"/><customFilter operator="lessThan" val="9"/></customFilters></filterColumn>',
      ),
    ).toEqual({
      area: { top: 1, left: 1, bottom: 8, right: 3 },
      columns: {
        1: { by: 'one of', texts: ['Lock & weir', '7'], empty: true },
        3: {
          by: 'tested',
          tests: [
            { test: 'at least', with: 2.5 },
            { test: 'below', with: 9 },
          ],
          all: true,
        },
      },
    })
  })
  test.each([
    ['equal', '*weir*', { test: 'contains', with: 'weir' }],
    ['notEqual', '*we~*ir*', { test: 'lacks', with: 'we*ir' }],
    ['equal', 'Lo~?*', { test: 'begins', with: 'Lo?' }],
    ['equal', '*~~', { test: 'ends', with: '~' }],
    ['notEqual', ' ', { test: 'is not', with: '' }],
    ['equal', 'weir', { test: 'is', with: 'weir' }],
  ])('of texts: %s %s', (operator, val, wanted) => {
    const custom = `<customFilter operator="${operator}" val="${val}"/>`
    expect(read(`<filterColumn colId="1"><customFilters>${custom}</customFilters></filterColumn>`)!.columns).toEqual({
      2: { by: 'tested', tests: [wanted], all: true },
    })
  })
  test.each([
    '<top10 val="3"/>',
    '<dynamicFilter type="thisMonth"/>',
    '<filters><dateGroupItem year="2026" dateTimeGrouping="year"/></filters>',
    '<customFilters><customFilter val="a*b"/></customFilters>',
    '<filters><filter val="x"/></filters><extLst/>',
  ])('what is not known is kept as it is: %s', (inner) => {
    expect(read(`<filterColumn colId="1">${inner}</filterColumn>`)!.columns).toEqual({
      2: { by: 'other', kept: inner },
    })
  })
  test('is not the one of somebody’s own view, and none where there is none', () => {
    const view = '<customSheetViews><customSheetView><autoFilter ref="A1:B2"/></customSheetView></customSheetViews>'
    expect(filterIn(sheetXml(view))).toBeNull()
    expect(filterIn(sheetXml(''))).toBeNull()
    expect(filterIn(sheetXml('<x:autoFilter ref="A1:B2"/>', 'x:'))).toEqual({
      area: { top: 0, left: 0, bottom: 1, right: 1 },
      columns: {},
    })
  })
})

describe('written where it stands', () => {
  const area = { top: 0, left: 0, bottom: 3, right: 2 }
  const with_ = (filter?: SheetFilter) => ({ ...blankSheet('Levels'), ...(filter && { filter }) })
  test('a new one comes before what stands behind it, in the file’s own prefix', () => {
    const filter: SheetFilter = { area, columns: { 1: { by: 'one of', texts: ['a"b'], empty: false } } }
    const xml = patchFilter(sheetXml('', 'x:'), 'x:', with_(), with_(filter))
    expect(xml).toContain(
      '<x:sheetProtection sheet="1"/><x:autoFilter ref="A1:C4"><x:filterColumn colId="1"><x:filters><x:filter val="a&quot;b"/></x:filters></x:filterColumn></x:autoFilter><x:mergeCells',
    )
    expect(filterIn(xml)).toEqual(filter)
  })
  test('what else it holds, and what another column says, stays as it was', () => {
    const top = '<filterColumn colId="2" hiddenButton="1"><top10 val="3"/></filterColumn>'
    const sort = '<sortState ref="A2:C4"/>'
    const before = sheetXml(`<autoFilter ref="A1:C4" xr:uid="{1}">${top}${sort}</autoFilter>`)
    const was = filterIn(before)!
    const now: SheetFilter = { ...was, columns: { ...was.columns, 0: { by: 'one of', texts: ['x'], empty: false } } }
    const xml = patchFilter(before, '', with_(was), with_(now))
    expect(xml).toContain(
      `<autoFilter ref="A1:C4" xr:uid="{1}"><filterColumn colId="0"><filters><filter val="x"/></filters></filterColumn>${top}${sort}</autoFilter>`,
    )
    expect(patchFilter(xml, '', with_(now), with_())).toBe(sheetXml(''))
  })
  test('columns that come among the filtered ones move what is kept of them along', () => {
    const base = writeXlsx(
      applyOps(blankWorkbook(), [
        { op: 'cells', sheet: 0, cells: [{ row: 0, column: 0, cell: { value: 'Lock' } }] },
        { op: 'filter', sheet: 0, filter: { area, columns: { 2: { by: 'other', kept: '<top10 val="3"/>' } } } },
        { op: 'hide', sheet: 0, axis: 'rows', spans: [[2, 2]], hidden: true },
      ]),
    )
    const before = readXlsx(base)
    expect([...before.source.hidden[0]!]).toEqual([[2, true]])
    const ops = [{ op: 'insert' as const, sheet: 0, axis: 'columns' as const, at: 1, count: 2 }]
    const bytes = patchXlsx({
      base,
      read: before,
      ops,
      workbook: applyOps(before.workbook, ops),
      resultOf: () => undefined,
      isNew: () => false,
    })
    expect(readXlsx(bytes).workbook.sheets[0]!.filter).toEqual({
      area: { ...area, right: 4 },
      columns: { 4: { by: 'other', kept: '<top10 val="3"/>' } },
    })
    expect(openParts(bytes).sheets).toHaveLength(1)
  })
})
