import { databaseIsAway, Refusal } from '../refusal'
import { told } from './by-itself'

/** What a place for copies has to say against something is said to whoever asked for it. @throws Refusal */
export async function orRefuse<T>(doing: Promise<T>): Promise<T> {
  try {
    return await doing
  } catch (error) {
    if (error instanceof Refusal || databaseIsAway(error)) throw error
    throw new Refusal('not-found', told(error))
  }
}
