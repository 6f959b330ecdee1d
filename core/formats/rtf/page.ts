// Pages of Rich Text Format 1.9.1 ("Document Formatting Properties", "Section Formatting Properties"), in twips.
import { a4, type Page } from '../../content/document'
import type { Token } from './tokens'

/** Words that say how pages are, with where they stand. */
export interface PageWords {
  /** In order; those of the first section come after those of the document. */
  words: { name: string; value: number; from: number; to: number }[]
  /** The first page has edges of its own, and left pages have. */
  titled: { from: number; to: number } | null
  facing: { from: number; to: number } | null
  /** Behind the word that begins the first section. */
  section: number | null
}

const lengths: Readonly<Record<string, keyof Page>> = {
  paperw: 'width',
  paperh: 'height',
  margl: 'left',
  margr: 'right',
  margt: 'top',
  margb: 'bottom',
  pgwsxn: 'width',
  pghsxn: 'height',
  marglsxn: 'left',
  margrsxn: 'right',
  margtsxn: 'top',
  margbsxn: 'bottom',
}
/** Whether a word is about pages. @param sections that have ended before it */
export function pageWord(page: PageWords, token: Token & { is: 'word' }, sections: number): boolean {
  const { name, value, from, to } = token
  if (name in lengths || name === 'landscape' || name === 'lndscpsxn') {
    if (sections === 0) page.words.push({ name, value: value ?? 0, from, to })
    return true
  }
  if (name === 'titlepg' && sections === 0) page.titled = { from, to }
  else if (name === 'facingp') page.facing = { from, to }
  else if (name === 'sectd' && sections === 0) page.section ??= to
  else return false
  return true
}

/** What a document says nothing of is as the format has it: 8.5 by 11 inches with margins of 1.25 and 1. */
const usual: Page = { width: 12240, height: 15840, top: 1440, right: 1800, bottom: 1440, left: 1800 }
const length = (value: number): number => Math.min(31_680, Math.max(0, Math.abs(value)))

export function pageOf({ words }: PageWords): Page {
  const said: Partial<Page> = {}
  for (const { name, value } of words) {
    const side = lengths[name]
    if (side && !(value === 0 && (side === 'width' || side === 'height'))) said[side] = length(value)
  }
  // Where nothing at all is said the page is the usual one here.
  return Object.keys(said).length ? { ...usual, ...said } : a4
}
export const pageText = ({ width, height, top, right, bottom, left }: Page): string =>
  `\\paperw${width}\\paperh${height}\\margl${left}\\margr${right}\\margt${top}\\margb${bottom}${width > height ? '\\landscape' : ''}`
