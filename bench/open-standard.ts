// Texts of the open standard, those of a folder: whether they open, whether an independent reader finds the same words in
// them, what one changed word costs, and how long it takes to know what a long document loses as one.
import { execFileSync } from 'node:child_process'
import { readdirSync, readFileSync } from 'node:fs'
import { extname, join } from 'node:path'
import type { Node } from 'prosemirror-model'
import { Transform } from 'prosemirror-transform'
import { documentSchema } from '../core/content/document'
import { wordsOfDocument } from '../core/content/words'
import { readOdt } from '../core/formats/odt/read'
import { writeOdt } from '../core/formats/odt/write'
import { openZip } from '../core/formats/opc/zip'
import { DamagedFile } from '../core/formats/refusals'
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
  visit(JSON.parse(execFileSync('pandoc', [path, '-t', 'json'], { encoding: 'utf8' })).blocks)
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

export function openStandard(folder: string): void {
  const names = readdirSync(folder, { recursive: true, encoding: 'utf8' }).filter((name) => extname(name) === '.odt')
  let opened = 0
  let [there, found] = [0, 0]
  let [changed, kept] = [0, 0]
  for (const name of names.toSorted()) {
    const path = join(folder, name)
    const bytes = new Uint8Array(readFileSync(path))
    try {
      const { doc } = readOdt(bytes)
      opened++
      const ours = new Map<string, number>()
      for (const word of wordsIn(wordsOfDocument(doc).text)) ours.set(word, (ours.get(word) ?? 0) + 1)
      for (const word of wordsIn(wordsElsewhere(path))) {
        there++
        const left = ours.get(word) ?? 0
        if (left) found++
        ours.set(word, left - 1)
      }
      const place = withinWord(doc)
      if (place === null) continue
      changed++
      const mark = 'QQQ'
      const change = new Transform(doc).insert(place, documentSchema.text(mark, doc.resolve(place).marks()))
      const { bytes: now, lost } = writeOdt(change.doc, bytes)
      if (!lost.length && contentOf(now).replace(mark, '') === contentOf(bytes)) kept++
      else process.stderr.write(`more than a word is another: ${name}\n`)
    } catch (error) {
      if (!(error instanceof DamagedFile)) throw error
      process.stderr.write(`not opened: ${name}\n`)
    }
  }
  const share = (what: string, value: number, of: number, unit: string, baseline: number) =>
    report({ suite: 'types', case: what, value: of ? value / of : Number.NaN, unit, baseline, better: 'higher' })
  share('opens-odt', opened, names.length, `of ${names.length} files`, 0.98)
  share('odt-text-agree', found, there, `of ${there} words that pandoc finds`, 0.99)
  share('odt-changed-word-keeps-all', kept, changed, `of ${changed} files`, 1)
}

export function lossAsOpenText(): void {
  const paper = longDocument(100)
  const times: number[] = []
  for (let round = 0; round < 5; round++) {
    const begun = performance.now()
    writeOdt(paper, null)
    times.push(performance.now() - begun)
  }
  report({
    suite: 'types',
    case: 'loss-check-100-pages-odt',
    value: median(times),
    unit: 'ms',
    baseline: 500,
    better: 'lower',
  })
}
