import { expect, test } from 'vitest'
import type { KeptLikes, PaperLikes, Printer } from '../../core/contract'
import { arrangementFor, lastLikes, namedLikes, onPrinter, sizeInPoints, usualLikes } from './likes'
import { reasonWords } from './reasons'

const printer = (sides: NonNullable<Printer['now']>['sides'] | null, id = 'a'): Printer => ({
  id,
  name: id,
  address: null,
  fault: null,
  now: sides && {
    model: '',
    state: 'idle',
    refuses: false,
    reasons: [],
    waiting: 0,
    sides,
    sizes: [],
    colour: true,
    mostCopies: 1,
    supplies: [],
  },
})
const likes = (more: Partial<PaperLikes>): PaperLikes => ({ ...usualLikes, ...more })

test('what a printer cannot turn is turned by hand, a booklet at the edge that it is not folded along', () => {
  const sides = (more: Partial<PaperLikes>, one: Printer | undefined) => arrangementFor(likes(more), one).sides
  expect(sides({ sides: 'long' }, printer(['one', 'long', 'short']))).toBe('long')
  expect(sides({ sides: 'long' }, printer(['one']))).toBe('hand')
  expect(sides({ sides: 'hand' }, printer(['one', 'long', 'short']))).toBe('hand')
  expect(sides({ sides: 'one' }, printer(['one']))).toBe('one')
  const fold = { leaves: 0, margin: 8 }
  expect(sides({ fold }, printer(['one', 'long', 'short']))).toBe('short')
  expect(sides({ fold, sides: 'one' }, printer(['one']))).toBe('hand')
  // Of one that does not answer, and of the browser's own, nothing is known.
  expect(sides({ sides: 'short' }, printer(null))).toBe('short')
  expect(arrangementFor(likes({ fold, perSide: 4 }), undefined)).toMatchObject({ perSide: 1, sides: 'short' })
})

test('it begins as it was the last time, but for which pages and how many', () => {
  const kept: KeptLikes[] = [
    { about: 'last', likes: likes({ perSide: 4, range: '1-3', copies: 7, printerId: 'a' }) },
    { about: 'named Handout', likes: likes({ perSide: 2, range: '9' }) },
    { about: 'printer b', likes: likes({ sides: 'short', colour: false, perSide: 16 }) },
  ]
  expect(lastLikes(kept)).toMatchObject({ perSide: 4, range: '', copies: 1, printerId: 'a' })
  expect(namedLikes(kept)).toEqual([['Handout', likes({ perSide: 2 })]])
  expect(onPrinter(kept, likes({ perSide: 2 }), 'b')).toMatchObject({
    printerId: 'b',
    sides: 'short',
    colour: false,
    perSide: 2,
  })
  expect(onPrinter(kept, likes({ sides: 'long' }), 'c')).toMatchObject({ printerId: 'c', sides: 'long' })
  expect(onPrinter(kept, likes({}), null).printerId).toBe(null)
  // Who never printed begins with one that answers.
  expect(lastLikes([], [printer(null, 'away'), printer(['one'], 'there')]).printerId).toBe('there')
  expect(lastLikes([], [])).toEqual(usualLikes)
  expect(sizeInPoints('a5')!.width).toBeCloseTo(419.53, 1)
})

test('what a printer says is wrong is said in words, each once', () => {
  expect(reasonWords(['media-empty', 'media-needed', 'printer-stopped', 'none'])).toEqual(['It has no paper'])
  expect(reasonWords(['cover-open', 'fuser-over-temp'])).toEqual(['Its cover is open', 'fuser over temp'])
})

test('what was kept before there was something to choose is as usual in that', () => {
  const { remarks: _, ...before } = usualLikes.paper
  const kept = [
    { about: 'last', likes: { ...usualLikes, paper: { ...before, corner: true } } },
  ] as unknown as KeptLikes[]
  expect(lastLikes(kept).paper).toEqual({ ...usualLikes.paper, corner: true })
})
