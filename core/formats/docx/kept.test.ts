// What stands in a line and is no text: it is seen, moves, is copied, goes, and comes into other files with all it needs.
import fc from 'fast-check'
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import { Fragment, type Node, Slice } from 'prosemirror-model'
import { Transform } from 'prosemirror-transform'
import { describe, expect, test } from 'vitest'
import { documentSchema } from '../../content/document'
import { anyDocument } from '../../content/document.arbitrary'
import type { Kept } from '../../content/kept'
import { mergeDocuments } from '../../merge/document'
import { openPackage } from '../opc/package'
import { parseXml } from '../opc/xml'
import { patchDocx as patched } from './patch'
import { readDocx } from './read'
import { writeWholeDocx } from './whole'
import { writeDocx } from './write'

const head = '<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n'
const w = 'http://schemas.openxmlformats.org/wordprocessingml/2006/main'
const office = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships'
const type = 'application/vnd.openxmlformats-officedocument'
const drawing = 'http://schemas.openxmlformats.org/drawingml/2006'
const relationships = (...rows: string[]) =>
  `${head}<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">${rows
    .map((row) => {
      const [id, kind, target] = row.split(' ')
      const outside = /^https?:/.test(target!) ? ' TargetMode="External"' : ''
      return `<Relationship Id="${id}" Type="${office}/${kind}" Target="${target}"${outside}/>`
    })
    .join('')}</Relationships>`

const run = (inside: string) => `<w:r>${inside}</w:r>`
const words = (text: string) => run(`<w:t xml:space="preserve">${text}</w:t>`)
const chart = run(
  `<w:drawing><wp:inline xmlns:wp="${drawing}/wordprocessingDrawing"><wp:extent cx="100" cy="100"/><wp:docPr id="4" name="Water levels"/><a:graphic xmlns:a="${drawing}/main"><a:graphicData uri="${drawing}/chart"><c:chart xmlns:c="${drawing}/chart" r:id="rId4"/></a:graphicData></a:graphic></wp:inline></w:drawing>`,
)
const box = run(
  '<w:pict><v:shape id="s1"><v:textbox><w:txbxContent><w:p w14:paraId="1A"><w:r><w:t>Closed in May</w:t></w:r></w:p></w:txbxContent></v:textbox></v:shape></w:pict>',
)
const equation = '<m:oMath><m:r><m:t>v=s/t</m:t></m:r></m:oMath>'
const body = [
  `<w:p>${words('Lock 7')}${run('<w:rPr><w:rStyle w:val="FN"/></w:rPr><w:footnoteReference w:id="2"/>')}${words(' is open.')}</w:p>`,
  `<w:p><w:commentRangeStart w:id="5"/>${words('The weir')}<w:commentRangeEnd w:id="5"/>${run('<w:commentReference w:id="5"/>')}${words(' leaks')}<w:del w:id="8" w:author="Ida"><w:r><w:delText> badly</w:delText></w:r></w:del>${words('.')}</w:p>`,
  `<w:p>${words('Flow: ')}${equation}${words(' and ')}${chart}${box}</w:p>`,
  `<w:p>${words('The gate ')}${run('<w:sym w:font="Symbols" w:char="F0A7"/>')}</w:p>`,
]
const footnotes = (note: string) =>
  `${head}<w:footnotes xmlns:w="${w}" xmlns:r="${office}"><w:footnote w:type="separator" w:id="-1"><w:p><w:r><w:separator/></w:r></w:p></w:footnote><w:footnote w:id="2"><w:p w:rsidR="00AA"><w:hyperlink r:id="rId1"><w:r><w:t>${note}</w:t></w:r></w:hyperlink></w:p></w:footnote></w:footnotes>`
