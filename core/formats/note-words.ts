// The words of a note or a comment, changed within its own XML: each run keeps its look, and what is no text stays where
// it is, as far as the words around it do (ECMA-376 part 1, §17.11 and §17.13.4; ISO/IEC 26300-1, §6.3 and §14.1).
import { diffWordsWithSpace } from 'diff'
import { storableText } from '../content/document'
import { type Kept, mostKeptWords } from '../content/kept'
import { isNote, line, wordsIn } from './docx/kept'
import { type FlatNote, keptNote } from './flat/notes'
import { commentIn, wordsIn as wordsOfLines } from './odt/line'
import { standingAlone } from './opc/alone'
import { decoded, nextTag, Splices, type Tag } from './opc/spans'
import { child, escapeText, parseXml } from './opc/xml'

/** How a type of text says lines. */
interface Way {
  isLine: (name: string) => boolean
  /** What holds lines; everything does where it is undefined. */
  body?: string
  /** What stands between a line and its letters. */
  around: RegExp
  /** What letters of a line stand in; in the line and what is around them themselves, where it is undefined. */
  holds?: string
  /** What is a letter and no text: what it is read as. */
  letter: (xml: string, tag: Tag, parent: string) => string | null
  /** Letters where a line has none yet. */
  first: (text: string) => string
  /** Letters beside what is no text. */
  beside: (text: string) => string
  read: (text: string) => string
  encoded: (text: string) => string
}

/** @param w the prefix of its elements, with the colon */
const wordprocessing = (w: string): Way => {
  const letters: Record<string, string> = {
    [`${w}tab`]: ' ',
    [`${w}br`]: ' ',
    [`${w}cr`]: ' ',
    [`${w}noBreakHyphen`]: '\u2011',
  }
  const besides = (text: string) => `<${w}t xml:space="preserve">${escapeText(text)}</${w}t>`
  return {
    isLine: (name) => name === `${w}p`,
    around: new RegExp(`^${w}(?:r|t|hyperlink|ins|moveTo|smartTag|sdt|sdtContent|fldSimple)$`),
    holds: `${w}t`,
    letter: (_xml, { name }, parent) => (parent === `${w}r` ? (letters[name] ?? null) : null),
    first: (text) => `<${w}r>${besides(text)}</${w}r>`,
    beside: besides,
    read: (text) => text.replace(/\s/g, ' '),
    encoded: escapeText,
  }
}
const openDocument: Way = {
  isLine: (name) => name === 'text:p' || name === 'text:h',
  body: 'text:note-body',
  around: /^text:(?:span|a)$/,
  letter: (xml, { name, start, end }) => {
    if (name === 'text:s')
      return ' '.repeat(Math.min(1000, Number(/text:c="(\d+)"/.exec(xml.slice(start, end))?.[1] ?? 1)))
    return name === 'text:tab' || name === 'text:line-break' ? ' ' : null
  },
  first: (text) => openDocument.encoded(text),
  beside: (text) => openDocument.encoded(text),
  read: (text) => text.replace(/\s+/g, ' '),
  // Of several spaces in a row one is read (ISO/IEC 26300-1, §6.1.2).
  encoded: (text) =>
    escapeText(text).replace(/ {2,}/g, (all) => ` <text:s${all.length > 2 ? ` text:c="${all.length - 1}"` : ''}/>`),
}

interface Piece {
  text: string
  from: number
  to: number
  /** It is no text: it stays or goes. */
  fixed: boolean
  /** The tag of what it stands in, where that says whether its spaces count. */
  holder: Tag | null
}
interface Line {
  pieces: Piece[]
  /** From where it begins to behind it; and where its content ends. */
  open: Tag
  end: number
  to: number
  /** How deep in its note. */
  depth: number
}

