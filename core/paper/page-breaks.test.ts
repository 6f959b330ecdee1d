import fc from 'fast-check'
import { expect, test } from 'vitest'
import { brokenAt, pageBreaks } from './page-breaks'

test('paragraphs that go over the end of a page are told by where they begin', () => {
  expect([
    ...brokenAt([
      [1, 1],
      [9, 1],
      [11, 1],
      [40, 2],
      [42, 2],
      [42, 2],
      [44, 2],
      [90, 4],
    ]),
  ]).toEqual([11, 44])
})

test('a page begins at the first place that is on none before it; heads that are there again begin none', () => {
  const head = [
    [3, 1],
    [3, 2],
    [3, 3],
  ] as const
  expect(pageBreaks([...head, [10, 1], [20, 2], [30, 2], [40, 3], [50, 5]])).toEqual([
    { page: 2, at: 20 },
    { page: 3, at: 40 },
    { page: 5, at: 50 },
  ])
  // Of a row that goes on over the end of a page, the first of what is not yet there.
  expect(
    pageBreaks([
      [1, 1],
      [5, 2],
      [9, 1],
      [12, 2],
    ]),
  ).toEqual([{ page: 2, at: 12 }])
  expect(pageBreaks([])).toEqual([])
})

test('of text that is told in its order each page begins where it does', () => {
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.integer({ min: 1, max: 9 }), fc.integer({ min: 0, max: 1 })), { minLength: 1 }),
      (steps) => {
        let [at, page] = [0, 1]
        const places = steps.map(([more, next]) => [(at += more), (page += next)] as const)
        const begun = new Map<number, number>()
        for (const [place, on] of places) if (!begun.has(on)) begun.set(on, place)
        expect(pageBreaks(places)).toEqual(
          [...begun].filter(([on]) => on > 1).map(([on, place]) => ({ page: on, at: place })),
        )
      },
    ),
  )
})
