// Fonts that are there when pages are set, in the place of those that a file names: open ones of the same widths where there
// are such, otherwise of the same kind.

export const serif = 'Liberation Serif'
export const sans = 'Liberation Sans'
export const mono = 'Liberation Mono'

/** Of the same widths, by the name in small letters. */
const alike: Readonly<Record<string, string>> = {
  calibri: 'Carlito',
  cambria: 'Caladea',
  arial: sans,
  helvetica: sans,
  'times new roman': serif,
  times: serif,
  'courier new': mono,
  courier: mono,
}
/** What is there. */
const there: ReadonlySet<string> = new Set([serif, sans, mono, 'Carlito', 'Caladea'])

export interface ChosenFont {
  family: string
  /** The named one itself. */
  same: boolean
  sameWidths: boolean
}

/** The font that stands for a named one. @param otherwise where its name does not tell its kind */
export function fontFor(name: string, otherwise = serif): ChosenFont {
  const plain = name.trim()
  if (there.has(plain)) return { family: plain, same: true, sameWidths: true }
  const other = alike[plain.toLowerCase()]
  if (other) return { family: other, same: false, sameWidths: true }
  const family = /mono|courier|consol|code/i.test(plain)
    ? mono
    : /sans|arial|calibri|helvet|verdana|tahoma|segoe|gothic|aptos|grotesk|atkinson/i.test(plain)
      ? sans
      : /serif|roman|times|garamond|georgia|caslon|book/i.test(plain)
        ? serif
        : otherwise
  return { family, same: false, sameWidths: false }
}
