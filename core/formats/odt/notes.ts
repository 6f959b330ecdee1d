// Notes between texts of the OpenDocument format (ISO/IEC 26300-1 §6.3) and files of other types: by their lines.
import { Fragment, type Node } from 'prosemirror-model'
import { documentSchema } from '../../content/document'
import { type Kept, mostKeptWords } from '../../content/kept'
import { isNote } from '../docx/kept'
import { type FlatNote, keptNote, linesOfNote } from '../flat/notes'
import { linesSaid, newComment } from '../note-words'
import { escapeAttribute, escapeText, parseXml } from '../opc/xml'

const inOneLine = (text: string): string => text.replace(/\s+/g, ' ').trim()

/**
 * A note of another type as such a text has it.
 * @param id of its own in the file
 * @returns null for what is no note; `whole` where its words are all that it says
 */
export function odtNote(kept: Kept, id: string): { kept: Kept; whole: boolean } | null {
  const lines = linesOfNote(kept)
  if (!lines) return null
  const said = (lines.length ? lines : [[]]).map((runs) => inOneLine(runs.map(({ text }) => text).join('')))
  const body = said.map((line) => `<text:p>${escapeText(line)}</text:p>`).join('')
  return {
    kept: {
      kind: kept.kind,
      words: inOneLine(said.join(' ')),
      xml: `<text:note text:id="${escapeAttribute(id)}" text:note-class="${kept.kind}"><text:note-citation>1</text:note-citation><text:note-body>${body}</text:note-body></text:note>`,
      parts: null,
    },
    whole: lines.every((runs) => runs.every(({ strong, em }) => !strong && !em)),
  }
}

const entities: Readonly<Record<string, string>> = { lt: '<', gt: '>', amp: '&', quot: '"', apos: "'" }
const plain = (xml: string): string =>
  inOneLine(
    xml
      .replace(/<text:(?:s|tab|line-break)\b[^>]*>/g, ' ')
      .replace(/<[^>]*>/g, '')
      .replace(/&(?:(lt|gt|amp|quot|apos)|#(\d+)|#x([0-9a-f]+));/gi, (_, name, decimal, hex) =>
        name
          ? entities[name.toLowerCase()]!
          : String.fromCodePoint(decimal ? Number(decimal) : Number.parseInt(hex, 16)),
      ),
  )

/** Of a comment of another type who wrote it, when, and its lines; null for what is none. */
function commentOf({ kind, xml }: Kept): { who: string; when: string; lines: string[] } | null {
  if (kind !== 'comment' || !xml.startsWith('<w:comment')) return null
  const { attributes } = parseXml(new TextEncoder().encode(xml), 'XML')
  return {
    who: attributes['w:author'] ?? '',
    when: attributes['w:date'] ?? '',
    lines: (linesSaid({ kind, xml, words: '', parts: null }) ?? []).map(inOneLine),
  }
}

/** A comment of another type as such a text has it (§14.1). @param name of its own in the file @returns null for what is none */
export function odtComment(kept: Kept, name: string): Kept | null {
  const said = commentOf(kept)
  if (!said) return null
  const { who, when, lines } = said
  const date = when && `<dc:date>${escapeText(when)}</dc:date>`
  return {
    kind: 'comment',
    words: inOneLine(lines.join(' ')).slice(0, mostKeptWords),
    xml: `<office:annotation xmlns:dc="http://purl.org/dc/elements/1.1/" office:name="${escapeAttribute(name)}"><dc:creator>${escapeText(who)}</dc:creator>${date}${lines
      .map((text) => `<text:p>${escapeText(text)}</text:p>`)
      .join('')}</office:annotation>`,
    parts: null,
  }
}
/** A note or a comment of another type as such a text has a new one; what is none stays. @param id of its own in the file */
export const odtRemark = (kept: Kept, id: string): Kept => odtComment(kept, id) ?? odtNote(kept, id)?.kept ?? kept

const plainTag =
  /^<\/|^<text:note text:id="[^"]*" text:note-class="(?:footnote|endnote)">$|^<text:(?:note-citation|note-body|p|s(?: text:c="\d+")?|p\/|s(?: text:c="\d+")?\/)>$|^<office:annotation xmlns:dc="[^"]*" office:name="[^"]*">$|^<dc:(?:creator|date)>$/
/** Whether it is a note or a comment of such a text that says words and nothing else: any file of the type can have it. */
export const isPlainRemark = ({ kind, xml }: Kept): boolean =>
  isNote(kind) &&
  /^<(?:text:note|office:annotation)\s/.test(xml) &&
  (xml.match(/<[^>]*>/g) ?? []).every((tag) => plainTag.test(tag))
const idIn = /(text:id|office:name)="([^"]*)"/
/** What tells it from the others of its file. */
export const remarkId = ({ xml }: Kept): string | undefined => idIn.exec(xml.slice(0, xml.indexOf('>') + 1))?.[2]
/** The same with another id. */
export const withRemarkId = (kept: Kept, id: string): Kept => ({
  ...kept,
  xml: kept.xml.replace(idIn, (_, name: string) => `${name}="${escapeAttribute(id)}"`),
})
/** What such a text says in a note or a comment with looks, in words alone; null for what is none. */
export function plainRemark(kept: Kept, id: string): Kept | null {
  const comment = commentOfOthers(kept)
  if (comment) return odtComment(comment, id)
  const lines = noteLines(kept)
  if (!lines) return null
  const runs = lines.map((text) => [{ text, strong: false, em: false }])
  return odtNote(keptNote(kept.kind as FlatNote, runs), id)?.kept ?? null
}

/** A comment of such a text as the model keeps a new one; null for what is none. */
function commentOfOthers(kept: Kept): Kept | null {
  if (kept.kind !== 'comment' || !kept.xml.startsWith('<office:annotation')) return null
  const lines = linesSaid(kept)
  if (!lines) return null
  const inside = (name: string) => new RegExp(`<${name}>([^<]*)</${name}>`).exec(kept.xml)?.[1] ?? ''
  return newComment(plain(inside('dc:creator')), plain(inside('dc:date')), lines)
}

/** The lines of a note as such a text has it; null for what is none. */
export function noteLines({ kind, xml }: Kept): string[] | null {
  if ((kind !== 'footnote' && kind !== 'endnote') || !xml.startsWith('<text:note')) return null
  const body = /<text:note-body>([\s\S]*)<\/text:note-body>/.exec(xml)?.[1] ?? ''
  return Array.from(body.matchAll(/<text:[ph]\b[^>]*?(?:\/>|>([\s\S]*?)<\/text:[ph]>)/g), ([, line]) =>
    plain(line ?? ''),
  )
}

/** A document whose notes and comments other types can have, as far as they are words. */
export function withNotesOfOthers(doc: Node): Node {
  const { kept: type } = documentSchema.nodes
  const visit = (node: Node): Node => {
    if (!node.childCount) return node
    let changed = false
    const children = node.children.map((child) => {
      const comment = child.type === type ? commentOfOthers(child.attrs as Kept) : null
      if (comment) {
        changed = true
        return type.create(comment).mark(child.marks)
      }
      const lines = child.type === type ? noteLines(child.attrs as Kept) : null
      const now = lines
        ? type
            .create(
              keptNote(
                child.attrs.kind as FlatNote,
                lines.map((text) => [{ text, strong: false, em: false }]),
              ),
            )
            .mark(child.marks)
        : visit(child)
      changed ||= now !== child
      return now
    })
    return changed ? node.copy(Fragment.fromArray(children)) : node
  }
  return visit(doc)
}
