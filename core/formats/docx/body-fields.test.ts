// Fields in the text itself: each whose result nobody writes in is one thing of its line, with what it came to.
import fc from 'fast-check'
import { strFromU8, unzipSync } from 'fflate'
import { Fragment, type Node } from 'prosemirror-model'
import { Transform } from 'prosemirror-transform'
import { expect, test } from 'vitest'
import { openingOf, wordCount } from '../../content/document'
import { wordsOfDocument } from '../../content/words'
import { patchDocx } from './patch'
import { readDocx } from './read'
import { fileOf } from './testing'

const run = (inside: string) => `<w:r>${inside}</w:r>`
const text = (words: string) => run(`<w:t xml:space="preserve">${words}</w:t>`)
const bar = (type: string) => run(`<w:fldChar w:fldCharType="${type}"/>`)
const field = (code: string, result: string) =>
  `${bar('begin')}${run(`<w:instrText xml:space="preserve"> ${code} </w:instrText>`)}${bar('separate')}${result}${bar('end')}`
const bodyOf = (bytes: Uint8Array) => strFromU8(unzipSync(bytes)['word/document.xml']!)
const kept = (doc: Node) => {
  const found: [string, string][] = []
  doc.descendants((node) => {
    if (node.type.name === 'kept') found.push([node.attrs.kind, node.attrs.words])
  })
  return found
}

const reference = field('REF _Ref12 \\h', text('Part 3'))
const figure = '<w:fldSimple w:instr=" SEQ Figure "><w:r><w:rPr><w:b/></w:rPr><w:t>4</w:t></w:r></w:fldSimple>'
const link = field('HYPERLINK "https://canal.example/"', text('the notice'))
const pages = field('NUMPAGES', text('12'))
const file = fileOf(
  `<w:p>${text('As told in ')}${reference}${text(' and ')}${link}.</w:p><w:p>${text('Figure ')}${figure}${text(' of ')}${pages}</w:p>`,
)

test('a reference, a number and a count are things with their last result; a link’s words stay text', () => {
  const { doc, limits } = readDocx(file)
  expect(kept(doc)).toEqual([
    ['field', 'Part 3'],
    ['field', '4'],
    ['field', '12'],
  ])
  expect(doc.child(0).textContent).toBe('As told in  and the notice')
  // Of what is left as text it is told.
  expect(limits.map(({ feature, count }) => [feature, count])).toEqual([['fields (their last result stays)', 1]])
  expect(kept(readDocx(file, 3).doc)).toEqual([])
  expect(wordsOfDocument(doc).text).toBe('As told in Part 3 and the notice\nFigure 4 of 12')
  expect([openingOf(doc), wordCount(doc)]).toEqual(['As told in Part 3 and the notice', 12])
})

test('what is written beside one leaves it as it is; moved it goes whole, and another look of it is its result’s', () => {
  const { doc } = readDocx(file)
  const typed = new Transform(doc).insert(1, doc.type.schema.text('Now: ')).doc
  const beside = patchDocx(file, typed)
  expect(beside.lost).toEqual([])
  expect(bodyOf(beside.bytes)).toBe(bodyOf(file).replace('As told in ', 'Now: As told in '))

  const [first, second] = [doc.child(0), doc.child(1)]
  const thing = first.child(1)
  const moved = doc.copy(
    Fragment.from([
      first.copy(Fragment.from(first.children.filter((one) => one !== thing))),
      second.copy(second.content.addToEnd(thing)),
    ]),
  )
  const patched = patchDocx(file, moved)
  expect(patched.lost).toEqual([])
  expect(bodyOf(patched.bytes).split('REF _Ref12 \\h')).toHaveLength(2)
  expect(readDocx(patched.bytes).doc.eq(moved)).toBe(true)

  const slanted = new Transform(doc).addMark(1, doc.child(0).nodeSize - 1, doc.type.schema.marks.em!.create()).doc
  const leaning = patchDocx(file, slanted)
  expect(leaning.lost).toEqual([])
  expect(readDocx(leaning.bytes).doc.eq(slanted)).toBe(true)
})