function fileOf(paragraphs: readonly string[], note = 'See the lock diary.'): Uint8Array {
  const parts: Record<string, string> = {
    '[Content_Types].xml': `${head}<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/><Default Extension="bin" ContentType="application/octet-stream"/><Override PartName="/word/document.xml" ContentType="${type}.wordprocessingml.document.main+xml"/><Override PartName="/word/charts/chart3.xml" ContentType="${type}.drawingml.chart+xml"/></Types>`,
    '_rels/.rels': relationships('rId1 officeDocument word/document.xml'),
    'word/_rels/document.xml.rels': relationships(
      'rId1 styles styles.xml',
      'rId2 footnotes footnotes.xml',
      'rId3 comments comments.xml',
      'rId4 chart charts/chart3.xml',
    ),
    'word/document.xml': `${head}<w:document xmlns:w="${w}" xmlns:r="${office}" xmlns:m="http://schemas.openxmlformats.org/officeDocument/2006/math" xmlns:v="urn:schemas-v" xmlns:w14="urn:w14"><w:body>${paragraphs.join('')}<w:sectPr/></w:body></w:document>`,
    'word/styles.xml': `${head}<w:styles xmlns:w="${w}"><w:style w:type="paragraph" w:default="1" w:styleId="N"><w:name w:val="Normal"/></w:style><w:style w:type="character" w:styleId="FN"><w:name w:val="footnote reference"/><w:rPr><w:vertAlign w:val="superscript"/></w:rPr></w:style></w:styles>`,
    'word/footnotes.xml': footnotes(note),
    'word/_rels/footnotes.xml.rels': relationships('rId1 hyperlink https://midland-canals.example/diary'),
    'word/comments.xml': `${head}<w:comments xmlns:w="${w}"><w:comment w:id="5" w:author="Ida Brook"><w:p><w:r><w:t>Since when?</w:t></w:r></w:p></w:comment></w:comments>`,
    'word/charts/chart3.xml': `<c:chartSpace xmlns:c="${drawing}/chart" xmlns:a="${drawing}/main"><c:chart><c:title><c:tx><c:rich><a:p><a:r><a:t>Water levels</a:t></a:r></a:p></c:rich></c:tx></c:title></c:chart></c:chartSpace>`,
    'word/charts/_rels/chart3.xml.rels': relationships('rId7 package ../embeddings/levels1.bin'),
    'word/embeddings/levels1.bin': 'the numbers',
  }
  return zipSync(Object.fromEntries(Object.entries(parts).map(([name, xml]) => [name, strToU8(xml)])))
}
const text = (bytes: Uint8Array, part = 'word/document.xml') => strFromU8(unzipSync(bytes)[part] ?? new Uint8Array())
const patchDocx = (base: Uint8Array, target: Node) => {
  const { bytes, lost } = patched(base, target)
  expect(lost).toEqual([])
  return bytes
}
const things = (doc: Node) => {
  const found: { kept: Kept; at: number; node: Node }[] = []
  doc.descendants((node, at) => {
    if (node.type.name === 'kept') found.push({ kept: node.attrs as Kept, at, node })
  })
  return found
}
const thing = (doc: Node, kind: string) => things(doc).find(({ kept }) => kept.kind === kind)!
/** Every relationship leads to a part that is there, every part has a type, and all of it is XML. */
function isSound(bytes: Uint8Array): void {
  const opened = openPackage(bytes)
  const types = text(bytes, '[Content_Types].xml')
  for (const name of opened.container.names) {
    if (/\.(xml|rels)$/.test(name)) parseXml(opened.bytes(name)!, name)
    if (name.startsWith('word/') && !name.includes('_rels/'))
      for (const { target, external } of opened.relationships(name).values())
        if (!external) expect(opened.bytes(target), `${name} to ${target}`).toBeDefined()
    const ending = name.slice(name.lastIndexOf('.') + 1)
    expect(types.includes(`"/${name}"`) || types.includes(`Extension="${ending}"`), name).toBe(true)
  }
  const unique = (pattern: RegExp) => {
    const ids = [...text(bytes).matchAll(pattern)].map(([, id]) => id)
    expect(new Set(ids).size).toBe(ids.length)
  }
  unique(/footnoteReference w:id="(\d+)"/g)
  unique(/commentReference w:id="(\d+)"/g)
  unique(/docPr id="(\d+)"/g)
}

const base = fileOf(body)
const { doc, limits } = readDocx(base)

