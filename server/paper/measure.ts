// How wide text is in the fonts that pages are set in: by the widths that the fonts' own files have for their letters.
import { existsSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import * as loaded from 'opentype.js'
import type { MeasureFont } from '../../core/paper/from-sheets'

/** Open fonts that stand for those that files name (core/paper/fonts.ts), where Debian puts them. */
export const fontFolders = ['liberation', 'liberation2', 'crosextra'].map((name) => `/usr/share/fonts/truetype/${name}`)

/** It comes as a module of either kind, by who resolves it. */
const opentype = 'parse' in loaded ? loaded : (loaded as { default: typeof loaded }).default
type Font = ReturnType<typeof opentype.parse>

const fonts = new Map<string, Font | null>()
function fontOf(family: string, bold: boolean, italic: boolean): Font | null {
  const style = `${bold ? 'Bold' : ''}${italic ? 'Italic' : ''}` || 'Regular'
  const file = `${family.replaceAll(' ', '')}-${style}.ttf`
  const known = fonts.get(file)
  if (known !== undefined) return known
  const path = fontFolders.map((folder) => join(folder, file)).find((one) => existsSync(one))
  const bytes = path === undefined ? null : readFileSync(path)
  const font = bytes && opentype.parse(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength))
  fonts.set(file, font)
  return font
}

/** Of letters that a font does not have, as a share of the size: as wide as any. */
const unknown = 1

export const measureFont: MeasureFont = (family, bold, italic, size) => {
  const font = fontOf(family, bold, italic)
  /** By code point; shares of the size. */
  const widths = new Map<number, number>()
  const widthOf = (letter: string): number => {
    const code = letter.codePointAt(0)!
    const known = widths.get(code)
    if (known !== undefined) return known
    const glyph = font?.charToGlyph(letter)
    const width = font && glyph?.index ? (glyph.advanceWidth ?? font.unitsPerEm) / font.unitsPerEm : unknown
    widths.set(code, width)
    return width
  }
  return (text) => {
    let width = 0
    for (const letter of text) width += widthOf(letter)
    return width * size
  }
}
