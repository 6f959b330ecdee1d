import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { type About, aboutFields, aboutOfDocument, documentAbout, tidyAbout, workbookAbout } from '../../content/about'
import { anyAbout } from '../../content/about.arbitrary'
import { documentSchema } from '../../content/document'
import type { Workbook } from '../../content/workbook'
import type { JournalRecord } from '../../contract'
import { openDocumentModel, openWorkbookModel } from '../../recovery/models'
import { blankRoot, readCompound, streamOf, writeCompound } from '../compound/compound'
import { readDocument, writeDocument } from '../documents'
import { writeDocx } from '../docx/write'
import { openZip, writeZip } from '../opc/zip'
import { fileType, saysAbout, writable } from '../types'
import { patchWorkbook, readWorkbook, writePackage } from '../workbooks'
import { aboutOf, withAbout } from './about'

const { nodes } = documentSchema
const paper = nodes.doc.create(null, nodes.paragraph.create(null, documentSchema.text('The sill is worn.')))
const book: Workbook = { sheets: [{ name: 'Levels', rows: [[{ value: 1 }, { formula: 'A1*2' }]], widths: {} }] }
const documents = writable.document.filter(saysAbout)
const spreadsheets = writable.spreadsheet.filter(saysAbout)
const fileOfType = (type: string, about: About | null): Uint8Array =>
  fileType(type).kind === 'document'
    ? writeDocument(documentAbout(paper, about), null, type).bytes
    : writePackage(workbookAbout(book, about), () => 2, type, {}).bytes
const said = (bytes: Uint8Array, type: string): About | null =>
  fileType(type).kind === 'document'
    ? aboutOfDocument(readDocument(bytes, type).doc)
    : (readWorkbook(bytes, type).workbook.about ?? null)

describe.each([...documents, ...spreadsheets])('what a file of type %s says of itself', (type) => {
  test('is read as it was written, and written over by anything else or by nothing', () => {
    fc.assert(
      fc.property(anyAbout, anyAbout, (first, then) => {
        const bytes = fileOfType(type, first)
        expect(said(bytes, type)).toEqual(first)
        const again = withAbout({ bytes, lost: [] }, type, then)
        expect(again.lost).toEqual([])
        expect(said(again.bytes, type)).toEqual(then)
        // What is said already keeps its bytes.
        expect(withAbout(again, type, then).bytes).toBe(again.bytes)
      }),
      { numRuns: 30 },
    )
  })
  test('is written into its file with what else is changed, and stays when that is saved again', () => {
    const first = { title: 'Levels', keywords: 'locks, weirs' }
    const bytes = fileOfType(type, first)
    const now = { title: 'Water levels', author: 'Ida Thornquist', keywords: 'locks, weirs' }
    let saved: Uint8Array
    if (fileType(type).kind === 'document') {
      const { doc } = readDocument(bytes, type)
      const changed = documentAbout(doc.copy(doc.content.append(paper.content)), now)
      const written = writeDocument(changed, bytes, type)
      expect(written.lost).toEqual([])
      saved = written.bytes
      expect(readDocument(saved, type).doc.childCount).toBe(2)
    } else {
      const read = readWorkbook(bytes, type)
      const workbook = workbookAbout(read.workbook, now)
      const ops = [{ op: 'about' as const, about: now }]
      const work = { workbook, resultOf: () => 2, base: bytes, read, ops, isNew: () => false, recalculate: false }
      const written = patchWorkbook(work, type)
      expect(written.lost).toEqual([])
      saved = written.bytes
      expect(readWorkbook(saved, type).workbook.sheets).toEqual(read.workbook.sheets)
    }
    expect(said(saved, type)).toEqual(now)
  })
  test('goes on in drafts that were begun before it was read', () => {
    const bytes = fileOfType(type, { title: 'Levels' })
    const isDocument = fileType(type).kind === 'document'
    const step = { stepType: 'replace', from: 1, to: 1, slice: { content: [{ type: 'text', text: 'No: ' }] } }
    const edit = isDocument
      ? { steps: [step] }
      : { ops: [{ op: 'cells' as const, sheet: 0, cells: [{ row: 1, column: 0, cell: { value: 9 } }] }] }
    const record = { seq: 1, at: 0, edit } as JournalRecord
    const form = { docx: 4, xlsx: 4, odt: 1, rtf: 1, ods: 3, xls: 3 }[type as string]!
    const open = (written: { form: number; type: string; base: string }) =>
      isDocument
        ? aboutOfDocument(openDocumentModel(bytes, [record], written, type).replayed.model)
        : openWorkbookModel(bytes, [record], written, type).replayed.model.about
    // As the earlier form named it: a file that says nothing of itself reads the same.
    const bare = withAbout({ bytes, lost: [] }, type, null).bytes
    const bareModel = isDocument
      ? openDocumentModel(bare, [], null, type).stands()
      : openWorkbookModel(bare, [], null, type).stands()
    expect(open({ form, type, base: bareModel.base! })).toEqual({ title: 'Levels' })
  })
})

