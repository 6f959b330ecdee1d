import type { BorderSide, CellLook } from '../../content/looks'
import type { CellStyle } from '../../content/workbook'
import { child, elements, type XmlElement } from '../opc/xml'
import { builtInFormats } from './number-formats'
import { unescapeString } from './string'

/** What the colours of cells are numbered by. */
export interface Palette {
  /** Of the theme, in the order in which cells number them. */
  theme: readonly string[]
  indexed: readonly string[]
  tint: (color: string, tint: number) => string
}

/** Office Open XML's usual theme colours, in the order in which cells number them (§20.1.6.2). */
const usualTheme = [
  '#ffffff',
  '#000000',
  '#eeece1',
  '#1f497d',
  '#4f81bd',
  '#c0504d',
  '#9bbb59',
  '#8064a2',
  '#4bacc6',
  '#f79646',
  '#0000ff',
  '#800080',
]
const firstEight = '000000 ffffff ff0000 00ff00 0000ff ffff00 ff00ff 00ffff'
/** The indexed palette (§18.8.27). */
export const usualIndexed = `${firstEight} ${firstEight} 800000 008000 000080 808000 800080 008080 c0c0c0 808080
  9999ff 993366 ffffcc ccffff 660066 ff8080 0066cc ccccff 000080 ff00ff ffff00 00ffff 800080 800000 008080 0000ff
  00ccff ccffff ccffcc ffff99 99ccff ff99cc cc99ff ffcc99 3366ff 33cccc 99cc00 ffcc00 ff9900 ff6600 666699 969696
  003366 339966 003300 333300 993300 993366 333399 333333`
  .split(/\s+/)
  .map((color) => `#${color}`)
const hex = (rgb: string | undefined): string | undefined =>
  rgb && /^([0-9a-f]{2})?[0-9a-f]{6}$/i.test(rgb) ? `#${rgb.slice(-6).toLowerCase()}` : undefined

/** The colours of a file. @param theme its theme part @param styles its part of cell formats */
export function paletteOf(theme: XmlElement | undefined, styles: XmlElement | undefined): Palette {
  const scheme = theme && child(child(theme, 'a:themeElements'), 'a:clrScheme')
  const named = new Map(
    [...elements(scheme)].map((element) => {
      const [color] = elements(element)
      return [element.name.slice(2), hex(color?.attributes.lastClr ?? color?.attributes.val)]
    }),
  )
  const order = 'lt1 dk1 lt2 dk2 accent1 accent2 accent3 accent4 accent5 accent6 hlink folHlink'.split(' ')
  const own = [...elements(child(child(styles, 'colors'), 'indexedColors'), 'rgbColor')]
  return {
    theme: order.map((name, index) => named.get(name) ?? usualTheme[index]!),
    indexed: own.length ? usualIndexed.map((usual, index) => hex(own[index]?.attributes.rgb) ?? usual) : usualIndexed,
    tint: tinted,
  }
}
/** The colours as the first form of the model had them: eight of the palette, no theme of the file's own. */
export const earlierPalette: Palette = {
  theme: usualTheme,
  indexed: Array.from({ length: 64 }, (_, number) => usualIndexed[number % 8]!),
  tint(color, tint) {
    const channel = (at: number) => {
      const value = Number.parseInt(color.slice(at, at + 2), 16)
      return Math.round(tint < 0 ? value * (1 + tint) : value + (255 - value) * tint)
        .toString(16)
        .padStart(2, '0')
    }
    return `#${channel(1)}${channel(3)}${channel(5)}`
  },
}

function colorOf(element: XmlElement | undefined, palette: Palette): string | undefined {
  if (!element) return undefined
  const { rgb, theme, indexed: number, tint } = element.attributes
  const color =
    hex(rgb) ??
    (theme !== undefined
      ? palette.theme[Number(theme)]
      : number !== undefined && Number(number) < 64
        ? palette.indexed[Number(number)]
        : undefined)
  return color && tint ? palette.tint(color, Number(tint)) : color
}

/** §18.8.19: a tint moves the lightness of a colour (of hue, saturation and lightness) towards black or white. */
function tinted(color: string, tint: number): string {
  const [red, green, blue] = [1, 3, 5].map((at) => Number.parseInt(color.slice(at, at + 2), 16) / 255) as [
    number,
    number,
    number,
  ]
  const [high, low] = [Math.max(red, green, blue), Math.min(red, green, blue)]
  const lightness = (high + low) / 2
  const spread = high - low
  const saturation = spread === 0 ? 0 : spread / (1 - Math.abs(2 * lightness - 1))
  const hue =
    spread === 0
      ? 0
      : high === red
        ? ((green - blue) / spread + 6) % 6
        : high === green
          ? (blue - red) / spread + 2
          : (red - green) / spread + 4
  const light = tint < 0 ? lightness * (1 + tint) : lightness * (1 - tint) + tint
  const chroma = (1 - Math.abs(2 * light - 1)) * saturation
  const second = chroma * (1 - Math.abs((hue % 2) - 1))
  const sector = [
    [chroma, second, 0],
    [second, chroma, 0],
    [0, chroma, second],
    [0, second, chroma],
    [second, 0, chroma],
    [chroma, 0, second],
  ][Math.floor(hue) % 6]!
  return `#${sector
    .map((part) =>
      Math.round(Math.min(1, Math.max(0, part + light - chroma / 2)) * 255)
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`
}

