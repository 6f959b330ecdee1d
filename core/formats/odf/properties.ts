// What styles say of letters and of paragraphs (ISO/IEC 26300-1 §16.27.28 and §16.27.29), as the model has it, both ways.
import type { Mark } from 'prosemirror-model'
import { type Align, documentSchema, type Look } from '../../content/document'
import {
  type BorderSide,
  borderSides,
  lookFrom,
  type ParagraphBorder,
  type ParagraphLook,
} from '../../content/paragraph-look'
import type { XmlElement } from '../opc/xml'
import { fromTwips, pointsOf, twipsOf } from './lengths'

/** What is said of letters; what is not said is not there. */
export interface TextProperties {
  strong?: boolean
  em?: boolean
  underline?: boolean
  strike?: boolean
  /** Raised, lowered, or on the line. */
  place?: 'raised' | 'lowered' | ''
  color?: string | null
  fill?: string | null
  size?: number | null
  font?: string | null
}
type Attributes = Readonly<Record<string, string>>

const hex = (value: string | undefined): string | undefined =>
  value && /^#[0-9a-f]{6}$/i.test(value) ? value.toLowerCase() : undefined

/** The attributes that say what the model has of letters. */
export const textAttributes: ReadonlySet<string> = new Set([
  'fo:font-weight',
  'fo:font-style',
  'style:text-underline-style',
  'style:text-underline-type',
  'style:text-line-through-style',
  'style:text-line-through-type',
  'style:text-position',
  'fo:color',
  'style:use-window-font-color',
  'fo:background-color',
  'fo:font-size',
  'style:font-name',
  'fo:font-family',
])

/** @param family of a font that a style names (§16.23) */
export function textProperties(given: Attributes, family: (name: string) => string | undefined): TextProperties {
  const found: TextProperties = {}
  const weight = given['fo:font-weight']
  if (weight !== undefined) found.strong = weight === 'bold' || Number(weight) >= 600
  const slant = given['fo:font-style']
  if (slant !== undefined) found.em = slant === 'italic' || slant === 'oblique'
  for (const [name, property] of [
    ['underline', 'text-underline'],
    ['strike', 'text-line-through'],
  ] as const) {
    const said = given[`style:${property}-style`] ?? given[`style:${property}-type`]
    if (said !== undefined) found[name] = said !== 'none'
  }
  const place = given['style:text-position']?.trim().split(/\s+/)[0]
  if (place)
    found.place =
      place === 'super' || Number.parseFloat(place) > 0 ? 'raised' : /^(?:sub|-)/.test(place) ? 'lowered' : ''
  const color = hex(given['fo:color'])
  if (color) found.color = color
  if (given['style:use-window-font-color'] === 'true') found.color = null
  const fill = given['fo:background-color']
  if (fill !== undefined) found.fill = hex(fill) ?? null
  const size = pointsOf(given['fo:font-size'])
  if (size !== undefined && size >= 1 && size <= 1638) found.size = Math.round(size * 2) / 2
  const named = given['style:font-name']
  const font = (named !== undefined ? (family(named) ?? named) : firstFamily(given['fo:font-family']))?.slice(0, 100)
  if (font) found.font = font
  return found
}
/** The first of a list of families, without its quotes. */
export function firstFamily(list: string | undefined): string | undefined {
  const [, double, single, bare] = /^\s*(?:"([^"]*)"|'([^']*)'|([^,]+))/.exec(list ?? '') ?? []
  return (double ?? single ?? bare)?.trim() || undefined
}

const { marks } = documentSchema
/** @param link where the letters lead to */
export function marksOf(properties: TextProperties, link: string | null): readonly Mark[] {
  let set: readonly Mark[] = []
  for (const name of ['strong', 'em', 'underline', 'strike'] as const)
    if (properties[name]) set = marks[name].create().addToSet(set)
  if (properties.place) set = marks[properties.place].create().addToSet(set)
  if (link !== null) set = marks.link.create({ href: link }).addToSet(set)
  const { color = null, fill = null, size = null, font = null } = properties
  if (color ?? fill ?? size ?? font) set = marks.look.create({ color, fill, size, font } satisfies Look).addToSet(set)
  return set
}
/** The other way: everything is said. */
export function propertiesOf(set: readonly Mark[]): { properties: Required<TextProperties>; link: string | null } {
  const has = (name: string) => set.some(({ type }) => type.name === name)
  const look = set.find(({ type }) => type.name === 'look')?.attrs as Look | undefined
  return {
    properties: {
      strong: has('strong'),
      em: has('em'),
      underline: has('underline'),
      strike: has('strike'),
      place: has('raised') ? 'raised' : has('lowered') ? 'lowered' : '',
      color: look?.color ?? null,
      fill: look?.fill ?? null,
      size: look?.size ?? null,
      font: look?.font ?? null,
    },
    link: (set.find(({ type }) => type.name === 'link')?.attrs.href as string | undefined) ?? null,
  }
}
/** Of what letters are to have, what they have not got yet by where they stand. */
export function missingFrom(wanted: Required<TextProperties>, got: TextProperties): TextProperties {
  const missing: Record<string, unknown> = {}
  for (const [name, value] of Object.entries(wanted)) {
    const is = got[name as keyof TextProperties]
    if ((is ?? (typeof value === 'boolean' ? false : name === 'place' ? '' : null)) !== value) missing[name] = value
  }
  return missing
}

