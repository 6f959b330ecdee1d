// Where pages lie on what is printed: several on a side, folded to a booklet, on both sides, in copies. Places are counted
// from the left top of a side as it is read; lengths are points.

export type PerSide = 1 | 2 | 4 | 6 | 8 | 9 | 16
export interface Arrangement {
  /** Of the pages that are chosen. */
  which: 'all' | 'odd' | 'even'
  /** The last page first. */
  reverse: boolean
  copies: number
  /** Each copy whole before the next one begins; otherwise all copies of a leaf lie together. */
  collate: boolean
  fold: null | {
    /** Leaves in each other, before the next ones are laid behind them; 0 is all in one. */
    leaves: number
    /** Left free at each side of the fold. */
    margin: number
  }
  perSide: PerSide
  /** In which order several lie on a side. */
  order: 'rows' | 'columns' | 'rows-from-right' | 'columns-from-right'
  frames: boolean
  /** Turned at the long or at the short edge; `hand`: all fronts first, the backs when the stack was put back. */
  sides: 'one' | 'long' | 'short' | 'hand'
}
export const plainArrangement: Arrangement = {
  which: 'all',
  reverse: false,
  copies: 1,
  collate: true,
  fold: null,
  perSide: 1,
  order: 'rows',
  frames: false,
  sides: 'one',
}

/** A page in its place; `page` is null for a place that stays empty. */
export interface Placed {
  page: number | null
  column: number
  row: number
}
export interface Side {
  copy: number
  /** Of its copy, from 0. */
  leaf: number
  back: boolean
  columns: number
  rows: number
  places: readonly Placed[]
}
export interface Imposed {
  /** In the order in which they come to the printer. */
  sides: readonly Side[]
  /** What is printed when the stack was put back: their backs; null where that is not asked for. */
  backs: readonly Side[] | null
  /** Leaves of one copy. */
  leaves: number
}

const grids: Readonly<Record<PerSide, readonly [number, number]>> = {
  1: [1, 1],
  2: [2, 1],
  4: [2, 2],
  6: [3, 2],
  8: [4, 2],
  9: [3, 3],
  16: [4, 4],
}
/** Columns and rows of pages on a side that lies as they fit best: of upright pages, two lie beside each other. */
export function gridOf(perSide: PerSide, landscape: boolean): readonly [number, number] {
  const [columns, rows] = grids[perSide]
  return landscape && columns !== rows ? [rows, columns] : [columns, rows]
}

/** The pages that are printed, in the order in which they are read. */
export function readOf(chosen: readonly number[], { which }: Pick<Arrangement, 'which'>): number[] {
  return which === 'all' ? [...chosen] : chosen.filter((page) => page % 2 === (which === 'odd' ? 1 : 0))
}

/**
 * @param chosen pages, from 1, in the order in which they are read
 * @param landscape whether the pages lie
 */
export function impose(chosen: readonly number[], arrangement: Arrangement, landscape = false): Imposed {
  const { copies, collate, fold, sides: how, reverse } = arrangement
  const read = readOf(chosen, arrangement)
  const leaves = read.length === 0 ? [] : fold ? booklet(read, fold.leaves) : flat(read, arrangement, landscape)
  /** Fronts and backs of one copy, leaf by leaf. */
  const copyOf = (copy: number): Side[][] =>
    leaves.map(([front, back], leaf) => [
      { ...front, copy, leaf, back: false },
      ...(back ? [{ ...back, copy, leaf, back: true }] : []),
    ])
  const all = Array.from({ length: copies }, (_, copy) => copyOf(copy))
  const ordered = all.map((one) => (reverse ? [...one].reverse() : one))
  const stacked = collate ? ordered.flat() : (ordered[0] ?? []).flatMap((_, at) => ordered.map((copy) => copy[at]!))
  if (how !== 'hand') return { sides: stacked.flat(), backs: null, leaves: leaves.length }
  // They lie with what is printed below and the last one on top: so the backs are printed from the last one.
  return {
    sides: stacked.map(([front]) => front!),
    backs: [...stacked].reverse().map(([, back]) => back!),
    leaves: leaves.length,
  }
}

