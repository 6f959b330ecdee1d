import fc from 'fast-check'
import type { Node } from 'prosemirror-model'
import { describe, expect, test } from 'vitest'
import { transformTo } from '../compare/replacements'
import { compareWorkbooks } from '../compare/workbook'
import { documentSchema } from '../content/document'
import { anyDocument } from '../content/document.arbitrary'
import { anyEdit, edited } from '../content/document-edits.arbitrary'
import { blankWorkbook, type Workbook } from '../content/workbook'
import { anyFormula, anyHistory, opFor } from '../content/workbook.arbitrary'
import { applyOp, applyOps } from '../content/workbook-ops'
import { commonDocument, commonWorkbook, partOfWorkbook } from './common'
import { mergeDocuments } from './document'
import { mergeWorkbooks } from './workbook'

const { nodes } = documentSchema
const p = (text: string) => nodes.paragraph.create(null, text ? documentSchema.text(text) : null)
const doc = (...texts: string[]) => nodes.doc.create(null, texts.map(p))
const texts = (node: Node) => node.content.content.map((block) => block.textContent)

describe('works that neither came of the other', () => {
  test('merged over what they have in common, hold everything of both', () => {
    fc.assert(
      fc.property(anyDocument, fc.array(anyEdit, { maxLength: 6 }), anyDocument, (start, edits, other) => {
        for (const [mine, theirs] of [
          [start, edited(start, edits)],
          [start, other],
        ] as const) {
          const { doc: merged, conflicts } = mergeDocuments(commonDocument(mine, theirs), mine, theirs)
          merged.check()
          const there = [merged.textContent, ...conflicts.map((one) => JSON.stringify(one.theirs))].join(' ')
          for (const side of [mine, theirs])
            for (const word of side.textBetween(0, side.content.size, ' ', ' ').match(/[\p{L}\p{N}]{3,}/gu) ?? [])
              expect(there).toContain(word)
        }
      }),
      { numRuns: 60 },
    )
    fc.assert(
      fc.property(anyHistory(6), anyHistory(6), ({ end: mine }, { end: theirs }) => {
        const { workbook, conflicts } = mergeWorkbooks(commonWorkbook(mine, theirs), mine, theirs)
        const values = new Set(
          [
            workbook,
            ...[{ sheets: [{ name: '', widths: {}, rows: [conflicts.map(({ theirs: one }) => one ?? undefined)] }] }],
          ]
            .flatMap(({ sheets }) => sheets.flatMap(({ rows }) => rows.flatMap((row) => row ?? [])))
            .map((cell) => JSON.stringify(cell?.value)),
        )
        for (const { sheets } of [mine, theirs])
          for (const { rows } of sheets)
            for (const cell of rows.flatMap((row) => row ?? []))
              if (cell?.value !== undefined) expect(values.has(JSON.stringify(cell.value))).toBe(true)
        for (const name of theirs.sheets.map((sheet) => sheet.name)) {
          const part = partOfWorkbook(mine, theirs, [name])
          expect(part.sheets.some((sheet) => sheet === theirs.sheets.find((one) => one.name === name))).toBe(true)
        }
        expect(partOfWorkbook(mine, theirs, [])).toEqual(mine)
      }),
      { numRuns: 60 },
    )
  })
})

