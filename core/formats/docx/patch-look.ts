// Properties of runs and paragraphs with some traits changed, the rest as the file has it (ECMA-376 part 1, §17.3.1.26
// and §17.3.2.28).
import type { Mark, Node } from 'prosemirror-model'
import type { Look } from '../../content/document'
import type { ListNumber } from '../../content/list-number'
import type { ParagraphLook } from '../../content/paragraph-look'
import { attributeOf, childrenIn, elementOf, nextTag } from '../opc/spans'
import { escapeAttribute } from '../opc/xml'
import { lookProperties, lookXml, saidBy } from './paragraph-look'

/** The order in which the schema has the properties of a run, as far as one is written here. */
const runOrder =
  'rStyle rFonts b bCs i iCs caps smallCaps strike dstrike outline shadow emboss imprint noProof snapToGrid vanish webHidden color spacing w kern position sz szCs highlight u effect bdr shd fitText vertAlign rtl cs em lang eastAsianLayout specVanish oMath rPrChange'.split(
    ' ',
  )
const paragraphOrder =
  'pStyle keepNext keepLines pageBreakBefore framePr widowControl numPr suppressLineNumbers pBdr shd tabs suppressAutoHyphens kinsoku wordWrap overflowPunct topLinePunct autoSpaceDE autoSpaceDN bidi adjustRightInd snapToGrid spacing ind contextualSpacing mirrorIndents suppressOverlap jc textDirection textAlignment textboxTightWrap outlineLvl divId cnfStyle rPr sectPr pPrChange'.split(
    ' ',
  )

/** Properties as an ordered list of elements. */
class Properties {
  private readonly all: { name: string; xml: string }[] = []
  constructor(
    private readonly prefix: string,
    private readonly element: string,
    private readonly order: readonly string[],
    raw: string,
  ) {
    const tag = raw ? nextTag(raw, 0) : null
    if (!tag) return
    for (const child of childrenIn(raw, elementOf(raw, tag).inner))
      this.all.push({ name: child.name.slice(prefix.length), xml: raw.slice(child.start, child.end) })
  }
  get(name: string): string | undefined {
    return this.all.find((one) => one.name === name)?.xml
  }
  value(name: string): string | undefined {
    const xml = this.get(name)
    return xml === undefined ? undefined : attributeOf(xml, nextTag(xml, 0)!, `${this.prefix}val`)
  }
  /** Sets a property, in its place; null takes it out. @param rest attributes and content, as they are written */
  set(name: string, rest: string | null): void {
    const at = this.all.findIndex((one) => one.name === name)
    if (rest === null) {
      if (at >= 0) this.all.splice(at, 1)
      return
    }
    const one = { name, xml: rest.startsWith('<') ? rest : `<${this.prefix}${name}${rest}/>` }
    if (at >= 0) this.all[at] = one
    else {
      const rank = this.order.indexOf(name)
      const before = this.all.findIndex((other) => this.order.indexOf(other.name) > rank)
      this.all.splice(before < 0 ? this.all.length : before, 0, one)
    }
  }
  get xml(): string {
    const { prefix, element } = this
    return this.all.length
      ? `<${prefix}${element}>${this.all.map(({ xml }) => xml).join('')}</${prefix}${element}>`
      : ''
  }
}

const has = (marks: readonly Mark[], name: string) => marks.some((mark) => mark.type.name === name)
const lookOf = (marks: readonly Mark[]): Partial<Look> =>
  (marks.find((mark) => mark.type.name === 'look')?.attrs as Look | undefined) ?? {}
const upper = (color: string) => color.slice(1).toUpperCase()

/**
 * A run's properties for other marks.
 * @param raw as they are written; empty for none @param from the marks that they read as @param to those that are wanted
 * @param inherited marks that its paragraph's style gives it
 */
export function runPropertiesFor(
  prefix: string,
  raw: string,
  from: readonly Mark[],
  to: readonly Mark[],
  inherited: readonly Mark[],
): string {
  const properties = new Properties(prefix, 'rPr', runOrder, raw)
  const val = (value: string) => ` ${prefix}val="${escapeAttribute(value)}"`
  for (const [mark, name] of [
    ['strong', 'b'],
    ['em', 'i'],
    ['strike', 'strike'],
  ] as const) {
    if (has(from, mark) === has(to, mark)) continue
    if (has(to, mark)) properties.set(name, has(inherited, mark) ? null : '')
    // What the run's own style gives is taken back in so many words; what stands here itself goes.
    else properties.set(name, has(inherited, mark) || properties.get(name) === undefined ? val('0') : null)
  }
  if (has(from, 'underline') !== has(to, 'underline'))
    properties.set(
      'u',
      has(to, 'underline')
        ? val('single')
        : has(inherited, 'underline') || properties.get('u') === undefined
          ? val('none')
          : null,
    )
  const raised = (marks: readonly Mark[]) =>
    has(marks, 'raised') ? 'superscript' : has(marks, 'lowered') ? 'subscript' : null
  if (raised(from) !== raised(to)) properties.set('vertAlign', raised(to) === null ? null : val(raised(to)!))
  const [was, now] = [lookOf(from), lookOf(to)]
  if ((was.color ?? null) !== (now.color ?? null)) properties.set('color', now.color ? val(upper(now.color)) : null)
  if ((was.size ?? null) !== (now.size ?? null))
    properties.set('sz', now.size ? val(String(Math.round(now.size * 2))) : null)
  if ((was.font ?? null) !== (now.font ?? null))
    properties.set(
      'rFonts',
      now.font ? ` ${prefix}ascii="${escapeAttribute(now.font)}" ${prefix}hAnsi="${escapeAttribute(now.font)}"` : null,
    )
  if ((was.fill ?? null) !== (now.fill ?? null)) {
    properties.set('highlight', null)
    properties.set('shd', now.fill ? `${val('clear')} ${prefix}color="auto" ${prefix}fill="${upper(now.fill)}"` : null)
  }
  return properties.xml
}

