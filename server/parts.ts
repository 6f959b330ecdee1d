// What the server is put together from, given to the routes of each subject.

import type { Logger } from 'pino'
import type { DataSource } from 'typeorm'
import type { Comparing } from './changes/threads'
import type { Reachable } from './copies/sites'
import type { Quotas } from './counts/quotas'
import type { Newsroom } from './events/service'
import type { ShowPage } from './links/shown'
import type { Convert } from './mail/convert'
import type { MailParts } from './mail/outbox'
import type { FindBreaks, Typeset } from './paper/typeset'
import type { Spool } from './requests/upload'
import type { Seal } from './seal'
import type { ReadSheets } from './side-lists/read-sheets'
import type { Contents } from './storage/content'

export interface AppParts {
  database: DataSource
  newsroom: Newsroom
  comparing: Comparing
  contents: Contents
  sheets: ReadSheets
  show: ShowPage
  /** How a file is had as another type; in this thread where nothing is said. */
  convert?: Convert
  /** How documents are set on pages; in this process where nothing is said. */
  typeset?: Typeset
  findBreaks?: FindBreaks
  /** How mail goes out; null where none is set up. */
  mail?: MailParts | null
  spool: Spool
  log: Logger
  /** Offer the demo accounts on the sign-in page. */
  demo: boolean
  /** Largest file accepted, in bytes. */
  largestFile: number
  /** What a share, and a person, may take in all; no bounds where it says nothing. */
  quotas?: Quotas
  /** The folder that holds what the server needs on disk; its room is watched. */
  data?: string
  /** Where copies may go; nowhere where it says nothing. */
  reachable?: Reachable
  /** Locks what nobody but Jaula may know; null where it has no key. */
  seal?: Seal | null
  /** Folders of the server that may be taken over; none where it says nothing. */
  intakeFolders?: readonly string[]
  /** Has work of this kind looked at soon. */
  soon?: (work: string) => void
  /** The folder of the built pages. */
  pages: string
  version: string
  /** Names that the server is reached by, as browsers say them in Host; any where there are none. */
  hosts?: readonly string[]
  /** How many proxies stand before it, whose word on the sender's address and on TLS counts. */
  proxies?: number
  /** The code that makes the first administrator; none is asked for where there is none. */
  firstCode?: string
}
