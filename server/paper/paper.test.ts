// Documents on pages, by the real typesetter, read again by programs that share nothing with it (poppler, qpdf).
import { execFileSync, spawnSync } from 'node:child_process'
import { randomUUID } from 'node:crypto'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import fc from 'fast-check'
import type { Node } from 'prosemirror-model'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { documentAbout } from '../../core/content/about'
import { documentSchema } from '../../core/content/document'
import { anyDocument } from '../../core/content/document.arbitrary'
import { withEdges } from '../../core/content/edges'
import type { PaperFacts, Problem, Saved } from '../../core/contract'
import { writeDocument } from '../../core/formats/documents'
import { doc, h, list, p } from '../demo/papers'
import { type Ask, openTestOffice, send, signInAs, type TestOffice } from '../testing'
import { infoOf, lettersOf, textOf, usualAsk } from './testing'
import { breaksHere, type ToTypeset, typesetHere } from './typeset'

let folder: string
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'jaula-paper-test-'))
})
afterAll(() => rmSync(folder, { recursive: true, force: true }))

async function set(
  node: Node,
  { styles = null, ...more }: Partial<ToTypeset> & { styles?: { bytes: Uint8Array; type: string } | null } = {},
): Promise<{ file: string; pdf: Uint8Array; facts: PaperFacts }> {
  const answer = await typesetHere({ ...usualAsk, what: { kind: 'document', json: node.toJSON(), styles }, ...more })
  if ('fault' in answer) throw new Error(JSON.stringify(answer.fault))
  const file = join(folder, `${randomUUID()}.pdf`)
  writeFileSync(file, answer.pdf)
  return { file, ...answer }
}
/** A PNG of one red point, made by hand. */
const point = 'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAIAAACQd1PeAAAADElEQVR4nGP4z8AAAAMBAQDJ/pLvAAAAAElFTkSuQmCC'
const { nodes } = documentSchema
const picture = (src: string) =>
  nodes.paragraph!.create(null, nodes.image!.create({ src, alt: 'Weir', width: 40, height: 30 }))

