import { describe, expect, test } from 'vitest'
import type { EntryRule, RuleCondition, RuleOutcome } from '../../../core/content/entry-rules'
import type { CellValue, Workbook } from '../../../core/content/workbook'
import {
  againstRules,
  anchored,
  areasText,
  enter,
  enteredCell,
  faultOfEntry,
  limitFrom,
  limitText,
  listText,
  ruleSays,
} from './rules'
import { StillWorkbook } from './still'

const storeWith = (condition: RuleCondition, otherwise: RuleOutcome = 'refused', more: Partial<EntryRule> = {}) => {
  const rule: EntryRule = {
    areas: [{ top: 1, left: 1, bottom: 9, right: 1 }],
    condition,
    empty: true,
    otherwise,
    ...more,
  }
  const workbook: Workbook = {
    sheets: [
      {
        name: 'Repairs',
        rows: [[{ value: 'Gate' }], [{ value: 'Weir' }], [{ formula: '2*3' }]],
        widths: {},
        rules: [rule],
      },
      { name: 'Kinds', rows: [[{ value: 'Lock' }]], widths: {} },
    ],
  }
  const results = new Map<number, CellValue>([[2 * 16384, 6]])
  const store = new StillWorkbook(workbook, [results, new Map()])
  return Object.assign(store, { names: [{ name: 'AllKinds', sheet: null, formula: 'Kinds!$A$1:$A$5' }] })
}
const list: RuleCondition = { kind: 'one of', choices: { from: '$A$1:$A$3' }, shown: true }
const fromOneToFive: RuleCondition = { kind: 'whole number', test: 'between', limits: ['1', '5'] }

describe('an entry', () => {
  test('that a list has in other capitals is written as the list has it, results of formulas among it', () => {
    const store = storeWith(list)
    expect(enteredCell(store, 0, 1, 1, 'gATE').cell).toEqual({ value: 'Gate' })
    expect(faultOfEntry(store, 0, 1, 1, 'weir')).toBeNull()
    expect(faultOfEntry(store, 0, 1, 1, '6')).toBeNull()
    expect(enter(store, 0, 1, 1, 'weir')).toEqual({
      op: 'cells',
      sheet: 0,
      cells: [{ row: 1, column: 1, cell: { value: 'Weir' } }],
    })
  })
  test('that it does not have is not taken, and what it has is named', () => {
    expect(faultOfEntry(storeWith(list), 0, 1, 1, 'Sluice')).toEqual({
      words: 'Only one of these may be entered: Gate, Weir, 6.',
      again: false,
    })
  })
  test('of a list with a name is held against the cells of that name', () => {
    const store = storeWith({ kind: 'one of', choices: { from: 'AllKinds' }, shown: true })
    expect(faultOfEntry(store, 0, 1, 1, 'lock')).toBeNull()
    expect(faultOfEntry(store, 0, 1, 1, 'Weir')).not.toBeNull()
  })
  test('is taken when it is entered again, with a notice, or at once, as the rule says', () => {
    expect(faultOfEntry(storeWith(fromOneToFive, 'asked'), 0, 1, 1, '7')).toMatchObject({ again: true })
    expect(faultOfEntry(storeWith(fromOneToFive, 'told'), 0, 1, 1, '7')).toBeNull()
    expect(faultOfEntry(storeWith(fromOneToFive, 'taken'), 0, 1, 1, '7')).toBeNull()
  })
  test('outside of the rule’s cells, of nothing, and of a formula is as it was', () => {
    const store = storeWith(fromOneToFive)
    for (const [row, column, entry] of [
      [0, 1, '7'],
      [1, 0, '7'],
      [1, 1, ''],
      [1, 1, '=7'],
    ] as const)
      expect(faultOfEntry(store, 0, row, column, entry)).toBeNull()
    expect(faultOfEntry(storeWith(fromOneToFive, 'refused', { empty: false }), 0, 1, 1, '')).not.toBeNull()
  })
  test('among many that come in one go is counted', () => {
    const cells = ['3', '7', 'x', '', '5'].map((entry, at) => ({
      row: 1 + at,
      column: 1,
      cell: enteredCell(storeWith(list), 0, 0, 0, entry).cell,
    }))
    const op = { op: 'cells' as const, sheet: 0, cells: [...cells, { row: 20, column: 1, cell: { value: 'x' } }] }
    expect(againstRules(storeWith(fromOneToFive), op)).toBe(2)
    expect(againstRules(storeWith(fromOneToFive, 'taken'), op)).toBe(0)
    expect(againstRules(storeWith(fromOneToFive), { ...op, sheet: 1 })).toBe(0)
  })
  test('that is wrong is told of in the rule’s own words', () => {
    const fault = { title: 'Depth', text: 'In whole metres.' }
    expect(faultOfEntry(storeWith(fromOneToFive, 'refused', { fault }), 0, 1, 1, '7')?.words).toBe(
      'Depth: In whole metres.',
    )
  })
})

