// Whether what a type loses is told: for each thing that a document can have, a file with that alone, in each type. An
// independent reader says whether it is still there; it is to be told exactly where it is not.
import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Attrs, Mark, Node } from 'prosemirror-model'
import { documentSchema } from '../core/content/document'
import { writeDocument } from '../core/formats/documents'
import { keptNote } from '../core/formats/flat/notes'
import { toldLossesInSheets } from './losses-in-sheets'
import { report } from './report'

const { nodes, marks } = documentSchema
type Ast = { t: string; c: unknown }

const text = (words: string, ...set: Mark[]) => documentSchema.text(words, set)
const p = (...inline: Node[]) => nodes.paragraph.create(null, inline)
const marked = (mark: Mark) => p(text('The sill '), text('is worn', mark), text('.'))
const item = (words: string, ...inner: Node[]) => nodes.list_item.create(null, [p(text(words)), ...inner])
const cell = (words: string, attrs: Attrs = {}) => nodes.table_cell.create(attrs, p(text(words)))
const row = (attrs: Attrs, ...cells: Node[]) => nodes.table_row.create(attrs, cells)
const pixel =
  'data:image/png;base64,iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg=='
const note = (kind: 'footnote' | 'endnote') =>
  p(text('Worn'), nodes.kept.create(keptNote(kind, [[{ text: 'In June.', strong: false, em: false }]])), text('.'))

const levels = (header: boolean) =>
  nodes.table.create(null, [row({ header }, cell('Lock'), cell('Level')), row({}, cell('LK01'), cell('1.4'))])
/** The rows of a table's head, of whose cells any says something. */
const headOf = (table: unknown): unknown[] =>
  (table as [unknown, unknown, unknown, [unknown, unknown[]]])[3][1].filter((one) =>
    JSON.stringify(one).includes('"Str"'),
  )

/** Whether a tree of pandoc's has a node of a kind. */
const has =
  (kind: string, also: (node: Ast) => boolean = () => true) =>
  (tree: Ast[]): boolean => {
    let found = false
    const visit = (one: unknown): void => {
      if (Array.isArray(one)) for (const inner of one) visit(inner)
      else if (one && typeof one === 'object') {
        const node = one as Ast
        if (node.t === kind && also(node)) found = true
        visit(node.t ? node.c : Object.values(one))
      }
    }
    visit(tree)
    return found
  }
const startsAt = (number: number) => has('OrderedList', ({ c }) => ((c as [[number]])[0] as [number])[0] === number)
const within = (outer: string, inner: string) => has(outer, ({ c }) => has(inner)(c as Ast[]))