describe('a document on pages', () => {
  test('says of itself what its file says, and nothing where that was chosen', async () => {
    const about = { title: 'Gates of 2026', author: 'Ida Thornquist', subject: 'Timber', keywords: 'locks, gates' }
    const node = documentAbout(doc(p('Inspected.')), about)
    const whole =
      /Title:\s+Gates of 2026\n[\s\S]*Subject:\s+Timber\nKeywords:\s+locks, gates\nAuthor:\s+Ida Thornquist\n/
    expect(infoOf((await set(node)).file)).toMatch(whole)
    expect(infoOf((await set(node, { standard: 'accessible' })).file)).toMatch(whole)
    const none = infoOf((await set(node, { choices: { ...usualAsk.choices, properties: false } })).file)
    expect(none).not.toMatch(/Gates of 2026|Timber|locks|Thornquist/)
    // What comes from a browser may be anything.
    const odd = doc(p('x')).type.create({ about: { title: 7, author: '\u0000', keywords: ['a'] } }, p('x'))
    expect(infoOf((await set(odd)).file)).toMatch(/Title:\s+Levels/)
  })
  test('has its words in their order, its headings as bookmarks, its fonts in it, and is sound', async () => {
    const { file, facts } = await set(
      doc(
        h(1, 'Gate paddles at LK07'),
        p('Inspected on Monday.'),
        list('The upper paddle lifts.', 'The lower leaks.'),
        h(2, 'Next'),
        p('In May.'),
      ),
    )
    expect(facts).toEqual({ pages: 1, substituted: [], undrawn: 0, landscape: false, size: 'a4' })
    expect(lettersOf(textOf(file))).toContain(
      lettersOf('Gate paddles at LK07 Inspected on Monday. • The upper paddle lifts. • The lower leaks. Next In May.'),
    )
    expect(infoOf(file)).toMatch(
      /Title:\s+Levels[\s\S]*Tagged:\s+yes[\s\S]*Page size:\s+595\.\d+ x 841\.\d+ pts \(A4\)/,
    )
    expect(spawnSync('qpdf', ['--check', file]).status).toBe(0)
    const rows = execFileSync('pdffonts', [file], { encoding: 'utf8' }).trim().split('\n').slice(2)
    expect(rows.length).toBeGreaterThan(0)
    for (const row of rows) expect(row).toMatch(/\s(?:yes)\s+(?:yes)\s+(?:yes)\s/)
  })

  test('any document is set, and of the words that it has nearly none is lost at the edge of a page', {
    timeout: 240_000,
  }, async () => {
    let [words, there] = [0, 0]
    // The same documents each time: pictures in narrow cells, and lists nine deep in them, push some words off the page.
    for (const node of fc.sample(anyDocument, { numRuns: 60, seed: 7 })) {
      const { file } = await set(node)
      const found = lettersOf(textOf(file, '-raw'))
      node.descendants((one) => {
        // What no font has is a box; letters that join come in another order to readers of PDF.
        for (const word of one.text?.match(/[A-Za-z0-9]{2,}/g) ?? []) {
          words++
          if (found.includes(word)) there++
        }
        return true
      })
    }
    expect(words).toBeGreaterThan(300)
    expect(there / words).toBeGreaterThan(0.99)
  })

  test('what people wrote is never the typesetter’s language', async () => {
    const hostile = [
      '#pagebreak() #panic("out")',
      '#include "/etc/passwd"',
      '#image("/etc/passwd")',
      '$ sum_(k=1)^n k $ *bold* _em_ `raw` = Heading',
      '"] #eval("1+1") [',
      '\\u{41} \\n // comment /* more */ <label> @ref',
      '#read("/paper.json")',
    ]
    const { file, facts } = await set(doc(...hostile.map((text) => p(text))), { name: hostile.join(' ') })
    expect(facts.pages).toBe(1)
    const found = lettersOf(textOf(file))
    for (const text of hostile) expect(found).toContain(lettersOf(text))
    await fc.assert(
      fc.asyncProperty(
        fc.string({ unit: fc.constantFrom(...'#$*_`=[]{}()\\"\'<>@/-+~;:.,!%&| ab1\t'), maxLength: 40 }),
        async (text) => {
          if (!text.trim()) return
          const one = await set(doc(p(text)))
          expect(lettersOf(textOf(one.file))).toBe(lettersOf(text))
        },
      ),
      { numRuns: 60 },
    )
  })

  test('its pages are as large as it says, with what stands at their edges, each in its place', async () => {
    const field = (code: string) =>
      nodes.kept!.create({ kind: 'field', words: '1', xml: `<w:fldSimple w:instr="${code}"/>`, parts: [] })
    const story = (...content: Node[]) => ({ type: 'doc', content: [nodes.paragraph!.create(null, content).toJSON()] })
    const text = (words: string) => documentSchema.text(words)
    const node = withEdges(
      nodes.doc!.create({ page: { width: 8391, height: 11906, top: 1440, right: 720, bottom: 1440, left: 720 } }, [
        nodes.paragraph!.create(null, text('One')),
        nodes.page_break!.create(),
        nodes.paragraph!.create(null, text('Two')),
        nodes.page_break!.create(),
        nodes.paragraph!.create(null, text('Three')),
      ]),
      [
        { edge: 'head', on: 'all', json: story(text('Merrowdale')) },
        { edge: 'head', on: 'first', json: story(text('Front')) },
        {
          edge: 'foot',
          on: 'all',
          json: story(
            text('Page '),
            field('PAGE'),
            text(' of '),
            field('NUMPAGES'),
            text(', '),
            field('FILENAME'),
            text(' '),
            field('REVNUM'),
          ),
        },
        { edge: 'foot', on: 'even', json: story(text('Even '), field('PAGE')) },
      ],
    )
    const { file, facts } = await set(node)
    expect(facts.pages).toBe(3)
    expect(infoOf(file)).toMatch(/Page size:\s+419\.\d+ x 595\.\d+ pts/)
    const page = (number: number) => lettersOf(textOf(file, '-f', String(number), '-l', String(number)))
    expect([1, 2, 3].map(page)).toEqual([
      'FrontOnePage1of3,Levels3',
      'MerrowdaleTwoEven2',
      'MerrowdaleThreePage3of3,Levels3',
    ])
  })

  test('a table’s head stands again on each page, its cells span as they do, and its widths fit', async () => {
    const cell = (words: string, more: object = {}) =>
      nodes.table_cell!.create({ colwidth: [900], ...more }, nodes.paragraph!.create(null, documentSchema.text(words)))
    const row = (cells: Node[], header = false) => nodes.table_row!.create({ header }, cells)
    const table = nodes.table!.create(null, [
      row([cell('Lock'), cell('Level')], true),
      row([cell('Both', { colspan: 2, colwidth: null })]),
      row([cell('LK00', { rowspan: 2 }), cell('first')]),
      row([cell('second')]),
      ...Array.from({ length: 80 }, (_, n) => row([cell(`LK${n + 1}`), cell(`${n} m`)])),
    ])
    const { file, facts } = await set(nodes.doc!.create(null, [table, nodes.paragraph!.create()]))
    expect(facts.pages).toBeGreaterThan(1)
    for (let number = 1; number <= facts.pages; number++)
      expect(textOf(file, '-f', String(number), '-l', String(number))).toContain('Lock')
    expect(lettersOf(textOf(file))).toContain('LK80')
  })

  test('pictures are drawn; one that cannot be keeps its place, and that is told', async () => {
    const good = `data:image/png;base64,${point}`
    const { file, facts } = await set(
      nodes.doc!.create(null, [
        picture(good),
        picture(`data:image/png;base64,${btoa('no picture')}`),
        picture('data:image/x-emf;base64,AAAA'),
        picture(good),
      ]),
    )
    expect(facts).toMatchObject({ pages: 1, undrawn: 2 })
    expect(
      execFileSync('pdfimages', ['-list', file], { encoding: 'utf8' })
        .split('\n')
        .filter((line) => /image/.test(line)),
    ).not.toEqual([])
  })

  test('fonts that are not there are named with what stands for them', async () => {
    const written = (words: string, font: string) =>
      nodes.paragraph!.create(null, documentSchema.text(words, [documentSchema.mark('look', { font })]))
    const { facts, file } = await set(
      nodes.doc!.create(null, [written('a', 'Calibri'), written('b', 'Canal Gothic'), written('c', 'Liberation Mono')]),
    )
    expect(facts.substituted).toEqual([
      { font: 'Calibri', by: 'Carlito', sameWidths: true },
      { font: 'Canal Gothic', by: 'Liberation Sans', sameWidths: false },
    ])
    expect(execFileSync('pdffonts', [file], { encoding: 'utf8' })).toMatch(
      /Carlito[\s\S]*LiberationMono|LiberationMono[\s\S]*Carlito/,
    )
  })

  test('for keeping and for reading out it says what it is', async () => {
    const node = doc(h(1, 'Levels'), p('1.4 m'))
    const part = async (standard: 'archive' | 'accessible') =>
      Buffer.from((await set(node, { standard })).pdf).toString('latin1')
    const archive = await part('archive')
    expect(archive).toMatch(/pdfaid:part[>="]+2/)
    expect(archive).toMatch(/pdfaid:conformance[>="]+A/)
    expect(await part('accessible')).toMatch(/pdfuaid:part[>="]+1/)
  })

  test.each(['archive', 'accessible'] as const)(
    '%s: what its standard asks holds, clause by clause, as another program checks it',
    async (standard) => {
      const rich = nodes.doc!.create(null, [
        ...doc(
          h(1, 'Levels'),
          p('Inspected on Monday.'),
          list('The upper paddle lifts.', 'The lower leaks.'),
          h(2, 'Next'),
        ).content.content,
        nodes.paragraph!.create(
          null,
          documentSchema.text('on the web', [documentSchema.mark('link', { href: 'https://merrowdale.example/' })]),
        ),
        picture(`data:image/png;base64,${point}`),
        nodes.table!.create(
          null,
          [true, false].map((header) =>
            nodes.table_row!.create(
              { header },
              ['Gate', 'Level'].map((words) => nodes.table_cell!.create(null, p(words))),
            ),
          ),
        ),
      ])
      const { file } = await set(rich, { standard })
      const checked = spawnSync('/usr/bin/python3', [join(import.meta.dirname, 'pdf_clauses.py'), standard, file], {
        encoding: 'utf8',
      })
      expect([checked.stdout, checked.status]).toEqual(['', 0])
      // It finds what is wrong: of a plain one much is.
      const { file: other } = await set(rich)
      const plain = spawnSync('/usr/bin/python3', [join(import.meta.dirname, 'pdf_clauses.py'), standard, other], {
        encoding: 'utf8',
      })
      expect([plain.stdout.trim().split('\n').length > 1, plain.status]).toEqual([true, 1])
    },
  )
})

describe('the server', () => {
  let office: TestOffice
  let [ida, ben]: Ask[] = [] as unknown as [Ask, Ask]
  beforeAll(async () => {
    office = await openTestOffice()
    ;[ida, ben] = [(await signInAs(office, 'ida')).ask, (await signInAs(office, 'ben')).ask]
  })
  afterAll(() => office.close())
  const ask = (who: Ask, more: object = {}) =>
    send(who, '/api/paper', 'POST', {
      ...usualAsk,
      what: { kind: 'document', json: doc(p('Water level')).toJSON(), versionId: null, ...more },
    })

  test('sets what it is given in the looks of a version’s styles, for who may see that', async () => {
    const bytes = writeDocument(doc(h(1, 'Level')), null, 'docx').bytes
    const answer = await ida!(`/api/files?shareId=${office.share}&name=${randomUUID()}.docx&key=${randomUUID()}`, {
      method: 'POST',
      body: bytes as BodyInit,
    })
    const { version } = (await answer.json()) as Saved
    const set = await ask(ida!, { versionId: version.id })
    expect([set.status, set.headers.get('content-type')]).toEqual([200, 'application/pdf'])
    expect(JSON.parse(decodeURIComponent(set.headers.get('jaula-paper')!))).toMatchObject({ pages: 1, undrawn: 0 })
    expect(
      Buffer.from(await set.arrayBuffer())
        .subarray(0, 5)
        .toString(),
    ).toBe('%PDF-')
    expect((await ask(ben!, { versionId: version.id })).status).toBe(404)
    expect((await ask(ben!)).status).toBe(200)
  })

  test('what is no document is refused with a sentence', async () => {
    for (const json of [null, 3, {}, { type: 'doc', content: [{ type: 'weir' }] }, { type: 'paragraph' }, 'x']) {
      const answer = await ask(ida!, { json })
      const problem = (await answer.json()) as Problem
      expect([json, answer.status, problem.says?.say]).toEqual([json, 400, 'problem.cannot-be-set'])
    }
  })
})

describe('where pages begin', () => {
  const breaksOf = async (node: Node) => {
    const { name, number, day, language } = usualAsk
    const what = { kind: 'document' as const, json: node.toJSON(), styles: null }
    const found = await breaksHere({ name, number, day, language, what })
    if ('fault' in found) throw new Error(JSON.stringify(found.fault))
    return found
  }
  /** What is on each page of the PDF, from the place where it is said to begin: poppler reads it. */
  const expectOnPages = async (node: Node) => {
    const [{ file, facts }, { pages, breaks }] = [await set(node), await breaksOf(node)]
    expect(pages).toBe(facts.pages)
    for (const { page, at } of breaks) {
      const on = lettersOf(textOf(file, '-f', String(page), '-l', String(page))).replace(/^•/, '')
      const after = lettersOf(node.textBetween(at, Math.min(at + 400, node.content.size), '\n')).slice(0, 12)
      expect([page, on.startsWith(after)]).toEqual([page, true])
    }
    return breaks
  }
  const words = (count: number, of: string) => Array.from({ length: count }, (_, at) => `${of}${at}`).join(' ')

  test('is in the middle of a paragraph, between paragraphs, in lists and tables, as the PDF has it', async () => {
    const breaks = await expectOnPages(
      doc(
        ...Array.from({ length: 30 }, (_, at) => p(words(20, `weir${at}x`))),
        p(words(1800, 'long')),
        list(...Array.from({ length: 80 }, (_, at) => `Paddle ${at} lifts.`)),
        p(''),
        p(words(700, 'end')),
      ),
    )
    expect(breaks.map(({ page }) => page)).toEqual(breaks.map((_, at) => at + 2))
    expect(breaks.length).toBeGreaterThan(5)
  })

  test('of one page there is none, an own break begins one, and empty lines take their room', async () => {
    expect(await breaksOf(doc(p('Short.')))).toEqual({ pages: 1, breaks: [] })
    const own = doc(p('One.'), nodes.page_break!.create(), p('Two.'))
    expect(await expectOnPages(own)).toEqual([{ page: 2, at: 8 }])
    const { pages, breaks } = await breaksOf(doc(...Array.from({ length: 120 }, () => p('')), p('Last.')))
    expect(pages).toBe((await set(doc(...Array.from({ length: 120 }, () => p('')), p('Last.')))).facts.pages)
    expect(breaks).toHaveLength(pages - 1)
  })

  test('lines with nothing in them, and lines that only hold a picture, break where they do in the PDF', async () => {
    const lineEnd = nodes.hard_break!.create()
    const image = (height: number) => nodes.image!.create({ src: 'data:,', alt: '', width: 20, height })
    for (let filled = 700; filled <= 872; filled += 2)
      for (const content of [[image(40), lineEnd], [lineEnd, lineEnd, image(40)], [lineEnd]]) {
        const fill = nodes.paragraph!.create(null, image(filled))
        const node = doc(fill, nodes.paragraph!.create(null, content), p('Last.'))
        expect([filled, (await breaksOf(node)).pages]).toEqual([filled, (await set(node)).facts.pages])
      }
  })

  test('any document has as many pages so as in its PDF, each beginning behind the one before', async () => {
    await fc.assert(
      fc.asyncProperty(anyDocument, async (node) => {
        const [{ facts }, { pages, breaks }] = [await set(node), await breaksOf(node)]
        expect(pages).toBe(facts.pages)
        for (const [n, { page, at }] of breaks.entries()) {
          expect(page).toBeGreaterThan(breaks[n - 1]?.page ?? 1)
          expect(at).toBeGreaterThan(breaks[n - 1]?.at ?? -1)
          expect(at).toBeLessThanOrEqual(node.content.size)
        }
      }),
      { numRuns: 25 },
    )
  })
})
