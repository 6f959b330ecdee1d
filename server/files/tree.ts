// How deep folders lie in each other, which the database holds (server/sql/folder-tree.ts), said in a sentence.

import { say } from '../../core/words/said'
import { Refusal, sqlState } from '../refusal'
import { deepestFolder } from '../sql/folder-tree'

export const tooDeep = (): Refusal =>
  new Refusal('invalid', say('problem.folders-can-be-at-most-deep-in', { deepestFolder }))

/** Whether the database refused a folder because of it. */
export const isTooDeep = (error: unknown): boolean =>
  sqlState(error) === '23514' && String(error).includes('folders lie too deep')
