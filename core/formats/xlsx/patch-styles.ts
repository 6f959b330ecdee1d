// Cell formats added to a file's own (ECMA-376 part 1, §18.8): a format that is asked for is one of the file's with
// some of its traits changed, so that its borders, its font and its protection stay as they are.
import { type CellLook, lineOf, sides, withLook } from '../../content/looks'
import type { CellStyle } from '../../content/workbook'
import { attributeOf, childrenIn, nextTag, rootOf, type Spanned, Splices, textOfPart } from '../opc/spans'
import { escapeAttribute } from '../opc/xml'
import { builtInFormats } from './number-formats'
import { cellsOf, localName, type RowSpan, rowsOf, type SheetSource, tagWith } from './patch-rows'
import { encodeString } from './string'
import { kindOfLine } from './style-sheet'

/** What `styles.xml` says of a format, as the model knows it. */
export type StyleOf = (number: number) => CellStyle | undefined

const argb = (hex: string) => `FF${hex.slice(1).toUpperCase()}`
const ofFont = ['bold', 'italic', 'strike', 'underline', 'color', 'font', 'size'] as const
const ofPlace = ['align', 'wrap', 'vertical'] as const
const traits = [...ofFont, ...ofPlace, ...sides, 'fill', 'format'] as const

export interface StyleSheetEditor {
  /**
   * The number of a format that looks as it is asked to.
   * @param from the format that it is made of
   */
  derive(from: number, style: CellStyle | undefined): number
  /** The part as it is then; null where nothing was added. */
  changed(): string | null
}

/** The items of a list; of those that are written for several readers, the ones for any (ECMA-376 part 3, §7.5). */
function* itemsIn(xml: string, list: Spanned): Generator<Spanned> {
  for (const one of childrenIn(xml, list.inner))
    if (localName(one.name) !== 'AlternateContent') yield one
    else {
      const branches = [...childrenIn(xml, one.inner)]
      const branch = branches.find(({ name }) => localName(name) === 'Fallback') ?? branches[0]
      if (branch) yield* childrenIn(xml, branch.inner)
    }
}

