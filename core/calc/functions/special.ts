// Functions of which the engine's own have eight digits, by ways that have fifteen.
import { type Definitions, fault } from './define'

const lanczos = [
  0.99999999999980993, 676.5203681218851, -1259.1392167224028, 771.32342877765313, -176.61502916214059,
  12.507343278686905, -0.13857109526572012, 9.9843695780195716e-6, 1.5056327351493116e-7,
]
/** The gamma function, by Lanczos' approximation with g = 7 (Numerical Recipes, 3rd edition, §6.1). */
export function gamma(x: number): number {
  if (x <= 0 && Number.isInteger(x)) return fault('#NUM!')
  if (Number.isInteger(x) && x < 171) {
    let product = 1
    for (let factor = 2; factor < x; factor++) product *= factor
    return product
  }
  if (x < 0.5) return Math.PI / (Math.sin(Math.PI * x) * gamma(1 - x))
  return Math.exp(logGamma(x))
}
/** The logarithm of the gamma function, of a number above nothing. */
export function logGamma(x: number): number {
  if (x < 0.5) return Math.log(Math.PI / Math.abs(Math.sin(Math.PI * x))) - logGamma(1 - x)
  const y = x - 1
  let total = lanczos[0]!
  for (let index = 1; index < lanczos.length; index++) total += lanczos[index]! / (y + index)
  const t = y + 7.5
  return 0.5 * Math.log(2 * Math.PI) + (y + 0.5) * Math.log(t) - t + Math.log(total)
}
/** The regularised incomplete beta function, by its continued fraction (Numerical Recipes, §6.4, Lentz's way). */
export function incompleteBeta(x: number, a: number, b: number): number {
  if (x <= 0) return 0
  if (x >= 1) return 1
  if (x > (a + 1) / (a + b + 2)) return 1 - incompleteBeta(1 - x, b, a)
  const front = Math.exp(logGamma(a + b) - logGamma(a) - logGamma(b) + a * Math.log(x) + b * Math.log1p(-x))
  const tiny = 1e-300
  const away = (value: number) => (Math.abs(value) < tiny ? tiny : value)
  let c = 1
  let d = 1 / away(1 - ((a + b) * x) / (a + 1))
  let h = d
  for (let m = 1; m < 10_000; m++) {
    let step = (m * (b - m) * x) / ((a + 2 * m - 1) * (a + 2 * m))
    d = 1 / away(1 + step * d)
    c = away(1 + step / c)
    h *= d * c
    step = (-(a + m) * (a + b + m) * x) / ((a + 2 * m) * (a + 2 * m + 1))
    d = 1 / away(1 + step * d)
    c = away(1 + step / c)
    const change = d * c
    h *= change
    if (Math.abs(change - 1) < 1e-16) break
  }
  return (front * h) / a
}
/** How likely Student's t is above a number. */
function tAbove(t: number, free: number): number {
  const half = incompleteBeta(free / (free + t * t), free / 2, 0.5) / 2
  return t >= 0 ? half : 1 - half
}
/** The t of which a chance is above, by halving and then by secants. */
function tOf(above: number, free: number): number {
  if (above === 0.5) return 0
  if (above > 0.5) return -tOf(1 - above, free)
  let high = 1
  while (tAbove(high, free) > above && high < 1e300) high *= 2
  let low = 0
  for (let step = 0; step < 200 && high - low > 1e-15 * high; step++) {
    const middle = (low + high) / 2
    if (tAbove(middle, free) > above) low = middle
    else high = middle
  }
  return (low + high) / 2
}
const freedom = (given: number): number => (given >= 1 ? Math.trunc(given) : fault('#NUM!'))
const chance = (given: number): number => (given > 0 && given < 1 ? given : fault('#NUM!'))
const fAbove = (f: number, a: number, b: number): number => incompleteBeta(b / (b + a * f), b / 2, a / 2)

/** The mean of a function over a whole turn, whose error falls faster than any power of the steps. */
function meanOver(turn: number, steps: number, of: (at: number) => number): number {
  let total = (of(0) + of(turn)) / 2
  for (let step = 1; step < steps; step++) total += of((turn * step) / steps)
  return total / steps
}
const order = (n: number): number => (n >= 0 ? Math.trunc(n) : fault('#NUM!'))

export const specialFunctions: Definitions = {
  // Downwards, also below nothing.
  INT: { takes: 'number', run: (value: number) => Math.floor(Number(value.toPrecision(15))) },
  GAMMA: { takes: 'number', run: gamma },
  'T.INV': {
    takes: 'number number',
    run: (p: number, free: number) => -tOf(chance(p), freedom(free)),
  },
  'T.INV.2T': {
    takes: 'number number',
    also: ['TINV'],
    run: (p: number, free: number) => (p === 1 ? 0 : tOf(chance(p) / 2, freedom(free))),
  },
  'CONFIDENCE.T': {
    takes: 'number number number',
    run: (p: number, spread: number, size: number) => {
      if (spread <= 0 || size < 1) return fault('#NUM!')
      if (Math.trunc(size) === 1) return fault('#DIV/0!')
      return (tOf(chance(p) / 2, Math.trunc(size) - 1) * spread) / Math.sqrt(Math.trunc(size))
    },
  },
  'F.DIST.RT': {
    takes: 'number number number',
    also: ['FDIST'],
    run: (f: number, a: number, b: number) => (f < 0 ? fault('#NUM!') : fAbove(f, freedom(a), freedom(b))),
  },
  'F.DIST': {
    takes: 'number number number truth',
    run: (f: number, first: number, second: number, summed: boolean) => {
      if (f < 0) return fault('#NUM!')
      const [a, b] = [freedom(first), freedom(second)]
      if (summed) return 1 - fAbove(f, a, b)
      if (f === 0) return a === 2 ? 1 : a < 2 ? fault('#NUM!') : 0
      return Math.exp(
        logGamma((a + b) / 2) -
          logGamma(a / 2) -
          logGamma(b / 2) +
          (a / 2) * Math.log(a / b) +
          (a / 2 - 1) * Math.log(f) -
          ((a + b) / 2) * Math.log1p((a * f) / b),
      )
    },
  },
  // By Bessel's integrals (DLMF 10.9.2, 10.32.3, 10.32.9).
  BESSELJ: {
    takes: 'number number',
    run: (x: number, n: number) => {
      const at = order(n)
      return meanOver(Math.PI, 64 + 2 * at + Math.ceil(2 * Math.abs(x)), (turn) =>
        Math.cos(at * turn - x * Math.sin(turn)),
      )
    },
  },
  BESSELI: {
    takes: 'number number',
    run: (x: number, n: number) => {
      const at = order(n)
      return meanOver(
        Math.PI,
        64 + 2 * at + Math.ceil(2 * Math.abs(x)),
        (turn) => Math.exp(x * Math.cos(turn)) * Math.cos(at * turn),
      )
    },
  },
  BESSELK: {
    takes: 'number number',
    run: (x: number, n: number) => {
      if (x <= 0) return fault('#NUM!')
      const at = order(n)
      // Beyond this the integrand is nothing in double precision.
      let end = 1
      while (x * Math.cosh(end) - at * end < 745) end += 0.25
      return end * meanOver(end, Math.ceil(end * 64), (t) => Math.exp(-x * Math.cosh(t)) * Math.cosh(at * t))
    },
  },
}
