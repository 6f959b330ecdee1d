// What a chunk is kept by when the ones before it are kept by others themselves. Each is mostly kept by the one
// before it, every tenth by the one ten before, every hundredth by the one a hundred before: so each edit takes
// little, and no chunk is ever many steps from one that stands alone (the idea of skip lists: Pugh, CACM 1990).

const base = 10
const furthestBack = 1000

/** The revision that this one is kept by. @param revision from 1; 0 stands alone */
export function keptBy(revision: number): number {
  let step = 1
  while (step < furthestBack && revision % (step * base) === 0) step *= base
  return Math.max(0, revision - step)
}

/** A chunk with how many were kept by one another up to it, and the chunks that it is kept by. */
export interface Link {
  revision: number
  roots: readonly number[]
}

/**
 * The chunks that one in the place of this one may be kept by.
 * @returns the chunk itself, or ones that it goes back to
 */
export function linksFor(id: number, link: (id: number) => Link): number[] {
  const wanted = keptBy(link(id).revision + 1)
  const back = (one: number): number[] => {
    const { revision, roots } = link(one)
    return revision <= wanted || !roots.length ? [one] : roots.flatMap(back)
  }
  return [...new Set(back(id))]
}
