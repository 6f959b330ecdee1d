import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import type { Rules } from '../contract'
import { nameKey } from './check'
import { compose, neededByPlace, placeOf } from './compose'
import { readyConvention } from './convention'
import { sampleLists } from './convention.arbitrary'
import { fitEnding, freeUnder } from './slip'

const rules: Rules = {
  parts: [
    { id: 'date', label: 'Date', separator: '', optional: false, kind: 'date', form: 'YYYY-MM-DD', source: 'content' },
    {
      id: 'kind',
      label: 'Kind',
      separator: '_',
      optional: false,
      kind: 'list',
      listId: sampleLists[1]!.id,
      shows: 'code',
    },
    {
      id: 'subject',
      label: 'Subject',
      separator: '_',
      optional: false,
      kind: 'words',
      letters: 'as typed',
      longest: 60,
      symbols: 'letters and digits',
      spaces: '-',
    },
  ],
  folders: [[{ part: 'kind', as: 'label' }], [{ part: 'date', as: 'year' }]],
}
const ready = readyConvention(rules, sampleLists)
const values = { date: '2026-11-24', kind: 'Notice', subject: 'Stoppage' }

describe('an ending that was typed', () => {
  test.each([
    ['Minutes', 'Minutes.docx', null],
    ['Minutes.docx', 'Minutes.docx', null],
    ['Minutes.DOCX', 'Minutes.docx', null],
    ['Minutes.docx.docx', 'Minutes.docx', null],
    ['Minutes.pdf', 'Minutes.docx', '.pdf'],
    ['Minutes.pdf.docx', 'Minutes.docx', '.pdf'],
    ['LK07 v1.5', 'LK07 v1.5.docx', null],
    ['Mr. Marlowe', 'Mr. Marlowe.docx', null],
    ['.docx', '.docx.docx', null],
  ])('%j becomes %j', (typed, name, dropped) => expect(fitEnding(typed, '.docx')).toEqual({ name, dropped }))

  test('is never doubled, whatever stands before it', () => {
    fc.assert(
      fc.property(fc.string({ minLength: 1, maxLength: 30 }), fc.nat(3), (stem, times) => {
        const { name } = fitEnding(stem.trim() + '.docx'.repeat(times), '.docx')
        expect(name.endsWith('.docx')).toBe(true)
        // Typed once more it is the same name.
        if (name.length > '.docx'.length) expect(fitEnding(name, '.docx').name).toBe(name)
      }),
    )
  })
  test('a type without an ending takes the name as it is', () =>
    expect(fitEnding('README', '')).toEqual({ name: 'README', dropped: null }))
})

describe('a name that is free', () => {
  test('follows the convention where it can, and is none of those that are taken', () => {
    fc.assert(
      fc.property(fc.nat(12), (others) => {
        const taken = new Set<string>()
        const first = `${compose(ready, values).stem}.docx`
        for (let at = 0; at < others; at++) taken.add(nameKey(freeUnder(ready, values, first, taken).name))
        const free = freeUnder(ready, values, first, taken)
        expect(taken.has(nameKey(free.name))).toBe(false)
        expect(ready.parse(free.name.slice(0, -'.docx'.length))).not.toBeNull()
        expect(`${compose(ready, free.values!).stem}.docx`).toBe(free.name)
      }),
    )
  })
  test('a name that got its number so is counted on; a number of its own is not touched', () => {
    const taken = (...names: string[]) => new Set(names.map(nameKey))
    expect(freeUnder(null, {}, 'Notes 2.docx', taken('Notes.docx', 'Notes 2.docx')).name).toBe('Notes 3.docx')
    expect(freeUnder(null, {}, 'Budget 2026.docx', taken('Budget 2026.docx')).name).toBe('Budget 2026 2.docx')
    expect(freeUnder(null, {}, 'Room 12.docx', taken('Room 12.docx')).name).toBe('Room 12 2.docx')
    const second = { ...values, subject: 'Stoppage 2' }
    const [one, two] = [values, second].map((each) => `${compose(ready, each).stem}.docx`) as [string, string]
    expect(freeUnder(ready, second, two, taken(one, two)).values).toEqual({ ...values, subject: 'Stoppage 3' })
  })
  test('without a convention it gets a number', () =>
    expect(freeUnder(null, {}, 'Notes.docx', new Set([nameKey('Notes.docx')]))).toEqual({
      name: 'Notes 2.docx',
      values: null,
    }))
})

describe('the filing rule', () => {
  test('says nothing while a part that it needs is missing or not known, and which one it is', () => {
    expect(placeOf(ready, values)).toEqual(['Notices', '2026'])
    expect(neededByPlace(ready, values)).toEqual([])
    for (const kind of [undefined, 'Noticee']) {
      const { kind: _, ...rest } = values
      const without = kind ? { ...rest, kind } : rest
      expect(placeOf(ready, without)).toBeNull()
      expect(neededByPlace(ready, without).map(({ part: { label } }) => label)).toEqual(['Kind'])
    }
  })
})
