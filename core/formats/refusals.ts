import type { Code } from '../words/en'
import { type Said, SaidError, say } from '../words/said'

/** A file that cannot be opened, with a sentence that tells why. It is kept as it is. */
export class DamagedFile extends SaidError {
  override readonly name = 'DamagedFile'
}

/** Something in a file that the editor cannot keep. */
export interface Limit {
  /** What it is, in the plural: "footnotes". */
  feature: string
  count: number
  /** Where it occurs, by heading, first words or sheet; the first few. */
  where: string[]
  /** The first place in the work: a position in a document; sheet, row and column in a workbook. */
  at?: readonly number[]
}

/** A file as it is written, and what of the file that it came from is not in it. */
export interface Written {
  bytes: Uint8Array
  lost: Limit[]
}

/** Why edits cannot be written into the file that they were made in; it is written whole then. */
export class NotPatched extends Error {}

/** Saving would lose something of the file that nobody has been asked about. */
export class WouldLose extends SaidError {
  override readonly name = 'WouldLose'
  constructor(readonly limits: readonly Limit[]) {
    super(say('formats.would-lose', { limits: limits.map(sayLimit) }))
  }
}

/** What a copy does not hold of the file that it came of; null where it holds all of it. */
export const sayLeftOut = (lost: readonly Limit[]): Said | null =>
  lost.length ? say('formats.not-in-it', { limits: lost.map(sayLimit) }) : null

/** Comments that are there, at a place, without saying which words they are about. */
export const commentRangesLost = 'comments without the words that they are about'

/** How each feature that a reader finds is said. */
const sayings: Readonly<Record<string, Code>> = {
  footnotes: 'formats.footnotes',
  endnotes: 'formats.endnotes',
  comments: 'formats.comments',
  [commentRangesLost]: 'formats.comment-ranges',
  charts: 'formats.charts',
  images: 'formats.images',
  equations: 'formats.equations',
  macros: 'formats.macros',
  bookmarks: 'formats.bookmarks',
  'drawn shapes': 'formats.drawn-shapes',
  'drawn shapes and text boxes': 'formats.drawn-shapes-and-text-boxes',
  'embedded objects': 'formats.embedded-objects',
  'symbols of a special font': 'formats.symbols-of-a-special-font',
  'ruby text': 'formats.ruby-text',
  'embedded files': 'formats.embedded-files',
  'positioned tabs': 'formats.positioned-tabs',
  'page number fields': 'formats.page-number-fields',
  'linked files': 'formats.linked-files',
  'named styles (their text stays, in Jaula’s look)': 'formats.named-styles',
  'page headers': 'formats.page-headers',
  'page footers': 'formats.page-footers',
  'tables inside tables (their text stays)': 'formats.tables-inside-tables',
  'tracked removals': 'formats.tracked-removals',
  'sections with a page layout of their own': 'formats.sections-with-a-page-layout-of-their-own',
  'text boxes (their text stays)': 'formats.text-boxes',
  'page breaks inside tables': 'formats.page-breaks-inside-tables',
  'tracked insertions (their text stays)': 'formats.tracked-insertions',
  'fields (their last result stays)': 'formats.fields',
  'column breaks': 'formats.column-breaks',
  'images of a type browsers cannot show': 'formats.images-of-a-type-browsers-cannot-show',
  'images with a position of their own (they stay in the line)': 'formats.images-with-a-position-of-their-own',
  'lists numbered in a way of their own': 'formats.list-numbers-of-their-own',
  'defined names': 'formats.defined-names',
  'workbook protection': 'formats.workbook-protection',
  'links to other files': 'formats.links-to-other-files',
  'sheets that are not of cells': 'formats.sheets-that-are-not-of-cells',
  'hidden sheets (they become visible)': 'formats.hidden-sheets',
  'comment threads': 'formats.comment-threads',
  'pivot tables': 'formats.pivot-tables',
  'tables with a name of their own': 'formats.tables-with-a-name-of-their-own',
  'form controls': 'formats.form-controls',
  'input rules': 'formats.input-rules',
  'links in cells': 'formats.links-in-cells',
  filters: 'formats.filters',
  'sheet protection': 'formats.sheet-protection',
  'merged cells (their content stays in the first one)': 'formats.merged-cells',
  'page breaks': 'formats.page-breaks',
  'page headers and footers': 'formats.page-headers-and-footers',
  'formats inside a cell’s text': 'formats.formats-inside-a-cells-text',
  'hidden rows and columns (they become visible)': 'formats.hidden-rows-and-columns',
  'row heights': 'formats.row-heights',
  'conditional formats': 'formats.conditional-formats',
  'array formulas': 'formats.array-formulas',
  'data tables': 'formats.data-tables',
  borders: 'formats.borders',
  sections: 'formats.sections',
  'looks of text': 'formats.looks-of-text',
  'looks of paragraphs': 'formats.looks-of-paragraphs',
  'breaks inside paragraphs (they become lines)': 'formats.breaks-inside-paragraphs',
  'page set-up': 'formats.page-set-up',
  'links (their text stays)': 'formats.links-of-text',
  'headings (their text stays)': 'formats.headings',
  'lists (their text stays)': 'formats.lists',
  'quotes (their text stays)': 'formats.quotes',
  'tables (their text stays)': 'formats.tables',
  'other sheets': 'formats.other-sheets',
  'formulas (their results stay)': 'formats.formulas',
  'formulas without a result (nothing of them stays)': 'formats.formulas-without-result',
  'formulas that cannot be read here (their results stay)': 'formats.formulas-that-cannot-be-read',
  'code (its text stays)': 'formats.code',
  'paragraphs of list items (they become lines)': 'formats.paragraphs-of-an-item',
  'things that such a text says in another way': 'formats.such-a-text-says',
  scripts: 'formats.scripts',
  'style sheets': 'formats.style-sheets',
  'hidden parts': 'formats.hidden-parts',
  'lines across the page': 'formats.lines-across',
  'images from elsewhere (they are not fetched)': 'formats.images-from-elsewhere',
  'things that a page says in another way': 'formats.said-in-another-way',
  'groups of rows and columns': 'formats.groups-of-lines',
  'looks of cells': 'formats.looks-of-cells',
  'borders and fonts of cells': 'formats.borders-and-fonts',
  'cells beyond what the type can hold': 'formats.beyond-the-type',
  'number formats': 'formats.number-formats',
  'values that are read as something else': 'formats.read-as-something-else',
  'letters that the encoding has not': 'formats.letters-not-encoded',
  'what a file says of itself': 'formats.properties',
}

