import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import {
  asksForCells,
  callAround,
  faultOf,
  mended,
  nameBefore,
  readTyped,
  referencesIn,
  referenceTo,
  withNextAnchors,
} from './formula-entry'
import { largestSheet } from './workbook'

const last = { row: largestSheet.rows - 1, column: largestSheet.columns - 1 }
/** The entry with a bar where the cursor is. */
const at = (entry: string): [string, number] => [entry.replace('|', ''), entry.indexOf('|')]

describe('the cells that an entry names', () => {
  test.each([
    ['=B2', [[1, 3, null, [1, 1, 1, 1]]]],
    [
      '=SUM($B$2:C9)+Tolls!A1',
      [
        [5, 12, null, [1, 1, 8, 2]],
        [14, 22, 'Tolls', [0, 0, 0, 0]],
      ],
    ],
    ["='Lock gates'!D4:D2", [[1, 19, 'Lock gates', [1, 3, 3, 3]]]],
    [
      '=A:B*3:3',
      [
        [1, 4, null, [0, 0, last.row, 1]],
        [5, 8, null, [2, 0, 2, last.column]],
      ],
    ],
    ['="A1"&A2', [[6, 8, null, [1, 0, 1, 0]]]],
    ['A1', []],
    ['=LOG10(2)', []],
  ])('%s', (entry, expected) => {
    expect(
      referencesIn(entry).map(({ from, to, sheet, area }) => [
        from,
        to,
        sheet,
        [area.top, area.left, area.bottom, area.right],
      ]),
    ).toEqual(expected)
  })

  test('are found again where they were put', () => {
    const line = (most: number) =>
      fc.tuple(fc.nat(most), fc.nat(most)).map(([a, b]) => [Math.min(a, b), Math.max(a, b)])
    fc.assert(
      fc.property(
        line(last.row),
        line(last.column),
        fc.option(fc.constantFrom('Tolls', 'Lock gates', "Ida's", 'A1', '2026', 'Größe')),
        ([top, bottom], [left, right], sheet) => {
          const area = { top: top!, left: left!, bottom: bottom!, right: right! }
          const text = referenceTo(area, sheet)
          expect(referencesIn(`=1+${text}*2`)).toEqual([{ from: 3, to: 3 + text.length, sheet, area }])
        },
      ),
    )
  })
})

describe('what the place of the cursor asks for', () => {
  test.each(['=|', '=SUM(|', '=SUM(A1,|', '=A1+|', '=A1+ |)', '=SUM(A1;|)', '=A1:|', '="x"&|', '=IF(A1>|,1)'])(
    'cells: %s',
    (entry) => expect(asksForCells(...at(entry))).toBe(true),
  )
  test.each([
    '|=',
    '=A1|',
    '=SU|',
    '="a+|"',
    '=5|',
    '=|A1',
    '=SUM(A1)|',
    '={1,|}',
    '=Prices[+|]',
    'abc(|',
    "='Lock +|",
  ])('none: %s', (entry) => expect(asksForCells(...at(entry))).toBe(false))

  test.each([
    ['=SUM(|', ['SUM', 0]],
    ['=SUMIF(A1:A9,"a,b",|', ['SUMIF', 2]],
    ['=IF(AND(A1,B1),|', ['IF', 1]],
    ['=IF(AND(A1,|', ['AND', 1]],
    ['=ROUND((A1+B1)*2,|', ['ROUND', 1]],
    ['=SUM({1,2,3},|', ['SUM', 1]],
    ["=SUM('a,(b'!A1,|", ['SUM', 1]],
    ['=sum(|', ['SUM', 0]],
  ])('the argument of a call: %s', (entry, [name, argument]) =>
    expect(callAround(...at(entry))).toEqual({ name, argument }),
  )
  test.each(['=A1|', '=SUM(A1)|', 'SUM(|', '=(A1|'])('no call: %s', (entry) =>
    expect(callAround(...at(entry))).toBeNull(),
  )

  test.each([
    ['=su|', 1, 'SU'],
    ['=A1+cou|', 4, 'COU'],
    ['=IF(T.I|', 4, 'T.I'],
  ])('the name of a function: %s', (entry, from, name) => expect(nameBefore(...at(entry))).toEqual({ from, name }))
  test.each(['=A1:b|', '="su|', '=su|m', '=3|', '=Tolls!a|', '=$b|', 'su|'])('none: %s', (entry) =>
    expect(nameBefore(...at(entry))).toBeNull(),
  )
})

