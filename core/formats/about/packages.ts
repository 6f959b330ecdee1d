// What packages say of themselves: the core properties of an Open Packaging package (ECMA-376 part 2, §11), and the
// metadata of an OpenDocument one (OpenDocument 1.3 part 3, §4.3).
import type { About, AboutField } from '../../content/about'
import { type Changes, relate, typeOfPart } from '../opc/add-part'
import { type OpcPackage, openPackage, relationshipKind } from '../opc/package'
import { textOfPart } from '../opc/spans'
import { child, decodeXml, xmlHead } from '../opc/xml'
import { openZip } from '../opc/zip'
import { NotPatched } from '../refusals'
import { type FieldsInXml, patchFields, readFields } from './fields-in-xml'

const dublinCore = 'http://purl.org/dc/elements/1.1/'
const core = 'http://schemas.openxmlformats.org/package/2006/metadata/core-properties'
const coreRelationship = 'http://schemas.openxmlformats.org/package/2006/relationships/metadata/core-properties'
const meta = 'urn:oasis:names:tc:opendocument:xmlns:meta:1.0'
const office = 'urn:oasis:names:tc:opendocument:xmlns:office:1.0'

const inCore: FieldsInXml = {
  fields: [
    { field: 'title', namespace: dublinCore, prefix: 'dc', name: 'title' },
    { field: 'author', namespace: dublinCore, prefix: 'dc', name: 'creator' },
    { field: 'subject', namespace: dublinCore, prefix: 'dc', name: 'subject' },
    { field: 'keywords', namespace: core, prefix: 'cp', name: 'keywords' },
  ],
  within: (root) => root,
}
const inMeta: FieldsInXml = {
  fields: [
    { field: 'title', namespace: dublinCore, prefix: 'dc', name: 'title' },
    // Who made it; who changed it last is another element.
    { field: 'author', namespace: meta, prefix: 'meta', name: 'initial-creator' },
    { field: 'subject', namespace: dublinCore, prefix: 'dc', name: 'subject' },
    { field: 'keywords', namespace: meta, prefix: 'meta', name: 'keyword', each: true },
  ],
  within: (root) => child(root, 'office:meta'),
}

const corePartOf = (opened: OpcPackage): string | undefined =>
  [...opened.relationships('').values()].find((one) => !one.external && relationshipKind(one) === 'core-properties')
    ?.target

/** @throws DamagedFile */
export function aboutOfOpc(bytes: Uint8Array): About | null {
  const opened = openPackage(bytes)
  const part = corePartOf(opened)
  const content = part === undefined ? undefined : opened.bytes(part)
  return content ? readFields(decodeXml(content), inCore) : null
}

/** The file with some of what it says of itself changed; everything else keeps its bytes. @throws NotPatched, DamagedFile */
export function withAboutInOpc(bytes: Uint8Array, about: About | null, changed: readonly AboutField[]): Uint8Array {
  const opened = openPackage(bytes)
  const changes: Changes = new Map()
  const there = corePartOf(opened)
  const content = there === undefined ? undefined : opened.bytes(there)
  const part = there ?? 'docProps/core.xml'
  const text = textOfPart(
    content ??
      new TextEncoder().encode(
        `${xmlHead}<cp:coreProperties xmlns:cp="${core}" xmlns:dc="${dublinCore}"></cp:coreProperties>`,
      ),
  )
  if (!text) throw new NotPatched('about')
  if (!content) {
    typeOfPart(opened, changes, part, 'application/vnd.openxmlformats-package.core-properties+xml')
    if (!there) relate(opened, changes, '', coreRelationship, part)
  }
  changes.set(part, text.encode(patchFields(text.xml, inCore, about, changed)))
  const patched = opened.container.patched(changes)
  if (!patched) throw new NotPatched('about')
  return patched
}

/** @throws DamagedFile */
export function aboutOfOdf(bytes: Uint8Array): About | null {
  const content = openZip(bytes).read('meta.xml')
  return content ? readFields(decodeXml(content), inMeta) : null
}

/** The same for a package of the open standard. @throws NotPatched, DamagedFile */
export function withAboutInOdf(bytes: Uint8Array, about: About | null, changed: readonly AboutField[]): Uint8Array {
  const container = openZip(bytes)
  const changes: Changes = new Map()
  const content = container.read('meta.xml')
  const text = textOfPart(
    content ??
      new TextEncoder().encode(
        `<?xml version="1.0" encoding="UTF-8"?>\n<office:document-meta xmlns:office="${office}" office:version="1.3"><office:meta/></office:document-meta>`,
      ),
  )
  if (!text) throw new NotPatched('about')
  if (!content) {
    const manifest = textOfPart(container.read('META-INF/manifest.xml') ?? new Uint8Array())
    const end = manifest ? /<\/(?:([\w.-]+):)?manifest\s*>\s*$/.exec(manifest.xml) : null
    if (!manifest || !end) throw new NotPatched('about')
    const prefix = end[1] ? `${end[1]}:` : ''
    const entry = `<${prefix}file-entry ${prefix}full-path="meta.xml" ${prefix}media-type="text/xml"/>`
    changes.set(
      'META-INF/manifest.xml',
      manifest.encode(`${manifest.xml.slice(0, end.index)}${entry}${manifest.xml.slice(end.index)}`),
    )
  }
  changes.set('meta.xml', text.encode(patchFields(text.xml, inMeta, about, changed)))
  const patched = container.patched(changes)
  if (!patched) throw new NotPatched('about')
  return patched
}
