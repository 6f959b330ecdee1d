import fc from 'fast-check'
import { expect, test } from 'vitest'
import { entryOf, readEntry } from './entry'
import { filedFormula, typedFormula } from './later-functions'

test.each([
  ['XLOOKUP(A1,B:B,C:C)', '_xlfn.XLOOKUP(A1,B:B,C:C)'],
  ['SUM(FILTER(A1:A9,B1:B9>2))', 'SUM(_xlfn._xlws.FILTER(A1:A9,B1:B9>2))'],
  ['IF(A1="XLOOKUP(","IFS(",\'IFS(\'!A1)', 'IF(A1="XLOOKUP(","IFS(",\'IFS(\'!A1)'],
  ['LET(x,A1*2,y,x+1,x&"x"&y)', '_xlfn.LET(_xlpm.x,A1*2,_xlpm.y,_xlpm.x+1,_xlpm.x&"x"&_xlpm.y)'],
  ['SUM(A1:A3)', 'SUM(A1:A3)'],
  ['MYIFS(1)', 'MYIFS(1)'],
])('%s stands in a file as %s, and is typed as before', (typed, filed) => {
  expect(filedFormula(typed)).toBe(filed)
  expect(typedFormula(filed)).toBe(typed)
})
test('what a cell shows, typed back, leaves the cell as it was', () => {
  const piece = fc.constantFrom(
    '_xlfn.IFS(',
    'SUM(',
    '_xlfn._xlws.SORT(',
    'A1',
    ',',
    ')',
    '"_xlfn.IFS("',
    '+',
    "'S IFS('!B2",
  )
  fc.assert(
    fc.property(fc.array(piece, { minLength: 1 }), (pieces) => {
      const cell = { formula: pieces.join('') }
      expect(readEntry(entryOf(cell), cell)).toEqual(cell)
    }),
  )
})
