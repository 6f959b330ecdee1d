// Puts what is kept in a document's lines where the model has it now. What the file has is taken from the file as it
// stands there; what comes from another one, or is there twice by now, comes in with new numbers, with its note and
// with the parts that it leads to.
import { Mark, type Node } from 'prosemirror-model'
import { documentSchema } from '../../content/document'
import type { Kept, KeptPart } from '../../content/kept'
import { append, freePart, relate, typeOfPart } from '../opc/add-part'
import { standingAlone } from '../opc/alone'
import { relationshipKind, relationshipsPartOf } from '../opc/package'
import { elements, escapeAttribute, parseXml, type XmlElement, xmlHead } from '../opc/xml'
import { styleOf } from './add-style'
import { isField } from './fields'
import { isNote, type NoteKind, notesOf, numberOf, standsBesideRuns } from './kept'
import { runPropertiesFor } from './patch-look'
import { changedNote, withoutGoneNotes } from './patch-notes'
import { CannotPatch } from './patch-region'
import type { Story } from './story'
import { dataUrlBytes } from './write'

const w = 'http://schemas.openxmlformats.org/wordprocessingml/2006/main'
const media = 'application/vnd.openxmlformats-officedocument.wordprocessingml'
const packageNamespace = 'http://schemas.openxmlformats.org/package/2006'

/** Notes that a part of notes begins with: the lines between the text and the notes (§17.11.23). */
const lines = (element: string) =>
  (['separator', 'continuationSeparator'] as const)
    .map(
      (type, index) =>
        `<${element} w:type="${type}" w:id="${index - 1}"><w:p><w:r><w:${type}/></w:r></w:p></${element}>`,
    )
    .join('')
const placeholder = /\u0000\d+\u0000/
const keyOf = ({ attrs }: Node): string => JSON.stringify(attrs)

/** The beginning or the end of the words that a comment is about: it is written, and not read (§17.13.4.3, §17.13.4.4). */
export const rangePoint = (end: 'Start' | 'End', id: string): Node =>
  documentSchema.nodes.kept.create({
    kind: 'comment',
    words: '',
    xml: `<w:commentRange${end} w:id="${id}"/>`,
    parts: [],
  })

export class KeptWriter {
  private readonly places: { node: Node; properties: string }[] = []
  private noteStyles = new Map<NoteKind, string>()

  constructor(private readonly story: Story) {}

  /** Marks a place: which of the file's own it can be is only known when everything else has its place. */
  placeFor(node: Node, properties: string): string {
    return `\u0000${this.places.push({ node, properties }) - 1}\u0000`
  }

  /** The main part with everything in its places. @throws CannotPatch */
  placed(xml: string): string {
    if (!this.places.length) return withoutGoneNotes(this.story, xml)
    let done = xml
    for (const [index, { node, properties }] of this.places.entries()) {
      const text = this.runFor(node, properties, done)
      // A function, because what is put in may have signs that mean something in a replacement.
      done = done.replace(`\u0000${index}\u0000`, () => text)
    }
    if (placeholder.test(done)) throw new CannotPatch('place')
    return withoutGoneNotes(this.story, done)
  }