/** @returns null where the part has no cell formats */
export function editStyles(xml: string, styleOf: StyleOf): StyleSheetEditor | null {
  const root = rootOf(xml)
  if (localName(root.name) !== 'styleSheet') return null
  const prefix = root.name.slice(0, root.name.length - 'styleSheet'.length)
  const lists = new Map<string, { element: Spanned; items: Spanned[] }>()
  for (const element of childrenIn(xml, root.inner))
    lists.set(localName(element.name), { element, items: [...itemsIn(xml, element)] })
  const xfs = lists.get('cellXfs')
  const fonts = lists.get('fonts')
  const fills = lists.get('fills')
  if (!xfs?.items.length || !fonts?.items.length || !fills?.items.length) return null

  const added = new Map<string, string[]>()
  const add = (list: string, item: string): number => {
    const own = added.get(list) ?? []
    added.set(list, own)
    const at = own.indexOf(item)
    const before = lists.get(list)?.items.length ?? 0
    return before + (at >= 0 ? at : own.push(item) - 1)
  }
  const formats = lists.get('numFmts')
  let nextFormat = Math.max(
    164,
    ...(formats?.items.map((item) => Number(attributeOf(xml, item, 'numFmtId') ?? 0) + 1) ?? []),
  )
  const formatNumbers = new Map<string, number>(
    Object.entries(builtInFormats).map(([number, code]) => [code, Number(number)]),
  )
  for (const item of formats?.items ?? [])
    formatNumbers.set(attributeOf(xml, item, 'formatCode') ?? '', Number(attributeOf(xml, item, 'numFmtId')))
  const known = new Map<string, number>()

  /** The font of cells that have none of their own. */
  const usual = (what: 'name' | 'sz'): string | undefined => {
    const one = [...childrenIn(xml, fonts!.items[0]!.inner)].find(({ name }) => localName(name) === what)
    return one && attributeOf(xml, one, 'val')
  }
  function fontWith(number: number, style: CellStyle, was: CellStyle | undefined): number {
    const font = fonts!.items[number] ?? fonts!.items[0]!
    const set: Record<string, string> = {
      b: style.bold ? `<${prefix}b/>` : '',
      i: style.italic ? `<${prefix}i/>` : '',
      strike: style.strike ? `<${prefix}strike/>` : '',
      u: style.underline ? `<${prefix}u/>` : '',
    }
    const renamed = style.font !== was?.font
    const other: Record<string, string> = {
      ...(style.color !== was?.color && {
        color: style.color ? `<${prefix}color rgb="${argb(style.color)}"/>` : '',
      }),
      ...(style.size !== was?.size && {
        sz: valued('sz', style.size === undefined ? usual('sz') : String(style.size)),
      }),
      // Of another font neither the kind nor the place in a theme is known (§18.8.18, §18.8.35).
      ...(renamed && { name: valued('name', style.font ?? usual('name')), family: '', scheme: '', charset: '' }),
    }
    const placed = new Set<string>()
    let rest = ''
    for (const one of childrenIn(xml, font.inner)) {
      const name = localName(one.name)
      if (name in set) continue
      if (name in other) {
        rest += other[name]
        placed.add(name)
      } else rest += xml.slice(one.start, one.end)
    }
    if (!placed.has('sz') && other.sz) rest = other.sz + rest
    if (!placed.has('color') && other.color) rest = rest.replace(/(<[^>]*?sz [^>]*\/>)|$/, (size) => size + other.color)
    if (!placed.has('name') && other.name) rest += other.name
    return add('fonts', `<${font.name}>${Object.values(set).join('')}${rest}</${font.name}>`)
  }
  const valued = (name: string, value: string | undefined): string =>
    value === undefined ? '' : `<${prefix}${name} val="${escapeAttribute(value)}"/>`

  /** Borders with the sides that are asked for; slanting lines and those inside of areas stay (§18.8.4). */
  function bordersWith(number: number, style: CellStyle, was: CellStyle | undefined): number {
    const list = lists.get('borders')
    const own = list?.items[number]
    const there = new Map([...(own ? childrenIn(xml, own.inner) : [])].map((one) => [localName(one.name), one]))
    let inner = ''
    for (const [side, named] of [
      ['left', 'start'],
      ['right', 'end'],
      ['top', ''],
      ['bottom', ''],
    ] as const) {
      const before = there.get(side) ?? there.get(named)
      if (style[side] === was?.[side]) {
        inner += before ? xml.slice(before.start, before.end) : `<${prefix}${side}/>`
        continue
      }
      const line = lineOf(style[side])
      const color = line && (line.color === null ? 'auto="1"' : `rgb="${argb(line.color)}"`)
      inner += line
        ? `<${prefix}${side} style="${kindOfLine(line)}"><${prefix}color ${color}/></${prefix}${side}>`
        : `<${prefix}${side}/>`
    }
    for (const name of ['diagonal', 'vertical', 'horizontal']) {
      const one = there.get(name)
      if (one) inner += xml.slice(one.start, one.end)
    }
    const start = own ? tagWith(xml, own, {}) : `<${prefix}border`
    return add('borders', `${start}>${inner}</${own?.name ?? `${prefix}border`}>`)
  }

  function formatNumber(code: string | undefined): number {
    if (code === undefined || code === 'General') return 0
    const there = formatNumbers.get(code)
    if (there !== undefined) return there
    const number = nextFormat++
    formatNumbers.set(code, number)
    add('numFmts', `<${prefix}numFmt numFmtId="${number}" formatCode="${escapeAttribute(encodeString(code))}"/>`)
    return number
  }

  function alignment(xf: Spanned, style: CellStyle, before: CellStyle | undefined): string {
    const own = [...childrenIn(xml, xf.inner)].find((one) => localName(one.name) === 'alignment')
    const set = {
      ...(style.align !== before?.align && { horizontal: style.align ?? null }),
      ...(style.wrap !== before?.wrap && { wrapText: style.wrap ? '1' : null }),
      ...(style.vertical !== before?.vertical && {
        vertical: style.vertical === 'middle' ? 'center' : (style.vertical ?? null),
      }),
    }
    if (own) return `${tagWith(xml, own, set)}/>`
    const made = Object.entries(set).flatMap(([key, value]) => (value ? ` ${key}="${value}"` : []))
    return made.length ? `<${prefix}alignment${made.join('')}/>` : ''
  }

  return {
    derive(from, style) {
      const before = styleOf(from)
      if (traits.every((trait) => before?.[trait] === style?.[trait])) return from
      const key = `${from} ${JSON.stringify(traits.map((trait) => style?.[trait] ?? null))}`
      const there = known.get(key)
      if (there !== undefined) return there
      const wanted = style ?? {}
      const xf = xfs.items[from] ?? xfs.items[0]!
      const set: Record<string, string> = {}
      const differ = (...some: (keyof CellStyle)[]) => some.some((trait) => before?.[trait] !== wanted[trait])
      if (differ(...ofFont)) {
        const font = Number(attributeOf(xml, xf, 'fontId') ?? 0)
        Object.assign(set, { fontId: String(fontWith(font, wanted, before)), applyFont: '1' })
      }
      if (differ(...sides)) {
        const borders = Number(attributeOf(xml, xf, 'borderId') ?? 0)
        Object.assign(set, { borderId: String(bordersWith(borders, wanted, before)), applyBorder: '1' })
      }
      if (differ('fill')) {
        const fill = wanted.fill
          ? add(
              'fills',
              `<${prefix}fill><${prefix}patternFill patternType="solid"><${prefix}fgColor rgb="${argb(wanted.fill)}"/><${prefix}bgColor indexed="64"/></${prefix}patternFill></${prefix}fill>`,
            )
          : 0
        Object.assign(set, { fillId: String(fill), applyFill: '1' })
      }
      if (differ('format'))
        Object.assign(set, { numFmtId: String(formatNumber(wanted.format)), applyNumberFormat: '1' })
      let inner = ''
      if (differ(...ofPlace)) {
        set.applyAlignment = '1'
        inner += alignment(xf, wanted, before)
      }
      for (const one of childrenIn(xml, xf.inner))
        if (localName(one.name) !== 'alignment' || !set.applyAlignment) inner += xml.slice(one.start, one.end)
      const start = tagWith(xml, xf, set)
      const number = add('cellXfs', inner ? `${start}>${inner}</${xf.name}>` : `${start}/>`)
      known.set(key, number)
      return number
    },
    changed() {
      if (!added.size) return null
      const splices = new Splices()
      for (const [name, items] of added) {
        const list = lists.get(name)
        if (!list) {
          // Number formats stand before everything else, borders behind fills (§18.8.39).
          const behind = name === 'borders' ? fills.element.end : undefined
          const at = behind ?? nextTag(xml, root.inner[0])?.start ?? root.inner[1]
          splices.insert(at, `<${prefix}${name} count="${items.length}">${items.join('')}</${prefix}${name}>`)
          continue
        }
        const { element } = list
        const count = String(list.items.length + items.length)
        const start = `${tagWith(xml, element, attributeOf(xml, element, 'count') === undefined ? {} : { count })}>`
        if (element.kind === 'empty')
          splices.replace(element.start, element.end, `${start}${items.join('')}</${element.name}>`)
        else {
          splices.replace(element.start, element.inner[0], start)
          splices.insert(element.inner[1], items.join(''))
        }
      }
      return splices.apply(xml)
    },
  }
}

