// What single properties say of letters, paragraphs, rows and sections ([MS-DOC] §2.6), one after the other as a file has
// them, each on top of what was said before.
import type { Align } from '../../content/document'
import type { ParagraphBorder } from '../../content/paragraph-look'
import type { FlatChar, FlatPara } from '../flat/looks'
import { Numbers } from './file'

export interface DocChar extends FlatChar {
  hidden: boolean
  removed: boolean
  inserted: boolean
  /** It is no letter but what it stands for. */
  special: boolean
  /** Where in the stream of data its picture is; null for none. */
  picture: number | null
  object: boolean
  /** A sign of a font of signs: the font and its number there. */
  sign: { font: number; code: number } | null
  /** Looks that the model has no place for. */
  more: boolean
}
export interface DocPara extends FlatPara {
  style: number
  inTable: boolean
  rowEnd: boolean
  depth: number
  innerCell: boolean
  innerRow: boolean
  broken: boolean
  list: number
  level: number
  outline: number | null
  more: boolean
}
export interface DocCell {
  right: number
  down: 'no' | 'first' | 'over'
  along: 'no' | 'first' | 'over'
}
export interface DocRow {
  header: boolean
  left: number
  cells: DocCell[]
}

export interface Property {
  code: number
  /** Its value, from its first byte on. */
  value: Numbers
}
const tableShape = 0xd608
const changedTabs = 0xc615
/** How long a value is, by the last bits of its code (§2.6.1). */
const sizes = [1, 1, 2, 4, 2, 2, 0, 3]

/** The properties of a list of them; what cannot be read ends it. */
export function* propertiesIn(bytes: Uint8Array): Generator<Property> {
  const of = new Numbers(bytes)
  for (let at = 0; at + 2 <= bytes.length; ) {
    const code = of.u16(at)
    at += 2
    let size = sizes[code >> 13]!
    if (!size) {
      if (code === tableShape) {
        size = Math.max(0, of.u16(at) - 1)
        at += 2
      } else {
        size = of.u8(at)
        at += 1
        if (code === changedTabs && size === 255) {
          const removed = of.u8(at)
          const added = of.u8(at + 1 + removed * 4)
          size = 2 + removed * 4 + added * 3
        }
      }
    }
    if (at + size > bytes.length) return
    yield { code, value: new Numbers(bytes.subarray(at, at + size)) }
    at += size
  }
}

/** Colours by their numbers (§2.9.119, Ico). */
const colors = [
  null,
  '#000000',
  '#0000ff',
  '#00ffff',
  '#00ff00',
  '#ff00ff',
  '#ff0000',
  '#ffff00',
  '#ffffff',
  '#000080',
  '#008080',
  '#008000',
  '#800080',
  '#800000',
  '#808000',
  '#808080',
  '#c0c0c0',
] as const
const colorAt = (index: number): string | null => colors[index] ?? null
const hex = (value: number) => value.toString(16).padStart(2, '0')
/** A colour by its parts; null for one that is nobody's choice (§2.9.43, COLORREF). */
const colorOf = (value: Numbers, at: number): string | null =>
  value.u8(at + 3) === 0xff ? null : `#${hex(value.u8(at))}${hex(value.u8(at + 1))}${hex(value.u8(at + 2))}`

/** Fills: both colours and how they are mixed (§2.9.248, SHD; §2.9.249). */
function fillOf(value: Numbers): string | null {
  const pattern = value.u16(8)
  return pattern === 1 ? colorOf(value, 0) : colorOf(value, 4)
}
function olderFill(value: number): string | null {
  return value >> 10 === 1 ? colorAt(value & 31) : colorAt((value >> 5) & 31)
}

