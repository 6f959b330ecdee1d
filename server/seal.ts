// What Jaula has to know and nobody else: passwords that it signs in with elsewhere. They are kept in the database and
// locked with a key that is not: whoever gets hold of the database, or of a copy of it, has none of them.
import { createCipheriv, createDecipheriv, randomBytes } from 'node:crypto'
import { readFileSync, writeFileSync } from 'node:fs'

/** The lock is not of this key, or not for this purpose. */
export class OtherSeal extends Error {}

const cipher = 'aes-256-gcm'
/** What kind of lock it is comes first, then the nonce (NIST SP 800-38D, §8.2.2) and the tag. */
const kind = 1
const nonceSize = 12
const tagSize = 16

export class Seal {
  /** @param key 32 bytes */
  constructor(private readonly key: Buffer) {}

  /** @param purpose what it is for; it does not open for another one */
  lock(secret: string, purpose: string): Buffer {
    const nonce = randomBytes(nonceSize)
    const locking = createCipheriv(cipher, this.key, nonce).setAAD(Buffer.from(purpose))
    const locked = Buffer.concat([locking.update(secret, 'utf8'), locking.final()])
    return Buffer.concat([Buffer.from([kind]), nonce, locking.getAuthTag(), locked])
  }
  /** @throws OtherSeal */
  open(locked: Buffer, purpose: string): string {
    try {
      if (locked[0] !== kind) throw new OtherSeal()
      const tag = locked.subarray(1 + nonceSize, 1 + nonceSize + tagSize)
      const opening = createDecipheriv(cipher, this.key, locked.subarray(1, 1 + nonceSize), { authTagLength: tagSize })
        .setAAD(Buffer.from(purpose))
        .setAuthTag(tag)
      const rest = locked.subarray(1 + nonceSize + tagSize)
      return Buffer.concat([opening.update(rest), opening.final()]).toString('utf8')
    } catch {
      throw new OtherSeal('The key that this was locked with is another one.')
    }
  }
}

/** The seal of a key in a file, made where there is none. @throws Error for a file that holds something else */
export function openSeal(file: string): Seal {
  let text: string
  try {
    text = readFileSync(file, 'utf8')
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'ENOENT') throw error
    text = `${randomBytes(32).toString('base64')}\n`
    writeFileSync(file, text, { mode: 0o600, flag: 'wx', flush: true })
  }
  const key = Buffer.from(text.trim(), 'base64')
  if (key.length !== 32) throw new Error(`${file} holds no key. Name another file in JAULA_KEY_FILE.`)
  return new Seal(key)
}
