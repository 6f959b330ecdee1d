// How cells look by their styles (ISO/IEC 26300-1 §16.27.15 and §17.18), as the model and what stands beside it have it.
import type { BorderSide, CellLook } from '../../content/looks'
import type { CellStyle } from '../../content/workbook'
import type { UsualFont } from '../beside'
import { pointsOf } from '../odf/lengths'
import { emptyTag, openTag } from '../odf/new-styles'
import type { OdfPackage } from '../odf/package'
import { propertiesIn, type TextProperties, textAttributes, textAttributesOf } from '../odf/properties'
import type { OdfStyles } from '../odf/styles'
import { child, elements, type XmlElement } from '../opc/xml'
import { codeOf, dataStylesOf, NoStyle, simplified } from './number-format'

const sides = ['top', 'right', 'bottom', 'left'] as const
type Attributes = Readonly<Record<string, string>>

/** What a cell looks like, in both of its parts. */
export interface CellLooks {
  style: CellStyle | undefined
  look: CellLook | undefined
}

const lines: Readonly<Record<string, BorderSide['line']>> = {
  solid: 'solid',
  double: 'double',
  dotted: 'dotted',
  dashed: 'dashed',
  'fine-dashed': 'dashed',
  'dash-dot': 'dashed',
  'dash-dot-dot': 'dashed',
  'double-thin': 'double',
}
const colorIn = (value: string | undefined): string | null =>
  value && /^#[0-9a-f]{6}$/i.test(value) ? value.toLowerCase() : null
function borderOf(value: string | undefined): BorderSide | undefined {
  if (!value) return undefined
  const parts = value.trim().split(/\s+/)
  const line = parts.map((part) => lines[part]).find(Boolean)
  if (!line) return undefined
  const points = parts.map((part) => pointsOf(part)).find((one) => one !== undefined) ?? 0.75
  const width = line === 'double' ? 3 : points < 1.2 ? 1 : points < 2.2 ? 2 : 3
  const color = colorIn(parts.find((part) => part.startsWith('#')))
  return { width, line, color }
}
const borderText = ({ width, line, color }: BorderSide): string =>
  `${line === 'double' ? 2.5 : [0.75, 1.75, 2.5][width - 1]}pt ${line}${color ? ` ${color}` : ''}`

/** The styles of a package's cells, each resolved once. */
export class CellStyles {
  private readonly known = new Map<string, CellLooks>()
  private readonly data = new Map<string, XmlElement>()
  private readonly base: { cell: Attributes; text: TextProperties }
  readonly usual: UsualFont | undefined
  /** Formats that no code says. */
  readonly unsaid = new Set<string>()
  /** Styles that say what is not seen here: turned text, text that is made to fit. */
  readonly unseen = new Set<string>()
  /** Styles that are others under conditions. */
  readonly conditional = new Set<string>()

  constructor(
    { content, styles: part }: OdfPackage,
    private readonly styles: OdfStyles,
  ) {
    const common = child(part?.root, 'office:styles')
    for (const parent of [
      common,
      child(part?.root, 'office:automatic-styles'),
      child(content.root, 'office:automatic-styles'),
    ])
      for (const one of elements(parent))
        if (one.name.startsWith('number:')) this.data.set(one.attributes['style:name'] ?? '', one)
    let usual: TextProperties = {}
    for (const one of elements(common, 'style:default-style'))
      if (one.attributes['style:family'] === 'table-cell') usual = this.styles.textIn(one)
    const own = this.styles.commonStyle('table-cell', 'Default')
    this.base = { cell: propertiesIn(own, 'table-cell'), text: { ...usual, ...this.styles.textIn(own) } }
    const { font, size } = this.base.text
    this.usual = font || size ? { name: font ?? 'Liberation Sans', size: size ?? 10 } : undefined
  }

  of(name: string | undefined): CellLooks {
    const key = name ?? 'Default'
    let known = this.known.get(key)
    if (!known) this.known.set(key, (known = this.resolved(key)))
    return known
  }

  private resolved(name: string): CellLooks {
    const automatic = this.styles.automaticStyle('table-cell', name)
    const common = this.styles.chain('table-cell', this.styles.commonName('table-cell', name) || 'Default')
    const all = [...common, ...(automatic ? [automatic] : [])]
    const said: Record<string, string> = {}
    let text: TextProperties = { ...this.base.text }
    let align = ''
    let format: string | undefined
    for (const one of all) {
      Object.assign(said, expanded(propertiesIn(one, 'table-cell')))
      text = { ...text, ...this.styles.textIn(one) }
      align = propertiesIn(one, 'paragraph')['fo:text-align'] ?? align
      const data = one.attributes['style:data-style-name']
      if (data !== undefined) format = this.code(data)
    }
    if (Number(said['style:rotation-angle'] ?? 0) || said['style:shrink-to-fit'] === 'true') this.unseen.add(name)
    if (child(automatic, 'style:map')) this.conditional.add(name)
    const style: Record<string, unknown> = {}
    if (text.strong) style.bold = true
    if (text.em) style.italic = true
    if (text.underline) style.underline = true
    if (text.strike) style.strike = true
    const fill = colorIn(said['fo:background-color'])
    if (fill) style.fill = fill
    if (text.color && text.color !== '#000000') style.color = text.color
    const side = { start: 'left', left: 'left', center: 'center', end: 'right', right: 'right' }[align]
    if (side) style.align = side
    if (said['fo:wrap-option'] === 'wrap') style.wrap = true
    if (format !== undefined) style.format = format
    const look: Record<string, unknown> = {}
    for (const one of sides) {
      const border = borderOf(said[`fo:border-${one}`])
      if (border) look[one] = border
    }
    if (text.font && text.font !== this.usual?.name) look.font = text.font
    if (text.size && text.size !== this.usual?.size) look.size = text.size
    const vertical = said['style:vertical-align']
    if (vertical === 'top' || vertical === 'middle') look.vertical = vertical
    return {
      style: Object.keys(style).length ? (style as CellStyle) : undefined,
      look: Object.keys(look).length ? (look as CellLook) : undefined,
    }
  }

