// Sizes of paper, as they stand upright; points.

const mm = (width: number, height: number): [number, number] => [(width * 72) / 25.4, (height * 72) / 25.4]
const inch = (width: number, height: number): [number, number] => [width * 72, height * 72]

/** By their names here. ISO 216, ISO 269, ANSI/ASME Y14.1. */
export const sizes = {
  a3: mm(297, 420),
  a4: mm(210, 297),
  a5: mm(148, 210),
  a6: mm(105, 148),
  b4: mm(250, 353),
  b5: mm(176, 250),
  letter: inch(8.5, 11),
  legal: inch(8.5, 14),
  tabloid: inch(11, 17),
} as const
export type SizeName = keyof typeof sizes

/** By their numbers in a sheet's set-up (ECMA-376 part 1, §18.3.1.63); those that offices have. */
export const paperSizes: ReadonlyMap<number, [number, number]> = new Map([
  [1, sizes.letter],
  [2, sizes.letter],
  [3, sizes.tabloid],
  [4, inch(17, 11)],
  [5, sizes.legal],
  [6, inch(5.5, 8.5)],
  [7, inch(7.25, 10.5)],
  [8, sizes.a3],
  [9, sizes.a4],
  [10, sizes.a4],
  [11, sizes.a5],
  [12, sizes.b4],
  [13, sizes.b5],
  [14, inch(8.5, 13)],
  [20, inch(4.125, 9.5)],
  [27, mm(110, 220)],
  [28, mm(162, 229)],
  [29, mm(324, 458)],
  [66, mm(420, 594)],
  [70, sizes.a6],
])

/** As printers call them (PWG 5101.1, self-describing names). */
export const mediaNames: Readonly<Record<SizeName, string>> = {
  a3: 'iso_a3_297x420mm',
  a4: 'iso_a4_210x297mm',
  a5: 'iso_a5_148x210mm',
  a6: 'iso_a6_105x148mm',
  b4: 'iso_b4_250x353mm',
  b5: 'iso_b5_176x250mm',
  letter: 'na_letter_8.5x11in',
  legal: 'na_legal_8.5x14in',
  tabloid: 'na_ledger_11x17in',
}
/** The size that is meant by two lengths, within two points; null for another one. */
export const sizeOf = (width: number, height: number): SizeName | null =>
  (Object.keys(sizes) as SizeName[]).find(
    (name) =>
      Math.abs(sizes[name][0] - Math.min(width, height)) < 2 && Math.abs(sizes[name][1] - Math.max(width, height)) < 2,
  ) ?? null
