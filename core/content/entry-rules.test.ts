import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import {
  bands,
  cellsAgainst,
  type EntryRule,
  judge,
  movedRules,
  type RuleCondition,
  type RuleView,
  ruleAt,
  ruleChoices,
  rulesOutside,
  sameRules,
  withAreas,
  withChoice,
  withRule,
} from './entry-rules'
import { type CellValue, cellAt, type MergedArea, type Workbook } from './workbook'
import { anyRule, anyRules } from './workbook.arbitrary'
import { applyOp, applyOps, invertOp } from './workbook-ops'

const areaOf = (top: number, left: number, bottom = top, right = left): MergedArea => ({ top, left, bottom, right })
const rule = (condition: RuleCondition, areas = [areaOf(1, 0, 8, 0)]): EntryRule => ({
  areas,
  condition,
  empty: true,
  otherwise: 'refused',
})
const kinds: Workbook = {
  sheets: [
    {
      name: 'Repairs',
      rows: [[{ value: 'Kind' }, { value: 10 }], [{ value: 'gate' }], [{ value: 'Weir' }]],
      widths: {},
    },
    {
      name: 'Kinds',
      rows: [[{ value: 'Gate' }], [{ value: 'Paddle' }], [], [{ formula: '1+1' }], [{ value: { error: '#N/A' } }]],
      widths: {},
    },
  ],
}
const viewOf = (workbook: Workbook, results: Record<string, CellValue> = {}, home = 0): RuleView => {
  const sheetOf = (name: string | null) =>
    name === null ? workbook.sheets[home] : workbook.sheets.find((one) => one.name.toLowerCase() === name.toLowerCase())
  return {
    sheetOf,
    named: (name) => (name.toLowerCase() === 'kinds_of_work' ? 'Kinds!$A$1:$A$2' : undefined),
    cellOf: (name, row, column) => {
      const sheet = sheetOf(name)
      const cell = cellAt(sheet, row, column)
      return { cell, value: cell?.formula === undefined ? cell?.value : results[`${sheet!.name} ${row} ${column}`] }
    },
  }
}
const view = viewOf(kinds, { 'Kinds 3 0': 2 })
const verdict = (condition: RuleCondition, value: CellValue | undefined, text = String(value ?? '')) =>
  judge(rule(condition), { row: 1, column: 0 }, value, text, view)

describe('a list of choices', () => {
  const fromCells: RuleCondition = { kind: 'one of', choices: { from: 'Kinds!$A$1:$A$9' }, shown: true }
  test('from cells is what they show, with results of formulas, and without empty cells and errors', () => {
    expect(ruleChoices(rule(fromCells), { row: 1, column: 0 }, view)).toEqual([
      { text: 'Gate', value: 'Gate' },
      { text: 'Paddle', value: 'Paddle' },
      { text: '2', value: 2 },
    ])
  })
  test('written into the rule has its digits as numbers', () => {
    const written = rule({ kind: 'one of', choices: ['Yes', '7', '07'], shown: true })
    expect(ruleChoices(written, { row: 1, column: 0 }, view)?.map(({ value }) => value)).toEqual(['Yes', 7, '07'])
  })
  test('takes an entry in other capitals as it writes it, and nothing else', () => {
    expect(verdict(fromCells, 'gate')).toEqual({ fits: true, as: { text: 'Gate', value: 'Gate' } })
    expect(verdict(fromCells, 'Gate')).toEqual({ fits: true })
    expect(verdict(fromCells, 2)).toEqual({ fits: true })
    expect(verdict(fromCells, 'Weir')).toEqual({ fits: false })
    expect(verdict(fromCells, { error: '#N/A' })).toEqual({ fits: false })
  })
  test('of relative cells goes along with the cell', () => {
    const along = rule({ kind: 'one of', choices: { from: 'B1:C1' }, shown: true }, [areaOf(0, 0, 5, 0)])
    expect(ruleChoices(along, { row: 0, column: 0 }, view)).toEqual([{ text: '10', value: 10 }])
    expect(ruleChoices(along, { row: 1, column: 0 }, view)).toEqual([])
  })
  test('of a name is what its cells hold', () => {
    const named = rule({ kind: 'one of', choices: { from: 'Kinds_of_work' }, shown: true }, [areaOf(5, 3)])
    expect(ruleChoices(named, { row: 5, column: 3 }, view)?.map(({ text }) => text)).toEqual(['Gate', 'Paddle'])
  })
  test('of a name that is not known, or of a sheet that is not there, is not known here, and refuses nobody', () => {
    for (const from of ['AllKinds', 'Gone!A1:A3', 'INDIRECT("A1")', 'A1:A2,B1'])
      expect(verdict({ kind: 'one of', choices: { from }, shown: true }, 'x')).toEqual({ fits: null })
  })
})

