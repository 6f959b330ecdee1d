// Looking a value up (ECMA-376 part 1, §18.17.7, LOOKUP and its family; OpenFormula 1.2 §6.14).
import { patternOf } from './criteria'
import { Cells, type Definitions, Fault, fault, type Plain } from './define'

const kindOf = (value: Plain | Fault): number =>
  value instanceof Fault || value === null ? 9 : typeof value === 'number' ? 0 : typeof value === 'string' ? 1 : 2
/** Numbers before texts before truths; texts whatever their case. */
export function compared(a: Plain, b: Plain): number {
  const [first, second] = [kindOf(a), kindOf(b)]
  if (first !== second) return first - second
  if (typeof a === 'string' && typeof b === 'string') {
    const [x, y] = [a.toLowerCase(), b.toLowerCase()]
    return x < y ? -1 : x > y ? 1 : 0
  }
  return Number(a) - Number(b)
}

/** A row or column of cells, as a list. */
interface Line {
  length: number
  at(index: number): Plain | Fault
  /** The first that equals, by the index of its cells where there is one. */
  first(value: Plain): number
}
function lineOf(cells: Cells, column: number | null, row: number | null = null): Line {
  const length = column === null ? cells.width : cells.height
  const at = (index: number): Plain | Fault =>
    column === null ? cells.rows[row ?? 0]![index]! : cells.rows[index]![column]!
  const walk = (value: Plain): number => {
    for (let index = 0; index < length; index++) {
      const one = at(index)
      if (!(one instanceof Fault) && one !== null && compared(one, value) === 0) return index
    }
    return -1
  }
  return {
    length,
    at,
    first: (value) =>
      column === null || length < 17
        ? walk(value)
        : typeof value === 'string'
          ? (cells.rowsWithText(column, value)[0] ?? -1)
          : typeof value === 'number'
            ? (cells.rowsWithNumber(column, value)[0] ?? -1)
            : walk(value),
  }
}
/** The one row or column that an area is. @throws Fault */
const only = (cells: Cells): Line =>
  cells.width === 1 ? lineOf(cells, 0) : cells.height === 1 ? lineOf(cells, null) : fault('#N/A')

/** By equality, with a pattern where the value is a text that has one; -1 where there is none. */
function exactly(line: Line, value: Plain, patterns = true): number {
  const pattern = patterns && typeof value === 'string' ? patternOf(value) : null
  if (!pattern) return line.first(value)
  for (let index = 0; index < line.length; index++) {
    const one = line.at(index)
    if (typeof one === 'string' && pattern.test(one)) return index
  }
  return -1
}
/**
 * The last that is not above the value, of a line that is sorted; only values of its kind are compared.
 * @param falling the line is sorted downwards, and the last that is not below is meant
 */
function nearest(line: Line, value: Plain, falling = false): number {
  const kind = kindOf(value)
  let low = 0
  let high = line.length - 1
  let found = -1
  while (low <= high) {
    const middle = (low + high) >> 1
    // Beside the middle, where that is of another kind.
    let at = middle
    while (at <= high && kindOf(line.at(at)) !== kind) at++
    if (at > high) {
      high = middle - 1
      continue
    }
    const by = compared(line.at(at) as Plain, value) * (falling ? -1 : 1)
    if (by <= 0) {
      found = at
      low = at + 1
    } else high = middle - 1
  }
  return found
}
const asked = (value: Plain): Plain => value ?? 0
const valueAt = (value: Plain | Fault | undefined): Plain => {
  if (value instanceof Fault) throw value
  return value === undefined ? fault('#REF!') : (value ?? 0)
}
const there = (index: number): number => (index < 0 ? fault('#N/A') : index)

