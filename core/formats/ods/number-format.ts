// Number formats: codes (ECMA-376 part 1, §18.8.31) and data styles (ISO/IEC 26300-1 §16.29), each as the other.
import { emptyTag, openTag } from '../odf/new-styles'
import { elements, escapeText, textOf, type XmlElement } from '../opc/xml'

/** Colours that codes have names for. */
const colors: Readonly<Record<string, string>> = {
  Black: '#000000',
  Blue: '#0000ff',
  Cyan: '#00ffff',
  Green: '#00ff00',
  Magenta: '#ff00ff',
  Red: '#ff0000',
  White: '#ffffff',
  Yellow: '#ffff00',
}
/** Languages of currencies by the number that codes have for them ([MS-LCID]). */
const languages: Readonly<Record<string, string>> = {
  407: 'de-DE',
  409: 'en-US',
  '40A': 'es-ES',
  '40B': 'fi-FI',
  '40C': 'fr-FR',
  410: 'it-IT',
  411: 'ja-JP',
  413: 'nl-NL',
  414: 'nb-NO',
  415: 'pl-PL',
  416: 'pt-BR',
  '41D': 'sv-SE',
  807: 'de-CH',
  809: 'en-GB',
  816: 'pt-PT',
  C07: 'de-AT',
  C0A: 'es-ES',
  1009: 'en-CA',
  1809: 'en-IE',
  C09: 'en-AU',
}
const numberOf = new Map(Object.entries(languages).map(([number, language]) => [language, number]))

// From a data style to a code.