describe('what is kept in its place', () => {
  test('is seen as what it is, with what it says', () => {
    expect(things(doc).map(({ kept: { kind, words: said } }) => [kind, said])).toEqual([
      ['footnote', 'See the lock diary.'],
      ['comment', 'Ida Brook: Since when?'],
      ['removed', 'badly'],
      ['equation', 'v=s/t'],
      ['chart', 'Water levels'],
      ['shape', 'Closed in May'],
      ['symbol', ''],
    ])
    expect(limits).toEqual([])
    // The very reader of drafts from before sees none of it.
    expect(things(readDocx(base, 1).doc)).toEqual([])
    expect(readDocx(base, 1).limits.map(({ feature }) => feature)).toContain('footnotes')
  })

  test('stays to the letter when words beside it change', () => {
    const { at } = thing(doc, 'equation')
    const after = patchDocx(base, new Transform(doc).insert(at, documentSchema.text('now ')).doc)
    expect(text(after).replace('Flow: now ', 'Flow: ')).toBe(text(base))
  })

  test.each(['footnote', 'comment', 'removed', 'equation', 'chart', 'shape', 'symbol'])(
    '%s moves to another paragraph as it is, and no other part changes',
    (kind) => {
      const { at, node } = thing(doc, kind)
      const last = doc.content.size - 1
      const target = new Transform(doc).insert(last, node).delete(at, at + 1).doc
      const after = patchDocx(base, target)
      expect(readDocx(after).doc.eq(target)).toBe(true)
      const [was, is] = [unzipSync(base), unzipSync(after)]
      for (const name of Object.keys(was)) if (name !== 'word/document.xml') expect(is[name], name).toEqual(was[name])
      isSound(after)
    },
  )

  test('there twice, a note is two notes, and a drawing has a number of its own', () => {
    const { node: note } = thing(doc, 'footnote')
    const { node: drawn } = thing(doc, 'chart')
    const target = new Transform(doc).insert(doc.content.size - 1, [note, drawn]).doc
    const after = patchDocx(base, target)
    isSound(after)
    expect(text(after, 'word/footnotes.xml').match(/See the lock diary/g)).toHaveLength(2)
    expect(text(after)).toMatch(/<w:rStyle w:val="FN"\/><\/w:rPr><w:footnoteReference w:id="3"\/>/)
    expect(readDocx(after).doc.eq(target)).toBe(true)
  })

  test('a comment that goes takes the marks of what it was about along', () => {
    const { at } = thing(doc, 'comment')
    const after = patchDocx(base, new Transform(doc).delete(at, at + 1).doc)
    expect(text(after)).not.toMatch(/commentRange|commentReference/)
    expect(readDocx(after).doc.textContent).toBe(doc.textContent)
  })

  test('in bold, moved and back: the model says so, and the file does', () => {
    const { at } = thing(doc, 'footnote')
    const target = new Transform(doc).addMark(at - 3, at + 3, documentSchema.marks.strong.create()).doc
    const after = patchDocx(base, target)
    expect(readDocx(after).doc.eq(target)).toBe(true)
    isSound(after)
    expect(patched(after, doc).bytes).toBeDefined()
  })
})

test('a paragraph that is made bold is bold around what was removed from it and around an equation', () => {
  const whole = new Transform(doc).addMark(0, doc.content.size, documentSchema.marks.strong.create()).doc
  const after = patchDocx(base, whole)
  const read = readDocx(after).doc
  expect(read.textContent).toBe(doc.textContent)
  read.descendants((node) => {
    if (node.isText) expect(node.marks.map(({ type: { name } }) => name)).toContain('strong')
  })
  expect(things(read).map(({ kept }) => kept)).toEqual(things(doc).map(({ kept }) => kept))
  isSound(after)
})

