import type { CellStyle } from '../../content/workbook'
import { child, elements, type XmlElement } from '../opc/xml'
import { builtInFormats } from './number-formats'
import { unescapeString } from './string'

/** Office Open XML's usual theme colours, in the order in which cells number them (§20.1.6.2). */
const themeColors = [
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
/** The start of the indexed palette (§18.8.27). */
const indexed = ['#000000', '#ffffff', '#ff0000', '#00ff00', '#0000ff', '#ffff00', '#ff00ff', '#00ffff']

function colorOf(element: XmlElement | undefined): string | undefined {
  if (!element) return undefined
  const { rgb, theme, indexed: number, tint } = element.attributes
  let color =
    rgb && /^([0-9a-f]{2})?[0-9a-f]{6}$/i.test(rgb)
      ? `#${rgb.slice(-6).toLowerCase()}`
      : theme !== undefined
        ? themeColors[Number(theme)]
        : number !== undefined
          ? indexed[Number(number) % 8]
          : undefined
  if (Number(number) >= 64) color = undefined
  return color && tint ? tinted(color, Number(tint)) : color
}

/** §18.8.19: a tint moves a colour towards white or black. */
function tinted(color: string, tint: number): string {
  const channel = (at: number) => {
    const value = Number.parseInt(color.slice(at, at + 2), 16)
    return Math.round(tint < 0 ? value * (1 + tint) : value + (255 - value) * tint)
      .toString(16)
      .padStart(2, '0')
  }
  return `#${channel(1)}${channel(3)}${channel(5)}`
}

const on = (element: XmlElement | undefined): boolean =>
  element !== undefined && !['0', 'false', 'none'].includes(element.attributes.val ?? '1')

/**
 * The cell formats of styles.xml (§18.8.10), one for each number that cells use; cells of one
 * number share one style object. `lost` names what of it the model cannot hold.
 */
export function readCellStyles(root: XmlElement | undefined): { style: CellStyle | undefined; lost: string | null }[] {
  const formats = new Map<number, string>()
  for (const format of elements(child(root, 'numFmts'), 'numFmt'))
    formats.set(Number(format.attributes.numFmtId), unescapeString(format.attributes.formatCode ?? 'General'))
  const fonts = [...elements(child(root, 'fonts'), 'font')]
  const fills = [...elements(child(root, 'fills'), 'fill')]
  const borders = [...elements(child(root, 'borders'), 'border')].map((border) =>
    [...elements(border)].some((side) => side.attributes.style && side.attributes.style !== 'none'),
  )
  const usual = (font: XmlElement | undefined) =>
    `${child(font, 'sz')?.attributes.val}|${child(font, 'name')?.attributes.val}`
  return [...elements(child(root, 'cellXfs'), 'xf')].map((xf) => {
    const font = fonts[Number(xf.attributes.fontId ?? 0)]
    const pattern = child(fills[Number(xf.attributes.fillId ?? 0)], 'patternFill')
    const number = Number(xf.attributes.numFmtId ?? 0)
    const format = formats.get(number) ?? builtInFormats[number]
    const alignment = child(xf, 'alignment')?.attributes
    const horizontal = alignment?.horizontal
    const color = colorOf(child(font, 'color'))
    const solid = pattern?.attributes.patternType === 'solid' ? colorOf(child(pattern, 'fgColor')) : undefined
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
    return { style: Object.keys(style).length ? style : undefined, lost }
  })
}
