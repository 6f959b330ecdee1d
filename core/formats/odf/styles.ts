// The styles of a package (ISO/IEC 26300-1 §16.2): common ones, which people name, and automatic ones, which are the looks
// of single places.
import { type ListNumber, listNumberFrom } from '../../content/list-number'
import { child, elements, type XmlElement } from '../opc/xml'
import type { OdfPackage } from './package'
import { firstFamily, propertiesIn, type TextProperties, textProperties } from './properties'

const deepest = 20

/** How one level of a list is numbered. */
export interface ListLevel {
  ordered: boolean
  start: number
  number: ListNumber | null
}

export class OdfStyles {
  private readonly automatic = new Map<string, XmlElement>()
  private readonly common = new Map<string, XmlElement>()
  private readonly lists = new Map<string, XmlElement>()
  private readonly families = new Map<string, string>()
  /** Every name of a style, of whatever kind. */
  readonly names = new Set<string>()

  /** @param part whose places the automatic ones are for */
  constructor({ content, styles }: OdfPackage, part: 'content' | 'styles' = 'content') {
    for (const root of [styles?.root, content.root])
      for (const face of elements(child(root, 'office:font-face-decls'), 'style:font-face')) {
        const family = firstFamily(face.attributes['svg:font-family'])
        if (family) this.families.set(face.attributes['style:name'] ?? '', family)
      }
    this.take(child(styles?.root, 'office:styles'), this.common)
    const [own, other] = part === 'content' ? [content, styles] : [styles, content]
    this.take(child(own?.root, 'office:automatic-styles'), this.automatic)
    for (const one of elements(child(other?.root, 'office:automatic-styles')))
      this.names.add(one.attributes['style:name'] ?? '')
  }
  private take(parent: XmlElement | undefined, into: Map<string, XmlElement>): void {
    for (const one of elements(parent)) {
      const name = one.attributes['style:name']
      if (name === undefined) continue
      this.names.add(name)
      if (one.name === 'style:style') into.set(`${one.attributes['style:family']} ${name}`, one)
      else if (one.name === 'text:list-style') this.lists.set(name, one)
    }
  }

  automaticStyle(family: string, name: string | undefined): XmlElement | undefined {
    return this.automatic.get(`${family} ${name}`)
  }
  commonStyle(family: string, name: string | undefined): XmlElement | undefined {
    return this.common.get(`${family} ${name}`)
  }
  commonStyles(family: string): XmlElement[] {
    return [...this.common.values()].filter((one) => one.attributes['style:family'] === family)
  }
  /** The common style that a name leads to; '' for none. */
  commonName(family: string, name: string | undefined): string {
    const automatic = this.automaticStyle(family, name)
    return (automatic ? automatic.attributes['style:parent-style-name'] : name) ?? ''
  }
  listStyle(name: string | undefined): XmlElement | undefined {
    return this.lists.get(name ?? '')
  }
  /** From what a common style is based on down to itself. */
  chain(family: string, name: string | undefined): XmlElement[] {
    const found: XmlElement[] = []
    let at = this.commonStyle(family, name)
    while (at && found.length < deepest && !found.includes(at)) {
      found.push(at)
      at = this.commonStyle(family, at.attributes['style:parent-style-name'])
    }
    return found.toReversed()
  }

  familyOfFont = (name: string): string | undefined => this.families.get(name)
  textIn = (style: XmlElement | undefined): TextProperties =>
    textProperties(propertiesIn(style, 'text'), this.familyOfFont)
  /** What a style of letters says, with all that it is based on. */
  textOf(name: string | undefined): TextProperties {
    const own = this.automaticStyle('text', name)
    const all = [...this.chain('text', this.commonName('text', name)), ...(own ? [own] : [])]
    return Object.assign({}, ...all.map(this.textIn))
  }

  /** @param level from 1 on */
  listLevel(name: string | undefined, level: number): ListLevel {
    const style = this.lists.get(name ?? '')
    for (const one of elements(style)) {
      if (Number(one.attributes['text:level']) !== level) continue
      if (one.name !== 'text:list-level-style-number') break
      const format = formats[one.attributes['style:num-format'] ?? '']
      if (!format) break
      return {
        ordered: true,
        start: startOf(one.attributes['text:start-value']) ?? 1,
        number: listNumberFrom({
          format,
          before: one.attributes['style:num-prefix'] ?? '',
          after: one.attributes['style:num-suffix'] ?? '',
          path: Number(one.attributes['text:display-levels'] ?? 1) > 1,
        }),
      }
    }
    return { ordered: false, start: 1, number: null }
  }
}

/** §19.500: how numbers are written. */
const formats: Readonly<Record<string, ListNumber['format']>> = {
  1: 'decimal',
  a: 'lower-alpha',
  A: 'upper-alpha',
  i: 'lower-roman',
  I: 'upper-roman',
}
export const formatOfNumber = Object.fromEntries(Object.entries(formats).map(([key, value]) => [value, key]))
export const startOf = (value: string | undefined): number | undefined =>
  value !== undefined && /^\d{1,6}$/.test(value) ? Number(value) : undefined
/** How often something stands there that is said once, or how far it reaches; rows of a sheet are the most. */
export const countOf = (value: string | undefined): number =>
  value !== undefined && /^\d{1,7}$/.test(value) ? Math.max(1, Number(value)) : 1