/** @param style what the letter's style says: some values are said beside that */
export function charWith(char: DocChar, { code, value }: Property, style: DocChar): DocChar {
  const toggled = (usual: boolean): boolean => {
    const how = value.u8(0)
    return how === 0x80 ? usual : how === 0x81 ? !usual : how !== 0
  }
  switch (code) {
    case 0x0835:
      return { ...char, bold: toggled(style.bold) }
    case 0x0836:
      return { ...char, italic: toggled(style.italic) }
    case 0x0837:
      return { ...char, strike: toggled(style.strike) }
    case 0x2a53:
      return { ...char, strike: toggled(style.strike) }
    case 0x083c:
      return { ...char, hidden: toggled(style.hidden) }
    case 0x0838:
    case 0x0839:
    case 0x083a:
    case 0x083b:
      return toggled(false) ? { ...char, more: true } : char
    case 0x0800:
      return { ...char, removed: value.u8(0) !== 0 }
    case 0x0801:
      return { ...char, inserted: value.u8(0) !== 0 }
    case 0x2a3e:
      return { ...char, underline: value.u8(0) !== 0 }
    case 0x2a42:
      return { ...char, color: colorAt(value.u8(0)) }
    case 0x6870:
      return { ...char, color: colorOf(value, 0) }
    case 0x2a0c:
      return { ...char, fill: colorAt(value.u8(0)) ?? char.fill }
    case 0x4866:
      return { ...char, fill: olderFill(value.u16(0)) }
    case 0xca71:
      return { ...char, fill: fillOf(value) }
    case 0x4a43:
      return { ...char, size: Math.min(3276, Math.max(2, value.u16(0))) }
    case 0x2a48:
      return { ...char, script: value.u8(0) === 1 ? 'raised' : value.u8(0) === 2 ? 'lowered' : '' }
    case 0x0855:
      return { ...char, special: value.u8(0) !== 0 }
    case 0x6a03:
      return { ...char, picture: value.i32(0), special: true }
    case 0x0856:
    case 0x080a:
      return { ...char, object: value.u8(0) !== 0 }
    case 0x6a09:
      return { ...char, sign: { font: value.u16(0), code: value.u16(2) } }
    // Space between letters, their width, and where they stand.
    case 0x8840:
    case 0x4852:
    case 0x4845:
      return value.i16(0) !== 0 && !(code === 0x4852 && value.i16(0) === 100) ? { ...char, more: true } : char
    default:
      return char
  }
}
/** The property that gives letters their font. */
export const fontOf = ({ code, value }: Property): number | null => (code === 0x4a4f ? value.u16(0) : null)

const aligns: readonly Align[] = [null, 'center', 'right', 'justify', 'justify', 'justify']
const borderKinds: Readonly<Record<number, ParagraphBorder['kind']>> = {
  3: 'double',
  6: 'dotted',
  7: 'dashed',
  8: 'dashed',
  9: 'dashed',
  22: 'dashed',
}
const sides = ['top', 'left', 'bottom', 'right'] as const
const bounded = (value: number, low: number, high: number) => Math.min(high, Math.max(low, value))

function withBorder(
  para: DocPara,
  side: string,
  kind: number,
  width: number,
  space: number,
  color: string | null,
): DocPara {
  const borders = { ...para.borders }
  if (!kind || kind === 0xff) delete borders[side]
  else
    borders[side] = {
      kind: borderKinds[kind] ?? 'single',
      width: bounded(width, 2, 96),
      space: bounded(space, 0, 31),
      color,
    }
  // In the one order that the model has them in.
  return { ...para, borders: Object.fromEntries(sides.flatMap((one) => (borders[one] ? [[one, borders[one]]] : []))) }
}

