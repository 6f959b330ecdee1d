// A search in history, from what each version has more and less, against looking through every version.
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { decoded } from '../compare/files'
import { cameAndWent, linesOf } from '../compare/text-lines'
import { displayOf } from '../content/display'
import { anyDocument } from '../content/document.arbitrary'
import type { CellValue } from '../content/workbook'
import { anyHistory } from '../content/workbook.arbitrary'
import { keptLines, linesKept } from './kept-lines'
import { PastReader, Phrase, wordsOfLines } from './past-words'

describe('words', () => {
  const says = (line: string, typed: string) => new Phrase(typed).countIn(line)
  test.each([
    ['The upper gate was oiled.', 'upper GATE', 1],
    ['The upper gate was oiled.', 'gate upper', 0],
    ['The upper gates were oiled.', 'upper gate', 1],
    ['The upper gates were oiled.', 'upper gate ', 0],
    ['gate, gate; gate', 'gate', 3],
    ['Gâte', 'gate', 1],
    ['1,200.00', '1200', 1],
    ['1,200.00', '1.200,00', 1],
    ['1\u00a0200,5', '1200.50', 1],
    ['12000', '1200', 0],
    ['on 2026-10-14', '2026-10', 1],
    ['on 14.10.2026', '14.10.2026', 1],
    ['€1,350', '1350', 1],
    ['LK07', 'LK07', 1],
    ['one\ttwo', 'one two', 0],
    ['', '', 0],
  ])('“%s” says “%s” %i times', (line, typed, times) => expect(says(line, typed)).toBe(times))

  test('are marked where they are, in whatever cell', () => {
    const line = 'Sluice\t1,200.00\tpaddles: 1200'
    expect(new Phrase('1200').placesIn(line).map(([from, to]) => line.slice(from, to))).toEqual(['1,200.00', '1200'])
  })
  test('of a long line are told with what is around them', () => {
    const line = `${'so it goes on '.repeat(100)}the weir leaks${' and on'.repeat(100)}`
    const around = new Phrase('weir leaks').around(line, 120)
    expect(around).toMatch(/^….*the weir leaks.*…$/)
    expect(around.length).toBeLessThan(125)
  })
})

const word = fc.constantFrom('gate', 'gates', 'weir', 'Weir,', '1,200', '1200', '7', 'oiled.', 'größe', 'grosse\tgate')
const line = fc.array(word, { minLength: 1, maxLength: 4 }).map((words) => words.join(' '))
const file = fc.array(line, { maxLength: 6 })
const asked = fc
  .array(fc.constantFrom('gate', 'gat', 'weir', '1200', '7', 'GRÖSSE', 'oiled'), { minLength: 1, maxLength: 2 })
  .map((words) => words.join(' '))

test('what came and went says the same as each version looked through', () => {
  fc.assert(
    fc.property(fc.array(fc.option(file, { freq: 8 }), { minLength: 1, maxLength: 9 }), asked, (versions, typed) => {
      const phrase = new Phrase(typed)
      const decodedAs = (lines: readonly string[] | null) =>
        lines &&
        decoded({
          type: 'txt',
          bytes: new TextEncoder().encode(lines.map((one) => one.replaceAll('\t', ' ')).join('\n')),
        })
      const history = versions.map((lines, at) => {
        const now = decodedAs(lines)
        const kept = now && keptLines(cameAndWent(decodedAs(versions[at - 1] ?? null), now))
        return {
          version: at,
          lines: linesKept(kept ?? { came: null, went: null, whole: false }, (text) => phrase.may(text)),
        }
      })
      const reader = new PastReader<number>(phrase)
      for (const { version, lines } of history) reader.add(version, lines)
      const { past } = reader
      // Looked through one by one; one that cannot be read says nothing of itself.
      let before = 0
      const changes: unknown[] = []
      const there: boolean[] = []
      for (const [at, lines] of versions.entries()) {
        const after = lines ? lines.reduce((sum, one) => sum + phrase.countIn(one.replaceAll('\t', ' ')), 0) : before
        if (after !== before) changes.push({ version: at, before, after, last: at ? at - 1 : null })
        there.push(after > 0)
        before = after
      }
      expect(past.now).toBe(before)
      expect(past.unread).toBe(versions.filter((lines) => !lines).length)
      expect(past.changes.map(({ lines: _, ...change }) => change)).toEqual(changes)
      expect(
        there.map((_, at) => past.stretches.some(({ from, until }) => from <= at && (until === null || at < until))),
      ).toEqual(there)
      for (const { version, before: was, after, lines } of past.changes) {
        // After one that could not be read, what it was that went is not known.
        if (after > was || !history[version]!.lines!.whole) expect(lines.length).toBeGreaterThan(0)
        for (const { line: said, instead } of lines) {
          expect(phrase.countIn(said.text)).toBeGreaterThan(0)
          if (after > was) expect(instead).toBeNull()
        }
      }
    }),
    { numRuns: 400 },
  )
})

