// What somebody said about a text, and put into or took out of it, on its pages: read again by poppler and qpdf.
import { execFileSync, spawnSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { noChoices, type PaperChoices, type PaperStandard } from '../../core/contract'
import { readDocument } from '../../core/formats/documents'
import { fileOf, w } from '../../core/formats/docx/testing'
import { infoOf, lettersOf, textOf, usualAsk } from './testing'
import { typesetHere } from './typeset'

let folder: string
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'jaula-remarks-'))
})
afterAll(() => rmSync(folder, { recursive: true, force: true }))

const run = (words: string) => `<w:r><w:t xml:space="preserve">${words}</w:t></w:r>`
const by = (element: 'ins' | 'del', who: string, inside: string) =>
  `<w:${element} w:id="7" w:author="${who}" w:date="2026-11-03T10:15:00Z">${inside}</w:${element}>`
const about = (id: number, inside: string) =>
  `<w:commentRangeStart w:id="${id}"/>${inside}<w:commentRangeEnd w:id="${id}"/><w:r><w:commentReference w:id="${id}"/></w:r>`
const comment = (id: number, who: string, words: string) =>
  `<w:comment w:id="${id}" w:author="${who}" w:date="2026-11-04T08:00:00Z"><w:p>${run(words)}</w:p></w:comment>`
const file = (body: string, comments: string) =>
  fileOf(body, { comments: `<w:comments xmlns:w="${w}">${comments}</w:comments>` })

const gate = file(
  `<w:p>${run('The gate of ')}${about(1, run('lock 7'))}${by('ins', 'Priya Nandakumar', run(' leaks badly'))}${by('del', 'Ben Marlowe', '<w:r><w:delText>is sound</w:delText></w:r>')}${run('.')}</w:p>` +
    Array.from({ length: 90 }, (_, at) => `<w:p>${run(`Level ${at} was read.`)}</w:p>`).join('') +
    `<w:p>${about(2, run('The end.'))}</w:p>`,
  comment(1, 'Ida Thornquist', 'Which gate?') + comment(2, 'Ben Marlowe', 'Thanks to all.'),
)

async function set(bytes: Uint8Array, remarks: PaperChoices['remarks'], standard: PaperStandard = 'plain') {
  const { doc } = readDocument(bytes, 'docx')
  const what = { kind: 'document' as const, json: doc.toJSON(), styles: { bytes, type: 'docx' } }
  const answer = await typesetHere({ ...usualAsk, what, standard, choices: { ...noChoices, remarks } })
  if ('fault' in answer) throw new Error(JSON.stringify(answer.fault))
  const path = join(folder, `${remarks}-${standard}.pdf`)
  writeFileSync(path, answer.pdf)
  expect(spawnSync('qpdf', ['--check', path]).status).toBe(0)
  return { path, pages: answer.facts.pages }
}
/** The words of a page with where they are: from its left, and from its top. */
const boxes = (path: string) =>
  [
    ...execFileSync('pdftotext', ['-bbox', path, '-'], { encoding: 'utf8' }).matchAll(
      /<word xMin="([\d.]+)" yMin="([\d.]+)" xMax="([\d.]+)" yMax="([\d.]+)">([^<]*)</g,
    ),
  ].map(([, left, top, right, bottom, word]) => ({
    left: Number(left),
    top: Number(top),
    right: Number(right),
    bottom: Number(bottom),
    word,
  }))
/** What qpdf says of each annotation that is a note. */
function notesIn(path: string) {
  const said = execFileSync('qpdf', ['--json=2', '--json-stream-data=none', path], { encoding: 'utf8', maxBuffer: 1e9 })
  const objects = Object.values(JSON.parse(said).qpdf[1]) as { value?: Record<string, unknown> }[]
  const words = (text: unknown) => String(text).replace(/^[ub]:/, '')
  return objects.flatMap(({ value }) =>
    value?.['/Subtype'] === '/Text' ? [{ who: words(value['/T']), words: words(value['/Contents']) }] : [],
  )
}

