// Notes and comments in the parts that they stand in: one that says something else says it there, and keeps its number
// and what other parts say of it; one that went goes there too (ECMA-376 part 1, §17.11, §17.13.4).
import type { Kept } from '../../content/kept'
import { linesSaid, sayingIn } from '../note-words'
import { standingAlone } from '../opc/alone'
import { relationshipKind } from '../opc/package'
import { attributeOf, childrenIn, rootOf, type Spanned, Splices, textOfPart } from '../opc/spans'
import { elements, parseXml, type XmlElement } from '../opc/xml'
import { fleeting, type NoteKind, notesOf, numberOf } from './kept'
import type { Story } from './story'

interface NotesPart {
  part: string
  xml: string
  encode: (xml: string) => Uint8Array
}

const partsLedTo = (story: Story, kinds: RegExp): string[] =>
  [...story.opened.relationships(story.part).values()]
    .filter((one) => !one.external && kinds.test(relationshipKind(one)))
    .map(({ target }) => target)

function readPart(story: Story, part: string): NotesPart | null {
  const bytes = story.changes.get(part) ?? story.opened.bytes(part)
  const text = bytes && textOfPart(bytes)
  return text ? { part, ...text } : null
}
const notesPart = (story: Story, kind: NoteKind): NotesPart | null => {
  const [part] = partsLedTo(story, new RegExp(`^${notesOf[kind].part}$`))
  return part ? readPart(story, part) : null
}
const localName = (name: string): string => name.replace(/^.*:/, '')
/** An attribute whatever prefix the file has for it. */
const valueOf = (xml: string, one: Spanned, name: string): string | undefined =>
  attributeOf(xml, one, `${one.name.slice(0, one.name.length - localName(one.name).length)}${name}`)

function* notesIn({ xml }: NotesPart, kind: NoteKind): Generator<Spanned> {
  for (const one of childrenIn(xml, rootOf(xml).inner))
    if (localName(one.name) === localName(notesOf[kind].element)) yield one
}

/**
 * Has the note that a reference leads to say what the model has of it.
 * @returns whether that is all that differs, so that it was done
 */
export function changedNote(story: Story, kept: Kept, reference: XmlElement): boolean {
  const kind = kept.kind as NoteKind
  const lines = linesSaid(kept)
  const there = lines && notesPart(story, kind)
  if (!lines || !there) return false
  const id = Object.entries(reference.attributes).find(([key]) => localName(key) === 'id')?.[1]
  const note = [...notesIn(there, kind)].find((one) => valueOf(there.xml, one, 'id') === id)
  if (!note) return false
  const prefix = note.name.slice(0, note.name.length - localName(note.name).length)
  const now = sayingIn(there.xml.slice(note.start, note.end), lines, prefix)
  if (now === null) return false
  const splices = new Splices()
  splices.replace(note.start, note.end, now)
  const xml = splices.apply(there.xml)
  const root = parseXml(new TextEncoder().encode(xml), there.part)
  const read = [...elements(root, notesOf[kind].element)].find((one) => one.attributes['w:id'] === id)
  const leads = story.opened.relationships(there.part)
  let led = 0
  const alone =
    read &&
    standingAlone(read, root, (name, value, { name: of }) => {
      if (fleeting.test(name)) return null
      if (name === numberOf(of)) return '0'
      return name.startsWith('r:') && leads.has(value) ? String(led++) : value
    })
  if (alone !== kept.xml) return false
  story.changes.set(there.part, there.encode(xml))
  return true
}

/** The text without what led to notes that are not there any more; their parts do not hold them any more, either. */
export function withoutGoneNotes(story: Story, xml: string): string {
  let text = xml
  for (const kind of Object.keys(notesOf) as NoteKind[]) {
    const referred = (of: string) => {
      const references = new RegExp(`<(?:\\w+:)?${localName(notesOf[kind].reference)}\\s[^>]*?\\bid="(-?\\d+)"`, 'g')
      return new Set(Array.from(of.matchAll(references), ([, id]) => id!))
    }
    const now = referred(text)
    const gone = new Set([...referred(story.xml)].filter((id) => !now.has(id)))
    if (!gone.size) continue
    if (kind === 'comment')
      text = text.replace(/<(?:\w+:)?commentRange(?:Start|End)\s[^>]*?\bid="(\d+)"[^>]*?\/>/g, (mark, id) =>
        gone.has(id) ? '' : mark,
      )
    const there = notesPart(story, kind)
    if (!there) continue
    const splices = new Splices()
    const paragraphs = new Set<string>()
    for (const one of notesIn(there, kind)) {
      if (!gone.has(valueOf(there.xml, one, 'id') ?? '')) continue
      splices.replace(one.start, one.end, '')
      for (const [, id] of there.xml.slice(one.start, one.end).matchAll(/\sw14:paraId="([^"]*)"/g)) paragraphs.add(id!)
    }
    if (!splices.any) continue
    story.changes.set(there.part, there.encode(splices.apply(there.xml)))
    if (kind === 'comment' && paragraphs.size) forgetComments(story, paragraphs)
  }
  return text
}

/** What else is said of comments, by their paragraphs: that one is done, or answers another one ([MS-DOCX] §2.5.4). */
function forgetComments(story: Story, paragraphs: ReadonlySet<string>): void {
  for (const part of partsLedTo(story, /^comments(?:Extended|Ids)$/)) {
    const there = readPart(story, part)
    if (!there) continue
    const splices = new Splices()
    for (const one of childrenIn(there.xml, rootOf(there.xml).inner)) {
      if (paragraphs.has(valueOf(there.xml, one, 'paraId') ?? '')) splices.replace(one.start, one.end, '')
      else if (paragraphs.has(valueOf(there.xml, one, 'paraIdParent') ?? '')) {
        const tag = there.xml.slice(one.start, one.end)
        splices.replace(one.start, one.end, tag.replace(/\s\w+:paraIdParent="[^"]*"/, ''))
      }
    }
    if (splices.any) story.changes.set(part, there.encode(splices.apply(there.xml)))
  }
}
