import fc from 'fast-check'
import { expect, test } from 'vitest'
import { type Column, fitting, readWish, templateOf } from './columns'

const all: Column[] = ['type', 'size', 'version', 'saved', 'by']
const wish = fc.subarray(all)

test('only wished columns are shown, in their order, and the name keeps its room', () => {
  fc.assert(
    fc.property(wish, fc.nat(2000), (wished, width) => {
      const shown = fitting(wished, width)
      expect(shown).toEqual(all.filter((column) => shown.includes(column)))
      for (const column of shown) expect(wished).toContain(column)
      const taken = templateOf(shown)
        .split(' ')
        .filter((track) => track.endsWith('px'))
        .reduce((sum, track) => sum + Number.parseInt(track, 10), 0)
      const gaps = (shown.length + 2) * 16
      if (shown.length) expect(width - taken - gaps).toBeGreaterThanOrEqual(300)
    }),
  )
})
test('with more room no column goes, and with enough of it all that are wished are there', () => {
  fc.assert(
    fc.property(wish, fc.nat(1500), fc.nat(500), (wished, width, more) => {
      expect(fitting(wished, width + more)).toEqual(expect.arrayContaining(fitting(wished, width)))
      expect(fitting(wished, 3000)).toEqual(all.filter((column) => wished.includes(column)))
    }),
  )
})
test('in a narrow window the time stays longest, and then there is the name alone', () => {
  expect(fitting(all, 360)).toEqual([])
  expect(fitting(all, 560)).toEqual(['saved'])
  expect(fitting(all, 690)).toEqual(['saved', 'by'])
  expect(templateOf([])).toBe('20px minmax(0,1fr) 36px')
})
test('what a browser kept is read with care', () => {
  expect(readWish(null)).toEqual(['type', 'size', 'saved', 'by'])
  expect(readWish('by version')).toEqual(['version', 'by'])
  expect(readWish('')).toEqual([])
  expect(readWish('<nothing> of ours')).toEqual([])
})
