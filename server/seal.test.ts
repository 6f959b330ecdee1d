import { mkdtempSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import fc from 'fast-check'
import { afterAll, expect, test } from 'vitest'
import { OtherSeal, openSeal } from './seal'

const scratch = mkdtempSync(join(tmpdir(), 'jaula-seal-'))
afterAll(() => rmSync(scratch, { recursive: true, force: true }))

test('what is locked opens for its purpose with its key, and for nothing else, however it is changed', () => {
  const [seal, other] = [openSeal(join(scratch, 'one')), openSeal(join(scratch, 'other'))]
  expect(statSync(join(scratch, 'one')).mode & 0o777).toBe(0o600)
  fc.assert(
    fc.property(
      fc.string({ unit: 'binary' }),
      fc.string(),
      fc.nat(),
      fc.integer({ min: 1, max: 255 }),
      (secret, purpose, at, by) => {
        const text = Buffer.from(secret).toString('utf8')
        const locked = seal.lock(text, purpose)
        expect(seal.lock(text, purpose)).not.toEqual(locked)
        // The same file gives the same key.
        expect(openSeal(join(scratch, 'one')).open(locked, purpose)).toBe(text)
        expect(() => other.open(locked, purpose)).toThrow(OtherSeal)
        expect(() => seal.open(locked, `${purpose}.`)).toThrow(OtherSeal)
        const changed = Buffer.from(locked)
        changed[at % changed.length]! ^= by
        expect(() => seal.open(changed, purpose)).toThrow(OtherSeal)
        expect(() => seal.open(locked.subarray(0, at % locked.length), purpose)).toThrow(OtherSeal)
      },
    ),
  )
})

test('a file that holds no key is not written over', () => {
  const file = join(scratch, 'notes')
  writeFileSync(file, 'notes of mine')
  expect(() => openSeal(file)).toThrow(file)
})
