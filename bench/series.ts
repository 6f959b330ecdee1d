// Series of versions as work makes them: one file, a hundred edits. All from a fixed seed, so that every run
// measures the same.
import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { deflateRawSync } from 'node:zlib'
import ExcelJS from 'exceljs'
import { Transform } from 'prosemirror-transform'
import { documentSchema } from '../core/content/document'
import type { Workbook } from '../core/content/workbook'
import { applyOp, applyOps, type WorkbookOp } from '../core/content/workbook-ops'
import { patchDocx } from '../core/formats/docx/patch'
import { readDocx } from '../core/formats/docx/read'
import { writeDocx } from '../core/formats/docx/write'
import { crc32 } from '../core/formats/opc/zip'
import { patchXlsx } from '../core/formats/xlsx/patch'
import { readXlsx } from '../core/formats/xlsx/read'
import { writeXlsx } from '../core/formats/xlsx/write'
import { doc, h, p } from '../server/demo/papers'

/** Numbers from 0 to 1 by Numerical Recipes' generator (§7.1), from a fixed seed. */
export function chance(seed: number): () => number {
  let state = seed
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0
    return state / 2 ** 32
  }
}

const syllables =
  'ga te lo ck pad dle we ir slu ice can al tow path bri dge mer row dale sto ppage no tice in spec tion le vel wa ter bank led ger'.split(
    ' ',
  )

/** A writer of prose from six thousand invented words, the common ones often. */
export function writer(seed: number) {
  const random = chance(seed)
  const pick = (below: number) => Math.floor(random() * below)
  const words = Array.from({ length: 6000 }, () =>
    Array.from({ length: 1 + pick(4) }, () => syllables[pick(syllables.length)]).join(''),
  )
  const word = () => words[Math.floor(words.length * random() ** 3)]!
  const sentence = () => {
    const text = Array.from({ length: 8 + pick(14) }, word).join(' ')
    return `${text[0]!.toUpperCase()}${text.slice(1)}.`
  }
  const paragraph = () => Array.from({ length: 2 + pick(5) }, sentence).join(' ')
  return { random, pick, word, sentence, paragraph }
}

/** Paragraphs of some length, and one edit after another: half of them words, the others sentences and paragraphs. */
function* edited(versions: number, letters: number, seed = 7): Generator<readonly string[]> {
  const { random, pick, word, sentence, paragraph } = writer(seed)
  const paragraphs: string[] = []
  for (let size = 0; size < letters; size += paragraphs.at(-1)!.length)
    paragraphs.push(paragraphs.length % 40 === 0 ? `# Section ${paragraphs.length}` : paragraph())
  for (let version = 0; version < versions; version++) {
    yield paragraphs
    const kind = random()
    const at = pick(paragraphs.length)
    if (kind < 0.5) {
      const words = paragraphs[at]!.split(' ')
      words.splice(1 + pick(words.length), 1, word(), word())
      paragraphs[at] = words.join(' ')
    } else if (kind < 0.75) paragraphs[at] += ` ${sentence()}`
    else if (kind < 0.9) paragraphs.splice(at, 0, paragraph())
    else paragraphs.splice(at, 1)
  }
}

export function* docxSeries(versions: number, letters: number): Generator<Buffer> {
  for (const paragraphs of edited(versions, letters))
    yield Buffer.from(writeDocx(doc(...paragraphs.map((text) => (text[0] === '#' ? h(2, text.slice(2)) : p(text))))))
}

export function* xlsxSeries(versions: number, cells: number): Generator<Buffer> {
  const { random, pick } = writer(11)
  // Readings with many digits, so that the file has its size.
  let workbook: Workbook = {
    sheets: [
      {
        name: 'Ledger',
        widths: {},
        rows: Array.from({ length: cells / 20 }, (_, y) =>
          Array.from({ length: 20 }, (_, x) =>
            x === 19 ? { formula: `A${y + 1}+B${y + 1}` } : { value: x === 2 ? `LK${pick(99)}` : random() * 1e4 },
          ),
        ),
      },
    ],
  }
  for (let version = 0; version < versions; version++) {
    yield Buffer.from(writeXlsx(workbook))
    const rows = workbook.sheets[0]!.rows.length
    if (version % 50 === 25)
      workbook = applyOp(workbook, { op: 'insert', sheet: 0, axis: 'rows', at: pick(rows), count: 1 + pick(3) })
    const value = Math.round(random() * 1e4) / 100
    const cell = { row: pick(rows), column: pick(2), cell: { value } }
    workbook = applyOp(workbook, { op: 'cells', sheet: 0, cells: [cell] })
  }
}

/** A text document as ISO 26300 has it, packed by zlib as most office programs do. */
export function* odtSeries(versions: number, letters: number): Generator<Buffer> {
  const escape = (text: string) => text.replace(/[&<]/g, (sign) => (sign === '&' ? '&amp;' : '&lt;'))
  for (const paragraphs of edited(versions, letters, 23)) {
    const body = paragraphs
      .map((text) =>
        text[0] === '#'
          ? `<text:h text:style-name="Heading_20_2" text:outline-level="2">${escape(text.slice(2))}</text:h>`
          : `<text:p text:style-name="Text_20_body">${escape(text)}</text:p>`,
      )
      .join('')
    yield zipped({
      mimetype: 'application/vnd.oasis.opendocument.text',
      'content.xml': `<?xml version="1.0" encoding="UTF-8"?><office:document-content xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0" office:version="1.3"><office:body><office:text>${body}</office:text></office:body></office:document-content>`,
      'META-INF/manifest.xml':
        '<?xml version="1.0" encoding="UTF-8"?><manifest:manifest xmlns:manifest="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0"><manifest:file-entry manifest:full-path="/" manifest:media-type="application/vnd.oasis.opendocument.text"/></manifest:manifest>',
    })
  }
}

