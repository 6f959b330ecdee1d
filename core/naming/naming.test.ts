import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import type { Convention, Rules, ShareNaming } from '../contract/naming'
import { english } from '../words/testing'
import { adviseName } from './advice'
import { type AuditFile, Auditor, planCorrections, summarise } from './audit'
import { checkName } from './check'
import { readyConvention } from './convention'
import { sampleLists } from './convention.arbitrary'
import { findDates, readDate, valueInForm, writeDate } from './dates'
import { Neighbours, nearlySame } from './neighbours'
import { readName } from './reading'
import { noClues, propose, suggest } from './suggest'

const rules: Rules = {
  parts: [
    { id: 'date', label: 'Date', separator: '', optional: false, kind: 'date', form: 'YYYY-MM-DD', source: 'content' },
    {
      id: 'lock',
      label: 'Lock',
      separator: '_',
      optional: true,
      kind: 'list',
      listId: sampleLists[0]!.id,
      shows: 'code',
    },
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
      optional: true,
      kind: 'words',
      letters: 'as typed',
      longest: 60,
      symbols: 'letters and digits',
      spaces: '-',
    },
  ],
  folders: [[{ part: 'kind', as: 'label' }], [{ part: 'date', as: 'year' }], [{ part: 'lock', as: 'name' }]],
}
const ready = readyConvention(rules, sampleLists)

describe('reading names that do not follow', () => {
  test.each([
    ['Lock  5 inspection 12.03.2025', '2025-03-12_LK05_Inspection'],
    ['lk03_2025-6-1_inspection', '2025-06-01_LK03_Inspection'],
    ['Gate paddles notice LK07 3 Nov 2026', '2026-11-03_LK07_Notice_Gate-paddles'],
    ['2026-10-14_LK07_Inspection_Gate paddles', '2026-10-14_LK07_Inspection_Gate-paddles'],
    ['20261014 inspecton of the chamber final v2', '2026-10-14_Inspection_of-the-chamber'],
    ['2026-10-14_LK99_Inspection_Gate-paddles', null],
    ['inspection lock 4 final', null],
  ])('%s becomes %s', (stem, expected) => {
    const reading = readName(ready, stem)
    expect(reading.follows).toBe(false)
    expect(reading.faults.length).toBeGreaterThan(0)
    if (expected === null) {
      expect(reading.stem && reading.doubts.length === 0).toBeFalsy()
    } else {
      expect(reading.stem).toBe(expected)
      expect(ready.parse(expected)).toEqual(reading.values)
    }
  })
  test('says which part failed and why', () => {
    const lock = readName(ready, '2026-10-14_LK99_Inspection_Gate-paddles').parts[1]!
    expect({ ...lock, reason: english(lock.reason) }).toMatchObject({
      state: 'failed',
      text: 'LK99',
      reason: '‹LK99› is not in the list for Lock.',
    })
    expect(english(readName(ready, 'Lock 5 inspection 12.03.25').doubts[0])).toContain(
      '2025-03-12, 2025-12-03 or 2012-03-25',
    )
  })
  test('whatever is read and composed follows, and nothing throws', () => {
    const piece = fc.oneof(
      fc.constantFrom(
        'LK07',
        'lock 3',
        'Inspection',
        'notice',
        '2026-10-14',
        '1.2.2025',
        'final',
        'Gate',
        '_',
        ' ',
        '-',
        '(2)',
        'March 2025',
      ),
      fc.string({ unit: 'grapheme', maxLength: 8 }),
    )
    fc.assert(
      fc.property(fc.array(piece, { maxLength: 10 }), (pieces) => {
        const { stem, values } = readName(ready, pieces.join(' '))
        if (stem !== null) expect(ready.parse(stem)).toEqual(values)
      }),
      { numRuns: 2000 },
    )
  })
})

