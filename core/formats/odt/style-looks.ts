// How the styles of a text look (ISO/IEC 26300-1 §16.2), as declarations of CSS made from numbers, colours and names that
// were checked.
import { lookCss } from '../../content/paragraph-look'
import { cssFamily, type StyleLook } from '../docx/style-looks'
import { openOdf } from '../odf/package'
import { alignOf, paragraphLookOf, propertiesIn } from '../odf/properties'
import { OdfStyles, startOf } from '../odf/styles'
import { child, elements, type XmlElement } from '../opc/xml'
import { DamagedFile } from '../refusals'
import { headingStyle, quoteStyle } from './common-styles'

/** @returns none for a file whose styles cannot be read */
export function readOdtLooks(bytes: Uint8Array): StyleLook[] {
  try {
    const opened = openOdf(bytes)
    const styles = new OdfStyles(opened)
    let usual: XmlElement | undefined
    for (const one of elements(child(opened.styles?.root, 'office:styles'), 'style:default-style'))
      if (one.attributes['style:family'] === 'paragraph') usual = one
    return styles.commonStyles('paragraph').map((style) => lookOf(style, styles, usual))
  } catch (error) {
    if (error instanceof DamagedFile) return []
    throw error
  }
}

function lookOf(style: XmlElement, styles: OdfStyles, usual: XmlElement | undefined): StyleLook {
  const { attributes } = style
  const id = attributes['style:name'] ?? ''
  const chain = [...(usual ? [usual] : []), ...styles.chain('paragraph', id)]
  const css: Record<string, string> = { 'margin-top': '0pt', 'margin-bottom': '0pt', 'line-height': '1.2' }
  for (const one of chain) {
    const says = propertiesIn(one, 'paragraph')
    const look = paragraphLookOf(says)
    if (look) Object.assign(css, lookCss(look))
    const align = alignOf(says)
    if (align) css['text-align'] = align
    const { strong, em, color, size, font } = styles.textIn(one)
    if (strong !== undefined) css['font-weight'] = strong ? '700' : '400'
    if (em !== undefined) css['font-style'] = em ? 'italic' : 'normal'
    // Black is the colour of text, whichever that is where it is shown.
    if (color && color !== '#000000') css.color = color
    else if (color !== undefined) delete css.color
    if (font) css['font-family'] = cssFamily(font)
    if (size) css['font-size'] = `${size}pt`
    else {
      // A share is of what it is based on.
      const share = /^([\d.]+)%$/.exec(propertiesIn(one, 'text')['fo:font-size'] ?? '')?.[1]
      const before = Number.parseFloat(css['font-size'] ?? '12')
      if (share) css['font-size'] = `${Math.round(before * Number(share)) / 100}pt`
    }
  }
  const heading = Math.min(6, startOf(attributes['style:default-outline-level']) ?? 0)
  const isHeading = heading > 0 && id === headingStyle(heading)
  const named = !isHeading && id !== 'Standard' && id !== quoteStyle
  return {
    id,
    name: attributes['style:display-name'] ?? id,
    heading,
    quote: id === quoteStyle,
    named,
    usual: id === 'Standard',
    css,
    // What a style gives its letters is no mark of theirs.
    marks: [],
    // Of the many that a program brings along, those that are for text or of somebody's own.
    offered: named && (attributes['style:class'] === undefined || attributes['style:class'] === 'text'),
  }
}
