import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { anyFormula } from '../../content/workbook.arbitrary'
import { formulaText, type Links, NotRead } from './formula-text'
import { formulaTokens, type LinkNumbers, NotWritten } from './formula-tokens'
import { functionNamed } from './functions'

const sheets = ['Sheet 1', 'Sheet 2', 'Other', 'A1']
const functionNames: string[] = []
const numbers: LinkNumbers = {
  sheets(first, last) {
    const [from, to] = [sheets.indexOf(first), sheets.indexOf(last)]
    return from < 0 || to < 0 ? undefined : from * 10 + to
  },
  name: (name) => (name === 'Total' ? 1 : undefined),
  functionName(name) {
    if (!functionNames.includes(name)) functionNames.push(name)
    return { name: 2 + functionNames.indexOf(name) }
  },
}
const links: Links = {
  sheets(number) {
    const [from, to] = [sheets[Math.floor(number / 10)]!, sheets[number % 10]!]
    if (from !== to) return `'${from}:${to}'!`
    return /^[A-Z][a-z]+$/.test(from) ? `${from}!` : `'${from}'!`
  },
  name: (number) => (number === 1 ? 'Total' : functionNames[number - 2]!),
  nameElsewhere: () => 'Elsewhere',
}
const through = (formula: string) => {
  const { tokens, more } = formulaTokens(formula, 'Sheet 1', numbers)
  return formulaText(tokens, more, links, null)
}

describe('a formula as tokens', () => {
  test.each([
    'A1',
    '-2^2',
    '(-2)^2',
    '2^(3^4)',
    '2^3^4',
    'A1-(B1-C1)',
    'A1-B1-C1',
    '((A1))',
    'A1 + B1',
    'A1\n+ 2',
    'IF( A1 > 1, 2,3 )',
    'IF(A1,,2)',
    'IF(A1>1,"yes")',
    'IF(A1,IF(B1,1,2),IF(C1,3,4))',
    'SUM((A1,B2),C3)',
    'SUM(A1:B2 B1:C3)',
    'A1:INDEX(B:B,2)',
    'SUM(A:A,3:4,$A$1:B$2)',
    '"a""b"&"é"&"שלום"',
    '{1,-2.5;"x",TRUE}',
    '{#N/A,1E+100}',
    '1.5E+300+0.1+65535+65536',
    "'Sheet 2'!A1+Other!$B$2",
    "SUM('Sheet 1:Other'!A1:B2)",
    'Other!#REF!+#REF!',
    'Total*2%',
    'PI()+TODAY()',
    'CHOOSE(2,"a","b","c")',
    'VLOOKUP(A1,Other!A:D,3,FALSE)',
    'SUMPRODUCT((A1:A9>2)*(B1:B9))',
    'NOT(A1)=TRUE',
    'IFERROR(1/0,"none")',
    '_xlfn.XLOOKUP(A1,B:B,C:C)',
    'EDATE(A1,1)',
    'OwnFunction(1,2)',
  ])('%s comes back letter by letter', (formula) => {
    expect(through(formula)).toBe(formula)
  })

  test('a space before a bracket that opens or closes stays', () => {
    expect(through('SUM (A1 )')).toBe('SUM (A1 )')
    expect(through('2* ( A1+1 )')).toBe('2* ( A1+1 )')
  })

  test.each([
    'A70000',
    'XFD1',
    'Table1[Level]',
    '[1]Other!A1',
    'Nowhere!A1',
    'NotThere+1',
    'SUM(',
    'A1+',
    '1 2',
    `"${'x'.repeat(300)}"`,
    '{1,2;3}',
    'LAMBDA(x,x+1)(2)',
    'A1#',
    'ROUND(1)',
    `${'('.repeat(300)}1${')'.repeat(300)}`,
  ])('%s has none, and is refused', (formula) => {
    expect(() => formulaTokens(formula, 'Sheet 1', numbers)).toThrow(NotWritten)
  })

  test('any formula of the editor comes back', () => {
    const operator = fc.constantFrom('+', '-', '*', '/', '^', '&', '=', '<>', '<=')
    const { formula } = fc.letrec<{ formula: string }>((tie) => ({
      formula: fc.oneof(
        { depthSize: 'small', withCrossShrink: true },
        anyFormula,
        fc.double({ noNaN: true, noDefaultInfinity: true, min: 0 }).map((n) => String(n + 0).replace('e', 'E')),
        fc.tuple(tie('formula'), operator, tie('formula')).map(([a, by, b]) => `(${a})${by}(${b})`),
        fc
          .tuple(fc.constantFrom('IF', 'SUM', 'MAX', 'AND', 'CHOOSE'), tie('formula'), tie('formula'))
          .map(([name, a, b]) => `${name}(${a},${b})`),
        tie('formula').map((inner) => `-(${inner})%`),
      ),
    }))
    fc.assert(
      fc.property(formula, (one) => {
        expect(through(one)).toBe(one)
      }),
      { numRuns: 1000 },
    )
  })

  test('tokens of any kind are read, or refused', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 60 }), fc.uint8Array({ maxLength: 20 }), (tokens, more) => {
        try {
          formulaText(tokens, more, links, { row: 3, column: 3 })
        } catch (error) {
          expect(error).toBeInstanceOf(NotRead)
        }
      }),
      { numRuns: 3000 },
    )
  })

  test('operands are of the class that what takes them wants', () => {
    const hex = (formula: string) => Buffer.from(formulaTokens(formula, 'Sheet 1', numbers).tokens).toString('hex')
    // [MS-XLS] §2.5.198: 24/25 reference, 44/45 value, 64/65 array, for a cell and an area.
    expect(hex('A1')).toBe('44000000c0')
    expect(hex('SUM(A1:A3)')).toBe('250000020000c000c042010400')
    expect(hex('SUMPRODUCT(A1:A3*2)')).toBe('650000020000c000c01e0200054201e400')
    expect(hex('ROW(A1)')).toBe('24000000c042010800')
    // A choice says how far it is to its other way, and to its end.
    expect(hex('IF(A1,1,2)')).toBe('44000000c0190207001e010019080a001e02001908030042030100')
    expect(functionNamed('if')).toMatchObject({ id: 1, takes: 'VRR' })
  })
})
