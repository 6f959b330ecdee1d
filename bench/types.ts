// Other types than the two that hold all of it: how fast lists are read beside a parser that only parts their fields, and
// whether what is written reads back as what the type can hold of it. Files of JAULA_FILES are taken where it names a folder.
import { readdirSync, readFileSync } from 'node:fs'
import { extname, join } from 'node:path'
import Papa from 'papaparse'
import { Fragment, type Node } from 'prosemirror-model'
import { documentSchema } from '../core/content/document'
import { type CellValue, isError } from '../core/content/workbook'
import { readCsv } from '../core/formats/csv/read'
import { writeCsv } from '../core/formats/csv/write'
import { readDocx } from '../core/formats/docx/read'
import { readHtml } from '../core/formats/html/read'
import { writeHtml } from '../core/formats/html/write'
import { writeMarkdown } from '../core/formats/markdown/write'
import { writeOds } from '../core/formats/ods/write'
import { writeOdt } from '../core/formats/odt/write'
import { DamagedFile } from '../core/formats/refusals'
import { writeRtf } from '../core/formats/rtf/file'
import { readText } from '../core/formats/text/read'
import { linesOfDocument, writeText } from '../core/formats/text/write'
import { readXlsx } from '../core/formats/xlsx/read'
import { toldLosses } from './losses'
import { olderSpreadsheets } from './older'
import { longDocument } from './papers'
import { inTurn, median, report } from './report'
import { lossAsTexts, olderTexts, patchedTexts } from './texts'

const list = (rows: number): Uint8Array => {
  const lines = ['Lock,Level,Read on,Remark,Note']
  for (let row = 0; row < rows; row++)
    lines.push(
      `LK0${row % 9},${(row / 7).toFixed(2)},2026-11-${String(1 + (row % 28)).padStart(2, '0')},"sill ""dry"" ${row}",note ${row % 13}`,
    )
  return new TextEncoder().encode(`${lines.join('\r\n')}\r\n`)
}

async function rates(): Promise<void> {
  const bytes = list(200_000)
  const megabytes = bytes.length / 1e6
  const read = await inTurn(
    5,
    () => readCsv(bytes),
    () => Papa.parse(new TextDecoder().decode(bytes)),
  )
  report({
    suite: 'types',
    case: 'csv-read-rate',
    value: megabytes / (read.ours / 1000),
    unit: 'MB/s',
    baseline: megabytes / (read.baseline / 1000),
    better: 'higher',
  })
  const from = readCsv(bytes)
  const data = Papa.parse<string[]>(new TextDecoder().decode(bytes)).data
  const write = await inTurn(
    5,
    () => writeCsv({ workbook: { sheets: [...from.workbook.sheets] }, resultOf: () => undefined, from }),
    () => Papa.unparse(data),
  )
  report({
    suite: 'types',
    case: 'csv-write-rate',
    value: megabytes / (write.ours / 1000),
    unit: 'MB/s',
    baseline: megabytes / (write.baseline / 1000),
    better: 'higher',
  })
  const paper = longDocument(100)
  const times: number[] = []
  for (let round = 0; round < 7; round++) {
    const begun = performance.now()
    writeText(paper, null)
    times.push(performance.now() - begun)
  }
  report({
    suite: 'types',
    case: 'loss-check-100-pages',
    value: median(times),
    unit: 'ms',
    baseline: 500,
    better: 'lower',
  })
}

/** What a text can hold of a document. */
function asText(doc: Node): Node {
  const { nodes } = documentSchema
  return nodes.doc.create(
    null,
    linesOfDocument(doc).map((line) => nodes.paragraph.create(null, line ? documentSchema.text(line) : null)),
  )
}

/** What a page can hold of a document: things in their place are their words, and named styles, edges and page set-up go. */
function asPage(doc: Node): Node {
  const { nodes } = documentSchema
  const inner = (node: Node): Node => {
    if (node.isText) return node
    const children: Node[] = []
    node.forEach((child) => {
      if (child.type !== nodes.kept) children.push(inner(child))
      else if (child.attrs.kind !== 'comment' && child.attrs.words)
        children.push(documentSchema.text(child.attrs.words, child.marks))
    })
    const attrs = node === doc ? null : 'style' in node.attrs ? { ...node.attrs, style: null } : node.attrs
    return node.type.create(attrs, Fragment.fromArray(children), node.marks)
  }
  return inner(doc)
}

