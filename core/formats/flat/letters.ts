// Bytes of Rich Text Format as letters: by the code page of the document, or that of the font they are in
// (Rich Text Format 1.9.1, "Character Set", "Font Table").
import { decoded, type Encoding } from '../text/encoding'

/** \fcharset, as the code page it means. */
const pageOfCharset: Readonly<Record<number, number>> = {
  0: 1252,
  77: 10000,
  128: 932,
  129: 949,
  134: 936,
  136: 950,
  161: 1253,
  162: 1254,
  163: 1258,
  177: 1255,
  178: 1256,
  186: 1257,
  204: 1251,
  222: 874,
  238: 1250,
  254: 437,
  255: 850,
}
/** Letters of signs and not of a language. */
export const symbolCharset = 2
export const codePageOf = (charset: number, usual: number): number => pageOfCharset[charset] ?? usual

/** Code pages of more bytes than one, with the bytes that begin two. */
const doubled: Readonly<Record<number, { label: string; leads: (byte: number) => boolean }>> = {
  932: { label: 'shift_jis', leads: (byte) => (byte >= 0x81 && byte <= 0x9f) || (byte >= 0xe0 && byte <= 0xfc) },
  936: { label: 'gbk', leads: (byte) => byte >= 0x81 && byte <= 0xfe },
  949: { label: 'euc-kr', leads: (byte) => byte >= 0x81 && byte <= 0xfe },
  950: { label: 'big5', leads: (byte) => byte >= 0x81 && byte <= 0xfe },
}
export const isDoubled = (page: number): boolean => page in doubled
export const leadsTwo = (page: number, byte: number): boolean => doubled[page]?.leads(byte) ?? false

const pc437 =
  'ÇüéâäàåçêëèïîìÄÅÉæÆôöòûùÿÖÜ¢£¥₧ƒáíóúñÑªº¿⌐¬½¼¡«»░▒▓│┤╡╢╖╕╣║╗╝╜╛┐└┴┬├─┼╞╟╚╔╩╦╠═╬╧╨╤╥╙╘╒╓╫╪┘┌█▄▌▐▀αßΓπΣσµτΦΘΩδ∞φε∩≡±≥≤⌠⌡÷≈°∙·√ⁿ²■\u00a0'
const pc850 =
  'ÇüéâäàåçêëèïîìÄÅÉæÆôöòûùÿÖÜø£Ø×ƒáíóúñÑªº¿®¬½¼¡«»░▒▓│┤ÁÂÀ©╣║╗╝¢¥┐└┴┬├─┼ãÃ╚╔╩╦╠═╬¤ðÐÊËÈıÍÎÏ┘┌█▄¦Ì▀ÓßÔÒõÕµþÞÚÛÙýÝ¯´\u00ad±‗¾¶§÷¸°¨·¹³²■\u00a0'
const ofOneByte: Readonly<Record<number, Encoding>> = {
  1252: 'windows-1252',
  1250: 'windows-1250',
  1251: 'windows-1251',
  1253: 'windows-1253',
  1254: 'windows-1254',
  1257: 'windows-1257',
  10000: 'macintosh',
  866: 'ibm866',
  65001: 'utf-8',
}
const byLabel: Readonly<Record<number, string>> = {
  1255: 'windows-1255',
  1256: 'windows-1256',
  1258: 'windows-1258',
  874: 'windows-874',
}

const tables = new Map<number, readonly string[]>()
function tableOf(page: number): readonly string[] {
  const known = tables.get(page)
  if (known) return known
  const upper = page === 437 ? pc437 : page === 850 ? pc850 : null
  const letter = (byte: number): string => {
    if (byte < 0x80) return String.fromCharCode(byte)
    if (upper) return upper[byte - 0x80]!
    const label = byLabel[page]
    if (label) return new TextDecoder(label).decode(Uint8Array.of(byte))
    return decoded(Uint8Array.of(byte), ofOneByte[page] ?? 'windows-1252')
  }
  const table = Array.from({ length: 256 }, (_, byte) => letter(byte))
  tables.set(page, table)
  return table
}
export const letterOf = (page: number, byte: number): string => tableOf(page)[byte]!
export const letterOfTwo = (page: number, lead: number, trail: number): string =>
  new TextDecoder(doubled[page]!.label).decode(Uint8Array.of(lead, trail))

/** Letters of fonts of signs, at their bytes from 0x20 on, as far as they are letters elsewhere; a space for none. */
const signs =
  ' !∀#∃%&∋()∗+,−./0123456789:;<=>?≅ΑΒΧΔΕΦΓΗΙϑΚΛΜΝΟΠΘΡΣΤΥςΩΞΨΖ[∴]⊥_ αβχδεφγηιϕκλμνοπθρστυϖωξψζ{|}∼' +
  ' '.repeat(33) +
  '€ϒ′≤⁄∞ƒ♣♦♥♠↔←↑→↓°±″≥×∝∂•÷≠≡≈…  ↵ℵℑℜ℘⊗⊕∅∩∪⊃⊇⊄⊂⊆∈∉∠∇®©™∏√⋅¬∧∨⇔⇐⇑⇒⇓◊〈®©™∑'
/** What a byte in a font of signs is; null for a sign that no letter is. @param font its name */
export function signOf(font: string, byte: number): string | null {
  if (byte < 0x20) return null
  if (byte === 0x20) return ' '
  if (/^symbol$/i.test(font)) {
    const sign = signs[byte - 0x20]
    return sign && sign !== ' ' ? sign : null
  }
  // The points of lists, which every such font has at these places.
  return byte === 0xb7 || byte === 0xa7 || byte === 0x6c ? '•' : null
}
