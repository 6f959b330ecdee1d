// Values and areas as the engine reads them.
import { quotedSheet } from '../content/formula'
import { type CellValue, columnName, largestSheet, type Workbook } from '../content/workbook'
import type { Area } from './source'
import { unsupported } from './tree'

export const writtenArea = (area: Area, home: number, workbook: Workbook): string => {
  const sheet = area.sheet === home ? '' : `${quotedSheet(workbook.sheets[area.sheet]!.name)}!`
  const first = `$${columnName(area.left)}$${area.top + 1}`
  if (area.top === area.bottom && area.left === area.right) return sheet + first
  if (area.top === 0 && area.bottom === largestSheet.rows - 1)
    return `${sheet}$${columnName(area.left)}:$${columnName(area.right)}`
  if (area.left === 0 && area.right === largestSheet.columns - 1) return `${sheet}$${area.top + 1}:$${area.bottom + 1}`
  return `${sheet}${first}:$${columnName(area.right)}$${area.bottom + 1}`
}
/** A number without an exponent, which the engine does not read. */
export function plainNumber(value: number): string {
  const text = String(value)
  const found = /^(-?)(\d)(?:\.(\d+))?e([+-]\d+)$/.exec(text)
  if (!found) return text
  const [, sign, first, rest = '', exponent] = found as unknown as [string, string, string, string | undefined, string]
  const digits = first + rest
  const point = 1 + Number(exponent)
  return point <= 0
    ? `${sign}0.${'0'.repeat(-point)}${digits}`
    : `${sign}${digits.padEnd(point, '0').slice(0, point)}${digits.length > point ? `.${digits.slice(point)}` : ''}`
}
export const literal = (value: CellValue): string =>
  typeof value === 'number'
    ? value < 0
      ? `(${plainNumber(value)})`
      : plainNumber(value)
    : typeof value === 'boolean'
      ? `${value ? 'TRUE' : 'FALSE'}()`
      : typeof value === 'string'
        ? textLiteral(value)
        : value.error
/** The engine's texts have no way to write a quotation mark, and no stroke before one. */
const textLiteral = (text: string): string =>
  /["\\]/.test(text)
    ? `JOINED(${text
        .split(/(["\\])/)
        .filter(Boolean)
        .map((part) => (part === '"' ? 'CHAR(34)' : part === '\\' ? 'CHAR(92)' : `"${part}"`))
        .join(',')})`
    : `"${text}"`
/** What may stand in an array. @throws Unsupported */
export const elementOf = (value: CellValue): string =>
  typeof value === 'number'
    ? plainNumber(value)
    : typeof value === 'string' && /["\\]/.test(value)
      ? unsupported('{ }')
      : literal(value)

/** As the engine reads it, too. */
export const plainReference = /^\$?[A-Z]{1,3}\$?\d{1,7}(?::\$?[A-Z]{1,3}\$?\d{1,7})?$/
/** Of a formula that only has what the engine understands as it stands, which are most. */
const plainWords = new Set(
  'SUM AVERAGE MIN MAX COUNT COUNTA IF AND OR NOT ROUND ROUNDUP ROUNDDOWN ABS INT MOD SQRT IFERROR ISERROR ISBLANK ISNUMBER ISTEXT LEN LEFT RIGHT MID TRIM UPPER LOWER YEAR MONTH DAY DATE VLOOKUP HLOOKUP POWER PRODUCT COUNTIF COUNTIFS SUMIFS'.split(
    ' ',
  ),
)
const plainLetters = /^[A-Z0-9$:(),.+\-*/<>=^"]*$/
const wordOf = /[A-Z$][A-Z0-9$.]*/g
const cellWord = /^\$?[A-Z]{1,3}\$?\d{1,7}$/
export function isPlain(formula: string): boolean {
  if (!plainLetters.test(formula) || formula.includes('"')) return false
  // A range as an operand means the cell in this row or column, which the engine has to be told.
  if (formula.includes(':') && !/^[A-Z]+\([^()]*\)$/.test(formula)) return false
  wordOf.lastIndex = 0
  for (let word = wordOf.exec(formula); word; word = wordOf.exec(formula)) {
    if (/\d/.test(formula[word.index - 1] ?? '')) return false
    const called = formula[wordOf.lastIndex] === '('
    if (called ? !plainWords.has(word[0]) : !cellWord.test(word[0])) return false
  }
  return !/:\w*\(|\):/.test(formula)
}
