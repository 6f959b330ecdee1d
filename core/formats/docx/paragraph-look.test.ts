// What paragraphs say of their place and frame, and how lists are numbered: read from other programs' files, shown, kept
// with whatever is edited, and taken along into other files.
import fc from 'fast-check'
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import { Fragment, type Node } from 'prosemirror-model'
import { describe, expect, test } from 'vitest'
import { compareDocuments } from '../../compare/document'
import { documentSchema } from '../../content/document'
import { anyParagraphLook } from '../../content/document.arbitrary'
import { type ListNumber, listNumberFrom, markerOf } from '../../content/list-number'
import { lookCss, lookFrom, lookStyle, type ParagraphLook } from '../../content/paragraph-look'
import { mergeDocuments } from '../../merge/document'
import { english } from '../../words/testing'
import { patchDocx } from './patch'
import { readDocx } from './read'
import { writeDocx } from './write'

const w = 'http://schemas.openxmlformats.org/wordprocessingml/2006/main'
const office = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships'
const { nodes } = documentSchema

function fileOf(body: string, numbering = ''): Uint8Array {
  const parts: Record<string, string> = {
    '[Content_Types].xml':
      '<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="xml" ContentType="application/xml"/></Types>',
    '_rels/.rels': `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="rId1" Type="${office}/officeDocument" Target="word/document.xml"/></Relationships>`,
    'word/_rels/document.xml.rels': `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="rId1" Type="${office}/styles" Target="styles.xml"/><Relationship Id="rId2" Type="${office}/numbering" Target="numbering.xml"/></Relationships>`,
    'word/document.xml': `<w:document xmlns:w="${w}"><w:body>${body}<w:sectPr/></w:body></w:document>`,
    'word/styles.xml': `<w:styles xmlns:w="${w}"><w:style w:type="paragraph" w:default="1" w:styleId="N"><w:name w:val="Normal"/></w:style></w:styles>`,
    'word/numbering.xml': `<w:numbering xmlns:w="${w}">${numbering}</w:numbering>`,
  }
  return zipSync(Object.fromEntries(Object.entries(parts).map(([name, xml]) => [name, strToU8(xml)])))
}
const paragraph = (properties: string, text: string) =>
  `<w:p w:rsidR="00AA">${properties && `<w:pPr>${properties}</w:pPr>`}<w:r><w:t>${text}</w:t></w:r></w:p>`
const bodyOf = (bytes: Uint8Array) => strFromU8(unzipSync(bytes)['word/document.xml']!)
const looks = (doc: Node) => doc.children.map(({ attrs }) => attrs.look as ParagraphLook | null)

