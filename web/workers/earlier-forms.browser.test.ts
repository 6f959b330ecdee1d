// Unsaved work that was written on its file as an earlier Jaula read it: wherever it is looked at, compared or made into a
// file without being opened, its letters are where they were written.
import { strToU8, zipSync } from 'fflate'
import { Node } from 'prosemirror-model'
import { Transform } from 'prosemirror-transform'
import { expect, test } from 'vitest'
import { documentSchema } from '../../core/content/document'
import type { DraftModel, JournalRecord } from '../../core/contract'
import { readDocx } from '../../core/formats/docx/read'
import { documentReaders, openDocumentModel } from '../../core/recovery/models'
import { english } from '../../core/words/testing'
import { codec } from './codec'
import { compareWork } from './compare'

const w = 'http://schemas.openxmlformats.org/wordprocessingml/2006/main'
const office = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships'
const run = (inside: string) => `<w:r>${inside}</w:r>`
const text = (words: string) => run(`<w:t xml:space="preserve">${words}</w:t>`)
const bar = (type: string) => run(`<w:fldChar w:fldCharType="${type}"/>`)
/** In the third form the reference was text of six letters; now it is one thing. */
const reference = `${bar('begin')}${run('<w:instrText> REF part </w:instrText>')}${bar('separate')}${text('Part 3')}${bar('end')}`
const file = zipSync(
  Object.fromEntries(
    Object.entries({
      '[Content_Types].xml':
        '<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="xml" ContentType="application/xml"/></Types>',
      '_rels/.rels': `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="rId1" Type="${office}/officeDocument" Target="word/document.xml"/></Relationships>`,
      'word/document.xml': `<w:document xmlns:w="${w}"><w:body><w:p><w:pPr><w:ind w:left="567"/></w:pPr>${text('As told in ')}${reference}${text(' of the diary.')}</w:p><w:p>${text('The gate is shut.')}</w:p></w:body></w:document>`,
    }).map(([name, xml]) => [name, strToU8(xml)]),
  ),
)
/** Its model then, and a word that was written behind the reference. */
const { base, stands } = openDocumentModel(file, [], null, undefined, { 3: documentReaders[3]! })
const model: DraftModel = stands()
const typed = new Transform(base.model).insert(1 + 'As told in Part 3'.length, documentSchema.text(' and 4'))
const records: JournalRecord[] = [{ seq: 1, at: 0, edit: { steps: typed.steps.map((step) => step.toJSON()) } }]
const words = (json: unknown) => {
  const doc = Node.fromJSON(documentSchema, json)
  return doc.children.map((block) =>
    block.textBetween(0, block.content.size, '', (leaf) => (leaf.type.name === 'kept' ? `[${leaf.attrs.words}]` : '')),
  )
}
const wanted = ['As told in [Part 3] and 4 of the diary.', 'The gate is shut.']

test('inside it, what differs from its file is what was written', async () => {
  expect([model.form, base.model.child(0).textContent]).toEqual([3, 'As told in Part 3 of the diary.'])
  const inside = await compareWork().inside('document', file, records, file, model)
  if (inside.kind !== 'document') throw new Error(inside.kind)
  expect(words(inside.now)).toEqual(wanted)
  expect(String(english(inside.summary))).toMatch(/^2 words added/)
  // Without what its draft says of it, its letters would stand in the wrong place.
  const blind = await compareWork().inside('document', file, records, file, null)
  expect('now' in blind && words(blind.now)).not.toEqual(wanted)
})

test('made into a file it has all that its file has, and what was written', async () => {
  const read = await codec().readDocument(file, records, model)
  if ('damaged' in read) throw new Error(JSON.stringify(read.damaged))
  const { bytes, lost } = await codec().writeDocument(read.opened.json, file, 'docx')
  expect(lost).toEqual([])
  expect(words(readDocx(bytes).doc.toJSON())).toEqual(wanted)
})

test('as a moment of the lifeline, and merged into another work, it is the same', async () => {
  const source = { id: 'earlier', bytes: file, records, model }
  const compared = await compareWork().compareMoments('document', { id: 'file', bytes: file, records: null }, source)
  if (compared.kind !== 'document') throw new Error(compared.kind)
  expect(words(compared.newer)).toEqual(wanted)
  const now = readDocx(file).doc
  const mine = new Transform(now).insert(now.content.size - 1, documentSchema.text(' Locked.')).doc.toJSON()
  const merged = await compareWork().mergeDocument(
    { bytes: file },
    mine,
    { bytes: file, records, model },
    null,
    true,
    'docx',
  )
  if ('refused' in merged) throw new Error(JSON.stringify(merged.refused))
  expect(words(merged.json)).toEqual([wanted[0], 'The gate is shut. Locked.'])
})
