import fc from 'fast-check'
import { strToU8, unzipSync, zipSync } from 'fflate'
import { expect, test } from 'vitest'
import { a4, type Page } from '../../content/document'
import { anyDocument } from '../../content/document.arbitrary'
import { patchDocx } from './patch'
import { readDocx } from './read'
import { fileOf } from './testing'
import { writeDocx } from './write'

const mainOf = (bytes: Uint8Array) => new TextDecoder().decode(unzipSync(bytes)['word/document.xml'])
const withMain = (bytes: Uint8Array, change: (xml: string) => string) =>
  zipSync({ ...unzipSync(bytes), 'word/document.xml': strToU8(change(mainOf(bytes))) })
const withPage = (bytes: Uint8Array, page: Page) => {
  const { doc } = readDocx(bytes)
  return patchDocx(bytes, doc.type.create({ ...doc.attrs, page }, doc.content))
}
const run = (words: string) => `<w:p><w:r><w:t>${words}</w:t></w:r></w:p>`
const wide: Page = { ...a4, width: a4.height, height: a4.width, left: 720 }
const file = fileOf(run('Gate'))
const margins = (left: number) =>
  `<w:pgMar w:top="1440" w:right="1440" w:bottom="1440" w:left="${left}" w:header="600" w:footer="500" w:gutter="10"/>`

test.each([
  [
    'an empty section',
    '<w:sectPr/>',
    '<w:sectPr><w:pgSz w:w="16838" w:h="11906" w:orient="landscape"/><w:pgMar w:header="708" w:footer="708" w:gutter="0" w:top="1440" w:right="1440" w:bottom="1440" w:left="720"/></w:sectPr>',
  ],
  [
    'one that says all, with what only it says',
    `<w:sectPr w:rsidR="00A1"><w:pgSz w:w="11906" w:h="16838" w:code="9"/>${margins(1440)}<w:cols w:num="2"/></w:sectPr>`,
    `<w:sectPr w:rsidR="00A1"><w:pgSz w:w="16838" w:h="11906" w:orient="landscape"/>${margins(720)}<w:cols w:num="2"/></w:sectPr>`,
  ],
  [
    'one that says nothing of its page',
    '<w:sectPr><w:type w:val="nextPage"/><w:cols w:space="708"/></w:sectPr>',
    '<w:sectPr><w:type w:val="nextPage"/><w:pgSz w:w="16838" w:h="11906" w:orient="landscape"/><w:pgMar w:header="708" w:footer="708" w:gutter="0" w:top="1440" w:right="1440" w:bottom="1440" w:left="720"/><w:cols w:space="708"/></w:sectPr>',
  ],
])('pages are written into %s, and everything else stays letter by letter', (_what, before, after) => {
  const base = withMain(file, (xml) => xml.replace('<w:sectPr/>', before))
  const { bytes, lost } = withPage(base, wide)
  expect(lost).toEqual([])
  expect(mainOf(bytes)).toBe(mainOf(base).replace(before, after))
  expect(readDocx(bytes).doc.attrs.page).toEqual(wide)
})

test('sections before the last one that have its page get the new one, those with another keep theirs; no section is one', () => {
  const inner = (section: string) => `<w:p><w:pPr><w:sectPr>${section}</w:sectPr></w:pPr></w:p>`
  const [same, other] = ['<w:pgSz w:w="11906" w:h="16838"/>', '<w:pgSz w:w="5000" w:h="6000"/>']
  const base = withMain(file, (xml) =>
    xml.replace('<w:sectPr/>', `${inner(same)}${inner(other)}<w:sectPr>${same}</w:sectPr>`),
  )
  const main = mainOf(withPage(base, wide).bytes)
  expect(main.match(/<w:pgSz w:w="16838" w:h="11906" w:orient="landscape"\/>/g)).toHaveLength(2)
  expect(main).toContain(inner(other))
  const bare = withMain(file, (xml) => xml.replace('<w:sectPr/>', ''))
  expect(readDocx(withPage(bare, wide).bytes).doc.attrs.page).toEqual(wide)
})

test('any page of any document is written into its file and read back', () => {
  const length = fc.integer({ min: 200, max: 31_680 })
  const page = fc.record({ width: length, height: length, top: length, right: length, bottom: length, left: length })
  fc.assert(
    fc.property(anyDocument, page, (doc, next) => {
      const base = writeDocx(doc)
      const { bytes } = withPage(base, next)
      const read = readDocx(bytes).doc
      expect(read.attrs.page).toEqual(next)
      expect(read.content.eq(readDocx(base).doc.content)).toBe(true)
      // And back again, which gives what there was.
      expect(readDocx(withPage(bytes, a4).bytes).doc.attrs.page).toEqual(a4)
    }),
    { numRuns: 60 },
  )
})
