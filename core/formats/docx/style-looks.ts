// How the styles of a file look (ECMA-376 part 1, §17.7): each resolved through what it is based on, the document's
// defaults and the theme, as declarations of CSS. What a declaration says is made here from numbers, colours and names
// that were checked; nothing of a file's own text gets into it.
import { lookCss } from '../../content/paragraph-look'
import { type OpcPackage, onOff, openPackage, relationshipKind, valueOf } from '../opc/package'
import { child, descendant, elements, type XmlElement } from '../opc/xml'
import { DamagedFile } from '../refusals'
import { readParagraphLook } from './paragraph-look'
import { readStyles } from './style-sheet'
import { hexColor } from './values'

export interface StyleLook {
  /** Its id; the model names it by that where it is not the usual one of its kind. */
  id: string
  name: string
  /** What the model has for a paragraph of it. */
  heading: number
  quote: boolean
  named: boolean
  /** It is that of paragraphs that name none. */
  usual: boolean
  css: Record<string, string>
  /** Marks that a run has of it. */
  marks: string[]
  /** Somebody may choose it. */
  offered: boolean
}

const points = (twips: number): string => `${Math.round(twips / 2) / 10}pt`
const number = (value: string | undefined): number | undefined => {
  const found = Number(value)
  return value !== undefined && Number.isFinite(found) && Math.abs(found) <= 31_680 ? found : undefined
}
const colour = (value: string | undefined): string | undefined => hexColor(value) ?? undefined

/** Fonts that are there in place of others of the same widths. */
const alike: Record<string, string> = {
  calibri: 'Carlito',
  cambria: 'Caladea',
  arial: 'Liberation Sans',
  'times new roman': 'Liberation Serif',
  'courier new': 'Liberation Mono',
}
/** A font as CSS names it, with others of the same widths and of the same kind. */
export function cssFamily(name: string): string {
  const plain = name.replace(/[^\p{L}\p{N} .-]/gu, '').trim()
  const other = alike[plain.toLowerCase()]
  const kind = /mono|courier|consol/i.test(plain)
    ? 'monospace'
    : /sans|arial|calibri|helvet|verdana|tahoma|segoe|gothic|aptos/i.test(plain)
      ? 'var(--font-sans)'
      : 'var(--font-serif)'
  return [plain && `"${plain}"`, other && `"${other}"`, kind].filter(Boolean).join(', ')
}

interface Theme {
  fonts: { major?: string | undefined; minor?: string | undefined }
  colours: Map<string, string>
}
function themeOf(root: XmlElement | undefined): Theme {
  const font = (kind: 'a:majorFont' | 'a:minorFont') => {
    const found = root && descendant(root, kind)
    return child(found ?? undefined, 'a:latin')?.attributes.typeface
  }
  const colours = new Map<string, string>()
  const scheme = root && descendant(root, 'a:clrScheme')
  for (const one of elements(scheme ?? undefined)) {
    const [value] = elements(one)
    const hex = colour(value?.attributes.lastClr ?? value?.attributes.val)
    if (hex) colours.set(one.name.slice(2), hex)
  }
  return { fonts: { major: font('a:majorFont'), minor: font('a:minorFont') }, colours }
}
/** The scheme's name of a colour that a run names (§17.18.97). */
const schemeName: Record<string, string> = {
  text1: 'dk1',
  text2: 'dk2',
  background1: 'lt1',
  background2: 'lt2',
  hyperlink: 'hlink',
}

/** A shade or a tint of a colour, in 255ths of black or white that it keeps (§17.3.2.6). */
function shaded(hex: string, shade: string | undefined, tint: string | undefined): string {
  const part = (value: string | undefined) =>
    value && /^[0-9a-f]{2}$/i.test(value) ? Number.parseInt(value, 16) / 255 : null
  const [dark, light] = [part(shade), part(tint)]
  if (dark === null && light === null) return hex
  const channels = [1, 3, 5].map((at) => {
    const value = Number.parseInt(hex.slice(at, at + 2), 16)
    const now = dark !== null ? value * dark : 255 - (255 - value) * light!
    return Math.round(now).toString(16).padStart(2, '0')
  })
  return `#${channels.join('')}`
}