test('a type that has no place for it tells what it does not say', () => {
  const about = { title: 'Levels', author: 'Ida' }
  const { lost } = writeDocument(documentAbout(paper, about), null, 'txt')
  expect(lost).toEqual([{ feature: 'what a file says of itself', count: 2, where: ['Levels', 'Ida'] }])
  expect(writeDocument(paper, null, 'txt').lost).toEqual([])
})

describe('in a package', () => {
  const core = (inside: string) =>
    `<?xml version="1.0"?><core:coreProperties xmlns:core="http://schemas.openxmlformats.org/package/2006/metadata/core-properties" xmlns:d="http://purl.org/dc/elements/1.1/" xmlns:t="http://purl.org/dc/terms/">${inside}</core:coreProperties>`
  const withCore = (inside: string): Uint8Array => {
    const bytes = writeDocument(documentAbout(paper, { title: 'x' }), null, 'docx').bytes
    return openZip(bytes).patched(new Map([['docProps/core.xml', new TextEncoder().encode(core(inside))]]))!
  }
  const coreOf = (bytes: Uint8Array) => new TextDecoder().decode(openZip(bytes).read('docProps/core.xml'))

  test('any prefixes are understood, and elements of other namespaces are not meant', () => {
    const bytes = withCore(
      '<t:title>no</t:title><d:title>Levels &amp; gates</d:title><d:creator/><core:keywords>a<core:value xml:lang="de">b</core:value><core:value>c</core:value></core:keywords><title xmlns="http://purl.org/dc/elements/1.1/"> second </title>',
    )
    expect(aboutOf(bytes, 'docx')).toEqual({ title: 'Levels & gates, second', keywords: 'a, b, c' })
  })
  test('only what changed is another; dates, editors and comments stay as they are', () => {
    const rest =
      '<!-- kept --><core:lastModifiedBy>Tomas</core:lastModifiedBy><t:created>2026-03-01T08:00:00Z</t:created><core:revision>7</core:revision>'
    const bytes = withCore(`<d:title>Levels</d:title>${rest}<d:creator/>`)
    const { bytes: now } = withAbout({ bytes, lost: [] }, 'docx', {
      author: 'Ida <i>',
      subject: 'Water',
      title: 'Levels',
    })
    expect(coreOf(now)).toBe(
      core(`<d:title>Levels</d:title>${rest}<d:creator>Ida &lt;i></d:creator><d:subject>Water</d:subject>`).replaceAll(
        'Ida &lt;i>',
        'Ida &lt;i&gt;',
      ),
    )
    const [before, after] = [openZip(bytes), openZip(now)]
    expect(after.names).toEqual(before.names)
    for (const name of before.names)
      if (name !== 'docProps/core.xml') expect(after.read(name)).toEqual(before.read(name))
  })
  test('a file without that part gets it, with what leads to it', () => {
    const bytes = writeDocx(paper)
    const { bytes: now } = withAbout({ bytes, lost: [] }, 'docx', { title: 'Levels' })
    const opened = openZip(now)
    const text = (name: string) => new TextDecoder().decode(opened.read(name))
    expect(text('[Content_Types].xml')).toContain('PartName="/docProps/core.xml"')
    expect(text('_rels/.rels')).toContain('metadata/core-properties" Target="docProps/core.xml"')
    expect(aboutOf(now, 'docx')).toEqual({ title: 'Levels' })
  })
  test('a part that is damaged hinders nobody who reads the file, and stays', () => {
    const bytes = openZip(withCore('')).patched(
      new Map([['docProps/core.xml', new TextEncoder().encode('<core:x><')]]),
    )!
    const { doc } = readDocument(bytes, 'docx')
    expect(aboutOfDocument(doc)).toBeNull()
    expect(writeDocument(doc, bytes, 'docx').bytes).toEqual(bytes)
    const told = writeDocument(documentAbout(doc, { title: 'Levels' }), bytes, 'docx')
    expect(told.lost).toEqual([{ feature: 'what a file says of itself', count: 1, where: ['Levels'] }])
  })
  test('of the open standard keeps what else its metadata say, and names who made it, not who changed it', () => {
    const bytes = fileOfType('odt', null)
    const meta = (inside: string) =>
      `<?xml version="1.0"?><office:document-meta xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" xmlns:m="urn:oasis:names:tc:opendocument:xmlns:meta:1.0" xmlns:dc="http://purl.org/dc/elements/1.1/"><office:meta>${inside}</office:meta></office:document-meta>`
    const rest = '<m:user-defined m:name="Lock">Nether Wharf</m:user-defined><dc:creator>Tomas</dc:creator>'
    const own = openZip(bytes).patched(
      new Map([
        ['meta.xml', new TextEncoder().encode(meta(`<m:keyword>a</m:keyword>${rest}<m:keyword>b</m:keyword>`))],
      ]),
    )!
    expect(aboutOf(own, 'odt')).toEqual({ keywords: 'a, b' })
    const { bytes: now } = withAbout({ bytes: own, lost: [] }, 'odt', { author: 'Ida', keywords: 'c' })
    expect(new TextDecoder().decode(openZip(now).read('meta.xml'))).toBe(
      meta(`<m:keyword>c</m:keyword>${rest}<m:initial-creator>Ida</m:initial-creator>`),
    )
  })
  test('of the open standard without metadata gets them, and its list of parts names them', () => {
    const container = openZip(fileOfType('ods', null))
    const bare = writeZip(
      container.names
        .filter((name) => name !== 'meta.xml')
        .map((name): [string, Uint8Array] => [
          name,
          name === 'META-INF/manifest.xml'
            ? new TextEncoder().encode(
                new TextDecoder()
                  .decode(container.read(name))
                  .replace(/ <manifest:file-entry[^>]*meta\.xml[^>]*>\n/, ''),
              )
            : container.read(name)!,
        ]),
    )
    const { bytes: now } = withAbout({ bytes: bare, lost: [] }, 'ods', { title: 'Levels' })
    expect(aboutOf(now, 'ods')).toEqual({ title: 'Levels' })
    expect(new TextDecoder().decode(openZip(now).read('META-INF/manifest.xml'))).toContain('full-path="meta.xml"')
  })
})

