import type { Messages } from '../en'
import { first } from './first'
import { later } from './later'

/** Every sentence in German; the type holds it to having each one that English has. */
export const messages: Messages = {
  ...first,
  ...later,
}