/** What each is, and how pandoc shows that it is there. */
const features: [name: string, blocks: Node[], isThere: (tree: Ast[]) => boolean][] = [
  ...[1, 2, 3, 4, 5, 6].map((level): [string, Node[], (tree: Ast[]) => boolean] => [
    `heading ${level}`,
    [nodes.heading.create({ level }, text('Gates')), p(text('Worn.'))],
    has('Header', ({ c }) => (c as [number])[0] === level),
  ]),
  ['bold', [marked(marks.strong.create())], has('Strong')],
  ['italic', [marked(marks.em.create())], has('Emph')],
  ['underline', [marked(marks.underline.create())], has('Underline')],
  ['strike', [marked(marks.strike.create())], has('Strikeout')],
  ['raised', [marked(marks.raised.create())], has('Superscript')],
  ['lowered', [marked(marks.lowered.create())], has('Subscript')],
  ['link', [marked(marks.link.create({ href: 'https://example.org/' }))], has('Link')],
  ['line', [p(text('One'), nodes.hard_break.create(), text('two'))], has('LineBreak')],
  ['points', [nodes.bullet_list.create(null, [item('One'), item('Two')])], has('BulletList')],
  ['numbers', [nodes.ordered_list.create(null, [item('One'), item('Two')])], has('OrderedList')],
  ['numbers from 4', [nodes.ordered_list.create({ start: 4 }, [item('One'), item('Two')])], startsAt(4)],
  [
    'points in points',
    [nodes.bullet_list.create(null, [item('One', nodes.bullet_list.create(null, [item('Deep')]))])],
    within('BulletList', 'BulletList'),
  ],
  [
    'points in numbers',
    [nodes.ordered_list.create(null, [item('One', nodes.bullet_list.create(null, [item('Deep')]))])],
    within('OrderedList', 'BulletList'),
  ],
  ['quote', [nodes.blockquote.create(null, [p(text('Said.'))])], has('BlockQuote')],
  ['table with a head', [levels(true)], has('Table', ({ c }) => headOf(c).length > 0)],
  ['table without a head', [levels(false)], has('Table', ({ c }) => headOf(c).length === 0)],
  [
    'bold in a table',
    [
      nodes.table.create(null, [
        row({ header: true }, nodes.table_cell.create(null, p(text('Lock', marks.strong.create()))), cell('Level')),
        row({}, cell('LK01'), cell('1.4')),
      ]),
    ],
    within('Table', 'Strong'),
  ],
  [
    'image with a size',
    [p(nodes.image.create({ src: pixel, alt: 'A gate', width: 20, height: 20 }))],
    has('Image', ({ c }) => JSON.stringify(c).includes('"width"')),
  ],
  ['footnote', [note('footnote')], has('Note')],
  [
    'bold and italic',
    [p(text('Worn', marks.strong.create(), marks.em.create()))],
    (tree) => has('Strong')(tree) && has('Emph')(tree),
  ],
  [
    'bold link',
    [p(text('here', marks.link.create({ href: 'https://example.org/' }), marks.strong.create()))],
    (tree) => has('Link')(tree) && has('Strong')(tree),
  ],
  [
    'signs',
    [p(text('<b> & "*x*" _y_ # \\ `z` é — Ж'))],
    (tree) => wordsOf(tree).includes('<b> & "*x*" _y_ # \\ `z` é — Ж'),
  ],
]
/** What it says, as letters. */
function wordsOf(tree: unknown): string {
  let said = ''
  const visit = (one: unknown): void => {
    if (Array.isArray(one)) for (const inner of one) visit(inner)
    else if (one && typeof one === 'object') {
      const { t, c } = one as Ast
      if (t === 'Str') said += c
      else if (t === 'Space') said += ' '
      else if (t === 'Quoted') {
        said += '"'
        visit(c)
        said += '"'
      } else visit(t ? c : Object.values(one))
    }
  }
  visit(tree)
  return said
}

/** Types, with how pandoc is to read them. */
const types: [type: string, from: string][] = [
  ['docx', 'docx'],
  ['odt', 'odt'],
  ['rtf', 'rtf'],
  ['html', 'html'],
  ['md', 'commonmark+pipe_tables+strikeout'],
]

export function toldLosses(): void {
  const sheets = toldLossesInSheets((line) => process.stderr.write(`${line}\n`))
  const scratch = mkdtempSync(join(tmpdir(), 'jaula-losses-'))
  let { all, agree } = sheets
  try {
    for (const [name, blocks, isThere] of features)
      for (const [type, from] of types) {
        const doc = nodes.doc.create(null, blocks)
        const { bytes, lost } = writeDocument(doc, null, type)
        const path = join(scratch, `feature.${type}`)
        writeFileSync(path, bytes)
        const json = execFileSync('pandoc', ['-f', from, path, '-t', 'json'], {
          encoding: 'utf8',
          maxBuffer: 1 << 28,
          stdio: ['ignore', 'pipe', 'ignore'],
        })
        const there = isThere(JSON.parse(json).blocks)
        all++
        if (there === (lost.length === 0)) agree++
        else
          process.stderr.write(
            `${name} as ${type}: ${there ? 'there' : 'not there'}, and ${lost.length ? lost.map(({ feature }) => feature).join(', ') : 'nothing'} told\n`,
          )
      }
  } finally {
    rmSync(scratch, { recursive: true })
  }
  report({
    suite: 'types',
    case: 'told-losses-complete',
    value: agree / all,
    unit: `of ${all} files of one feature, by pandoc, openpyxl, xlrd, odfpy and the readers of Python`,
    baseline: 1,
    better: 'higher',
  })
}
