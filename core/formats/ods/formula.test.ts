import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { anyFormula } from '../../content/workbook.arbitrary'
import { formulaRead, formulaWritten, NoCounterpart } from './formula'

describe('formulas', () => {
  test.each([
    ['SUM(A1:B3,Other!$C$4)*2', 'of:=SUM([.A1:.B3];[$Other.$C$4])*2'],
    ['\'My sheet\'!A1&"a,b;[.A1]"', 'of:=[$\'My sheet\'.A1]&"a,b;[.A1]"'],
    ["SUM('A:B'!A1:B2)", 'of:=SUM([$A.A1:$B.B2])'],
    ["'It''s'!A1", "of:=[$'It''s'.A1]"],
    ['SUM((A1,B2),C3)', 'of:=SUM(([.A1]~[.B2]);[.C3])'],
    ['SUM(A1:B2 B1:C3)', 'of:=SUM([.A1:.B2]![.B1:.C3])'],
    ['A:A+$3:4', 'of:=[.A:.A]+[.$3:.4]'],
    ['{1,-2.5;"x",TRUE}', 'of:={1;-2.5|"x";TRUE}'],
    ['IF(A1,,2)', 'of:=IF([.A1];;2)'],
    ['_xlfn.XOR(A1)+_xlfn.SHEET(A1)', 'of:=XOR([.A1])+SHEET([.A1])'],
    ['NORMSDIST(0)', 'of:=LEGACY.NORMSDIST(0)'],
    ['Total*2%', 'of:=Total*2%'],
    ['Other!#REF!+#REF!+#N/A', 'of:=[$Other.#REF!]+#REF!+#N/A'],
    ['IF( A1 > 1, 2,3 )', 'of:=IF( [.A1] > 1; 2;3 )'],
  ])('%s is %s', (ours, theirs) => {
    expect(formulaWritten(ours)).toBe(theirs)
    expect(formulaRead(theirs)).toBe(ours)
  })

  test.each([
    ['=1+[.A1]', '1+A1'],
    ['oooc:=SUM([.A1:.A3];2)', 'SUM(A1:A3,2)'],
    ['msoxl:=SUM(A1,B2)', 'SUM(A1,B2)'],
    ["of:=[Sheet2.A1]+['Two.x'.B$2]", "Sheet2!A1+'Two.x'!B$2"],
    ['of:=[.#REF!]', '#REF!'],
    ['of:=COM.EXAMPLE.XLOOKUP([.A1];[.B:.B];[.C:.C])', '_xlfn.XLOOKUP(A1,B:B,C:C)'],
    ['of:=ORG.EXAMPLE.EASTERSUNDAY(2026)', 'EASTERSUNDAY(2026)'],
  ])('%s of a file is read as %s', (theirs, ours) => {
    expect(formulaRead(theirs)).toBe(ours)
  })

  test.each(["of:=['file:///a.ods'#$Sheet1.A1]", 'of:=SUM([.A1]~[.B1])', 'of:=[.A]', 'other:=1'])(
    '%s is not read',
    (theirs) => expect(() => formulaRead(theirs)).toThrow(NoCounterpart),
  )
  test.each([
    '[1]Sheet1!A1',
    'Table1[Level]',
    '_xlfn.XLOOKUP(A1,B:B,C:C)',
    '_xlfn._xlws.SORT(A1:A3)',
    '_xlfn.LET(_xlpm.a,1,_xlpm.a)',
    'A1#',
    '@A1:A9',
  ])('%s is not written', (ours) => expect(() => formulaWritten(ours)).toThrow(NoCounterpart))

  test('any formula of the editor comes back letter by letter', () => {
    fc.assert(
      fc.property(anyFormula, (formula) => {
        expect(formulaRead(formulaWritten(formula))).toBe(formula)
      }),
      { numRuns: 500 },
    )
  })
})
