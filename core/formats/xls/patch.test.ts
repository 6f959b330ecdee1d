import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { cellAt, type Workbook } from '../../content/workbook'
import { anyHistory, opFor } from '../../content/workbook.arbitrary'
import { applyOps, type WorkbookOp } from '../../content/workbook-ops'
import { blankRoot, readCompound, streamOf, writeCompound } from '../compound/compound'
import { NotPatched } from '../refusals'
import { patchXls } from './patch'
import { readXls } from './read'
import { record, recordsOf, viewOf, written } from './records'
import { lostInXls, writeXls } from './write'

const code = new Uint8Array(5000).fill(9)
const macros = { ...blankRoot([{ is: 'stream', name: 'dir', bytes: code }]), name: '_VBA_PROJECT_CUR' }
/** A file with something beside its workbook. */
function fileOf(
  workbook: Workbook,
  resultOf: (row: number, column: number) => number | undefined = () => 7,
): Uint8Array {
  const { bytes } = writeXls({ workbook, resultOf: (_sheet, row, column) => resultOf(row, column) })
  const root = readCompound(bytes)
  return writeCompound({ ...root, children: [...root.children, macros] })
}
const streamIn = (file: Uint8Array) => Buffer.from(streamOf(readCompound(file), 'Workbook')!.bytes)
const sheetOf = (...rows: Workbook['sheets'][number]['rows'][number][]): Workbook => ({
  sheets: [{ name: 'Levels', rows, widths: {} }],
})
/** What stands around the cells of a sheet. */
const around = ({ widths, merged, heights, hiddenRows, hiddenColumns }: Workbook['sheets'][number]) => ({
  widths,
  merged,
  heights,
  hiddenRows,
  hiddenColumns,
})
const kinds = new Set(['cells', 'width', 'freeze', 'merge', 'unmerge', 'height', 'hide', 'rename sheet'])

