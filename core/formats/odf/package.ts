// A package of the OpenDocument format (ISO/IEC 26300-3): what it holds, what it is styled with, and its list of parts.
import { say } from '../../words/said'
import { spannedTree } from '../opc/spanned-xml'
import { textOfPart } from '../opc/spans'
import { child, decodeXml, mostTreeBytes, type XmlElement } from '../opc/xml'
import { type Container, openZip } from '../opc/zip'
import { DamagedFile, NotPatched } from '../refusals'

/** The prefixes that the code has for the namespaces of ISO/IEC 26300-1 §2.2; nearly every file has the same. */
export const namespaces: Readonly<Record<string, string>> = {
  office: 'urn:oasis:names:tc:opendocument:xmlns:office:1.0',
  style: 'urn:oasis:names:tc:opendocument:xmlns:style:1.0',
  text: 'urn:oasis:names:tc:opendocument:xmlns:text:1.0',
  table: 'urn:oasis:names:tc:opendocument:xmlns:table:1.0',
  draw: 'urn:oasis:names:tc:opendocument:xmlns:drawing:1.0',
  fo: 'urn:oasis:names:tc:opendocument:xmlns:xsl-fo-compatible:1.0',
  number: 'urn:oasis:names:tc:opendocument:xmlns:datastyle:1.0',
  svg: 'urn:oasis:names:tc:opendocument:xmlns:svg-compatible:1.0',
  xlink: 'http://www.w3.org/1999/xlink',
}

export interface OdfPart {
  xml: string
  root: XmlElement
  /** null where what is changed in it cannot be written back: another encoding, other prefixes. */
  encode: ((xml: string) => Uint8Array) | null
}
export interface OdfPackage {
  container: Container
  content: OdfPart
  styles: OdfPart | null
}

const missing = (part: string) => new DamagedFile(say('formats.this-file-is-damaged-its-part-is-3', { part }))

/** @throws DamagedFile when it is none, damaged, or protected by a password */
export function openOdf(bytes: Uint8Array): OdfPackage {
  const container = openZip(bytes)
  const manifest = container.read('META-INF/manifest.xml')
  // §3.4: what is encrypted says so in the list of parts.
  if (manifest && /<(?:\w+:)?encryption-data\b/.test(decodeXml(manifest)))
    throw new DamagedFile(say('formats.this-file-is-protected-by-a-password'))
  const content = partOf(container, 'content.xml')
  if (!content) throw missing('content.xml')
  return { container, content, styles: partOf(container, 'styles.xml') }
}

function partOf(container: Container, name: string): OdfPart | null {
  const bytes = container.read(name)
  if (!bytes) return null
  if (bytes.length > mostTreeBytes)
    throw new DamagedFile(say('formats.this-file-would-expand-to-more-than', { it: mostTreeBytes >> 20 }))
  const part = textOfPart(bytes)
  const raw = part?.xml ?? decodeXml(bytes)
  const xml = withUsualPrefixes(raw)
  return { xml, root: spannedTree(xml), encode: part && xml === raw ? part.encode : null }
}

/** Names with the prefixes that the code has, where a file uses others. */
function withUsualPrefixes(xml: string): string {
  const renamed = new Map<string, string>()
  for (const [, prefix, uri] of xml.slice(0, 20_000).matchAll(/\sxmlns:([\w.-]+)\s*=\s*["']([^"']*)["']/g))
    for (const [usual, known] of Object.entries(namespaces))
      if (uri === known && prefix !== usual) renamed.set(prefix!, usual)
  if (!renamed.size) return xml
  return xml.replace(/<[^!?][^>]*>/g, (tag) =>
    tag.replace(/(<\/?|\s)([\w.-]+):/g, (all, before: string, prefix: string) =>
      renamed.has(prefix) ? `${before}${renamed.get(prefix)}:` : all,
    ),
  )
}

/** What a package is of: `office:text`, `office:spreadsheet`. @throws DamagedFile when it is of something else */
export function bodyOf(root: XmlElement, name: string): XmlElement {
  const body = child(child(root, 'office:body'), name)
  if (!body?.at) throw missing('content.xml')
  return body
}

/** @throws NotPatched where what is changed in a part cannot be written back */
export function partEncoded(part: OdfPart, xml: string): Uint8Array {
  if (!part.encode) throw new NotPatched()
  return part.encode(xml)
}
