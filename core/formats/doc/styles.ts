// The styles and fonts of a document ([MS-DOC] §2.9.271, STSH; §2.9.286, SttbfFfn), each style with what it says in the end.
import { roleOf } from '../flat/roles'
import { pageBlank } from './blank'
import { type DocFile, Numbers, parts } from './file'
import { charWith, type DocChar, type DocPara, fontOf, paraWith, propertiesIn } from './properties'

export interface DocStyle {
  name: string
  /** What the format knows it by: 0 for the usual one, 1 to 9 for headings. */
  known: number
  isParagraph: boolean
  para: DocPara
  char: DocChar
  /** Of letters: what it says beside those of the paragraph. */
  says: Uint8Array
}
const ownNumber = 0xfff

export class Styles {
  private readonly found: (DocStyle | null)[] = []
  readonly fonts: string[]

  constructor(file: DocFile) {
    this.fonts = fontsOf(file.part(parts.fonts))
    const of = new Numbers(file.part(parts.styles))
    const first = 2 + of.u16(0)
    const count = Math.min(of.u16(2), 4096)
    const base = of.u16(4)
    const usual = { para: pageBlank.para, char: { ...pageBlank.char, font: this.fonts[of.u16(14)] ?? null } }
    const raw: { at: number; size: number }[] = []
    let at = first
    for (let index = 0; index < count && at + 2 <= of.length; index++) {
      const size = of.u16(at)
      raw.push({ at: at + 2, size })
      at += 2 + size + (size % 2)
    }
    const reading = new Set<number>()
    const read = (index: number): DocStyle | null => {
      const known = this.found[index]
      if (known !== undefined) return known
      const place = raw[index]
      if (!place?.size || reading.has(index)) return null
      reading.add(index)
      const bytes = new Numbers(of.bytes.subarray(place.at, place.at + place.size))
      const kind = bytes.u16(2) & 15
      const parent = bytes.u16(2) >> 4
      const based = parent !== ownNumber ? read(parent) : null
      const letters = bytes.u16(base)
      const name = bytes.text(base + 2, Math.min(letters, 255))
      let next = base + 2 + letters * 2 + 2
      const update = (): Uint8Array => {
        const size = bytes.u16(next)
        const part = bytes.bytes.subarray(next + 2, next + 2 + size)
        next += 2 + size + (size % 2)
        return part
      }
      let para: DocPara = based?.para ?? usual.para
      let char: DocChar = based?.char ?? usual.char
      if (kind === 1) for (const property of propertiesIn(update().subarray(2))) para = paraWith(para, property)
      const says = kind === 1 || kind === 2 ? update() : new Uint8Array()
      if (kind === 1) char = this.said(char, says, char)
      const style = { name, known: bytes.u16(0) & 0xfff, isParagraph: kind === 1, para, char, says }
      this.found[index] = style
      reading.delete(index)
      return style
    }
    for (let index = 0; index < raw.length; index++) this.found[index] = read(index)
    this.usual = { name: 'Normal', known: 0, isParagraph: true, ...usual, says: new Uint8Array() }
  }
  private readonly usual: DocStyle

  /** Letters with what a list of properties says of them. @param style those that some values are beside of */
  said(char: DocChar, list: Uint8Array, style: DocChar): DocChar {
    let now = char
    for (const property of propertiesIn(list)) {
      const font = fontOf(property)
      if (font !== null) now = { ...now, font: this.fonts[font] ?? now.font }
      // A style of letters says what it says under what follows.
      else if (property.code === 0x4a30) {
        const own = this.found[property.value.u16(0)]
        if (own && !own.isParagraph && own.says !== list) now = this.said(now, own.says, now)
      } else now = charWith(now, property, style)
    }
    return now
  }

  ofParagraphs(): DocStyle[] {
    return this.found.filter((style) => style?.isParagraph) as DocStyle[]
  }
  paragraph(index: number): DocStyle {
    const style = this.found[index]
    return style?.isParagraph ? style : (this.found[0] ?? this.usual)
  }
}

function fontsOf(bytes: Uint8Array): string[] {
  const of = new Numbers(bytes)
  const count = Math.min(of.u16(0), 4096)
  const fonts: string[] = []
  let at = 4
  for (let index = 0; index < count && at < bytes.length; index++) {
    const size = of.u8(at)
    let name = ''
    for (let place = at + 40; place + 1 < at + 1 + size; place += 2) {
      const letter = of.u16(place)
      if (!letter) break
      name += String.fromCharCode(letter)
    }
    fonts.push(name)
    at += 1 + size
  }
  return fonts
}

/** How deep a heading a paragraph is, from 1; 0 for none. @param outline what it says itself */
export function headingOf(style: DocStyle, outline: number | null): number {
  if (style.known >= 1 && style.known <= 9) return Math.min(6, style.known)
  const said = outline ?? style.para.outline
  return said === null ? 0 : Math.min(6, said + 1)
}
const listParagraph = 179
const header = 31
const footer = 32
/** A style that people chose: not the usual one of what the paragraph is. */
export function namedOf(style: DocStyle, listed: boolean, edge: boolean): string | null {
  const { known, name } = style
  if (known <= 9 || roleOf(name) !== 'plain') return null
  if ((listed && known === listParagraph) || (edge && (known === header || known === footer))) return null
  return name || null
}