  private code(name: string): string | undefined {
    const style = this.data.get(name)
    const code = style && codeOf(style, (other) => this.data.get(other))
    if (code === null) this.unsaid.add(name)
    return code ?? undefined
  }
}
/** A border of all sides is one of each. */
function expanded(said: Attributes): Record<string, string> {
  const { 'fo:border': all, ...rest } = said
  if (all === undefined) return rest
  return { ...Object.fromEntries(sides.map((side) => [`fo:border-${side}`, all])), ...rest }
}

const cellAttributes = new Set([
  'fo:background-color',
  'fo:wrap-option',
  'style:vertical-align',
  'fo:border',
  ...sides.map((side) => `fo:border-${side}`),
])
const without = (said: Attributes, known: ReadonlySet<string>): Record<string, string> =>
  Object.fromEntries(Object.entries(said).filter(([name]) => !known.has(name)))

const sideOf = { center: 'center', left: 'start', right: 'end' } as const

/** Automatic styles of cells, columns, rows and numbers that are made, each look once. */
export class NewCellStyles {
  private readonly made: string[] = []
  private readonly known = new Map<string, string>()
  private counts = new Map<string, number>()
  /** @param source the part that the file's own styles are written in */
  constructor(
    private readonly names: Set<string>,
    private readonly source = '',
  ) {}

  get xml(): string {
    return this.made.join('')
  }
  private named(prefix: string, key: string, xml: (name: string) => string): string {
    const known = this.known.get(key)
    if (known) return known
    let name: string
    let count = this.counts.get(prefix) ?? 0
    do name = `J${prefix}${++count}`
    while (this.names.has(name))
    this.counts.set(prefix, count)
    this.names.add(name)
    this.known.set(key, name)
    this.made.push(xml(name))
    return name
  }

  private format(code: string): string | null {
    // What cannot be said of it is told; the rest is what the cell is shown by.
    for (const one of [code, simplified(code)]) {
      try {
        dataStylesOf(one, '')
      } catch (error) {
        if (!(error instanceof NoStyle)) throw error
        continue
      }
      return this.named('n', `format ${one}`, (name) => dataStylesOf(one, name))
    }
    return null
  }

  /** @param before the style that the cell had; what it says beyond both looks stays */
  cell({ style, look }: CellLooks, before?: XmlElement, parent = 'Default'): string {
    const key = `cell ${JSON.stringify([style, look, before?.attributes['style:name'], parent])}`
    if (!style && !look && !before && parent === 'Default') return 'Default'
    const data = style?.format === undefined ? null : this.format(style.format)
    return this.named('c', key, (name) => {
      const cell = without(propertiesIn(before, 'table-cell'), cellAttributes)
      if (style?.fill) cell['fo:background-color'] = style.fill
      if (style?.wrap) cell['fo:wrap-option'] = 'wrap'
      if (look?.vertical) cell['style:vertical-align'] = look.vertical
      for (const side of sides) if (look?.[side]) cell[`fo:border-${side}`] = borderText(look[side])
      const text = {
        ...without(propertiesIn(before, 'text'), textAttributes),
        ...textAttributesOf({
          ...(style?.bold && { strong: true }),
          ...(style?.italic && { em: true }),
          ...(style?.underline && { underline: true }),
          ...(style?.strike && { strike: true }),
          ...(style?.color && { color: style.color }),
          ...(look?.font && { font: look.font }),
          ...(look?.size && { size: look.size }),
        }),
      }
      const paragraph: Record<string, string> = { ...propertiesIn(before, 'paragraph') }
      delete paragraph['fo:text-align']
      if (style?.align) {
        paragraph['fo:text-align'] = sideOf[style.align]
        cell['style:text-align-source'] = 'fix'
      }
      const inner = [
        ['style:table-cell-properties', cell],
        ['style:paragraph-properties', paragraph],
        ['style:text-properties', text],
      ] as const
      let others = ''
      for (const one of elements(before))
        if (!inner.some(([is]) => is === one.name)) others += this.source.slice(one.at!.start, one.at!.end)
      const own = {
        'style:name': name,
        'style:family': 'table-cell',
        'style:parent-style-name': parent,
        ...(data && { 'style:data-style-name': data }),
      }
      const properties = inner.map(([is, attributes]) =>
        Object.keys(attributes).length ? emptyTag(is, attributes) : '',
      )
      return `${openTag('style:style', own)}${properties.join('')}${others}</style:style>`
    })
  }

  /** @param family of a column, a row or a table @param before one that it had, whose other properties stay */
  plain(family: string, attributes: Attributes, before?: XmlElement): string {
    const all = { ...propertiesIn(before, family), ...attributes }
    return this.named(
      family === 'table-column' ? 'o' : family === 'table-row' ? 'r' : 't',
      `${family} ${JSON.stringify(all)}`,
      (name) => {
        const { 'style:master-page-name': page } = before?.attributes ?? {}
        const own = { 'style:name': name, 'style:family': family, ...(page && { 'style:master-page-name': page }) }
        return `${openTag('style:style', own)}${emptyTag(`style:${family}-properties`, all)}</style:style>`
      },
    )
  }
}