export function paraWith(para: DocPara, { code, value }: Property): DocPara {
  const length = () => bounded(value.i16(0), -31_680, 31_680)
  switch (code) {
    case 0x4600:
      return { ...para, style: value.u16(0) }
    case 0x2403:
    case 0x2461:
      return { ...para, align: aligns[value.u8(0)] ?? null }
    case 0x840f:
    case 0x845e:
      return { ...para, left: length() }
    case 0x840e:
    case 0x845d:
      return { ...para, right: length() }
    case 0x8411:
    case 0x8460:
      return { ...para, first: length() }
    case 0xa413:
      return { ...para, before: bounded(value.u16(0), 0, 31_680) }
    case 0xa414:
      return { ...para, after: bounded(value.u16(0), 0, 31_680) }
    case 0x6412: {
      const height = value.i16(0)
      if (!height) return { ...para, line: { share: 240 } }
      if (value.i16(2) === 1) return { ...para, line: { share: Math.abs(height) } }
      return { ...para, line: height < 0 ? { exact: -height } : { least: height } }
    }
    case 0x2407:
      return { ...para, broken: value.u8(0) !== 0 }
    case 0x260a:
      return { ...para, level: bounded(value.u8(0), 0, 8) }
    case 0x460b:
      return { ...para, list: value.u16(0) }
    case 0x2640:
      return { ...para, outline: value.u8(0) < 9 ? value.u8(0) : null }
    case 0x2416:
      return { ...para, inTable: value.u8(0) !== 0 }
    case 0x2417:
      return { ...para, rowEnd: value.u8(0) !== 0 }
    case 0x6649:
      return { ...para, depth: value.i32(0), inTable: value.i32(0) > 0 }
    case 0x244b:
      return { ...para, innerCell: value.u8(0) !== 0 }
    case 0x244c:
      return { ...para, innerRow: value.u8(0) !== 0 }
    case 0x442d:
      return { ...para, fill: olderFill(value.u16(0)) }
    case 0xc64d:
      return { ...para, fill: fillOf(value) }
    case 0x6424:
    case 0x6425:
    case 0x6426:
    case 0x6427:
      return withBorder(para, sides[code - 0x6424]!, value.u8(1), value.u8(0), value.u8(3) & 31, colorAt(value.u8(2)))
    case 0xc64e:
    case 0xc64f:
    case 0xc650:
    case 0xc651:
      return withBorder(para, sides[code - 0xc64e]!, value.u8(5), value.u8(4), value.u16(6) & 31, colorOf(value, 0))
    case 0xc60d:
    case 0xc615:
      return value.u8(0) + value.u8(1) > 0 ? { ...para, more: true } : para
    // Kept with the next one, or on one page.
    case 0x2405:
    case 0x2406:
      return value.u8(0) ? { ...para, more: true } : para
    default:
      return para
  }
}

/** What a row says of its cells (§2.6.3). */
export function rowWith(row: DocRow, { code, value }: Property): DocRow {
  if (code === 0x3404) return { ...row, header: value.u8(0) !== 0 }
  if (code === tableShape) {
    const count = bounded(value.u8(0), 0, 63)
    const shapes = 1 + (count + 1) * 2
    const cells = Array.from({ length: count }, (_, at): DocCell => {
      const flags = shapes + at * 20 + 2 <= value.length ? value.u16(shapes + at * 20) : 0
      return {
        right: value.i16(1 + (at + 1) * 2),
        along: flags & 1 ? 'first' : flags & 2 ? 'over' : 'no',
        down: flags & 0x40 ? 'first' : flags & 0x20 ? 'over' : 'no',
      }
    })
    return { ...row, left: value.i16(1), cells }
  }
  const cells = row.cells.slice()
  if (code === 0x5624) {
    // From one cell to another they are one.
    for (let at = value.u8(0); at < Math.min(cells.length, value.u8(1)); at++)
      cells[at] = { ...cells[at]!, along: at === value.u8(0) ? 'first' : 'over' }
    return { ...row, cells }
  }
  if (code === 0xd62b) {
    const at = value.u8(0)
    const how = value.u8(1)
    if (cells[at]) cells[at] = { ...cells[at], down: how === 3 ? 'first' : how === 1 ? 'over' : 'no' }
    return { ...row, cells }
  }
  return row
}
