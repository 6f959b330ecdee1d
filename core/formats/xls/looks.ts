// How cells of the binary format look ([MS-XLS] §2.4.122 fonts, §2.4.353 formats, §2.4.188 colours).
import type { CellLook } from '../../content/looks'
import type { CellStyle } from '../../content/workbook'
import { builtInFormats } from '../xlsx/number-formats'
import { borderLines, usualIndexed } from '../xlsx/style-sheet'
import { viewOf } from './records'
import { textAt } from './strings'

export interface BinaryFont {
  name: string
  /** In twentieths of a point. */
  height: number
  bold: boolean
  italic: boolean
  underline: boolean
  strike: boolean
  color: number
}
export interface BinaryFormat {
  style: CellStyle | undefined
  look: CellLook | undefined
  lost: 'cells with borders' | 'cells with a font or text size of their own' | null
}

export function readFont(data: Uint8Array): BinaryFont {
  const view = viewOf(data)
  const flags = view.getUint16(2, true)
  return {
    height: view.getUint16(0, true),
    italic: !!(flags & 2),
    strike: !!(flags & 8),
    color: view.getUint16(4, true),
    bold: view.getUint16(6, true) >= 600,
    underline: view.getUint8(10) !== 0,
    name: textAt(data, 14, 1).text,
  }
}

/** Colours by their numbers; numbers that mean the system's are not there. */
export function colorsOf(palette: Uint8Array | undefined): string[] {
  const colors = [...usualIndexed]
  if (!palette) return colors
  const count = Math.min(56, viewOf(palette).getUint16(0, true), Math.floor((palette.length - 2) / 4))
  for (let index = 0; index < count; index++) {
    const parts = palette.subarray(2 + index * 4, 5 + index * 4)
    colors[8 + index] = `#${Array.from(parts, (part) => part.toString(16).padStart(2, '0')).join('')}`
  }
  return colors
}

/** Kinds of lines by their numbers (§2.5.11). */
export const lineKinds = [
  'none',
  'thin',
  'medium',
  'dashed',
  'dotted',
  'thick',
  'double',
  'hair',
  'mediumDashed',
  'dashDot',
  'mediumDashDot',
  'dashDotDot',
  'mediumDashDotDot',
  'slantDashDot',
]
const verticals = ['top', 'middle', undefined, 'top', 'middle'] as const
const aligns = [undefined, 'left', 'center', 'right'] as const

/** @param formats number formats of the file by their numbers */
export function readFormat(
  data: Uint8Array,
  fonts: readonly BinaryFont[],
  formats: ReadonlyMap<number, string>,
  colors: readonly string[],
): BinaryFormat {
  const view = viewOf(data)
  const font = fontAt(fonts, view.getUint16(0, true))
  const usual = fonts[0]
  const number = view.getUint16(2, true)
  const format = number === 0 ? undefined : (formats.get(number) ?? builtInFormats[number])
  const alignment = view.getUint8(6)
  const lines = view.getUint32(10, true)
  const more = view.getUint32(14, true)
  const fill = view.getUint16(18, true)
  const color = font && colors[font.color]
  const solid = more >>> 26 === 1 ? colors[fill & 0x7f] : undefined
  const align = aligns[alignment & 7]
  const style: CellStyle = {
    ...(font?.bold && { bold: true as const }),
    ...(font?.italic && { italic: true as const }),
    ...(font?.underline && { underline: true as const }),
    ...(font?.strike && { strike: true as const }),
    ...(solid && { fill: solid }),
    ...(color && color !== '#000000' && { color }),
    ...(align && { align }),
    ...(alignment & 8 && { wrap: true as const }),
    ...(format && format !== 'General' && { format }),
  }
  const vertical = verticals[(alignment >> 4) & 7]
  const side = (kind: number, at: number) => {
    const line = borderLines[lineKinds[kind] ?? 'none']
    return line && { ...line, color: colors[at] ?? null }
  }
  const left = side(lines & 15, (lines >>> 16) & 0x7f)
  const right = side((lines >>> 4) & 15, (lines >>> 23) & 0x7f)
  const top = side((lines >>> 8) & 15, more & 0x7f)
  const bottom = side((lines >>> 12) & 15, (more >>> 7) & 0x7f)
  const named = font && usual && font.name !== usual.name
  const sized = font && usual && font.height !== usual.height && font.height > 0 && font.height < 8200
  const look: CellLook = {
    ...(top && { top }),
    ...(right && { right }),
    ...(bottom && { bottom }),
    ...(left && { left }),
    ...(named && { font: font.name }),
    ...(sized && { size: font.height / 20 }),
    ...(vertical && { vertical }),
  }
  return {
    style: Object.keys(style).length ? style : undefined,
    look: Object.keys(look).length ? look : undefined,
    lost:
      top || right || bottom || left
        ? 'cells with borders'
        : named || sized
          ? 'cells with a font or text size of their own'
          : null,
  }
}

/** There is no font of number 4 (§2.5.129). */
export const fontAt = (fonts: readonly BinaryFont[], number: number): BinaryFont | undefined =>
  fonts[number > 4 ? number - 1 : number]