test('one that ends in another paragraph, or came to nothing, is no thing: nothing of it goes', () => {
  const open = `${bar('begin')}${run('<w:instrText> TOC \\o </w:instrText>')}${bar('separate')}`
  const bytes = fileOf(
    `<w:p>${open}${text('Sluices')}</w:p><w:p>${text('Gates')}${bar('end')}</w:p><w:p>${text('Empty')}${field('REF x', '')}</w:p>`,
  )
  const { doc } = readDocx(bytes)
  expect(kept(doc)).toEqual([])
  const typed = new Transform(doc).insert(1, doc.type.schema.text('On ')).doc
  expect(bodyOf(patchDocx(bytes, typed).bytes)).toBe(bodyOf(bytes).replace('Sluices', 'On Sluices'))
})

test('another look leaves what stands between words between them: bookmarks, and the ends of links', () => {
  const pieces = fc.array(
    fc.record({
      words: fc.constantFrom('Gate ', 'paddle', ' and ', 'sill, ', 'x'),
      italic: fc.boolean(),
      as: fc.constantFrom('plain', 'plain', 'link', 'bookmark'),
    }),
    { minLength: 1, maxLength: 7 },
  )
  const drawn = (all: readonly { words: string; italic: boolean; as: string }[]) =>
    all
      .map(({ words, italic, as }, at) => {
        const said = run(`${italic ? '<w:rPr><w:i/></w:rPr>' : ''}<w:t xml:space="preserve">${words}</w:t>`)
        if (as === 'link') return field('HYPERLINK "x"', said)
        if (as !== 'bookmark') return said
        return `<w:bookmarkStart w:id="${at}" w:name="b${at}"/>${said}<w:bookmarkEnd w:id="${at}"/>`
      })
      .join('')
  /** How many letters stand before each of what is between them. */
  const marksIn = (bytes: Uint8Array) => {
    const found: [string, number][] = []
    let letters = 0
    for (const [whole, words] of bodyOf(bytes).matchAll(
      /<w:t(?: [^>]*)?>([^<]*)<\/w:t>|<w:(?:bookmark\w+|fldChar|instrText)[^>]*>/g,
    ))
      if (words === undefined) found.push([whole, letters])
      else letters += words.length
    return found
  }
  fc.assert(
    fc.property(pieces, fc.nat(), fc.nat(), fc.constantFrom('em', 'strong'), (drawnOf, a, b, name) => {
      // Each word once: of two that are the same nobody can say which is which.
      const all = drawnOf.map((one, at) => ({ ...one, words: `${'abcdefg'[at]}${one.words}` }))
      const bytes = fileOf(`<w:p>${drawn(all)}</w:p>`)
      const { doc } = readDocx(bytes)
      const size = doc.child(0).content.size
      const [from, to] = [a % size, b % size].toSorted((one, two) => one - two) as [number, number]
      const mark = doc.type.schema.marks[name]!.create()
      const change = new Transform(doc)
      if (doc.rangeHasMark(from + 1, to + 2, mark.type)) change.removeMark(from + 1, to + 2, mark)
      else change.addMark(from + 1, to + 2, mark)
      const { bytes: saved, lost } = patchDocx(bytes, change.doc)
      expect(lost).toEqual([])
      expect(marksIn(saved)).toEqual(marksIn(bytes))
    }),
    {
      numRuns: 60,
      examples: [
        // The words of one that is straight now are words of others that were straight before.
        [
          [
            { words: 'Gate ', italic: true, as: 'bookmark' },
            ...[true, false, true, false].map((italic, at) => ({ words: at ? 'Gate ' : 'x', italic, as: 'plain' })),
            { words: 'paddle', italic: false, as: 'plain' },
          ],
          1807451561,
          0,
          'em',
        ],
      ],
    },
  )
})
