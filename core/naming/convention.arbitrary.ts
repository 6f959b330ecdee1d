import fc from 'fast-check'
import type { ControlledList, NamePart, Rules } from '../contract/naming'

export const sampleLists: ControlledList[] = [
  {
    id: '00000000-0000-4000-8000-000000000001',
    shareId: '00000000-0000-4000-8000-0000000000ff',
    name: 'Locks and bridges',
    revision: 1,
    values: [
      ...Array.from({ length: 8 }, (_, index) => ({
        code: `LK0${index + 1}`,
        label: `Lock ${index + 1}`,
        retired: false,
      })),
      ...Array.from({ length: 12 }, (_, index) => ({
        code: `BR${String(index + 1).padStart(2, '0')}`,
        label: `Bridge ${index + 1}`,
        retired: index > 9,
      })),
    ],
  },
  {
    id: '00000000-0000-4000-8000-000000000002',
    shareId: '00000000-0000-4000-8000-0000000000ff',
    name: 'Kinds',
    revision: 1,
    values: [
      { code: 'Inspection', label: 'Inspections', retired: false },
      { code: 'Notice', label: 'Notices', retired: false },
      { code: 'Tender', label: 'Tenders', retired: false },
      { code: 'Mess-ung', label: 'Größe messen', retired: false },
      { code: 'שער', label: 'doors of a lock', retired: false },
    ],
  },
]

const separator = fc.constantFrom('_', '-', ' ', '', ' - ', '.', '__', '§')
const part = (id: string): fc.Arbitrary<NamePart> => {
  const facts = { id: fc.constant(id), label: fc.constant(id), separator, optional: fc.boolean() }
  return fc.oneof(
    fc.record({
      ...facts,
      optional: fc.constant(false),
      kind: fc.constant('text' as const),
      text: fc.constantFrom('MCT', 'x', 'no.', 'LK', '20'),
    }),
    fc.record({
      ...facts,
      kind: fc.constant('date' as const),
      form: fc.constantFrom(
        'YYYY-MM-DD',
        'YYYYMMDD',
        'YYYY-MM',
        'YYYY',
        'DD.MM.YYYY',
        'MM-DD-YYYY',
        'YYYY-Www',
        'YYYY-Qq',
      ) as fc.Arbitrary<Extract<NamePart, { kind: 'date' }>['form']>,
      source: fc.constant('today' as const),
    }),
    fc.record({
      ...facts,
      kind: fc.constant('list' as const),
      listId: fc.constantFrom(...sampleLists.map((list) => list.id)),
      shows: fc.constantFrom('code' as const, 'label' as const),
    }),
    fc.record({
      ...facts,
      kind: fc.constant('words' as const),
      letters: fc.constantFrom('as typed' as const, 'small' as const, 'capitals' as const, 'first capital' as const),
      longest: fc.constantFrom(1, 3, 8, 40),
      symbols: fc.constantFrom('letters and digits' as const, 'any' as const),
      spaces: fc.constantFrom('-' as const, '_' as const, ' ' as const, '.' as const, '' as const),
    }),
    fc.record({
      ...facts,
      optional: fc.constant(false),
      kind: fc.constant('counter' as const),
      width: fc.integer({ min: 1, max: 4 }),
      start: fc.constant(1),
      per: fc.constant('folder' as const),
    }),
    fc.record({ ...facts, kind: fc.constant('initials' as const) }),
    fc.record({
      ...facts,
      kind: fc.constant('file kind' as const),
      words: fc.constantFrom(
        { document: 'Doc', spreadsheet: 'Sheet', other: 'File' },
        { document: 'Inspection', spreadsheet: 'x', other: 'LK07' },
      ),
    }),
  )
}

/** Conventions of one to five parts, good and bad ones. */
export const anyRules: fc.Arbitrary<Rules> = fc
  .integer({ min: 1, max: 5 })
  .chain((size) => fc.tuple(...Array.from({ length: size }, (_, index) => part(`part-${index + 1}`))))
  .map((parts) => ({ parts, folders: [] }))

/** What somebody might type or choose for a part. */
export const valueFor = (one: NamePart): fc.Arbitrary<string | undefined> => {
  const value =
    one.kind === 'date'
      ? fc
          .date({ min: new Date('1000-01-04'), max: new Date('9998-12-28'), noInvalidDate: true })
          .map((date) => date.toISOString().slice(0, 10))
      : one.kind === 'list'
        ? fc.constantFrom(...sampleLists.find(({ id }) => id === one.listId)!.values.map(({ code }) => code))
        : one.kind === 'counter'
          ? fc.integer({ min: 0, max: 999_999_999 }).map(String)
          : one.kind === 'initials'
            ? fc.constantFrom('IT', 'B', 'ØÅ', 'Priya Nandakumar', 'ש')
            : one.kind === 'file kind'
              ? fc.constantFrom('document', 'spreadsheet', 'other')
              : fc.oneof(
                  fc.string({ unit: 'binary', maxLength: 30 }),
                  fc.string({ unit: 'grapheme', maxLength: 30 }),
                  fc.constantFrom(
                    'Gate paddles',
                    'gate-paddles',
                    'LK07',
                    '2026-10-14',
                    'Inspection',
                    'ῼ straße ŉ İ',
                    'a_b - c..',
                    'שלום עולם',
                  ),
                )
  return one.optional ? fc.option(value, { nil: undefined }) : value
}
