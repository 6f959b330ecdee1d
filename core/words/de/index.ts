import type { Messages } from '../en'
import { first } from './first'
import { later } from './later'
import { mail } from './mail'

/** Every sentence in German; the type holds it to having each one that English has. */
export const messages: Messages = {
  ...first,
  ...later,
  // What goes out by mail is said by the server alone: no page fetches it.
  ...mail,
}