const plainSigns = /^[-$+/():!^&'~{}<>= €£¥]*$/
const plainInDates = /^[-$+/():!^&'~{}<>= €£¥,.]*$/
const literal = (text: string, plain = plainSigns): string =>
  !text ? '' : plain.test(text) ? text : `"${text.replaceAll('"', '"\\""')}"`

function numberCode({ attributes }: XmlElement): string {
  const places = attributes['number:decimal-places']
  if (places === undefined && !attributes['number:min-integer-digits']) return 'General'
  if (
    places === undefined &&
    attributes['number:grouping'] !== 'true' &&
    attributes['number:min-integer-digits'] === '1'
  )
    return 'General'
  const whole = Math.min(20, Number(attributes['number:min-integer-digits'] ?? 1) || 0)
  const decimals = Math.min(30, Number(places ?? 0) || 0)
  const least = Math.min(decimals, Number(attributes['number:min-decimal-places'] ?? decimals) || 0)
  const after = decimals ? `.${'0'.repeat(least)}${'#'.repeat(decimals - least)}` : ''
  const factor = Math.max(1, Number(attributes['number:display-factor'] ?? 1) || 1)
  const thousands = ','.repeat(Math.round(Math.log10(factor) / 3))
  return integerCode(whole, attributes['number:grouping'] === 'true') + after + thousands
}
function integerCode(digits: number, grouped: boolean): string {
  if (!grouped) return digits ? '0'.repeat(digits) : '#'
  const all = '0'.repeat(digits).padStart(4, '#')
  let code = ''
  for (let at = 0; at < all.length; at++) code += (at && (all.length - at) % 3 === 0 ? ',' : '') + all[at]
  return code
}
function scientificCode({ attributes }: XmlElement): string {
  const decimals = Math.min(30, Number(attributes['number:decimal-places'] ?? 0) || 0)
  const whole = integerCode(
    Number(attributes['number:min-integer-digits'] ?? 1) || 0,
    attributes['number:grouping'] === 'true',
  )
  const exponent = '0'.repeat(Math.min(5, Number(attributes['number:min-exponent-digits'] ?? 2) || 1))
  const sign = attributes['number:forced-exponent-sign'] === 'false' ? '-' : '+'
  return `${whole}${decimals ? `.${'0'.repeat(decimals)}` : ''}E${sign}${exponent}`
}
function fractionCode({ attributes }: XmlElement): string {
  const marks = (name: string) => '?'.repeat(Math.min(10, Number(attributes[name] ?? 1) || 1))
  const whole = attributes['number:min-integer-digits']
  const fixed = attributes['number:denominator-value']
  const below = fixed && /^\d+$/.test(fixed) ? fixed : marks('number:min-denominator-digits')
  return `${whole === undefined ? '' : `${'0'.repeat(Number(whole) || 0) || '#'} `}${marks('number:min-numerator-digits')}/${below}`
}
function currencyCode(element: XmlElement): string {
  const symbol = textOf(element)
  const { 'number:language': language, 'number:country': country } = element.attributes
  const number = language && numberOf.get(`${language}-${country ?? ''}`)
  return number ? `[$${symbol}-${number}]` : `[$${symbol}]`
}
/** One part of a code; null for what codes do not have. */
function sectionCode(style: XmlElement): string | null {
  let code = ''
  const elapsed = style.attributes['number:truncate-on-overflow'] === 'false'
  let isFirstTime = true
  for (const one of elements(style)) {
    const long = one.attributes['number:style'] === 'long'
    const timed = (letters: string) => {
      const text = isFirstTime && elapsed ? `[${letters}]` : letters
      isFirstTime = false
      return text
    }
    switch (one.name) {
      case 'style:text-properties': {
        const named = Object.entries(colors).find(([, color]) => color === one.attributes['fo:color']?.toLowerCase())
        if (named) code = `[${named[0]}]${code}`
        break
      }
      case 'number:text':
        code +=
          style.name === 'number:percentage-style' && textOf(one) === '%'
            ? '%'
            : literal(textOf(one), /date|time/.test(style.name) ? plainInDates : plainSigns)
        break
      case 'number:number':
        code += numberCode(one)
        break
      case 'number:scientific-number':
        code += scientificCode(one)
        break
      case 'number:fraction':
        code += fractionCode(one)
        break
      case 'number:currency-symbol':
        code += currencyCode(one)
        break
      case 'number:text-content':
        code += '@'
        break
      case 'number:boolean':
        code += 'General'
        break
      case 'number:year':
        code += long ? 'yyyy' : 'yy'
        break
      case 'number:month':
        code += one.attributes['number:textual'] === 'true' ? (long ? 'mmmm' : 'mmm') : long ? 'mm' : 'm'
        break
      case 'number:day':
        code += long ? 'dd' : 'd'
        break
      case 'number:day-of-week':
        code += long ? 'dddd' : 'ddd'
        break
      case 'number:hours':
        code += timed(long ? 'hh' : 'h')
        break
      case 'number:minutes':
        code += timed(long ? 'mm' : 'm')
        break
      case 'number:seconds': {
        const places = Math.min(3, Number(one.attributes['number:decimal-places'] ?? 0) || 0)
        code += timed(long ? 'ss' : 's') + (places ? `.${'0'.repeat(places)}` : '')
        break
      }
      case 'number:am-pm':
        code += 'AM/PM'
        break
      case 'style:map':
        break
      default:
        return null
    }
  }
  const { 'number:language': language, 'number:country': country } = style.attributes
  const spoken = /date/.test(style.name) && /m{3}|d{3}/.test(code) ? numberOf.get(`${language}-${country}`) : undefined
  return spoken ? `[$-${spoken}]${code}` : code
}

/**
 * The code of a data style.
 * @param byName the other data styles of its part, for values that it shows in another way
 * @returns undefined for the usual one, null for one that no code says
 */
export function codeOf(style: XmlElement, byName: (name: string) => XmlElement | undefined): string | undefined | null {
  const base = sectionCode(style)
  if (base === null) return null
  const maps: { condition: string; code: string }[] = []
  for (const map of elements(style, 'style:map')) {
    const condition = /^value\(\)\s*((?:[<>]=?|!?=|<>)\s*-?[\d.]+)$/.exec(map.attributes['style:condition'] ?? '')?.[1]
    const other = byName(map.attributes['style:apply-style-name'] ?? '')
    const code = other && sectionCode(other)
    if (!condition || code === null || code === undefined) return null
    maps.push({ condition: condition.replaceAll(' ', '').replace('!=', '<>'), code })
  }
  const conditions = maps.map(({ condition }) => condition).join(' ')
  const codes = maps.map(({ code }) => code)
  const isText = style.name === 'number:text-style'
  if (!maps.length) return base === 'General' ? undefined : base
  if (conditions === '>=0' || conditions === '>0 <0' || (isText && conditions === '>0 <0 =0'))
    return [...codes, base].join(';')
  if (isText || maps.length > 2) return null
  return [...maps.map(({ condition, code }) => `[${condition}]${code}`), base].join(';')
}

// From a code to data styles.

/** A code that no data style says. */
export class NoStyle extends Error {}

const textAsItIs = '<number:text-content/>'
/** A code without what only places its signs: widths of others, signs that fill, places that may be empty. */
export const simplified = (code: string): string =>
  code.replace(/"[^"]*"|\\.|\[[^\]]*\]|_.|\*.|\?/g, (piece) =>
    piece.startsWith('_') ? ' ' : piece.startsWith('*') ? '' : piece === '?' ? '#' : piece,
  )

/** The parts of a code, at semicolons outside its texts. */
function sectionsOf(code: string): string[] {
  const sections = ['']
  for (const [piece] of code.matchAll(/"[^"]*"|\\.|\[[^\]]*\]|[\s\S]/g)) {
    if (piece === ';') sections.push('')
    else sections[sections.length - 1] += piece
  }
  return sections
}

interface Section {
  condition: string | null
  kind: 'number' | 'percentage' | 'currency' | 'date' | 'time' | 'text'
  /** That its names of days and months are in. */
  language: string | null
  elapsed: boolean
  xml: string
}
const piece =
  /"([^"]*)"|\\(.)|\[([^\]]*)\]|(General)|(AM\/PM|A\/P)|(0?\.?(?:[#0?][#0?,]*)?(?:\.[0#?]*)?,*E[+-]0+)|([#0?]+ +)?([#?0]+)\/([#?0]+|\d+)|((?:[#0?][#0?,]*)(?:\.[0#?]*)?,*|\.[0#?]+)|(y+|m+|d+|h+|s+(?:\.0+)?)|(@)|(%)|([\s\S])/giu

