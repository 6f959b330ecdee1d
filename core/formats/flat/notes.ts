// Notes as the model keeps them (core/content/kept.ts), for formats in which they are lines of text: what of a note's
// XML (ECMA-376 part 1, §17.11) such a format can hold, and back.

import type { Fragment, Node } from 'prosemirror-model'
import { storableText } from '../../content/document'
import type { Kept } from '../../content/kept'
import { isNote, line, notesOf, wordsIn } from '../docx/kept'
import { onOff } from '../opc/package'
import { child, elements, escapeText, parseXml, textOf, type XmlElement } from '../opc/xml'

export interface NoteRun {
  text: string
  strong: boolean
  em: boolean
}
export type NoteLine = readonly NoteRun[]
export type FlatNote = 'footnote' | 'endnote'

const namespace = 'http://schemas.openxmlformats.org/wordprocessingml/2006/main'

/** What the model keeps of a note of such lines. */
export function keptNote(kind: FlatNote, lines: readonly NoteLine[]): Kept {
  const { element } = notesOf[kind]
  const run = ({ text, strong, em }: NoteRun) => {
    const look = `${strong ? '<w:b/>' : ''}${em ? '<w:i/>' : ''}`
    return `<w:r>${look && `<w:rPr>${look}</w:rPr>`}<w:t xml:space="preserve">${escapeText(storableText(text))}</w:t></w:r>`
  }
  const mark = `<w:r><w:rPr><w:vertAlign w:val="superscript"/></w:rPr><w:${kind}Ref/></w:r>`
  const paragraphs = (lines.length ? lines : [[]]).map((runs, at) => {
    const inner = `${at ? '' : mark}${joined(runs).map(run).join('')}`
    return inner ? `<w:p>${inner}</w:p>` : '<w:p/>'
  })
  const words = line(lines.map((runs) => runs.map(({ text }) => text).join('')).join(' '))
  return {
    kind,
    words,
    xml: `<${element} xmlns:w="${namespace}" w:id="0">${paragraphs.join('')}</${element}>`,
    parts: [],
  }
}

/** The lines of what was read of a note. */
export function linesRead(blocks: Fragment): NoteRun[][] {
  const lines: NoteRun[][] = []
  blocks.descendants((node) => {
    if (!node.isTextblock) return true
    const has = (child: Node, name: string) => child.marks.some(({ type }) => type.name === name)
    lines.push(
      node.children.map((child) => ({
        text: child.isText ? child.text! : child.type.name === 'hard_break' ? ' ' : '',
        strong: has(child, 'strong'),
        em: has(child, 'em'),
      })),
    )
    return false
  })
  // Between its number and its words stands a space.
  const first = lines[0]?.[0]
  if (first) first.text = first.text.replace(/^[ \t]/, '')
  return lines
}

/** Neighbours that look alike are one. */
function joined(runs: NoteLine): NoteRun[] {
  const all: NoteRun[] = []
  for (const run of runs) {
    const last = all.at(-1)
    if (last && last.strong === run.strong && last.em === run.em) last.text += run.text
    else if (run.text) all.push({ ...run })
  }
  return all
}

/** A note's lines; null for what is none, or refers to nothing. */
export function linesOfNote(kept: Kept): NoteLine[] | null {
  if (kept.kind !== 'footnote' && kept.kind !== 'endnote') return null
  if (!isNote(kept.kind) || !kept.xml.startsWith(`<${notesOf[kept.kind].element}`)) return null
  const root = parseXml(new TextEncoder().encode(kept.xml), kept.kind)
  const lines: NoteRun[][] = []
  const runsIn = (parent: XmlElement, into: NoteRun[]): void => {
    for (const one of elements(parent)) {
      if (one.name !== 'w:r') runsIn(one, into)
      else {
        const properties = child(one, 'w:rPr')
        const has = (name: string) => onOff(child(properties, name)) ?? false
        let text = ''
        for (const part of elements(one)) {
          if (part.name === 'w:t') text += textOf(part)
          else if (part.name === 'w:tab') text += '\t'
          else if (part.name === 'w:br') text += ' '
          else if (part.name === 'w:noBreakHyphen') text += '\u2011'
        }
        into.push({ text, strong: has('w:b'), em: has('w:i') })
      }
    }
  }
  const visit = (parent: XmlElement): void => {
    for (const one of elements(parent)) {
      if (one.name === 'w:p') {
        const runs: NoteRun[] = []
        runsIn(one, runs)
        lines.push(joined(runs))
      } else visit(one)
    }
  }
  visit(root)
  return lines
}

/** A note as such lines hold it, and whether that is all that it says. */
export function flatNote(kept: Kept): { kept: Kept; whole: boolean } | null {
  const lines = linesOfNote(kept)
  if (!lines) return null
  const plain = keptNote(kept.kind as FlatNote, lines)
  const root = parseXml(new TextEncoder().encode(kept.xml), kept.kind)
  const whole =
    !/<(?:w:drawing|w:pict|w:object|w:hyperlink|m:oMath|w:tbl)\b/.test(kept.xml) && line(wordsIn(root)) === plain.words
  return { kept: plain, whole }
}
