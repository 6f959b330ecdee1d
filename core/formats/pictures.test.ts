// Pictures of other programs' files, resized, described and moved: what the model does not know of them stays as it was.
import fc from 'fast-check'
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import type { Node } from 'prosemirror-model'
import { Transform } from 'prosemirror-transform'
import { describe, expect, test } from 'vitest'
import { compareDocuments } from '../compare/document'
import { sayDocumentChanges } from '../compare/words'
import { mergeDocuments } from '../merge/document'
import { english } from '../words/testing'
import { patchDocx } from './docx/patch'
import { readDocx } from './docx/read'
import { fileOf, w } from './docx/testing'
import { patchOdt } from './odt/patch'
import { readOdt } from './odt/read'
import { odtOf } from './odt/testing'

const png = Uint8Array.from(
  atob('iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAQAAAC1HAwCAAAAC0lEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg=='),
  (letter) => letter.charCodeAt(0),
)
const main = 'http://schemas.openxmlformats.org/drawingml/2006'

/** A cropped picture with a line around it and text that flows around it, as another program writes it. */
const drawing = (id: number, alt: string) =>
  `<w:drawing><wp:anchor distT="0" distB="0" distL="114300" distR="114300" behindDoc="0" relativeHeight="2"><wp:positionH relativeFrom="column"><wp:align>right</wp:align></wp:positionH><wp:extent cx="1905000" cy="952500"/><wp:effectExtent l="0" t="0" r="9525" b="0"/><wp:wrapSquare wrapText="bothSides"/><wp:docPr id="${id}" name="Picture ${id}" descr="${alt}" title="Weir &gt; 2"/><a:graphic xmlns:a="${main}/main"><a:graphicData uri="${main}/picture"><pic:pic xmlns:pic="${main}/picture"><pic:nvPicPr><pic:cNvPr id="0" name="weir.png"/><pic:cNvPicPr/></pic:nvPicPr><pic:blipFill><a:blip r:embed="rId9"><a:extLst><a:ext uri="{28A0092B-C50C-407E-A947-70E740481C1C}"/></a:extLst></a:blip><a:srcRect l="12000" b="5000"/><a:stretch><a:fillRect/></a:stretch></pic:blipFill><pic:spPr><a:xfrm rot="600000"><a:off x="0" y="0"/><a:ext cx="1905000" cy="952500"/></a:xfrm><a:prstGeom prst="rect"/><a:ln w="12700"><a:solidFill><a:srgbClr val="336699"/></a:solidFill></a:ln></pic:spPr></pic:pic></a:graphicData></a:graphic><wp14:sizeRelH relativeFrom="margin"><wp14:pctWidth>40000</wp14:pctWidth></wp14:sizeRelH></wp:anchor></w:drawing>`
const docx = (() => {
  const parts = unzipSync(
    fileOf(
      `<w:p><w:r><w:t>The weir: </w:t></w:r><w:r>${drawing(4, 'The weir in spring')}</w:r><w:r><w:t> from the north.</w:t></w:r></w:p><w:p><w:r><w:t>Nothing else.</w:t></w:r></w:p>`,
    ),
  )
  const text = (name: string) => strFromU8(parts[name]!)
  parts['word/document.xml'] = strToU8(
    text('word/document.xml').replace(
      `xmlns:w="${w}"`,
      `xmlns:w="${w}" xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships" xmlns:wp="${main}/wordprocessingDrawing" xmlns:wp14="urn:merrowdale:relative-sizes"`,
    ),
  )
  parts['word/_rels/document.xml.rels'] = strToU8(
    text('word/_rels/document.xml.rels').replace(
      '</Relationships>',
      '<Relationship Id="rId9" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/image" Target="media/weir.png"/></Relationships>',
    ),
  )
  parts['[Content_Types].xml'] = strToU8(
    text('[Content_Types].xml').replace('<Default', '<Default Extension="png" ContentType="image/png"/><Default'),
  )
  parts['word/media/weir.png'] = png
  return zipSync(parts)
})()
const odt = odtOf(
  '<text:p>The weir: <draw:frame draw:style-name="fr1" draw:name="weir" text:anchor-type="paragraph" svg:width="5cm" svg:height="2.5cm" style:rel-width="30%" draw:z-index="0"><draw:image xlink:href="Pictures/weir.png" xlink:type="simple"/><svg:title>Weir</svg:title><svg:desc>The weir in spring</svg:desc></draw:frame> from the north.</text:p><text:p>Nothing else.</text:p>',
  {
    automatic:
      '<style:style style:name="fr1" style:family="graphic"><style:graphic-properties style:wrap="left" fo:clip="rect(0cm, 1cm, 0cm, 0cm)"/></style:style>',
    parts: [['Pictures/weir.png', png]],
  },
)

/** Where the pictures of a document are. */
function pictures(doc: Node): number[] {
  const found: number[] = []
  doc.descendants((node, pos) => void (node.type.name === 'image' && found.push(pos)))
  return found
}

