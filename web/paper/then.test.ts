import type { Node } from 'prosemirror-model'
import { expect, test } from 'vitest'
import { documentFromJSON, documentSchema, hasMark } from '../../core/content/document'
import type { ShownSheet } from '../../core/paper/shown'
import { marks, thenOnPaper } from './then'

const { nodes } = documentSchema
const fillsIn = (json: unknown): [string, string | null][] => {
  const found: [string, string | null][] = []
  documentFromJSON(json).descendants((node: Node) => {
    if (node.isText) found.push([node.text!, (hasMark(node.marks, 'look')?.attrs.fill as string | undefined) ?? null])
  })
  return found
}

test('what differs from now is marked in a document, its other looks as they are', () => {
  const red = documentSchema.mark('look', { color: '#aa0000' })
  const doc = nodes.doc!.create(
    null,
    nodes.paragraph!.create(null, [
      documentSchema.text('The upper '),
      documentSchema.text('paddle', [red]),
      documentSchema.text(' lifts'),
    ]),
  )
  const then = {
    kind: 'document' as const,
    json: doc.toJSON(),
    summary: '',
    gone: [{ from: 5, to: 14 }],
    moved: [],
    look: [{ from: 18, to: 20 }],
  }
  const looked = { id: 'a', then, present: null, version: null }
  expect(thenOnPaper(looked, true, false)).toEqual({ kind: 'document', json: doc.toJSON() })
  const marked = thenOnPaper(looked, true, true)
  if (marked?.kind !== 'document') throw new Error('no document')
  expect(fillsIn(marked.json)).toEqual([
    ['The ', null],
    ['upper ', marks.gone],
    ['pad', marks.gone],
    ['dle', null],
    [' ', null],
    ['li', marks.look],
    ['fts', null],
  ])
  const [, , paddle] = (documentFromJSON(marked.json).firstChild!.content as unknown as { content: Node[] }).content
  expect(hasMark(paddle!.marks, 'look')?.attrs).toMatchObject({ color: '#aa0000', fill: marks.gone })
})

test('and in sheets: cells, and rows and columns that are not there any more', () => {
  const sheet = (name: string) => ({
    name,
    widths: {},
    rows: [
      [{ value: 1 }, { value: 2 }],
      [{ value: 3 }, { value: 4, style: { bold: true as const } }],
    ],
  })
  const then = {
    kind: 'spreadsheet' as const,
    ops: [],
    results: [],
    papers: [],
    summary: '',
    marks: [
      { cells: [[1, 1] as [number, number]], rows: [0], columns: [], following: [] },
      { cells: [], rows: [], columns: [1], following: [] },
    ],
  }
  const put = thenOnPaper({ id: 'a', then, present: { sheets: [sheet('A'), sheet('B')] }, version: null }, false, true)
  if (put?.kind !== 'sheets') throw new Error('no sheets')
  const fills = (put.sheets as ShownSheet[]).map(({ rows, looks }) =>
    rows.map(({ cells }) => cells.map(({ look }) => looks[look]?.fill ?? null)),
  )
  expect(fills).toEqual([
    [
      [marks.gone, marks.gone],
      [null, marks.look],
    ],
    [
      [null, marks.gone],
      [null, marks.gone],
    ],
  ])
  expect((put.sheets as ShownSheet[])[0]!.looks.at(-1)).toMatchObject({ bold: true, fill: marks.look })
  expect(put.others).toBe(1)
})