  private runFor(node: Node, properties: string, around: string): string {
    const { prefix } = this.story
    const kept = node.attrs as Kept
    const [, end, id] = /^<w:commentRange(Start|End) w:id="(\d+)"\/>$/.exec(kept.xml) ?? []
    if (end) return `<${prefix}commentRange${end} ${prefix}id="${id}"/>`
    const key = keyOf(node)
    const own = this.story.source.kept.find(
      ({ node: one, element }) => keyOf(one) === key && !standsIn(around, this.story.xml, this.raw(element), element),
    )
    const field = isField(kept)
    if (own && !(field && !Mark.sameSet(own.node.marks, node.marks))) {
      const raw = this.raw(own.element)
      return standsBesideRuns(own.element)
        ? raw
        : `<${prefix}r>${this.ownProperties(own.node, node)}${raw}</${prefix}r>`
    }
    const said = isNote(kept.kind) ? this.saidAnew(kept, around) : undefined
    if (said) return `<${prefix}r>${this.ownProperties(said.node, node)}${this.raw(said.element)}</${prefix}r>`
    const content = this.broughtIn(kept, around)
    if (field) return content.replace('<w:r>', () => `<w:r>${properties}`)
    if (/^<(?:m:oMath|w:del|w:moveFrom)/.test(content)) return content
    const styled =
      kept.kind === 'footnote' || kept.kind === 'endnote' ? this.noteRun(kept.kind, properties) : properties
    return `<${prefix}r>${styled}${content}</${prefix}r>`
  }
  /** The file's own note that only says something else now: it does so in its place, and keeps its number. */
  private saidAnew(kept: Kept, around: string): { node: Node; element: XmlElement } | undefined {
    const taken = new Set(this.places.map(({ node }) => keyOf(node)))
    return this.story.source.kept.find(
      ({ node: one, element }) =>
        one.attrs.kind === kept.kind &&
        !taken.has(keyOf(one)) &&
        !standsIn(around, this.story.xml, this.raw(element), element) &&
        changedNote(this.story, kept, element),
    )
  }
  private raw({ at }: XmlElement): string {
    return this.story.xml.slice(at!.start, at!.end)
  }

  /** The properties of the run that it stood in, for the marks that it has now. */
  private ownProperties(was: Node, is: Node): string {
    const ran = this.story.source.runs.get(was)
    const [properties] = ran ? elements(ran.run, 'w:rPr') : []
    return runPropertiesFor(
      this.story.prefix,
      properties ? this.raw(properties) : '',
      was.marks,
      is.marks,
      ran?.inherited ?? [],
    )
  }

  private broughtIn(kept: Kept, around: string): string {
    if (!kept.parts || !kept.xml) throw new CannotPatch(`${kept.kind} of another file`)
    if (!isNote(kept.kind)) return this.renewed(kept, this.story.part, around)
    const { prefix } = this.story
    const { part: kind, element } = notesOf[kept.kind]
    const folder = this.story.part.slice(0, this.story.part.lastIndexOf('/') + 1)
    let part = [...this.story.opened.relationships(this.story.part).values()].find(
      (one) => relationshipKind(one) === kind && !one.external,
    )?.target
    if (!part) {
      part = `${folder}${kind}.xml`
      if (!this.story.changes.has(part)) {
        typeOfPart(this.story.opened, this.story.changes, part, `${media}.${kind}+xml`)
        relate(this.story.opened, this.story.changes, this.story.part, kind, `${kind}.xml`)
      }
    }
    const blank = `${xmlHead}<w:${kind} xmlns:w="${w}">${kept.kind === 'comment' ? '' : lines(element)}</w:${kind}>`
    const now = this.text(part) || blank
    let number = 0
    for (const [, id] of now.matchAll(new RegExp(`<(?:\\w+:)?${element.slice(2)}\\s[^>]*?\\bid="(-?\\d+)"`, 'g')))
      number = Math.max(number, Number(id) + 1)
    number = Math.max(number, kept.kind === 'comment' ? 0 : 1)
    const note = this.renewed(kept, part, now, String(number))
    append(this.story.opened, this.story.changes, part, blank, () => note)
    return `<${prefix}${notesOf[kept.kind].reference.slice(2)} ${prefix}id="${number}"/>`
  }
  private text(part: string): string {
    const bytes = this.story.changes.get(part) ?? this.story.opened.bytes(part)
    return bytes ? new TextDecoder().decode(bytes) : ''
  }

