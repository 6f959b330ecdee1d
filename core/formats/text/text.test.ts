// Plain text: whatever a file holds comes back as it was but for what was changed, and what a text cannot hold is told.
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { documentSchema, storableText } from '../../content/document'
import { documentWithEdges } from '../../content/document.arbitrary'
import { withEdges } from '../../content/edges'
import { writableBeside } from '../types'
import { encoded, encodings } from './encoding'
import { linesOf, mostLetters, mostLines, readText } from './read'
import { lostAsText, textEncodings, writeText } from './write'

const { nodes } = documentSchema
const bytesOf = (text: string) => new TextEncoder().encode(text)
const line = (text: string) => nodes.paragraph.create(null, text ? documentSchema.text(text) : null)
const document = (...lines: string[]) => nodes.doc.create(null, lines.map(line))
const wordsIn = (bytes: Uint8Array) => {
  const words: string[] = []
  readText(bytes).doc.forEach((node) => void words.push(node.textContent))
  return words
}
const letters = fc.string({ unit: fc.constantFrom('a', ' ', '\t', 'ß', '\n', '\r', '\r\n', '\f', '\u2028', '水') })

describe('a text', () => {
  test('read and written is the same bytes, in whatever encoding and with whatever ends of lines', () => {
    fc.assert(
      fc.property(letters, fc.constantFrom(...encodings), (text, encoding) => {
        const bytes = encoded(text, encoding) ?? bytesOf(text)
        const from = readText(bytes)
        expect(writeText(from.doc, from)).toEqual({ bytes, lost: [] })
      }),
      { numRuns: 500 },
    )
  })
  test('is written in the letters and with the ends that somebody asks for, and is recognised as them', () => {
    const ends = fc.constantFrom('\n' as const, '\r\n' as const)
    const wide = fc.string({ unit: fc.constantFrom('a', 'ß', '水', ' ') })
    fc.assert(
      fc.property(
        fc.array(wide, { minLength: 2, maxLength: 5 }),
        letters,
        fc.boolean(),
        fc.constantFrom(...textEncodings),
        ends,
        (lines, before, isNew, encoding, end) => {
          const from = isNew ? null : readText(bytesOf(`${before}\n`))
          const { bytes, lost } = writeText(document(...lines), from, { encoding, end })
          const read = readText(bytes)
          expect([wordsIn(bytes), read.end, new Set(read.lines.map((one) => one.end))]).toEqual([
            lines,
            end,
            new Set([end]),
          ])
          // Nothing that it has no letters for is lost, and it is told that it is not what was asked for.
          const could = encoding !== 'windows-1252' || !lines.some((one) => one.includes('水'))
          expect(lost.map(({ feature }) => feature)).toEqual(could ? [] : ['letters that the encoding has not'])
          const plain = !lines.some((one) => /[ß水]/.test(one))
          expect(read.encoding).toBe(
            !could ? 'utf-8 with a mark' : plain && encoding === 'windows-1252' ? 'utf-8' : encoding,
          )
        },
      ),
    )
  })
  test('with changed lines is read as them again, and the others end as they did', () => {
    const text = fc.string({ unit: fc.constantFrom('a', 'b', ' ', 'ß') })
    const change = fc.record({ at: fc.nat(30), remove: fc.nat(2), add: fc.array(text, { maxLength: 2 }) })
    fc.assert(
      fc.property(letters, fc.array(change, { minLength: 1, maxLength: 4 }), (before, changes) => {
        const from = readText(bytesOf(before))
        const lines = from.doc.children.map((node) => node.textContent)
        for (const { at, remove, add } of changes) lines.splice(at % (lines.length + 1), remove, ...add)
        if (!lines.length) lines.push('')
        const { bytes } = writeText(document(...lines), from)
        // An empty line at the end of a text that ends without an end of line is that end.
        const ended = from.lines.length === 0 || from.lines.at(-1)!.end !== ''
        const wanted = !ended && lines.length > 1 && lines.at(-1) === '' ? lines.slice(0, -1) : lines
        expect(wordsIn(bytes)).toEqual(wanted)
        const known = new Set(from.lines.map(({ end }) => end).filter(Boolean))
        for (const { end } of linesOf(new TextDecoder().decode(bytes)))
          if (end) expect(known.size ? [...known] : ['\n']).toContain(end)
      }),
      { numRuns: 1000 },
    )
    const mixed = readText(bytesOf('one\r\ntwo\nthree\r\nfour\n'))
    const { bytes } = writeText(document('one', 'new', 'two', 'four and more'), mixed)
    expect(new TextDecoder().decode(bytes)).toBe('one\r\nnew\r\ntwo\nfour and more\n')
  })
  test('whose letters its encoding has not becomes one that says what it is in', () => {
    const from = readText(Uint8Array.of(0x47, 0x72, 0xf6, 0xdf, 0x65))
    expect(from.encoding).toBe('windows-1252')
    const { bytes } = writeText(document('Größe Łódź'), from)
    expect([...bytes.subarray(0, 3)]).toEqual([0xef, 0xbb, 0xbf])
    expect(wordsIn(bytes)).toEqual(['Größe Łódź'])
  })
  test('that is none, or longer than can be written in, is refused with a sentence', () => {
    expect(() => readText(Uint8Array.of(0x50, 0x4b, 3, 4, 0, 0))).toThrow(/no-text/)
    expect(() => readText(bytesOf('a\n'.repeat(mostLines + 1)))).toThrow(/too-many-lines/)
    expect(() => readText(new Uint8Array(mostLetters + 1).fill(97))).toThrow(/text-too-long/)
    expect(readText(bytesOf('a\n'.repeat(mostLines))).doc.childCount).toBe(mostLines)
    expect(readText(new Uint8Array(0)).doc.childCount).toBe(1)
  })
})