describe('edits in an .xls', () => {
  test('are read back as the work, whatever they are, and what is beside stays', () => {
    const session = anyHistory(6).chain(({ end }) => {
      const base = readXls(fileOf(end)).workbook
      return fc
        .array(
          opFor(base).filter(({ op }) => kinds.has(op)),
          { maxLength: 8 },
        )
        .map((ops) => ({ end, ops }))
    })
    let patched = 0
    fc.assert(
      fc.property(session, ({ end, ops }) => {
        const base = fileOf(end)
        const read = readXls(base)
        let now = read.workbook
        const done: WorkbookOp[] = []
        for (const op of ops) {
          // A name that another sheet got meanwhile is not given again.
          if (op.op === 'rename sheet' && now.sheets.some(({ name }) => name.toLowerCase() === op.name.toLowerCase()))
            continue
          now = applyOps(now, [op])
          done.push(op)
        }
        const resultOf = () => 11
        const bytes = patchXls({ base, read, ops: done, workbook: now, resultOf })
        patched++
        const lost = lostInXls({ workbook: now, resultOf }, bytes)
        const again = readXls(bytes)
        for (const { feature } of lost) expect(feature).toMatch(/^(formulas|values|number formats)/)
        expect(again.workbook.sheets.map(({ name, frozen }) => [name, frozen])).toEqual(
          now.sheets.map(({ name, frozen }) => [name, frozen?.rows || frozen?.columns ? frozen : undefined]),
        )
        expect(again.workbook.sheets.map(around)).toEqual(now.sheets.map(around))
        const kept = readCompound(bytes).children.find(({ name }) => name === macros.name)
        const inside = kept?.is === 'storage' ? kept.children[0] : undefined
        expect(inside?.is === 'stream' && Buffer.from(inside.bytes).equals(Buffer.from(code))).toBe(true)
      }),
      { numRuns: 250 },
    )
    expect(patched).toBe(250)
  })

  test('that are none leave every byte of the stream', () => {
    fc.assert(
      fc.property(anyHistory(6), ({ end }) => {
        const base = fileOf(end)
        const read = readXls(base)
        const same = patchXls({ base, read, ops: [], workbook: read.workbook, resultOf: () => undefined })
        expect(streamIn(same).equals(streamIn(base))).toBe(true)
      }),
      { numRuns: 100 },
    )
  })

  test('touch the records of their cells and no other ones', () => {
    const rows = Array.from({ length: 400 }, (_, row) => [{ value: `Lock ${row}` }, { value: row }, { value: row / 7 }])
    const base = fileOf(sheetOf(...rows))
    const read = readXls(base)
    const ops: WorkbookOp[] = [{ op: 'cells', sheet: 0, cells: [{ row: 200, column: 1, cell: { value: 3.25 } }] }]
    const after = patchXls({ base, read, ops, workbook: applyOps(read.workbook, ops), resultOf: () => undefined })
    const pieces = (file: Uint8Array) =>
      [...recordsOf(streamIn(file), 0)].map(({ type, data }) => `${type} ${Buffer.from(data).toString('hex')}`)
    const before = new Set(pieces(base))
    const fresh = pieces(after).filter((one) => !before.has(one))
    // One cell.
    expect(fresh).toEqual([
      `${record.number} c80001000f00${Buffer.from(new Float64Array([3.25]).buffer).toString('hex')}`,
    ])
  })

  test('a formula that is shared is said by each cell where one of them changes', () => {
    const formulas = sheetOf(
      [{ value: 1 }, { formula: 'A1*2' }],
      [{ value: 2 }, { formula: 'A2*2' }],
      [{ value: 3 }, { formula: 'A3*2' }],
    )
    const stream = streamIn(fileOf(formulas))
    // The three are one: relative to the cell that each stands in.
    const pieces: Uint8Array[] = []
    let first = true
    for (const one of recordsOf(stream)) {
      if (one.type !== record.formula) {
        pieces.push(stream.subarray(one.from, one.to))
        continue
      }
      pieces.push(written(record.formula, [...one.data.subarray(0, 20), 5, 0, 0x01, 0, 0, 1, 0]))
      if (first)
        pieces.push(written(record.shared, [0, 0, 2, 0, 1, 1, 0, 3, 9, 0, 0x4c, 0, 0, 0xff, 0xc0, 0x1e, 2, 0, 0x05]))
      first = false
    }
    const whole = Buffer.concat(pieces)
    const bound = [...recordsOf(whole)].find(({ type }) => type === record.bound)!
    const sheet = [...recordsOf(whole)].filter(({ type }) => type === record.begin)[1]!
    whole.writeUInt32LE(sheet.from, bound.from + 4)
    const base = writeCompound(blankRoot([{ is: 'stream', name: 'Workbook', bytes: whole }]))
    const read = readXls(base)
    expect(read.workbook).toEqual(formulas)
    const ops: WorkbookOp[] = [{ op: 'cells', sheet: 0, cells: [{ row: 0, column: 1, cell: { value: 'gone' } }] }]
    const now = applyOps(read.workbook, ops)
    const bytes = patchXls({ base, read, ops, workbook: now, resultOf: () => 7 })
    expect(readXls(bytes).workbook).toEqual(now)
    expect([...recordsOf(streamIn(bytes))].some(({ type }) => type === record.shared)).toBe(false)
    // Untouched it stays shared, with the results that it has now.
    const results = patchXls({ base, read, ops: [], workbook: read.workbook, resultOf: (_sheet, row) => row * 5 })
    expect(readXls(results).workbook).toEqual(formulas)
    expect([...readXls(results).results[0]!.values()]).toEqual([0, 5, 10])
    expect([...recordsOf(streamIn(results))].some(({ type }) => type === record.shared)).toBe(true)
  })

  test('a result may become a text, and no text again', () => {
    const base = fileOf(sheetOf([{ formula: 'A2&"x"' }, { formula: 'A2+1' }]))
    const read = readXls(base)
    const texts = patchXls({
      base,
      read,
      ops: [],
      workbook: read.workbook,
      resultOf: (_s, _r, column) => (column ? { error: '#N/A' } : 'Grüße'),
    })
    expect([...readXls(texts).results[0]!.values()]).toEqual(['Grüße', { error: '#N/A' }])
    const numbers = patchXls({
      base: texts,
      read: readXls(texts),
      ops: [],
      workbook: read.workbook,
      resultOf: (_s, _r, column) => column,
    })
    expect([...readXls(numbers).results[0]!.values()]).toEqual([0, 1])
    expect([...recordsOf(streamIn(numbers))].some(({ type }) => type === record.string)).toBe(false)
  })

  test('a look is the file’s own with some traits changed', () => {
    const was = { format: '0.00', top: '2 solid #aa3311', font: 'Georgia', size: 16 }
    const base = fileOf(sheetOf([{ value: 1, style: was }]))
    const read = readXls(base)
    const cell = {
      value: 1,
      style: {
        ...was,
        bold: true,
        fill: '#123456',
        color: '#654321',
        bottom: '3 double #0000ff',
        left: '1 dotted',
        font: 'Grüße und mehr',
        vertical: 'top',
      },
    } as const
    const ops: WorkbookOp[] = [{ op: 'cells', sheet: 0, cells: [{ row: 0, column: 0, cell }] }]
    const again = readXls(
      patchXls({ base, read, ops, workbook: applyOps(read.workbook, ops), resultOf: () => undefined }),
    )
    expect(cellAt(again.workbook.sheets[0], 0, 0)).toEqual(cell)
  })

  test('functions without a number, other sheets and names are linked', () => {
    const workbook: Workbook = {
      sheets: [
        { name: 'Levels', widths: {}, rows: [[{ value: 1 }]] },
        { name: "It's", widths: {}, rows: [[{ value: 2 }]] },
      ],
    }
    const base = fileOf(workbook)
    const read = readXls(base)
    const formulas = [
      "'It''s'!A1+Levels!A1",
      'EDATE(A1,1)+EOMONTH(A1,2)',
      'IFERROR(A1,_xlfn.CONCAT(A1,"x"))',
      "SUM('Levels:It''s'!A1)",
    ]
    const cells = formulas.map((formula, column) => ({ row: 3, column, cell: { formula } }))
    const ops: WorkbookOp[] = [{ op: 'cells', sheet: 0, cells }]
    const once = patchXls({ base, read, ops, workbook: applyOps(read.workbook, ops), resultOf: () => 1 })
    const said = (file: Uint8Array, row: number) =>
      readXls(file).workbook.sheets[0]!.rows[row]!.map((cell) => cell?.formula)
    expect(said(once, 3)).toEqual(formulas)
    // And once more, into a file that has such links.
    const more: WorkbookOp[] = [
      {
        op: 'cells',
        sheet: 0,
        cells: [{ row: 5, column: 0, cell: { formula: 'WORKDAY(A1,2)+EDATE(A1,3)+SUMIFS(A1,A1,1)' } }],
      },
    ]
    const second = readXls(once)
    const twice = patchXls({
      base: once,
      read: second,
      ops: more,
      workbook: applyOps(second.workbook, more),
      resultOf: () => 1,
    })
    expect(said(twice, 3)).toEqual(formulas)
    expect(said(twice, 5)).toEqual(['WORKDAY(A1,2)+EDATE(A1,3)+SUMIFS(A1,A1,1)'])
  })

  test('what moves everything is written whole', () => {
    const base = fileOf(sheetOf([{ value: 1 }]))
    const read = readXls(base)
    const ops: WorkbookOp[] = [{ op: 'insert', sheet: 0, axis: 'rows', at: 0, count: 1 }]
    expect(() =>
      patchXls({ base, read, ops, workbook: applyOps(read.workbook, ops), resultOf: () => undefined }),
    ).toThrow(NotPatched)
    expect(viewOf(streamIn(base)).getUint16(0, true)).toBe(record.begin)
  })
})
