// What styles and numbers of lists are in the model, in formats that know them by the same names and numbers.
import { foreignGap, ownStylesMark } from '../docx/styles'

/** What a style is in the model, by the name that files of many programs have for it. */
export function roleOf(name: string): 'plain' | 'quote' | 'quote anew' | 'gap' {
  if (name === 'Quote') return 'quote'
  if (name === 'Quote anew') return 'quote anew'
  return name === ownStylesMark || name === foreignGap ? 'gap' : 'plain'
}

/** How the numbers of a level are written (Rich Text Format 1.9.1, \levelnfc; [MS-DOC] §2.9.150), by the name that the numbers have elsewhere (ECMA-376 part 1, §17.18.59); null for no number. */
export const numberNames: Readonly<Record<number, string>> = {
  0: 'decimal',
  1: 'upperRoman',
  2: 'lowerRoman',
  3: 'upperLetter',
  4: 'lowerLetter',
  22: 'decimalZero',
}
