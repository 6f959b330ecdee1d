// Where words are in a file that somebody goes to from the search in history: each place says them, and none is missing.
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { displayOf } from '../content/display'
import { anyDocument } from '../content/document.arbitrary'
import { anyHistory } from '../content/workbook.arbitrary'
import { Phrase } from './past-words'
import { cellsThatSay, placesInDocument } from './where-said'

/** A word or two of a text, as somebody may remember them. */
function remembered(text: string, at: number, count: number): string {
  const words = text.match(/[\p{L}\p{M}\p{N}]+/gu) ?? []
  const from = at % Math.max(1, words.length)
  return words.slice(from, from + count).join(' ')
}

test('in a document', () => {
  let places = 0
  fc.assert(
    fc.property(anyDocument, fc.nat(30), fc.integer({ min: 1, max: 2 }), (doc, at, count) => {
      const blocks: string[] = []
      doc.descendants((node) => {
        if (!node.isTextblock) return true
        let text = ''
        node.forEach((one) => {
          text += one.isText ? one.text! : ' '.repeat(one.nodeSize)
        })
        blocks.push(text.replaceAll('\t', ' '))
        return false
      })
      const phrase = new Phrase(remembered(blocks.join('\n'), at, count))
      const found = placesInDocument(doc, phrase)
      // A block at a time: what goes over the end of one is not said in one.
      expect(found).toHaveLength(blocks.reduce((sum, text) => sum + phrase.countIn(text), 0))
      let last = 0
      for (const [from, to] of found) {
        expect(from).toBeGreaterThanOrEqual(last)
        last = to
        const said = doc.textBetween(from, to, '\n', ' ').replaceAll('\t', ' ')
        expect(phrase.countIn(said)).toBe(1)
      }
      places += found.length
    }),
    { numRuns: 80 },
  )
  expect(places).toBeGreaterThan(40)
})

test('in a workbook', () => {
  let cells = 0
  fc.assert(
    fc.property(anyHistory(6), fc.nat(20), ({ end }, at) => {
      const texts = end.sheets.flatMap(({ rows }) =>
        rows.flatMap((row) => (row ?? []).map((cell) => displayOf(cell ?? undefined, undefined))),
      )
      const phrase = new Phrase(remembered(texts.join('\n'), at, 1))
      const results = end.sheets.map(() => new Map())
      const found = cellsThatSay(end, results, phrase)
      expect(found).toHaveLength(texts.filter((text) => phrase.countIn(text)).length)
      for (const [sheet, row, column] of found)
        expect(phrase.countIn(displayOf(end.sheets[sheet]!.rows[row]![column], undefined))).toBeGreaterThan(0)
      cells += found.length
    }),
    { numRuns: 100 },
  )
  expect(cells).toBeGreaterThan(20)
})