test('a day of a list is shown as one, unless the cell says otherwise', () => {
  const day = { text: '2026-10-19', value: 46_314, format: 'yyyy-mm-dd' }
  expect(withChoice(undefined, day)).toEqual({ value: 46_314, style: { format: 'yyyy-mm-dd' } })
  expect(withChoice({ value: 1, style: { format: '0', bold: true } }, day)).toEqual({
    value: 46_314,
    style: { format: '0', bold: true },
  })
  expect(withChoice(undefined, { text: 'Gate', value: 'Gate', format: '@' })).toEqual({ value: 'Gate' })
})

describe('limits', () => {
  test.each([
    ['between', 5, true],
    ['between', 0, true],
    ['between', 10.5, false],
    ['not between', 10.5, true],
    ['not between', 10, false],
  ] as const)('%s 10 and 0: %d %s', (way, value, fits) => {
    expect(verdict({ kind: 'number', test: way, limits: ['B1', '0'] }, value)).toEqual({ fits })
  })
  test.each([
    ['is', [false, true, false]],
    ['is not', [true, false, true]],
    ['above', [false, false, true]],
    ['at least', [false, true, true]],
    ['below', [true, false, false]],
    ['at most', [true, true, false]],
  ] as const)('%s 3 of 2, 3, 4', (way, wanted) => {
    const limits: [string] = ['3']
    expect([2, 3, 4].map((value) => verdict({ kind: 'date', test: way, limits }, value).fits)).toEqual(wanted)
  })
  test('of whole numbers, of letters, and of texts where a number is wanted', () => {
    expect(verdict({ kind: 'whole number', test: 'above', limits: ['0'] }, 2.5)).toEqual({ fits: false })
    expect(verdict({ kind: 'number', test: 'above', limits: ['0'] }, 'two')).toEqual({ fits: false })
    expect(verdict({ kind: 'length', test: 'at most', limits: ['4'] }, 'Lock')).toEqual({ fits: true })
    expect(verdict({ kind: 'length', test: 'at most', limits: ['4'] }, '🚧🚧🚧🚧')).toEqual({ fits: true })
    expect(verdict({ kind: 'length', test: 'at most', limits: ['4'] }, 46_000, '2025-12-09')).toEqual({ fits: false })
  })
  test('that have to be calculated are not known here', () => {
    expect(verdict({ kind: 'number', test: 'above', limits: ['TODAY()'] }, 1)).toEqual({ fits: null })
    expect(verdict({ kind: 'formula', formula: 'A1>0' }, 1)).toEqual({ fits: null })
  })
  test('an empty cell breaks a rule that wants something', () => {
    const wanting = { ...rule({ kind: 'number', test: 'above', limits: ['0'] }), empty: false }
    expect(judge(wanting, { row: 1, column: 0 }, undefined, '', view)).toEqual({ fits: false })
    expect(verdict({ kind: 'number', test: 'above', limits: ['0'] }, undefined)).toEqual({ fits: true })
  })
})

test('cells that hold something else are found from the top, also for a list of many cells', () => {
  const one = rule({ kind: 'one of', choices: { from: 'Kinds!$A$1:$A$9' }, shown: true }, [areaOf(0, 0, 90, 3)])
  expect(cellsAgainst(kinds.sheets[0]!, [one], view)).toEqual({
    against: [
      { row: 0, column: 0 },
      { row: 0, column: 1 },
      { row: 2, column: 0 },
    ],
    unchecked: 0,
  })
  expect(cellsAgainst(kinds.sheets[0]!, [one], view, 1).against).toHaveLength(1)
  // What nobody has looked at is not what it may be.
  const byFormula = rule({ kind: 'formula', formula: 'A1>0' }, one.areas as MergedArea[])
  expect(cellsAgainst(kinds.sheets[0]!, [byFormula], view)).toEqual({ against: [], unchecked: 4 })
})

const places = Array.from({ length: 12 * 10 }, (_, at) => ({ row: Math.floor(at / 10), column: at % 10 }))
const saying = (rules: readonly EntryRule[], row: number, column: number) => {
  const found = ruleAt({ rules }, row, column)
  return found && JSON.stringify({ ...found, areas: 0, condition: withAreas(found, [areaOf(row, column)]).condition })
}

