// What a file says of itself beside its content: what is kept with it wherever it goes, and changed like any other of its
// content.
import type { Node } from 'prosemirror-model'

/** Only what is said: a field that says nothing is not there. Plain data: it stands in journals. */
export interface About {
  readonly title?: string
  readonly author?: string
  readonly subject?: string
  /** Parted by a comma and a space, none twice. */
  readonly keywords?: string
}
export const aboutFields = ['title', 'author', 'subject', 'keywords'] as const satisfies (keyof About)[]
export type AboutField = (typeof aboutFields)[number]
/** Of a field no more is kept, in letters: what programs show of one. */
export const longestAbout = 255

/** Characters that no file can hold (XML 1.0 §2.2), and halves of letters. */
const unwritable = /[\p{Cc}\p{Cs}\ufffe\uffff]+/gu

/** One line, without what no file can hold. */
export const tidyField = (value: string): string => {
  const line = value.replace(unwritable, ' ').replace(/\s+/g, ' ').trim()
  if (line.length <= longestAbout) return line
  const short = line.slice(0, longestAbout)
  // Half a letter is none.
  return (/[\ud800-\udbff]$/.test(short) ? short.slice(0, -1) : short).trim()
}

/** Keywords as they are parted: by commas, or as others do by semicolons. */
export const keywordsIn = (said: string | undefined): string[] => [
  ...new Set(
    (said ?? '')
      .split(/[,;]/)
      .map((one) => one.trim())
      .filter(Boolean),
  ),
]

/** What says something; null where nothing does. */
export function tidyAbout(given: Partial<Record<AboutField, unknown>> | null | undefined): About | null {
  const said: Partial<Record<AboutField, string>> = {}
  for (const field of aboutFields) {
    const value = given?.[field]
    const line = typeof value === 'string' ? value.replace(unwritable, ' ') : ''
    const tidy = tidyField(field === 'keywords' ? keywordsIn(line).join(', ') : line)
    if (tidy) said[field] = tidy
  }
  return Object.keys(said).length ? said : null
}

export const sameAbout = (a: About | null | undefined, b: About | null | undefined): boolean =>
  aboutFields.every((field) => a?.[field] === b?.[field])

/** The fields that one says otherwise than the other. */
export const fieldsBetween = (a: About | null | undefined, b: About | null | undefined): AboutField[] =>
  aboutFields.filter((field) => a?.[field] !== b?.[field])

/**
 * What two people made of it, over what both began from: each field from whoever changed it. Where both did, each
 * keyword stays unless one took it away, and of other fields both stand behind each other, mine first.
 */
export function mergeAbout(
  base: About | null | undefined,
  mine: About | null | undefined,
  theirs: About | null | undefined,
): About | null {
  const merged: Partial<Record<AboutField, string>> = {}
  for (const field of aboutFields) {
    const [was, is, other] = [base?.[field], mine?.[field], theirs?.[field]]
    let value = is === was ? other : is
    if (is !== was && other !== was && is !== other) {
      if (field === 'keywords') {
        const [before, own, others] = [keywordsIn(was), keywordsIn(is), keywordsIn(other)]
        const stays = (one: string) => (before.includes(one) ? own.includes(one) && others.includes(one) : true)
        value = [...new Set([...own, ...others])].filter(stays).join(', ')
      } else value = is && other ? `${is} / ${other}` : (is ?? other)
    }
    if (value) merged[field] = value
  }
  return tidyAbout(merged)
}

/** What both say alike. */
export const commonAbout = (a: About | null | undefined, b: About | null | undefined): About | null =>
  tidyAbout(
    Object.fromEntries(aboutFields.flatMap((field) => (a?.[field] === b?.[field] ? [[field, a?.[field]]] : []))),
  )

export const aboutOfDocument = (doc: Node): About | null => doc.attrs.about
/** The document saying something else of itself. */
export const documentAbout = (doc: Node, about: About | null): Node =>
  sameAbout(doc.attrs.about, about) ? doc : doc.type.create({ ...doc.attrs, about }, doc.content, doc.marks)
/** The same of a workbook, which has no field for nothing. */
export function workbookAbout<T extends { readonly about?: About }>(workbook: T, about: About | null | undefined): T {
  if (sameAbout(workbook.about, about)) return workbook
  const { about: _, ...rest } = workbook
  return (about ? { ...rest, about } : rest) as T
}
