// Templates of the open standard and of older programs: read and written like what they are templates of, and still templates.
import { strFromU8, unzipSync } from 'fflate'
import { expect, test } from 'vitest'
import { documentSchema } from '../../content/document'
import { readDocument, writeDocument } from '../documents'
import { fileType, isReadOnly, mayGoOnAs, typeWritten, writableBeside } from '../types'
import { patchWorkbook, readWorkbook, writePackage } from '../workbooks'

const { nodes } = documentSchema
const paper = (words: string) => nodes.doc.create(null, nodes.paragraph.create(null, documentSchema.text(words)))
const kindOf = (bytes: Uint8Array) => {
  const parts = unzipSync(bytes)
  const said = /full-path="\/"[^>]*media-type="([^"]*)"/.exec(strFromU8(parts['META-INF/manifest.xml']!))
  return [strFromU8(parts.mimetype!), said?.[1]]
}

test('a text template is one when it is written anew, and when a word in it is changed', () => {
  const template = 'application/vnd.oasis.opendocument.text-template'
  const { bytes } = writeDocument(paper('Dear all'), null, 'ott')
  expect(kindOf(bytes)).toEqual([template, template])
  const changed = writeDocument(paper('Dear members'), bytes, 'ott')
  expect([kindOf(changed.bytes), changed.lost]).toEqual([[template, template], []])
  expect(readDocument(changed.bytes, 'ott').doc.textContent).toBe('Dear members')
})
test('a spreadsheet template is one when it is written whole, and when a cell in it is changed', () => {
  const template = 'application/vnd.oasis.opendocument.spreadsheet-template'
  const workbook = { sheets: [{ name: 'Tolls', rows: [[{ value: 1 }]], widths: {} }] }
  const resultOf = () => undefined
  const { bytes } = writePackage(workbook, resultOf, 'ots', {})
  expect(kindOf(bytes)).toEqual([template, template])
  const read = readWorkbook(bytes, 'ots')
  const next = { sheets: [{ ...read.workbook.sheets[0]!, rows: [[{ value: 2 }]] }] }
  const ops = [{ op: 'cells' as const, sheet: 0, cells: [{ row: 0, column: 0, cell: { value: 2 } }] }]
  const patched = patchWorkbook(
    { base: bytes, read, ops, workbook: next, resultOf, isNew: () => false, recalculate: false },
    'ots',
  )
  expect([kindOf(patched.bytes), readWorkbook(patched.bytes, 'ots').workbook.sheets[0]!.rows]).toEqual([
    [template, template],
    [[{ value: 2 }]],
  ])
})
test('what templates are, and what they can go on as', () => {
  expect(['ott', 'ots', 'dot', 'xlt'].map((type) => [fileType(type).kind, isReadOnly(type)])).toEqual([
    ['document', false],
    ['spreadsheet', false],
    ['document', true],
    ['spreadsheet', false],
  ])
  expect([typeWritten('ott', 'document'), typeWritten('dot', 'document')]).toEqual(['ott', 'docx'])
  expect(writableBeside('ott', 'document')).not.toContain('odt')
  expect([mayGoOnAs('ott', 'docx'), mayGoOnAs('ots', 'ods'), mayGoOnAs('ots', 'docx')]).toEqual([true, true, false])
})
