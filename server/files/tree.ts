// How deep folders lie in each other, which the database holds (server/sql/folder-tree.ts), said in a sentence.
import { Refusal, sqlState } from '../refusal'
import { deepestFolder } from '../sql/folder-tree'

export const tooDeep = (): Refusal => new Refusal('invalid', `Folders lie at most ${deepestFolder} deep in each other.`)

/** Whether the database refused a folder because of it. */
export const isTooDeep = (error: unknown): boolean =>
  sqlState(error) === '23514' && String(error).includes('folders lie too deep')
