import fc from 'fast-check'
import { expect, test } from 'vitest'
import { answers, fits } from './how'

const best = (typed: string) =>
  answers
    .map((one) => ({ ask: one.ask, points: fits(typed, one.ask, `${one.words} ${one.answer}`) }))
    .filter(({ points }) => points > 0)
    .sort((a, b) => b.points - a.points)[0]?.ask

test('people find the answer by their own words', () => {
  expect(best('how do I undelete')).toBe(undefined)
  expect(best('deleted file')).toBe('get back a file that was removed')
  expect(best('how do i get my work back after a crash')).toBe('get back work after a crash')
  expect(best('upload')).toBe('bring in files from this computer')
  expect(best('autosave')).toBe('change how often my work is protected')
  expect(best('duplicate')).toBe('save a copy of a file')
  expect(best('previous version')).toBe('get back an earlier version')
})

test('letters that stand somewhere in it are no match; the beginnings of its words are', () => {
  expect(fits('pdf', 'New from ‹Inspection report›')).toBe(0)
  expect(fits('lock', 'New from ‹Lock inspection›')).toBeGreaterThan(0)
  expect(fits('lck', 'New from ‹Lock inspection›')).toBe(0)
  fc.assert(
    fc.property(
      fc.array(fc.stringMatching(/^[j-m]{2,8}$/), { minLength: 1, maxLength: 6 }),
      fc.nat(),
      fc.nat(),
      (words, pick, letters) => {
        const word = words[pick % words.length]!
        const beginning = word.slice(0, 1 + (letters % word.length))
        expect(fits(beginning, words.join(' '))).toBeGreaterThan(0)
        expect(fits(beginning, 'nothing', words.join(' '))).toBeGreaterThan(0)
        expect(fits(`q${beginning}`, words.join(' '))).toBe(0)
        // All that was typed has to fit, and the whole word does so best.
        expect(fits(`${beginning} q`, words.join(' '))).toBe(0)
        expect(fits(word, words.join(' '))).toBe(1)
      },
    ),
  )
})
