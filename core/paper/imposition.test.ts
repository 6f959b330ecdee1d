import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import {
  type Arrangement,
  impose,
  type PerSide,
  plainArrangement,
  readOf,
  rectangleOf,
  type Side,
  sideLies,
} from './imposition'
import { pagesIn, pagesOfSection } from './ranges'

const arrangement: fc.Arbitrary<Arrangement> = fc.record({
  which: fc.constantFrom('all' as const, 'odd' as const, 'even' as const),
  reverse: fc.boolean(),
  copies: fc.integer({ min: 1, max: 5 }),
  collate: fc.boolean(),
  fold: fc.option(fc.record({ leaves: fc.nat(6), margin: fc.nat(30) })),
  perSide: fc.constantFrom<PerSide>(1, 2, 4, 6, 8, 9, 16),
  order: fc.constantFrom(
    'rows' as const,
    'columns' as const,
    'rows-from-right' as const,
    'columns-from-right' as const,
  ),
  frames: fc.boolean(),
  sides: fc.constantFrom('one' as const, 'long' as const, 'short' as const, 'hand' as const),
})
const chosen = fc.uniqueArray(fc.integer({ min: 1, max: 200 }), { maxLength: 60 })

/** A leaf of paper as it lies: what is on its front and on its back. */
interface Leaf {
  front: Side
  back: Side | null
}
/** What comes out of a printer, leaf by leaf, as somebody takes it. */
function printed({ sides, backs }: ReturnType<typeof impose>): Leaf[] {
  if (backs) {
    // The printer lays each leaf on those before; the stack is put back, and its top leaf goes through first.
    const stack = sides.map((front): Leaf => ({ front, back: null }))
    const again = [...stack].reverse()
    for (const [at, back] of backs.entries()) again[at]!.back = back
    return stack
  }
  const leaves: Leaf[] = []
  for (const side of sides) {
    if (side.back) leaves.at(-1)!.back = side
    else leaves.push({ front: side, back: null })
  }
  return leaves
}
/** How somebody goes through the places of a face. */
function lookedAt({ places }: Side, order: Arrangement['order']): number[] {
  const key = {
    rows: [1, 1, 'row'],
    columns: [1, 1, 'column'],
    'rows-from-right': [-1, 1, 'row'],
    'columns-from-right': [-1, 1, 'column'],
  } as const
  const [way, , first] = key[order]
  const sorted = [...places].sort((a, b) => {
    const [row, column] = [a.row - b.row, (a.column - b.column) * way]
    return first === 'row' ? row || column : column || row
  })
  return sorted.flatMap(({ page }) => (page === null ? [] : [page]))
}
/** Leaves laid on each other and folded in the middle: the pages as they are turned. */
function turned(leaves: readonly Leaf[]): number[] {
  const at = (side: Side | null, column: number) => side?.places.find((one) => one.column === column)?.page ?? null
  // From the front: the right half of each front, then what is on its back, which lies at the left when the leaf is turned.
  const first = leaves.flatMap(({ front, back }) => [at(front, 1), at(back, 0)])
  const second = [...leaves].reverse().flatMap(({ front, back }) => [at(back, 1), at(front, 0)])
  return [...first, ...second].filter((page): page is number => page !== null)
}

test('each page is on exactly one place of each copy, in the order in which it is read', () => {
  fc.assert(
    fc.property(chosen, arrangement, fc.boolean(), (pages, how, landscape) => {
      const read = readOf(pages, how)
      const leaves = printed(impose(pages, how, landscape))
      for (let copy = 0; copy < how.copies; copy++) {
        const own = leaves.filter(({ front }) => front.copy === copy)
        for (const { front, back } of own) if (back) expect([back.copy, back.leaf]).toEqual([front.copy, front.leaf])
        const inOrder = how.reverse ? [...own].reverse() : own
        expect(inOrder.map(({ front }) => front.leaf)).toEqual(inOrder.map((_, at) => at))
        if (how.fold) {
          const most = how.fold.leaves || inOrder.length || 1
          const parts: Leaf[][] = []
          for (let from = 0; from < inOrder.length; from += most) parts.push(inOrder.slice(from, from + most))
          expect(parts.flatMap(turned)).toEqual(read)
        } else
          expect(
            inOrder.flatMap(({ front, back }) => [
              ...lookedAt(front, how.order),
              ...(back ? lookedAt(back, how.order) : []),
            ]),
          ).toEqual(read)
      }
      // A copy is whole before the next one begins, or all copies of a leaf lie together.
      const copies = leaves.map(({ front }) => front.copy)
      if (how.collate) expect(copies).toEqual([...copies].sort((a, b) => a - b))
      else {
        const each = leaves.map(({ front }) => front.leaf)
        expect(each).toEqual([...each].sort((a, b) => (how.reverse ? b - a : a - b)))
      }
    }),
    { numRuns: 500 },
  )
})

