// Numbers, matrices and units (ECMA-376 part 1, §18.17.7; OpenFormula 1.2 §6.5, §6.16).
import * as formulajs from '@formulajs/formulajs'
import { type Cells, type Definitions, fault } from './define'

type Matrix = number[][]
function square(cells: Cells): Matrix {
  if (cells.height !== cells.width) return fault('#VALUE!')
  return cells.rows.map((row) => row.map((one) => (typeof one === 'number' ? one : fault('#VALUE!'))))
}
/**
 * By Gauss's elimination with the largest pivot (Golub and Van Loan, §3.4); the matrix becomes its triangle.
 * @param beside rows that take the same steps @returns the determinant
 */
function eliminate(matrix: Matrix, beside: Matrix): number {
  const size = matrix.length
  let determinant = 1
  for (let k = 0; k < size; k++) {
    let best = k
    for (let row = k + 1; row < size; row++) if (Math.abs(matrix[row]![k]!) > Math.abs(matrix[best]![k]!)) best = row
    if (matrix[best]![k] === 0) return 0
    if (best !== k) {
      ;[matrix[k], matrix[best]] = [matrix[best]!, matrix[k]!]
      if (beside.length) [beside[k], beside[best]] = [beside[best]!, beside[k]!]
      determinant = -determinant
    }
    determinant *= matrix[k]![k]!
    for (let row = k + 1; row < size; row++) {
      const times = matrix[row]![k]! / matrix[k]![k]!
      if (!times) continue
      for (let column = k; column < size; column++) matrix[row]![column]! -= times * matrix[k]![column]!
      for (const column of beside[row]?.keys() ?? []) beside[row]![column]! -= times * beside[k]![column]!
    }
  }
  return determinant
}

export const numberFunctions: Definitions = {
  MDETERM: { takes: 'cells', run: (cells: Cells) => eliminate(square(cells), []) },
  MINVERSE: {
    takes: 'cells',
    run: (cells: Cells) => {
      const matrix = square(cells)
      const size = matrix.length
      const inverse: Matrix = matrix.map((_, row) => matrix.map((_, column) => (row === column ? 1 : 0)))
      if (eliminate(matrix, inverse) === 0) return fault('#NUM!')
      for (let k = size - 1; k >= 0; k--)
        for (let column = 0; column < size; column++) {
          let rest = inverse[k]![column]!
          for (let next = k + 1; next < size; next++) rest -= matrix[k]![next]! * inverse[next]![column]!
          inverse[k]![column] = rest / matrix[k]![k]!
        }
      return inverse
    },
  },
  MUNIT: {
    takes: 'number',
    run: (size: number) => {
      const wide = Math.trunc(size)
      if (wide < 1 || wide > 1000) return fault('#VALUE!')
      return Array.from({ length: wide }, (_, row) =>
        Array.from({ length: wide }, (_, column) => (row === column ? 1 : 0)),
      )
    },
  },
  GESTEP: { takes: 'number number?', run: (value: number, step = 0) => (value >= step ? 1 : 0) },
  CONVERT: {
    takes: 'number text text',
    run: (value: number, from: string, to: string) => {
      const degrees = (unit: string): [number, number] | null =>
        (({
          C: [1, 273.15],
          cel: [1, 273.15],
          F: [5 / 9, 459.67],
          fah: [5 / 9, 459.67],
          K: [1, 0],
          kel: [1, 0],
          Rank: [5 / 9, 0],
        })[unit] as [number, number] | undefined) ?? null
      const [a, b] = [degrees(from), degrees(to)]
      if (a && b) {
        // Celsius is moved before it is stretched the other way round than Fahrenheit.
        const kelvin = a[1] === 459.67 ? (value + a[1]) * a[0] : value * a[0] + a[1]
        return b[1] === 459.67 ? kelvin / b[0] - b[1] : (kelvin - b[1]) / b[0]
      }
      if (a || b) return fault('#N/A')
      const found = formulajs.CONVERT(value, from, to)
      return typeof found === 'number' && Number.isFinite(found) ? found : fault('#N/A')
    },
  },
}
