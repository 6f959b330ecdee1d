// Headers and footers of the first section's pages (ECMA-376 part 1, §17.10), each read as the small document that it is.
import type { PageEdge } from '../../content/edges'
import { onOff, openPackage } from '../opc/package'
import { child, descendant, elements, type XmlElement } from '../opc/xml'
import { DamagedFile } from '../refusals'
import { readStory } from './read'

const pages = { default: 'all', first: 'first', even: 'even' } as const

/** Those with something in them; one that cannot be read is as if it were not there. @throws DamagedFile for the file itself */
export function readPageEdges(bytes: Uint8Array): PageEdge[] {
  const opened = openPackage(bytes)
  const main = opened.mainPart()
  const root = opened.xml(main)
  const section = root && firstSection(root)
  const relationships = opened.relationships(main)
  const own = onOff(child(section, 'w:titlePg')) ?? false
  const edges: PageEdge[] = []
  for (const element of elements(section)) {
    const edge = { 'w:headerReference': 'head', 'w:footerReference': 'foot' }[element.name] as
      | PageEdge['edge']
      | undefined
    const on = pages[(element.attributes['w:type'] ?? 'default') as keyof typeof pages]
    const part = relationships.get(element.attributes['r:id'] ?? '')?.target
    // A first page is like the others unless the section says otherwise.
    if (!edge || !part || (on === 'first' && !own)) continue
    try {
      const doc = readStory(opened, part)
      if (doc && (doc.textContent.trim() || doc.content.size > 2)) edges.push({ edge, on, json: doc.toJSON() })
    } catch (error) {
      if (!(error instanceof DamagedFile)) throw error
    }
  }
  return edges
}

/** The section that the first page belongs to. */
function firstSection(root: XmlElement): XmlElement | undefined {
  const body = child(root, 'w:body')
  return body && (descendant(body, 'w:sectPr') ?? undefined)
}
