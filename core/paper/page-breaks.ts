// Where in a document its pages begin, from what the layout says of its places.

/** A place in the document, and the page that it came to; from 1. */
export type PlaceOnPage = readonly [at: number, page: number]
export interface PageBreak {
  page: number
  at: number
}

/** Of paragraphs whose beginning and end are told, those that go over the end of a page, by where they begin. */
export function brokenAt(places: readonly PlaceOnPage[]): Set<number> {
  const broken = new Set<number>()
  // They are told one after the other: where one begins, and where it ends.
  for (let n = 0; n + 1 < places.length; n += 2) {
    const [from, page] = places[n]!
    const [to, last] = places[n + 1]!
    if (last !== page && to > from) broken.add(from)
  }
  return broken
}

/**
 * The first place of each page after the first one that is on no page before it; what is there again on each page, as the
 * head of a table, begins none.
 * @returns in the order of pages; a page on which nothing begins is not among them
 */
export function pageBreaks(places: readonly PlaceOnPage[]): PageBreak[] {
  const firsts = new Map<number, number>()
  const lasts = new Map<number, number>()
  for (const [at, page] of places) lasts.set(page, Math.max(lasts.get(page) ?? -1, at))
  let before = -1
  const furthest = new Map<number, number>()
  for (const page of [...lasts.keys()].sort((a, b) => a - b)) {
    furthest.set(page, before)
    before = Math.max(before, lasts.get(page)!)
  }
  for (const [at, page] of places)
    if (page > 1 && at > furthest.get(page)! && at < (firsts.get(page) ?? Number.POSITIVE_INFINITY))
      firsts.set(page, at)
  return [...firsts].sort(([a], [b]) => a - b).map(([page, at]) => ({ page, at }))
}
