// The page that a text begins on (ISO/IEC 26300-1 §16.5 and §16.9): its size and margins, and what stands at its edges.
import { a4, type Page } from '../../content/document'
import type { EdgeName } from '../../content/edges'
import { fromTwips, twipsOf } from '../odf/lengths'
import { openTag } from '../odf/new-styles'
import type { OdfPackage } from '../odf/package'
import type { OdfStyles } from '../odf/styles'
import { child, elements, textOf, type XmlElement } from '../opc/xml'
import type { Limits } from '../refusals'
import type { Mapped } from './read'

export interface PageSource {
  size: Page
  layout: XmlElement | undefined
  /** What says the size and the margins. */
  properties: XmlElement | undefined
  master: XmlElement | undefined
  /** What stands at its edges. */
  elements: ReadonlyMap<EdgeName, XmlElement>
  edges: Map<string, Mapped>
  /** Styles of the part that edges stand in. */
  styles: OdfStyles
}

/** In the order in which a page has them. */
export const edgeElements: readonly (readonly [string, EdgeName])[] = [
  ['style:header', { edge: 'head', on: 'all' }],
  ['style:header-left', { edge: 'head', on: 'even' }],
  ['style:header-first', { edge: 'head', on: 'first' }],
  ['style:footer', { edge: 'foot', on: 'all' }],
  ['style:footer-left', { edge: 'foot', on: 'even' }],
  ['style:footer-first', { edge: 'foot', on: 'first' }],
]
const isShown = (edge: XmlElement): boolean => edge.attributes['style:display'] !== 'false'

export function pageOf(opened: OdfPackage, styles: OdfStyles, first: Mapped | undefined, limits: Limits): PageSource {
  const root = opened.styles?.root
  const masters = [...elements(child(root, 'office:master-styles'), 'style:master-page')]
  const element = first?.element ?? first?.children?.[0]?.element
  const isTable = element?.name === 'table:table'
  const style = styles.automaticStyle(
    isTable ? 'table' : 'paragraph',
    element?.attributes[isTable ? 'table:style-name' : 'text:style-name'],
  )
  const named = (name: string | undefined) => masters.find((one) => one.attributes['style:name'] === name)
  const wanted = style?.attributes['style:master-page-name']
  const master = (wanted ? named(wanted) : undefined) ?? named('Standard') ?? masters[0]
  const found = new Map<EdgeName, XmlElement>()
  for (const one of masters)
    for (const edge of elements(one)) {
      const [, name] = edgeElements.find(([is]) => is === edge.name) ?? []
      if (!isShown(edge)) continue
      if (one === master && name) found.set(name, edge)
      // Pages that look otherwise have edges of their own.
      else if (/(?:header|footer)/.test(edge.name) && textOf(edge).trim())
        limits.add(edge.name.includes('header') ? 'page headers' : 'page footers', textOf(edge).trim().slice(0, 40))
    }
  const layout = [...elements(child(root, 'office:automatic-styles'), 'style:page-layout')].find(
    (one) => one.attributes['style:name'] === master?.attributes['style:page-layout-name'],
  )
  const properties = child(layout, 'style:page-layout-properties')
  return { size: sizeIn(properties), layout, properties, master, elements: found, edges: new Map(), styles }
}

function sizeIn(properties: XmlElement | undefined): Page {
  const says = properties?.attributes ?? {}
  const length = (name: string, usual: number) => {
    const twips = twipsOf(says[name])
    return twips !== undefined && twips >= 0 && twips <= 31_680 ? twips : usual
  }
  const margin = (side: 'top' | 'right' | 'bottom' | 'left') =>
    length(`fo:margin-${side}`, length('fo:margin', a4[side]))
  return {
    width: length('fo:page-width', a4.width) || a4.width,
    height: length('fo:page-height', a4.height) || a4.height,
    top: margin('top'),
    right: margin('right'),
    bottom: margin('bottom'),
    left: margin('left'),
  }
}

/** The page as it is now; what is not of its size and margins stays. */
export function pageTag(element: XmlElement, page: Page, before: Page): string {
  const { 'fo:margin': all, ...attributes } = element.attributes
  if (all !== undefined)
    for (const side of ['top', 'right', 'bottom', 'left'] as const) attributes[`fo:margin-${side}`] ??= all
  for (const [name, key] of [
    ['fo:page-width', 'width'],
    ['fo:page-height', 'height'],
    ['fo:margin-top', 'top'],
    ['fo:margin-right', 'right'],
    ['fo:margin-bottom', 'bottom'],
    ['fo:margin-left', 'left'],
  ] as const)
    if (page[key] !== before[key]) attributes[name] = fromTwips(page[key])
  attributes['style:print-orientation'] = page.width > page.height ? 'landscape' : 'portrait'
  const tag = openTag(element.name, attributes)
  return element.at!.kind === 'empty' ? tag.replace(/>$/, '/>') : tag
}
