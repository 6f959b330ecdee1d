// Indents, space, fill and borders of a paragraph as WordprocessingML has them (ECMA-376 part 1, §17.3.1.12, §17.3.1.24,
// §17.3.1.31 and §17.3.1.33).
import {
  type BorderSide,
  borderSides,
  type LineHeight,
  lookFrom,
  type ParagraphBorder,
  type ParagraphLook,
} from '../../content/paragraph-look'
import { child, elements, type XmlElement } from '../opc/xml'
import { hexColor } from './values'

const number = (value: string | undefined): number | undefined =>
  value === undefined || value.trim() === '' || !Number.isFinite(Number(value)) ? undefined : Number(value)

function borderOf({ attributes }: XmlElement): ParagraphBorder | undefined {
  const kind = attributes['w:val'] ?? 'none'
  if (kind === 'none' || kind === 'nil') return undefined
  return {
    kind: /double/i.test(kind) ? 'double' : /dot/i.test(kind) ? 'dotted' : /dash/i.test(kind) ? 'dashed' : 'single',
    width: number(attributes['w:sz']) ?? 4,
    space: number(attributes['w:space']) ?? 0,
    color: hexColor(attributes['w:color']),
  }
}

/** What properties of a paragraph say of it themselves. @param properties `w:pPr`, of a paragraph or of a style */
export function readParagraphLook(properties: XmlElement | undefined): ParagraphLook | null {
  if (!properties) return null
  const spacing = child(properties, 'w:spacing')?.attributes
  const line = number(spacing?.['w:line'])
  const rule = spacing?.['w:lineRule'] ?? 'auto'
  const height: LineHeight | undefined =
    line === undefined
      ? undefined
      : rule === 'auto'
        ? { share: line }
        : rule === 'exact'
          ? { exact: line }
          : { least: line }
  const indent = child(properties, 'w:ind')?.attributes
  const hanging = number(indent?.['w:hanging'])
  const borders: Partial<Record<BorderSide, ParagraphBorder>> = {}
  for (const one of elements(child(properties, 'w:pBdr'))) {
    const name = one.name.slice(2)
    const side = borderSides.find((known) => known === (name === 'start' ? 'left' : name === 'end' ? 'right' : name))
    const border = side && borderOf(one)
    if (border) borders[side] = border
  }
  return lookFrom({
    before: number(spacing?.['w:before']),
    after: number(spacing?.['w:after']),
    line: height,
    left: number(indent?.['w:left'] ?? indent?.['w:start']),
    right: number(indent?.['w:right'] ?? indent?.['w:end']),
    first: hanging === undefined ? number(indent?.['w:firstLine']) : -hanging,
    fill: hexColor(child(properties, 'w:shd')?.attributes['w:fill']),
    borders,
  })
}

type Attributes = Record<string, string | number | undefined>
function written(prefix: string, attributes: Attributes): string {
  return Object.entries(attributes)
    .flatMap(([name, value]) => (value === undefined ? [] : [` ${prefix}${name}="${value}"`]))
    .join('')
}

/** The properties that say a look. */
export const lookProperties = ['pBdr', 'shd', 'spacing', 'ind'] as const
export type LookProperty = (typeof lookProperties)[number]

/** What of a look a property says, to tell whether it changed. */
export function saidBy(property: LookProperty, look: ParagraphLook | null): string {
  const { before, after, line, left, right, first, fill, borders } = look ?? {}
  const all = { pBdr: borders, shd: fill, spacing: [before, after, line], ind: [left, right, first] }
  return JSON.stringify(all[property]) ?? ''
}

/** A property as a look has it, without the name of its element; null for none. */
export function lookXml(prefix: string, property: LookProperty, look: ParagraphLook | null): string | null {
  if (!look) return null
  const { before, after, line, left, right, first, fill, borders } = look
  switch (property) {
    case 'shd':
      return fill ? written(prefix, { val: 'clear', color: 'auto', fill: fill.slice(1).toUpperCase() }) : null
    case 'spacing': {
      const height = line && Object.entries(line)[0]
      const rule = { share: 'auto', exact: 'exact', least: 'atLeast' }[height?.[0] ?? ''] ?? undefined
      return written(prefix, { before, after, line: height?.[1], lineRule: rule }) || null
    }
    case 'ind': {
      const hangs = first !== undefined && first < 0
      return written(prefix, { left, right, [hangs ? 'hanging' : 'firstLine']: hangs ? -first : first }) || null
    }
    case 'pBdr': {
      const sides = borderSides.flatMap((side) => {
        const border = borders?.[side]
        if (!border) return []
        const { kind: val, width: sz, space, color } = border
        return [
          `<${prefix}${side}${written(prefix, { val, sz, space, color: color?.slice(1).toUpperCase() ?? 'auto' })}/>`,
        ]
      })
      return sides.length ? `<${prefix}pBdr>${sides.join('')}</${prefix}pBdr>` : null
    }
  }
}
/** All of a look, in the order of the schema. */
export const lookXmlWhole = (prefix: string, look: ParagraphLook | null): string =>
  lookProperties
    .map((property) => lookXml(prefix, property, look))
    .map((xml, at) => (xml === null ? '' : xml.startsWith('<') ? xml : `<${prefix}${lookProperties[at]}${xml}/>`))
    .join('')