/** @returns null for what has something between its tags that is not changed here */
function linesIn(xml: string, way: Way): Line[] | null {
  const lines: Line[] = []
  const names: string[] = []
  const opens: Tag[] = []
  let current: Line | null = null
  /** Of what is within a line and holds no letters of it, how deep that is. */
  let strange = 0
  let within = way.body === undefined || !xml.includes(`<${way.body}`) ? 0 : -1
  for (let at = 0; ; ) {
    const tag = nextTag(xml, at)
    const between = xml.slice(at, tag?.start ?? xml.length)
    const top = names.at(-1)
    if (current && !strange && between && (way.holds === undefined || top === way.holds)) {
      if (between.includes('<')) return null
      const text = way.read(decoded(between))
      current.pieces.push({ text, from: at, to: at + between.length, fixed: false, holder: opens.at(-1)! })
    }
    if (!tag) return lines
    at = tag.end
    if (tag.kind === 'close') {
      names.pop()
      opens.pop()
      if (strange) strange--
      else if (current && names.length === current.depth) {
        current.end = tag.start
        current.to = tag.end
        current = null
      }
      if (tag.name === way.body) within = -1
      continue
    }
    if (!current) {
      if (within >= 0 && names.length > 0 && way.isLine(tag.name)) {
        const one: Line = { pieces: [], open: tag, end: tag.end, to: tag.end, depth: names.length }
        lines.push(one)
        if (tag.kind === 'open') current = one
      }
    } else if (!strange) {
      const letter = way.letter(xml, tag, names.at(-1)!)
      if (letter !== null && tag.kind === 'empty')
        current.pieces.push({ text: letter, from: tag.start, to: tag.end, fixed: true, holder: null })
      else if (tag.kind === 'open' && !way.around.test(tag.name)) strange = 1
    } else if (tag.kind === 'open') strange++
    if (tag.kind === 'open') {
      names.push(tag.name)
      opens.push(tag)
      if (tag.name === way.body) within = 0
    }
  }
}
const textOfLine = ({ pieces }: Line): string => pieces.map(({ text }) => text).join('')

/** How many letters, or lines, two have alike at their beginnings and at their ends. */
function alike<T>(was: ArrayLike<T>, is: ArrayLike<T>, least = 0): readonly [start: number, end: number] {
  const most = Math.min(was.length, is.length)
  let start = 0
  while (start < most && was[start] === is[start]) start++
  let end = 0
  while (end < most - Math.max(start, least) && was[was.length - 1 - end] === is[is.length - 1 - end]) end++
  return [start, end]
}

interface Edit {
  start: number
  stop: number
  put: string
}
/** What makes one line of another: word by word, and of each only the letters that differ. */
function edits(was: string, is: string): Edit[] {
  const found: Edit[] = []
  let at = 0
  const add = (gone: string, come: string) => {
    const [start, end] = alike(gone, come)
    found.push({ start: at + start, stop: at + gone.length - end, put: come.slice(start, come.length - end) })
    at += gone.length
  }
  let gone: string | null = null
  for (const { value, added, removed } of diffWordsWithSpace(was, is)) {
    if (removed) gone = (gone ?? '') + value
    else if (added) {
      add(gone ?? '', value)
      gone = null
    } else {
      if (gone !== null) add(gone, '')
      gone = null
      at += value.length
    }
  }
  if (gone !== null) add(gone, '')
  return found
}

/** The piece that what an edit puts in goes into, or stands beside; -1 where there is none. */
function pieceFor(pieces: readonly Piece[], places: readonly number[], { start, stop }: Edit): number {
  const ends = (index: number) => places[index]! + pieces[index]!.text.length
  const covers = (index: number) => places[index]! <= start && start <= ends(index)
  const texts = pieces.flatMap(({ fixed }, index) => (fixed ? [] : [index]))
  // What is written over text looks as that did; what is written where text ends goes on with it.
  return (
    texts.find((index) => stop > start && places[index]! <= start && start < ends(index)) ??
    texts.find((index) => covers(index) && (places[index]! < start || places[index] === 0)) ??
    texts.find(covers) ??
    // Between what is no text, it stands beside it.
    pieces.findIndex((_, index) => covers(index))
  )
}