test('what went is told also where what it came with was not read, and what is the same as that is not read either', () => {
  const line = (text: string) => ({ text, under: '', row: null })
  const delta = (came: string[], went: string[]) => ({
    came: came.map(line),
    went: went.map(line),
    whole: false,
    same: !came.length && !went.length,
  })
  const reader = new PastReader<number>(new Phrase('weir'))
  for (const [at, lines] of [null, delta([], []), delta(['sluice'], ['The weir leaks.']), delta([], [])].entries())
    reader.add(at, lines)
  const { stretches, changes, now, unread } = reader.past
  expect({ stretches, now, unread }).toEqual({ stretches: [{ from: 1, until: 2 }], now: 0, unread: 2 })
  expect(changes.map(({ version, before, after }) => [version, before, after])).toEqual([[2, 1, 0]])
})

test('what is looked for is among the words of what went, so that the index finds it', () => {
  fc.assert(
    fc.property(file, file, asked, (older, newer, typed) => {
      const phrase = new Phrase(typed)
      const asLines = (lines: readonly string[]) => lines.map((text) => ({ text, under: '', row: null }))
      const words = wordsOfLines(asLines(older))
      const lost = older.some((one) => phrase.countIn(one) > 0 && !newer.includes(one))
      fc.pre(lost)
      for (const [at, token] of phrase.tokens.entries())
        expect(
          [...words].some((one) =>
            token.some((typedOne) => (phrase.begins(at) ? one.startsWith(typedOne) : one === typedOne)),
          ),
        ).toBe(true)
    }),
    { numRuns: 300 },
  )
})

test('the rows of a workbook are its lines, by their sheets, with what their cells show', () => {
  fc.assert(
    fc.property(anyHistory(4), ({ end }) => {
      const results = end.sheets.map(() => new Map<number, CellValue>())
      const lines = linesOf({ kind: 'spreadsheet', workbook: end, results, papers: [] })
      for (const sheet of end.sheets) {
        const own = lines.filter(({ under }) => under === sheet.name)
        const shown = sheet.rows.map((row) => (row ?? []).map((cell) => displayOf(cell ?? undefined, undefined)))
        for (const [row, cells] of shown.entries()) {
          const said = own.find((one) => one.row === row)?.text.split('\t') ?? []
          expect(said).toEqual(cells.filter((text) => text && text !== '…').map((text) => text.replaceAll('\t', ' ')))
        }
      }
    }),
    { numRuns: 60 },
  )
})

test('a document’s lines have all of its words, and say what they are under', () => {
  fc.assert(
    fc.property(anyDocument, (doc) => {
      const lines = linesOf({ kind: 'document', doc })
      const said = lines.map(({ text }) => text.replace(/\s+/g, '')).join('')
      const whole: string[] = []
      doc.descendants((node) => {
        if (node.isText) whole.push(node.text!.replace(/\s+/g, ''))
        return true
      })
      let from = 0
      for (const text of whole) {
        const at = said.indexOf(text, from)
        expect(at).toBeGreaterThanOrEqual(from)
        from = at + text.length
      }
      const headings = new Set(lines.map(({ text }) => text))
      for (const { under } of lines) expect(under === '' || headings.has(under)).toBe(true)
    }),
    { numRuns: 100 },
  )
})