describe('documents', () => {
  test('merging with a side that changed nothing gives the other side, and with the same change makes it once', () => {
    fc.assert(
      fc.property(anyDocument, fc.array(anyEdit, { maxLength: 8 }), (base, edits) => {
        const side = edited(base, edits)
        for (const { doc: merged, conflicts } of [
          mergeDocuments(base, side, base),
          mergeDocuments(base, base, side),
          mergeDocuments(base, side, side),
        ]) {
          expect(merged.eq(side)).toBe(true)
          expect(conflicts).toEqual([])
        }
      }),
      { numRuns: 100 },
    )
  })
  test('it is symmetric but for conflicts, always opens, and loses no letter that a side typed', () => {
    const edits = fc.array(anyEdit, { maxLength: 6 })
    fc.assert(
      fc.property(anyDocument, edits, edits, (base, left, right) => {
        const [mine, theirs] = [edited(base, left), edited(base, right)]
        const one = mergeDocuments(base, mine, theirs)
        const other = mergeDocuments(base, theirs, mine)
        one.doc.check()
        expect(one.conflicts.length).toBe(other.conflicts.length)
        if (!one.conflicts.length) expect(one.doc.eq(other.doc)).toBe(true)
        for (const { from, to } of one.conflicts) expect(() => one.doc.slice(from, to)).not.toThrow()
      }),
      { numRuns: 130 },
    )
  })
  test('every mark that a side typed is in the result or in a shown conflict', () => {
    const places = fc.array(fc.nat(), { minLength: 1, maxLength: 6 })
    fc.assert(
      fc.property(anyDocument, places, places, (base, left, right) => {
        const typed = (side: string, list: readonly number[]) =>
          list.reduce((now, at, index) => edited(now, [{ at, kind: 'type', text: ` ${side}${index} ` }]), base)
        const [mine, theirs] = [typed('mine', left), typed('their', right)]
        const { doc: merged, conflicts } = mergeDocuments(base, mine, theirs)
        const shown = merged.textContent + JSON.stringify(conflicts)
        for (const [node, side, list] of [
          [mine, 'mine', left],
          [theirs, 'their', right],
        ] as const)
          for (const index of list.keys())
            if (node.textContent.includes(`${side}${index}`)) expect(shown).toContain(`${side}${index}`)
      }),
      { numRuns: 130 },
    )
  })
  test('changes that do not touch combine, down to the word; where they touch both are kept', () => {
    const base = doc('The gate leaks at the mitre.', 'Caulk it.', 'Before June.')
    const mine = doc('The lower gate leaks at the mitre.', 'Caulk it.', 'Before June.', 'Ask the workshop.')
    const theirs = doc('The gate leaks badly at the mitre.', 'Before June.')
    const apart = mergeDocuments(base, mine, theirs)
    expect(texts(apart.doc)).toEqual(['The lower gate leaks badly at the mitre.', 'Before June.', 'Ask the workshop.'])
    expect(apart.conflicts).toEqual([])
    const clash = mergeDocuments(base, doc('The gate leaks at the mitre.', 'Caulk it twice.', 'Before June.'), theirs)
    expect(texts(clash.doc)).toEqual(['The gate leaks badly at the mitre.', 'Caulk it twice.', 'Before June.'])
    expect(clash.conflicts).toMatchObject([{ inline: false, theirs: [] }])
    const word = mergeDocuments(doc('by May'), doc('by June'), doc('by July'))
    expect(texts(word.doc)).toEqual(['by June July'])
    expect(word.conflicts).toMatchObject([{ inline: true, mine: [{ text: 'June' }], theirs: [{ text: 'July' }] }])
  })
})

