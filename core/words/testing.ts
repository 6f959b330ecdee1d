import { inEnglish } from './in-english'
import { isSaid } from './said'

/** Anything with the sentences in it said in English, for tests that hold what is found to what people read. */
export function english<T>(value: T): unknown {
  if (isSaid(value)) return inEnglish(value)
  if (Array.isArray(value)) return value.map(english)
  if (typeof value !== 'object' || value === null || Object.getPrototypeOf(value) !== Object.prototype) return value
  return Object.fromEntries(Object.entries(value).map(([key, one]) => [key, english(one)]))
}