describe('rules of a sheet', () => {
  test('another rule takes its cells from those before it; what they say of other cells stays the same', () => {
    fc.assert(
      fc.property(
        anyRules,
        fc.tuple(fc.nat(6), fc.nat(5), fc.nat(4), fc.nat(3)),
        fc.option(anyRule),
        (rules, [top, left, down, right], one) => {
          const area = areaOf(top, left, top + down, left + right)
          const now = withRule(rules, [area], one)
          for (const { row, column } of places) {
            const inside = row >= top && row <= top + down && column >= left && column <= left + right
            const has = now.filter((each) => ruleAt({ rules: [each] }, row, column)).length
            expect(has).toBeLessThanOrEqual(1)
            if (inside)
              expect(saying(now, row, column)).toBe(one ? saying([{ ...one, areas: [area] }], row, column) : undefined)
            else expect(saying(now, row, column)).toBe(saying(rules, row, column))
          }
        },
      ),
    )
  })
  test('are of the same cells however these are parted into areas', () => {
    const one = { condition: { kind: 'anything' as const }, empty: true, otherwise: 'taken' as const }
    const same = (a: MergedArea[], b: MergedArea[]) => sameRules([{ ...one, areas: a }], [{ ...one, areas: b }])
    expect(same([areaOf(0, 0, 3, 1)], [areaOf(0, 1, 3, 1), areaOf(0, 0, 1, 0), areaOf(2, 0, 3, 0)])).toBe(true)
    expect(same([areaOf(0, 0, 3, 1)], [areaOf(0, 1, 3, 1), areaOf(0, 0, 1, 0)])).toBe(false)
    fc.assert(
      fc.property(anyRules, (rules) => {
        for (const { areas } of rules) {
          const parted = bands(areas)
          for (const { row, column } of places)
            expect(parted.filter((area) => ruleAt({ rules: [{ ...one, areas: [area] }] }, row, column)).length).toBe(
              ruleAt({ rules: [{ ...one, areas }] }, row, column) ? 1 : 0,
            )
          expect(bands(parted)).toEqual(parted)
        }
      }),
    )
  })
  test('that say the same are one', () => {
    const along = {
      condition: { kind: 'number' as const, test: 'above' as const, limits: ['A2'] as [string] },
      empty: true,
      otherwise: 'refused' as const,
    }
    const two = withRule(withRule([], [areaOf(1, 1)], along), [areaOf(4, 1)], {
      ...along,
      condition: { ...along.condition, limits: ['A5'] },
    })
    expect(two).toEqual([{ ...along, areas: [areaOf(1, 1), areaOf(4, 1)] }])
  })
  test('of which none is touched stay the objects that they are', () => {
    const rules = [rule({ kind: 'anything' })]
    expect(rulesOutside(rules, [areaOf(20, 20)])[0]).toBe(rules[0])
    expect(sameRules(rules, [...rules].reverse())).toBe(true)
    expect(sameRules(rules, [])).toBe(false)
  })
  test('go with their rows and columns, and their formulas with the cells that they name, there and back', () => {
    const ruled = applyOp(kinds, {
      op: 'rules',
      sheet: 0,
      rules: [rule({ kind: 'one of', choices: { from: 'Kinds!$A$1:$A$9' }, shown: true })],
    })
    const after = applyOps(ruled, [
      { op: 'insert', sheet: 1, axis: 'rows', at: 2, count: 2 },
      { op: 'insert', sheet: 0, axis: 'rows', at: 0, count: 1 },
      { op: 'rename sheet', sheet: 1, name: 'All kinds' },
    ])
    const { areas, condition } = after.sheets[0]!.rules![0]!
    expect(areas).toEqual([areaOf(2, 0, 9, 0)])
    expect(condition).toMatchObject({ choices: { from: "'All kinds'!$A$1:$A$11" } })
    const gone = { op: 'remove', sheet: 0, axis: 'rows', at: 0, count: 20 } as const
    expect(applyOp(after, gone).sheets[0]!.rules).toBeUndefined()
    const back = applyOps(applyOp(after, gone), invertOp(after, gone))
    expect(sameRules(back.sheets[0]!.rules, after.sheets[0]!.rules)).toBe(true)
    expect(movedRules(after.sheets[0]!.rules!, 'columns', 0, -1)).toEqual([])
  })
})