/** "1 footnote (near ‹Findings›)". */
export function sayLimit({ feature, count, where }: Limit): Said {
  const code = sayings[feature]
  const what = code ? say(code, { n: count }) : say('formats.other', { n: count, feature })
  const places = where.filter(Boolean).map((one) => `‹${one}›`)
  return places.length ? say('formats.near', { what, where: places.join(', ') }) : what
}

/** Collects limits while a file is read. */
export class Limits {
  private readonly found = new Map<string, { count: number; where: Set<string>; at?: readonly number[] }>()

  /** @param at the place in the work, as its editor goes to it; the first one is kept */
  add(feature: string, where: string, count = 1, at?: readonly number[]): void {
    const entry = this.found.get(feature) ?? { count: 0, where: new Set() }
    entry.count += count
    if (at) entry.at ??= at
    if (where.trim() && entry.where.size < 5) entry.where.add(where.trim())
    this.found.set(feature, entry)
  }

  /** Takes over what another collection found. */
  include(other: Limits): void {
    for (const [feature, { count, where }] of other.found) {
      this.add(feature, '', count)
      const entry = this.found.get(feature)!
      for (const one of where) if (entry.where.size < 5) entry.where.add(one)
    }
  }

  list(): Limit[] {
    return [...this.found].map(([feature, { count, where, at }]) => ({
      feature,
      count,
      where: [...where],
      ...(at && { at }),
    }))
  }
}

/** What several found, each feature once. */
export function allOf(...found: readonly (readonly Limit[])[]): Limit[] {
  const all = new Limits()
  for (const { feature, count, where, at } of found.flat()) {
    all.add(feature, where[0] ?? '', count, at)
    for (const one of where.slice(1)) all.add(feature, one, 0)
  }
  return all.list()
}
