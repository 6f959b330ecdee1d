import { app } from './app'
import { changes } from './changes'
import { common } from './common'
import { content } from './content'
import { contract } from './contract'
import { desk } from './desk'
import { drill } from './drill'
import { files } from './files'
import { find } from './find'
import { formats } from './formats'
import { history } from './history'
import { naming } from './naming'
import { problem } from './problem'
import { reach } from './reach'
import { recovery } from './recovery'
import { rescue } from './rescue'
import { work } from './work'

/** What the sign-in page, the Desk, Files, Find and Rescue say, and what the core and the server say, but of drives and copies. */
export const first = {
  ...app,
  ...changes,
  ...common,
  ...content,
  ...contract,
  ...desk,
  ...drill,
  ...files,
  ...find,
  ...formats,
  ...history,
  ...naming,
  ...problem,
  ...reach,
  ...recovery,
  ...rescue,
  ...work,
}
