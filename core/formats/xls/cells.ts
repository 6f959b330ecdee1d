// A cell as records of the binary format, wherever it is written.
import { type Cell, type CellValue, isError } from '../../content/workbook'
import { double, formulaTokens, type LinkNumbers, NotWritten } from './formula-tokens'
import { long, record, short, written } from './records'
import { textsAsRecords } from './strings'
import { errorNumber, shortNumber } from './values'

/** Numbers for what cells share. */
export interface CellTables {
  links: LinkNumbers
  textNumber(text: string): number
}

/**
 * A formula that the format has no tokens for is written as its result.
 * @param at row, column and format, two bytes each @param sheet the name of the sheet that it is on
 */
export function cellRecords(
  cell: Cell | undefined,
  at: readonly number[],
  sheet: string,
  tables: CellTables,
  result: () => CellValue | undefined,
): Uint8Array[] {
  if (cell?.formula === undefined) return [valueRecord(at, cell?.value, tables)]
  const known = result()
  try {
    return formulaRecords(at, formulaTokens(cell.formula, sheet, tables.links), known)
  } catch (error) {
    if (!(error instanceof NotWritten)) throw error
    return [valueRecord(at, known, tables)]
  }
}

function valueRecord(at: readonly number[], value: CellValue | undefined, tables: CellTables): Uint8Array {
  if (value === undefined || value === '') return written(record.blank, at)
  if (typeof value === 'string')
    return written(record.text, [...at, ...long(tables.textNumber(value.slice(0, 65_535)))])
  if (typeof value === 'boolean') return written(record.truthOrError, [...at, value ? 1 : 0, 0])
  if (isError(value)) return written(record.truthOrError, [...at, errorNumber(value.error) ?? errorNumber('#N/A')!, 1])
  const bits = (value * 4) | 2
  if (Number.isInteger(value) && Math.abs(value) < 2 ** 29 && shortNumber(bits) === value)
    return written(record.shortNumber, [...at, ...long(bits >>> 0)])
  return written(record.number, [...at, ...double(value === 0 ? 0 : value)])
}

/** A formula with its result (§2.4.127); a text comes behind it. */
export function formulaRecords(
  at: Iterable<number>,
  { tokens, more }: { tokens: Uint8Array; more: Uint8Array },
  result: CellValue | undefined,
): Uint8Array[] {
  const known =
    typeof result === 'number'
      ? double(result)
      : [
          ...(result === undefined
            ? [3, 0, 0]
            : typeof result === 'boolean'
              ? [1, 0, result ? 1 : 0]
              : isError(result)
                ? [2, 0, errorNumber(result.error) ?? errorNumber('#N/A')!]
                : [result === '' ? 3 : 0, 0, 0]),
          0,
          0,
          0,
          0xff,
          0xff,
        ]
  const formula = written(record.formula, [
    ...at,
    ...known,
    // What is not known is to be calculated when it is opened.
    ...short(result === undefined ? 3 : 0),
    ...long(0),
    ...short(tokens.length),
    ...tokens,
    ...more,
  ])
  if (typeof result !== 'string' || result === '') return [formula]
  const [first, ...others] = textsAsRecords([result.slice(0, 65_535)], 8224)
  return [formula, written(record.string, first!), ...others.map((data) => written(record.goesOn, data))]
}
