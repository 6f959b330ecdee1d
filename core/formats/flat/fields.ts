// Fields as formats write them that have their code and their result in the line (ECMA-376 part 1, §17.16).
import { isThing } from '../docx/fields'

export const isLink = (code: string): boolean => /^\s*HYPERLINK\b/i.test(code)

/** Where a field that is a link leads to; empty for nowhere (§17.16.5.25). */
export function addressOf(code: string): string {
  const anchor = /\\l\s+"([^"]*)"/i.exec(code)?.[1]
  const address = /^\s*HYPERLINK\s+"([^"]*)"/i.exec(code)?.[1] ?? /^\s*HYPERLINK\s+([^\s"\\]+)/i.exec(code)?.[1]
  return `${(address ?? '').replace(/\\\\/g, '\\')}${anchor ? `#${anchor}` : ''}`
}

/**
 * Whether a field is one thing of its line: at the edge of a page always, in the text where its result is plain words that
 * nobody writes in.
 * @param result null where it is more than words
 */
export const isOneThing = (code: string, result: string | null, atEdge: boolean): result is string =>
  result !== null && (atEdge ? code !== '' : isThing({ instruction: code, result }))
