// Sections, columns and tabs as a file of another program has them, on pages: read again by poppler.
import { execFileSync, spawnSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import { Transform } from 'prosemirror-transform'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { documentSchema } from '../../core/content/document'
import { noChoices, type PaperChoices } from '../../core/contract'
import { readDocument } from '../../core/formats/documents'
import { fileOf } from '../../core/formats/docx/testing'
import { lettersOf, textOf, usualAsk } from './testing'
import { breaksHere, typesetHere } from './typeset'

let folder: string
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'jaula-sections-'))
})
afterAll(() => rmSync(folder, { recursive: true, force: true }))

const run = (words: string) =>
  `<w:r>${words
    .split('\t')
    .map((part) => `<w:t xml:space="preserve">${part}</w:t>`)
    .join('<w:tab/>')}</w:r>`
const p = (words: string, properties = '') => `<w:p><w:pPr>${properties}</w:pPr>${run(words)}</w:p>`
const section = ({
  width = 11906,
  height = 16838,
  columns = 1,
  flows = false,
}: {
  width?: number
  height?: number
  columns?: number
  flows?: boolean
} = {}) =>
  `<w:sectPr>${flows ? '<w:type w:val="continuous"/>' : ''}<w:pgSz w:w="${width}" w:h="${height}"/><w:pgMar w:top="1440" w:right="1440" w:bottom="1440" w:left="1440"/><w:cols w:num="${columns}" w:space="720"/></w:sectPr>`
const lines = (count: number, of: string) => Array.from({ length: count }, (_, at) => p(`${of}${at}`)).join('')
/** With a last section of its own, in place of the empty one. */
const file = (body: string, last: string) => {
  const parts = unzipSync(fileOf(body))
  const main = strFromU8(parts['word/document.xml']!).replace('<w:sectPr/></w:body>', `${last}</w:body>`)
  return zipSync({ ...parts, 'word/document.xml': strToU8(main) })
}

async function set(bytes: Uint8Array, choices: Partial<PaperChoices> = {}) {
  const { doc } = readDocument(bytes, 'docx')
  const styles = { bytes, type: 'docx' }
  const what = { kind: 'document' as const, json: doc.toJSON(), styles }
  const answer = await typesetHere({ ...usualAsk, what, choices: { ...noChoices, ...choices } })
  if ('fault' in answer) throw new Error(JSON.stringify(answer.fault))
  const path = join(folder, `${Math.random()}.pdf`)
  writeFileSync(path, answer.pdf)
  expect(spawnSync('qpdf', ['--check', path]).status).toBe(0)
  const { name, number, day, language } = usualAsk
  const found = await breaksHere({ name, number, day, language, what })
  if ('fault' in found) throw new Error(JSON.stringify(found.fault))
  return { path, pages: answer.facts.pages, breaks: found, doc }
}
const sizes = (path: string) =>
  [...execFileSync('pdfinfo', ['-l', '99', path], { encoding: 'utf8' }).matchAll(/size:\s+(\d+)[\d.]* x (\d+)/g)].map(
    ([, width, height]) => `${width}x${height}`,
  )
const boxes = (path: string) => {
  let page = 0
  return [
    ...execFileSync('pdftotext', ['-bbox', path, '-'], { encoding: 'utf8' }).matchAll(
      /<page|<word xMin="([\d.]+)" yMin="([\d.]+)" xMax="([\d.]+)" yMax="[\d.]+">([^<]*)</g,
    ),
  ].flatMap(([all, left, top, right, word]) => {
    if (all === '<page') page++
    return word === undefined ? [] : [{ page, left: Number(left), top: Number(top), right: Number(right), word }]
  })
}

