// What was written is read again and laid beside what was meant: where the two differ, it is told.
import type { Node } from 'prosemirror-model'
import { type Limit, Limits } from './refusals'

/** @param again what was read of it @returns none where it is what was meant */
export function saidOtherwise(again: Node, meant: Node): Limit[] {
  const limits = new Limits()
  if (again.eq(meant)) return []
  const from = again.content.findDiffStart(meant.content)
  const near = meant.resolve(Math.min(from ?? 0, meant.content.size)).parent
  if (from === null) limits.add('page set-up', '')
  else limits.add('things that such a text says in another way', near.textContent.slice(0, 40), 1, [from])
  return limits.list()
}