type Face = Pick<Side, 'columns' | 'rows' | 'places'>

function flat(read: readonly number[], { perSide, order, sides }: Arrangement, landscape: boolean): [Face, Face?][] {
  const [columns, rows] = gridOf(perSide, landscape)
  const faces: Face[] = []
  for (let from = 0; from < read.length; from += perSide) {
    const places = Array.from({ length: perSide }, (_, at): Placed => {
      const across = order.startsWith('rows')
      const column = across ? at % columns : Math.floor(at / rows)
      const row = across ? Math.floor(at / columns) : at % rows
      return {
        page: read[from + at] ?? null,
        column: order.endsWith('from-right') ? columns - 1 - column : column,
        row,
      }
    })
    faces.push({ columns, rows, places })
  }
  if (sides === 'one') return faces.map((face) => [face])
  const empty: Face = { columns, rows, places: [] }
  return faces.flatMap((face, at): [Face, Face][] => (at % 2 ? [] : [[face, faces[at + 1] ?? empty]]))
}

/** Leaves of two pages on each face, folded in the middle; where leaves are left over, their places stay empty. */
function booklet(read: readonly number[], leavesInOne: number): [Face, Face][] {
  const most = leavesInOne > 0 ? leavesInOne : Math.ceil(read.length / 4)
  const leaves: [Face, Face][] = []
  for (let from = 0; from < read.length; from += most * 4) {
    const part = read.slice(from, from + most * 4)
    const count = Math.ceil(part.length / 4)
    const at = (place: number): number | null => part[place] ?? null
    const face = (left: number, right: number): Face => ({
      columns: 2,
      rows: 1,
      places: [
        { page: at(left), column: 0, row: 0 },
        { page: at(right), column: 1, row: 0 },
      ],
    })
    for (let leaf = 0; leaf < count; leaf++)
      leaves.push([face(count * 4 - 1 - 2 * leaf, 2 * leaf), face(2 * leaf + 1, count * 4 - 2 - 2 * leaf)])
  }
  return leaves
}

/** Whether a side lies, by how its pages do. */
export function sideLies({ fold, perSide }: Arrangement, landscape: boolean): boolean {
  if (fold) return !landscape
  const [columns, rows] = gridOf(perSide, landscape)
  return columns === rows ? landscape : !landscape
}
/** The edge at which leaves are turned, so that what is on their backs stands upright; a booklet's is the one that it is not folded along. */
export const turnOf = ({ fold, sides }: Arrangement, landscape: boolean): 'one' | 'long' | 'short' =>
  sides === 'hand' || sides === 'one' ? 'one' : fold ? (landscape ? 'long' : 'short') : sides

/** A page's rectangle on a side, as large as it goes there; from the left bottom, as PDF has it. */
export function rectangleOf(
  { columns, rows }: Pick<Side, 'columns' | 'rows'>,
  { column, row }: Placed,
  side: { width: number; height: number },
  page: { width: number; height: number },
  { fold, perSide }: Pick<Arrangement, 'fold' | 'perSide'>,
): { x: number; y: number; width: number; height: number; scale: number } {
  const gap = perSide > 1 && !fold ? 10 : 0
  const outer = perSide > 1 && !fold ? 14 : 0
  const across = (side.width - 2 * outer - gap * (columns - 1)) / columns
  const down = (side.height - 2 * outer - gap * (rows - 1)) / rows
  const margin = fold ? Math.min(fold.margin, across / 4) : 0
  const room = { width: across - margin, height: down }
  const scale = Math.min(room.width / page.width, room.height / page.height)
  const [width, height] = [page.width * scale, page.height * scale]
  const left = outer + column * (across + gap) + (fold && column === 1 ? margin : 0)
  const bottom = outer + (rows - 1 - row) * (down + gap)
  // Beside the fold both lie at it; otherwise in the middle of their place.
  const x = fold ? (column === 0 ? left + room.width - width : left) : left + (room.width - width) / 2
  return { x, y: bottom + (room.height - height) / 2, width, height, scale }
}