test.each([
  [fromOneToFive, 'Only a whole number from 1 to 5 may be entered.'],
  [
    { kind: 'number', test: 'not between', limits: ['0.5', 'B2'] },
    'Only a number below 0.5 or above B2 may be entered.',
  ],
  [{ kind: 'date', test: 'at least', limits: ['46314'] }, 'Only a date from 2026-10-19 on may be entered.'],
  [{ kind: 'time', test: 'below', limits: ['0.5'] }, 'Only a time before 12:00 may be entered.'],
  [{ kind: 'length', test: 'at most', limits: ['12'] }, 'Only a text of at most 12 letters may be entered.'],
  [{ kind: 'number', test: 'is not', limits: ['TODAY()+1'] }, 'Only a number other than =TODAY()+1 may be entered.'],
  [list, 'Only what is listed in A1:A3 may be entered.'],
  [
    { kind: 'one of', choices: 'abcdefghij'.split(''), shown: true },
    'Only one of these may be entered: a, b, c, d, e, f, g, h and 2 more.',
  ],
  [{ kind: 'formula', formula: 'A1>0' }, 'Only what the formula A1>0 allows may be entered.'],
] as [RuleCondition, string][])('a rule is said in a sentence', (condition, words) => {
  expect(ruleSays({ condition, empty: true })).toBe(words)
  expect(ruleSays({ condition, empty: false })).toBe(`${words} It may not be empty.`)
})

test('limits are typed and read as numbers, dates and cells', () => {
  const store = storeWith(list)
  expect(
    ['5', '2026-10-19', 'B2', 'Kinds!$A$1', '=TODAY()', 'soon', '', '='].map((typed) => limitFrom(typed, store)),
  ).toEqual(['5', '46314', 'B2', 'Kinds!$A$1', 'TODAY()', null, null, null])
  expect([limitText('date', '46314'), limitText('number', '-2.5'), limitText('number', 'B2')]).toEqual([
    '2026-10-19',
    '-2.5',
    'B2',
  ])
})

test('cells of a list are the same for all cells that have it, unless its signs say otherwise', () => {
  expect(['a2:b9', "'My kinds'!A2", '$A2:A9', 'Kinds', 'A1:A2,B1'].map(anchored)).toEqual([
    '$A$2:$B$9',
    "'My kinds'!$A$2",
    '$A2:A9',
    'Kinds',
    'A1:A2,B1',
  ])
  expect(['$A$2:$B$9', 'Kinds!$A$2', 'A2:A9', '$A2', 'Kinds'].map(listText)).toEqual([
    'A2:B9',
    'Kinds!A2',
    'A2:A9',
    '$A2',
    'Kinds',
  ])
})

test('areas are read as cells, whole columns as such', () => {
  const whole = { top: 0, left: 1, bottom: 1_048_575, right: 2 }
  const one = { top: 4, left: 0, bottom: 4, right: 0 }
  expect(areasText([whole, one, { ...whole, right: 1 }, one])).toBe('B:C, A5, B …')
})