/** @param by 0 exactly, -1 or 1 the next smaller or larger, 2 with a pattern @param way 1 from the first, -1 from the last */
function search(line: Line, value: Plain, by: number, way: number): number {
  if (by === 2 || by === 0) {
    if (way > 0 || way === 2) {
      const found = exactly(line, value, by === 2)
      if (found >= 0 || by === 0) return found
      return -1
    }
    const pattern = by === 2 && typeof value === 'string' ? patternOf(value) : null
    for (let index = line.length - 1; index >= 0; index--) {
      const one = line.at(index)
      if (one instanceof Fault || one === null) continue
      if (pattern ? typeof one === 'string' && pattern.test(one) : compared(one, value) === 0) return index
    }
    return -1
  }
  let best = -1
  for (let step = 0; step < line.length; step++) {
    const index = way < 0 ? line.length - 1 - step : step
    const one = line.at(index)
    if (one instanceof Fault || kindOf(one) !== kindOf(value)) continue
    const apart = compared(one, value)
    if (apart === 0) return index
    if (Math.sign(apart) !== Math.sign(by)) continue
    if (best < 0 || compared(one, line.at(best) as Plain) * by < 0) best = index
  }
  return best
}

export const lookupFunctions: Definitions = {
  VLOOKUP: {
    takes: 'value cells number truth?',
    run: (given: Plain, cells: Cells, column: number, near = true) => {
      const wanted = Math.trunc(column)
      if (wanted < 1) return fault('#VALUE!')
      if (wanted > cells.width) return fault('#REF!')
      const line = lineOf(cells, 0)
      const row = there(near ? nearest(line, asked(given)) : exactly(line, asked(given)))
      return valueAt(cells.rows[row]![wanted - 1])
    },
  },
  HLOOKUP: {
    takes: 'value cells number truth?',
    run: (given: Plain, cells: Cells, row: number, near = true) => {
      const wanted = Math.trunc(row)
      if (wanted < 1) return fault('#VALUE!')
      if (wanted > cells.height) return fault('#REF!')
      const line = lineOf(cells, null, 0)
      const column = there(near ? nearest(line, asked(given)) : exactly(line, asked(given)))
      return valueAt(cells.rows[wanted - 1]![column])
    },
  },
  MATCH: {
    takes: 'value cells number?',
    run: (given: Plain, cells: Cells, by = 1) => {
      const line = only(cells)
      const value = asked(given)
      return there(by === 0 ? exactly(line, value) : nearest(line, value, by < 0)) + 1
    },
  },
  LOOKUP: {
    takes: 'value cells cells?',
    run: (given: Plain, cells: Cells, results?: Cells) => {
      const upright = results ? cells.width === 1 : cells.height >= cells.width
      const line = results ? only(cells) : upright ? lineOf(cells, 0) : lineOf(cells, null, 0)
      const index = there(nearest(line, asked(given)))
      if (results) return valueAt(only(results).at(index))
      return valueAt(upright ? cells.rows[index]!.at(-1) : cells.rows.at(-1)![index])
    },
  },
  XMATCH: {
    takes: 'value cells number? number?',
    run: (given: Plain, cells: Cells, by = 0, way = 1) => there(search(only(cells), asked(given), by, way)) + 1,
  },
  XLOOKUP: {
    takes: 'value cells cells outcome? number? number?',
    run: (given: Plain, cells: Cells, results: Cells, otherwise?: Plain | Fault | Cells, by = 0, way = 1) => {
      const index = search(only(cells), asked(given), by, way)
      if (index < 0) {
        if (otherwise === undefined || otherwise === null) return fault('#N/A')
        if (otherwise instanceof Fault) throw otherwise
        return otherwise instanceof Cells ? valueAt(otherwise.rows[0]?.[0]) : otherwise
      }
      const across = cells.width > 1 || (cells.height === 1 && results.height !== 1)
      const found = across ? results.rows.map((row) => [row[index] ?? null]) : [results.rows[index] ?? fault('#VALUE!')]
      return found.length === 1 && found[0]!.length === 1 ? valueAt(found[0]![0]) : found
    },
  },
  INDEX: {
    takes: 'cells number? number?',
    run: (cells: Cells, first = 0, second?: number) => {
      // Of one row, a single number is a column.
      const line = second === undefined && cells.height === 1
      const row = Math.trunc(line ? 1 : first)
      const column = Math.trunc(line ? first : (second ?? (cells.width === 1 ? 1 : 0)))
      if (row < 0 || column < 0) return fault('#VALUE!')
      if (row > cells.height || column > cells.width) return fault('#REF!')
      if (row && column) return valueAt(cells.rows[row - 1]![column - 1])
      const rows = row ? [cells.rows[row - 1]!] : cells.rows
      return column ? rows.map((one) => [one[column - 1]!]) : rows
    },
  },
}
