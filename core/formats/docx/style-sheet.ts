import type { Mark } from 'prosemirror-model'
import { documentSchema } from '../../content/document'
import { onOff, valueOf } from '../opc/package'
import { child, elements, type XmlElement } from '../opc/xml'
import { foreignGap, ownStylesMark } from './styles'

const { marks } = documentSchema

export interface ParagraphStyle {
  name: string
  /** Its id where it is not the usual style of its kind, so that the model names it. */
  named: string | null
  /** 1 to 6 for headings, 0 for the rest. */
  heading: number
  role: 'plain' | 'quote' | 'quote anew' | 'gap'
  align: string | undefined
  number: string | undefined
  numberLevel: string | undefined
  marks: readonly Mark[]
  /** Whether the model can say what the style says. */
  known: boolean
}

export interface Styles {
  /** The ids of its styles of paragraphs. */
  ids: readonly string[]
  /** The id of the usual one. */
  usual: string
  /** Another program wrote the file. */
  foreign: boolean
  paragraph(id: string): ParagraphStyle
  character(id: string | undefined): { marks: readonly Mark[]; foreign: string | null }
}

const quiet =
  /^(normal|body text.*|first paragraph|compact|list.*|text body|standard|default( paragraph style)?|table contents|no spacing|header|footer|date|author|caption)$/i

/** styles.xml with its inheritance resolved (ECMA-376 part 1, §17.7.2). */
export function readStyles(root: XmlElement | undefined): Styles {
  const styles = new Map<string, XmlElement>()
  let normal = ''
  let foreign = true
  for (const style of elements(root, 'w:style')) {
    const id = style.attributes['w:styleId'] ?? ''
    styles.set(id, style)
    if (
      style.attributes['w:type'] === 'paragraph' &&
      onOff({ name: '', attributes: { val: style.attributes['w:default'] ?? '0' }, children: [] })
    )
      normal = id
    if (valueOf(style, 'w:name') === ownStylesMark) foreign = false
  }
  /** A style and those it is based on, the nearest first. */
  const chain = (id: string): XmlElement[] => {
    const found: XmlElement[] = []
    for (
      let at = styles.get(id);
      at && found.length < 20 && !found.includes(at);
      at = styles.get(valueOf(at, 'w:basedOn') ?? '')
    )
      found.push(at)
    return found
  }
  /** Of text the usual style, of headings and quotes those that the standard names. */
  const usual = (id: string, name: string, heading: number, role: ParagraphStyle['role']): boolean => {
    if (heading) return new RegExp(`^heading ${heading}$`, 'i').test(name)
    if (role !== 'plain') return /^quote$/i.test(name) || role !== 'quote'
    return id === normal || /^list paragraph$/i.test(name)
  }
  const nearest = <T>(line: XmlElement[], read: (style: XmlElement) => T | undefined): T | undefined => {
    for (const style of line) {
      const value = read(style)
      if (value !== undefined) return value
    }
    return undefined
  }
  const marksOf = (line: XmlElement[]): Mark[] => {
    const set: Mark[] = []
    const run = (name: string) => nearest(line, (style) => onOff(child(child(style, 'w:rPr'), name)))
    if (run('w:b')) set.push(marks.strong.create())
    if (run('w:i')) set.push(marks.em.create())
    if (run('w:strike')) set.push(marks.strike.create())
    if (run('w:u')) set.push(marks.underline.create())
    return set
  }

  const paragraphs = new Map<string, ParagraphStyle>()
  const characters = new Map<string, { marks: readonly Mark[]; foreign: string | null }>()
  return {
    foreign,
    usual: normal,
    ids: [...styles].flatMap(([id, style]) => (style.attributes['w:type'] === 'paragraph' ? [id] : [])),
    paragraph(id) {
      const cached = paragraphs.get(id)
      if (cached) return cached
      const line = chain(styles.has(id) ? id : normal)
      const names = line.map((style) => valueOf(style, 'w:name') ?? '')
      const named = names.map((name) => /^heading ([1-9])$/i.exec(name)?.[1]).find(Boolean)
      const outline = nearest(line, (style) => valueOf(child(style, 'w:pPr'), 'w:outlineLvl'))
      const title = /^title$/i.test(names[0] ?? '')
      const heading = title
        ? 1
        : named
          ? Math.min(6, Number(named))
          : outline !== undefined && Number(outline) < 6
            ? Number(outline) + 1
            : 0
      const quote = names.some((name) => /^(quote|intense quote|block text|quotations)$/i.test(name))
      const role =
        names[0] === ownStylesMark || names[0] === foreignGap
          ? 'gap'
          : names[0] === 'Quote anew' && !foreign
            ? 'quote anew'
            : quote || (names[0] === 'Quote anew' && !foreign)
              ? 'quote'
              : 'plain'
      const numbering = nearest(line, (style) => child(child(style, 'w:pPr'), 'w:numPr'))
      const style: ParagraphStyle = {
        name: names[0] ?? '',
        named: foreign && styles.has(id) && !usual(id, names[0] ?? '', heading, role) ? id : null,
        heading,
        role,
        numberLevel: valueOf(numbering, 'w:ilvl'),
        number: valueOf(numbering, 'w:numId'),
        align: nearest(line, (one) => valueOf(child(one, 'w:pPr'), 'w:jc')),
        // A heading or a quote has its own look here; direct formatting is kept as it is.
        marks: heading || role !== 'plain' ? [] : marksOf(line),
        known: heading > 0 || role !== 'plain' || quiet.test(names[0] ?? ''),
      }
      paragraphs.set(id, style)
      return style
    },
    character(id) {
      if (id === undefined) return { marks: [], foreign: null }
      const cached = characters.get(id)
      if (cached) return cached
      const line = chain(id)
      const name = valueOf(line[0], 'w:name') ?? ''
      const style = {
        marks: /^(hyperlink|internet link|followedhyperlink)$/i.test(name) ? [] : marksOf(line),
        foreign: null,
      }
      characters.set(id, style)
      return style
    },
  }
}