describe('in a rich text', () => {
  const rich = (inside: string) =>
    new TextEncoder().encode(
      `{\\rtf1\\ansi\\ansicpg1252\\deff0{\\fonttbl{\\f0 Times;}}${inside}\\pard Text {\\title no}\\par}`,
    )
  test('letters are read as they are meant, and what else the group says stays', () => {
    const bytes = rich(
      "{\\info{\\title K\\'e4hne \\u8211\\'96 Wehre}{\\upr{\\keywords ?}{\\*\\ud{\\keywords \\u27700?, b}}}{\\creatim\\yr2026}{\\author}}",
    )
    expect(aboutOf(bytes, 'rtf')).toEqual({ title: 'Kähne – Wehre', keywords: '水, b' })
    const { bytes: now } = withAbout({ bytes, lost: [] }, 'rtf', { title: 'Kähne – Wehre', author: 'Ida {x}' })
    expect(new TextDecoder().decode(now)).toBe(
      new TextDecoder().decode(
        rich("{\\info{\\title K\\'e4hne \\u8211\\'96 Wehre}{\\creatim\\yr2026}{\\author Ida \\{x\\}}}"),
      ),
    )
  })
  test('a text that has no tables either gets the group before its first letter', () => {
    const { bytes } = withAbout({ bytes: new TextEncoder().encode('{\\rtf1\\ansi Text}'), lost: [] }, 'rtf', {
      title: 'L',
    })
    expect(new TextDecoder().decode(bytes)).toBe('{\\rtf1\\ansi {\\info{\\title L}}Text}')
  })
  test('a text without the group gets it behind its tables', () => {
    const { bytes } = withAbout({ bytes: rich(''), lost: [] }, 'rtf', { title: 'Levels' })
    expect(new TextDecoder().decode(bytes)).toBe(new TextDecoder().decode(rich('{\\info{\\title Levels}}')))
  })
})

