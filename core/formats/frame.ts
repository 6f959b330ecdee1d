// What stands around a document's text: a type that has no pages has no place for it.
import type { Node } from 'prosemirror-model'
import { a4 } from '../content/document'
import { edgesOf } from '../content/edges'
import type { Limits } from './refusals'

/** Tells of page set-up, headers and footers. */
export function loseFrame(doc: Node, limits: Limits): void {
  if (JSON.stringify(doc.attrs.page) !== JSON.stringify(a4)) limits.add('page set-up', '')
  for (const { edge } of edgesOf(doc)) limits.add(edge === 'head' ? 'page headers' : 'page footers', '')
}
