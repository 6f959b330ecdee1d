import type { later as english } from '../en/later'
import { about } from './about'
import { compare } from './compare'
import { copies } from './copies'
import { document } from './document'
import { drives } from './drives'
import { editor } from './editor'
import { functions } from './functions'
import { intake } from './intake'
import { lifeline } from './lifeline'
import { links } from './links'
import { list } from './list'
import { moment } from './moment'
import { names } from './names'
import { own } from './own'
import { paper } from './paper'
import { past } from './past'
import { people } from './people'
import { retention } from './retention'
import { sending } from './sending'
import { settings } from './settings'
import { sheet } from './sheet'
import { signs } from './signs'
import { sites } from './sites'
import { slip } from './slip'

/** What the other screens say, which are fetched when they are gone to. */
export const later: Record<keyof typeof english, string> = {
  ...about,
  ...compare,
  ...copies,
  ...document,
  ...drives,
  ...editor,
  ...functions,
  ...intake,
  ...lifeline,
  ...links,
  ...list,
  ...moment,
  ...names,
  ...own,
  ...paper,
  ...past,
  ...people,
  ...retention,
  ...sending,
  ...settings,
  ...sheet,
  ...signs,
  ...sites,
  ...slip,
}
