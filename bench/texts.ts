// Texts of types that are patched, those of a folder: whether they open, whether an independent reader finds the same words
// in them and in what is written here, what one changed word costs, and how long it takes to know what a long document
// loses as one.
import { execFileSync } from 'node:child_process'
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { extname, join } from 'node:path'
import type { Node } from 'prosemirror-model'
import { Transform } from 'prosemirror-transform'
import { documentSchema } from '../core/content/document'
import { edgesOf, storyOf } from '../core/content/edges'
import { wordsOfDocument } from '../core/content/words'
import { readDoc } from '../core/formats/doc/read'
import { readDocx } from '../core/formats/docx/read'
import { readOdt } from '../core/formats/odt/read'
import { writeOdt } from '../core/formats/odt/write'
import { openZip } from '../core/formats/opc/zip'
import { DamagedFile } from '../core/formats/refusals'
import { writeRtf } from '../core/formats/rtf/file'
import { readRtf } from '../core/formats/rtf/read'
import { typeOfBytes } from '../core/formats/signature'
import { longDocument } from './papers'
import { median, report } from './report'

const wordsIn = (text: string): string[] => text.match(/[\p{L}\p{N}]+/gu) ?? []
const contentOf = (bytes: Uint8Array) => new TextDecoder().decode(openZip(bytes).read('content.xml'))

/** What pandoc reads: its words and the spaces between them. */
function wordsElsewhere(path: string): string {
  let said = ''
  const visit = (one: unknown): void => {
    if (Array.isArray(one)) for (const inner of one) visit(inner)
    else if (one && typeof one === 'object') {
      const { t, c } = one as { t?: string; c?: unknown }
      if (t === 'Str') said += c
      else {
        if (t === 'Space' || t === 'SoftBreak' || t === 'LineBreak' || t === 'Para' || t === 'Plain') said += ' '
        visit(t ? c : Object.values(one))
      }
    }
  }
  visit(
    JSON.parse(
      execFileSync('pandoc', [path, '-t', 'json'], {
        encoding: 'utf8',
        maxBuffer: 1 << 30,
        stdio: ['ignore', 'pipe', 'ignore'],
      }),
    ).blocks,
  )
  return said
}

/** A place within a word, and the marks of its letters. */
function withinWord(doc: Node): number | null {
  let place: number | null = null
  doc.descendants((node, at) => {
    const found = place === null && node.isText ? node.text!.search(/\p{L}{3}/u) : -1
    if (found >= 0) place = at + found + 1
    return place === null
  })
  return place
}

interface Text {
  type: 'odt' | 'rtf'
  read(bytes: Uint8Array): { doc: Node }
  write(doc: Node, from: Uint8Array | null): { bytes: Uint8Array; lost: readonly unknown[] }
  /** What of a file is its text. */
  body(bytes: Uint8Array): string
}
const odt: Text = { type: 'odt', read: readOdt, write: writeOdt, body: contentOf }
const rtf: Text = {
  type: 'rtf',
  read: readRtf,
  write: writeRtf,
  body: (bytes) => Buffer.from(bytes).toString('latin1'),
}

/** How many of the words that pandoc finds a document has. */
function agreement(doc: Node, path: string): { there: number; found: number } {
  const ours = new Map<string, number>()
  for (const word of wordsIn(wordsOfDocument(doc).text)) ours.set(word, (ours.get(word) ?? 0) + 1)
  let [there, found] = [0, 0]
  for (const word of wordsIn(wordsElsewhere(path))) {
    there++
    const left = ours.get(word) ?? 0
    if (left) found++
    ours.set(word, left - 1)
  }
  return { there, found }
}
const share = (what: string, value: number, of: number, unit: string, baseline: number) =>
  report({ suite: 'types', case: what, value: of ? value / of : Number.NaN, unit, baseline, better: 'higher' })

function texts(folder: string, { type, read, write, body }: Text): void {
  const names = readdirSync(folder, { recursive: true, encoding: 'utf8' }).filter(
    (name) => extname(name) === `.${type}`,
  )
  let opened = 0
  let [there, found] = [0, 0]
  let [changed, kept] = [0, 0]
  for (const name of names.toSorted()) {
    const path = join(folder, name)
    const bytes = new Uint8Array(readFileSync(path))
    try {
      const { doc } = read(bytes)
      opened++
      const words = agreement(doc, path)
      there += words.there
      found += words.found
      const place = withinWord(doc)
      if (place === null) continue
      changed++
      const mark = 'QQQ'
      const change = new Transform(doc).insert(place, documentSchema.text(mark, doc.resolve(place).marks()))
      const { bytes: now, lost } = write(change.doc, bytes)
      if (!lost.length && body(now).replace(mark, '') === body(bytes)) kept++
      else process.stderr.write(`more than a word is another: ${name}\n`)
    } catch (error) {
      if (!(error instanceof DamagedFile)) throw error
      process.stderr.write(`not opened: ${name}\n`)
    }
  }
  share(`opens-${type}`, opened, names.length, `of ${names.length} files`, 0.98)
  share(`${type}-text-agree`, found, there, `of ${there} words that pandoc finds`, 0.99)
  share(`${type}-changed-word-keeps-all`, kept, changed, `of ${changed} files`, 1)
}

