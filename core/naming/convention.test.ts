import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import type { NamePart, PartValues, Rules } from '../contract/naming'
import { english } from '../words/testing'
import { findAmbiguity } from './ambiguity'
import { compose, placeOf } from './compose'
import { readyConvention } from './convention'
import { anyRules, sampleLists, valueFor } from './convention.arbitrary'
import { checkRules } from './rules'

const valuesFor = (rules: Rules): fc.Arbitrary<PartValues> =>
  fc
    .tuple(...rules.parts.map(valueFor))
    .map((values) =>
      Object.fromEntries(
        rules.parts.flatMap(({ id }, index) => (values[index] === undefined ? [] : [[id, values[index]!]])),
      ),
    )

/** Every way to read a stem, by trying everything: the slow truth that the automaton is held to. */
function readings(rules: Rules, stem: string): string[] {
  const { parts } = readyConvention(rules, sampleLists)
  const found: string[] = []
  const go = (index: number, at: number, begun: boolean, values: PartValues) => {
    if (index === parts.length) {
      if (begun && at === stem.length) found.push(JSON.stringify(values))
      return
    }
    const { part, read } = parts[index]!
    if (part.optional) go(index + 1, at, begun, values)
    const start = begun ? (stem.startsWith(part.separator, at) ? at + part.separator.length : -1) : at
    for (let end = start + 1; start >= 0 && end <= stem.length; end++) {
      const value = read(stem.slice(start, end))
      if (value !== null) go(index + 1, end, true, part.kind === 'text' ? values : { ...values, [part.id]: value })
    }
  }
  go(0, 0, false, {})
  return found
}

describe('conventions', () => {
  test('what is composed is parsed back to the same values, in every convention that can be built', () => {
    let built = 0
    fc.assert(
      fc.property(
        anyRules
          .filter((rules) => checkRules(rules, sampleLists).length === 0)
          .chain((rules) => fc.tuple(fc.constant(rules), valuesFor(rules))),
        ([rules, given]) => {
          const ready = readyConvention(rules, sampleLists)
          const { stem, values, missing, refused } = compose(ready, given)
          fc.pre(missing.length === 0 && refused.length === 0 && stem !== '')
          built++
          expect(stem).toBe(stem.normalize('NFC'))
          expect(ready.parse(stem)).toEqual(values)
          expect(compose(ready, values).stem).toBe(stem)
        },
      ),
      { numRuns: 500 },
    )
    expect(built).toBeGreaterThan(150)
  })

  test('a convention is refused as ambiguous exactly with a name that has two readings', () => {
    let ambiguous = 0
    fc.assert(
      fc.property(anyRules, (rules) => {
        const ready = readyConvention(rules, sampleLists)
        const found = findAmbiguity(ready)
        if (found === null || found === 'too intricate') return
        ambiguous++
        expect(found.readings[0]).not.toEqual(found.readings[1])
        // Days that no calendar has are the one thing the automaton does not know.
        const dated = rules.parts.some(({ kind }) => kind === 'date')
        if (!dated) expect(new Set(readings(rules, found.name)).size).toBeGreaterThan(1)
      }),
      { numRuns: 800 },
    )
    expect(ambiguous).toBeGreaterThan(40)
  })

  test.each([
    [['words', 'words'], '_', true],
    [['words', 'list'], '', false],
    [['words', 'counter'], '', true],
    [['list', 'words'], '_', false],
    [['counter', 'counter'], '', true],
    [['date', 'counter'], '', false],
  ] as const)('%j joined by %j: ambiguous is %s', (kinds, separator, expected) => {
    const parts = kinds.map((kind, index) => {
      const facts = { id: `p${index}`, label: `p${index}`, separator, optional: false }
      if (kind === 'words')
        return {
          ...facts,
          kind,
          letters: 'as typed' as const,
          longest: 20,
          symbols: 'letters and digits' as const,
          spaces: '_' as const,
        }
      if (kind === 'list') return { ...facts, kind, listId: sampleLists[0]!.id, shows: 'code' as const }
      if (kind === 'counter') return { ...facts, kind, width: 3, start: 1, per: 'folder' as const }
      return { ...facts, kind, form: 'YYYYMMDD' as const, source: 'today' as const }
    })
    expect(findAmbiguity(readyConvention({ parts, folders: [] }, sampleLists)) !== null).toBe(expected)
  })

  test('an optional part between two others leaves no trace, and the filing rule leaves out its folder', () => {
    const rules: Rules = {
      parts: [
        {
          id: 'date',
          label: 'Date',
          separator: '',
          optional: false,
          kind: 'date',
          form: 'YYYY-MM-DD',
          source: 'today',
        },
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
      ],
      folders: [[{ part: 'kind', as: 'label' }], [{ part: 'date', as: 'year' }], [{ part: 'lock', as: 'name' }]],
    }
    const ready = readyConvention(rules, sampleLists)
    const values = { date: '2026-10-14', lock: 'LK07', kind: 'Inspection' }
    expect(compose(ready, values).stem).toBe('2026-10-14_LK07_Inspection')
    expect(placeOf(ready, values)).toEqual(['Inspections', '2026', 'LK07'])
    const without = { date: '2026-10-14', kind: 'Notice' }
    expect(compose(ready, without).stem).toBe('2026-10-14_Notice')
    expect(placeOf(ready, without)).toEqual(['Notices', '2026'])
    expect(ready.parse('2026-02-30_Notice')).toBeNull()
    expect(
      english(checkRules({ ...rules, parts: rules.parts.slice(1, 2), folders: [] }, sampleLists)[0]?.reason),
    ).toMatch(/optional/)
  })
})

test('the most intricate conventions are refused soon, and long lists with a few free parts are not', () => {
  const listId = '01a21671-8f0a-7026-844d-087e125895fa'
  const list = (codes: string[]) => ({
    id: listId,
    shareId: listId,
    name: 'Codes',
    revision: 1,
    values: codes.map((code) => ({ code, label: '', retired: false })),
  })
  const words = (id: string, separator: string): NamePart => ({
    id,
    kind: 'words',
    label: id,
    separator,
    optional: true,
    letters: 'as typed',
    longest: 80,
    symbols: 'any',
    spaces: '',
  })
  const code = (separator: string): NamePart => ({
    id: 'code',
    kind: 'list',
    label: 'Code',
    separator,
    optional: false,
    listId,
    shows: 'code',
  })
  const letters = Array.from({ length: 2000 }, (_, at) => String.fromCodePoint(0x4e00 + at))
  const free = (count: number) => Array.from({ length: count }, (_, at) => words(`w${at}`, ''))
  const begun = performance.now()
  const [fault] = checkRules({ parts: [...free(11), code('')], folders: [] }, [list(letters)])
  expect(english(fault?.reason)).toContain('too intricate')
  // Without a bound it took half a minute.
  expect(performance.now() - begun).toBeLessThan(5000)
  const date: NamePart = {
    id: 'd',
    kind: 'date',
    label: 'Date',
    separator: '',
    optional: false,
    form: 'YYYY-MM-DD',
    source: 'today',
  }
  const subject: NamePart = {
    ...words('s', '_'),
    kind: 'words',
    longest: 60,
    symbols: 'letters and digits',
    spaces: '-',
    letters: 'as typed',
  }
  const codes = Array.from({ length: 20_000 }, (_, at) => `K${String(at).padStart(5, '0')}`)
  expect(checkRules({ parts: [date, code('_'), subject], folders: [] }, [list(codes)])).toEqual([])
})
