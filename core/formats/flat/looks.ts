// How letters and paragraphs look in formats that say all of it at each place, beside what their style says.
import type { Mark } from 'prosemirror-model'
import { type Align, documentSchema } from '../../content/document'
import { type LineHeight, lookFrom, type ParagraphBorder, type ParagraphLook } from '../../content/paragraph-look'

export interface FlatChar {
  bold: boolean
  italic: boolean
  underline: boolean
  strike: boolean
  script: '' | 'raised' | 'lowered'
  color: string | null
  fill: string | null
  /** Half points. */
  size: number
  font: string | null
}
/** Lengths in twips. */
export interface FlatPara {
  align: Align
  before: number
  after: number
  line: LineHeight
  left: number
  right: number
  first: number
  fill: string | null
  borders: Readonly<Record<string, ParagraphBorder>>
}

const { marks } = documentSchema

/** The marks of letters beside those of their base. */
export function marksBeside(char: FlatChar, base: FlatChar): readonly Mark[] {
  let set: readonly Mark[] = []
  const put = (mark: Mark) => {
    set = mark.addToSet(set)
  }
  if (char.bold && !base.bold) put(marks.strong.create())
  if (char.italic && !base.italic) put(marks.em.create())
  if (char.underline && !base.underline) put(marks.underline.create())
  if (char.strike && !base.strike) put(marks.strike.create())
  if (char.script && char.script !== base.script) put(marks[char.script].create())
  const other = <T>(one: T, usual: T): T | null => (one === usual ? null : one)
  const color = other(char.color, base.color)
  const fill = other(char.fill, base.fill)
  const size = other(char.size, base.size)
  const font = other(char.font, base.font)
  if (color || fill || size || font) put(marks.look.create({ color, fill, size: size && size / 2, font }))
  return set
}

/** What a paragraph says beside its base. */
export function lookBeside(para: FlatPara, base: FlatPara): ParagraphLook | null {
  if (para === base) return null
  const look: Record<string, unknown> = {}
  for (const name of ['before', 'after', 'left', 'right', 'first'] as const)
    if (para[name] !== base[name]) look[name] = para[name]
  if (JSON.stringify(para.line) !== JSON.stringify(base.line)) look.line = para.line
  if (para.fill !== base.fill) look.fill = para.fill
  if (JSON.stringify(para.borders) !== JSON.stringify(base.borders)) look.borders = para.borders
  return lookFrom(look)
}
