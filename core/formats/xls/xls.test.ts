import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { plain, trimmed } from '../../content/looks.arbitrary'
import { withoutSetUps } from '../../content/sheet-set-up'
import { cellAt, type Workbook } from '../../content/workbook'
import { anyHistory } from '../../content/workbook.arbitrary'
import { blankRoot, readCompound, streamOf, writeCompound } from '../compound/compound'
import { DamagedFile } from '../refusals'
import { readXlsx } from '../xlsx/read'
import { writeXlsx } from '../xlsx/write'
import { readXls } from './read'
import { writeXls } from './write'

const sheetOf = (rows: Workbook['sheets'][number]['rows']): Workbook => ({
  sheets: [{ name: 'Levels', rows, widths: {} }],
})
const lostOf = (workbook: Workbook) =>
  writeXls({ workbook, resultOf: () => 4 }).lost.map(({ feature, count, at }) => [feature, count, at?.join(' ')])

describe('an .xls', () => {
  test('read back is the workbook that was written, with its looks and names, or what is lost is told', () => {
    fc.assert(
      fc.property(anyHistory(10), ({ end }) => {
        const names = [{ name: 'Total', sheet: null, formula: `'${end.sheets[0]!.name.replaceAll("'", "''")}'!$A$1` }]
        const { bytes, lost } = writeXls({ workbook: end, resultOf: () => 7, names })
        const again = readXls(bytes)
        if (!lost.length) {
          expect(trimmed(plain(again.workbook))).toEqual(trimmed(plain(end)))
          expect(again.source.names.map(({ name, formula }) => [name, formula.replaceAll("'", '')])).toEqual(
            names.map(({ name, formula }) => [name, formula.replaceAll("'", '')]),
          )
        }
        // The corner that is edited here is well inside of what the format can hold: references may go beyond it.
        for (const { feature } of lost)
          expect(feature).toMatch(/^(formulas|values|number formats|page set-up|filters|input rules)/)
      }),
      { numRuns: 300 },
    )
  })

  test('carries results of each kind, also long texts', () => {
    const rows = [
      [
        { formula: '1+1' },
        { formula: 'A1&"x"' },
        { formula: '1/0' },
        { formula: 'TRUE' },
        { formula: 'REPT("é",9000)' },
      ],
    ]
    const given = [2, 'שלום', { error: '#DIV/0!' }, true, 'é'.repeat(9000)]
    const { bytes, lost } = writeXls({ workbook: sheetOf(rows), resultOf: (_sheet, _row, column) => given[column] })
    expect([...readXls(bytes).results[0]!.values()]).toEqual(given)
    expect(lost).toEqual([])
  })

  test('texts of any length and letters come back, over many records', () => {
    const rows = Array.from({ length: 700 }, (_, at) => [
      { value: (at % 3 ? 'Schleuse ' : 'שלום ').repeat(at % 41).slice(0, at * 7) + at },
    ])
    rows.push([{ value: 'x'.repeat(32_767) }], [{ value: 'é😀'.repeat(9000) }])
    const again = readXls(writeXls({ workbook: sheetOf(rows), resultOf: () => undefined }).bytes)
    expect(again.workbook.sheets[0]!.rows).toEqual(rows)
  })

  test('what it cannot hold is told, each thing with its first place', () => {
    expect(
      lostOf({
        sheets: [
          {
            name: 'Levels',
            widths: {},
            rows: [
              [{ formula: 'Table1[Level]' }, { formula: 'A1+1' }, { value: { error: '#SPILL!' } }],
              Object.assign(
                Array.from({ length: 300 }, () => undefined),
                { 299: { value: 1 } },
              ),
            ],
          },
        ],
      }),
    ).toEqual([
      ['formulas (their results stay)', 1, '0 0 0'],
      ['values that are read as something else', 1, '0 0 2'],
      ['cells beyond what the type can hold', 1, '0 1 299'],
    ])
    const many = Array.from({ length: 70_000 }, (_, at) => (at > 65_533 ? [{ value: at }] : undefined))
    expect(lostOf(sheetOf(many))).toEqual([['cells beyond what the type can hold', 4464, '0 65536 0']])
    const colors = Array.from({ length: 80 }, (_, at) => [
      { value: at, style: { fill: `#${(at * 3 + 10).toString(16).padStart(2, '0')}4080` } },
    ])
    expect(lostOf(sheetOf(colors))).toEqual([['looks of cells', expect.any(Number), expect.any(String)]])
  })

  test('written as a package of today it keeps looks, names and widths as well', () => {
    fc.assert(
      fc.property(anyHistory(6), ({ end }) => {
        const names = [{ name: 'Total', sheet: 0, formula: '1+1' }]
        const usual = { name: 'Verdana', size: 9 }
        const again = readXlsx(writeXlsx(end, undefined, undefined, { names, usual }))
        expect(again.workbook.sheets).toEqual(withoutSetUps(end.sheets))
        expect(again.source.names).toEqual(names)
        expect(again.usual).toEqual(usual)
      }),
      { numRuns: 150 },
    )
  })

  test('that is cut off or altered anywhere is refused with a sentence, or opened', () => {
    const whole: Workbook = {
      sheets: [
        {
          name: 'Levels',
          widths: { 0: 90 },
          frozen: { rows: 1, columns: 0 },
          rows: [
            [{ value: 'Lock', style: { bold: true } }, { value: 1.25 }],
            [{ formula: 'SUM(B1:B9)' }, { formula: 'A1&"x"' }],
          ],
        },
      ],
    }
    const { bytes } = writeXls({ workbook: whole, resultOf: (_sheet, _row, column) => (column ? 'Lockx' : 1.25) })
    const opened = (one: Uint8Array) => {
      try {
        return readXls(one)
      } catch (error) {
        expect(error).toBeInstanceOf(DamagedFile)
        return null
      }
    }
    const stream = streamOf(readCompound(bytes), 'Workbook')!.bytes
    const held = (one: Uint8Array) => writeCompound(blankRoot([{ is: 'stream', name: 'Workbook', bytes: one }]))
    expect(cellAt(opened(held(stream))!.workbook.sheets[0], 0, 0)?.value).toBe('Lock')
    fc.assert(
      fc.property(fc.nat(stream.length), fc.nat(stream.length - 1), fc.nat(255), (end, at, value) => {
        opened(held(stream.subarray(0, end)))
        const altered = stream.slice()
        altered[at] = value
        opened(held(altered))
      }),
      { numRuns: 2000 },
    )
  })

  test('a file of cells far apart, and one whose sheets are all the same part, are refused before memory runs out', () => {
    const rows = Array.from({ length: 60_000 }, () =>
      Object.assign(new Array(256).fill(undefined), { 255: { value: 1 } }),
    )
    const { bytes } = writeXls({ workbook: sheetOf(rows), resultOf: () => undefined })
    const stream = streamOf(readCompound(bytes), 'Workbook')!.bytes
    // Its one sheet is listed four times.
    const at = Buffer.from(stream).indexOf(Buffer.from([0x85, 0x00]))
    const length = 4 + stream[at + 2]!
    const bound = stream.slice(at, at + length)
    const view = new DataView(bound.buffer)
    view.setUint32(4, view.getUint32(4, true) + 3 * length, true)
    const four = Buffer.concat([stream.subarray(0, at), bound, bound, bound, bound, stream.subarray(at + length)])
    expect(() => readXls(writeCompound(blankRoot([{ is: 'stream', name: 'Workbook', bytes: four }])))).toThrow(
      DamagedFile,
    )
  })
})