describe('comments and tracked changes', () => {
  test('are not on the pages where that is chosen, and what was taken out is not there', async () => {
    const { path } = await set(gate, 'none')
    const text = lettersOf(textOf(path))
    expect(text).toContain(lettersOf('The gate of lock 7 leaks badly.'))
    expect(text).not.toMatch(/Whichgate|issound|Priya/)
    expect(notesIn(path)).toEqual([])
  })

  test('stand in a column beside the same lines, each page as large as it was, by whom and when', async () => {
    const [plain, beside] = [await set(gate, 'none'), await set(gate, 'margin')]
    expect(beside.pages).toBe(plain.pages)
    expect(infoOf(beside.path)).toMatch(/Page size:\s+595\.\d+ x 841\.\d+ pts \(A4\)/)
    const words = boxes(beside.path)
    const column = words.filter(({ left }) => left > 595 * (595 / (595 + 168)))
    expect(column.map(({ word }) => word).join(' ')).toBe(
      '1 Ida Thornquist, 4 Nov 2026 Which gate? 2 Put in by Priya Nandakumar, 3 Nov 2026 leaks badly ' +
        '3 Taken out by Ben Marlowe, 3 Nov 2026 is sound 4 Ben Marlowe, 4 Nov 2026 Thanks to all.',
    )
    expect(words.every(({ left, right, top, bottom }) => left > 0 && right < 596 && top > 0 && bottom < 842)).toBe(true)
    // Each near its line, none over another.
    const level = (word: string) => words.find((one) => one.word === word)!.top
    expect(Math.abs(level('Ida') - level('gate'))).toBeLessThan(20)
    const tops = column.filter(({ word }) => /^(?:Ida|Put|Taken)$/.test(word!)).map(({ top }) => top)
    expect(tops).toEqual(tops.toSorted((a, b) => a - b))
    expect(Math.min(...tops.slice(1).map((top, at) => top - tops[at]!))).toBeGreaterThan(12)
    // The lines are those of the pages without it.
    const lines = (path: string) =>
      textOf(path, '-layout')
        .split('\n')
        .filter((line) => /Level \d+ was/.test(line)).length
    expect(lines(beside.path)).toBe(lines(plain.path))
  })

  test('more than a page has room for are set smaller, and none of them is cut', async () => {
    const many = Array.from({ length: 120 }, (_, at) => at + 1)
    const bytes = file(
      `<w:p>${many.map((at) => about(at, run(`word${at} `))).join('')}</w:p>`,
      many
        .map((at) => comment(at, 'Ben Marlowe', `Remark${at} about it, with some more words to fill a line or two`))
        .join(''),
    )
    const { path } = await set(bytes, 'margin')
    const words = boxes(path)
    for (const at of many) expect(words.filter(({ word }) => word === `Remark${at}`)).toHaveLength(1)
    expect(words.every(({ top, bottom }) => top >= 0 && bottom <= 842)).toBe(true)
  })

  test('are notes that a reader of PDF opens, in the order of reading where the PDF has one', async () => {
    for (const standard of ['plain', 'archive', 'accessible'] as const) {
      const { path } = await set(gate, 'notes', standard)
      expect(notesIn(path)).toEqual([
        { who: 'Ida Thornquist', words: 'Which gate?' },
        { who: 'Priya Nandakumar', words: 'Put in by Priya Nandakumar, 3 Nov 2026: leaks badly' },
        { who: 'Ben Marlowe', words: 'Taken out by Ben Marlowe, 3 Nov 2026: is sound' },
        { who: 'Ben Marlowe', words: 'Thanks to all.' },
      ])
      expect(infoOf(path)).toMatch(/Tagged:\s+yes/)
      if (standard === 'plain') continue
      const clauses = spawnSync('/usr/bin/python3', [join(import.meta.dirname, 'pdf_clauses.py'), standard, path], {
        encoding: 'utf8',
      })
      expect([standard, clauses.stdout, clauses.status]).toEqual([standard, '', 0])
    }
  })
})
