// Headers and footers that come into a file or go from it: their parts, and what the first section says of them
// (ECMA-376 part 1, §17.10 and §17.6.17).
import { type EdgeName, edgeKey } from '../../content/edges'
import { type Changes, freePart, relate, typeOfPart } from '../opc/add-part'
import { dropPart } from '../opc/drop-part'
import { type OpcPackage, relationshipsPartOf } from '../opc/package'
import { spannedTree } from '../opc/spanned-xml'
import { Splices } from '../opc/spans'
import { child, elements, type XmlElement, xmlHead } from '../opc/xml'
import { NotPatched } from '../refusals'
import { styleOf } from './add-style'
import { firstSection } from './edges'

const w = 'http://schemas.openxmlformats.org/wordprocessingml/2006/main'
const r = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships'
const media = 'application/vnd.openxmlformats-officedocument.wordprocessingml'
const kinds = { head: 'header', foot: 'footer' } as const
const types = { all: 'default', first: 'first', even: 'even' } as const
/** What of a section's properties stands behind its word on a first page of its own. */
const afterTitlePage = new Set(
  ['textDirection', 'bidi', 'rtlGutter', 'docGrid', 'printerSettings', 'sectPrChange'].map((name) => `w:${name}`),
)

export interface EdgeReference extends EdgeName {
  /** The relationship that leads to its part. */
  id: string
}

/** A part for an edge that the file does not have, with one empty paragraph in the file's style for it. */
export function newEdgePart(
  opened: OpcPackage,
  changes: Changes,
  main: string,
  { edge }: EdgeName,
): { part: string; id: string; xml: string } {
  const kind = kinds[edge]
  const folder = main.slice(0, main.lastIndexOf('/') + 1)
  const part = freePart(opened, changes, `${folder}${kind}`, 'xml')
  typeOfPart(opened, changes, part, `${media}.${kind}+xml`)
  const id = relate(opened, changes, main, kind, part.slice(folder.length))
  const style = styleOf(opened, changes, main, {
    name: kind,
    id: edge === 'head' ? 'Header' : 'Footer',
    kind: 'paragraph',
    inside:
      '<w:uiPriority w:val="99"/><w:pPr><w:tabs><w:tab w:val="center" w:pos="4513"/><w:tab w:val="right" w:pos="9026"/></w:tabs></w:pPr>',
  })
  const root = edge === 'head' ? 'hdr' : 'ftr'
  return {
    part,
    id,
    xml: `${xmlHead}<w:${root} xmlns:w="${w}" xmlns:r="${r}"><w:p><w:pPr><w:pStyle w:val="${style}"/></w:pPr></w:p></w:${root}>`,
  }
}

/**
 * What the first section says of its edges, as it is to be.
 * @param body the main part's XML
 * @param refers edges with new parts @param gone edges that are no more @param ownFirst whether the first page is to have its own; null as it is
 * @throws NotPatched where the file has no place for it
 */
export function withEdgeReferences(
  opened: OpcPackage,
  changes: Changes,
  main: string,
  body: string,
  { refers, gone, ownFirst }: { refers: readonly EdgeReference[]; gone: readonly EdgeName[]; ownFirst: boolean | null },
): string {
  if (!refers.length && !gone.length && ownFirst === null) return body
  if (refers.some(({ on }) => on === 'even')) throw new NotPatched('even pages')
  const root = spannedTree(body)
  const section = firstSection(root)
  const prefix = root.at!.name.includes(':') ? root.at!.name.slice(0, root.at!.name.indexOf(':') + 1) : ''
  const splices = new Splices()
  const references = [...elements(section)].filter(({ name }) => /^w:(?:header|footer)Reference$/.test(name))
  const own = (name: EdgeName) =>
    references.find(
      (one) =>
        one.name === `w:${kinds[name.edge]}Reference` && (one.attributes['w:type'] ?? 'default') === types[name.on],
    )
  const went: string[] = []
  let added = ''
  for (const one of refers) {
    const before = own(one)
    const xml = `<${prefix}${kinds[one.edge]}Reference xmlns:r="${r}" ${prefix}type="${types[one.on]}" r:id="${one.id}"/>`
    if (before) splices.replace(before.at!.start, before.at!.end, xml)
    else added += xml
  }
  for (const one of gone) {
    const before = own(one)
    if (!before || refers.some((other) => edgeKey(other) === edgeKey(one))) continue
    splices.replace(before.at!.start, before.at!.end, '')
    went.push(before.attributes['r:id'] ?? '')
  }
  const title = child(section, 'w:titlePg')
  const titlePage = `<${prefix}titlePg/>`
  if (ownFirst === false && title) splices.replace(title.at!.start, title.at!.end, '')
  if (!section?.at || section.at.kind === 'empty') {
    const inside = added + (ownFirst ? titlePage : '')
    if (inside) addSection(body, root, section, prefix, inside, splices)
  } else {
    splices.insert(section.at.inner[0], added)
    if (ownFirst) {
      if (title) splices.replace(title.at!.start, title.at!.end, titlePage)
      else {
        const behind = [...elements(section)].find(({ name }) => afterTitlePage.has(name))
        splices.insert(behind?.at?.start ?? section.at.inner[1], titlePage)
      }
    }
  }
  const result = splices.apply(body)
  if (went.length) dropUnreferred(opened, changes, main, went, result)
  return result
}

/** Puts a section at the end of a body, or something into one that was empty. @throws NotPatched */
export function addSection(
  body: string,
  root: XmlElement,
  section: XmlElement | undefined,
  prefix: string,
  inside: string,
  splices: Splices,
): void {
  const place = child(root, 'w:body')?.at
  if (section?.at) {
    const opening = body.slice(section.at.start, section.at.end).replace(/\s*\/>$/, '>')
    splices.replace(section.at.start, section.at.end, `${opening}${inside}</${section.at.name}>`)
  } else if (place && place.kind !== 'empty')
    splices.insert(place.inner[1], `<${prefix}sectPr>${inside}</${prefix}sectPr>`)
  else throw new NotPatched('section')
}

/** Takes out parts of edges that no section refers to any more. */
function dropUnreferred(
  opened: OpcPackage,
  changes: Changes,
  main: string,
  went: readonly string[],
  body: string,
): void {
  const referred = (xml: string) =>
    new Set([...xml.matchAll(/<(?:\w+:)?(?:header|footer)Reference\s[^>]*?\b\w+:id="([^"]*)"/g)].map(([, id]) => id!))
  const now = referred(body)
  const relationships = opened.relationships(main)
  const still = new Set([...now].map((id) => relationships.get(id)?.target))
  for (const id of went) {
    const part = relationships.get(id)?.target
    if (part === undefined || now.has(id) || still.has(part) || !opened.bytes(part)) continue
    dropPart(opened, main, part, changes)
    const led = relationshipsPartOf(part)
    if (opened.bytes(led)) changes.set(led, null)
  }
}
