// The one place where a transaction is tried again. PostgreSQL ends one of two transactions that wait for
// each other (40P01) and one that another overtook (40001); both may simply be done anew, because nothing
// of them happened. Work inside must therefore do nothing outside the database.
import type { DataSource, EntityManager } from 'typeorm'
import { sqlState } from '../refusal'

const mostTries = 6
/** Pauses grow, and differ between the two that met; milliseconds. */
const pause = (tries: number) => new Promise((done) => setTimeout(done, 2 ** tries * 4 * (0.5 + Math.random())))

const mayBeTriedAgain = (error: unknown) => ['40P01', '40001'].includes(sqlState(error))

/** Runs a piece of work in a transaction, and again when the database says that it met another one. */
export async function inTransaction<T>(database: DataSource, work: (manager: EntityManager) => Promise<T>): Promise<T> {
  return again(() => database.transaction(work))
}

/** Runs a single statement, which is a transaction of its own, in the same way. */
export const inOneStatement = <T>(database: DataSource, work: (manager: EntityManager) => Promise<T>): Promise<T> =>
  again(() => work(database.manager))

async function again<T>(run: () => Promise<T>): Promise<T> {
  for (let tries = 0; ; tries++) {
    try {
      return await run()
    } catch (error) {
      if (tries === mostTries || !mayBeTriedAgain(error)) throw error
      await pause(tries)
    }
  }
}
