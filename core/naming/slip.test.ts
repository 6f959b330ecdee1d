import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import type { Rules } from '../contract'
import { nameKey } from './check'
import { compose, neededByPlace, placeOf } from './compose'
import { readyConvention } from './convention'
import { sampleLists } from './convention.arbitrary'
import { endsAsRuled, fitEnding, freeUnder, settleName, settleParts } from './slip'
import type { Suggestion } from './suggest'

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

const counted = readyConvention(
  {
    parts: [
      ...rules.parts,
      {
        id: 'number',
        label: 'Number',
        separator: '_',
        optional: false,
        kind: 'counter',
        width: 3,
        start: 1,
        per: 'folder',
      },
    ],
    folders: rules.folders,
  },
  sampleLists,
)
const suggested = (given: Record<string, string>): Map<string, Suggestion[]> =>
  new Map(Object.entries(given).map(([id, value]) => [id, [{ value, score: 1000 } as Suggestion]]))
const nothing = { typed: null, own: {} }
const usual = { next: null, proposal: 'Notes of the day', ending: '.docx', taken: null }

describe('what is settled on the slip', () => {
  test('parts proposed, then chosen over them, then read from what was typed', () => {
    const offered = suggested({ date: '2026-11-24', kind: 'Notice', subject: 'Stoppage' })
    expect(settleParts(ready, offered, nothing, 'document')).toMatchObject({
      values,
      complete: true,
      path: ['Notices', '2026'],
      needed: [],
      reading: null,
    })
    expect(settleParts(ready, offered, { typed: null, own: { kind: 'Tender' } }, 'document').path).toEqual([
      'Tenders',
      '2026',
    ])
    // A value that was emptied is missing, and is not proposed again over the person's head.
    const emptied = settleParts(ready, offered, { typed: null, own: { kind: '' } }, 'document')
    expect(emptied).toMatchObject({ complete: false, path: null })
    expect(emptied.needed.map(({ part }) => part.id)).toEqual(['kind'])
    const typed = { typed: '2025-02-03_Inspection_Gates', own: {} }
    const read = settleParts(ready, offered, typed, 'document')
    expect(read).toMatchObject({ complete: true, path: ['Inspections', '2025'], reading: { follows: true } })
    expect(settleName(ready, read, typed, usual)).toMatchObject({
      name: '2025-02-03_Inspection_Gates.docx',
      composed: null,
      missing: [],
    })
  })
  test('a number that is next is shown, one that was typed stays, and an unknown one is missing nowhere', () => {
    const offered = suggested(values)
    const parts = settleParts(counted, offered, nothing, 'document')
    expect(parts).toMatchObject({ complete: true, counter: { part: { id: 'number' } } })
    expect(settleName(counted, parts, nothing, { ...usual, next: 7 }).name).toBe('2026-11-24_Notice_Stoppage_007.docx')
    expect(settleName(counted, parts, nothing, usual).missing).toEqual([])
    const own = { typed: null, own: { number: '42' } }
    expect(settleName(counted, settleParts(counted, offered, own, 'document'), own, { ...usual, next: 7 }).name).toBe(
      '2026-11-24_Notice_Stoppage_042.docx',
    )
  })
  test('without a convention it is the proposal until something is typed, to the letter', () => {
    const none = settleParts(null, new Map(), nothing, 'document')
    expect(none).toMatchObject({ reading: null, values: {}, complete: false, path: null, needed: [] })
    expect(settleName(null, none, nothing, usual).name).toBe('Notes of the day.docx')
    fc.assert(
      fc.property(fc.stringMatching(/^[a-z][a-z ]{0,20}$/), (typed) => {
        const entered = { typed, own: {} }
        expect(settleName(null, settleParts(null, new Map(), entered, 'document'), entered, usual).name).toBe(
          `${typed.trim()}.docx`,
        )
      }),
    )
  })
  test('what its parts make is read back as those parts', () => {
    const word = fc.constantFrom('Stoppage', 'Lock-gates', 'Towpath-works')
    fc.assert(
      fc.property(word, fc.constantFrom('Inspection', 'Notice', 'Tender'), (subject, kind) => {
        const chosen = { typed: null, own: { date: '2026-11-24', kind, subject } }
        const made = settleName(ready, settleParts(ready, new Map(), chosen, 'document'), chosen, usual)
        const again = { typed: made.stem, own: {} }
        const read = settleParts(ready, new Map(), again, 'document')
        expect(read.values).toEqual(made.values)
        expect(settleName(ready, read, again, usual).name).toBe(made.name)
      }),
    )
  })
  test('a file of its own begins beside what is there, until somebody chooses its name', () => {
    const offered = suggested(values)
    const taken = new Set([nameKey('2026-11-24_Notice_Stoppage.docx'), nameKey('Notes of the day.docx')])
    const parts = settleParts(ready, offered, nothing, 'document')
    expect(settleName(ready, parts, nothing, { ...usual, taken })).toMatchObject({
      name: '2026-11-24_Notice_Stoppage-2.docx',
      values: { subject: 'Stoppage 2' },
    })
    const none = settleParts(null, new Map(), nothing, 'document')
    expect(settleName(null, none, nothing, { ...usual, taken }).name).toBe('Notes of the day 2.docx')
    const meant = { typed: null, own: { subject: 'Stoppage' } }
    expect(settleName(ready, settleParts(ready, offered, meant, 'document'), meant, { ...usual, taken }).name).toBe(
      '2026-11-24_Notice_Stoppage.docx',
    )
  })
  test.each([
    [['Notices', '2026'], ['Office', 'Notices', '2026'], 0, true],
    [['Notices', '2026'], ['Office', 'notices', '2026'], 0, true],
    [['Notices', '2026'], ['Office', 'Works', 'Notices', '2026'], 1, true],
    [['Notices', '2026'], ['Office', 'Notices'], 0, false],
    [['Notices', '2026'], ['Office', 'Notices', '2026', 'Old'], 0, false],
  ])('the rule %j and the place %j below depth %i', (rule, path, depth, same) =>
    expect(endsAsRuled(rule, path, depth)).toBe(same),
  )
})
