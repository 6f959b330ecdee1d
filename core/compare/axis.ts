import { matchUp } from '../content/sequence'
import type { Cell, Sheet } from '../content/workbook'

/** Which row, or which column, of the newer sheet is which of the older one. */
export interface Axis {
  /** For each older index the newer one; null for one that is gone. */
  to: (number | null)[]
  /** Newer indices that have no older one, in order. */
  added: number[]
}

/** `=` and a formula with `#` for each number in it, by hand: this runs for each formula of a sheet. */
function withoutNumbers(formula: string): string {
  let key = '='
  let inNumber = false
  for (let at = 0; at < formula.length; at++) {
    const code = formula.charCodeAt(at)
    if (code >= 48 && code <= 57) {
      if (!inNumber) key += '#'
      inNumber = true
      continue
    }
    inNumber = false
    key += formula[at]
  }
  return key
}

/** What a cell says, wherever it stands: row numbers inside formulas do not count. */
export function cellKey(cell: Cell | undefined): string {
  if (!cell) return ''
  if (cell.formula !== undefined) return withoutNumbers(cell.formula)
  const { value } = cell
  if (value === undefined) return ''
  return typeof value === 'object' ? `!${value.error}` : `${typeof value === 'string' ? "'" : ''}${value}`
}

function axisOf(pairs: readonly [number, number][], older: number, newer: number): Axis {
  const to = new Array<number | null>(older).fill(null)
  const taken = new Uint8Array(newer)
  for (const [was, is] of pairs) {
    to[was] = is
    taken[is] = 1
  }
  const added: number[] = []
  for (let at = 0; at < newer; at++) if (!taken[at]) added.push(at)
  return { to, added }
}
const unmoved = (older: number, newer: number): Axis =>
  axisOf(
    Array.from({ length: Math.min(older, newer) }, (_, at) => [at, at]),
    older,
    newer,
  )

/** Rows by what they say in some columns, kept as long as the sheet is: a merge lays one base beside two others. */
const keysKept = new WeakMap<Sheet, { columns: string; keys: string[] }>()
function keysOf(sheet: Sheet, columns: readonly number[]): string[] {
  const which = columns.join()
  const kept = keysKept.get(sheet)
  if (kept?.columns === which) return kept.keys
  const keys = sheet.rows.map((row) => {
    if (!row) return ''
    let key = ''
    for (const at of columns) key += `${cellKey(row[at])}\u0001`
    return key
  })
  keysKept.set(sheet, { columns: which, keys })
  return keys
}

/** Lays two sheets beside each other: columns first, where they must have changed, then rows. */
export function alignSheets(older: Sheet, newer: Sheet): { rows: Axis; columns: Axis; coarse: boolean } {
  const width = (sheet: Sheet) => sheet.rows.reduce((most, row) => Math.max(most, row?.length ?? 0), 0)
  const [was, is] = [width(older), width(newer)]
  const plain = (size: number) => Array.from({ length: size }, (_, at) => at)
  const widest = plain(Math.max(was, is))
  let columns = unmoved(was, is)
  let before = keysOf(older, widest)
  let now = keysOf(newer, widest)
  // One column on each side is the same one, whatever it says.
  if (was > 0 && is > 0 && was + is > 2 && shared(before, now) < 0.5) {
    const found = alignColumns(older, newer, was, is)
    columns = found.axis
    // Rows are told by the columns that both have and that say much the same; by all that both have otherwise.
    const both = columns.to.flatMap((at, index) => (at === null ? [] : [[index, at] as const]))
    const steady = both.filter(([at]) => found.steady.has(at))
    const telling = steady.length ? steady : both
    before = keysOf(
      older,
      telling.map(([at]) => at),
    )
    now = keysOf(
      newer,
      telling.map(([, at]) => at),
    )
  }
  const likeness = (i: number, j: number): number => {
    const [a, b] = [older.rows[i], newer.rows[j]]
    if (!a || !b) return 0
    let same = 0
    let filled = 0
    for (let column = 0; column < Math.max(a.length, columns.to.length); column++) {
      const to = columns.to[column]
      const [x, y] = [cellKey(a[column]), to == null ? '' : cellKey(b[to])]
      if (!x && !y) continue
      filled++
      if (x === y) same++
    }
    // A row of one or two cells is taken for its later self also when all of it changed.
    return filled ? Math.max(same / filled, filled <= 2 ? 0.35 : 0) : 1
  }
  const { pairs, coarse } = matchUp(before, now, likeness)
  return { rows: axisOf(pairs, older.rows.length, newer.rows.length), columns, coarse }
}

