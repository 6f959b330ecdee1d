import type { Changes } from '../opc/add-part'
import type { OpcPackage } from '../opc/package'
import type { DocumentSource } from './source'

/** How an edit is written where there are several ways to. */
export interface Way {
  /** New lists get numbers of their own, instead of going on with what is there. */
  ownLists: boolean
  /** What an empty line holds unseen goes on beside it when it goes. */
  keepsUnseen: boolean
  /** Edges of pages that cannot be written into their parts get new ones. */
  edgesAnew: boolean
}

/** One story of a file (its body, a header) that is being written into the part that it stands in. */
export interface Story {
  opened: OpcPackage
  /** What parts become, for all stories of the file. */
  changes: Changes
  part: string
  /** The part that leads to styles and numbering. */
  lead: string
  xml: string
  /** Before the names of its elements, with the colon. */
  prefix: string
  source: DocumentSource
  way: Way
}
