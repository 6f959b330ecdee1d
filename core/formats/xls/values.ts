// Small values of the binary format: errors by their numbers ([MS-XLS] §2.5.10), numbers in four bytes (§2.5.217).

const errors: readonly (readonly [number, string])[] = [
  [0x00, '#NULL!'],
  [0x07, '#DIV/0!'],
  [0x0f, '#VALUE!'],
  [0x17, '#REF!'],
  [0x1d, '#NAME?'],
  [0x24, '#NUM!'],
  [0x2a, '#N/A'],
]
const byNumber = new Map(errors)
const byText = new Map(errors.map(([number, text]) => [text, number]))

export const errorOf = (number: number): string => byNumber.get(number) ?? '#N/A'
/** Undefined for an error that came after the format. */
export const errorNumber = (text: string): number | undefined => byText.get(text.toUpperCase())

const wide = new DataView(new ArrayBuffer(8))
/** A number of 30 bits: a whole one, or the upper half of one; the lowest bit divides it by a hundred. */
export function shortNumber(bits: number): number {
  let value: number
  if (bits & 2) value = bits >> 2
  else {
    wide.setInt32(0, bits & ~3, false)
    wide.setInt32(4, 0, false)
    value = wide.getFloat64(0, false)
  }
  return bits & 1 ? value / 100 : value
}