/** Whether pandoc finds in what is written here what it says. */
function writtenTexts(folder: string, { type, read, write }: Text): void {
  const scratch = mkdtempSync(join(tmpdir(), 'jaula-texts-'))
  const path = join(scratch, `written.${type}`)
  let [there, found] = [0, 0]
  try {
    for (const name of readdirSync(folder, { recursive: true, encoding: 'utf8' }).toSorted()) {
      if (extname(name) !== '.docx') continue
      try {
        const { bytes } = write(readDocx(new Uint8Array(readFileSync(join(folder, name)))).doc, null)
        writeFileSync(path, bytes)
        const words = agreement(read(bytes).doc, path)
        there += words.there
        found += words.found
      } catch (error) {
        if (!(error instanceof DamagedFile)) throw error
      }
    }
  } finally {
    rmSync(scratch, { recursive: true })
  }
  share(`${type}-written-text-agree`, found, there, `of ${there} words that pandoc finds`, 0.99)
}

/** What antiword reads: its words, without what it says for pictures and numbers of lists. */
const wordsOfOlder = (path: string): string[] =>
  wordsIn(
    execFileSync('antiword', ['-m', 'UTF-8.txt', '-w', '0', path], {
      encoding: 'utf8',
      maxBuffer: 1 << 30,
      stdio: ['ignore', 'pipe', 'ignore'],
    }).replaceAll('[pic]', ''),
  )
/** All words of a document, with those of what stands in its lines and at the edges of its pages. */
function allWords(doc: Node): string[] {
  const words = wordsIn(wordsOfDocument(doc).text)
  const visit = (one: Node) =>
    one.descendants((node) => {
      if (node.type.name === 'kept') words.push(...wordsIn(node.attrs.words))
      return true
    })
  visit(doc)
  for (const edge of edgesOf(doc)) {
    words.push(...wordsIn(storyOf(edge).textContent))
    visit(storyOf(edge))
  }
  return words
}

/** Documents of the binary format: which open, and whether an independent reader finds the same words in them. */
export function olderTexts(folder: string): void {
  const names = readdirSync(folder, { recursive: true, encoding: 'utf8' }).filter((name) => extname(name) === '.doc')
  let [opened, refused] = [0, 0]
  let [there, found] = [0, 0]
  for (const name of names.toSorted()) {
    const path = join(folder, name)
    const bytes = new Uint8Array(readFileSync(path))
    let doc: Node
    try {
      doc = readDoc(bytes).doc
      opened++
    } catch (error) {
      if (!(error instanceof DamagedFile)) throw error
      // What has a password, is older or is no document at all is not read by anybody here.
      if (/password|older-than/.test(error.message) || typeOfBytes(bytes) !== 'doc') refused++
      else process.stderr.write(`not opened: ${name}\n`)
      continue
    }
    let theirs: string[]
    try {
      theirs = wordsOfOlder(path)
    } catch {
      process.stderr.write(`antiword does not open: ${name}\n`)
      continue
    }
    const ours = new Map<string, number>()
    for (const word of allWords(doc)) ours.set(word, (ours.get(word) ?? 0) + 1)
    for (const word of theirs) {
      there++
      const left = ours.get(word) ?? 0
      if (left) found++
      ours.set(word, left - 1)
    }
  }
  share(
    'opens-doc',
    opened,
    names.length - refused,
    `of ${names.length - refused} files (${refused} older, protected or of another type)`,
    0.98,
  )
  share('doc-text-agree', found, there, `of ${there} words that antiword finds`, 0.99)
}

export function patchedTexts(folder: string): void {
  for (const text of [odt, rtf]) {
    texts(folder, text)
    writtenTexts(folder, text)
  }
}

export function lossAsTexts(): void {
  const paper = longDocument(100)
  for (const { type, write } of [odt, rtf]) {
    const times: number[] = []
    for (let round = 0; round < 5; round++) {
      const begun = performance.now()
      write(paper, null)
      times.push(performance.now() - begun)
    }
    report({
      suite: 'types',
      case: `loss-check-100-pages-${type}`,
      value: median(times),
      unit: 'ms',
      baseline: 500,
      better: 'lower',
    })
  }
}
