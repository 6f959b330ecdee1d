// What a file says of stretches of its text: where it stands in the document, and where it is when that was edited.
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { anyDocument } from '../../content/document.arbitrary'
import { anyEdit, edited } from '../../content/document-edits.arbitrary'
import { passagesIn } from '../../content/passages'
import { readPassages } from './passages'
import { fileOf as docxOf, w } from './testing'

const fileOf = (body: string, styles = '', comments = '') =>
  docxOf(body, {
    styles: `<w:styles xmlns:w="${w}">${styles}</w:styles>`,
    comments: `<w:comments xmlns:w="${w}">${comments}</w:comments>`,
  })
const run = (words: string, look = '') => `<w:r>${look}<w:t xml:space="preserve">${words}</w:t></w:r>`
const inserted = (inside: string) =>
  `<w:ins w:id="7" w:author="Priya Nandakumar" w:date="2026-11-03T10:15:00Z">${inside}</w:ins>`
const comment = (id: number, words: string) =>
  `<w:comment w:id="${id}" w:author="Ben Marlowe"><w:p>${run(words)}</w:p></w:comment>`
const at = (edge: 'Start' | 'End', id: number) => `<w:commentRange${edge} w:id="${id}"/>`

/** What is said, with the words that it is said of. */
const said = (bytes: Uint8Array) => {
  const read = readPassages(bytes)
  return read?.passages.map(({ from, to, ...what }) => [read.doc.textBetween(from, to, '|'), what]) ?? null
}

test('insertions, and what comments are about, are found where they stand, in cells as in the text', () => {
  const body = [
    // Runs that look alike are one text in the document, of which a part was put in.
    `<w:p>${run('The gate ')}${inserted(run('of lock 7 ') + run('leaks', '<w:rPr><w:b/></w:rPr>'))}${run('.')}</w:p>`,
    `<w:tbl><w:tr><w:tc><w:p>${run('Paddle')}</w:p></w:tc><w:tc><w:p>${at('Start', 2)}${run('Worn ')}${inserted(run('out'))}</w:p></w:tc></w:tr></w:tbl>`,
    `<w:p>${run('by')}${at('Start', 3)}${run(' frost')}${at('End', 2)}${run(' and ice')}${at('End', 3)}${run('.')}</w:p>`,
  ].join('')
  const put = { kind: 'inserted', who: 'Priya Nandakumar', when: '2026-11-03T10:15:00.000Z' }
  const about = (words: string) => ({ kind: 'comment', who: 'Ben Marlowe', words })
  expect(said(fileOf(body, '', comment(2, 'Since when?') + comment(3, 'Say which winter.')))).toEqual([
    ['of lock 7 leaks', put],
    ['Worn out', about('Since when?')],
    ['out', put],
    ['by frost', about('Since when?')],
    [' frost and ice', about('Say which winter.')],
  ])
  expect(said(fileOf(`<w:p>${run('Nothing')}</w:p>`))).toBeNull()
  // What nobody says anything about, and a date that is none.
  expect(said(fileOf(`<w:p>${at('Start', 9)}${run('Gate')}${at('End', 9)}</w:p>`))).toBeNull()
  expect(said(fileOf(`<w:p><w:ins w:id="1" w:date="soon">${run('Gate')}</w:ins></w:p>`))).toEqual([
    ['Gate', { kind: 'inserted', who: '', when: null }],
  ])
})

test('tabs stop where the paragraph, or the style that its own is based on, says, from where its text begins', () => {
  const styles =
    '<w:style w:type="paragraph" w:styleId="Base"><w:pPr><w:tabs><w:tab w:val="left" w:pos="2400"/></w:tabs></w:pPr></w:style>' +
    '<w:style w:type="paragraph" w:styleId="Facts"><w:basedOn w:val="Base"/><w:pPr><w:ind w:left="400"/></w:pPr></w:style>'
  const tabbed = (properties: string) =>
    `<w:p><w:pPr>${properties}</w:pPr><w:r><w:t>Date</w:t><w:tab/><w:t>3 November</w:t></w:r></w:p>`
  const tabs = (...stops: [kind: string, at: number][]) =>
    `<w:tabs>${stops.map(([kind, pos]) => `<w:tab w:val="${kind}" w:pos="${pos}"/>`).join('')}</w:tabs>`
  const facts = '<w:pStyle w:val="Facts"/>'
  const every = (properties: string) =>
    readPassages(fileOf(tabbed(properties), styles))?.passages.map((one) => one.kind === 'tabs' && one.every)
  expect(every(facts)).toEqual([100])
  expect(every(`${facts}${tabs(['left', 1600])}`)).toEqual([60])
  expect(every(`${facts}${tabs(['clear', 2400], ['left', 3000])}`)).toEqual([130])
  // One that is nothing of a distance is left to the page.
  expect(every(tabs(['right', 9000]))).toEqual([null])
  expect(every('')).toBeUndefined()
})

test('a style that is based on itself, and nonsense for numbers, are read as far as they say something', () => {
  const styles =
    '<w:style w:type="paragraph" w:styleId="A"><w:basedOn w:val="A"/><w:pPr><w:tabs><w:tab w:val="left" w:pos="far"/></w:tabs></w:pPr></w:style>'
  expect(said(fileOf('<w:p><w:pPr><w:pStyle w:val="A"/></w:pPr><w:r><w:tab/></w:r></w:p>', styles))).toBeNull()
})

test('whatever is edited: a passage is of the words that it was of, or of what is left of them', () => {
  const edits = fc.array(anyEdit, { maxLength: 3 })
  fc.assert(
    fc.property(anyDocument, edits, fc.nat(), fc.nat(), (before, edits, one, other) => {
      const now = edited(before, edits)
      const size = before.content.size
      const [from, to] = [one % size, other % size].sort((a, b) => a - b) as [number, number]
      fc.pre(from < to)
      const passage = { kind: 'comment', who: '', words: '', from, to } as const
      const moved = passagesIn([passage], before, now)
      let left = before.textBetween(from, to)
      for (const part of moved) {
        expect(part.from < part.to && part.to <= now.content.size).toBe(true)
        const words = now.textBetween(part.from, part.to)
        expect(left).toContain(words)
        left = left.slice(left.indexOf(words) + words.length)
      }
      // What lies before the first or behind the last edit is there as it was.
      const start = before.content.findDiffStart(now.content) ?? before.content.size
      const { a, b } = before.content.findDiffEnd(now.content) ?? { a: start, b: start }
      if (to <= start || (from >= a && Math.min(a, b) >= start))
        expect(moved.map((part) => now.textBetween(part.from, part.to))).toEqual([before.textBetween(from, to)])
    }),
  )
})