/** The items of a list; of those that are written for several readers, the ones for any (ECMA-376 part 3, §7.5). */
function* items(list: XmlElement | undefined, name: string): Generator<XmlElement> {
  for (const one of elements(list))
    if (one.name === name) yield one
    else if (one.name === 'mc:AlternateContent')
      yield* elements(child(one, 'mc:Fallback') ?? elements(one).next().value ?? undefined, name)
}

const verticals: Record<string, CellLook['vertical']> = {
  top: 'top',
  center: 'middle',
  justify: 'top',
  distributed: 'middle',
}
/** How thick and of which kind a border's line is (§18.18.3). */
export const borderLines: Record<string, Omit<BorderSide, 'color'>> = {
  thin: { width: 1, line: 'solid' },
  hair: { width: 1, line: 'dotted' },
  dotted: { width: 1, line: 'dotted' },
  dashed: { width: 1, line: 'dashed' },
  dashDot: { width: 1, line: 'dashed' },
  dashDotDot: { width: 1, line: 'dashed' },
  slantDashDot: { width: 2, line: 'dashed' },
  medium: { width: 2, line: 'solid' },
  mediumDashed: { width: 2, line: 'dashed' },
  mediumDashDot: { width: 2, line: 'dashed' },
  mediumDashDotDot: { width: 2, line: 'dashed' },
  thick: { width: 3, line: 'solid' },
  double: { width: 3, line: 'double' },
}
/** The kind of a line that looks so. */
export const kindOfLine = (side: BorderSide): string =>
  Object.entries(borderLines).find(([, { width, line }]) => width === side.width && line === side.line)?.[0] ?? 'thin'
function bordersOf(border: XmlElement, palette: Palette): CellLook {
  const look: { -readonly [side in 'top' | 'right' | 'bottom' | 'left']?: BorderSide } = {}
  for (const element of elements(border)) {
    const side = { start: 'left', end: 'right' }[element.name] ?? element.name
    const line = borderLines[element.attributes.style ?? '']
    if (line && (side === 'top' || side === 'right' || side === 'bottom' || side === 'left'))
      look[side] = { ...line, color: colorOf(child(element, 'color'), palette) ?? null }
  }
  return look
}

const on = (element: XmlElement | undefined): boolean =>
  element !== undefined && !['0', 'false', 'none'].includes(element.attributes.val ?? '1')

/**
 * The cell formats of styles.xml (§18.8.10), one for each number that cells use; cells of one
 * number share one style object. `lost` names what of it the model cannot hold.
 */
export function readCellStyles(
  root: XmlElement | undefined,
  palette: Palette = paletteOf(undefined, root),
): { style: CellStyle | undefined; lost: string | null; look: CellLook | undefined }[] {
  const formats = new Map<number, string>()
  for (const format of items(child(root, 'numFmts'), 'numFmt'))
    formats.set(Number(format.attributes.numFmtId), unescapeString(format.attributes.formatCode ?? 'General'))
  const fonts = [...items(child(root, 'fonts'), 'font')]
  const fills = [...items(child(root, 'fills'), 'fill')]
  const borders = [...items(child(root, 'borders'), 'border')].map((border) =>
    [...elements(border)].some((side) => side.attributes.style && side.attributes.style !== 'none'),
  )
  const sides = [...items(child(root, 'borders'), 'border')].map((border) => bordersOf(border, palette))
  const usual = (font: XmlElement | undefined) =>
    `${child(font, 'sz')?.attributes.val}|${child(font, 'name')?.attributes.val}`
  return [...items(child(root, 'cellXfs'), 'xf')].map((xf) => {
    const font = fonts[Number(xf.attributes.fontId ?? 0)]
    const pattern = child(fills[Number(xf.attributes.fillId ?? 0)], 'patternFill')
    const number = Number(xf.attributes.numFmtId ?? 0)
    const format = formats.get(number) ?? builtInFormats[number]
    const alignment = child(xf, 'alignment')?.attributes
    const horizontal = alignment?.horizontal
    const color = colorOf(child(font, 'color'), palette)
    const solid = pattern?.attributes.patternType === 'solid' ? colorOf(child(pattern, 'fgColor'), palette) : undefined
    const style: CellStyle = {
      ...(on(child(font, 'b')) && { bold: true as const }),
      ...(on(child(font, 'i')) && { italic: true as const }),
      ...(on(child(font, 'u')) && { underline: true as const }),
      ...(on(child(font, 'strike')) && { strike: true as const }),
      ...(solid && { fill: solid }),
      // Theme colour 1 and black are how text looks anyway.
      ...(color && color !== '#000000' && { color }),
      ...((horizontal === 'left' || horizontal === 'center' || horizontal === 'right') && { align: horizontal }),
      ...(['1', 'true'].includes(alignment?.wrapText ?? '') && { wrap: true as const }),
      ...(format && format !== 'General' && { format }),
    }
    const lost = borders[Number(xf.attributes.borderId ?? 0)]
      ? 'cells with borders'
      : usual(font) !== usual(fonts[0])
        ? 'cells with a font or text size of their own'
        : null
    const [name, size] = [child(font, 'name')?.attributes.val, Number(child(font, 'sz')?.attributes.val)]
    const vertical = verticals[alignment?.vertical ?? '']
    const look: CellLook = {
      ...sides[Number(xf.attributes.borderId ?? 0)],
      ...(name && name !== child(fonts[0], 'name')?.attributes.val && { font: name }),
      ...(size > 0 && size < 410 && size !== Number(child(fonts[0], 'sz')?.attributes.val) && { size }),
      ...(vertical && { vertical }),
    }
    return {
      style: Object.keys(style).length ? style : undefined,
      lost,
      look: Object.keys(look).length ? look : undefined,
    }
  })
}
