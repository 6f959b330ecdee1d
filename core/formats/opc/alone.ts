// An element of a part as XML that can stand alone: with the namespaces that it uses, and without what only means
// something in its own file.
import { escapeAttribute, escapeText, renamedName, renamedPrefixes, type XmlElement } from './xml'

/** Of these namespaces the code has one prefix, whatever the file has (opc/xml.ts). */
const usual: Record<string, string> = {
  w: 'http://schemas.openxmlformats.org/wordprocessingml/2006/main',
  r: 'http://schemas.openxmlformats.org/officeDocument/2006/relationships',
  a: 'http://schemas.openxmlformats.org/drawingml/2006/main',
  wp: 'http://schemas.openxmlformats.org/drawingml/2006/wordprocessingDrawing',
}

const prefixOf = (name: string): string => (name.includes(':') ? name.slice(0, name.indexOf(':')) : '')

/**
 * The same element always gives the same XML, and so does what is read from that XML.
 * @param root the root of its part, which declares the namespaces
 * @param attribute another value of an attribute, by its name with the usual prefix; null leaves it out
 * @returns null where a prefix is not declared, or means two things
 */
export function standingAlone(
  element: XmlElement,
  root: XmlElement,
  attribute: (name: string, value: string, of: XmlElement) => string | null,
): string | null {
  const renamed = renamedPrefixes(root.attributes)
  const declared = new Map<string, string>()
  const used = new Set<string>()
  let clear = true
  const declare = (attributes: Record<string, string>) => {
    for (const [key, uri] of Object.entries(attributes)) {
      if (!key.startsWith('xmlns:')) continue
      const prefix = renamed?.get(key.slice(6)) ?? key.slice(6)
      const before = declared.get(prefix)
      if (before !== undefined && before !== uri && !usual[prefix]) clear = false
      declared.set(prefix, uri)
    }
  }
  declare(root.attributes)
  // The root's default namespace may be one that has a prefix here.
  for (const [prefix, uri] of Object.entries(usual))
    if (!declared.has(prefix) && Object.values(root.attributes).includes(uri)) declared.set(prefix, uri)
  const write = (one: XmlElement): string => {
    if (one !== root) declare(one.attributes)
    used.add(prefixOf(one.name))
    let attributes = ''
    for (const [key, value] of Object.entries(one.attributes)) {
      if (key.startsWith('xmlns:')) continue
      const name = renamed && key.includes(':') ? renamedName(key, renamed) : key
      const now = attribute(name, value, one)
      if (now === null) continue
      if (name !== 'xmlns') used.add(prefixOf(name))
      if (name === 'Requires') for (const prefix of value.split(/\s+/)) used.add(prefix)
      attributes += ` ${name}="${escapeAttribute(now)}"`
    }
    const inner = one.children.map((child) => (typeof child === 'string' ? escapeText(child) : write(child))).join('')
    return inner ? `<${one.name}${attributes}>${inner}</${one.name}>` : `<${one.name}${attributes}/>`
  }
  const xml = write(element)
  used.delete('')
  used.delete('xml')
  const declarations: string[] = []
  for (const prefix of [...used].sort()) {
    const uri = declared.get(prefix) ?? usual[prefix]
    if (uri === undefined) return null
    declarations.push(` xmlns:${prefix}="${escapeAttribute(uri)}"`)
  }
  return clear ? xml.replace(/^<[^\s/>]+/, (open) => open + declarations.join('')) : null
}