/** The share of rows that both have, by what they say. */
function shared(before: readonly string[], now: readonly string[]): number {
  const there = new Map<string, number>()
  for (const key of before) if (key) there.set(key, (there.get(key) ?? 0) + 1)
  let filled = 0
  let same = 0
  for (const key of now) {
    if (!key) continue
    filled++
    const left = there.get(key) ?? 0
    if (left === 0) continue
    same++
    there.set(key, left - 1)
  }
  return filled ? same / filled : 1
}

/** Of two columns alike from here on it is said that they stayed. */
const steadyFrom = 0.5

/** Columns by what is in them, in whatever rows. @returns also those older ones that say much the same still */
function alignColumns(older: Sheet, newer: Sheet, was: number, is: number): { axis: Axis; steady: Set<number> } {
  const bags = (sheet: Sheet, size: number) => {
    const found = Array.from({ length: size }, () => new Map<string, number>())
    for (const row of sheet.rows)
      row?.forEach((cell, column) => {
        // A column's own letter changes when it moves; what its formulas do stays.
        const key = cellKey(cell).replace(/^(=.*)$/, (formula) => formula.replace(/[A-Z]{1,3}(?=#)/g, '@'))
        if (key) found[column]!.set(key, (found[column]!.get(key) ?? 0) + 1)
      })
    return found
  }
  const headingsOf = (sheet: Sheet, size: number) =>
    Array.from({ length: size }, (_, column) => {
      const value = sheet.rows.find((row) => row)?.[column]?.value
      return typeof value === 'string' ? value : ''
    })
  const headings = [headingsOf(older, was), headingsOf(newer, is)]
  const before = bags(older, was)
  const now = bags(newer, is)
  const contentLikeness = (i: number, j: number): number => {
    let both = 0
    let all = 0
    for (const [key, count] of before[i]!) {
      const other = now[j]!.get(key) ?? 0
      both += Math.min(count, other)
      all += Math.max(count, other)
    }
    for (const [key, count] of now[j]!) if (!before[i]!.has(key)) all += count
    return all ? both / all : 0.3
  }
  const likeness = (i: number, j: number): number => {
    const content = contentLikeness(i, j)
    const [was_, is_] = [headings[0]![i], headings[1]![j]]
    // A column is known by its heading before it is known by its numbers.
    return was_ && is_ ? (was_ === is_ ? 0.5 + content / 2 : content * 0.6) : content
  }
  const key = (bag: Map<string, number>) =>
    [...bag]
      .map(([one, count]) => `${one}\u0002${count}`)
      .sort()
      .join('\u0001')
  const { pairs } = matchUp(before.map(key), now.map(key), likeness)
  // As many that are gone as came between two that stayed: the same ones, with something else in them.
  const all: [number, number][] = []
  let [i, j] = [0, 0]
  for (const [a, b] of [...pairs, [was, is] as [number, number]]) {
    if (a - i === b - j) for (let at = 0; i + at < a; at++) all.push([i + at, j + at])
    if (a < was) all.push([a, b])
    i = a + 1
    j = b + 1
  }
  const steady = new Set(pairs.filter(([a, b]) => contentLikeness(a, b) >= steadyFrom).map(([a]) => a))
  return { axis: axisOf(all, was, is), steady }
}
