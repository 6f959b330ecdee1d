// Cell formats added to a file's own (ECMA-376 part 1, §18.8): a format that is asked for is one of the file's with
// some of its traits changed, so that its borders, its font and its protection stay as they are.
import type { CellStyle } from '../../content/workbook'
import { attributeOf, childrenIn, nextTag, rootOf, type Spanned, Splices, textOfPart } from '../opc/spans'
import { escapeAttribute } from '../opc/xml'
import { builtInFormats } from './number-formats'
import { cellsOf, localName, type RowSpan, rowsOf, type SheetSource, tagWith } from './patch-rows'
import { encodeString } from './string'

/** What `styles.xml` says of a format, as the model knows it. */
export type StyleOf = (number: number) => CellStyle | undefined

const argb = (hex: string) => `FF${hex.slice(1).toUpperCase()}`
const traits = ['bold', 'italic', 'strike', 'underline', 'color', 'fill', 'align', 'wrap', 'format'] as const

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

  function fontWith(number: number, style: CellStyle): number {
    const font = fonts!.items[number] ?? fonts!.items[0]!
    const set: Record<string, string> = {
      b: style.bold ? `<${prefix}b/>` : '',
      i: style.italic ? `<${prefix}i/>` : '',
      strike: style.strike ? `<${prefix}strike/>` : '',
      u: style.underline ? `<${prefix}u/>` : '',
    }
    const color = style.color ? `<${prefix}color rgb="${argb(style.color)}"/>` : ''
    const before = styleOfFont.get(number)
    let rest = ''
    let placed = false
    for (const one of childrenIn(xml, font.inner)) {
      const name = localName(one.name)
      if (name in set) continue
      if (name === 'color' && style.color !== before) {
        rest += color
        placed = true
      } else rest += xml.slice(one.start, one.end)
    }
    if (!placed && color && style.color !== before)
      rest = rest.replace(/(<[^>]*?sz [^>]*\/>)|$/, (size) => size + color)
    return add('fonts', `<${font.name}>${Object.values(set).join('')}${rest}</${font.name}>`)
  }
  const styleOfFont = new Map<number, string | undefined>()

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
      if (differ('bold', 'italic', 'strike', 'underline', 'color')) {
        const font = Number(attributeOf(xml, xf, 'fontId') ?? 0)
        styleOfFont.set(font, before?.color)
        Object.assign(set, { fontId: String(fontWith(font, wanted)), applyFont: '1' })
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
      if (differ('align', 'wrap')) {
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
          // Number formats stand before everything else (§18.8.39).
          const at = nextTag(xml, root.inner[0])?.start ?? root.inner[1]
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
    private readonly read: () => readonly { style: CellStyle | undefined }[],
  ) {}

  /** @throws RangeError where the file has no formats that another one can be made of */
  derive(from: number, style: CellStyle | undefined): number {
    if (!this.editor) {
      this.text = this.bytes ? textOfPart(this.bytes) : null
      const read = this.read()
      this.editor = this.text && editStyles(this.text.xml, (number) => read[number]?.style)
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
