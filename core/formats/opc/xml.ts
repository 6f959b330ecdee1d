import { SaxesParser } from 'saxes'
import { say } from '../../words/said'
import { DamagedFile } from '../refusals'
import type { Spanned } from './spans'

export interface XmlElement {
  name: string
  attributes: Record<string, string>
  children: (XmlElement | string)[]
  /** Where it stands in its part, when it was read for that (opc/spanned-xml.ts). */
  at?: Spanned
}

/** Prefixes used in the code for the namespaces of ECMA-376, in its transitional and strict forms. */
const prefixOf = new Map<string, string>([
  ['http://schemas.openxmlformats.org/wordprocessingml/2006/main', 'w'],
  ['http://purl.oclc.org/ooxml/wordprocessingml/main', 'w'],
  ['http://schemas.openxmlformats.org/spreadsheetml/2006/main', ''],
  ['http://purl.oclc.org/ooxml/spreadsheetml/main', ''],
  ['http://schemas.openxmlformats.org/officeDocument/2006/relationships', 'r'],
  ['http://purl.oclc.org/ooxml/officeDocument/relationships', 'r'],
  ['http://schemas.openxmlformats.org/drawingml/2006/main', 'a'],
  ['http://purl.oclc.org/ooxml/drawingml/main', 'a'],
  ['http://schemas.openxmlformats.org/drawingml/2006/wordprocessingDrawing', 'wp'],
  ['http://purl.oclc.org/ooxml/drawingml/wordprocessingDrawing', 'wp'],
  ['http://schemas.openxmlformats.org/package/2006/relationships', ''],
  ['http://schemas.openxmlformats.org/package/2006/content-types', ''],
])

/** The prefixes of a root element that must be read as other ones; null when the usual ones are used. */
export function renamedPrefixes(attributes: Record<string, string>): Map<string, string> | null {
  let renamed: Map<string, string> | null = null
  for (const [key, value] of Object.entries(attributes)) {
    if (key !== 'xmlns' && !key.startsWith('xmlns:')) continue
    const used = key === 'xmlns' ? '' : key.slice(6)
    const usual = prefixOf.get(value)
    if (usual !== undefined && usual !== used) (renamed ??= new Map()).set(used, usual)
  }
  return renamed
}

/** A name with its prefix replaced. */
export function renamedName(name: string, renamed: Map<string, string>): string {
  const colon = name.indexOf(':')
  const usual = renamed.get(colon < 0 ? '' : name.slice(0, colon))
  if (usual === undefined) return name
  const local = name.slice(colon + 1)
  return usual ? `${usual}:${local}` : local
}

/** Text from a part's bytes: UTF-8, or UTF-16 by its byte order mark. */
export function decodeXml(bytes: Uint8Array): string {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return new TextDecoder('utf-16le').decode(bytes)
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return new TextDecoder('utf-16be').decode(bytes)
  return new TextDecoder().decode(bytes)
}

/** Bytes of a part that becomes a tree at most, which takes some ten times as much; a thousand pages have ten million. */
export const mostTreeBytes = 64 << 20

/** A whole part as a tree. @param part its name, for the sentence. @throws DamagedFile when it is not well-formed */
export function parseXml(bytes: Uint8Array, part: string): XmlElement {
  if (bytes.length > mostTreeBytes)
    throw new DamagedFile(say('formats.this-file-would-expand-to-more-than', { it: mostTreeBytes >> 20 }))
  const parser = new SaxesParser<{ position: false; xmlns: false }>({ position: false, xmlns: false })
  const top: XmlElement = { name: '', attributes: {}, children: [] }
  const open = [top]
  let renamed: Map<string, string> | null = null
  parser.on('opentag', (tag) => {
    if (open.length === 1) renamed = renamedPrefixes(tag.attributes)
    if (open.length > 500) throw new DamagedFile(say('formats.this-file-is-damaged-its-part-is', { part }))
    const element: XmlElement = {
      name: renamed ? renamedName(tag.name, renamed) : tag.name,
      attributes: tag.attributes,
      children: [],
    }
    open.at(-1)!.children.push(element)
    open.push(element)
  })
  parser.on('text', (text) => void open.at(-1)!.children.push(text))
  parser.on('cdata', (text) => void open.at(-1)!.children.push(text))
  parser.on('closetag', () => void open.pop())
  parser.on('error', (error) => {
    throw new DamagedFile(
      say('formats.this-file-is-damaged-its-part-is-2', {
        part,
        message: error.message.replace(/^\d+:\d+: /, '').trim(),
      }),
    )
  })
  parser.write(decodeXml(bytes)).close()
  const root = top.children.find((child): child is XmlElement => typeof child !== 'string')
  if (!root) throw new DamagedFile(say('formats.this-file-is-damaged-its-part-is-3', { part }))
  return root
}

export function* elements(parent: XmlElement | undefined, name?: string): Generator<XmlElement> {
  for (const child of parent?.children ?? [])
    if (typeof child !== 'string' && (name === undefined || child.name === name)) yield child
}
export const child = (parent: XmlElement | undefined, name: string): XmlElement | undefined =>
  elements(parent, name).next().value || undefined
/** The first descendant of a name, in document order. */
export function descendant(parent: XmlElement, name: string): XmlElement | undefined {
  for (const element of elements(parent)) {
    if (element.name === name) return element
    const inside = descendant(element, name)
    if (inside) return inside
  }
  return undefined
}
export function textOf(element: XmlElement): string {
  return element.children.map((part) => (typeof part === 'string' ? part : textOf(part))).join('')
}

const escapes: Record<string, string> = {
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
  '\t': '&#9;',
  '\n': '&#10;',
  '\r': '&#13;',
}
export const escapeText = (text: string): string => text.replace(/[&<>\r]/g, (symbol) => escapes[symbol]!)
export const escapeAttribute = (text: string): string => text.replace(/[&<>"\t\n\r]/g, (symbol) => escapes[symbol]!)
export const xmlHead = '<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n'