/** What properties of a run say, as far as they say it (§17.3.2). */
function runCss(properties: XmlElement | undefined, theme: Theme, css: Record<string, string>): void {
  const fonts = child(properties, 'w:rFonts')?.attributes
  const themed = fonts?.['w:asciiTheme'] ?? fonts?.['w:hAnsiTheme']
  const font = themed
    ? theme.fonts[/^major/.test(themed) ? 'major' : 'minor']
    : (fonts?.['w:ascii'] ?? fonts?.['w:hAnsi'])
  if (font) css['font-family'] = cssFamily(font)
  const half = number(valueOf(properties, 'w:sz'))
  if (half && half > 1) css['font-size'] = `${half / 2}pt`
  const ink = child(properties, 'w:color')?.attributes
  if (ink) {
    const scheme = ink['w:themeColor']
    const base = scheme ? theme.colours.get(schemeName[scheme] ?? scheme) : undefined
    const hex = base ? shaded(base, ink['w:themeShade'], ink['w:themeTint']) : colour(ink['w:val'])
    // Black is the colour of text, whichever that is where it is shown.
    if (hex && hex !== '#000000') css.color = hex
    else delete css.color
  }
  const toggle = (name: string, property: string, on: string, off: string) => {
    const value = onOff(child(properties, name))
    if (value !== undefined) css[property] = value ? on : off
  }
  toggle('w:b', 'font-weight', '700', '400')
  toggle('w:i', 'font-style', 'italic', 'normal')
  toggle('w:caps', 'text-transform', 'uppercase', 'none')
  toggle('w:smallCaps', 'font-variant-caps', 'small-caps', 'normal')
  const apart = number(valueOf(properties, 'w:spacing'))
  if (apart !== undefined) css['letter-spacing'] = points(apart)
}

/** What properties of a paragraph say (§17.3.1). */
function paragraphCss(properties: XmlElement | undefined, css: Record<string, string>): void {
  const look = readParagraphLook(properties)
  if (look) Object.assign(css, lookCss(look))
}

/** @returns none for a file that Jaula wrote, or whose styles cannot be read */
export function readStyleLooks(bytes: Uint8Array): StyleLook[] {
  try {
    return looksOf(openPackage(bytes))
  } catch (error) {
    if (error instanceof DamagedFile) return []
    throw error
  }
}

function looksOf(opened: OpcPackage): StyleLook[] {
  const relationships = [...opened.relationships(opened.mainPart()).values()]
  const part = (kind: string) => {
    const target = relationships.find((one) => relationshipKind(one) === kind && !one.external)?.target
    return target === undefined ? undefined : opened.xml(target)
  }
  const root = part('styles')
  const styles = readStyles(root)
  if (!root || !styles.foreign) return []
  const theme = themeOf(part('theme'))
  const elementsOf = new Map<string, XmlElement>()
  for (const style of elements(root, 'w:style')) elementsOf.set(style.attributes['w:styleId'] ?? '', style)
  const defaults = child(root, 'w:docDefaults')
  const chain = (id: string): XmlElement[] => {
    const found: XmlElement[] = []
    let at = elementsOf.get(id)
    while (at && found.length < 20 && !found.includes(at)) {
      found.push(at)
      at = elementsOf.get(valueOf(at, 'w:basedOn') ?? '')
    }
    return found.toReversed()
  }
  return styles.ids.map((id) => {
    const style = styles.paragraph(id)
    const css: Record<string, string> = { 'margin-top': '0pt', 'margin-bottom': '0pt', 'line-height': '1.2' }
    paragraphCss(child(child(defaults, 'w:pPrDefault'), 'w:pPr'), css)
    runCss(child(child(defaults, 'w:rPrDefault'), 'w:rPr'), theme, css)
    for (const one of chain(id)) {
      paragraphCss(child(one, 'w:pPr'), css)
      runCss(child(one, 'w:rPr'), theme, css)
    }
    const own = elementsOf.get(id)
    const hidden = onOff(child(own, 'w:semiHidden')) ?? onOff(child(own, 'w:hidden')) ?? false
    return {
      id,
      name: style.name,
      heading: style.heading,
      quote: style.role === 'quote',
      named: style.named !== null,
      usual: id === styles.usual,
      css,
      marks: style.marks.map(({ type }) => type.name),
      offered:
        style.named !== null &&
        !hidden &&
        (child(own, 'w:qFormat') !== undefined || own?.attributes['w:customStyle'] === '1'),
    }
  })
}
