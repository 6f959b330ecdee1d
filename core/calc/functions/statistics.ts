// Ranks, regression and counts of a sample (ECMA-376 part 1, §18.17.7; OpenFormula 1.2 §6.18).
import * as formulajs from '@formulajs/formulajs'
import { sum } from './criteria'
import { type Cells, type Definitions, Fault, fault } from './define'

/** The library's answer, its errors as ours. */
function given(answer: unknown): number {
  if (typeof answer === 'number' && Number.isFinite(answer)) return answer
  const name = answer instanceof Error ? answer.message : '#NUM!'
  return fault(/^#(?:NULL!|DIV\/0!|VALUE!|REF!|NAME\?|NUM!|N\/A)$/.test(name) ? (name as '#NUM!') : '#VALUE!')
}
const mean = (numbers: readonly number[]): number => sum(numbers) / numbers.length

/** Every most frequent number, in the order in which they come. */
function modes(all: readonly (Cells | number)[]): number[] {
  const numbers = all.flatMap((one) => (typeof one === 'number' ? [one] : one.figures))
  const times = new Map<number, number>()
  for (const number of numbers) times.set(number, (times.get(number) ?? 0) + 1)
  const most = Math.max(0, ...times.values())
  if (most < 2) return fault('#N/A')
  return [...times].filter(([, count]) => count === most).map(([number]) => number)
}
function rank(value: number, cells: Cells, rising: number): { above: number; same: number } {
  const numbers = cells.figures
  const same = numbers.filter((one) => one === value).length
  if (!same) return fault('#N/A')
  return { above: numbers.filter((one) => (rising ? one < value : one > value)).length, same }
}
/** Where a value stands in a sample, between nothing and one; between two values by their distance. */
function percentRank(cells: Cells, value: number, digits: number, outer: boolean): number {
  const numbers = cells.figures.toSorted((a, b) => a - b)
  const last = numbers.length - 1
  if (last < 0 || digits < 1) return fault('#NUM!')
  if (value < numbers[0]! || value > numbers[last]!) return fault('#N/A')
  let below = numbers.findIndex((one) => one >= value)
  if (numbers[below] !== value) below += (value - numbers[below - 1]!) / (numbers[below]! - numbers[below - 1]!) - 1
  const at = outer ? (below + 1) / (last + 2) : last === 0 ? 1 : below / last
  const scale = 10 ** Math.trunc(digits)
  return Math.floor(Number((at * scale).toPrecision(14))) / scale
}

/** Pairs of numbers of two areas; what is no number in one of them does not count. */
function pairs(first: Cells, second: Cells): [number, number][] {
  const [a, b] = [first.values, second.values]
  if (a.length !== b.length) return fault('#N/A')
  return a
    .map((value, index) => [value, b[index]] as const)
    .filter((pair): pair is [number, number] => pair.every((value) => typeof value === 'number'))
}
function line(known: [number, number][]): { slope: number; intercept: number } {
  if (!known.length) return fault('#N/A')
  const [x, y] = [mean(known.map(([one]) => one)), mean(known.map(([, one]) => one))]
  const spread = sum(known.map(([one]) => (one - x) ** 2))
  if (!spread) return fault('#DIV/0!')
  const slope = sum(known.map(([a, b]) => (a - x) * (b - y))) / spread
  return { slope, intercept: y - slope * x }
}

type Matrix = number[][]
/**
 * Least squares by Householder reflections (Golub and Van Loan, Matrix Computations, §5.3.2).
 * @returns the coefficients, and the inverse of the triangle for their errors
 */
function leastSquares(rows: Matrix, wanted: readonly number[]): { beta: number[]; inverse: Matrix } {
  const high = rows.length
  const wide = rows[0]!.length
  const a = rows.map((row) => row.slice())
  const y = wanted.slice()
  for (let k = 0; k < wide; k++) {
    let norm = Math.hypot(...a.slice(k).map((row) => row[k]!))
    if (norm < 1e-12 * Math.max(1, Math.hypot(...rows.map((row) => row[k]!)))) return fault('#NUM!')
    if (a[k]![k]! > 0) norm = -norm
    const v = a.map((row, index) => (index < k ? 0 : row[k]!))
    v[k]! -= norm
    const size = sum(v.map((one) => one * one))
    for (let column = k; column < wide; column++) {
      const times = (2 * sum(v.map((one, index) => one * a[index]![column]!))) / size
      for (let row = k; row < high; row++) a[row]![column]! -= times * v[row]!
    }
    const times = (2 * sum(v.map((one, index) => one * y[index]!))) / size
    for (let row = k; row < high; row++) y[row]! -= times * v[row]!
  }
  const beta = new Array<number>(wide).fill(0)
  for (let k = wide - 1; k >= 0; k--) {
    let rest = y[k]!
    for (let column = k + 1; column < wide; column++) rest -= a[k]![column]! * beta[column]!
    beta[k] = rest / a[k]![k]!
  }
  const inverse: Matrix = Array.from({ length: wide }, () => new Array<number>(wide).fill(0))
  for (let column = 0; column < wide; column++)
    for (let k = column; k >= 0; k--) {
      let rest = k === column ? 1 : 0
      for (let next = k + 1; next <= column; next++) rest -= a[k]![next]! * inverse[next]![column]!
      inverse[k]![column] = rest / a[k]![k]!
    }
  return { beta, inverse }
}
interface Known {
  y: number[]
  /** By observation. */
  x: Matrix
  /** The variables stand in columns. */
  upright: boolean
}
function known(ys: Cells, xs: Cells | undefined): Known {
  const y = ys.figures
  if (y.length !== ys.height * ys.width) return fault('#VALUE!')
  if (!xs) return { y, x: y.map((_, index) => [index + 1]), upright: ys.width === 1 }
  const numbers = xs.rows.map((row) => row.map((value) => (typeof value === 'number' ? value : fault('#VALUE!'))))
  if (xs.height === ys.height && xs.width === ys.width)
    return { y, x: numbers.flat().map((one) => [one]), upright: ys.width === 1 }
  if (ys.width === 1 && xs.height === ys.height) return { y, x: numbers, upright: true }
  if (ys.height === 1 && xs.width === ys.width)
    return { y, x: y.map((_, column) => numbers.map((row) => row[column]!)), upright: false }
  return fault('#REF!')
}
interface Fit {
  /** Of each variable, and last the constant. */
  beta: number[]
  errors: (number | Fault)[]
  r2: number
  /** Standard error of what is estimated. */
  spread: number
  f: number
  free: number
  explained: number
  left: number
}
function regression({ y, x }: Known, constant: boolean): Fit {
  const rows = x.map((row) => (constant ? [...row, 1] : row))
  const wide = rows[0]!.length
  if (rows.length < wide) return fault('#NUM!')
  const { beta, inverse } = leastSquares(rows, y)
  const estimated = rows.map((row) => sum(row.map((one, index) => one * beta[index]!)))
  const left = sum(y.map((one, index) => (one - estimated[index]!) ** 2))
  const middle = constant ? mean(y) : 0
  const all = sum(y.map((one) => (one - middle) ** 2))
  const free = y.length - wide
  const variance = free > 0 ? left / free : 0
  const errors: (number | Fault)[] = inverse.map((row) => Math.sqrt(variance * sum(row.map((one) => one * one))))
  if (!constant) {
    beta.push(0)
    errors.push(new Fault('#N/A'))
  }
  const variables = x[0]!.length
  const explained = all - left
  return {
    beta,
    errors,
    r2: all ? explained / all : 1,
    spread: Math.sqrt(variance),
    f: variance ? explained / variables / variance : Number.NaN,
    free,
    explained,
    left,
  }
}
/** Coefficients from the last variable to the first, then the constant; with the regression's figures below. */
function table(found: Fit, full: boolean, of: (one: number) => number = (one) => one): (number | Fault)[][] {
  const order = [...found.beta.keys()].slice(0, -1).reverse()
  order.push(found.beta.length - 1)
  const first = order.map((index) => of(found.beta[index]!))
  if (!full) return [first]
  const none = new Fault('#N/A')
  const filled = (a: number, b: number) => order.map((_, index) => (index === 0 ? a : index === 1 ? b : none))
  return [
    first,
    order.map((index) => found.errors[index]!),
    filled(found.r2, found.spread),
    filled(found.f, found.free).map((one) => (typeof one === 'number' && Number.isNaN(one) ? new Fault('#NUM!') : one)),
    filled(found.explained, found.left),
  ]
}
const logarithms = (all: Known): Known => ({
  ...all,
  y: all.y.map((one) => (one > 0 ? Math.log(one) : fault('#NUM!'))),
})
/** What a regression says of other values of its variables. */
function foretold(
  ys: Cells,
  xs: Cells | undefined,
  others: Cells | undefined,
  constant: boolean,
  grown: boolean,
): number[][] {
  const at = known(ys, xs)
  const { beta } = regression(grown ? logarithms(at) : at, constant)
  const value = (row: readonly number[]): number => {
    const one = sum(row.map((x, index) => x * beta[index]!)) + beta.at(-1)!
    return grown ? Math.exp(one) : one
  }
  const wanted = others ?? xs
  if (!wanted) return shaped(ys, at.x.map(value))
  const numbers = wanted.rows.map((row) => row.map((one) => (typeof one === 'number' ? one : fault('#VALUE!'))))
  const variables = at.x[0]!.length
  if (variables === 1) return numbers.map((row) => row.map((one) => value([one])))
  if (at.upright) return numbers.map((row) => [value(row)])
  return [numbers[0]!.map((_, column) => value(numbers.map((row) => row[column]!)))]
}
const shaped = (like: Cells, numbers: readonly number[]): number[][] =>
  like.rows.map((row, index) => row.map((_, column) => numbers[index * like.width + column]!))

export const statisticsFunctions: Definitions = {
  MODE: { takes: 'cells', repeats: 1, also: ['MODE.SNGL'], run: (...all: Cells[]) => modes(all)[0]! },
  'MODE.MULT': { takes: 'cells', repeats: 1, run: (...all: Cells[]) => modes(all).map((one) => [one]) },
  RANK: {
    takes: 'number cells number?',
    also: ['RANK.EQ'],
    run: (value: number, cells: Cells, rising = 0) => rank(value, cells, rising).above + 1,
  },
  'RANK.AVG': {
    takes: 'number cells number?',
    run: (value: number, cells: Cells, rising = 0) => {
      const { above, same } = rank(value, cells, rising)
      return above + (same + 1) / 2
    },
  },
  PERCENTRANK: {
    takes: 'cells number number?',
    also: ['PERCENTRANK.INC'],
    run: (cells: Cells, value: number, digits = 3) => percentRank(cells, value, digits, false),
  },
  'PERCENTRANK.EXC': {
    takes: 'cells number number?',
    run: (cells: Cells, value: number, digits = 3) => percentRank(cells, value, digits, true),
  },
  FORECAST: {
    takes: 'number cells cells',
    also: ['FORECAST.LINEAR'],
    run: (x: number, ys: Cells, xs: Cells) => {
      const { slope, intercept } = line(pairs(xs, ys))
      return intercept + slope * x
    },
  },
  INTERCEPT: { takes: 'cells cells', run: (ys: Cells, xs: Cells) => line(pairs(xs, ys)).intercept },
  LINEST: {
    takes: 'cells cells? truth? truth?',
    run: (ys: Cells, xs?: Cells, constant = true, full = false) => table(regression(known(ys, xs), constant), full),
  },
  LOGEST: {
    takes: 'cells cells? truth? truth?',
    run: (ys: Cells, xs?: Cells, constant = true, full = false) =>
      table(regression(logarithms(known(ys, xs)), constant), full, Math.exp),
  },
  TREND: {
    takes: 'cells cells? cells? truth?',
    run: (ys: Cells, xs?: Cells, others?: Cells, constant = true) => foretold(ys, xs, others, constant, false),
  },
  GROWTH: {
    takes: 'cells cells? cells? truth?',
    run: (ys: Cells, xs?: Cells, others?: Cells, constant = true) => foretold(ys, xs, others, constant, true),
  },
  FREQUENCY: {
    takes: 'cells cells',
    run: (data: Cells, bounds: Cells) => {
      const limits = bounds.figures
      const sorted = limits.toSorted((a, b) => a - b)
      const counts = new Array<number>(sorted.length + 1).fill(0)
      for (const number of data.figures) {
        const at = sorted.findIndex((limit) => number <= limit)
        counts[at < 0 ? sorted.length : at]!++
      }
      // In the order in which the bounds stand; one that stands twice counts at its first.
      const left = new Map(sorted.map((limit, index) => [limit, counts[sorted.indexOf(limit)] ?? index]))
      return [
        ...limits.map((limit) => {
          const count = left.get(limit) ?? 0
          left.set(limit, 0)
          return [count]
        }),
        [counts.at(-1)!],
      ]
    },
  },
  KURT: {
    takes: 'cells',
    repeats: 1,
    run: (...all: Cells[]) => {
      const numbers = all.flatMap(({ figures }) => figures)
      return new Set(numbers).size < 2 || numbers.length < 4 ? fault('#DIV/0!') : given(formulajs.KURT(numbers))
    },
  },
  TRIMMEAN: {
    takes: 'cells number',
    run: (cells: Cells, share: number) => {
      const numbers = cells.figures.toSorted((a, b) => a - b)
      if (share < 0 || share >= 1 || !numbers.length) return fault('#NUM!')
      const off = Math.floor((numbers.length * share) / 2)
      return mean(numbers.slice(off, numbers.length - off))
    },
  },
  PROB: {
    takes: 'cells cells number number?',
    run: (xs: Cells, chances: Cells, low: number, high = low) => {
      const all = pairs(xs, chances)
      if (all.some(([, chance]) => chance <= 0 || chance > 1)) return fault('#NUM!')
      if (Math.abs(sum(all.map(([, chance]) => chance)) - 1) > 1e-10) return fault('#NUM!')
      return sum(all.filter(([x]) => x >= low && x <= high).map(([, chance]) => chance))
    },
  },
  PERMUT: {
    takes: 'number number',
    run: (of: number, taken: number) => {
      const [all, some] = [Math.trunc(of), Math.trunc(taken)]
      if (all < 0 || some < 0 || some > all) return fault('#NUM!')
      let product = 1
      for (let factor = all - some + 1; factor <= all && Number.isFinite(product); factor++) product *= factor
      return product
    },
  },
  PERMUTATIONA: {
    takes: 'number number',
    run: (of: number, taken: number) => (of < 0 || taken < 0 ? fault('#NUM!') : Math.trunc(of) ** Math.trunc(taken)),
  },
  'BINOM.DIST.RANGE': {
    takes: 'number number number number?',
    run: (trials: number, chance: number, low: number, high = low) => {
      if (chance < 0 || chance > 1 || low < 0 || high < low || high > trials) return fault('#NUM!')
      return given(formulajs.BINOM.DIST.RANGE(Math.trunc(trials), chance, Math.trunc(low), Math.trunc(high)))
    },
  },
}
