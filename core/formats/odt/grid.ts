// Where the cells of a table stand, with those that reach over others.
import type { Node } from 'prosemirror-model'

/** Where each cell of a table stands: null for a place that another one reaches over. */
export function placesIn(table: Node): { rows: (Node | null)[][]; width: number } {
  const taken: Set<number>[] = table.children.map(() => new Set())
  const rows: (Node | null)[][] = []
  let width = 1
  table.forEach((row, _offset, y) => {
    const places: (Node | null)[] = []
    let x = 0
    const skip = () => {
      while (taken[y]!.has(x)) {
        places[x] = null
        x++
      }
    }
    row.forEach((cell) => {
      skip()
      const { colspan, rowspan } = cell.attrs
      places[x] = cell
      for (let dx = 1; dx < colspan; dx++) places[x + dx] = null
      for (let dy = 1; dy < rowspan && y + dy < taken.length; dy++)
        for (let dx = 0; dx < colspan; dx++) taken[y + dy]!.add(x + dx)
      x += colspan
    })
    skip()
    for (let at = x; at <= Math.max(-1, ...taken[y]!); at++) places[at] = null
    width = Math.max(width, places.length)
    rows.push(Array.from(places, (place) => place ?? null))
  })
  return { rows, width }
}
/** The width of each column, where every cell says it; pixels. */
export function widthsOf(table: Node, { rows, width }: { rows: (Node | null)[][]; width: number }): number[] | null {
  const found: number[] = []
  for (const row of rows)
    for (const [x, cell] of row.entries()) {
      const own = cell?.attrs.colwidth as number[] | null | undefined
      if (own) for (const [at, one] of own.entries()) found[x + at] = one
    }
  return found.length === width && Array.from(found, (one) => one > 0).every(Boolean) && table.childCount ? found : null
}
