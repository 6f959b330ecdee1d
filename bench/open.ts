// Opening against the bare parse: the same container unpacked and its XML tokenised by the same
// libraries with nobody listening; and against an independent library that reads the whole file.
import ExcelJS from 'exceljs'
import { unzipSync } from 'fflate'
import mammoth from 'mammoth'
import { SaxesParser } from 'saxes'
import { readDocx } from '../core/formats/docx/read'
import { writeDocx } from '../core/formats/docx/write'
import { readXlsx } from '../core/formats/xlsx/read'
import { writeXlsx } from '../core/formats/xlsx/write'
import { largeWorkbook, longDocument } from './papers'
import { inTurn, report } from './report'

function bareParse(bytes: Uint8Array): void {
  for (const [name, part] of Object.entries(unzipSync(bytes)))
    if (/\.(xml|rels)$/.test(name)) new SaxesParser({ position: false }).write(new TextDecoder().decode(part)).close()
}

const document = writeDocx(longDocument(100))
const workbook = writeXlsx(largeWorkbook(200_000), () => 1)
const suite = 'open'
const one = await inTurn(
  7,
  () => readDocx(document),
  () => bareParse(document),
)
report({ suite, case: 'open-document-100-pages', value: one.ours, unit: 'ms', baseline: one.baseline, better: 'lower' })
const other = await inTurn(
  5,
  () => readDocx(document),
  () => mammoth.convertToHtml({ buffer: Buffer.from(document) }),
)
report({
  suite,
  case: 'open-document-100-pages-whole-library',
  value: other.ours,
  unit: 'ms',
  baseline: other.baseline,
  better: 'lower',
})
const cells = await inTurn(
  7,
  () => readXlsx(workbook),
  () => bareParse(workbook),
)
report({ suite, case: 'open-200k-cells', value: cells.ours, unit: 'ms', baseline: cells.baseline, better: 'lower' })
const whole = await inTurn(
  3,
  () => readXlsx(workbook),
  () => new ExcelJS.Workbook().xlsx.load(Buffer.from(workbook) as never),
)
report({
  suite,
  case: 'open-200k-cells-whole-library',
  value: whole.ours,
  unit: 'ms',
  baseline: whole.baseline,
  better: 'lower',
})