describe('what a text cannot hold', () => {
  test('is told, each with where it is, and its words stay', () => {
    const { heading, paragraph, bullet_list, list_item } = nodes
    const paper = nodes.doc.create(null, [
      heading.create({ level: 1 }, documentSchema.text('Findings')),
      paragraph.create(null, documentSchema.text('bold', [documentSchema.mark('strong')])),
      bullet_list.create(null, [list_item.create(null, line('worn')), list_item.create(null, line('loud'))]),
    ])
    expect(lostAsText(paper)).toEqual([
      { feature: 'headings (their text stays)', count: 1, where: ['Findings'], at: [0] },
      { feature: 'looks of text', count: 1, where: ['bold'], at: [11] },
      { feature: 'lists (their text stays)', count: 1, where: ['worn loud'], at: [16] },
    ])
    expect(new TextDecoder().decode(writeText(paper, null).bytes)).toBe('Findings\nbold\nworn\nloud\n')
    const edged = withEdges(document('a'), [{ edge: 'head', on: 'all', json: document('b').toJSON() }])
    expect(lostAsText(edged)).toEqual([{ feature: 'page headers', count: 1, where: [] }])
  })
  test('is told exactly where reading it again gives another document', () => {
    const plain = fc
      .array(fc.string({ unit: 'grapheme' }), { minLength: 1, maxLength: 6 })
      .map((lines) => document(...lines.map(storableText)))
    fc.assert(
      fc.property(fc.oneof(documentWithEdges, plain), (paper) => {
        const { bytes, lost } = writeText(paper, null)
        expect(lost.length === 0).toBe(readText(bytes).doc.eq(paper))
      }),
      { numRuns: 500 },
    )
  })
})

test('what work is written as is another type, and never a package of its own family by another name', () => {
  expect(writableBeside('docx', 'document')).toEqual(['odt', 'rtf', 'html', 'md', 'txt'])
  expect(writableBeside('docm', 'document')).toEqual(['odt', 'rtf', 'html', 'md', 'txt'])
  expect(writableBeside('xltm', 'spreadsheet')).toEqual(['ods', 'xls', 'csv', 'tsv'])
  expect(writableBeside('csv', 'spreadsheet')).toEqual(['xlsx', 'ods', 'xls', 'tsv'])
  expect(writableBeside('txt', 'document')).toEqual(['docx', 'odt', 'rtf', 'html', 'md'])
})