/** A zip container of parts (APPNOTE.TXT 4.3), the first one stored. */
function zipped(parts: Record<string, string>): Buffer {
  const files: Buffer[] = []
  const directory: Buffer[] = []
  let offset = 0
  for (const [name, content] of Object.entries(parts)) {
    const plain = Buffer.from(content)
    const method = name === 'mimetype' ? 0 : 8
    const packed = method ? deflateRawSync(plain) : plain
    const facts = Buffer.alloc(26)
    facts.writeUInt16LE(20, 0)
    facts.writeUInt16LE(method, 4)
    facts.writeUInt32LE(crc32(plain), 10)
    facts.writeUInt32LE(packed.length, 14)
    facts.writeUInt32LE(plain.length, 18)
    facts.writeUInt16LE(name.length, 22)
    const local = Buffer.concat([Buffer.from('PK\x03\x04'), facts, Buffer.from(name), packed])
    const tail = Buffer.alloc(14)
    tail.writeUInt32LE(offset, 10)
    directory.push(Buffer.concat([Buffer.from('PK\x01\x02\x14\0'), facts, tail, Buffer.from(name)]))
    files.push(local)
    offset += local.length
  }
  const all = Buffer.concat(directory)
  const end = Buffer.alloc(22)
  end.write('PK\x05\x06', 'latin1')
  end.writeUInt16LE(files.length, 8)
  end.writeUInt16LE(files.length, 10)
  end.writeUInt32LE(all.length, 12)
  end.writeUInt32LE(offset, 16)
  return Buffer.concat([...files, all, end])
}

/** A document of another program, and what our own saving makes of it edit by edit. */
export function* editedDocx(first: Uint8Array, versions: number): Generator<Buffer> {
  const { pick, word } = writer(43)
  let bytes = first
  for (let version = 0; version < versions; version++) {
    yield Buffer.from(bytes)
    const { doc: read } = readDocx(bytes)
    const lines: { from: number; length: number }[] = []
    read.descendants((node, at) => {
      if (node.isText && node.text!.length > 20) lines.push({ from: at, length: node.text!.length })
    })
    const { from, length } = lines[pick(lines.length)]!
    const at = from + pick(length - 8)
    bytes = patchDocx(
      bytes,
      new Transform(read).replaceWith(at, at + pick(8), documentSchema.text(`${word()} `)).doc,
    ).bytes
  }
}
/** The same of a workbook. */
export function* editedXlsx(first: Uint8Array, versions: number): Generator<Buffer> {
  const { random, pick } = writer(47)
  let base = first
  for (let version = 0; version < versions; version++) {
    yield Buffer.from(base)
    const read = readXlsx(base)
    const rows = read.workbook.sheets[0]!.rows.length
    const ops: WorkbookOp[] =
      version % 50 === 25
        ? [{ op: 'insert', sheet: 0, axis: 'rows', at: pick(rows), count: 1 + pick(3) }]
        : [{ op: 'cells', sheet: 0, cells: [{ row: pick(rows), column: 2, cell: { value: random() * 1000 } }] }]
    const workbook = applyOps(read.workbook, ops)
    base = patchXlsx({ base, read, workbook, ops, resultOf: () => undefined, isNew: () => false })
  }
}

/** Workbooks that ExcelJS writes, and documents that pandoc writes. */
export async function foreignSeries(versions: number): Promise<{ xlsx: Buffer[]; docx: Buffer[] }> {
  const { random, pick, word } = writer(31)
  const rows = Array.from({ length: 4000 }, (_, y) => [y, `LK${pick(99)}`, random() * 1000, word(), random() * 10])
  const xlsx: Buffer[] = []
  for (let version = 0; version < versions; version++) {
    const book = new ExcelJS.Workbook()
    book.created = new Date(Date.UTC(2026, 9, 14))
    book.modified = new Date(Date.UTC(2026, 9, 14, 0, version))
    book.addWorksheet('Ledger').addRows(rows)
    xlsx.push(Buffer.from(await book.xlsx.writeBuffer()))
    rows[pick(rows.length)]![2] = random() * 1000
  }
  const docx: Buffer[] = []
  const folder = mkdtempSync(join(tmpdir(), 'jaula-series-'))
  try {
    for (const paragraphs of edited(versions, 120_000, 41)) {
      writeFileSync(join(folder, 'in.md'), paragraphs.join('\n\n'))
      execFileSync('pandoc', ['in.md', '-o', 'out.docx'], { cwd: folder })
      docx.push(readFileSync(join(folder, 'out.docx')))
    }
  } finally {
    rmSync(folder, { recursive: true, force: true })
  }
  return { xlsx, docx }
}
