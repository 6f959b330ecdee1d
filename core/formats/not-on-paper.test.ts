import { expect, test } from 'vitest'
import { documentSchema } from '../content/document'
import { noLooks } from '../content/looks'
import { documentNotOnPaper, sheetsNotOnPaper } from './not-on-paper'

test('comments and what was taken away are told with the heading they are below, what only pages have is not', () => {
  const kept = (kind: string) => documentSchema.node('kept', { kind, words: 'so', xml: '<a/>', parts: [] })
  const doc = documentSchema.node('doc', null, [
    documentSchema.node('heading', { level: 1 }, [documentSchema.text('Levels')]),
    documentSchema.node('paragraph', null, [documentSchema.text('High '), kept('comment'), kept('footnote')]),
    documentSchema.node('paragraph', null, [kept('removed'), kept('comment')]),
  ])
  expect(documentNotOnPaper(doc, [{ feature: 'charts', count: 2, where: ['Levels'] }])).toEqual([
    { feature: 'comments', count: 2, where: ['Levels'], at: [14] },
    { feature: 'tracked removals', count: 1, where: ['Levels'], at: [18] },
    { feature: 'charts', count: 2, where: ['Levels'] },
  ])
})

test('formulas, hidden lines and hidden sheets are told, what pages are set by is not', () => {
  const rows = [[{ value: 1 }, { formula: 'A1+1' }], [{ formula: 'B1' }]]
  const sheets = [
    { name: 'Tolls', rows, widths: {}, frozen: { rows: 0, columns: 0 } },
    { name: 'Secret', rows, widths: {}, frozen: { rows: 0, columns: 0 } },
  ]
  const looks = [{ ...noLooks, hiddenRows: new Set([4]), hiddenColumns: new Set([2]) }, noLooks]
  const limits = [
    { feature: 'page breaks', count: 1, where: ['Tolls'] },
    { feature: 'charts', count: 1, where: ['Tolls'] },
  ]
  expect(sheetsNotOnPaper({ sheets } as never, looks as never, limits, new Set([1]))).toEqual([
    { feature: 'formulas (their results stay)', count: 2, where: ['Tolls'], at: [0, 0, 1] },
    { feature: 'hidden rows and columns (they become visible)', count: 2, where: ['Tolls'], at: [0, 4, 0] },
    { feature: 'hidden sheets (they become visible)', count: 1, where: ['Secret'], at: [1, 0, 0] },
    { feature: 'charts', count: 1, where: ['Tolls'] },
  ])
})