/** What a paragraph is beside its text. */
export interface Context {
  kind: 'plain' | 'heading' | 'quote'
  level: number
  align: string | null
  /** The file's own style, where it is not the usual one. */
  style: string | null
  /** What it says of its place and frame itself. */
  look: ParagraphLook | null
  /** `of` is the outermost list that it is in, and `own` the innermost. */
  list: { ordered: boolean; depth: number; number: ListNumber | null; of?: Node; own?: Node } | null
}
/** Lists of one key may be one list. */
export const listKey = ({ ordered, depth, number }: NonNullable<Context['list']>): string =>
  `${ordered} ${depth} ${number ? JSON.stringify(number) : ''}`
export const contextKey = ({ kind, level, align, style, look, list }: Context): string =>
  `${kind} ${level} ${align ?? ''} ${style ?? ''} ${look ? JSON.stringify(look) : ''} ${list ? listKey(list) : ''}`

/** A paragraph's properties without what must stand once: the section that it ends, and what was tracked of it. */
export function copiedProperties(prefix: string, raw: string, section: boolean): string {
  const properties = new Properties(prefix, 'pPr', paragraphOrder, raw)
  if (!section) properties.set('sectPr', null)
  properties.set('pPrChange', null)
  properties.set('pageBreakBefore', null)
  return properties.xml
}
export const endsSection = (prefix: string, raw: string): boolean =>
  new Properties(prefix, 'pPr', paragraphOrder, raw).get('sectPr') !== undefined

/**
 * A paragraph's properties for another context.
 * @param alignGiven what a style says of it
 * @param styleFor the file's style of a kind of paragraph; undefined where it has none, '' for its usual one
 * @param numberingFor the `numPr` of a list that it joins @returns null where the file has no way to say it
 */
export function paragraphPropertiesFor(
  prefix: string,
  raw: string,
  from: Context,
  to: Context,
  styleFor: (kind: Context['kind'], level: number) => string | undefined,
  numberingFor: (list: NonNullable<Context['list']>) => string | undefined,
  alignGiven: (style: string) => string | null,
): string | null {
  const properties = new Properties(prefix, 'pPr', paragraphOrder, raw)
  if (from.kind !== to.kind || from.level !== to.level || from.style !== to.style) {
    const style = to.style ?? styleFor(to.kind, to.level)
    if (style === undefined) return null
    properties.set('pStyle', style ? ` ${prefix}val="${escapeAttribute(style)}"` : null)
    properties.set('outlineLvl', null)
  }
  // Another style may have an alignment of its own.
  const given = properties.value('jc') === undefined ? alignGiven(properties.value('pStyle') ?? '') : from.align
  if ((given ?? null) !== (to.align ?? null))
    properties.set('jc', ` ${prefix}val="${to.align === 'justify' ? 'both' : (to.align ?? 'left')}"`)
  for (const property of lookProperties)
    if (saidBy(property, from.look) !== saidBy(property, to.look))
      properties.set(property, lookXml(prefix, property, to.look))
  if ((from.list && listKey(from.list)) !== (to.list && listKey(to.list))) {
    if (!to.list) properties.set('numPr', `<${prefix}numPr><${prefix}numId ${prefix}val="0"/></${prefix}numPr>`)
    else {
      const numbering = numberingFor(to.list)
      if (numbering === undefined) return null
      properties.set('numPr', numbering)
    }
  }
  return properties.xml
}
/** The `numPr` that stands in a paragraph's own properties. */
/** A paragraph's properties with another number for the list that it is in. */
export function withNumbering(prefix: string, raw: string, level: number, number: string): string {
  const properties = new Properties(prefix, 'pPr', paragraphOrder, raw)
  const named = `<${prefix}ilvl ${prefix}val="${level}"/><${prefix}numId ${prefix}val="${number}"/>`
  properties.set('numPr', `<${prefix}numPr>${named}</${prefix}numPr>`)
  return properties.xml
}
export const numberingIn = (prefix: string, raw: string): string | undefined =>
  new Properties(prefix, 'pPr', paragraphOrder, raw).get('numPr')
