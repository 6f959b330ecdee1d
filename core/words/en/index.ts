import { app } from './app'
import { changes } from './changes'
import { common } from './common'
import { compare } from './compare'
import { content } from './content'
import { contract } from './contract'
import { desk } from './desk'
import { document } from './document'
import { drill } from './drill'
import { editor } from './editor'
import { files } from './files'
import { find } from './find'
import { formats } from './formats'
import { history } from './history'
import { lifeline } from './lifeline'
import { names } from './names'
import { naming } from './naming'
import { problem } from './problem'
import { reach } from './reach'
import { recovery } from './recovery'
import { rescue } from './rescue'
import { retention } from './retention'
import { settings } from './settings'
import { sheet } from './sheet'
import { slip } from './slip'
import { work } from './work'

/** Every sentence that people read, in English, by its code (docs/words.md). ICU MessageFormat. */
export const messages = {
  ...app,
  ...common,
  ...compare,
  ...desk,
  ...drill,
  ...editor,
  ...document,
  ...lifeline,
  ...slip,
  ...reach,
  ...sheet,
  ...files,
  ...find,
  ...names,
  ...rescue,
  ...retention,
  ...settings,
  ...work,
  ...changes,
  ...naming,
  ...recovery,
  ...history,
  ...problem,
  ...contract,
  ...formats,
  ...content,
}

export type Code = keyof typeof messages
export type Messages = Record<Code, string>
