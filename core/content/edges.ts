// What stands at the head and the foot of a document's pages: small documents of their own, which the document holds.
import type { Node } from 'prosemirror-model'
import { documentFromJSON, documentSchema } from './document'

export interface EdgeName {
  edge: 'head' | 'foot'
  /** The pages that it stands on. Where there is one for the first page, those of all are for the others. */
  on: 'all' | 'first' | 'even'
}
export interface PageEdge extends EdgeName {
  /** A document of its own, as JSON. */
  json: unknown
}

const order = ['head all', 'head first', 'head even', 'foot all', 'foot first', 'foot even']
export const edgeKey = ({ edge, on }: EdgeName): string => `${edge} ${on}`
/** In the one order that a document has them in. */
export const inOrder = (edges: readonly PageEdge[]): PageEdge[] =>
  edges.toSorted((a, b) => order.indexOf(edgeKey(a)) - order.indexOf(edgeKey(b)))

export const edgesOf = (doc: Node): readonly PageEdge[] => doc.attrs.edges
export const edgeOf = (edges: readonly PageEdge[], name: EdgeName): PageEdge | undefined =>
  edges.find((one) => edgeKey(one) === edgeKey(name))

/** A small document as it is held: its content alone. */
export const storyJSON = (story: Node): unknown => ({ type: 'doc', content: story.content.toJSON() })
export const storyOf = (edge: PageEdge): Node => documentFromJSON(edge.json)
export const blankStory = (): unknown => storyJSON(documentSchema.node('doc', null, [documentSchema.node('paragraph')]))

/** What an edge says, in one line; a number that each page has its own of is a sign. */
export const wordsAtEdge = (story: Node): string =>
  story
    .textBetween(0, story.content.size, ' ', (leaf) =>
      leaf.type.name === 'kept' ? leaf.attrs.words || (leaf.attrs.kind === 'field' ? '#' : '') : ' ',
    )
    .replace(/\s+/g, ' ')
    .trim()

/** The document with other edges. */
export const withEdges = (doc: Node, edges: readonly PageEdge[]): Node =>
  doc.type.create({ ...doc.attrs, edges: inOrder(edges) }, doc.content, doc.marks)
/** The document with each of its edges as it is made to be. */
export const mapEdges = (doc: Node, made: (story: Node) => Node): Node =>
  edgesOf(doc).length
    ? withEdges(
        doc,
        edgesOf(doc).map((one) => ({ ...one, json: storyJSON(made(storyOf(one))) })),
      )
    : doc
