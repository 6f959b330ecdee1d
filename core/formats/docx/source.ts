// Where each part of a document stands in its file, from the same walk that reads it.
import type { Mark, Node } from 'prosemirror-model'
import type { Align } from '../../content/document'
import type { ParagraphLook } from '../../content/paragraph-look'
import type { XmlElement } from '../opc/xml'
import type { Styles } from './style-sheet'

/** What a paragraph or a table says of itself, before lists and quotes are nested. */
export type Piece =
  | {
      is: 'paragraph'
      /** What it was read from. */
      from?: XmlElement
      style: 'plain' | 'quote' | 'quote anew' | 'gap'
      align: Align
      /** The id of its style where that is not the usual one of its kind. */
      named: string | null
      look: ParagraphLook | null
      level: number
      inline: Node[]
      list: { number: string; level: number } | null
    }
  | { is: 'block'; node: Node; from?: XmlElement }

/** Where each part of a document stands in its main part. */
export class DocumentSource {
  pieces: Piece[] = []
  body: XmlElement | null = null
  styles: Styles | null = null
  /** The element inside a run that gave an inline node. */
  readonly parts = new Map<Node, XmlElement>()
  /** The run that gave it, and the marks that its style gives it. */
  readonly runs = new Map<Node, { run: XmlElement; inherited: readonly Mark[] }>()
  /** What is kept in its place, in the order of the file. */
  readonly kept: { node: Node; element: XmlElement }[] = []
  readonly breaks: { run: XmlElement; part: XmlElement }[] = []
  readonly tables = new Map<
    XmlElement,
    { from: XmlElement; cells: { from: XmlElement | undefined; pieces: Piece[] }[] }[]
  >()
  last: XmlElement | null = null

  ranInto(run: XmlElement, into: readonly (Node | 'page break')[], from: number, inherited: readonly Mark[]): void {
    for (const one of into.slice(from)) if (typeof one !== 'string') this.runs.set(one, { run, inherited })
  }
}
