// Subtotals: what is counted of rows that are not shown, of errors and of other subtotals (ECMA-376 part 1,
// §18.17.7.316; OpenFormula 1.2 §6.16.61, §6.16.2).
import { sum } from './criteria'
import { type Cells, type Definitions, Fault, fault, type Plain } from './define'

interface LeftOut {
  hiddenByHand: boolean
  filtered: boolean
  errors: boolean
  subtotals: boolean
}
function counted(all: readonly Cells[], out: LeftOut): Plain[] {
  return all.flatMap((cells) =>
    cells.rows.flatMap((line, row) => {
      const hidden = cells.standing?.hidden(row)
      if ((hidden === 'by hand' && out.hiddenByHand) || (hidden === 'by a filter' && out.filtered)) return []
      return line.flatMap((value, column) => {
        if (value instanceof Fault) {
          if (out.errors || (out.subtotals && cells.standing?.isSubtotal(row, column))) return []
          throw value
        }
        return value !== null && out.subtotals && cells.standing?.isSubtotal(row, column) ? [] : [value]
      })
    }),
  )
}
const spread = (numbers: readonly number[], less: number): number => {
  if (numbers.length <= less) return fault('#DIV/0!')
  const mean = sum(numbers) / numbers.length
  return sum(numbers.map((one) => (one - mean) ** 2)) / (numbers.length - less)
}
const sorted = (numbers: readonly number[]): number[] => numbers.toSorted((a, b) => a - b)
/** @param outer the ends of the sample are not its bounds */
function quantile(numbers: readonly number[], part: number, outer = false): number {
  const all = sorted(numbers)
  const at = outer ? part * (all.length + 1) - 1 : part * (all.length - 1)
  if (!all.length || at < 0 || at > all.length - 1 || part < 0 || part > 1) return fault('#NUM!')
  const low = Math.floor(at)
  return all[low]! + (at - low) * ((all[low + 1] ?? all[low]!) - all[low]!)
}
function most(numbers: readonly number[]): number {
  const times = new Map<number, number>()
  for (const one of numbers) times.set(one, (times.get(one) ?? 0) + 1)
  const top = Math.max(0, ...times.values())
  return top < 2 ? fault('#N/A') : [...times].find(([, count]) => count === top)![0]
}
const nth = (numbers: readonly number[], place: number): number => numbers[Math.ceil(place) - 1] ?? fault('#NUM!')

type Of = (numbers: readonly number[], all: readonly Plain[]) => number
const totals: Of[] = [
  (numbers) => (numbers.length ? sum(numbers) / numbers.length : fault('#DIV/0!')),
  (numbers) => numbers.length,
  (_, all) => all.filter((one) => one !== null).length,
  (numbers) => (numbers.length ? Math.max(...numbers) : 0),
  (numbers) => (numbers.length ? Math.min(...numbers) : 0),
  (numbers) => (numbers.length ? numbers.reduce((product, one) => product * one, 1) : 0),
  (numbers) => Math.sqrt(spread(numbers, 1)),
  (numbers) => Math.sqrt(spread(numbers, 0)),
  sum,
  (numbers) => spread(numbers, 1),
  (numbers) => spread(numbers, 0),
  (numbers) => (numbers.length ? quantile(numbers, 0.5) : fault('#NUM!')),
  most,
]
const places: ((numbers: readonly number[], place: number) => number)[] = [
  (numbers, place) => nth(sorted(numbers).reverse(), place),
  (numbers, place) => nth(sorted(numbers), place),
  (numbers, part) => quantile(numbers, part),
  (numbers, part) => quantile(numbers, Math.trunc(part) / 4),
  (numbers, part) => quantile(numbers, part, true),
  (numbers, part) => quantile(numbers, Math.trunc(part) / 4, true),
]
const figures = (all: readonly Plain[]): number[] => all.filter((one) => typeof one === 'number')

export const subtotalFunctions: Definitions = {
  SUBTOTAL: {
    takes: 'number cells',
    repeats: 1,
    run: (which: number, ...all: Cells[]) => {
      const kind = Math.trunc(which)
      const of = totals[(kind > 100 ? kind - 100 : kind) - 1]
      if (!of || (kind > 100 ? kind - 100 : kind) > 11) return fault('#VALUE!')
      const values = counted(all, { hiddenByHand: kind > 100, filtered: true, errors: false, subtotals: true })
      return of(figures(values), values)
    },
  },
  AGGREGATE: {
    takes: 'number number cells',
    repeats: 1,
    run: (which: number, options: number, ...all: Cells[]) => {
      const kind = Math.trunc(which)
      const how = Math.trunc(options)
      if (kind < 1 || kind > 19 || how < 0 || how > 7) return fault('#VALUE!')
      const out = {
        hiddenByHand: how % 2 === 1,
        filtered: how % 2 === 1,
        errors: how === 2 || how === 3 || how >= 6,
        subtotals: how < 4,
      }
      if (kind <= 13) {
        const values = counted(all, out)
        return totals[kind - 1]!(figures(values), values)
      }
      const [cells, place] = all
      const at = place?.rows[0]?.[0]
      if (!cells || typeof at !== 'number') return at instanceof Fault ? at : fault('#VALUE!')
      return places[kind - 14]!(figures(counted([cells], out)), at)
    },
  },
}
