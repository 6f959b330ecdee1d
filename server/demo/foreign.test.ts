// The demo's papers of another writer are what they are said to be, and independent readers take them.
import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { strFromU8, unzipSync } from 'fflate'
import { expect, test } from 'vitest'
import { applyOps, type WorkbookOp } from '../../core/content/workbook-ops'
import { patchXlsx } from '../../core/formats/xlsx/patch'
import { readXlsx } from '../../core/formats/xlsx/read'
import { offer, offerPrices } from './foreign'

/** What openpyxl finds in a workbook: the place and the sources of its chart, its filter, its merged cells. */
function seenBy(file: Uint8Array): unknown {
  const folder = mkdtempSync(join(tmpdir(), 'jaula-demo-file-'))
  try {
    writeFileSync(join(folder, 'file.xlsx'), file)
    const code = `
import json, openpyxl
sheet = openpyxl.load_workbook('file.xlsx').worksheets[0]
chart = sheet._charts[0]
series = chart.series[0]
print(json.dumps([len(sheet._charts), chart.anchor._from.row, series.cat.strRef.f, series.val.numRef.f, sheet.auto_filter.ref, [str(one) for one in sheet.merged_cells.ranges]]))`
    return JSON.parse(execFileSync('/usr/bin/python3', ['-c', code], { cwd: folder, encoding: 'utf8' }))
  } finally {
    rmSync(folder, { recursive: true, force: true })
  }
}

test('each is the same to the byte, whenever it is made', async () => {
  expect(Buffer.from(await offer()).equals(Buffer.from(await offer()))).toBe(true)
  expect(Buffer.from(await offerPrices()).equals(Buffer.from(await offerPrices()))).toBe(true)
})

test('the prices have a chart, a filter and merged cells; what the editor does not show is said, and goes along', async () => {
  const base = await offerPrices()
  expect(seenBy(base)).toEqual([1, 8, "'Prices'!$A$3:$A$6", "'Prices'!$D$3:$D$6", 'A2:D6', ['A1:D1']])
  const read = readXlsx(base)
  expect(read.limits).toContainEqual(expect.objectContaining({ feature: 'charts', count: 1 }))
  const insert: WorkbookOp = { op: 'insert', sheet: 0, axis: 'rows', at: 4, count: 1 }
  const saved = patchXlsx({
    base,
    read,
    workbook: applyOps(read.workbook, [insert]),
    ops: [insert],
    resultOf: () => undefined,
    isNew: () => false,
  })
  expect(seenBy(saved)).toEqual([1, 9, "'Prices'!$A$3:$A$7", "'Prices'!$D$3:$D$7", 'A2:D7', ['A1:D1']])
  expect(strFromU8(unzipSync(saved)['xl/charts/chart1.xml']!)).toContain('Where the money goes')
})