describe('sections', () => {
  test('have pages of their own size, one after the other, with nothing lost and none that is blank', async () => {
    const bytes = file(
      `${p('First', '')}${lines(3, 'a')}${p('end of the first', section())}${lines(2, 'b')}${p('end of the second', section({ width: 16838, height: 11906 }))}${p('Last')}`,
      section(),
    )
    const { path, pages, breaks } = await set(bytes)
    expect(sizes(path)).toEqual(['595x841', '841x595', '595x841'])
    expect([pages, breaks.pages]).toEqual([3, 3])
    expect(breaks.breaks.map(({ page }) => page)).toEqual([2, 3])
    expect(lettersOf(textOf(path, '-f', '2', '-l', '2'))).toBe('b0b1endofthesecond')
    // What is chosen holds for each of them.
    const small = await set(bytes, { size: 'a5' })
    expect(sizes(small.path)).toEqual(['419x595', '595x419', '419x595'])
  })

  test('have columns; a part of a page that has them goes on where the one before ended', async () => {
    const whole = await set(file(lines(90, 'word'), section({ columns: 2 })))
    expect(whole.pages).toBe(2)
    const words = boxes(whole.path).filter(({ page }) => page === 1)
    const columns = [...new Set(words.map(({ left }) => Math.round(left)))]
    expect(columns).toHaveLength(2)
    expect(Math.max(...words.filter(({ left }) => left < 200).map(({ right }) => right))).toBeLessThan(297)
    const mixed = await set(
      file(
        `${p('Head of all', section())}${lines(8, 'note')}${p('last note', section({ columns: 3, flows: true }))}${p('Foot of all')}`,
        section({ flows: true }),
      ),
    )
    expect(sizes(mixed.path)).toEqual(['595x841'])
    expect(lettersOf(textOf(mixed.path))).toContain('Headofall')
    expect(lettersOf(textOf(mixed.path))).toContain('Footofall')
    expect(boxes(mixed.path).filter(({ word }) => /^note/.test(word))).toHaveLength(9)
  })

  test('stay where they are when something is written before, in and behind them', async () => {
    const bytes = file(`${lines(2, 'a')}${p('end', section({ columns: 2 }))}${lines(2, 'b')}`, section())
    const { doc } = readDocument(bytes, 'docx')
    for (const at of [1, doc.content.size - 1, doc.child(0).nodeSize + doc.child(1).nodeSize + 2]) {
      const edited = new Transform(doc).insert(at, documentSchema.text('new ')).doc
      const what = { kind: 'document' as const, json: edited.toJSON(), styles: { bytes, type: 'docx' } }
      const answer = await typesetHere({ ...usualAsk, what })
      if ('fault' in answer) throw new Error(JSON.stringify(answer.fault))
      expect([at, answer.facts.pages]).toEqual([at, 2])
    }
  })
})

describe('tabs', () => {
  const tabs = (...stops: string[]) => `<w:tabs>${stops.join('')}</w:tabs>`
  const stop = (kind: string, at: number, more = '') => `<w:tab w:val="${kind}" w:pos="${at}"${more}/>`

  test('go to their stops: from, around and up to them, with dots where they say so', async () => {
    const { path } = await set(
      file(
        [
          p('Gate\tlock', tabs(stop('left', 2880))),
          p('Paddle\tmiddle', tabs(stop('center', 4320))),
          p('Chapter\t12', tabs(stop('right', 9000, ' w:leader="dot"'))),
          p('x\ty'),
        ].join(''),
        section(),
      ),
    )
    const words = boxes(path)
    const of = (word: string) => words.find((one) => one.word === word || one.word.endsWith(word))!
    const margin = 72
    expect(of('lock').left).toBeCloseTo(margin + 144, 0)
    const middle = of('middle')
    expect((middle.left + middle.right) / 2).toBeCloseTo(margin + 216, 0)
    expect(of('12').right).toBeCloseTo(margin + 450, 0)
    expect(textOf(path)).toMatch(/Chapter(?:[. ]{20,})12/)
    // With none of its own, to the next of the usual distances.
    expect(of('y').left).toBeCloseTo(margin + 36, 0)
  })

  test('nothing between tabs is lost, whatever there is and wherever they stop', async () => {
    const many = Array.from({ length: 40 }, (_, at) => `w${at}`)
    const { path } = await set(
      file(
        `${p(many.join('\t'), tabs(stop('right', 200), stop('center', 31000)))}${p(`\t\tstart ${'long '.repeat(60)}\tend`)}`,
        section(),
      ),
    )
    const text = lettersOf(textOf(path))
    for (const word of [...many, 'start', 'end']) expect(text).toContain(word)
    expect(boxes(path).every(({ left, right }) => left > 0 && right < 596)).toBe(true)
  })
})
