import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import type { Kept } from '../content/kept'
import { linesSaid, newComment, newNote, saying, sayingIn } from './note-words'
import { decoded } from './opc/spans'
import { parseXml } from './opc/xml'

const w = 'xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"'
const kept = (kind: Kept['kind'], xml: string): Kept => ({ kind, words: '', xml, parts: [] })
/** Letters of lines, with what has to be written otherwise in XML among them. */
const letters = fc
  .string({ unit: fc.constantFrom('a', 'b', 'ä', ' ', ' ', '<', '&', '"', '‑', '1', '𝄞'), maxLength: 12 })
  .map((text) => text.trim())
const lines = fc.array(letters, { minLength: 1, maxLength: 4 })
const escape = (text: string) => text.replace(/&/g, '&amp;').replace(/</g, '&lt;')

/** A note of either standard whose runs look otherwise, with breaks, fields and pictures among its words. */
const piece = fc.record({
  text: letters,
  look: fc.constantFrom('', 'b', 'i'),
  behind: fc.constantFrom('', '', 'break', 'thing'),
})
const noteLines = fc.array(fc.array(piece, { maxLength: 4 }), { minLength: 1, maxLength: 3 })
type Pieces = { text: string; look: string; behind: string }[]
const wordprocessing = (all: Pieces[]): Kept =>
  kept(
    'footnote',
    `<w:footnote ${w} w:id="0">${all
      .map(
        (line, at) =>
          `<w:p><w:pPr><w:pStyle w:val="Notes"/></w:pPr>${at ? '' : '<w:r><w:footnoteRef/></w:r>'}${line
            .map(
              ({ text, look, behind }) =>
                `<w:r>${look && `<w:rPr><w:${look}/></w:rPr>`}<w:t xml:space="preserve">${escape(text)}</w:t>${
                  { '': '', break: '<w:br/>', thing: '<w:drawing/>' }[behind]
                }</w:r>`,
            )
            .join('')}</w:p>`,
      )
      .join('')}</w:footnote>`,
  )
const openDocument = (all: Pieces[]): Kept =>
  kept(
    'footnote',
    `<text:note text:id="n1" text:note-class="footnote"><text:note-citation>1</text:note-citation><text:note-body>${all
      .map(
        (line) =>
          `<text:p text:style-name="Notes">${line
            .map(
              ({ text, look, behind }) =>
                `${look ? `<text:span text:style-name="${look}">${escape(text)}</text:span>` : escape(text)}${
                  {
                    '': '',
                    break: '<text:line-break/>',
                    thing: '<draw:frame><draw:image/></draw:frame>',
                  }[behind]
                }`,
            )
            .join('')}</text:p>`,
      )
      .join('')}</text:note-body></text:note>`,
  )
const things = ({ xml }: Kept) => xml.match(/<(?:w:drawing|draw:frame)/g)?.length ?? 0
const looks = ({ xml }: Kept) =>
  [...xml.matchAll(/<w:(b|i)\/>|<text:span text:style-name="(\w)"/g)].map(([, a, b]) => a ?? b).join('')
/** All letters of its XML. */
const lettersOf = ({ xml }: Kept) => decoded(xml.replace(/<text:s\b[^>]*>/g, ' ').replace(/<[^>]*>/g, ''))
const plainLines = (texts: string[]) => texts.map((text) => text.replace(/\s+/g, ' ').trim())

describe.each([
  ['WordprocessingML', wordprocessing],
  ['OpenDocument', openDocument],
])('a note of %s', (_standard, note) => {
  test('says what was written into it, whatever it said and however that looked', () => {
    fc.assert(
      fc.property(noteLines, lines, (all, wanted) => {
        const was = note(all)
        const is = saying(was, wanted)!
        expect(plainLines(linesSaid(is)!)).toEqual(plainLines(wanted))
        expect(is.words.replaceAll(' ', '')).toBe(wanted.join('').replaceAll(' ', ''))
        parseXml(new TextEncoder().encode(is.xml), 'XML')
        // Lines that are said again take nothing away.
        if (wanted.length >= all.length) expect(things(is)).toBe(things(was))
        expect(saying(is, wanted)).toEqual(is)
      }),
      { numRuns: 300 },
    )
  })
  test('keeps the look of every word beside the one that is put in', () => {
    fc.assert(
      fc.property(noteLines, fc.nat(), fc.nat(), (all, line, place) => {
        const was = note(all)
        const said = linesSaid(was)!
        const at = line % said.length
        const text = said[at]!
        const cut = text ? place % (text.length + 1) : 0
        // Not within a letter of two parts.
        fc.pre(!/[\uDC00-\uDFFF]/.test(text[cut] ?? ''))
        const is = saying(was, said.with(at, `${text.slice(0, cut)}x${text.slice(cut)}`))!
        expect(looks(is)).toBe(looks(was))
        expect(things(is)).toBe(things(was))
        expect(lettersOf(is).replace('x', '').replace(/ +/g, ' ')).toBe(lettersOf(was).replace(/ +/g, ' '))
      }),
      { numRuns: 300 },
    )
  })
})

test('what is written over words looks as they did, and what is written behind them goes on with them', () => {
  const was = kept(
    'footnote',
    `<w:footnote ${w} w:id="0"><w:p><w:r><w:t xml:space="preserve"> See the </w:t></w:r><w:r><w:rPr><w:b/></w:rPr><w:t>diary</w:t></w:r><w:r><w:t>.</w:t></w:r></w:p></w:footnote>`,
  )
  expect(saying(was, ['See the book.'])!.xml).toContain('<w:b/></w:rPr><w:t xml:space="preserve">book</w:t>')
  expect(saying(was, ['See the diary of LK02.'])!.xml).toContain('<w:t xml:space="preserve">diary of LK02</w:t>')
  expect(saying(was, ['See the diary.', 'And the log.'])!.xml).toMatch(
    /<w:p><w:r><w:t xml:space="preserve">And the log\.<\/w:t><\/w:r><\/w:p><\/w:footnote>$/,
  )
})
test('a new comment names who wrote it and when, and says its lines', () => {
  const one = newComment('Ida Thornquist', '2026-10-19T08:30:00.120Z', ['Which gate?', 'The lower one, I think.'])
  expect(one.words).toBe('Ida Thornquist: Which gate? The lower one, I think.')
  expect(linesSaid(one)).toEqual(['Which gate?', 'The lower one, I think.'])
  expect(one.xml).toContain('w:author="Ida Thornquist" w:date="2026-10-19T08:30:00Z" w:initials="IT"')
})
test('a new note has its sign before its words', () => {
  const one = newNote('endnote', ['Lock diary, p. 4', 'Read on 3 October'])
  expect(one.xml).toMatch(/<w:endnoteRef\/><\/w:r><w:r><w:t xml:space="preserve"> Lock diary, p\. 4<\/w:t>/)
  expect(linesSaid(one)).toEqual(['Lock diary, p. 4', 'Read on 3 October'])
})
test('what is no note, refers to nothing or has more between its tags is left', () => {
  expect(linesSaid(kept('equation', `<m:oMath/>`))).toBe(null)
  expect(linesSaid(kept('footnote', `<w:footnoteReference ${w} w:id="9"/>`))).toBe(null)
  expect(sayingIn('<w:footnote><w:p><w:r><w:t>a<!-- b --></w:t></w:r></w:p></w:footnote>', ['c'], 'w:')).toBe(null)
})
