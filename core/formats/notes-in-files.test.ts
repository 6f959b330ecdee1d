// Notes and comments that are written, changed and removed here: what a file of either standard holds of them then.
import fc from 'fast-check'
import { strFromU8, unzipSync } from 'fflate'
import type { Node } from 'prosemirror-model'
import { Transform } from 'prosemirror-transform'
import { describe, expect, test } from 'vitest'
import { compareDocuments } from '../compare/document'
import { sayDocumentChanges } from '../compare/words'
import { keyOfComment, linkAt, withoutRanges } from '../content/comment-ranges'
import { documentSchema } from '../content/document'
import { anyDocument } from '../content/document.arbitrary'
import type { Kept } from '../content/kept'
import { mergeDocuments } from '../merge/document'
import { english } from '../words/testing'
import { readDocument, writeDocument } from './documents'
import { readPassages } from './docx/passages'
import { fileOf, w } from './docx/testing'
import { linesSaid, newComment, newNote, saying } from './note-words'
import { bodyXml, odtOf } from './odt/testing'
import { decoded } from './opc/spans'
import { commentRangesLost } from './refusals'

const w14 = 'urn:example:w14'
const w15 = 'urn:example:w15'
const run = (text: string, look = '') => `<w:r>${look}<w:t xml:space="preserve">${text}</w:t></w:r>`
const reference = (kind: string, id: number) => `<w:r><w:${kind}Reference w:id="${id}"/></w:r>`
const comment = (id: number, who: string, paragraph: string, words: string) =>
  `<w:comment w:id="${id}" w:author="${who}" w:date="2026-10-0${id}T08:00:00Z"><w:p w14:paraId="${paragraph}">${run(words)}</w:p></w:comment>`
/** Two footnotes, and a comment that another one answers, as other programs write them. */
const docx = fileOf(
  `<w:p>${run('The sill')}${reference('footnote', 2)}${run(' is worn')}${reference('footnote', 3)}${run('.')}</w:p>` +
    `<w:p><w:commentRangeStart w:id="1"/><w:commentRangeStart w:id="2"/>${run('The weir')}<w:commentRangeEnd w:id="1"/>${reference('comment', 1)}<w:commentRangeEnd w:id="2"/>${reference('comment', 2)}${run(' leaks.')}</w:p>`,
  {
    footnotes: `<w:footnotes xmlns:w="${w}"><w:footnote w:type="separator" w:id="-1"><w:p><w:r><w:separator/></w:r></w:p></w:footnote><w:footnote w:id="2"><w:p><w:r><w:footnoteRef/></w:r>${run(' Seen in ')}${run('June', '<w:rPr><w:b/></w:rPr>')}${run('.')}</w:p></w:footnote><w:footnote w:id="3"><w:p>${run('Lock diary.')}</w:p></w:footnote></w:footnotes>`,
    comments: `<w:comments xmlns:w="${w}" xmlns:w14="${w14}">${comment(1, 'Ida Thornquist', '0A', 'Since when?')}${comment(2, 'Ben Marlowe', '0B', 'Since May.')}</w:comments>`,
    commentsExtended: `<w15:commentsEx xmlns:w15="${w15}"><w15:commentEx w15:paraId="0A" w15:done="1"/><w15:commentEx w15:paraId="0B" w15:paraIdParent="0A" w15:done="1"/></w15:commentsEx>`,
  },
)
const odt = odtOf(
  '<text:p>The sill<text:note text:id="n1" text:note-class="footnote"><text:note-citation>1</text:note-citation><text:note-body><text:p text:style-name="Footnote">Seen in <text:span text:style-name="T1">June</text:span>.</text:p></text:note-body></text:note> is worn<text:note text:id="n2" text:note-class="footnote"><text:note-citation>2</text:note-citation><text:note-body><text:p>Lock diary.</text:p></text:note-body></text:note>.</text:p>' +
    '<text:p><office:annotation office:name="c1"><dc:creator>Ida Thornquist</dc:creator><dc:date>2026-10-01T08:00:00</dc:date><text:p>Since when?</text:p></office:annotation>The weir<office:annotation-end office:name="c1"/> leaks.</text:p>',
  { styles: '<style:style style:name="Standard" style:family="paragraph"/>' },
)
const files = { docx, odt }
type Type = keyof typeof files

