// Comparing by meaning beside the best general difference of the same text: how long it takes, and in how many
// changes it says the same.
import { diffArrays, diffWordsWithSpace } from 'diff'
import type { Node } from 'prosemirror-model'
import { compareDocuments } from '../core/compare/document'
import { compareWorkbooks } from '../core/compare/workbook'
import type { Workbook } from '../core/content/workbook'
import { applyOps, type WorkbookOp } from '../core/content/workbook-ops'
import { doc, h, p } from '../server/demo/papers'
import { median, report } from './report'
import { writer } from './series'

const suite = 'compare'
const rounds = 7
function timed<T>(job: () => T): { ms: number; value: T } {
  const times: number[] = []
  let value: T
  for (let round = 0; round <= rounds; round++) {
    globalThis.gc?.()
    const begun = performance.now()
    value = job()
    if (round) times.push(performance.now() - begun)
  }
  return { ms: median(times), value: value! }
}

// A hundred pages of some 480 words, with five hundred edits scattered over them.
{
  const { pick, word, paragraph } = writer(3)
  const blocks = Array.from({ length: 1000 }, (_, at) => (at % 20 === 0 ? `# Lock ${at}` : paragraph()))
  const edited = [...blocks]
  for (let edit = 0; edit < 500; edit++) {
    const at = pick(edited.length)
    const words = edited[at]!.split(' ')
    if (edit % 3 === 0) words.splice(1 + pick(words.length), 1)
    else words.splice(1 + pick(words.length), edit % 3 === 1 ? 1 : 0, word())
    edited[at] = words.join(' ')
  }
  const paper = (list: readonly string[]): Node =>
    doc(...list.map((text) => (text[0] === '#' ? h(2, text.slice(2)) : p(text))))
  const [older, newer] = [paper(blocks), paper(edited)]
  const ours = timed(() => compareDocuments(older, newer))
  const library = timed(() => diffWordsWithSpace(blocks.join('\n'), edited.join('\n')))
  const changes = ours.value.places.length
  const others = library.value.filter(({ added, removed }) => added || removed).length
  report({
    suite,
    case: 'document-100-pages',
    value: ours.ms,
    unit: `ms in ${changes} changes; the library in ${others}`,
    baseline: library.ms,
    better: 'lower',
  })
}

// Two hundred thousand cells, a thousand of them edited, and fifty rows put in.
{
  const { pick, random } = writer(5)
  const book: Workbook = {
    sheets: [
      {
        name: 'Ledger',
        widths: {},
        rows: Array.from({ length: 10_000 }, (_, y) =>
          Array.from({ length: 20 }, (_, x) =>
            x === 19 ? { formula: `A${y + 1}+B${y + 1}` } : { value: x === 2 ? `LK${pick(99)}` : random() * 1e4 },
          ),
        ),
      },
    ],
  }
  const ops: WorkbookOp[] = [
    {
      op: 'cells',
      sheet: 0,
      cells: Array.from({ length: 1000 }, () => ({ row: pick(10_000), column: pick(19), cell: { value: random() } })),
    },
  ]
  for (let row = 0; row < 50; row++) {
    const at = pick(10_000)
    ops.push({ op: 'insert', sheet: 0, axis: 'rows', at, count: 1 })
    ops.push({
      op: 'cells',
      sheet: 0,
      cells: Array.from({ length: 20 }, (_, column) => ({ row: at, column, cell: { value: random() } })),
    })
  }
  // As decoded from two files: no row is the same object.
  const newer = structuredClone(applyOps(book, ops))
  const ours = timed(() => compareWorkbooks(book, newer))
  const lines = ({ sheets }: Workbook) =>
    sheets[0]!.rows.flatMap((row) => (row ?? []).map((cell) => cell?.formula ?? String(cell?.value ?? '')))
  const [a, b] = [lines(book), lines(newer)]
  const begun = performance.now()
  const library = diffArrays(a, b, { timeout: 60_000 })
  const took = performance.now() - begun
  const others = library?.filter(({ added, removed }) => added || removed).length
  const [sheet] = ours.value.sheets
  report({
    suite,
    case: 'cells-200k',
    value: ours.ms,
    unit: `ms in ${sheet!.cells} cells and ${sheet!.rowsAdded} rows; the library in ${others ?? 'no answer within a minute'}`,
    baseline: took,
    better: 'lower',
  })
}
