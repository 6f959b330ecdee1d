// What a file says of itself where that stands in XML: elements of their own, of which the code knows namespace and name.
import { type About, type AboutField, keywordsIn, tidyAbout } from '../../content/about'
import { spannedTree } from '../opc/spanned-xml'
import { Splices } from '../opc/spans'
import { elements, escapeText, textOf, type XmlElement } from '../opc/xml'
import { NotPatched } from '../refusals'

export interface FieldInXml {
  field: AboutField
  namespace: string
  /** The prefix that it has where none is declared. */
  prefix: string
  name: string
  /** Each keyword is an element of its own. */
  each?: boolean
}
export interface FieldsInXml {
  fields: readonly FieldInXml[]
  /** The element that they stand in. */
  within(root: XmlElement): XmlElement | undefined
}

/** Prefixes by namespace, as an element and those around it declare them. */
function prefixesOf(...around: (XmlElement | undefined)[]): Map<string, string> {
  const byPrefix = new Map<string, string>()
  for (const element of around)
    for (const [key, value] of Object.entries(element?.attributes ?? {}))
      if (key === 'xmlns') byPrefix.set('', value)
      else if (key.startsWith('xmlns:')) byPrefix.set(key.slice(6), value)
  return byPrefix
}

/** The elements of a field, in their order. */
function* elementsOf(root: XmlElement, within: XmlElement, { namespace, name }: FieldInXml): Generator<XmlElement> {
  for (const one of elements(within)) {
    const colon = one.name.indexOf(':')
    if (one.name.slice(colon + 1) !== name) continue
    const prefix = colon < 0 ? '' : one.name.slice(0, colon)
    if (prefixesOf(root, within, one).get(prefix) === namespace) yield one
  }
}

/** @throws DamagedFile where it is not well-formed */
export function readFields(xml: string, { fields, within }: FieldsInXml): About | null {
  const root = spannedTree(xml)
  const parent = within(root)
  if (!parent) return null
  return tidyAbout(
    Object.fromEntries(
      fields.map((one) => [one.field, [...elementsOf(root, parent, one)].flatMap(wordsIn).join(', ')]),
    ),
  )
}
/** What an element says; a keyword in another language is an element within it. */
const wordsIn = (element: XmlElement): string[] =>
  [
    element.children.filter((part) => typeof part === 'string').join(''),
    ...Array.from(elements(element), textOf),
  ].filter((words) => words.trim())

/**
 * @param changed the fields that are to be as `about` says; what else stands there stays
 * @throws NotPatched where there is no place for them
 */
export function patchFields(
  xml: string,
  { fields, within }: FieldsInXml,
  about: About | null,
  changed: readonly AboutField[],
): string {
  const root = spannedTree(xml)
  const parent = within(root)
  if (!parent?.at) throw new NotPatched('about')
  const splices = new Splices()
  const made: string[] = []
  for (const one of fields) {
    if (!changed.includes(one.field)) continue
    const there = [...elementsOf(root, parent, one)]
    const said = about?.[one.field]
    const values = said === undefined ? [] : one.each ? keywordsIn(said) : [said]
    for (const [at, element] of there.entries()) {
      const { start, end, inner, kind } = element.at!
      const value = values[at]
      if (value === undefined) splices.replace(start, end, '')
      else if (kind !== 'empty') splices.replace(...inner, escapeText(value))
      else
        splices.replace(
          start,
          end,
          `${xml.slice(start, end).replace(/\s*\/>$/, '')}>${escapeText(value)}</${nameAt(xml, start)}>`,
        )
    }
    const known = [...prefixesOf(root, parent)].find(([, namespace]) => namespace === one.namespace)?.[0]
    const prefix = known ?? one.prefix
    const name = prefix ? `${prefix}:${one.name}` : one.name
    const declared = known === undefined ? ` xmlns:${prefix}="${one.namespace}"` : ''
    for (const value of values.slice(there.length)) made.push(`<${name}${declared}>${escapeText(value)}</${name}>`)
  }
  if (made.length) {
    const { start, end, inner, kind } = parent.at
    if (kind !== 'empty') splices.insert(inner[1], made.join(''))
    else
      splices.replace(
        start,
        end,
        `${xml.slice(start, end).replace(/\s*\/>$/, '')}>${made.join('')}</${nameAt(xml, start)}>`,
      )
  }
  return splices.apply(xml)
}
/** The name of the tag that begins at a place, as it is written. */
const nameAt = (xml: string, at: number): string => /^<([^\s/>]+)/.exec(xml.slice(at, at + 300))![1]!