/** A name of a font in a list of families. */
const quotedFamily = (name: string): string => (name.includes("'") ? `"${name.replaceAll('"', '')}"` : `'${name}'`)
/** Only what is said. */
export function textAttributesOf(said: TextProperties): Record<string, string> {
  const found: Record<string, string> = {}
  if (said.strong !== undefined) found['fo:font-weight'] = said.strong ? 'bold' : 'normal'
  if (said.em !== undefined) found['fo:font-style'] = said.em ? 'italic' : 'normal'
  if (said.underline !== undefined) found['style:text-underline-style'] = said.underline ? 'solid' : 'none'
  if (said.strike !== undefined) found['style:text-line-through-style'] = said.strike ? 'solid' : 'none'
  if (said.place !== undefined)
    found['style:text-position'] = { raised: 'super 58%', lowered: 'sub 58%', '': '0% 100%' }[said.place]
  if (said.color) found['fo:color'] = said.color
  else if (said.color === null) found['style:use-window-font-color'] = 'true'
  if (said.fill !== undefined) found['fo:background-color'] = said.fill ?? 'transparent'
  if (said.size) found['fo:font-size'] = `${said.size}pt`
  if (said.font) found['fo:font-family'] = quotedFamily(said.font)
  return found
}

const kindOfLine: Readonly<Record<string, ParagraphBorder['kind']>> = {
  solid: 'single',
  double: 'double',
  dotted: 'dotted',
  dashed: 'dashed',
}
const lineOfKind = { single: 'solid', double: 'double', dotted: 'dotted', dashed: 'dashed' } as const

function borderOf(given: Attributes, side: BorderSide): ParagraphBorder | undefined {
  const line = given[`fo:border-${side}`] ?? given['fo:border']
  if (!line) return undefined
  const parts = line.trim().split(/\s+/)
  const kind = parts.map((part) => kindOfLine[part]).find(Boolean)
  if (!kind) return undefined
  const width = parts.map((part) => pointsOf(part)).find((one) => one !== undefined) ?? 0.5
  const space = pointsOf(given[`fo:padding-${side}`] ?? given['fo:padding']) ?? 0
  return { kind, width: width * 8, space, color: hex(parts.find((part) => part.startsWith('#'))) ?? null }
}

/** What is said of a paragraph; null where that is nothing. */
export function paragraphLookOf(given: Attributes): ParagraphLook | null {
  const margin = (side: string) => twipsOf(given[`fo:margin-${side}`] ?? given['fo:margin'])
  const height = given['fo:line-height']
  const share = /^([\d.]+)%$/.exec(height ?? '')?.[1]
  const [exact, least] = [twipsOf(height), twipsOf(given['style:line-height-at-least'])]
  return lookFrom({
    before: margin('top'),
    after: margin('bottom'),
    line: share ? { share: Math.round(Number(share) * 2.4) } : exact ? { exact } : least ? { least } : undefined,
    left: margin('left'),
    right: margin('right'),
    first: twipsOf(given['fo:text-indent']),
    fill: hex(given['fo:background-color']),
    borders: Object.fromEntries(borderSides.map((side) => [side, borderOf(given, side)])),
  })
}
export function alignOf(given: Attributes): Align {
  const align = given['fo:text-align']
  return align === 'center' || align === 'justify' ? align : align === 'end' || align === 'right' ? 'right' : null
}
export const breaksBefore = (given: Attributes): boolean => given['fo:break-before'] === 'page'

/** The attributes that say what the model has of a paragraph. */
const paragraphAttributes = new Set([
  'fo:margin',
  'fo:line-height',
  'style:line-height-at-least',
  'fo:text-indent',
  'fo:background-color',
  'fo:border',
  'fo:padding',
  'fo:text-align',
  'fo:break-before',
  ...['top', 'left', 'bottom', 'right'].flatMap((side) => [
    `fo:margin-${side}`,
    `fo:border-${side}`,
    `fo:padding-${side}`,
  ]),
])
export interface ParagraphSays {
  align: Align
  look: ParagraphLook | null
  /** A page begins with it. */
  broken: boolean
}
/** What a paragraph is to say, and what it said that the model does not have. */
export function paragraphAttributesOf(
  { align, look, broken }: ParagraphSays,
  before: Attributes,
): Record<string, string> {
  const found = Object.fromEntries(Object.entries(before).filter(([name]) => !paragraphAttributes.has(name)))
  if (align) found['fo:text-align'] = align === 'right' ? 'end' : align
  if (broken) found['fo:break-before'] = 'page'
  if (!look) return found
  const length = (name: string, twips: number | undefined) => {
    if (twips !== undefined) found[name] = fromTwips(twips)
  }
  length('fo:margin-top', look.before)
  length('fo:margin-bottom', look.after)
  length('fo:margin-left', look.left)
  length('fo:margin-right', look.right)
  length('fo:text-indent', look.first)
  if (look.line) {
    if ('share' in look.line) found['fo:line-height'] = `${Math.round((look.line.share / 2.4) * 100) / 100}%`
    else if ('exact' in look.line) length('fo:line-height', look.line.exact)
    else length('style:line-height-at-least', look.line.least)
  }
  if (look.fill) found['fo:background-color'] = look.fill
  for (const side of borderSides) {
    const border = look.borders?.[side]
    if (!border) continue
    found[`fo:border-${side}`] =
      `${border.width / 8}pt ${lineOfKind[border.kind]}${border.color ? ` ${border.color}` : ''}`
    found[`fo:padding-${side}`] = `${border.space}pt`
  }
  return found
}

/** The attributes of a kind of properties that a style has. */
export const propertiesIn = (style: XmlElement | undefined, kind: string): Record<string, string> => {
  for (const one of style?.children ?? [])
    if (typeof one !== 'string' && one.name === `style:${kind}-properties`) return one.attributes
  return {}
}
