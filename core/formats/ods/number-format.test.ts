import { expect, test } from 'vitest'
import { spannedTree } from '../opc/spanned-xml'
import { elements } from '../opc/xml'
import { codeOf, dataStylesOf, NoStyle, sameFormat, simplified } from './number-format'

function through(code: string): string | undefined | null {
  const root = spannedTree(`<x>${dataStylesOf(code, 'N1')}</x>`)
  const all = new Map(Array.from(elements(root), (one) => [one.attributes['style:name'], one]))
  return codeOf(all.get('N1')!, (name) => all.get(name))
}

test.each([
  '0',
  '0.00',
  '#,##0',
  '#,##0.00',
  '0000',
  '0.0##',
  '#,##0,',
  '0%',
  '0.00%',
  '0.00E+00',
  '# ??/??',
  '?/8',
  'yyyy-mm-dd',
  'd mmm yy',
  'dd.mm.yyyy',
  'dddd, d mmmm yyyy',
  'hh:mm',
  'h:mm AM/PM',
  'mm:ss',
  'yyyy-mm-dd hh:mm:ss',
  '[h]:mm:ss',
  'hh:mm:ss.000',
  '@',
  '#,##0.00 [$€-407]',
  '[$£-809]#,##0.00',
  '[$CHF] 0.00',
  '0.00;[Red]-0.00',
  '0;-0;"none"',
  '0;-0;0;@',
  '[>100]0;[<0]-0.0;0.00',
  '"about "0" m"',
  '$#,##0.00',
  '[Blue]0',
])('%s comes back', (code) => {
  expect(through(code)).toBe(code)
})

test.each([
  ['d/m/yy;@', 'd/m/yy'],
  ['[$-409]mmmm\\ d\\,\\ yyyy;@', '[$-409]mmmm d, yyyy'],
  ['0\\ "m"', '0" m"'],
])('%s is said, and read as %s, which is the same', (code, same) => {
  expect(through(code)).toBe(same)
  expect(sameFormat(code, same)).toBe(true)
})

test('what only places signs is left out where it cannot be said', () => {
  const money = '_("$"* #,##0.00_);_("$"* \\(#,##0.00\\);_("$"* "-"??_);_(@_)'
  expect(simplified(money)).toBe(' "$"#,##0.00 ; "$"\\(#,##0.00\\); "$""-"## ; @ ')
  expect(through(simplified(money))).not.toBeNull()
  expect(sameFormat(money, simplified(money))).toBe(false)
})

test('the usual format is none', () => {
  expect(through('General')).toBeUndefined()
})

test.each(['_-0_-', '* 0', '0.0?', '[DBNum1]0', 'mmmmm', '[$€-999]0', '0;0;0;0;0'])(
  '%s is said by no data style',
  (code) => expect(() => through(code) ?? code).toThrow(NoStyle),
)
