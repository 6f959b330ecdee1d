import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { documentSchema } from '../../content/document'
import { anyDocument } from '../../content/document.arbitrary'
import { inEnglish } from '../../words/in-english'
import { saidBy } from '../../words/said'
import { expansionBounds, openZip, writeZip } from '../opc/zip'
import { DamagedFile } from '../refusals'
import { readDocx } from './read'
import { writeDocx } from './write'

const { nodes } = documentSchema

describe('a .docx', () => {
  test('read back is the document that was written, with nothing reported as lost', () => {
    fc.assert(
      fc.property(anyDocument, (doc) => {
        doc.check()
        const { doc: back, limits } = readDocx(writeDocx(doc))
        expect(back.toJSON()).toEqual(doc.toJSON())
        expect(limits).toEqual([])
      }),
      { numRuns: 200 },
    )
  })

  test('is the same bytes for the same document', () => {
    fc.assert(
      fc.property(anyDocument, (doc) => void expect(writeDocx(doc)).toEqual(writeDocx(doc))),
      { numRuns: 20 },
    )
  })

  test('that is cut off or altered anywhere is refused with a reason, or reads as it was', () => {
    const bytes = writeDocx(
      nodes.doc.create(null, [nodes.paragraph.create(null, documentSchema.text('Gate paddles at LK07'))]),
    )
    const whole = readDocx(bytes).doc
    fc.assert(
      fc.property(fc.nat(bytes.length - 1), fc.integer({ min: 1, max: 255 }), fc.boolean(), (at, change, cut) => {
        const broken = cut ? bytes.slice(0, at) : bytes.slice()
        if (!cut) broken[at]! ^= change
        try {
          expect(readDocx(broken).doc.eq(whole)).toBe(true)
        } catch (error) {
          if (!(error instanceof DamagedFile)) throw error
          expect(inEnglish(saidBy(error))).toMatch(/^(This file|A part of this file) .*\.$/)
        }
      }),
      { numRuns: 600 },
    )
  })

  test('that would expand past the bounds is refused before it is unpacked', () => {
    const bomb = writeZip([['word/document.xml', new Uint8Array(expansionBounds.freeBytes + 1)]])
    expect(bomb.length).toBeLessThan(20_000)
    expect(() => openZip(bomb)).toThrow(/expand/)
  })

  test('names what the model cannot hold, how often and where', () => {
    const xml = `<w:document xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"><w:body>
      <w:p><w:pPr><w:outlineLvl w:val="0"/></w:pPr><w:r><w:t>Gate paddles</w:t></w:r><w:fldSimple w:instr="DATE"/></w:p>
      <w:p><w:r><w:t>Two</w:t></w:r><w:fldSimple w:instr="PAGE"/></w:p></w:body></w:document>`
    const { doc, limits } = readDocx(
      writeZip([
        [
          '_rels/.rels',
          '<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="a" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/officeDocument" Target="word/document.xml"/></Relationships>',
        ],
        ['word/document.xml', xml],
      ]),
    )
    expect(doc.textContent).toBe('Gate paddlesTwo')
    expect(limits).toEqual([{ feature: 'fields (their last result stays)', count: 2, where: ['Gate paddles'] }])
  })
})