const all = (doc: Node) => {
  const found: { kept: Kept; at: number }[] = []
  doc.descendants((node, at) => {
    if (node.type.name === 'kept') found.push({ kept: node.attrs as Kept, at })
  })
  return found
}
const said = (doc: Node) => all(doc).map(({ kept }) => `${kept.kind}: ${kept.words}`)
const find = (doc: Node, words: string) => all(doc).find(({ kept }) => kept.words.includes(words))!
const part = (bytes: Uint8Array, name: string) => strFromU8(unzipSync(bytes)[`word/${name}.xml`] ?? new Uint8Array())
const node = (kept: Kept) => documentSchema.nodes.kept.create(kept)

/** A file after a change, which has to be in it as it is meant. */
function changed(type: Type, change: (tr: Transform) => void, from = files[type]) {
  const { doc } = readDocument(from, type)
  const tr = new Transform(doc)
  change(tr)
  const { bytes, lost } = writeDocument(tr.doc, from, type)
  expect(lost).toEqual([])
  const again = readDocument(bytes, type).doc
  // Written once more from there, nothing changes: what was said anew is the file's own by then.
  expect(writeDocument(again, bytes, type).bytes).toEqual(bytes)
  return { bytes, doc: again, meant: tr.doc }
}
const sayInstead = (tr: Transform, words: string, lines: string[]) => {
  const { kept, at } = find(tr.doc, words)
  tr.setNodeMarkup(at, null, saying(kept, lines))
}

describe.each(['docx', 'odt'] as const)('in %s', (type) => {
  test('a note says something else, with the looks that it had, and the other one stays', () => {
    const { doc, meant, bytes } = changed(type, (tr) => sayInstead(tr, 'June', ['Seen in late June, at low water.']))
    expect(doc.eq(meant)).toBe(true)
    expect(said(doc).slice(0, 2)).toEqual(['footnote: Seen in late June, at low water.', 'footnote: Lock diary.'])
    if (type === 'docx') {
      expect(part(bytes, 'footnotes')).toContain(
        run(' Seen in late ') + run('June, at low water', '<w:rPr><w:b/></w:rPr>'),
      )
      expect(part(bytes, 'document')).toBe(part(docx, 'document'))
    } else
      expect(bodyXml(bytes)).toContain('Seen in late <text:span text:style-name="T1">June, at low water</text:span>.')
  })
  test('a note of several lines is written at a place, and gone on with', () => {
    const first = changed(type, (tr) => tr.insert(5, node(newNote('footnote', ['Lock 7', 'Read by Ida']))))
    expect(said(first.doc)[0]).toBe('footnote: Lock 7 Read by Ida')
    expect(linesSaid(all(first.doc)[0]!.kept)).toEqual(['Lock 7', 'Read by Ida'])
    const second = changed(
      type,
      (tr) => sayInstead(tr, 'Lock 7', ['Lock 7', 'Read by Ida', 'On 3 October']),
      first.bytes,
    )
    expect(linesSaid(all(second.doc)[0]!.kept)).toEqual(['Lock 7', 'Read by Ida', 'On 3 October'])
    expect(said(second.doc).slice(1)).toEqual(said(readDocument(files[type], type).doc))
  })
  test('a comment is written, with who and when, and goes again without a trace', () => {
    const one = newComment('Tomás Rey', '2026-10-19T09:30:00Z', ['Say which gate.'])
    const { bytes, doc } = changed(type, (tr) => tr.insert(5, node(one)))
    expect(said(doc)[0]).toMatch(/^comment: (?:Tomás Rey: )?Say which gate\.$/)
    const where = type === 'docx' ? part(bytes, 'comments') : bodyXml(bytes)
    expect(where).toMatch(/Tomás Rey[\s\S]*Say which gate\./)
    expect(where).toContain('2026-10-19T09:30:00Z')
    const gone = changed(type, (tr) => tr.delete(5, 6), bytes)
    expect(gone.doc.eq(readDocument(files[type], type).doc)).toBe(true)
    for (const inside of Object.values(unzipSync(gone.bytes))) expect(strFromU8(inside)).not.toContain('which gate')
  })
  test('a note that goes is nowhere in the file any more', () => {
    const { bytes, doc } = changed(type, (tr) => {
      const { at } = find(tr.doc, 'diary')
      tr.delete(at, at + 1)
    })
    expect(said(doc)[0]).toBe('footnote: Seen in June.')
    for (const inside of Object.values(unzipSync(bytes))) expect(strFromU8(inside)).not.toContain('Lock diary')
  })
})

