import { compare } from './compare'
import { document } from './document'
import { editor } from './editor'
import { lifeline } from './lifeline'
import { names } from './names'
import { retention } from './retention'
import { settings } from './settings'
import { sheet } from './sheet'
import { slip } from './slip'

/** What the other screens say, which are fetched when they are gone to. */
export const later = {
  ...compare,
  ...document,
  ...editor,
  ...lifeline,
  ...names,
  ...retention,
  ...settings,
  ...sheet,
  ...slip,
}
