// Lengths (ISO/IEC 26300-1 §18.3.18) as the model has them.

/** Twips (twentieths of a point) in each unit. */
const units: Readonly<Record<string, number>> = {
  pt: 20,
  in: 1440,
  cm: 1440 / 2.54,
  mm: 144 / 2.54,
  pc: 240,
  px: 15,
}

/** @returns twips, rounded; undefined for what is no length, such as a share */
export function twipsOf(value: string | undefined): number | undefined {
  const exact = exactTwips(value)
  return exact === undefined ? undefined : Math.round(exact)
}
function exactTwips(value: string | undefined): number | undefined {
  const [, number, unit] = /^\s*(-?(?:\d+\.?\d*|\.\d+))\s*([a-z]+)\s*$/.exec(value ?? '') ?? []
  const by = unit && units[unit]
  return by ? Number(number) * by : undefined
}
export const pointsOf = (value: string | undefined): number | undefined => {
  const twips = exactTwips(value)
  return twips === undefined ? undefined : twips / 20
}
/** Pixels of 96 an inch, rounded. */
export const pixelsOf = (value: string | undefined): number | undefined => {
  const twips = exactTwips(value)
  return twips === undefined ? undefined : Math.round(twips / 15)
}
const short = (value: number): string => String(Math.round(value * 1000) / 1000)
export const fromTwips = (twips: number): string => `${short(twips / 20)}pt`
export const fromPixels = (pixels: number): string => `${short(pixels * 0.75)}pt`