test('places do not lie over each other nor past the edge, and a page keeps its shape', () => {
  fc.assert(
    fc.property(arrangement, fc.boolean(), fc.boolean(), (how, landscape, wide) => {
      const page = landscape ? { width: 842, height: 595 } : { width: 595, height: wide ? 1008 : 842 }
      const lies = sideLies(how, landscape)
      const paper = lies ? { width: 842, height: 595 } : { width: 595, height: 842 }
      const [side] = impose(
        Array.from({ length: 40 }, (_, at) => at + 1),
        how,
        landscape,
      ).sides
      const all = side!.places.map((place) => rectangleOf(side!, place, paper, page, how))
      for (const [at, one] of all.entries()) {
        expect(Math.min(one.x, one.y)).toBeGreaterThan(-0.01)
        expect(one.x + one.width).toBeLessThan(paper.width + 0.01)
        expect(one.y + one.height).toBeLessThan(paper.height + 0.01)
        expect(one.width / one.height).toBeCloseTo(page.width / page.height)
        for (const other of all.slice(at + 1)) {
          const beside = one.x + one.width <= other.x + 0.01 || other.x + other.width <= one.x + 0.01
          const below = one.y + one.height <= other.y + 0.01 || other.y + other.height <= one.y + 0.01
          expect(beside || below).toBe(true)
        }
      }
      if (how.fold)
        expect(all[1]!.x - (all[0]!.x + all[0]!.width)).toBeCloseTo(2 * Math.min(how.fold.margin, paper.width / 8))
    }),
  )
})

test('two upright pages lie beside each other, a booklet of eight has its last page beside its first', () => {
  const two = impose([1, 2, 3], { ...plainArrangement, perSide: 2 })
  expect(two.sides.map(({ places }) => places.map(({ page }) => page))).toEqual([
    [1, 2],
    [3, null],
  ])
  expect(sideLies({ ...plainArrangement, perSide: 2 }, false)).toBe(true)
  const folded = impose([1, 2, 3, 4, 5, 6, 7, 8], {
    ...plainArrangement,
    fold: { leaves: 0, margin: 0 },
    sides: 'long',
  })
  expect(folded.sides.map(({ places }) => places.map(({ page }) => page))).toEqual([
    [8, 1],
    [2, 7],
    [6, 3],
    [4, 5],
  ])
})

describe('which pages', () => {
  const sections = [
    { title: 'Findings', level: 1, page: 2 },
    { title: 'Gates', level: 2, page: 3 },
    { title: 'Weir', level: 2, page: 3 },
    { title: 'Next steps', level: 1, page: 6 },
  ]
  test.each<[string, number[] | string]>([
    ['', [1, 2, 3, 4, 5, 6, 7, 8, 9]],
    ['1,3,5-7', [1, 3, 5, 6, 7]],
    ['8-', [8, 9]],
    ['-2', [1, 2]],
    ['last', [9]],
    ['letzte; 1', [9, 1]],
    ['7 – last', [7, 8, 9]],
    ['3-1', [3, 2, 1]],
    ['"Findings"', [2, 3, 4, 5]],
    ['“next” 1', [6, 7, 8, 9, 1]],
    ['„Gates“', [3]],
    ['0', 'paper.outside'],
    ['10', 'paper.outside'],
    ['4-12', 'paper.outside'],
    ['two', 'paper.no-range'],
    ['-', 'paper.no-range'],
    ['1 2', 'paper.no-range'],
    ['"Locks"', 'paper.no-section'],
    ['""', 'paper.no-section'],
  ])('%s', (typed, wanted) => {
    const found = pagesIn(typed, 9, sections)
    expect('say' in found ? found.say : found).toEqual(wanted)
  })
  test('of anything typed are pages that are there, or a sentence', () => {
    fc.assert(
      fc.property(
        fc.string({ unit: fc.constantFrom('1', '9', '0', '-', ',', ' ', '"', 'last', 'x'), maxLength: 12 }),
        fc.integer({ min: 1, max: 40 }),
        (typed, pages) => {
          const found = pagesIn(typed, pages, sections)
          if (!('say' in found)) for (const page of found) expect(page >= 1 && page <= pages).toBe(true)
        },
      ),
    )
  })
  test('a section goes on to the next heading of its rank', () => {
    expect(sections.map((_, at) => pagesOfSection(sections, at, 9))).toEqual([
      [2, 5],
      [3, 3],
      [3, 5],
      [6, 9],
    ])
  })
})