describe('into another file', () => {
  const others = {
    'of Jaula': writeDocx(
      documentSchema.node('doc', null, [documentSchema.node('paragraph', null, [documentSchema.text('Elsewhere')])]),
    ),
    'with notes and a chart of its own': fileOf([body[2]!, body[0]!], 'Another note.'),
  }
  test.each(Object.entries(others))('%s everything comes with all that it needs', (_name, file) => {
    const { doc: other } = readDocx(file)
    const target = new Transform(other).replace(
      other.content.size,
      other.content.size,
      new Slice(doc.content, 0, 0),
    ).doc
    const after = patchDocx(file, target)
    isSound(after)
    expect(readDocx(after).doc.eq(target)).toBe(true)
    const parts = unzipSync(after)
    expect(text(after, 'word/footnotes.xml')).toContain('See the lock diary.')
    expect(text(after, 'word/comments.xml')).toMatch(/w:author="Ida Brook"[\s\S]*Since when\?/)
    expect(Object.values(parts).some((part) => strFromU8(part) === 'the numbers')).toBe(true)
    expect(text(after, 'word/_rels/footnotes.xml.rels')).toContain('https://midland-canals.example/diary')
    // And again from there, as the next save does.
    expect(readDocx(patchDocx(after, other)).doc.eq(other)).toBe(true)
  })

  test('a merge brings the other side’s note into the version that it is saved on', () => {
    const plain = fileOf([`<w:p>${words('Lock 7 is open.')}</w:p>`, `<w:p>${words('The weir leaks.')}</w:p>`])
    const { doc: before } = readDocx(plain)
    const mine = new Transform(before).insert(7, thing(doc, 'footnote').node).doc
    const theirs = new Transform(before).insert(before.content.size - 1, documentSchema.text(' Badly.')).doc
    const head = patchDocx(plain, theirs)
    const { doc: merged, conflicts } = mergeDocuments(before, mine, readDocx(head).doc)
    expect(conflicts).toEqual([])
    const after = patchDocx(head, merged)
    expect(things(readDocx(after).doc).map(({ kept }) => kept.words)).toEqual(['See the lock diary.'])
    expect(readDocx(after).doc.textContent).toBe('Lock 7 is open.The weir leaks. Badly.')
    isSound(after)
  })

  test('what cannot be carried is told by name, and the rest is there', () => {
    const { at, node, kept } = thing(doc, 'chart')
    const heavy = documentSchema.nodes.kept.create({ ...kept, parts: null })
    const target = new Transform(doc).replaceWith(at, at + node.nodeSize, heavy).doc
    const { bytes, lost } = writeWholeDocx(target)
    expect(lost).toEqual([{ feature: 'charts', count: 1, where: ['Water levels'] }])
    expect(things(readDocx(bytes).doc)).toHaveLength(6)
  })
})

describe('any of it anywhere', () => {
  const all = things(doc).map(({ node }) => node)
  const places = fc.array(fc.tuple(fc.nat(), fc.constantFrom(...all)), { minLength: 1, maxLength: 5 })
  const withThings = (paper: Node, where: readonly (readonly [number, Node])[]): Node => {
    const change = new Transform(paper)
    for (const [dice, node] of where) {
      const blocks: number[] = []
      change.doc.descendants((one, at) => {
        if (!one.isTextblock) return
        const offset = one.content.size ? dice % (one.content.size + 1) : 0
        // Never between the halves of a letter beyond 16 bits.
        const beside = one.textBetween(Math.max(0, offset - 1), offset, '', ' ')
        blocks.push(at + 1 + (/[\ud800-\udbff]$/.test(beside) ? offset - 1 : offset))
      })
      if (blocks.length) change.replace(blocks[dice % blocks.length]!, undefined, new Slice(Fragment.from(node), 0, 0))
    }
    return change.doc
  }
  test('a document written whole has it, and reads back', () => {
    fc.assert(
      fc.property(anyDocument, places, (paper, where) => {
        const target = withThings(paper, where)
        const { bytes, lost } = writeWholeDocx(target)
        if (lost.length === 0) expect(readDocx(bytes).doc.eq(target)).toBe(true)
        // Only what the writer of edits does not know yet may stand in the way.
        else expect(JSON.stringify(target)).toMatch(/"table"|"image"|"link"/)
        expect(text(bytes)).not.toContain('\u0000')
      }),
      { numRuns: 25 },
    )
  })
  test('shuffled in its own file it is written in place, and nothing of another part is lost', () => {
    const moves = fc.array(fc.tuple(fc.nat(), fc.nat(), fc.boolean()), { minLength: 1, maxLength: 6 })
    fc.assert(
      fc.property(moves, (steps) => {
        let now = doc
        for (const [which, where, copy] of steps) {
          const here = things(now)
          if (!here.length) break
          const { at, node } = here[which % here.length]!
          const change = new Transform(now)
          if (!copy) change.delete(at, at + 1)
          now = withThings(change.doc, [[where, node]])
        }
        const after = patchDocx(base, now)
        expect(readDocx(after).doc.eq(now)).toBe(true)
        isSound(after)
      }),
      { numRuns: Number(process.env.RUNS ?? 40) },
    )
  })
})
