// What holds for every type that has an editor: its words are found, its versions are laid beside each other, a draft of it
// goes on, and its bytes say what it is.
import { strToU8 } from 'fflate'
import type { Node } from 'prosemirror-model'
import { Transform } from 'prosemirror-transform'
import { describe, expect, test } from 'vitest'
import { compareFiles } from '../compare/files'
import { documentSchema } from '../content/document'
import { cellAt, type Workbook } from '../content/workbook'
import type { JournalRecord } from '../contract'
import { openDocumentModel, openWorkbookModel } from '../recovery/models'
import { english } from '../words/testing'
import { blankRoot, writeCompound } from './compound/compound'
import { writeCsv } from './csv/write'
import { readDocument, writeDocument } from './documents'
import { DamagedFile } from './refusals'
import { typeOfBytes } from './signature'
import { fileType, isCsv, writable } from './types'
import { hasWords, wordsOfFile } from './words'
import { readWorkbook, writePackage } from './workbooks'

const { nodes } = documentSchema
const paper = (...lines: string[]): Node =>
  nodes.doc.create(
    null,
    lines.map((line) => nodes.paragraph.create(null, documentSchema.text(line))),
  )
const sheet = (...values: (string | number)[]): Workbook => ({
  sheets: [{ name: 'Levels', widths: {}, rows: values.map((value) => [{ value }]) }],
})
const written = (workbook: Workbook, type: string) =>
  isCsv(type)
    ? writeCsv({ workbook, resultOf: () => undefined, from: null }).bytes
    : writePackage(workbook, () => undefined, type, {}).bytes

describe.each([...writable.document])('a document as %s', (type) => {
  const file = (...lines: string[]) => ({ type, bytes: writeDocument(paper(...lines), null, type).bytes })

  test('is opened by its editor, with its words', () => {
    expect(fileType(type)).toMatchObject({ kind: 'document', editable: true })
    expect(readDocument(file('The sill is worn.').bytes, type).doc.textContent).toBe('The sill is worn.')
    expect(hasWords(type)).toBe(true)
    expect(wordsOfFile(file('The sill is worn.').bytes, type).text).toContain('sill')
  })
  test('is laid beside an earlier version by what it says', () => {
    const changes = compareFiles(file('One gate.', 'Two.'), file('One lower gate.', 'Two.'))
    expect([changes.weight, english(changes.summary)]).toEqual([1, expect.stringContaining('1 word added')])
  })
  test('is written back into its own file, and is its very bytes where nothing changed', () => {
    const { bytes } = file('One.', 'Two.')
    const { doc } = readDocument(bytes, type)
    expect(Buffer.from(writeDocument(doc, bytes, type).bytes).equals(Buffer.from(bytes))).toBe(true)
    const more = writeDocument(paper('One.', 'Two and more.'), bytes, type)
    expect(more.lost).toEqual([])
    expect(readDocument(more.bytes, type).doc.children.map(({ textContent }) => textContent)).toEqual([
      'One.',
      'Two and more.',
    ])
  })
  test('has drafts that go on after a crash, on the very base that they were written on', () => {
    const { bytes } = file('First.', 'Second.')
    const { base, stands } = openDocumentModel(bytes, [], null, type)
    const change = new Transform(base.model).insert(base.model.content.size - 1, documentSchema.text('!'))
    const record: JournalRecord = { seq: 1, at: 0, edit: { steps: change.steps.map((step) => step.toJSON()) } }
    const { replayed, carried } = openDocumentModel(bytes, [record], stands(), type)
    expect(carried).toBe(false)
    expect(replayed.model.textContent).toBe('First.Second.!')
    expect(stands().type).toBe(type)
  })
})

describe.each([...writable.spreadsheet])('a spreadsheet as %s', (type) => {
  const file = (...values: (string | number)[]) => ({ type, bytes: written(sheet(...values), type) })

  test('is opened by its editor, with its words', () => {
    expect(fileType(type)).toMatchObject({ kind: 'spreadsheet', editable: true })
    expect(cellAt(readWorkbook(file('Sill', 4).bytes, type).workbook.sheets[0], 0, 0)?.value).toBe('Sill')
    expect(hasWords(type)).toBe(true)
    expect(wordsOfFile(file('Sill', 4).bytes, type).text).toContain('Sill')
  })
  test('is laid beside an earlier version by its cells', () => {
    const changes = compareFiles(file('Lock', 4), file('Lock', 5))
    expect([changes.kind, english(changes.summary)]).toEqual(['spreadsheet', expect.stringMatching(/^1 cell changed/)])
  })
  test('has drafts that go on after a crash', () => {
    const { bytes } = file('Lock', 4)
    const { stands } = openWorkbookModel(bytes, [], null, type)
    const record: JournalRecord = {
      seq: 1,
      at: 0,
      edit: { ops: [{ op: 'cells', sheet: 0, cells: [{ row: 1, column: 0, cell: { value: 5 } }] }] },
    }
    const { replayed, carried } = openWorkbookModel(bytes, [record], stands(), type)
    expect(carried).toBe(false)
    expect(cellAt(replayed.model.sheets[0], 1, 0)?.value).toBe(5)
    expect(stands().type).toBe(type)
  })
})

test('what a package is, its bytes say', () => {
  expect(typeOfBytes(written(sheet('a'), 'xls'))).toBe('xls')
  expect(typeOfBytes(written(sheet('a'), 'xlsx'))).toBe('xlsx')
  const word = writeCompound(blankRoot([{ is: 'stream', name: 'WordDocument', bytes: new Uint8Array(9) }]))
  expect(typeOfBytes(word)).toBe('doc')
  expect(typeOfBytes(writeCompound(blankRoot([])))).toBeNull()
})

test('a file of before 1997, one with a password and one without a workbook are told apart', () => {
  const stream = (name: string, ...bytes: number[]) =>
    writeCompound(blankRoot([{ is: 'stream', name, bytes: Uint8Array.from(bytes) }]))
  const begin = [0x09, 0x08, 0x08, 0x00, 0x00, 0x06, 0x05, 0x00, 0, 0, 0, 0]
  for (const [file, reason] of [
    [stream('Book', 1, 2), 'older-than-can-be-read'],
    [stream('Workbook', 0x09, 0x08, 0x04, 0x00, 0x00, 0x05, 0x05, 0x00), 'older-than-can-be-read'],
    [stream('Workbook', ...begin, 0x2f, 0, 2, 0, 1, 0), 'protected-by-a-password'],
    [stream('Other', 1), 'it-has-no'],
    [stream('Workbook', ...begin, 0x0a, 0, 0, 0), 'it-has-no'],
    [strToU8('PK'), 'its-parts'],
  ] as const) {
    expect(() => readWorkbook(file, 'xls')).toThrow(DamagedFile)
    expect(() => readWorkbook(file, 'xls')).toThrow(
      expect.objectContaining({ message: expect.stringContaining(reason) }),
    )
  }
})
