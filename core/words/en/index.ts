import { first } from './first'
import { later } from './later'

/** Every sentence that people read, in English, by its code (docs/words.md). ICU MessageFormat. */
export const messages = {
  ...first,
  ...later,
}

export type Code = keyof typeof messages
export type Messages = Record<Code, string>