describe('in a compound file', () => {
  const streamName = '\u0005SummaryInformation'
  /** A set of properties: numbers of code pages and dates, and texts of bytes. */
  const set = (...properties: [id: number, type: number, value: Uint8Array][]): Uint8Array => {
    const bytes = Buffer.alloc(2000)
    bytes.writeUInt16LE(0xfffe, 0)
    bytes.writeUInt32LE(1, 24)
    Buffer.from('e0859ff2f94f6810ab9108002b27b3d9', 'hex').copy(bytes, 28)
    bytes.writeUInt32LE(48, 44)
    bytes.writeUInt32LE(properties.length, 52)
    let at = 8 + properties.length * 8
    for (const [index, [id, type, value]] of properties.entries()) {
      bytes.writeUInt32LE(id, 56 + index * 8)
      bytes.writeUInt32LE(at, 60 + index * 8)
      bytes.writeUInt32LE(type, 48 + at)
      Buffer.from(value).copy(bytes, 48 + at + 4)
      at += 4 + ((value.length + 3) & ~3)
    }
    bytes.writeUInt32LE(at, 48)
    return bytes.subarray(0, 48 + at)
  }
  const text = (letters: Buffer) => {
    const length = Buffer.alloc(4)
    length.writeUInt32LE(letters.length + 1)
    return Buffer.concat([length, letters, Buffer.from([0])])
  }
  const file = (stream: Uint8Array) =>
    writeCompound(
      blankRoot([
        { is: 'stream', name: streamName, bytes: stream },
        { is: 'stream', name: 'Other', bytes: new Uint8Array([7]) },
      ]),
    )

  test('texts are read by their code page, and other properties and streams stay', () => {
    const date = Buffer.from('0011223344556677', 'hex')
    const bytes = file(
      set(
        [1, 2, Buffer.from([0xe3, 0x04])],
        [2, 0x1e, text(Buffer.from([0xd8, 0xeb, 0xfe, 0xe7]))],
        [12, 0x40, date],
        [4, 0x1e, text(Buffer.from('Ida'))],
      ),
    )
    expect(aboutOf(bytes, 'doc')).toEqual({ title: 'Шлюз', author: 'Ida' })
    const { bytes: now } = withAbout({ bytes, lost: [] }, 'doc', { title: 'Шлюз', subject: '水 Wasser' })
    expect(aboutOf(now, 'doc')).toEqual({ title: 'Шлюз', subject: '水 Wasser' })
    const root = readCompound(now)
    expect(streamOf(root, 'Other')!.bytes).toEqual(new Uint8Array([7]))
    expect(Buffer.from(streamOf(root, streamName)!.bytes).includes(date)).toBe(true)
  })
  test('whatever stands there, nothing breaks', () => {
    const sound = set([2, 0x1e, text(Buffer.from('Levels'))])
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.nat(sound.length - 1), fc.nat(255)), { maxLength: 8 }), (hits) => {
        const stream = Uint8Array.from(sound)
        for (const [at, byte] of hits) stream[at] = byte
        const about = aboutOf(file(stream), 'doc')
        expect(tidyAbout(about)).toEqual(about)
        for (const field of aboutFields) expect(typeof (about?.[field] ?? '')).toBe('string')
      }),
    )
  })
})