type Act = { act: 'size' | 'describe' | 'move' | 'copy' | 'write' | 'remove'; n: number; text: string }
const acts = fc.array(
  fc.record({
    act: fc.constantFrom<Act['act'][]>('size', 'describe', 'move', 'copy', 'write', 'write', 'remove'),
    n: fc.integer({ min: 1, max: 900 }),
    text: fc.constantFrom('', 'A weir', 'Gates "open" <wide> & dry', 'größer'),
  }),
  { minLength: 1, maxLength: 5 },
)
function done(doc: Node, all: readonly Act[]): Node {
  const transform = new Transform(doc)
  for (const { act, n, text } of all) {
    const now = transform.doc
    const at = pictures(now)
    const pos = at[n % Math.max(1, at.length)]
    const end = now.content.size - 1
    if (act === 'write') transform.insert(n % 2 ? 1 : end, now.type.schema.text(text || 'x'))
    if (pos === undefined) continue
    const image = now.nodeAt(pos)!
    if (act === 'size') transform.setNodeMarkup(pos, null, { ...image.attrs, width: n, height: 1 + (n % 300) })
    if (act === 'describe') transform.setNodeMarkup(pos, null, { ...image.attrs, alt: text })
    if (act === 'copy') transform.insert(end, image)
    if (act === 'move') transform.insert(end, image).delete(pos, pos + 1)
    if (act === 'remove' && at.length > 1) transform.delete(pos, pos + 1)
  }
  return transform.doc
}

describe.each([
  {
    type: 'docx',
    read: () => readDocx(docx).doc,
    save: (doc: Node) => patchDocx(docx, doc).bytes,
    again: (bytes: Uint8Array) => readDocx(bytes).doc,
    part: 'word/document.xml',
    stays: [
      '<a:srcRect l="12000" b="5000"/>',
      '<a:ln w="12700">',
      '<wp:wrapSquare',
      'title="Weir &gt; 2"',
      'rot="600000"',
    ],
    once: /docPr[^>]*? id="(\d+)"/g,
    beside: 'sizeRelH',
  },
  {
    type: 'odt',
    read: () => readOdt(odt).doc,
    save: (doc: Node) => patchOdt(readOdt(odt).source, doc).bytes,
    again: (bytes: Uint8Array) => readOdt(bytes).doc,
    part: 'content.xml',
    stays: ['draw:style-name="fr1"', 'text:anchor-type="paragraph"', 'draw:z-index="0"'],
    once: null,
    beside: 'style:rel-width',
  },
])('a picture in $type', ({ read, save, again, part, stays, once, beside }) => {
  test('keeps its crop, frame and place through whatever is done to it, and is had once', () => {
    const doc = read()
    expect(pictures(doc)).toHaveLength(1)
    fc.assert(
      fc.property(acts, (all) => {
        const wanted = done(doc, all)
        const bytes = save(wanted)
        expect(again(bytes).toJSON()).toEqual(wanted.toJSON())
        const parts = unzipSync(bytes)
        const xml = strFromU8(parts[part]!)
        const count = pictures(wanted).length
        for (const one of stays) expect(xml.split(one)).toHaveLength(count + 1)
        expect(Object.keys(parts).filter((name) => name.endsWith('.png'))).toHaveLength(1)
        if (once) {
          const ids = Array.from(xml.matchAll(once), ([, id]) => id)
          expect(new Set(ids).size).toBe(ids.length)
        }
      }),
      { numRuns: 150 },
    )
  })
  test('is as large as it was made, whatever share of the page it had', () => {
    const doc = read()
    const [pos] = pictures(doc)
    const sized = new Transform(doc).setNodeMarkup(pos!, null, {
      ...doc.nodeAt(pos!)!.attrs,
      width: 321,
      height: 99,
    }).doc
    const xml = strFromU8(unzipSync(save(sized))[part]!)
    expect(strFromU8(unzipSync(save(doc))[part]!)).toContain(beside)
    expect(xml).not.toContain(beside)
  })
})

test('compare tells that a picture was resized and described; merge keeps what another wrote meanwhile', () => {
  const doc = readDocx(docx).doc
  const [pos] = pictures(doc)
  const change = (attrs: object) =>
    new Transform(doc).setNodeMarkup(pos!, null, { ...doc.nodeAt(pos!)!.attrs, ...attrs }).doc
  const said = (then: Node) => english(sayDocumentChanges(compareDocuments(doc, then)))
  expect(said(change({ width: 50 }))).toBe('1 image resized.')
  expect(said(change({ alt: 'A weir' }))).toBe('1 image described otherwise.')
  expect(said(change({ alt: 'A weir', width: 40 }))).toBe('1 image resized; 1 image described otherwise.')
  const theirs = new Transform(doc).insert(1, doc.type.schema.text('Look: '))
  const merged = mergeDocuments(doc, change({ width: 50, alt: 'A weir' }), theirs.doc)
  expect(merged.conflicts).toEqual([])
  const [there] = pictures(merged.doc)
  expect(merged.doc.nodeAt(there!)!.attrs).toMatchObject({ width: 50, alt: 'A weir' })
  expect(merged.doc.textContent).toContain('Look: The weir')
})
