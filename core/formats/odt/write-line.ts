// A line written with the letters of the file that it came from: what stood between them and around them stays.
import { Mark, type Node } from 'prosemirror-model'
import type { NewStyles } from '../odf/new-styles'
import { attributesXml } from '../odf/new-styles'
import { missingFrom, propertiesOf, type TextProperties } from '../odf/properties'
import { escapeText } from '../opc/xml'
import { lettersBeside } from './letters'
import { type Around, linkOf, type Token } from './line'

/** A letter, or something that stands like one. */
interface Unit {
  key: string
  text: string | null
  node: Node | null
  marks: readonly Mark[]
}
interface OldUnit {
  key: string
  around: Around | null
  marks: readonly Mark[]
  xml: string
}

export interface LineWriter {
  styles: NewStyles
  /** What a thing is written as; '' for one that cannot be. */
  leaf(node: Node): string
  /** Whether a mark between letters stays. */
  stays(point: string): boolean
}

const keyOfLeaf = (node: Node): string => `leaf ${JSON.stringify({ ...node.attrs, type: node.type.name })}`

function unitsOf(line: Node): Unit[] {
  const units: Unit[] = []
  line.forEach((child) => {
    if (child.isText)
      for (const letter of child.text!) units.push({ key: letter, text: letter, node: null, marks: child.marks })
    else units.push({ key: keyOfLeaf(child), text: null, node: child, marks: child.marks })
  })
  return units
}

/** The file's letters, and what stands before each of them and behind the last. */
function oldUnitsOf(tokens: readonly Token[]): { units: OldUnit[]; points: string[][] } {
  const units: OldUnit[] = []
  const points: string[][] = [[]]
  const add = (unit: OldUnit) => {
    units.push(unit)
    points.push([])
  }
  for (const token of tokens) {
    if (token.is === 'point') points.at(-1)!.push(token.xml)
    else if (token.is === 'leaf')
      add({ key: keyOfLeaf(token.node), around: token.around, marks: token.node.marks, xml: token.xml })
    else
      for (const letter of token.text)
        add({ key: letter, around: token.around, marks: token.marks, xml: letter === ' ' && !token.said ? ' ' : '' })
  }
  return { units, points }
}

/**
 * @param tokens of the paragraph that it was; none for a new one
 * @param base what its letters have by its own style
 */
export function writeLine(line: Node, tokens: readonly Token[], base: TextProperties, writer: LineWriter): string {
  const now = unitsOf(line)
  const { units: old, points } = oldUnitsOf(tokens)
  const from = lettersBeside(
    old.map(({ key }) => key),
    now.map(({ key }) => key),
  )
  /** The letter of the file that the writing comes to next. */
  const next = new Int32Array(now.length)
  for (let at = now.length - 1, to = old.length; at >= 0; at--) next[at] = to = from[at]! >= 0 ? from[at]! : to
  /** The one that it came from last. */
  let before = -1
  const arounds = new Arounds(base, writer.styles)
  const open: Around[] = []
  let out = ''
  let passed = 0
  const flush = (to: number) => {
    for (; passed <= to; passed++) for (const xml of points[passed] ?? []) if (writer.stays(xml)) out += xml
  }
  let inside: Around | null = null
  const enter = (around: Around | null) => {
    if (around === inside) return
    inside = around
    const chain: Around[] = []
    for (let at = around; at; at = at.parent) chain.unshift(at)
    let same = 0
    while (same < open.length && same < chain.length && open[same] === chain[same]) same++
    while (open.length > same) out += `</${open.pop()!.name}>`
    for (const one of chain.slice(same)) {
      out += one.open
      open.push(one)
    }
  }
  for (const [at, unit] of now.entries()) {
    const was = from[at]!
    if (was >= 0) flush(was)
    // What is written over something stands between the marks that it stood between.
    else if (passed < next[at]!) flush(passed)
    if (was >= 0) before = was
    // New letters are written like the ones beside them that look the same.
    const like = was >= 0 ? old[was] : [old[before], old[next[at]!]].find((one) => one && sameMarks(one, unit))
    const around = like ?? old[from[at - 1] ?? -1]
    enter(arounds.wanted(unit.marks, around?.around ?? null))
    if (unit.text === null) out += was >= 0 ? old[was]!.xml : writer.leaf(unit.node!)
    else if (was >= 0 && old[was]!.xml && staysBeside(from, at, old.length)) out += ' '
    else out += letterXml(now, at)
  }
  enter(null)
  flush(points.length)
  return out.replace(/(?:<text:s\/>){2,}/g, (all) => `<text:s text:c="${all.length / '<text:s/>'.length}"/>`)
}

