// What is read of one story of a Rich Text Format document, its text, an edge of its pages or a note, on the way to blocks.
import type { Mark, Node } from 'prosemirror-model'
import { documentSchema, storableText } from '../../content/document'
import type { Piece } from '../docx/source'
import type { Flow } from '../flat/flow'
import type { CellShape, Merge, RowShape } from '../flat/grid'
import { type FlatChar, type FlatPara, marksBeside } from '../flat/looks'
import { roleOf } from '../flat/roles'
import type { CharState, ParaState } from './properties'
import type { Style, Tables } from './tables'

const { marks, nodes } = documentSchema

/** Text, or something else of a line, with where each unit of it stands; -1 where that cannot be taken out by itself. */
export type Run = { readonly char: CharState; readonly link: string | null; readonly spans: number[] } & (
  | { text: string }
  | { readonly node: Node }
)
/** A paragraph in its file. */
export interface LineSource {
  /** Behind its mark. */
  to: number
  /** Groups that are open there. */
  depth: number
  /** From where to where each unit of its line stands. */
  spans: readonly number[]
  /** How its letters look, unit by unit, as a number that is the same for the same looks. */
  para: ParaState
  style: Style
}
export interface Story {
  is: 'text' | 'edge' | 'note'
  flow: Flow
  runs: (Run | { page: number })[]
  row: { left: number; cells: CellShape[]; header: boolean; next: { down: Merge; along: Merge; auto: boolean } }
  /** Behind the last row. */
  rowEnd: number
  paragraphs: number
  /** Groups that were open where the last line ended. */
  lineDepth: number
  nested: boolean
}
export const newRow = (): Story['row'] => ({
  left: 0,
  cells: [],
  header: false,
  next: { down: 'no', along: 'no', auto: false },
})
export const shapeOf = ({ left, cells, header }: Story['row']): RowShape => ({ left, cells, header })

/** How deep a heading a paragraph is, from 1; 0 for none. */
export function headingOf(style: Style, para: ParaState): number {
  const named = /^heading ([1-9])$/i.exec(style.name)?.[1]
  const outline = para.outline ?? style.para.outline
  return Math.min(6, named ? Number(named) : outline === null ? 0 : outline + 1)
}
/** A style that people chose: not the usual one of what the paragraph is. */
export function namedStyle(style: Style, heading: number, listed: boolean, edge: boolean): string | null {
  const { name } = style
  if (!name || style.number === 0 || /^(?:normal|heading [1-9])$/i.test(name)) return null
  if (roleOf(name) !== 'plain' || (heading && /^heading/i.test(name))) return null
  if (listed && /^list paragraph$/i.test(name)) return null
  return edge && /^(?:header|footer)$/i.test(name) ? null : name
}

/** The marks of letters beside what their paragraph's style gives them. */
export class Looks {
  // What a file says at each letter anew is known for as long as it is that of a letter that is read.
  private readonly known = new Map<CharState, WeakMap<CharState, readonly Mark[]>>()
  constructor(private readonly tables: Tables) {}

  marksOf(char: CharState, base: CharState, link: string | null): readonly Mark[] {
    let ofBase = this.known.get(base)
    if (!ofBase) this.known.set(base, (ofBase = new WeakMap()))
    let set = ofBase.get(char)
    if (!set) ofBase.set(char, (set = this.made(char, base)))
    return link === null ? set : marks.link.create({ href: link }).addToSet(set)
  }
  private made(char: CharState, base: CharState): readonly Mark[] {
    return marksBeside(flatChar(char, this.tables), flatChar(base, this.tables))
  }
}

/** Letters with their colours and their font by what they are. */
export const flatChar = (char: CharState, tables: Tables): FlatChar => ({
  ...char,
  color: tables.colorOf(char.color),
  fill: tables.colorOf(char.fill),
  font: tables.fontOf(char.font)?.name ?? null,
})

const flat = new WeakMap<Tables, WeakMap<ParaState, FlatPara>>()
/** A paragraph with its colours by what they are. */
export function flatPara(para: ParaState, tables: Tables): FlatPara {
  let known = flat.get(tables)
  if (!known) flat.set(tables, (known = new WeakMap()))
  let found = known.get(para)
  if (found) return found
  found = {
    ...para,
    fill: tables.colorOf(para.fill),
    borders: Object.fromEntries(
      Object.entries(para.borders).map(([side, border]) => [side, { ...border, color: tables.colorOf(border.color) }]),
    ),
  }
  known.set(para, found)
  return found
}

/** What a paragraph's look is beside. */
export function baseOf(style: Style, para: ParaState, tables: Tables): ParaState {
  const level = para.list ? tables.levelOf(para.list, para.level) : undefined
  return level ? { ...style.para, left: level.left, first: level.first } : style.para
}

/** Runs as the nodes of a line, and where each of their units stands. */
export function inlineOf(
  runs: readonly Run[],
  base: CharState,
  looks: Looks,
): { inline: Node[]; spans: number[]; words: string } {
  const inline: Node[] = []
  const spans: number[] = []
  let words = ''
  for (const run of runs) {
    const set = looks.marksOf(run.char, base, run.link)
    if ('node' in run) {
      inline.push(run.node.mark(set))
      for (const place of run.spans) spans.push(place)
      words += ' '
      continue
    }
    if (storableText(run.text) === run.text) {
      for (const place of run.spans) spans.push(place)
      words += run.text
      inline.push(documentSchema.text(run.text, set))
      continue
    }
    // What no text can hold goes, with where it stands.
    let kept = ''
    for (let at = 0; at < run.text.length; ) {
      const letter = String.fromCodePoint(run.text.codePointAt(at)!)
      if (storableText(letter)) {
        kept += letter
        for (let unit = at; unit < at + letter.length; unit++)
          spans.push(run.spans[unit * 2]!, run.spans[unit * 2 + 1]!)
      }
      at += letter.length
    }
    words += kept
    if (kept) inline.push(documentSchema.text(kept, set))
  }
  return { inline, spans, words }
}

export const pageBreak = (): Piece => ({ is: 'block', node: nodes.page_break.create() })
