// What a criterion asks of a value, and the functions that count and add up by criteria (OpenFormula 1.2 §4.11.8;
// ECMA-376 part 1, §18.17.7, COUNTIF and its family).
import { type Cells, type Definitions, Fault, fault, type Plain } from './define'
import { numberIn } from './texts'

type Test = (value: Plain | Fault) => boolean
export interface Criterion {
  test: Test
  /** The one value that a cell has to equal, where that is what is asked. */
  equals?: string | number
}

const errorText = /^#(?:NULL!|DIV\/0!|VALUE!|REF!|NAME\?|NUM!|N\/A)$/i
/** A pattern: `*` any letters, `?` one, `~` takes the next as it is. */
export function patternOf(text: string): RegExp | null {
  if (!/[*?~]/.test(text)) return null
  let pattern = ''
  for (let at = 0; at < text.length; at++) {
    const letter = text[at]!
    if (letter === '~' && /[*?~]/.test(text[at + 1] ?? '')) pattern += `\\${text[++at]}`
    else pattern += letter === '*' ? '[^]*' : letter === '?' ? '[^]' : letter.replace(/[\\^$.|+()[\]{}/-]/g, '\\$&')
  }
  return new RegExp(`^${pattern}$`, 'iu')
}

/** What a criterion means. @param given a value, or a text that begins with a comparison */
export function criterionOf(given: Plain | Fault): Criterion {
  if (given instanceof Fault) return { test: (value) => value instanceof Fault && value.error === given.error }
  // An empty cell asks for nothing, as a number.
  if (given === null) return equalTo(0)
  if (typeof given !== 'string') return equalTo(given)
  const [, sign, rest] = /^(<=|>=|<>|=|<|>)?(.*)$/s.exec(given) as unknown as [string, string | undefined, string]
  if (errorText.test(rest) && (!sign || sign === '=' || sign === '<>')) {
    const is: Test = (value) => value instanceof Fault && value.error === rest.toUpperCase()
    return { test: sign === '<>' ? (value) => !is(value) : is }
  }
  const number = rest.trim() === '' ? null : numberIn(rest)
  const truth = /^(true|false)$/i.test(rest) ? rest.toLowerCase() === 'true' : null
  if (!sign || sign === '=') {
    if (rest === '') return { test: sign ? (value) => value === null : (value) => value === null || value === '' }
    return equalTo(number ?? truth ?? rest)
  }
  if (sign === '<>') {
    if (rest === '') return { test: (value) => value !== null }
    const { test } = equalTo(number ?? truth ?? rest)
    return { test: (value) => !test(value) }
  }
  const bound = number ?? rest.toLowerCase()
  const compare = comparisons[sign as '<' | '>' | '<=' | '>=']
  return {
    test: (value) =>
      typeof bound === 'number'
        ? typeof value === 'number' && compare(value - bound)
        : typeof value === 'string' && compare(value.toLowerCase() < bound ? -1 : value.toLowerCase() > bound ? 1 : 0),
  }
}
const comparisons = {
  '<': (by: number) => by < 0,
  '>': (by: number) => by > 0,
  '<=': (by: number) => by <= 0,
  '>=': (by: number) => by >= 0,
}
function equalTo(wanted: number | string | boolean): Criterion {
  if (typeof wanted === 'boolean') return { test: (value) => value === wanted }
  if (typeof wanted === 'number')
    return {
      // A number that stands as text counts, too.
      test: (value) =>
        value === wanted || (typeof value === 'string' && value.trim() !== '' && numberIn(value) === wanted),
    }
  const pattern = patternOf(wanted)
  if (pattern) return { test: (value) => typeof value === 'string' && pattern.test(value) }
  const lower = wanted.toLowerCase()
  return { test: (value) => typeof value === 'string' && value.toLowerCase() === lower, equals: lower }
}

type Spot = readonly [row: number, column: number]
/** The cells that meet all criteria. @throws Fault when the areas are not of one size */
function spots(pairs: readonly (readonly [Cells, Plain | Fault])[]): Spot[] {
  const [[first]] = pairs as [readonly [Cells, Plain | Fault]]
  if (pairs.some(([cells]) => cells.height !== first.height || cells.width !== first.width)) return fault('#VALUE!')
  const asked = pairs.map(([cells, given]) => ({ cells, criterion: criterionOf(given) }))
  const all = (row: number, column: number) =>
    asked.every(({ cells, criterion }) => criterion.test(cells.rows[row]![column]!))
  const found: Spot[] = []
  // A column is gone through by the rows that have the text, where one asks for a text.
  const quick =
    first.width === 1 && first.height > 16 ? asked.find(({ criterion }) => criterion.equals !== undefined) : undefined
  if (quick) {
    for (const row of quick.cells.rowsWithText(0, quick.criterion.equals as string))
      if (all(row, 0)) found.push([row, 0])
    return found
  }
  for (let row = 0; row < first.height; row++)
    for (let column = 0; column < first.width; column++) if (all(row, column)) found.push([row, column])
  return found
}
function numbersAt(cells: Cells, at: readonly Spot[]): number[] {
  const numbers: number[] = []
  for (const [row, column] of at) {
    const value = cells.rows[row]?.[column]
    if (value instanceof Fault) throw value
    if (typeof value === 'number') numbers.push(value)
  }
  return numbers
}
const pairsOf = (given: readonly unknown[]): (readonly [Cells, Plain | Fault])[] => {
  if (given.length % 2) return fault('#VALUE!')
  return Array.from({ length: given.length / 2 }, (_, index) => [
    given[index * 2] as Cells,
    given[index * 2 + 1] as Plain | Fault,
  ])
}
export const sum = (numbers: readonly number[]): number => {
  let total = 0
  for (const number of numbers) total += number
  return total
}
const mean = (numbers: readonly number[]): number => (numbers.length ? sum(numbers) / numbers.length : fault('#DIV/0!'))
const sameSize = (cells: Cells, pairs: readonly (readonly [Cells, unknown])[]) => {
  if (pairs.some(([one]) => one.height !== cells.height || one.width !== cells.width)) fault('#VALUE!')
}

export const criteriaFunctions: Definitions = {
  COUNTIF: { takes: 'cells outcome', run: (cells: Cells, given) => spots([[cells, given]]).length },
  COUNTIFS: {
    takes: 'cells outcome',
    repeats: 2,
    run: (...given) => spots(pairsOf(given)).length,
  },
  SUMIF: {
    takes: 'cells outcome cells?',
    run: (cells: Cells, given, summed?: Cells) => sum(numbersAt(summed ?? cells, spots([[cells, given]]))),
  },
  AVERAGEIF: {
    takes: 'cells outcome cells?',
    run: (cells: Cells, given, summed?: Cells) => mean(numbersAt(summed ?? cells, spots([[cells, given]]))),
  },
  ...Object.fromEntries(
    (
      [
        ['SUMIFS', sum],
        ['AVERAGEIFS', mean],
        ['MINIFS', (numbers) => (numbers.length ? Math.min(...numbers) : 0)],
        ['MAXIFS', (numbers) => (numbers.length ? Math.max(...numbers) : 0)],
      ] satisfies [string, (numbers: readonly number[]) => number][]
    ).map(([name, of]) => [
      name,
      {
        takes: 'cells cells outcome',
        repeats: 2,
        run: (cells: Cells, ...given: unknown[]) => {
          const pairs = pairsOf(given)
          sameSize(cells, pairs)
          return of(numbersAt(cells, spots(pairs)))
        },
      },
    ]),
  ),
}
