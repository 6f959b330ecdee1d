// Writes the size and the margins of pages into the sections of the main part (ECMA-376 part 1, §17.6.11 and §17.6.13).
import type { Page } from '../../content/document'
import { spannedTree } from '../opc/spanned-xml'
import { Splices } from '../opc/spans'
import { child, elements, escapeAttribute, type XmlElement } from '../opc/xml'
import { NotPatched } from '../refusals'
import { addSection } from './patch-edges'
import { pageOf } from './values'

/** The sections of a body, in their order; the last one is the body's own. */
function* sectionsIn(parent: XmlElement): Generator<XmlElement> {
  for (const one of elements(parent))
    if (one.name === 'w:sectPr') yield one
    else if (one.name !== 'w:sectPrChange') yield* sectionsIn(one)
}

/** An element anew with some attributes changed; what else it says stays. */
function tagWith(
  element: XmlElement | undefined,
  name: string,
  prefix: string,
  own: Record<string, string | null>,
): string {
  const attributes = { ...element?.attributes }
  for (const [key, value] of Object.entries(own))
    if (value === null) delete attributes[`w:${key}`]
    else attributes[`w:${key}`] = value
  const said = Object.entries(attributes).map(
    ([key, value]) => ` ${key.replace(/^w:/, prefix)}="${escapeAttribute(value)}"`,
  )
  return `<${prefix}${name}${said.join('')}/>`
}

/**
 * Pages as they are to be, in each section that had them as the last one had.
 * @param body the main part's XML @throws NotPatched where the file has no place for it
 */
export function withPage(body: string, before: Page, now: Page): string {
  const root = spannedTree(body)
  const place = child(root, 'w:body')
  if (!place) throw new NotPatched('page')
  const name = root.at!.name
  const prefix = name.includes(':') ? name.slice(0, name.indexOf(':') + 1) : ''
  const splices = new Splices()
  const [sections, own] = [[...sectionsIn(place)], child(place, 'w:sectPr')]
  const size = { w: String(now.width), h: String(now.height), orient: now.width > now.height ? 'landscape' : null }
  const space = {
    top: String(now.top),
    right: String(now.right),
    end: null,
    bottom: String(now.bottom),
    left: String(now.left),
    start: null,
  }
  for (const section of own ? sections : [undefined]) {
    if (section !== own && JSON.stringify(pageOf(section)) !== JSON.stringify(before)) continue
    const [oldSize, oldSpace] = [child(section, 'w:pgSz'), child(section, 'w:pgMar')]
    // A printer's own number of a size is of that size.
    const newSize = tagWith(oldSize, 'pgSz', prefix, {
      ...size,
      ...(before.width === now.width && before.height === now.height ? {} : { code: null }),
    })
    const newSpace = tagWith(oldSpace, 'pgMar', prefix, {
      ...(oldSpace ? {} : { header: '708', footer: '708', gutter: '0' }),
      ...space,
    })
    if (!section?.at || section.at.kind === 'empty') {
      addSection(body, root, section, prefix, newSize + newSpace, splices)
      continue
    }
    if (oldSize?.at) splices.replace(oldSize.at.start, oldSize.at.end, newSize + (oldSpace ? '' : newSpace))
    if (oldSpace?.at) splices.replace(oldSpace.at.start, oldSpace.at.end, (oldSize ? '' : newSize) + newSpace)
    if (!oldSize && !oldSpace) {
      const behind = [...elements(section)].find(({ name: one }) => !beforePage.has(one))
      splices.insert(behind?.at?.start ?? section.at.inner[1], newSize + newSpace)
    }
  }
  return splices.apply(body)
}
/** What stands in a section before its page (§17.6.17). */
const beforePage = new Set(
  ['headerReference', 'footerReference', 'footnotePr', 'endnotePr', 'type'].map((name) => `w:${name}`),
)
