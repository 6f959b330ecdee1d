// Automatic styles that a package is given (ISO/IEC 26300-1 §16.2): each look once, under a name that is free.
import type { ListNumber } from '../../content/list-number'
import { elements, escapeAttribute, type XmlElement } from '../opc/xml'
import {
  type ParagraphSays,
  paragraphAttributesOf,
  propertiesIn,
  type TextProperties,
  textAttributes,
  textAttributesOf,
} from './properties'
import { formatOfNumber, type OdfStyles } from './styles'

type Attributes = Readonly<Record<string, string>>

export const attributesXml = (attributes: Attributes): string =>
  Object.entries(attributes)
    .map(([name, value]) => ` ${name}="${escapeAttribute(value)}"`)
    .join('')
export const emptyTag = (name: string, attributes: Attributes): string => `<${name}${attributesXml(attributes)}/>`
export const openTag = (name: string, attributes: Attributes): string => `<${name}${attributesXml(attributes)}>`

/** How deep lists are styled (§16.31). */
const levels = 10
/** Points that each level of a list stands in. */
const levelWidth = 18

export interface ListKind {
  ordered: boolean
  start: number
  number: ListNumber | null
}

export class NewStyles {
  private readonly byLook = new Map<string, string>()
  private readonly made: string[] = []
  private count = 0

  /** @param source the part that the file's own styles are written in */
  constructor(
    private readonly styles: OdfStyles,
    private readonly source: string,
  ) {}

  /** All that was made, as XML. */
  get xml(): string {
    return this.made.join('')
  }
  /** @param xml of a style, by its name @returns that name */
  private named(look: string, xml: (name: string) => string): string {
    const known = this.byLook.get(look)
    if (known) return known
    let name: string
    do name = `J${++this.count}`
    while (this.styles.names.has(name))
    this.styles.names.add(name)
    this.byLook.set(look, name)
    this.made.push(xml(name))
    return name
  }

  text(said: TextProperties): string {
    const properties = emptyTag('style:text-properties', textAttributesOf(said))
    return this.named(
      `text ${properties}`,
      (name) => `${openTag('style:style', { 'style:name': name, 'style:family': 'text' })}${properties}</style:style>`,
    )
  }
  /** What a style of letters says beyond what the model has; null where that is nothing. */
  textWithout(name: string | undefined): string | null {
    const style = this.styles.automaticStyle('text', name)
    const kept = Object.entries(propertiesIn(style, 'text')).filter(([key]) => !textAttributes.has(key))
    if (!kept.length) return null
    const properties = emptyTag('style:text-properties', Object.fromEntries(kept))
    return this.named(
      `text ${properties}`,
      (own) => `${openTag('style:style', { 'style:name': own, 'style:family': 'text' })}${properties}</style:style>`,
    )
  }

  /** @param common the style that people name @param before the automatic style that it had; the rest of that one stays */
  paragraph(common: string, says: ParagraphSays, before: XmlElement | undefined): string {
    const old = elementsByName(before, 'style:paragraph-properties')
    const attributes = paragraphAttributesOf(says, old?.attributes ?? {})
    const inner = old ? this.source.slice(...old.at!.inner) : ''
    const properties =
      Object.keys(attributes).length || inner
        ? `${openTag('style:paragraph-properties', attributes)}${inner}</style:paragraph-properties>`
        : ''
    let others = ''
    for (const one of elements(before)) if (one !== old) others += this.source.slice(one.at!.start, one.at!.end)
    if (!properties && !others) return common
    const kept = Object.fromEntries(
      Object.entries(before?.attributes ?? {}).filter(
        ([name]) =>
          !/^style:(?:name|family|parent-style-name)$/.test(name) && (says.broken || name !== 'style:master-page-name'),
      ),
    )
    const look = `${common} ${JSON.stringify(kept)} ${properties}${others}`
    return this.named(`paragraph ${look}`, (name) => {
      const own = { 'style:name': name, 'style:family': 'paragraph', 'style:parent-style-name': common, ...kept }
      return `${openTag('style:style', own)}${properties}${others}</style:style>`
    })
  }

  /** @param family such as `table-column` @param attributes of its properties */
  plain(family: string, attributes: Attributes): string {
    const properties = emptyTag(`style:${family}-properties`, attributes)
    return this.named(
      `${family} ${properties}`,
      (name) => `${openTag('style:style', { 'style:name': name, 'style:family': family })}${properties}</style:style>`,
    )
  }

  list(kind: ListKind): string {
    return this.named(`list ${JSON.stringify(kind)}`, (name) => {
      let xml = openTag('text:list-style', { 'style:name': name })
      for (let level = 1; level <= levels; level++) xml += levelXml(kind, level)
      return `${xml}</text:list-style>`
    })
  }
  /** The list style that a list had, with one level as another kind. */
  listWith(before: XmlElement | undefined, kind: ListKind, level: number): string {
    if (!before) return this.list(kind)
    const now = levelXml(kind, level)
    let xml = ''
    let put = false
    for (const one of elements(before)) {
      const at = Number(one.attributes['text:level'])
      if (!put && at >= level) {
        xml += now
        put = true
      }
      if (at !== level) xml += this.source.slice(one.at!.start, one.at!.end)
    }
    if (!put) xml += now
    return this.named(
      `list ${xml}`,
      (name) => `${openTag('text:list-style', { 'style:name': name })}${xml}</text:list-style>`,
    )
  }
}

const elementsByName = (parent: XmlElement | undefined, name: string): XmlElement | undefined =>
  elements(parent, name).next().value || undefined

/** One level of a list (§16.31, §16.33), its label hanging before its text. */
function levelXml({ ordered, start, number }: ListKind, level: number): string {
  const place =
    `<style:list-level-properties text:list-level-position-and-space-mode="label-alignment">` +
    emptyTag('style:list-level-label-alignment', {
      'text:label-followed-by': 'listtab',
      'text:list-tab-stop-position': `${levelWidth * (level + 1)}pt`,
      'fo:text-indent': `-${levelWidth}pt`,
      'fo:margin-left': `${levelWidth * (level + 1)}pt`,
    }) +
    `</style:list-level-properties>`
  const name = `text:list-level-style-${ordered ? 'number' : 'bullet'}`
  const attributes: Record<string, string> = { 'text:level': String(level) }
  if (ordered) {
    const { format, before, after, path } = number ?? {
      format: 'decimal' as const,
      before: '',
      after: '.',
      path: false,
    }
    if (before) attributes['style:num-prefix'] = before
    if (after) attributes['style:num-suffix'] = after
    attributes['style:num-format'] = formatOfNumber[format] ?? '1'
    if (start !== 1) attributes['text:start-value'] = String(start)
    if (path && level > 1) attributes['text:display-levels'] = String(level)
  } else attributes['text:bullet-char'] = '•◦▪'[(level - 1) % 3]!
  return `${openTag(name, attributes)}${place}</${name}>`
}
