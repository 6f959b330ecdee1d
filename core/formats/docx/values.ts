// What properties of pages, paragraphs, runs and pictures mean in the model.
import type { Mark } from 'prosemirror-model'
import { type Align, a4, documentSchema, type Look, type Page } from '../../content/document'
import { onOff, valueOf } from '../opc/package'
import { child, type XmlElement } from '../opc/xml'
import type { Styles } from './style-sheet'

const { marks } = documentSchema

/** Types of pictures that browsers show, by their endings. */
export const imageTypes: Record<string, string> = {
  png: 'image/png',
  jpg: 'image/jpeg',
  jpeg: 'image/jpeg',
  gif: 'image/gif',
  bmp: 'image/bmp',
  svg: 'image/svg+xml',
  webp: 'image/webp',
}

/** A paragraph's alignment, as its style or itself writes it (§17.18.44). */
export function alignOf(value: string | undefined): Align {
  if (value === 'center') return 'center'
  if (value === 'right' || value === 'end') return 'right'
  return value === 'both' || value === 'distribute' ? 'justify' : null
}

export const hexColor = (value: string | undefined): string | null =>
  value && /^[0-9a-f]{6}$/i.test(value) ? `#${value.toLowerCase()}` : null

/** ST_HighlightColor (§17.18.40). */
const highlightColors: Record<string, string> = {
  yellow: '#ffff00',
  green: '#00ff00',
  cyan: '#00ffff',
  magenta: '#ff00ff',
  blue: '#0000ff',
  red: '#ff0000',
  darkBlue: '#000080',
  darkCyan: '#008080',
  darkGreen: '#008000',
  darkMagenta: '#800080',
  darkRed: '#800000',
  darkYellow: '#808000',
  darkGray: '#808080',
  lightGray: '#c0c0c0',
  black: '#000000',
}

/** A section's page (§17.6.13, §17.6.11); what it does not say is as on A4. */
export function pageOf(section: XmlElement | undefined): Page {
  const size = child(section, 'w:pgSz')?.attributes ?? {}
  const margin = child(section, 'w:pgMar')?.attributes ?? {}
  const twips = (value: string | undefined, standard: number) => {
    const number = Math.round(Number(value))
    return value !== undefined && Number.isFinite(number) && number >= 0 && number <= 31680 ? number : standard
  }
  return {
    width: twips(size['w:w'], a4.width),
    height: twips(size['w:h'], a4.height),
    top: twips(margin['w:top'], a4.top),
    right: twips(margin['w:right'] ?? margin['w:end'], a4.right),
    bottom: twips(margin['w:bottom'], a4.bottom),
    left: twips(margin['w:left'] ?? margin['w:start'], a4.left),
  }
}

/**
 * The marks of a run (§17.3.2).
 * @param outer those of what it stands in, such as a link
 * @param styleMarks those of its paragraph's style
 * @param onForeign is told of a style that the model has no marks for
 */
export function runMarks(
  properties: XmlElement | undefined,
  outer: readonly Mark[],
  styleMarks: readonly Mark[],
  styles: Styles,
  onForeign: (style: string) => void,
): readonly Mark[] {
  let set: readonly Mark[] = outer
  const styled = styles.character(valueOf(properties, 'w:rStyle'))
  if (styled.foreign) onForeign(styled.foreign)
  const inherited = [...styleMarks, ...styled.marks]
  const toggle = (name: string, type: 'strong' | 'em' | 'strike') => {
    const direct = onOff(child(properties, name))
    if (direct ?? inherited.some((mark) => mark.type === marks[type])) set = marks[type].create().addToSet(set)
  }
  toggle('w:b', 'strong')
  toggle('w:i', 'em')
  toggle('w:strike', 'strike')
  const underline = valueOf(properties, 'w:u')
  if (underline !== undefined ? underline !== 'none' : inherited.some((mark) => mark.type === marks.underline))
    set = marks.underline.create().addToSet(set)
  if (!properties) return set
  const vertical = valueOf(properties, 'w:vertAlign')
  if (vertical === 'superscript') set = marks.raised.create().addToSet(set)
  if (vertical === 'subscript') set = marks.lowered.create().addToSet(set)
  const color = hexColor(valueOf(properties, 'w:color'))
  const fill =
    hexColor(child(properties, 'w:shd')?.attributes['w:fill']) ??
    highlightColors[valueOf(properties, 'w:highlight') ?? ''] ??
    null
  const half = Number(valueOf(properties, 'w:sz'))
  const size = Number.isFinite(half) && half > 0 ? half / 2 : null
  const fonts = child(properties, 'w:rFonts')?.attributes
  const font = fonts?.['w:ascii'] ?? fonts?.['w:hAnsi'] ?? null
  if (color || fill || size || font) set = marks.look.create({ color, fill, size, font } satisfies Look).addToSet(set)
  return set
}