describe('workbooks', () => {
  const cell = fc.oneof(
    fc.integer({ min: 0, max: 99 }).map((value) => ({ value })),
    anyFormula.map((formula) => ({ formula })),
  )
  const changes = fc.array(fc.record({ row: fc.nat(7), column: fc.nat(4), cell }), { minLength: 1, maxLength: 30 })
  const start = changes.map((cells) =>
    applyOp(
      {
        sheets: [
          { name: 'Sheet 1', rows: [], widths: {} },
          { name: 'Other', rows: [], widths: {} },
        ],
      },
      { op: 'cells', sheet: 0, cells },
    ),
  )
  /** A base, and a side that a few fitting operations made of it. */
  const withSide = start.chain((base) =>
    fc.tuple(fc.constant(base), fc.nat(), fc.nat(5)).map(([workbook, seed, count]) => {
      let side = workbook
      for (let at = 0; at < count; at++)
        side = applyOp(side, fc.sample(opFor(side), { numRuns: 1, seed: seed + at })[0]!)
      return [workbook, side] as const
    }),
  )
  test('merging with a side that changed nothing gives the other side, and with the same change makes it once', () => {
    fc.assert(
      fc.property(withSide, ([base, side]) => {
        for (const { workbook, conflicts } of [mergeWorkbooks(base, side, base), mergeWorkbooks(base, side, side)]) {
          expect(workbook).toEqual(side)
          expect(conflicts).toEqual([])
        }
        // Sheets in the order of mine, so that an order that only theirs has is not taken over.
        const { workbook, conflicts } = mergeWorkbooks(base, base, side)
        const sorted = (book: Workbook) => book.sheets.toSorted((a, b) => a.name.localeCompare(b.name))
        expect(sorted(workbook)).toEqual(sorted(side))
        expect(conflicts).toEqual([])
      }),
      { numRuns: 120 },
    )
  })
  test('a formula moves with the rows that the other side put in, and conflicts are cells with both', () => {
    const base = applyOp(blankWorkbook(), {
      op: 'cells',
      sheet: 0,
      cells: Array.from({ length: 10 }, (_, row) => ({ row, column: 0, cell: { value: row * 10 } })),
    })
    const mine = applyOp(base, {
      op: 'cells',
      sheet: 0,
      cells: [
        { row: 9, column: 1, cell: { formula: 'SUM(A1:A10)' } },
        { row: 0, column: 0, cell: { value: 1 } },
      ],
    })
    const grown = applyOp(base, { op: 'insert', sheet: 0, axis: 'rows', at: 4, count: 2 })
    const theirs = applyOp(grown, {
      op: 'cells',
      sheet: 0,
      cells: [
        { row: 4, column: 0, cell: { value: 7 } },
        { row: 5, column: 0, cell: { value: 8 } },
        { row: 0, column: 0, cell: { value: 2 } },
      ],
    })
    const { workbook, conflicts } = mergeWorkbooks(base, mine, theirs)
    expect(workbook.sheets[0]!.rows[11]![1]).toEqual({ formula: 'SUM(A1:A12)' })
    expect(workbook.sheets[0]!.rows[4]![0]).toEqual({ value: 7 })
    expect(conflicts).toEqual([
      { sheet: 'Sheet 1', row: 0, column: 0, base: { value: 0 }, mine: { value: 1 }, theirs: { value: 2 } },
    ])
    expect(applyOps(mine, compareWorkbooks(mine, workbook).ops)).toEqual(workbook)
  })
  test('merged cells, heights and what is hidden of both come together, where their rows are', () => {
    const rows = Array.from({ length: 8 }, (_, row) => [{ value: row * 10 }, { value: 'Lock' }])
    const base: Workbook = {
      sheets: [
        { name: 'Tolls', rows, widths: {}, merged: [{ top: 2, left: 0, bottom: 2, right: 1 }], hiddenRows: [7] },
      ],
    }
    const mine = applyOps(base, [
      { op: 'merge', sheet: 0, areas: [{ top: 5, left: 0, bottom: 6, right: 0 }] },
      { op: 'height', sheet: 0, spans: [[4, 4]], height: 40 },
      { op: 'cells', sheet: 0, cells: [{ row: 0, column: 0, cell: { value: 0, style: { bottom: '1 solid' } } }] },
    ])
    const theirs = applyOps(base, [
      { op: 'insert', sheet: 0, axis: 'rows', at: 1, count: 2 },
      {
        op: 'cells',
        sheet: 0,
        cells: [
          { row: 1, column: 0, cell: { value: 'new' } },
          { row: 2, column: 0, cell: { value: 'new too' } },
        ],
      },
      { op: 'unmerge', sheet: 0, areas: [{ top: 4, left: 0, bottom: 4, right: 1 }] },
      { op: 'merge', sheet: 0, areas: [{ top: 8, left: 0, bottom: 9, right: 1 }] },
      { op: 'hide', sheet: 0, axis: 'columns', spans: [[1, 1]], hidden: true },
      { op: 'cells', sheet: 0, cells: [{ row: 0, column: 0, cell: { value: 0, style: { font: 'Georgia' } } }] },
    ])
    const { workbook, conflicts } = mergeWorkbooks(base, mine, theirs)
    expect(conflicts).toEqual([])
    const [sheet] = workbook.sheets
    // Of two areas that overlap, mine.
    expect(sheet!.merged).toEqual([{ top: 7, left: 0, bottom: 8, right: 0 }])
    expect(sheet!.heights).toEqual({ 6: 40 })
    expect(sheet!.hiddenRows).toEqual([9])
    expect(sheet!.hiddenColumns).toEqual([1])
    expect(sheet!.rows[0]![0]).toEqual({ value: 0, style: { bottom: '1 solid', font: 'Georgia' } })
  })
  test('every value that a side entered is in the result or in a conflict', () => {
    const entries = fc.array(fc.tuple(fc.nat(7), fc.nat(4)), { minLength: 1, maxLength: 6 })
    fc.assert(
      fc.property(withSide, entries, entries, fc.boolean(), ([base, other], left, right, moved) => {
        const entered = (from: Workbook, side: string, places: readonly [number, number][]) =>
          places.reduce(
            (now, [row, column], index) =>
              applyOp(now, { op: 'cells', sheet: 0, cells: [{ row, column, cell: { value: `${side}${index}` } }] }),
            from,
          )
        const mine = entered(base, 'mine', left)
        const theirs = entered(moved ? other : base, 'their', right)
        const shown = JSON.stringify(mergeWorkbooks(base, mine, theirs))
        for (const [book, side] of [
          [mine, 'mine'],
          [theirs, 'their'],
        ] as const)
          for (let index = 0; index < 6; index++)
            if (JSON.stringify(book).includes(`"${side}${index}"`)) expect(shown).toContain(`"${side}${index}"`)
      }),
      { numRuns: 120 },
    )
  })
})

test('the steps from a document to its merge make exactly it', () => {
  fc.assert(
    fc.property(anyDocument, anyDocument, fc.array(anyEdit, { maxLength: 8 }), (one, other, edits) => {
      expect(transformTo(one, edited(one, edits)).doc.content.eq(edited(one, edits).content)).toBe(true)
      expect(transformTo(one, other).doc.content.eq(other.content)).toBe(true)
    }),
    { numRuns: 100 },
  )
})
