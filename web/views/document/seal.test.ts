import fc from 'fast-check'
import { expect, test } from 'vitest'
import { opened, sealed } from './seal'

test('only what was sealed here, and not changed since, is opened', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'grapheme' }), fc.nat(), (text, where) => {
      const whole = sealed(text)
      expect(opened(whole)).toBe(text)
      const at = where % whole.length
      const other = whole[at] === 'x' ? 'y' : 'x'
      expect(opened(whole.slice(0, at) + other + whole.slice(at + 1))).toBeNull()
      expect(opened(text)).toBeNull()
    }),
  )
})
