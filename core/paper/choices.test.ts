import fc from 'fast-check'
import { expect, test } from 'vitest'
import { a4 } from '../content/document'
import { sizeOf, sizes } from '../content/paper-sizes'
import { noChoices } from '../contract'
import { pageWith, writtenTree } from './choices'

test('a tree is written as JSON that anybody reads, with its colours or without', () => {
  fc.assert(
    fc.property(
      fc.array(
        fc.oneof(
          fc.string({ unit: 'binary' }),
          fc.string({ unit: fc.constantFrom('\ud800', '\udc00', 'a', '\\', '😀') }),
        ),
      ),
      (all) => {
        const written = writtenTree({ all }, true)
        const { all: again } = JSON.parse(written) as { all: string[] }
        for (const [at, one] of again.entries()) {
          expect(Buffer.from(one).toString()).toBe(one)
          if (Buffer.from(all[at]!).toString() === all[at]) expect(one).toBe(all[at])
          else expect(one).toHaveLength(all[at]!.length)
        }
      },
    ),
  )
  const tree = {
    color: '#ff0000',
    fill: '#00ff00',
    border: { color: '#ff0000', dash: 'solid' },
    runs: [{ t: 'x', color: '#0000ff' }],
  }
  expect(JSON.parse(writtenTree(tree, true))).toEqual(tree)
  expect(JSON.parse(writtenTree(tree, false))).toEqual({ border: { color: null, dash: 'solid' }, runs: [{ t: 'x' }] })
})

test('a page is of the size, and lies as, was chosen, and leaves room for its text', () => {
  fc.assert(
    fc.property(
      fc.constantFrom(null, ...(Object.keys(sizes) as (keyof typeof sizes)[])),
      fc.constantFrom(null, true, false),
      fc.constantFrom(null, 'narrow' as const, 'usual' as const, 'wide' as const),
      (size, landscape, margins) => {
        const page = pageWith(a4, { ...noChoices, size, landscape, margins })
        if (size) expect(sizeOf(page.width / 20, page.height / 20)).toBe(size)
        expect(page.width > page.height).toBe(landscape ?? a4.width > a4.height)
        expect(page.left + page.right).toBeLessThanOrEqual(page.width * 0.81)
        expect(page.top + page.bottom).toBeLessThanOrEqual(page.height * 0.81)
      },
    ),
  )
  expect(pageWith(a4, noChoices)).toEqual(a4)
})