describe('the look of a paragraph', () => {
  test('is read as the standard has it, by whichever of two names', () => {
    const { doc } = readDocx(
      fileOf(
        [
          '',
          '<w:ind w:left="567" w:hanging="283"/>',
          '<w:ind w:start="10" w:end="20" w:firstLine="30"/>',
          '<w:spacing w:before="120" w:line="360"/>',
          '<w:spacing w:after="0" w:line="300" w:lineRule="exact"/>',
          '<w:shd w:val="clear" w:fill="FFE08A"/>',
          '<w:pBdr><w:left w:val="single" w:sz="12" w:space="4" w:color="224466"/><w:bottom w:val="nil"/><w:top w:val="dashSmallGap"/></w:pBdr>',
          '<w:spacing w:before="x"/><w:ind w:left="1e9"/><w:shd w:fill="auto"/>',
        ]
          .map((properties, at) => paragraph(properties, `Line ${at}`))
          .join(''),
      ),
    )
    expect(looks(doc)).toEqual([
      null,
      { left: 567, first: -283 },
      { left: 10, right: 20, first: 30 },
      { before: 120, line: { share: 360 } },
      { after: 0, line: { exact: 300 } },
      { fill: '#ffe08a' },
      {
        borders: {
          top: { kind: 'dashed', width: 4, space: 0, color: null },
          left: { kind: 'single', width: 12, space: 4, color: '#224466' },
        },
      },
      null,
    ])
    expect(lookCss(looks(doc)[1]!)).toEqual({ 'margin-left': '28.4pt', 'text-indent': '-14.1pt' })
    expect(lookCss(looks(doc)[6]!)['border-left']).toBe('1.5pt solid #224466')
  })

  test('whatever it is: a file says it, what is read is it again, and no CSS comes of it that a file wrote', () => {
    fc.assert(
      fc.property(anyParagraphLook, fc.jsonValue(), (look, anything) => {
        const doc = nodes.doc.create(null, nodes.paragraph.create({ look }, documentSchema.text('Gate')))
        expect(JSON.stringify(looks(readDocx(writeDocx(doc)).doc))).toBe(JSON.stringify([look]))
        const hostile = lookFrom(anything)
        if (hostile) expect(lookStyle(hostile)).toMatch(/^[a-zA-Z0-9#.\-:; ]*$/)
        expect(JSON.stringify(lookFrom(JSON.parse(JSON.stringify(look))))).toBe(JSON.stringify(look))
      }),
      { numRuns: 60 },
    )
    expect(lookFrom({ fill: 'url(x)', left: '1;}', borders: { top: { kind: 'single', color: '";' } } })).toEqual({
      borders: { top: { kind: 'single', width: 2, space: 0, color: null } },
    })
  })

  test('stays with what is written, split and moved; what changes it changes that property alone', () => {
    const framed =
      '<w:keepNext/><w:pBdr><w:top w:val="wave" w:sz="8" w:space="1" w:color="FF0000"/></w:pBdr><w:spacing w:before="120" w:beforeLines="50"/><w:ind w:left="567"/>'
    const bytes = fileOf(paragraph(framed, 'Sluice and paddle') + paragraph('', 'After'))
    const { doc } = readDocx(bytes)
    const first = doc.child(0)
    const [before, behind] = [first.cut(0, 6), first.cut(6)]
    const split = patchDocx(bytes, doc.copy(Fragment.from([before, behind, doc.child(1)]))).bytes
    expect(bodyOf(split).split(framed)).toHaveLength(3)
    const moved = nodes.paragraph.create({ ...first.attrs, look: { ...first.attrs.look, left: 1000 } }, first.content)
    const patched = patchDocx(bytes, doc.copy(Fragment.from([moved, doc.child(1)])))
    expect(patched.lost).toEqual([])
    expect(bodyOf(patched.bytes)).toContain(framed.replace('w:left="567"', 'w:left="1000"'))
  })

  test('is compared in words, merged, and a draft of the form before it is carried over to it', () => {
    const bytes = fileOf(paragraph('<w:ind w:left="567"/>', 'Sluice'))
    const [old, now] = [readDocx(bytes, 3).doc, readDocx(bytes).doc]
    expect([looks(old), looks(now)]).toEqual([[null], [{ left: 567 }]])
    const typed = old.copy(Fragment.from(nodes.paragraph.create(null, documentSchema.text('Sluice gate'))))
    const { doc } = mergeDocuments(old, now, typed)
    expect([doc.textContent, looks(doc)]).toEqual(['Sluice gate', [{ left: 567 }]])
    const told = JSON.stringify(compareDocuments(old, now), (_key, value) =>
      value && typeof value === 'object' && 'say' in value ? english(value) : value,
    )
    expect(told).toContain('indented 1 cm left')
  })
})

describe('the numbers of a list', () => {
  const level = (at: number, format: string, text: string) =>
    `<w:lvl w:ilvl="${at}"><w:start w:val="1"/><w:numFmt w:val="${format}"/><w:lvlText w:val="${text}"/></w:lvl>`
  const numberings = (...all: string[][]) =>
    all.map((levels, at) => `<w:abstractNum w:abstractNumId="${at}">${levels.join('')}</w:abstractNum>`).join('') +
    all.map((_, at) => `<w:num w:numId="${at + 1}"><w:abstractNumId w:val="${at}"/></w:num>`).join('')
  const item = (number: number, depth: number, text: string) =>
    paragraph(`<w:numPr><w:ilvl w:val="${depth}"/><w:numId w:val="${number}"/></w:numPr>`, text)
  const clauses = numberings(
    [level(0, 'decimal', '%1.'), level(1, 'decimal', '%1.%2.')],
    [level(0, 'lowerLetter', '(%1)'), level(1, 'upperRoman', '%2')],
    [level(0, 'decimal', '%1.'), level(1, 'lowerLetter', '%1.%2')],
  )
  const numbersOf = (doc: Node): (ListNumber | null)[] => {
    const found: (ListNumber | null)[] = []
    doc.descendants((node) => {
      if (node.type === nodes.ordered_list) found.push(node.attrs.number)
    })
    return found
  }
  const letters: ListNumber = { format: 'lower-alpha', before: '(', after: ')', path: false }
  const path: ListNumber = { format: 'decimal', before: '', after: '.', path: true }

  test('are read in letters, in roman, with signs around them and with those of the lists around', () => {
    const body =
      item(1, 0, 'One') + item(1, 1, 'One, one') + paragraph('', 'Between') + item(2, 0, 'a') + item(2, 1, 'I')
    const read = readDocx(fileOf(body, clauses))
    expect(numbersOf(read.doc)).toEqual([
      null,
      path,
      letters,
      { format: 'upper-roman', before: '', after: '', path: false },
    ])
    expect(read.limits).toEqual([])
    expect(numbersOf(readDocx(fileOf(body, clauses), 3).doc)).toEqual([null, null, null, null])
    expect(markerOf(letters)).toBe('"(" counter(list-item, lower-alpha) ") "')
    expect(markerOf(path)).toBe('"" counters(list-item, ".", decimal) ". "')
  })

  test('that the model cannot say are told, and stay in the file', () => {
    const bytes = fileOf(item(3, 0, 'One') + item(3, 1, 'One, a'), clauses)
    const { doc, limits } = readDocx(bytes)
    expect(numbersOf(doc)).toEqual([null, null])
    expect(limits.map(({ feature }) => feature)).toEqual(['lists numbered in a way of their own'])
    const list = doc.child(0)
    const more = list.copy(list.content.addToEnd(nodes.list_item.create(null, nodes.paragraph.create())))
    const { bytes: saved, lost } = patchDocx(bytes, doc.copy(Fragment.from(more)))
    expect(lost).toEqual([])
    expect(unzipSync(saved)['word/numbering.xml']).toEqual(unzipSync(bytes)['word/numbering.xml'])
  })

  test('go along into a file that has no such list, and into one that is written whole', () => {
    const inside = nodes.ordered_list.create(
      { number: path },
      nodes.list_item.create(null, nodes.paragraph.create(null, documentSchema.text('Two, one'))),
    )
    const paragraphs = ['One', 'Two'].map((text) => nodes.paragraph.create(null, documentSchema.text(text)))
    const list = nodes.ordered_list.create(null, [
      nodes.list_item.create(null, paragraphs[0]),
      nodes.list_item.create(null, [paragraphs[1]!, inside]),
    ])
    const lettered = nodes.ordered_list.create(
      { number: letters, start: 3 },
      nodes.list_item.create(null, paragraphs[0]),
    )
    const wanted = nodes.doc.create(null, [list, nodes.paragraph.create(), lettered])
    const whole = writeDocx(wanted)
    expect(readDocx(whole).doc.toJSON()).toEqual(wanted.toJSON())
    // Another program counts "2.1" where the list around it stands at its second item.
    expect(strFromU8(unzipSync(whole)['word/numbering.xml']!)).toContain(
      '<w:lvlOverride w:ilvl="0"><w:startOverride w:val="2"/></w:lvlOverride><w:lvlOverride w:ilvl="1"><w:startOverride w:val="1"/></w:lvlOverride>',
    )
    const bytes = fileOf(paragraph('', 'Plain'))
    const { doc } = readDocx(bytes)
    const pasted = doc.copy(Fragment.from([doc.child(0), lettered]))
    expect(readDocx(patchDocx(bytes, pasted).bytes).doc.toJSON()).toEqual(pasted.toJSON())
  })

  test('from elsewhere are what a page can show, and nothing that leaves its place', () => {
    fc.assert(
      fc.property(fc.string(), fc.string(), (before, after) => {
        const number = listNumberFrom({ format: 'decimal', before, after, path: false })
        if (number)
          expect(markerOf(number).replace(/"(?:[^"\\]|\\[0-9a-f]+ )*"/g, '')).toBe(' counter(list-item, decimal) ')
      }),
    )
    expect(listNumberFrom({ format: 'url(x)', before: '', after: '' })).toBeNull()
    expect(listNumberFrom({ format: 'decimal', before: '', after: '.' })).toBeNull()
    expect(listNumberFrom('decimal')).toBeNull()
  })
})
