// Fields at the edges of pages that a page tells by itself, each time that it is shown (ECMA-376 part 1, §17.16.5).
import type { Kept } from './kept'

export const pageFields = ['page', 'pages', 'date', 'name', 'version'] as const
export type PageField = (typeof pageFields)[number]

/** The codes that they are written with; the number of a version is that of a revision (§17.16.5.52). */
export const fieldCodes: Record<PageField, string> = {
  page: 'PAGE',
  pages: 'NUMPAGES',
  date: 'DATE',
  name: 'FILENAME',
  version: 'REVNUM',
}

/** @param code what a field is told to come to @returns null for one that only its file knows the result of */
export function fieldOf(code: string): PageField | null {
  const [word = '', ...rest] = code.trim().toUpperCase().split(/\s+/)
  const found = pageFields.find((one) => fieldCodes[one] === word)
  // With switches it is the same fact in another form, but the path of a file's name is no fact that is known here.
  return !found || (found === 'name' && rest.includes('\\P')) ? null : found
}

/** Which of them something kept in a line is. */
export function pageFieldOf({ kind, xml }: Kept): PageField | null {
  const code = kind === 'field' ? /^<w:fldSimple\b[^>]*?\bw:instr="([^"]*)"/.exec(xml)?.[1] : undefined
  return code === undefined ? null : fieldOf(code.replaceAll('&quot;', '"').replaceAll('&amp;', '&'))
}