test('a comment that says something else keeps its answers, its number and that it is done', () => {
  const { bytes } = changed('docx', (tr) => sayInstead(tr, 'Since when?', ['Since when, and how badly?']))
  expect(part(bytes, 'comments')).toContain(
    '<w:p w14:paraId="0A"><w:r><w:t xml:space="preserve">Since when, and how badly?',
  )
  expect(part(bytes, 'commentsExtended')).toBe(part(docx, 'commentsExtended'))
  expect(part(bytes, 'document')).toBe(part(docx, 'document'))
})
test('where a comment goes, what answered it stays, and nothing is said of what is not there', () => {
  const { bytes, doc } = changed('docx', (tr) => {
    const { at } = find(tr.doc, 'Since when?')
    tr.delete(at, at + 1)
  })
  expect(said(doc).at(-1)).toBe('comment: Ben Marlowe: Since May.')
  expect(part(bytes, 'commentsExtended')).toBe(
    `<w15:commentsEx xmlns:w15="${w15}"><w15:commentEx w15:paraId="0B" w15:done="1"/></w15:commentsEx>`,
  )
})
test.each([
  ['docx', 'odt'],
  ['odt', 'docx'],
] as const)('from %s to %s notes and comments go along', (from, to) => {
  const { doc } = readDocument(files[from], from)
  const { bytes, lost } = writeDocument(doc, files[from], to, from)
  // What a comment is about is told where it does not go along.
  const about = { docx: 2, odt: 1 }[from]
  expect(lost).toContainEqual(expect.objectContaining({ feature: commentRangesLost, count: about }))
  const words = (of: Node) => said(of).map((one) => one.replace(/: (?:Ida Thornquist|Ben Marlowe): /, ': '))
  expect(words(readDocument(bytes, to).doc)).toEqual(words(doc))
  const inside = Object.values(unzipSync(bytes)).map((one) => strFromU8(one))
  expect(inside.some((one) => one.includes('Ida Thornquist') && one.includes('2026-10-01T08:00:00'))).toBe(true)
})

test('compare tells comments and notes that were written, answered, changed and taken out, with what they say', () => {
  const { doc } = readDocument(docx, 'docx')
  const told = (change: (tr: Transform) => void) => {
    const tr = new Transform(doc)
    change(tr)
    const changes = compareDocuments(doc, tr.doc)
    return [english(sayDocumentChanges(changes)), ...changes.places.map(({ before, now }) => `${before} → ${now}`)]
  }
  const behind = (words: string) => find(doc, words).at + 1
  const one = newComment('Tomás Rey', '2026-10-19T09:30:00Z', ['Which sill?'])
  expect(told((tr) => tr.insert(5, node(one)))).toEqual(['1 comment written.', ' → [Tomás Rey: Which sill?]'])
  expect(told((tr) => tr.insert(behind('Since May'), node(one)))[0]).toBe('1 comment answered.')
  expect(told((tr) => sayInstead(tr, 'diary', ['Lock book.']))).toEqual([
    '1 note says something else.',
    '[Lock diary.] → [Lock book.]',
  ])
  expect(told((tr) => tr.delete(behind('Since May') - 1, behind('Since May')))[0]).toBe('1 comment taken out.')
  expect(told((tr) => tr.insert(5, node(newNote('endnote', ['Ask Ben']))).delete(1, 3))[0]).toBe(
    '1 word added, 1 removed; 1 note written.',
  )
})
test('what two said at the same time comes together, also where one changed the words around it', () => {
  const { doc } = readDocument(docx, 'docx')
  const mine = new Transform(doc)
  sayInstead(mine, 'June', ['Seen in July.'])
  mine.insert(5, node(newComment('Tomás Rey', '2026-10-19T09:30:00Z', ['Which sill?'])))
  const theirs = new Transform(doc).insert(1, documentSchema.text('Look: '))
  const merged = mergeDocuments(doc, mine.doc, theirs.doc)
  expect(merged.conflicts).toEqual([])
  expect(said(merged.doc)).toEqual(said(mine.doc))
  expect(merged.doc.textContent).toContain('Look: The sill')
  const head = writeDocument(theirs.doc, docx, 'docx').bytes
  const { bytes, lost } = writeDocument(merged.doc, head, 'docx')
  expect(lost).toEqual([])
  expect(readDocument(bytes, 'docx').doc.eq(merged.doc)).toBe(true)
})