describe('how a reference goes along', () => {
  test.each([
    ['=B2|', 'B2 $B$2 B$2 $B2 B2'],
    ['=SUM(B2|:C3)', 'B2:C3 $B$2:$C$3 B$2:C$3 $B2:$C3 B2:C3'],
    ["='Lock gates'!B2|", "'Lock gates'!B2 'Lock gates'!$B$2 'Lock gates'!B$2"],
    ['=A:B|', 'A:B $A:$B A:B'],
    ['=2:3|', '2:3 $2:$3 2:3'],
  ])('%s', (given, ways) => {
    let [entry, caret] = at(given)
    for (const next of ways.split(/ (?!gates)/).slice(1)) {
      const found = withNextAnchors(entry, caret)!
      expect(found.text).toBe(next)
      entry = entry.slice(0, found.from) + found.text + entry.slice(found.to)
      caret = found.from + found.text.length
    }
  })
  test('where there is none, nothing is changed', () => expect(withNextAnchors('=SUM(2)', 6)).toBeNull())
})

describe('a formula that cannot be read', () => {
  test.each([
    ['SUM(A1,"abc', 7, 11, 'content.formula-text-not-closed'],
    ['SUM(A1:B2', 9, 9, 'content.formula-bracket-not-closed'],
    ['SUM(A1))', 7, 8, 'content.formula-bracket-too-many'],
    ['A1+', 3, 3, 'content.formula-ends-too-soon'],
    ['IF(A1>,2,3)', 6, 7, 'content.formula-not-read-here'],
    ['1+*2', 2, 3, 'content.formula-not-read-here'],
    ['A1 2', 3, 4, 'content.formula-not-read-here'],
  ])('%s says where', (formula, from, to, why) => {
    const fault = faultOf(formula)!
    expect([fault.from, fault.to, fault.why.say]).toEqual([from, to, why])
  })
  test.each([
    'SUM(A1:B2)',
    "'Lock gates'!A1+[1]Tolls!B2",
    'SUM(A1,,B2)',
    '{1,2;3,4}',
    'Prices[[#This Row],[Toll]]*2',
    'A1:A9 B2:C3',
    'SUM((A1,B2))',
    'LET(x,3,x+1)',
    'FILTER(A1:B9,B1:B9>"a;b")',
    '-A1%',
    'A1#',
    '#REF!+1',
    'T.INV.2T(0.05,9)',
  ])('%s can be read', (formula) => expect(faultOf(formula)).toBeNull())

  test.each([
    ['SUM(A1:B2', 'SUM(A1:B2)'],
    ['IF(AND(A1,B1', 'IF(AND(A1,B1))'],
    ['ROUND(A1;2)', 'ROUND(A1,2)'],
    ['SUMIF(A1:A9;"a;b";B1:B9', 'SUMIF(A1:A9,"a;b",B1:B9)'],
    ['SUM({1;2};3)', 'SUM({1;2},3)'],
  ])('%s is meant as %s', (typed, meant) => expect(mended(typed)).toBe(meant))
  test.each(['SUM(', 'SUM(A1,', 'A1+', '"abc', 'SUM(A1))', '1 2'])('%s is not guessed at', (typed) =>
    expect(mended(typed)).toBeNull(),
  )

  test('what was typed is a formula that can be read, or stays the text that it is', () => {
    const piece = fc.constantFrom(
      'A1',
      'B2:C3',
      'SUM(',
      'IF(',
      ')',
      ',',
      ';',
      '+',
      '*',
      '"a"',
      '"',
      '2',
      ' ',
      '>',
      '{',
      '}',
      "'",
    )
    fc.assert(
      fc.property(fc.array(piece, { minLength: 1, maxLength: 9 }), (pieces) => {
        const entry = `=${pieces.join('')}`
        const cell = readTyped(entry, undefined)!
        if (cell.formula === undefined) expect(cell).toEqual({ value: entry })
        else expect(faultOf(cell.formula)).toBeNull()
      }),
      { numRuns: 500 },
    )
  })
})