describe('dates', () => {
  test('a date in any form reads back as itself', () => {
    const day = fc.date({ min: new Date('1000-01-05'), max: new Date('9998-12-28'), noInvalidDate: true })
    const form = fc.constantFrom(
      'YYYY-MM-DD',
      'YYYYMMDD',
      'YYYY-MM',
      'YYYY',
      'DD.MM.YYYY',
      'MM-DD-YYYY',
      'YYYY-Www',
      'YYYY-Qq',
    ) as fc.Arbitrary<Parameters<typeof writeDate>[1]>
    fc.assert(
      fc.property(day, form, (date, as) => {
        const value = valueInForm(date.toISOString().slice(0, 10), as)!
        expect(readDate(writeDate(value, as), as)).toBe(value)
      }),
    )
  })
  test('are found in running text', () => {
    expect(findDates('On 14 October 2026, or 3.11.2026; 2026-W42').map(({ value }) => value)).toEqual([
      '2026-10-14',
      '2026-11-03',
      '2026-W42',
    ])
    expect(findDates('31.02.2026')).toEqual([])
    expect(valueInForm('2027-01-01', 'YYYY-Www')).toBe('2026-W53')
  })
})

describe('neighbours', () => {
  test('near names are the ones at one slip, digits apart', () => {
    const slow = (a: string, b: string): boolean => {
      // Every name one slip away, by making them all.
      const made = new Set<string>()
      const letters = new Set(b)
      for (let i = 0; i <= a.length; i++) {
        made.add(a.slice(0, i) + a.slice(i + 1))
        for (const letter of letters) {
          made.add(a.slice(0, i) + letter + a.slice(i))
          made.add(a.slice(0, i) + letter + a.slice(i + 1))
        }
        if (i + 1 < a.length) made.add(a.slice(0, i) + a[i + 1] + a[i] + a.slice(i + 2))
      }
      made.delete(a)
      return made.has(b)
    }
    const text = fc.string({ unit: fc.constantFrom('a', 'b', 'c'), maxLength: 7 })
    fc.assert(
      fc.property(text, text, (a, b) => {
        expect(nearlySame(a, b)).toBe(a !== b && slow(a, b))
      }),
      { numRuns: 3000 },
    )
    expect(nearlySame('lk07_gate', 'lk08_gate')).toBe(false)
  })
  test.each([
    ['2026_gate-Paddles.docx', 'alike'],
    ['2026_Gáte-paddles.docx', 'alike'],
    ['2026_Gatе-paddles.docx', 'alike'],
    ['2026_Gate-padles.docx', 'near'],
    ['2026_Gate-paddles.docx', 'same'],
  ])('%s is %s', (name, how) => {
    const there = new Neighbours(['2026_Gate-paddles.docx', 'other.xlsx'])
    expect(there.of(name)[0]?.how ?? 'none').toBe(how === 'alike' && name.includes('-Paddles') ? 'same' : how)
    expect(there.of('2026_Gate-paddles.docx', '2026_Gate-paddles.docx')).toEqual([])
  })
})

test.each([
  ['Report final.docx', 'version word', 'Report.docx'],
  ['Report v2.docx', 'version word', 'Report.docx'],
  ['Copy of Report (3).docx', 'version word', 'Report.docx'],
  ['Gate  paddles.docx', 'spaces', 'Gate paddles.docx'],
  ['Gаte paddles.docx', 'look-alike', 'Gate paddles.docx'],
  ['Gate 14 October 2026.docx', 'date', 'Gate 2026-10-14.docx'],
  ['a:b.docx', 'refused', 'a-b.docx'],
])('%s: advice about %s', (name, about, correction) => {
  const found = adviseName(name).find((one) => one.about === about)
  expect(found?.correction).toBe(correction)
  expect(english(found?.reason)).toMatch(/\.$|\?$/)
})
test('a name that turns the direction of writing, or belies its bytes, is told', () => {
  expect(checkName('gate\u202excod.exe')?.fault).toBe('control')
  expect(adviseName('gate.docx', { bytesType: 'pdf' })[0]).toMatchObject({ about: 'type', correction: 'gate.pdf' })
  expect(adviseName('a.docx', { path: ['x'.repeat(395)] })[0]).toMatchObject({ about: 'path', refused: true })
})

