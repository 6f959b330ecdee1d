// How sheets are put on paper, written into files of this program and of another one, and read back.

import fc from 'fast-check'
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import { expect, test } from 'vitest'
import { paperWith, type SheetSetUp, sameSetUp, setUpOf } from '../../content/sheet-set-up'
import { anySetUp } from '../../content/workbook.arbitrary'
import { applyOps } from '../../content/workbook-ops'
import { patchXlsx } from './patch'
import { readXlsx } from './read'
import { writeXlsx } from './write'

const part = 'xl/worksheets/sheet1.xml'
const sheetOf = (bytes: Uint8Array) => strFromU8(unzipSync(bytes)[part]!)
const plain = writeXlsx({ sheets: [{ name: 'Tolls', rows: [[{ value: 1 }]], widths: {} }] })
const withSheet = (change: (xml: string) => string) =>
  zipSync({ ...unzipSync(plain), [part]: strToU8(change(sheetOf(plain))) })
function patched(base: Uint8Array, setUp: SheetSetUp): Uint8Array {
  const read = readXlsx(base)
  const ops = [{ op: 'set up' as const, sheet: 0, setUp, was: setUpOf(read.looks[0]!.paper) }]
  const workbook = applyOps(read.workbook, ops)
  return patchXlsx({ base, read, workbook, ops, resultOf: () => undefined, isNew: () => false })
}
const usual = setUpOf(undefined)

test('goes where the file has it; what else stands there stays letter by letter', () => {
  const behind =
    '<printOptions horizontalCentered="1"/><pageMargins left="0.7" right="0.7" top="0.75" bottom="0.75" header="0.3" footer="0.3"/><pageSetup paperSize="9" orientation="portrait" horizontalDpi="600"/><headerFooter><oddFooter>&amp;P</oddFooter></headerFooter>'
  const base = withSheet((xml) =>
    xml
      .replace('<sheetData>', '<sheetPr codeName="Tolls"><tabColor rgb="FF00FF00"/></sheetPr><sheetData>')
      .replace('</worksheet>', `${behind}</worksheet>`),
  )
  const before = setUpOf(readXlsx(base).looks[0]!.paper)
  const made = patched(base, { ...before, landscape: true, gridLines: true, scale: null, fit: { wide: 1, tall: 0 } })
  expect(sheetOf(made)).toBe(
    sheetOf(base)
      .replace('<tabColor rgb="FF00FF00"/>', '<tabColor rgb="FF00FF00"/><pageSetUpPr fitToPage="1"/>')
      .replace(
        '<printOptions horizontalCentered="1"/>',
        '<printOptions horizontalCentered="1" gridLines="1" gridLinesSet="1"/>',
      )
      .replace(
        'orientation="portrait" horizontalDpi="600"/>',
        'orientation="landscape" horizontalDpi="600" fitToHeight="0"/>',
      ),
  )
  // Taken back it is as it was, as far as what can be chosen goes.
  expect(sameSetUp(setUpOf(readXlsx(patched(made, before)).looks[0]!.paper), before)).toBe(true)
  // What is so already is said as it was, but for what it need not say.
  expect(sheetOf(patched(base, before))).toBe(sheetOf(base).replace(' orientation="portrait"', ''))
})

test('any set-up is written into a file with any other one, and read back', () => {
  fc.assert(
    fc.property(anySetUp, anySetUp, (first, second) => {
      const once = patched(plain, first)
      expect(sameSetUp(setUpOf(readXlsx(once).looks[0]!.paper), first)).toBe(true)
      const twice = patched(once, second)
      expect(sameSetUp(setUpOf(readXlsx(twice).looks[0]!.paper), second)).toBe(true)
      // It stands in the order that the standard has (§18.3.1.99), each once.
      const names = [...sheetOf(twice).matchAll(/<(sheetPr|sheetData|printOptions|pageMargins|pageSetup)\b/g)].map(
        ([, name]) => name,
      )
      const order = ['sheetPr', 'sheetData', 'printOptions', 'pageMargins', 'pageSetup']
      expect(names).toEqual(order.filter((name) => names.includes(name)))
    }),
    { numRuns: 200 },
  )
})

test('what was chosen goes before what the file says, all of it, and the rest of that stays', () => {
  const paper = {
    areas: [{ top: 0, left: 0, bottom: 4, right: 2 }],
    scale: 60,
    gridLines: true,
    titleRows: [0, 0] as const,
  }
  expect(paperWith(paper, undefined)).toBe(paper)
  expect(paperWith(paper, { ...usual, landscape: true })).toEqual({
    areas: paper.areas,
    titleRows: [0, 0],
    landscape: true,
  })
  fc.assert(fc.property(anySetUp, (one) => sameSetUp(setUpOf(paperWith(paper, one)), one)))
})