describe('what a comment is about', () => {
  const one = newComment('Tomás Rey', '2026-10-19T09:30:00Z', ['Which gate?'])
  const mark = documentSchema.marks.about.create({ comment: keyOfComment(one)! })
  /** A text with a comment about some of its letters, behind them or before them. */
  const about = (doc: Node, from: number, to: number, before: boolean) => {
    const place = before ? from : to
    const tr = new Transform(doc).insert(place, node(one).mark(linkAt(doc.resolve(place))))
    return tr.addMark(from + Number(before), to + Number(before), mark).doc
  }
  const letters = (doc: Node) => {
    const found: number[] = []
    doc.descendants((child, at) => {
      for (let letter = 0; letter < (child.text?.length ?? 0); letter++)
        if (!/[\ud800-\udfff]/.test(child.text![letter]!)) found.push(at + letter)
    })
    return found
  }
  test('is said in any docx where it begins and ends, once, however often it is saved', () => {
    fc.assert(
      fc.property(anyDocument, fc.nat(), fc.nat(), (written, first, last) => {
        const base = writeDocument(written, null, 'docx').bytes
        const { doc } = readDocument(base, 'docx')
        const all = letters(doc)
        fc.pre(all.length > 0)
        const [from, to] = [all[first % all.length]!, all[last % all.length]!].toSorted((a, b) => a - b) as [
          number,
          number,
        ]
        const marked = about(doc, from, to + 1, false)
        const saved = writeDocument(marked, base, 'docx')
        expect(saved.lost).toEqual([])
        const passages = readPassages(saved.bytes)?.passages.filter(({ kind }) => kind === 'comment') ?? []
        // In several paragraphs it is a stretch of each.
        expect([passages[0]?.from, passages.at(-1)?.to]).toEqual([from, to + 1])
        const again = writeDocument(marked, saved.bytes, 'docx').bytes
        expect(part(again, 'document').match(/commentRangeStart/g)).toHaveLength(1)
        expect(readDocument(saved.bytes, 'docx').doc.eq(withoutRanges(marked))).toBe(true)
      }),
      { numRuns: 60, endOnFailure: true },
    )
  })
  test('is said in any text of the open standard from the comment to where it ends', () => {
    fc.assert(
      fc.property(anyDocument, fc.nat(), fc.nat(), (written, first, last) => {
        const base = writeDocument(written, null, 'odt').bytes
        const { doc } = readDocument(base, 'odt')
        const all = letters(doc)
        fc.pre(all.length > 0)
        const [from, to] = [all[first % all.length]!, all[last % all.length]!].toSorted((a, b) => a - b) as [
          number,
          number,
        ]
        const { bytes } = writeDocument(about(doc, from, to + 1, true), base, 'odt')
        const said = /<office:annotation [\s\S]*?<\/office:annotation>([\s\S]*)<office:annotation-end/.exec(
          bodyXml(bytes),
        )![1]!
        const plain = (text: string) => text.replace(/\s+/g, '')
        expect(plain(decoded(said.replace(/<draw:frame[\s\S]*?<\/draw:frame>|<[^>]*>/g, '')))).toBe(
          plain(doc.textBetween(from, to + 1)),
        )
        expect(said).not.toContain('office:annotation')
      }),
      { numRuns: 60, endOnFailure: true },
    )
  })
  test('goes with its comment, and into no other type', () => {
    const { doc } = readDocument(docx, 'docx')
    const saved = writeDocument(about(doc, 1, 4, false), docx, 'docx').bytes
    expect(part(saved, 'document')).toMatch(
      /<w:commentRangeStart w:id="3"\/><w:r><w:t[^>]*>The<\/w:t><\/w:r><w:commentRangeEnd w:id="3"\/><w:r><w:commentReference w:id="3"\/>/,
    )
    const gone = writeDocument(doc, saved, 'docx').bytes
    expect(part(gone, 'document').match(/commentRangeStart/g)).toHaveLength(2)
    const marked = new Transform(doc).addMark(1, 4, mark).doc
    for (const type of ['rtf', 'html', 'txt', 'md'])
      expect(writeDocument(marked, docx, type, 'docx').bytes).toEqual(writeDocument(doc, docx, type, 'docx').bytes)
    // Marked without its comment nothing is said.
    expect(writeDocument(marked, docx, 'docx').bytes).toEqual(docx)
  })
})
