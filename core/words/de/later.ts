import type { later as english } from '../en/later'
import { compare } from './compare'
import { document } from './document'
import { editor } from './editor'
import { intake } from './intake'
import { lifeline } from './lifeline'
import { moment } from './moment'
import { names } from './names'
import { retention } from './retention'
import { settings } from './settings'
import { sheet } from './sheet'
import { sites } from './sites'
import { slip } from './slip'

/** What the other screens say, which are fetched when they are gone to. */
export const later: Record<keyof typeof english, string> = {
  ...compare,
  ...document,
  ...editor,
  ...intake,
  ...lifeline,
  ...moment,
  ...names,
  ...retention,
  ...settings,
  ...sheet,
  ...sites,
  ...slip,
}
