import fc from 'fast-check'
import { expect, test } from 'vitest'
import { addressesIn } from './addresses'

test('addresses are found as they are copied from elsewhere, and nothing else is taken for some', () => {
  expect(addressesIn('nell@assessors.example')).toEqual(['nell@assessors.example'])
  expect(addressesIn(' <nell@assessors.example>; board@merrowdale.example,\n clerk@dale-council.example ')).toEqual([
    'nell@assessors.example',
    'board@merrowdale.example',
    'clerk@dale-council.example',
  ])
  for (const none of [
    '',
    ' ',
    ',;',
    'nell',
    'nell@',
    '@assessors.example',
    'nell@assessors',
    'Nell <nell@assessors.example>',
  ])
    expect([none, addressesIn(none)]).toEqual([none, null])
  const address = fc.emailAddress().filter((one) => addressesIn(one) !== null)
  fc.assert(
    fc.property(
      fc.array(address, { minLength: 1, maxLength: 6 }),
      fc.constantFrom(', ', ';', ' ', '\n'),
      (all, between) => {
        expect(addressesIn(all.join(between))).toEqual(all)
      },
    ),
  )
})