/** Says another thing in a line: what goes is cut out of its pieces, what comes stands with what is to the left of it. */
function rewrite(splices: Splices, xml: string, line: Line, is: string, way: Way): void {
  const { pieces } = line
  const places: number[] = []
  let place = 0
  for (const { text } of pieces) {
    places.push(place)
    place += text.length
  }
  const all = edits(textOfLine(line), is).map((edit) => ({ ...edit, into: pieceFor(pieces, places, edit) }))
  pieces.forEach(({ text, from, to, fixed, holder }, index) => {
    let now = text
    const besides: [at: number, put: string][] = []
    let cutInto = false
    // From behind, so that places before an edit stay what they are.
    for (const { start, stop, put, into } of all.toReversed()) {
      const cut = [start, stop].map((at) => Math.min(Math.max(at - places[index]!, 0), text.length))
      const comes = index === into ? put : ''
      if (cut[0] === cut[1] && !comes) continue
      if (fixed && cut[0] === cut[1] && (cut[0] === 0 || cut[0] === text.length)) {
        besides.push([cut[0] ? to : from, comes])
        continue
      }
      now = now.slice(0, cut[0]) + comes + now.slice(cut[1])
      cutInto = true
    }
    for (const [at, put] of besides.toReversed()) splices.insert(at, way.beside(put))
    if (!cutInto) return
    splices.replace(from, to, fixed ? now && way.beside(now) : way.encoded(now))
    const tag = holder ? xml.slice(holder.start, holder.end) : ''
    if (!fixed && way.holds && !tag.includes('xml:space=')) splices.insert(holder!.end - 1, ' xml:space="preserve"')
  })
  const loose = all
    .filter(({ into }) => into < 0)
    .map(({ put }) => put)
    .join('')
  if (!loose) return
  if (line.open.kind === 'open') splices.insert(line.end, way.first(loose))
  else
    splices.replace(
      line.open.start,
      line.open.end,
      `${xml.slice(line.open.start, line.open.end).replace(/\s*\/>$/, '>')}${way.first(loose)}</${line.open.name}>`,
    )
}

/** A line as another one begins, for one that comes behind it: its tag and what it says of itself. */
function likeLine(xml: string, { open, end }: Line, text: string, way: Way): string {
  const tag = xml
    .slice(open.start, open.end)
    .replace(/\s*\/?>$/, '>')
    .replace(/\s(?:w14:(?:paraId|textId)|xml:id|text:id)="[^"]*"/g, '')
  const inner = open.kind === 'open' ? xml.slice(open.end, end) : ''
  const properties = /^<(\w+:)pPr>[\s\S]*?<\/\1pPr>|^<\w+:pPr\/>/.exec(inner)?.[0] ?? ''
  return `${tag}${properties}${text && way.first(text)}</${open.name}>`
}

/**
 * XML of a note or a comment that says other lines.
 * @param way the prefix of WordprocessingML's elements with its colon; null for the open standard's
 * @returns null where it cannot be changed so
 */