test('suggestions come from the content, the folder, a file pointed at and what was used last', () => {
  const around = {
    folders: ['Inspections', '2026', 'LK03'],
    lastUsed: [{ kind: 'Tender' }],
    today: '2026-11-24',
    person: 'Ida Thornquist',
    kind: 'document' as const,
  }
  const content = {
    ...noClues,
    title: 'Gate paddles at LK07',
    headings: ['Findings'],
    text: 'Inspection of 14 October 2026 at LK07.',
  }
  const first = suggest(ready, { ...around, content })
  expect(propose(ready, first)).toEqual({
    date: '2026-10-14',
    lock: 'LK07',
    kind: 'Inspection',
    subject: 'Gate-paddles',
  })
  expect(first.get('lock')!.map(({ value, source }) => [value, source])).toEqual([
    ['LK07', 'content'],
    ['LK03', 'folder'],
  ])
  expect(first.get('kind')!.at(-1)).toMatchObject({ value: 'Tender', source: 'last used' })
  // Initials are as somebody has set theirs, else by their name.
  const part = { id: 'who', kind: 'initials' as const, label: 'By', separator: '_', optional: false }
  const signed = readyConvention({ parts: [...rules.parts, part], folders: [] }, sampleLists)
  const who = (more: object) => suggest(signed, { ...around, ...more, content: noClues }).get('who')![0]!.value
  expect([who({}), who({ initials: 'ITH' })]).toEqual(['IT', 'ITH'])
  const pointed = suggest(ready, { ...around, content: noClues, pointed: '2026-09-21_LK03_Notice_Balance-beam' })
  expect(propose(ready, pointed)).toMatchObject({ lock: 'LK03', kind: 'Notice', subject: 'Balance-beam' })
})

describe('the audit', () => {
  const shareId = sampleLists[0]!.shareId
  const convention: Convention = {
    id: '00000000-0000-4000-8000-00000000000c',
    shareId,
    folderId: null,
    name: 'Trust files',
    number: 2,
    rules,
    since: '2026-06-01T00:00:00Z',
    author: 'Priya',
    earlier: [
      {
        number: 1,
        rules: { parts: [rules.parts[2]!, { ...rules.parts[0]!, separator: ' ' }], folders: [] },
        since: '2025-01-01T00:00:00Z',
      },
    ],
  }
  const naming: ShareNaming = { conventions: [convention], lists: sampleLists }
  const folders = [
    { id: 'i', parentId: null, name: 'Inspections' },
    { id: 'y', parentId: 'i', name: '2026' },
    { id: 'l', parentId: 'y', name: 'LK07' },
    { id: 'o', parentId: null, name: 'Older' },
  ]
  const file = (id: string, folderId: string, name: string, at = '2026-10-14T12:00:00Z'): AuditFile => ({
    id,
    folderId,
    name,
    kind: 'document',
    at,
  })
  test('tells what follows, what followed when it was saved, and what does not', () => {
    const auditor = new Auditor(naming, folders)
    const findings = [
      file('1', 'l', '2026-10-14_LK07_Inspection_Gate-paddles.docx'),
      file('2', 'o', 'Inspection 2025-03-01.docx', '2025-03-01T00:00:00Z'),
      file('3', 'o', 'Inspection 2026-09-01.docx', '2026-09-01T00:00:00Z'),
      file('4', 'o', '2026-10-20_LK07_Inspection_Bollards.docx'),
      file('5', 'o', 'lock 7 inspection 5.6.26 chamber.DOCX'),
      file('6', 'o', 'what is this.docx'),
      file('7', 'o', '2026-10-14_LK07_Inspection_Gate paddles.docx'),
    ].map((one) => auditor.audit(one))
    expect(findings.map(({ state }) => state)).toEqual([
      'follows',
      'follows an earlier version',
      'differs',
      'differs',
      'differs',
      'differs',
      'differs',
    ])
    const plan = planCorrections(findings)
    expect(plan.byHand.map(({ file: { id } }) => id)).toEqual(['6'])
    const step = (id: string) => plan.steps.find((one) => one.id === id)!
    expect(step('3')).toMatchObject({
      state: 'sure',
      to: { name: '2026-09-01_Inspection.docx', path: ['Inspections', '2026'] },
    })
    expect(step('4').state).toBe('sure')
    expect(step('5')).toMatchObject({ state: 'doubtful', to: { name: '2026-06-05_LK07_Inspection_chamber.docx' } })
    expect(step('7').state).toBe('collision')
    expect(english(step('7').remarks[0])).toContain('2026-10-14_LK07_Inspection_Gate-paddles.docx')
    expect(summarise(findings)).toMatchObject({ files: 7, follow: 1, earlier: 1, differ: 5 })
  })
})
