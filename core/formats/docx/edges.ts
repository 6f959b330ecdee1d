// Headers and footers of the first section's pages (ECMA-376 part 1, §17.10), each read as the small document that it is.
import type { Node } from 'prosemirror-model'
import { blankStory, type EdgeName, edgeKey, inOrder, type PageEdge, storyJSON } from '../../content/edges'
import { type OpcPackage, onOff } from '../opc/package'
import { child, descendant, elements, type XmlElement } from '../opc/xml'
import { DamagedFile, type Limit } from '../refusals'
import { KeptThings } from './kept'
import { type DocxForm, newestForm, Reader } from './reader'
import type { DocumentSource } from './source'

const pages = { default: 'all', first: 'first', even: 'even' } as const

export interface EdgePart extends EdgeName {
  /** The part that it stands in; null for a first page of its own that has nothing there. */
  part: string | null
}

/** The edges of the first section's pages; those of a first page only where it is one of its own (§17.10.6). */
export function edgeParts(opened: OpcPackage, main: string, root: XmlElement): EdgePart[] {
  const section = firstSection(root)
  const relationships = opened.relationships(main)
  const own = onOff(child(section, 'w:titlePg')) ?? false
  const found = new Map<string, EdgePart>()
  const add = (one: EdgePart) => found.has(edgeKey(one)) || found.set(edgeKey(one), one)
  for (const element of elements(section)) {
    const edge = { 'w:headerReference': 'head', 'w:footerReference': 'foot' }[element.name] as
      | PageEdge['edge']
      | undefined
    const on = pages[(element.attributes['w:type'] ?? 'default') as keyof typeof pages]
    const target = relationships.get(element.attributes['r:id'] ?? '')
    if (!edge || !on || !target || target.external || !opened.bytes(target.target)) continue
    if (on !== 'first' || own) add({ edge, on, part: target.target })
  }
  if (own) for (const edge of ['head', 'foot'] as const) add({ edge, on: 'first', part: null })
  return [...found.values()]
}

/** The section that the first page belongs to. */
export function firstSection(root: XmlElement): XmlElement | undefined {
  const body = child(root, 'w:body')
  return body && (descendant(body, 'w:sectPr') ?? undefined)
}

/**
 * A story, and from the same walk where each part of it stands.
 * @param root the part, with its spans where the source is asked for
 * @param lead the part that leads to styles and numbering @throws DamagedFile
 */
export function readStory(
  opened: OpcPackage,
  part: string,
  root: XmlElement,
  lead: string,
  source: DocumentSource | null = null,
  form: DocxForm = newestForm,
): { story: Node; limits: Limit[] } {
  const reader = new Reader(opened, part, new KeptThings(opened, part, root), source, lead, form)
  const story = reader.story(root)
  story.check()
  return { story, limits: reader.limits.list() }
}

/** Those of a file; one that cannot be read is as if it were not there. */
export function readPageEdges(
  opened: OpcPackage,
  main: string,
  root: XmlElement,
  form: DocxForm = newestForm,
): { edges: PageEdge[]; limits: Limit[] } {
  const edges: PageEdge[] = []
  const limits: Limit[] = []
  for (const { edge, on, part } of edgeParts(opened, main, root))
    try {
      const content = part === null ? undefined : opened.xml(part)
      const read = content && part ? readStory(opened, part, content, main, null, form) : null
      if (part === null) edges.push({ edge, on, json: blankStory() })
      else if (read) {
        edges.push({ edge, on, json: storyJSON(read.story) })
        limits.push(...read.limits)
      }
    } catch (error) {
      if (!(error instanceof DamagedFile)) throw error
    }
  return { edges: inOrder(edges), limits }
}