const sameMarks = (one: OldUnit, other: Unit): boolean => Mark.sameSet(one.marks, other.marks)

/** Whether a letter has the neighbours that it had. */
const staysBeside = (from: Int32Array, at: number, count: number): boolean => {
  const was = from[at]!
  const before = at === 0 ? was === 0 : from[at - 1] === was - 1
  return before && (at === from.length - 1 ? was === count - 1 : from[at + 1] === was + 1)
}

/** White space that would be put together with more, or left out, is said by elements (ISO/IEC 26300-1 §6.1.3). */
function letterXml(line: readonly Unit[], at: number): string {
  const letter = line[at]!.text!
  if (letter === '\t') return '<text:tab/>'
  if (letter !== ' ') return escapeText(letter)
  const isWord = (unit: Unit | undefined) => !!unit?.text && unit.text !== ' ' && unit.text !== '\t'
  return isWord(line[at - 1]) && isWord(line[at + 1]) ? ' ' : '<text:s/>'
}

/** What letters stand in, so that they have what they are to have. */
class Arounds {
  private readonly made = new Map<Around | null, Map<string, Around>>()
  private readonly found = new Map<readonly Mark[], Map<Around | null, Around | null>>()

  constructor(
    private readonly base: TextProperties,
    private readonly styles: NewStyles,
  ) {}

  wanted(marks: readonly Mark[], like: Around | null): Around | null {
    let known = this.found.get(marks)
    if (!known) this.found.set(marks, (known = new Map()))
    let around = known.get(like)
    if (around === undefined) known.set(like, (around = this.find(marks, like)))
    return around
  }
  private find(marks: readonly Mark[], like: Around | null): Around | null {
    const { properties, link } = propertiesOf(marks)
    let around = linkOf(like) === link ? like : this.led(like, link)
    let missing = missingFrom(properties, around?.properties ?? this.base)
    // A size and a font can only be taken away where they were given.
    while (around && (missing.size === null || missing.font === null) && around.name === 'text:span') {
      const rest = this.styles.textWithout(around.style)
      around = rest ? this.span(around.parent, rest, {}) : around.parent
      missing = missingFrom(properties, around?.properties ?? this.base)
    }
    return Object.keys(missing).length ? this.span(around, this.styles.text(missing), missing) : around
  }

  private span(parent: Around | null, style: string, says: TextProperties): Around {
    return this.once(parent, `span ${style}`, {
      open: `<text:span${attributesXml({ 'text:style-name': style })}>`,
      name: 'text:span',
      properties: { ...(parent?.properties ?? this.base), ...says },
      link: null,
      style,
    })
  }
  /** The same without its link, and in another one. */
  private led(like: Around | null, link: string | null): Around | null {
    const chain: Around[] = []
    for (let at = like; at; at = at.parent) if (at.link === null) chain.unshift(at)
    let around: Around | null = null
    if (link !== null)
      around = this.once(null, `link ${link}`, {
        open: `<text:a${attributesXml({ 'xlink:type': 'simple', 'xlink:href': link })}>`,
        name: 'text:a',
        properties: this.base,
        link,
        style: undefined,
      })
    for (const { open, name, properties, style } of chain)
      around = this.once(around, open, { open, name, properties, link: null, style })
    return around
  }
  private once(parent: Around | null, key: string, made: Omit<Around, 'parent'>): Around {
    let inside = this.made.get(parent)
    if (!inside) this.made.set(parent, (inside = new Map()))
    let around = inside.get(key)
    if (!around) inside.set(key, (around = { parent, ...made }))
    return around
  }
}
