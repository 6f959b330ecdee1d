// What stands in a line of a document and is no text that can be written here: a note, a comment, a shape, an equation.
// It is shown as what it is, moves and goes as one, and holds all that it needs to come into another file.

export const keptKinds = [
  'footnote',
  'endnote',
  'comment',
  'removed',
  'equation',
  'shape',
  'chart',
  'diagram',
  'object',
  'picture',
  'symbol',
  'ruby',
  'tab',
  'field',
] as const
export type KeptKind = (typeof keptKinds)[number]

/** Something that its XML leads to: an address outside, or a part of the file with what that leads to. */
export interface KeptPart {
  /** The id by which it is led to; of what the XML itself leads to it is the place in the list. */
  id: string
  /** Its kind, as the package says it: an address (ECMA-376 part 2, §9.3). */
  type: string
  /** Where it is, of what is outside the file. */
  target?: string
  /** Of a part: the folder it is in, what it is called without its number, and its ending. */
  name?: readonly [folder: string, stem: string, ending: string]
  /** Its content type and its bytes, as a data URL. */
  data?: string
  parts?: readonly KeptPart[]
}

export interface Kept {
  kind: KeptKind
  /** What it says, in one line. */
  words: string
  /** Its XML, which can stand alone: of a note or a comment that one's, of the rest its own. Ids of its file are not in it. */
  xml: string
  /** What the XML leads to; null where that is more than can be carried, so that it stays in its own file. */
  parts: readonly KeptPart[] | null
}

/** Letters of what it says at most. */
export const mostKeptWords = 1000
/** Bytes of what one leads to at most, unpacked. */
export const mostKeptBytes = 8 << 20