  /** Its XML with what it leads to brought into the file, and with numbers that are free. */
  private renewed(kept: Kept, part: string, around: string, noteNumber?: string): string {
    const root = parseXml(new TextEncoder().encode(kept.xml), 'XML')
    const ids = new Map<string, string>()
    for (const one of kept.parts!) ids.set(one.id, this.related(one, part))
    const next = { id: 0, 'w:id': 0 }
    for (const [, id] of around.matchAll(/\bdocPr\b[^>]*?\sid="(\d+)"/g)) next.id = Math.max(next.id, Number(id))
    for (const [, id] of around.matchAll(/\s\w*:?id="(\d{1,9})"/g)) next['w:id'] = Math.max(next['w:id'], Number(id))
    const xml = standingAlone(root, root, (name, value, of) => {
      const number = numberOf(of.name)
      if (name === number) return of === root && noteNumber ? noteNumber : String(++next[number as 'id' | 'w:id'])
      const leads = name.startsWith('r:') || name === 'o:relid'
      return leads ? (ids.get(value) ?? value) : value
    })
    if (xml === null) throw new CannotPatch('prefix')
    return xml
  }
  private related(one: KeptPart, from: string): string {
    if (one.target !== undefined) return relate(this.story.opened, this.story.changes, from, one.type, one.target, true)
    return relate(this.story.opened, this.story.changes, from, one.type, `/${this.partFor(one)}`)
  }
  /** @returns the name of the part that it is now */
  private partFor({ name, data, parts }: KeptPart): string {
    const [folder, stem, ending] = name!
    const [type, bytes] = dataUrlBytes(data!)
    const before = this.story.part.slice(0, this.story.part.lastIndexOf('/') + 1)
    const part = freePart(this.story.opened, this.story.changes, `${before}${folder}/${stem}`, ending)
    this.story.changes.set(part, bytes)
    typeOfPart(this.story.opened, this.story.changes, part, type)
    if (parts?.length) {
      const rows = parts.map((one) => {
        const target = one.target ?? `/${this.partFor(one)}`
        const mode = one.target === undefined ? '' : ' TargetMode="External"'
        return `<Relationship Id="${escapeAttribute(one.id)}" Type="${escapeAttribute(one.type)}" Target="${escapeAttribute(target)}"${mode}/>`
      })
      const xml = `${xmlHead}<Relationships xmlns="${packageNamespace}/relationships">${rows.join('')}</Relationships>`
      this.story.changes.set(relationshipsPartOf(part), new TextEncoder().encode(xml))
    }
    return part
  }

  /** A run's properties with the file's style for the signs of notes, which a file without it gets. */
  private noteRun(kind: NoteKind, properties: string): string {
    const { prefix } = this.story
    const style = `<${prefix}rStyle ${prefix}val="${escapeAttribute(this.noteStyle(kind))}"/>`
    if (!properties) return `<${prefix}rPr>${style}</${prefix}rPr>`
    const without = properties.replace(/<(?:\w+:)?rStyle\s[^>]*\/>/, '')
    return without.replace(/^<[^>]*>/, (open) => open + style)
  }
  private noteStyle(kind: NoteKind): string {
    const known = this.noteStyles.get(kind)
    if (known) return known
    const id = styleOf(this.story.opened, this.story.changes, this.story.lead, {
      name: `${kind} reference`,
      id: kind === 'footnote' ? 'FootnoteReference' : 'EndnoteReference',
      kind: 'character',
      inside: '<w:uiPriority w:val="99"/><w:rPr><w:vertAlign w:val="superscript"/></w:rPr>',
    })
    this.noteStyles.set(kind, id)
    return id
  }
}

/**
 * Whether the file's own thing stands in the text already, as often as in the file: by its number where it has one, else
 * by that of its drawing.
 */
function standsIn(around: string, file: string, raw: string, element: XmlElement): boolean {
  const number = /\s(?:\w+:)?id="([^"]*)"/.exec(raw.slice(0, raw.indexOf('>') + 1))?.[1]
  const drawing = number === undefined ? /\bdocPr\b[^>]*?\sid="(\d+)"/.exec(raw)?.[1] : undefined
  if (number === undefined && drawing === undefined) return false
  const name = element.at!.name.replace(/[^\w:]/g, '')
  const own =
    number === undefined
      ? new RegExp(`\\bdocPr\\b[^>]*?\\sid="${drawing}"`, 'g')
      : new RegExp(`<${name}\\s[^>]*?\\bid="${number.replace(/\D/g, '')}"`, 'g')
  const times = (text: string) => text.match(own)?.length ?? 0
  return times(around) >= times(file)
}
