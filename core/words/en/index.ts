import { first } from './first'
import { later } from './later'
import { mail } from './mail'

/** Every sentence that people read, in English, by its code (docs/words.md). ICU MessageFormat. */
export const messages = {
  ...first,
  ...later,
  // What goes out by mail is said by the server alone: no page fetches it.
  ...mail,
}

export type Code = keyof typeof messages
export type Messages = Record<Code, string>