const textXml = (text: string): string => (text ? `<number:text>${escapeText(text)}</number:text>` : '')

function numberXml(code: string): string {
  const [, digits = '', decimals = '', factors = ''] = /^([#0?,]*?)(?:\.([0#?]*))?(,*)$/.exec(code) ?? []
  const whole = digits.replaceAll(',', '')
  if (/\?/.test(code) || /0#/.test(whole) || /#0/.test(decimals)) throw new NoStyle()
  const grouped = digits.includes(',')
  const attributes: Record<string, string> = {
    'number:decimal-places': String(decimals.length),
    ...(decimals.includes('#') && { 'number:min-decimal-places': String(decimals.replaceAll('#', '').length) }),
    'number:min-integer-digits': String(whole.replaceAll('#', '').length),
    ...(grouped && { 'number:grouping': 'true' }),
    ...(factors && { 'number:display-factor': String(1000 ** factors.length) }),
  }
  return emptyTag('number:number', attributes)
}
function scientificXml(code: string): string {
  const [, number = '', sign, exponent = ''] = /^(.*)E([+-])(0+)$/i.exec(code) ?? []
  const [whole = '', decimals = ''] = number.split('.')
  if (/[?,]/.test(number) || /#/.test(decimals)) throw new NoStyle()
  return emptyTag('number:scientific-number', {
    'number:decimal-places': String(decimals.length),
    'number:min-integer-digits': String(whole.replaceAll('#', '').length),
    'number:min-exponent-digits': String(exponent.length),
    ...(sign === '-' && { 'number:forced-exponent-sign': 'false' }),
  })
}
function dateXml(letters: string, minutes: boolean): string {
  const long = (name: string, is: boolean, more: Record<string, string> = {}) =>
    emptyTag(`number:${name}`, { ...(is && { 'number:style': 'long' }), ...more })
  const [text = '', places = ''] = letters.toLowerCase().split('.')
  const { length } = text
  switch (text[0]) {
    case 'y':
      return long('year', length > 2)
    case 'm':
      if (minutes) return long('minutes', length > 1)
      if (length > 4) throw new NoStyle()
      return long('month', length === 2 || length === 4, length > 2 ? { 'number:textual': 'true' } : {})
    case 'd':
      return length > 2 ? long('day-of-week', length > 3) : long('day', length > 1)
    case 'h':
      return long('hours', length > 1)
    default:
      return long('seconds', length > 1, places ? { 'number:decimal-places': String(places.length) } : {})
  }
}

function sectionOf(code: string): Section {
  const section: Section = { condition: null, kind: 'number', language: null, elapsed: false, xml: '' }
  let color = ''
  let text = ''
  let has = { date: false, time: false, percent: false, currency: false, number: false, at: false }
  const flush = () => {
    section.xml += textXml(text)
    text = ''
  }
  const put = (xml: string) => {
    flush()
    section.xml += xml
  }
  const pieces = [...code.matchAll(piece)]
  for (const [at, found] of pieces.entries()) {
    const [
      all,
      quoted,
      escaped,
      bracket,
      general,
      noon,
      scientific,
      whole,
      above,
      below,
      number,
      date,
      atSign,
      percent,
      other,
    ] = found
    if (quoted !== undefined) text += quoted
    else if (escaped !== undefined) text += escaped
    else if (bracket !== undefined) {
      const named = Object.keys(colors).find((name) => name.toLowerCase() === bracket.toLowerCase())
      const money = /^\$([^-]*)(?:-([0-9A-Fa-f]+))?$/.exec(bracket)
      if (named) color = colors[named]!
      else if (/^(?:[<>]=?|=|<>)-?[\d.]+$/.test(bracket)) section.condition = bracket
      else if (/^(?:h+|m+|s+)$/i.test(bracket)) {
        if (has.time) throw new NoStyle()
        section.elapsed = true
        has = { ...has, time: true }
        put(dateXml(bracket, true))
      } else if (money) {
        const language = money[2] && languages[money[2].replace(/^0+/, '').toUpperCase()]
        if (money[2] && !language) throw new NoStyle()
        if (!money[1]) {
          section.language = language ?? null
          continue
        }
        const [own, country] = language?.split('-') ?? []
        put(
          `${openTag('number:currency-symbol', { ...(own && { 'number:language': own }), ...(country && { 'number:country': country }) })}${escapeText(money[1]!)}</number:currency-symbol>`,
        )
        has = { ...has, currency: true }
      } else throw new NoStyle()
    } else if (general) {
      put(emptyTag('number:number', { 'number:min-integer-digits': '1' }))
      has = { ...has, number: true }
    } else if (noon) {
      if (!/^AM\/PM$/i.test(noon)) throw new NoStyle()
      put('<number:am-pm/>')
      has = { ...has, time: true }
    } else if (scientific) {
      put(scientificXml(scientific))
      has = { ...has, number: true }
    } else if (above && below) {
      put(
        emptyTag('number:fraction', {
          ...(whole && { 'number:min-integer-digits': String(whole.trim().replaceAll('#', '').length) }),
          'number:min-numerator-digits': String(above.length),
          ...(/^[1-9]/.test(below)
            ? { 'number:denominator-value': below }
            : { 'number:min-denominator-digits': String(below.length) }),
        }),
      )
      has = { ...has, number: true }
    } else if (number) {
      put(numberXml(number))
      has = { ...has, number: true }
    } else if (date) {
      // Months and minutes have one letter: behind hours and before seconds they are minutes (§18.8.31).
      const letters = (step: number) => {
        for (let near = at + step; near >= 0 && near < pieces.length; near += step) {
          const bracketed = pieces[near]![3]
          const one = pieces[near]![11] ?? (bracketed && /^[hms]+$/i.test(bracketed) ? bracketed : undefined)
          if (one) return one.toLowerCase()
        }
        return ''
      }
      const minutes = /^m{1,2}$/i.test(date) && (letters(-1).startsWith('h') || letters(1).startsWith('s'))
      put(dateXml(date, minutes))
      has = minutes || /^[hs]/i.test(date) ? { ...has, time: true } : { ...has, date: true }
    } else if (atSign) {
      put('<number:text-content/>')
      has = { ...has, at: true }
    } else if (percent) {
      text += '%'
      has = { ...has, percent: true }
    } else if (other === '_' || other === '*') throw new NoStyle()
    else text += all
  }
  flush()
  section.kind = has.date
    ? 'date'
    : has.time
      ? 'time'
      : has.at
        ? 'text'
        : has.percent
          ? 'percentage'
          : has.currency
            ? 'currency'
            : 'number'
  if (color) section.xml = emptyTag('style:text-properties', { 'fo:color': color }) + section.xml
  return section
}

/**
 * Data styles that say a code.
 * @param name of the one that cells name; those of its parts have names of their own behind it
 * @throws NoStyle
 */
export function dataStylesOf(code: string, name: string): string {
  const sections = sectionsOf(code).map(sectionOf)
  // Text is shown as it is without being told.
  if (sections.length > 1 && sections.length < 4 && sections.at(-1)!.xml === textAsItIs) sections.pop()
  if (sections.length > 4) throw new NoStyle()
  const tag = ({ kind, language, elapsed, xml }: Section, own: string, maps = '') => {
    const element = `number:${kind}-style`
    const [spoken, country] = language?.split('-') ?? []
    const attributes = {
      'style:name': own,
      ...(spoken && { 'number:language': spoken }),
      ...(country && { 'number:country': country }),
      ...(elapsed && { 'number:truncate-on-overflow': 'false' }),
    }
    return `${openTag(element, attributes)}${xml}${maps}</${element}>`
  }
  const base = sections.at(-1)!
  const others = sections.slice(0, -1)
  if (!others.length) {
    if (base.condition) throw new NoStyle()
    return tag(base, name)
  }
  const usual = [['>=0'], ['>0', '<0'], ['>0', '<0', '=0']][others.length - 1]!
  if (others.length === 3 && base.kind !== 'text') throw new NoStyle()
  if (others.length < 3 && base.kind === 'text') throw new NoStyle()
  let xml = ''
  let maps = ''
  for (const [at, one] of others.entries()) {
    const own = `${name}P${at}`
    xml += tag(one, own)
    maps += emptyTag('style:map', {
      'style:condition': `value()${one.condition ?? usual[at]}`,
      'style:apply-style-name': own,
    })
  }
  return xml + tag(base, name, maps)
}

/** Whether two codes say the same in other letters. */
export function sameFormat(a: string | undefined, b: string | undefined): boolean {
  if (a === b) return true
  try {
    return dataStylesOf(a ?? 'General', 'N') === dataStylesOf(b ?? 'General', 'N')
  } catch (error) {
    if (error instanceof NoStyle) return false
    throw error
  }
}
