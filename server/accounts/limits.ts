// How often somebody may guess at a password. Guesses are counted before anything is hashed, in the database, so that
// any number of them at once, through any number of processes, are as many as one after the other. A browser that the
// person signed in with before is counted apart: whoever guesses elsewhere keeps nobody out.
import { createHash } from 'node:crypto'
import { RateLimiterPostgres, RateLimiterRes } from 'rate-limiter-flexible'
import type { DataSource } from 'typeorm'
import { say } from '../../core/words/said'
import { Refusal } from '../refusal'

/** Guesses by one address at one name, before each further one waits. */
const free = 5
/** The first wait, which doubles with each failure, and the longest; seconds. */
const firstWait = 5
const longestWait = 900
/** All guesses at one name, and all by one address, from browsers that are not known; in a quarter of an hour. */
const atOneName = 40
const byOneAddress = 300
const quarter = 900
const day = 86_400

export interface Guess {
  handle: string
  /** Where it comes from. */
  address: string
  /** A browser that this person signed in with before. */
  known: string | null
}
/** What is to be done when it is known whether the guess was right. */
export interface Counted {
  right(): Promise<void>
  wrong(): Promise<void>
}

export function guessLimits(database: DataSource) {
  const limiter = (name: string, points: number, duration: number) =>
    new RateLimiterPostgres({
      storeClient: database,
      storeType: 'typeorm',
      tableName: 'guess_limit',
      tableCreated: true,
      keyPrefix: name,
      points,
      duration,
    })
  const near = limiter('near', free, quarter)
  const failures = limiter('failures', 1_000_000, day)
  const names = limiter('name', atOneName, quarter)
  const addresses = limiter('address', byOneAddress, quarter)
  // A name is anything that somebody typed; its digest always fits.
  const keyOf = (...parts: string[]) => createHash('sha256').update(JSON.stringify(parts)).digest('base64url')

  /** @throws Refusal too-many-attempts, with the seconds to wait */
  return async function count({ handle, address, known }: Guess): Promise<Counted> {
    const key = known ? keyOf('known', handle, known) : keyOf('near', handle, address)
    const wide = known ? [] : [[names, keyOf(handle)] as const, [addresses, keyOf(address)] as const]
    try {
      await near.consume(key)
      for (const [one, at] of wide) await one.consume(at)
    } catch (error) {
      if (!(error instanceof RateLimiterRes)) throw error
      const seconds = Math.max(1, Math.ceil(error.msBeforeNext / 1000))
      const when =
        seconds > 90
          ? say('reach.interval-minutes', { minutes: Math.ceil(seconds / 60) })
          : say('reach.interval', { seconds })
      throw new Refusal('too-many-attempts', say('problem.too-many-attempts-try-again-in', { when }), {
        retryAfter: seconds,
      })
    }
    return {
      async right() {
        await Promise.all([near.delete(key), failures.delete(key), ...wide.map(([one, at]) => one.reward(at))])
      },
      async wrong() {
        const { consumedPoints } = await failures.consume(key)
        if (consumedPoints >= free)
          await near.block(key, Math.min(longestWait, firstWait * 2 ** Math.min(20, consumedPoints - free)))
      },
    }
  }
}
export type CountGuess = ReturnType<typeof guessLimits>
