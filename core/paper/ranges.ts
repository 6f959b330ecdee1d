// Which pages are meant: `1,3,5-7`, `8-`, `-3`, `last`, or a section by its heading in quotation marks.
import { type Said, say } from '../words/said'

/** A heading, and the page that it is on, from 1. */
export interface Section {
  title: string
  level: number
  page: number
}

const quotes = /["“”„‟«»]/
/** Words for the last page, in each language that Jaula speaks. */
const lastWords = new Set(['last', 'letzte'])

/** The pages of a section: up to the page before the next heading that is not below it, or where that begins one's own page. */
export function pagesOfSection(sections: readonly Section[], at: number, pages: number): [number, number] {
  const { level, page } = sections[at]!
  const next = sections.slice(at + 1).find((one) => one.level <= level)
  return [page, next ? Math.max(page, next.page - 1) : pages]
}

/**
 * @param typed nothing is all of them
 * @returns pages from 1 in the order in which they were asked for, or why not
 */
export function pagesIn(typed: string, pages: number, sections: readonly Section[] = []): number[] | Said {
  const chosen: number[] = []
  const parts = partsOf(typed)
  if (!parts.length) return Array.from({ length: pages }, (_, at) => at + 1)
  for (const part of parts) {
    const range = typeof part === 'string' ? rangeOf(part, pages) : sectionOf(part.heading, sections, pages)
    if ('say' in range) return range
    const [from, to] = range
    if (from < 1 || from > pages || to > pages || to < 1)
      return say('paper.outside', { part: typeof part === 'string' ? part : part.heading, pages })
    // Also backwards.
    for (let page = from; from <= to ? page <= to : page >= to; page += from <= to ? 1 : -1) {
      if (chosen.length >= mostChosen) return say('paper.too-many-chosen', { most: mostChosen })
      chosen.push(page)
    }
  }
  return chosen
}
const mostChosen = 20_000

function partsOf(typed: string): (string | { heading: string })[] {
  const parts: (string | { heading: string })[] = []
  let rest = typed.trim()
  while (rest) {
    if (quotes.test(rest[0]!)) {
      const end = rest.slice(1).search(quotes)
      const heading = end < 0 ? rest.slice(1) : rest.slice(1, end + 1)
      parts.push({ heading: heading.trim() })
      rest = end < 0 ? '' : rest.slice(end + 2)
    } else {
      const end = rest.search(/[,;"“”„‟«»]/)
      const part = (end < 0 ? rest : rest.slice(0, end)).trim()
      if (part) parts.push(part)
      rest = end < 0 ? '' : rest.slice(end)
    }
    rest = rest.replace(/^[\s,;]+/, '')
  }
  return parts
}

function rangeOf(part: string, pages: number): [number, number] | Said {
  const at = (word: string): number | null =>
    lastWords.has(word.toLowerCase()) ? pages : /^\d{1,9}$/.test(word) ? Number(word) : null
  const [, one, dash, other] = /^([\p{L}\d]*)\s*([-–—]?)\s*([\p{L}\d]*)$/u.exec(part) ?? []
  const from = one ? at(one) : 1
  const to = !dash ? from : other ? at(other) : pages
  if (from === null || to === null || from === undefined || to === undefined || (!one && !other) || (!dash && other))
    return say('paper.no-range', { part })
  return [from, to]
}

function sectionOf(heading: string, sections: readonly Section[], pages: number): [number, number] | Said {
  const plain = (text: string) => text.trim().replace(/\s+/g, ' ').toLowerCase()
  const wanted = plain(heading)
  const exact = sections.findIndex(({ title }) => plain(title) === wanted)
  const at = exact >= 0 ? exact : sections.findIndex(({ title }) => wanted !== '' && plain(title).startsWith(wanted))
  return at < 0 ? say('paper.no-section', { heading }) : pagesOfSection(sections, at, pages)
}