/** How many of the files are, written, what was to be written; those that cannot be read are not counted. */
function equal(folder: string, ending: string, as: string, holds: (bytes: Uint8Array) => boolean | null): void {
  let equals = 0
  let all = 0
  for (const name of readdirSync(folder, { recursive: true, encoding: 'utf8' }).toSorted()) {
    if (extname(name) !== ending) continue
    try {
      const held = holds(readFileSync(join(folder, name)))
      if (held === null) continue
      all++
      if (held) equals++
      else process.stderr.write(`not equal as ${as}: ${name}\n`)
    } catch (error) {
      if (!(error instanceof DamagedFile)) throw error
    }
  }
  report({
    suite: 'types',
    case: `written-read-equal-${as}`,
    value: all ? equals / all : Number.NaN,
    unit: `of ${all} files`,
    baseline: 1,
    better: 'higher',
  })
}

const plainOf = (value: CellValue | undefined) => (isError(value) ? value.error : value)

await rates()
lossAsTexts()
toldLosses()
const folder = process.env.JAULA_FILES
if (!folder) process.stderr.write('JAULA_FILES names no folder of files: only rates were measured.\n')
else {
  olderSpreadsheets(folder)
  patchedTexts(folder)
  olderTexts(folder)
  equal(folder, '.docx', 'html', (bytes) => {
    const wanted = asPage(readDocx(bytes).doc)
    return readHtml(writeHtml(wanted, null).bytes).doc.eq(wanted)
  })
  // What is told without its name is not understood.
  equal(folder, '.docx', 'md', (bytes) => {
    const { lost } = writeMarkdown(readDocx(bytes).doc, null)
    return !lost.some(({ feature }) => feature.startsWith('things'))
  })
  equal(folder, '.docx', 'odt', (bytes) => {
    const { lost } = writeOdt(readDocx(bytes).doc, null)
    return !lost.some(({ feature }) => feature.startsWith('things'))
  })
  equal(folder, '.docx', 'rtf', (bytes) => {
    const { lost } = writeRtf(readDocx(bytes).doc, null)
    return !lost.some(({ feature }) => feature.startsWith('things'))
  })
  equal(folder, '.docx', 'txt', (bytes) => {
    const { doc } = readDocx(bytes)
    const wanted = asText(doc)
    return wanted.childCount > 20_000 ? null : readText(writeText(doc, null).bytes).doc.eq(wanted)
  })
  // What is read again is laid beside the work: where nothing is told, all of it is there.
  equal(folder, '.xlsx', 'ods', (bytes) => {
    const { workbook, results, source, usual } = readXlsx(bytes)
    const resultOf = (sheet: number, row: number, column: number) => results[sheet]?.get(row * 16_384 + column)
    return !writeOds({ workbook, resultOf, names: source.names, usual }).lost.length
  })
  equal(folder, '.xlsx', 'csv', (bytes) => {
    const { workbook, results } = readXlsx(bytes)
    const resultOf = (sheet: number, row: number, column: number) => results[sheet]?.get(row * 16_384 + column)
    const { bytes: written, lost } = writeCsv({ workbook, resultOf, from: null })
    // What is told to be read as something else is.
    const told = lost.some(({ feature }) => feature === 'values that are read as something else')
    const again = readCsv(written).workbook.sheets[0]!.rows
    const rows = workbook.sheets[0]?.rows ?? []
    let same = true
    for (let row = 0; row < Math.max(rows.length, again.length); row++)
      for (let column = 0; column < Math.max(rows[row]?.length ?? 0, again[row]?.length ?? 0); column++) {
        const cell = rows[row]?.[column]
        const value = plainOf(cell?.formula === undefined ? cell?.value : resultOf(0, row, column))
        const is = plainOf(again[row]?.[column]?.value)
        if ((value === '' ? undefined : value) !== is) same = false
      }
    return same || told
  })
}