export function sayingIn(xml: string, lines: readonly string[], prefix: string | null): string | null {
  const way = prefix === null ? openDocument : wordprocessing(prefix)
  const there = linesIn(xml, way)
  if (!there?.length) return null
  const said = there.map(textOfLine)
  const bare = said.map((text) => text.trim())
  const is = (lines.length ? lines : ['']).map((text) => storableText(text).trim())
  // The sign of a note stands in its first line, which stays.
  const [start, end] = alike(bare, is, 1)
  const splices = new Splices()
  const paired = Math.min(bare.length, is.length) - end
  const whole = (index: number, text: string) => {
    const [lead = ''] = /^\s*/.exec(said[index]!) ?? []
    const tail = bare[index] ? said[index]!.slice(lead.length + bare[index]!.length) : ''
    return lead + text + tail
  }
  for (let index = start; index < paired; index++) rewrite(splices, xml, there[index]!, whole(index, is[index]!), way)
  // What comes stands behind the last one before it; what goes goes, but for the only line of something.
  const before = there[Math.max(0, paired - 1)]!
  for (let index = paired; index < is.length - end; index++)
    splices.insert(before.to, likeLine(xml, before, is[index]!, way))
  for (let index = paired; index < bare.length - end; index++) {
    const line = there[index]!
    if (line.depth === before.depth) splices.replace(line.open.start, line.to, '')
    else rewrite(splices, xml, line, '', way)
  }
  return splices.any ? splices.apply(xml) : xml
}

const isWordprocessing = ({ xml }: Kept): boolean => /^<w:(?:footnote|endnote|comment)[\s>/]/.test(xml)
const prefixOf = (kept: Kept): string | null => (isWordprocessing(kept) ? 'w:' : null)
const isSaid = (kept: Kept): boolean =>
  isNote(kept.kind) && (isWordprocessing(kept) || /^<(?:text:note|office:annotation)[\s>]/.test(kept.xml))

/** The lines of a note or a comment; null for what is none, or whose lines cannot be changed. */
export function linesSaid(kept: Kept): string[] | null {
  if (!isSaid(kept)) return null
  const prefix = prefixOf(kept)
  const lines = linesIn(kept.xml, prefix === null ? openDocument : wordprocessing(prefix))
  return lines?.length ? lines.map((one) => textOfLine(one).trim()) : null
}

/** A note or a comment that says other lines. @returns null where it cannot be changed */
export function saying(kept: Kept, lines: readonly string[]): Kept | null {
  if (!isSaid(kept)) return null
  const prefix = prefixOf(kept)
  const xml = sayingIn(kept.xml, lines, prefix)
  if (xml === null) return null
  const root = parseXml(new TextEncoder().encode(xml), 'XML')
  if (prefix === null) {
    const words = kept.kind === 'comment' ? commentIn(root) : wordsOfLines(child(root, 'text:note-body'))
    return { ...kept, xml, words: words.slice(0, mostKeptWords) }
  }
  const alone = standingAlone(root, root, (_name, value) => value)
  if (alone === null) return null
  const who = kept.kind === 'comment' ? root.attributes['w:author'] : undefined
  return { ...kept, xml: alone, words: line(who ? `${who}: ${wordsIn(root)}` : wordsIn(root)) }
}

/** A note as the model keeps a new one: between its sign and its words stands a space. */
export const newNote = (kind: FlatNote, lines: readonly string[]): Kept =>
  keptNote(
    kind,
    lines.map((text, at) => [{ text: at ? text : ` ${text}`, strong: false, em: false }]),
  )

const namespace = 'http://schemas.openxmlformats.org/wordprocessingml/2006/main'

/** A comment as the model keeps a new one. @param when ISO 8601; empty where nobody knows */
export function newComment(who: string, when: string, lines: readonly string[]): Kept {
  const initials = Array.from(who.matchAll(/(?<![\p{L}\p{N}])[\p{L}\p{N}]/gu), ([letter]) => letter).join('')
  const root = parseXml(new TextEncoder().encode(`<w:comment xmlns:w="${namespace}"><w:p/></w:comment>`), 'XML')
  root.attributes = {
    ...root.attributes,
    'w:id': '0',
    'w:author': storableText(who),
    ...(when && { 'w:date': when.replace(/\.\d+/, '') }),
    'w:initials': initials.slice(0, 9),
  }
  const blank: Kept = {
    kind: 'comment',
    words: '',
    xml: standingAlone(root, root, (_name, value) => value)!,
    parts: [],
  }
  return saying(blank, lines)!
}
