import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { english } from '../words/testing'
import { byteLength, checkName, correctName, freeKeysBegin, freeName, nameKey, splitExtension } from './check'
import { proposeName } from './propose'

describe('names', () => {
  test('a correction is a good name, whatever was typed', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary', maxLength: 300 }), (name) => {
        const fault = checkName(name)
        const corrected = correctName(name)
        if (!fault) expect(corrected).toBe(name)
        if (corrected !== null) {
          expect(checkName(corrected)).toBeNull()
          expect(byteLength(corrected)).toBeLessThanOrEqual(255)
        }
      }),
      { numRuns: 1000 },
    )
  })
  test('a free name is free, good and keeps its extension', () => {
    // At the edge of what a name may have, with letters of more than one byte, and one that would end with a space.
    const long = ['x'.repeat(255), `${'é'.repeat(125)}.docx`, `${'a '.repeat(125)}.docx`]
    fc.assert(
      fc.property(
        fc.constantFrom('Gate.docx', 'Größe.xlsx', 'LK07', 'a.b.csv', ...long),
        fc.nat(30),
        (name, others) => {
          const taken = new Set<string>()
          for (let i = 0; i < others; i++) taken.add(nameKey(freeName(name, taken)))
          const free = freeName(name, taken)
          expect(taken.has(nameKey(free))).toBe(false)
          expect(checkName(free)).toBeNull()
          expect(splitExtension(free)[1]).toBe(splitExtension(name)[1])
          // So whoever looks for what stands in its way finds all of it.
          for (const key of taken) expect(key.startsWith(freeKeysBegin(name))).toBe(true)
        },
      ),
    )
  })
  test.each([
    ['', 'empty'],
    ['a:b', 'symbol'],
    ['con.docx', 'reserved'],
    ['LPT1', 'reserved'],
    ['name.', 'ends'],
    [' name', 'ends'],
    ['a\u0007b', 'control'],
    ['e\u0301', 'form'],
    [`${'é'.repeat(130)}.docx`, 'long'],
  ])('%j has a fault: %s', (name, fault) => expect(checkName(name)?.fault).toBe(fault))
  test.each(['2026-10-14_LK07_Inspection_Gate-paddles.docx', 'שלום.xlsx', 'console.docx', '.profile', 'a b  c'])(
    '%j is good',
    (name) => expect(checkName(name)).toBeNull(),
  )
  test('proposals come from the content and are never a number or a time of birth', () => {
    expect(proposeName('Gate paddles: LK07!', '2026-11-24')).toBe('2026-11-24_Gate-paddles-LK07')
    expect(proposeName('', '2026-11-24')).toBe('2026-11-24')
    expect(proposeName('anything', '2026-11-24', 'Old name.docx')).toBe('Old name')
  })
  test('a proposal is a whole phrase: it ends with no word that leads on, and with no number of what was cut off', () => {
    const subject = (opening: string) => proposeName(opening, '2026-11-24').slice('2026-11-24_'.length)
    expect(subject('The lock closes from 7 to 11 December for the renewal of its gate')).toBe('The-lock-closes')
    expect(subject('Minutes of the meeting on the fourth of November')).toBe('Minutes-of-the-meeting')
    expect(subject('Stoppage at LK03. The lock closes')).toBe('Stoppage-at-LK03')
    expect(subject('Dear members, the towpath is open')).toBe('Dear-members')
    expect(subject('Water level 1.5 m above the weir')).toBe('Water-level-1-5-m')
    fc.assert(
      fc.property(fc.array(fc.stringMatching(/^[a-z]{1,7}$/), { minLength: 1, maxLength: 20 }), (words) => {
        const made = subject(words.join(' ')).split('-')
        expect(words.slice(0, made.length)).toEqual(made)
        expect(made.length).toBeLessThanOrEqual(Math.max(6, 1))
        if (words.length <= 6) expect(made).toEqual(words)
      }),
    )
  })
  test('every forbidden sign is told at once, and how much too long a name is', () => {
    expect(english(checkName('a:b/c:d.docx')?.reason)).toBe(
      'This name has a colon ( : ) and a slash ( / ), which many computers and network shares refuse. Use dashes?',
    )
    expect(english(checkName('a*b.docx')?.reason)).toContain('has a star ( * ), which')
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 300 }), fc.constantFrom('a', 'é', '語'), (over, letter) => {
        const most = Math.floor((255 - 5) / new TextEncoder().encode(letter).length)
        const fault = checkName(`${letter.repeat(most + over)}.docx`)
        expect(english(fault?.reason)).toBe(
          `This name is too long. Shorten it by ${over === 1 ? 'one letter' : `${over} letters`}.`,
        )
      }),
    )
  })
})

test('what cannot be seen is no part of a name, and a name of nothing else is none', () => {
  for (const hidden of ['\u061c', '\u180e', '\u034f', '\ufff9', '\u{e0041}', '\u2800', '\u3164', '\u202e', '\u00ad']) {
    expect([hidden, checkName(`Gate${hidden}s.docx`)?.fault]).toEqual([hidden, 'control'])
    expect(correctName(`Gate${hidden}s.docx`)).toBe('Gates.docx')
    expect(correctName(hidden)).toBe(null)
  }
  // Written in Persian and in Hindi, and in a family of emoji.
  for (const name of ['نامه\u200cها.docx', 'क्\u200dष.docx', '👩\u200d👧.docx']) expect(checkName(name)).toBe(null)
})
