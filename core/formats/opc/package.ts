// Open Packaging Conventions (ECMA-376 part 2): parts, their relationships and content types.
import { DamagedFile } from '../refusals'
import { child, elements, escapeAttribute, parseXml, type XmlElement, xmlHead } from './xml'
import { type Container, openZip } from './zip'

export interface Relationship {
  id: string
  type: string
  target: string
  external: boolean
}

export interface OpcPackage {
  container: Container
  /** A part as XML, or undefined when it is not there. */
  xml(part: string): XmlElement | undefined
  bytes(part: string): Uint8Array | undefined
  /** Relationships of a part (of the package for ''), with targets as part names. */
  relationships(part: string): Map<string, Relationship>
  /** The part that the package is about. @throws DamagedFile */
  mainPart(): string
}

/** The last path segment of a relationship type, which transitional and strict files share. */
export const relationshipKind = (relationship: Relationship): string =>
  relationship.type.slice(relationship.type.lastIndexOf('/') + 1)

export function openPackage(bytes: Uint8Array): OpcPackage {
  const container = openZip(bytes)
  const opened: OpcPackage = {
    container,
    bytes: (part) => container.read(part),
    xml(part) {
      const content = container.read(part)
      return content && parseXml(content, part)
    },
    relationships(part) {
      const folder = folderOf(part)
      const found = new Map<string, Relationship>()
      for (const element of elements(opened.xml(relationshipsPartOf(part)), 'Relationship')) {
        const { Id: id = '', Type: type = '', Target: target = '', TargetMode: mode } = element.attributes
        const external = mode === 'External'
        found.set(id, { id, type, external, target: external ? target : resolvePart(folder, target) })
      }
      return found
    },
    mainPart() {
      for (const relationship of opened.relationships('').values())
        if (relationshipKind(relationship) === 'officeDocument') return relationship.target
      throw new DamagedFile('This file is damaged: it does not say which of its parts is the main one.')
    },
  }
  return opened
}

const folderOf = (part: string): string => part.slice(0, part.lastIndexOf('/') + 1)
/** The part that says what a part is related to. */
export const relationshipsPartOf = (part: string): string =>
  `${folderOf(part)}_rels/${part.slice(part.lastIndexOf('/') + 1)}.rels`

/** A target as a part name (RFC 3986 §5.2.4 without the rest). */
export function resolvePart(folder: string, target: string): string {
  const segments: string[] = []
  for (const segment of (target.startsWith('/') ? target : folder + target).split('/')) {
    if (segment === '..') segments.pop()
    else if (segment !== '.' && segment !== '') segments.push(segment)
  }
  return segments.join('/')
}

const office = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships'

/** A .rels part. @param relationships [id, last segment of its type, target, external] */
export function relationshipsXml(
  relationships: readonly (readonly [id: string, kind: string, target: string, external?: boolean])[],
): string {
  const rows = relationships.map(([id, kind, target, external]) => {
    const type =
      kind === 'core-properties'
        ? 'http://schemas.openxmlformats.org/package/2006/relationships/metadata/core-properties'
        : `${office}/${kind}`
    return `<Relationship Id="${id}" Type="${type}" Target="${escapeAttribute(target)}"${external ? ' TargetMode="External"' : ''}/>`
  })
  return `${xmlHead}<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">${rows.join('')}</Relationships>`
}

/** [Content_Types].xml. @param overrides [part name with a leading slash, media type] */
export function contentTypesXml(
  overrides: readonly (readonly [string, string])[],
  extensions: readonly (readonly [string, string])[] = [],
): string {
  const defaults = [
    ['rels', 'application/vnd.openxmlformats-package.relationships+xml'],
    ['xml', 'application/xml'],
    ...extensions,
  ]
  return `${xmlHead}<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types">${defaults
    .map(([extension, type]) => `<Default Extension="${extension}" ContentType="${type}"/>`)
    .join(
      '',
    )}${overrides.map(([part, type]) => `<Override PartName="${part}" ContentType="${type}"/>`).join('')}</Types>`
}

export const onOff = (element: XmlElement | undefined): boolean | undefined =>
  element && !['0', 'false', 'off', 'none'].includes(element.attributes['w:val'] ?? element.attributes.val ?? '1')
export const valueOf = (parent: XmlElement | undefined, name: string): string | undefined =>
  child(parent, name)?.attributes['w:val']
