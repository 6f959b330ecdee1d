import { expect, test } from 'vitest'
import { readDocx } from './docx/read'
import { DamagedFile } from './refusals'
import { isEncryptedPackage } from './signature'
import { readXlsx } from './xlsx/read'

/** The head and the directory of a compound file, with one stream of a name. */
function compound(stream: string): Uint8Array {
  const bytes = new Uint8Array(512 * 3)
  bytes.set([0xd0, 0xcf, 0x11, 0xe0, 0xa1, 0xb1, 0x1a, 0xe1])
  for (const [index, letter] of [...stream].entries()) bytes[1024 + 128 + index * 2] = letter.charCodeAt(0)
  return bytes
}

test('a file that is protected by a password is known, and neither editor opens it', () => {
  const locked = compound('EncryptedPackage')
  expect(isEncryptedPackage(locked)).toBe(true)
  expect(isEncryptedPackage(compound('WordDocument'))).toBe(false)
  for (const read of [readDocx, readXlsx])
    expect(() => read(locked)).toThrow(
      expect.objectContaining({ name: 'DamagedFile', message: expect.stringContaining('protected-by-a-password') }),
    )
  expect(() => readDocx(compound('WordDocument'))).toThrow(DamagedFile)
})
