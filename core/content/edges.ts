// What stands at the head and the foot of a document's pages, as far as it is shown here: the file's own.

export interface PageEdge {
  edge: 'head' | 'foot'
  /** The pages that it stands on. */
  on: 'all' | 'first' | 'even'
  /** A document of its own, as JSON. */
  json: unknown
}

/** Features of documents that are shown, and not changed, here (formats/refusals.ts has their names). */
export const shownEdges: ReadonlySet<string> = new Set(['page headers', 'page footers'])
