// A document written whole as a file of Jaula's own, with what it keeps in its lines brought in.
import { Fragment, type Node } from 'prosemirror-model'
import { mapEdges } from '../../content/edges'
import type { Kept, KeptKind } from '../../content/kept'
import { type Limit, Limits, NotPatched, type Written } from '../refusals'
import { isField } from './fields'
import { patchDocx } from './patch'
import { writeDocx } from './write'

/** What a kept thing is called where it is told that it goes. */
export const keptFeatures: Record<KeptKind, string> = {
  footnote: 'footnotes',
  endnote: 'endnotes',
  comment: 'comments',
  removed: 'tracked removals',
  equation: 'equations',
  shape: 'drawn shapes and text boxes',
  chart: 'charts',
  diagram: 'diagrams',
  object: 'embedded objects',
  picture: 'images of a type browsers cannot show',
  symbol: 'symbols of a special font',
  ruby: 'ruby text',
  tab: 'positioned tabs',
  field: 'page number fields',
}

/**
 * @param mainType what it is of its family: with macros, a template
 * @returns the bytes of a .docx, and what of the document could not come along
 */
export function writeWholeDocx(doc: Node, mainType?: string): Written {
  const bytes = writeDocx(doc, mainType)
  const movable = (node: Node): boolean => (node.attrs as Kept).parts !== null
  const all = left(doc, () => false)
  if (!all.gone.length) return { bytes, lost: [] }
  const some = left(doc, movable)
  try {
    return { bytes: patchDocx(bytes, some.doc).bytes, lost: said(some.gone) }
  } catch (error) {
    if (!(error instanceof NotPatched)) throw error
    return { bytes, lost: said(all.gone) }
  }
}

const said = (gone: readonly Node[]): Limit[] => {
  const limits = new Limits()
  for (const { attrs } of gone) limits.add(keptFeatures[(attrs as Kept).kind], (attrs as Kept).words.slice(0, 40))
  return limits.list()
}

/** A document without what of its kept things does not stay; fields at the edges of pages are written with them. */
function left(doc: Node, stays: (node: Node) => boolean): { doc: Node; gone: Node[] } {
  const gone: Node[] = []
  const visit = (node: Node, fields: boolean): Node => {
    if (!node.childCount) return node
    const children: Node[] = []
    node.forEach((child) => {
      const kept = child.type.name === 'kept' && !(fields && isField(child.attrs as Kept))
      if (kept && !stays(child)) gone.push(child)
      else children.push(visit(child, fields))
    })
    return node.copy(Fragment.fromArray(children))
  }
  return { doc: mapEdges(visit(doc, false), (story) => visit(story, true)), gone }
}
