// Parts of arrays, and arrays in another order (the functions that came with arrays that fill cells by themselves).
import { type Cells, type Definitions, Fault, fault, type Plain } from './define'
import { compared } from './lookups'

type Rows = readonly (readonly (Plain | Fault)[])[]
const turned = (rows: Rows): (Plain | Fault)[][] => (rows[0] ?? []).map((_, column) => rows.map((row) => row[column]!))
/** From the beginning, or from the end when negative. */
const taken = <T>(items: readonly T[], count: number | undefined): readonly T[] => {
  if (count === undefined) return items
  const wanted = Math.trunc(count)
  if (wanted === 0) return fault('#VALUE!')
  return wanted > 0 ? items.slice(0, wanted) : items.slice(wanted)
}
const dropped = <T>(items: readonly T[], count = 0): readonly T[] => {
  const off = Math.trunc(count)
  const left = off >= 0 ? items.slice(off) : items.slice(0, off)
  return left.length ? left : fault('#VALUE!')
}
const chosen = <T>(items: readonly T[], places: readonly number[]): T[] =>
  places.map((place) => {
    const at = Math.trunc(place)
    return items[at > 0 ? at - 1 : items.length + at] ?? fault('#VALUE!')
  })
/** @param ignore 1 empty cells, 2 errors, 3 both @param down column by column */
const listed = (cells: Cells, ignore = 0, down = false): (Plain | Fault)[] =>
  (down ? turned(cells.rows) : cells.rows)
    .flat()
    .filter((one) => !((ignore % 2 === 1 && one === null) || (ignore >= 2 && one instanceof Fault)))

export const arrayFunctions: Definitions = {
  TAKE: {
    takes: 'cells number? number?',
    run: (cells: Cells, rows?: number, columns?: number) => taken(cells.rows, rows).map((row) => taken(row, columns)),
  },
  DROP: {
    takes: 'cells number? number?',
    run: (cells: Cells, rows?: number, columns?: number) =>
      dropped(cells.rows, rows).map((row) => dropped(row, columns)),
  },
  CHOOSEROWS: { takes: 'cells number', repeats: 1, run: (cells: Cells, ...at: number[]) => chosen(cells.rows, at) },
  CHOOSECOLS: {
    takes: 'cells number',
    repeats: 1,
    run: (cells: Cells, ...at: number[]) => cells.rows.map((row) => chosen(row, at)),
  },
  TOCOL: {
    takes: 'cells number? truth?',
    run: (cells: Cells, ignore?: number, down?: boolean) => listed(cells, ignore, down).map((one) => [one]),
  },
  TOROW: {
    takes: 'cells number? truth?',
    run: (cells: Cells, ignore?: number, down?: boolean) => [listed(cells, ignore, down)],
  },
  SORTBY: {
    takes: 'cells cells number?',
    run: (cells: Cells, by: Cells, order = 1) => {
      if (by.height !== cells.height || by.width !== 1) return fault('#VALUE!')
      const keys = by.values
      return [...cells.rows.keys()]
        .sort((a, b) => compared(keys[a]!, keys[b]!) * Math.sign(order) || a - b)
        .map((row) => cells.rows[row]!)
    },
  },
}
