import fc from 'fast-check'
import type { Node } from 'prosemirror-model'
import { expect, test } from 'vitest'
import { documentSchema } from '../../content/document'
import { layTable } from '../docx/table'
import { type FlatRow, gridTable } from './grid'

const { nodes } = documentSchema
const merge = fc.constantFrom('no' as const, 'no' as const, 'first' as const, 'over' as const)
const rows = fc.array(
  fc.record({
    left: fc.integer({ min: -300, max: 300 }),
    header: fc.boolean(),
    cells: fc.array(
      fc.record({ right: fc.integer({ min: -500, max: 9000 }), down: merge, along: merge, auto: fc.boolean() }),
      { minLength: 1, maxLength: 6 },
    ),
  }),
  { minLength: 1, maxLength: 6 },
)

test('whatever a file says of its cells: the table is even, and no word of any cell is lost', () => {
  fc.assert(
    fc.property(rows, (shapes) => {
      let number = 0
      const words: string[] = []
      const given = shapes.map(
        (shape): FlatRow => ({
          shape,
          cells: shape.cells.map(() => {
            words.push(`w${number}.`)
            return [nodes.paragraph.create(null, documentSchema.text(`w${number++}.`))]
          }),
        }),
      )
      const table: Node = gridTable(given)
      table.check()
      const { width, rows: slots } = layTable(table)
      for (const row of slots) expect(Array.from({ length: width }, (_, at) => !!row[at])).not.toContain(false)
      for (const word of words) expect(table.textContent.split(word)).toHaveLength(2)
    }),
    { numRuns: 300 },
  )
})