/** A file's cell formats while its sheets are patched: read when the first one is asked for. */
export class PatchedStyles {
  private editor: StyleSheetEditor | null = null
  private text: ReturnType<typeof textOfPart> = null

  /** @param read the formats as they are read, by their numbers */
  constructor(
    private readonly bytes: Uint8Array | undefined,
    private readonly read: () => readonly { style: CellStyle | undefined; look: CellLook | undefined }[],
  ) {}

  /** @throws RangeError where the file has no formats that another one can be made of */
  derive(from: number, style: CellStyle | undefined): number {
    if (!this.editor) {
      this.text = this.bytes ? textOfPart(this.bytes) : null
      const read = this.read().map(({ style, look }) => withLook(style, look))
      this.editor = this.text && editStyles(this.text.xml, (number) => read[number])
      if (!this.editor) throw new RangeError('There are no cell formats.')
    }
    return this.editor.derive(from, style)
  }
  changed(): Uint8Array | null {
    const xml = this.editor?.changed()
    return xml && this.text ? this.text.encode(xml) : null
  }
}

/** The number of the format that a cell has, or that its row or its column gives it (§18.3.1.4, §18.3.1.13, §18.3.1.73). */
export function formatsOf(source: SheetSource): (row: number, column: number) => number {
  const { xml, prefix } = source
  let rows: Map<number, { usual: number; cells: Map<number, number> }> | undefined
  const columns: [min: number, max: number, style: number][] = []
  const readRow = (row: RowSpan) => {
    const cells = new Map<number, number>()
    for (const cell of cellsOf(xml, prefix, row)) cells.set(cell.column, Number(attributeOf(xml, cell, 's') ?? 0))
    const custom = ['1', 'true'].includes(attributeOf(xml, row, 'customFormat') ?? '')
    return { usual: custom ? Number(attributeOf(xml, row, 's') ?? 0) : -1, cells }
  }
  const spans = new Map<number, RowSpan>()
  return (row, column) => {
    if (!rows) {
      rows = new Map()
      for (const one of rowsOf(source)) spans.set(one.number, one)
      for (const part of childrenIn(xml, rootOf(xml).inner)) {
        if (part.name === `${prefix}sheetData`) break
        if (part.name !== `${prefix}cols`) continue
        for (const col of childrenIn(xml, part.inner))
          columns.push([
            Number(attributeOf(xml, col, 'min')) - 1,
            Number(attributeOf(xml, col, 'max')) - 1,
            Number(attributeOf(xml, col, 'style') ?? 0),
          ])
      }
    }
    let own = rows.get(row)
    const span = spans.get(row)
    if (!own && span) {
      own = readRow(span)
      rows.set(row, own)
    }
    const cell = own?.cells.get(column)
    if (cell !== undefined) return cell
    if (own && own.usual >= 0) return own.usual
    return columns.find(([min, max]) => column >= min && column <= max)?.[2] ?? 0
  }
}
