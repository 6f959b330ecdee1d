// What somebody said about a text, and what they put in or took out of it while changes were tracked: on its pages where
// that is chosen.
import type { Kept } from '../content/kept'
import { moment } from '../formats/docx/passages'
import { elements, parseXml, textOf, type XmlElement } from '../formats/opc/xml'
import { type Said, say } from '../words/said'

export interface Remark {
  kind: 'comment' | 'inserted' | 'removed'
  /** Empty where the file names nobody. */
  who: string
  /** ISO 8601; null where the file does not say. */
  when: string | null
  /** What was said, or what was taken out. */
  words: string
}

/** What a kept thing says about the text; null for what is no remark. */
export function remarkOf({ kind, words, xml }: Kept): Remark | null {
  if (kind !== 'comment' && kind !== 'removed') return null
  let root: XmlElement
  try {
    root = parseXml(new TextEncoder().encode(xml), '')
  } catch {
    return { kind, who: '', when: null, words }
  }
  const ends = (name: string) => Object.entries(root.attributes).find(([key]) => key.replace(/^.*:/, '') === name)?.[1]
  /** Of the open standard, where they are elements (ISO 26300 part 1, §14.1). */
  const inside = (name: string) => [...elements(root, name)].map(textOf)[0]
  const who = ends('author') ?? inside('dc:creator') ?? ''
  return {
    kind,
    who,
    when: moment(ends('date') ?? inside('dc:date')),
    words: who && words.startsWith(`${who}: `) ? words.slice(who.length + 2) : words,
  }
}

/** Who said it and when, as it is written above it. @param day of a moment, in the language of the pages */
export const sayHead = ({ kind, who, when }: Remark, day: (iso: string) => string): Said =>
  say('paper.remark', { kind, named: who !== '', who, dated: when !== null, day: when === null ? '' : day(when) })
