// A part as a tree in which every element knows where it stands, so that a reader's walk tells what came of which span.

import { say } from '../../words/said'
import { DamagedFile } from '../refusals'
import { attributesIn, decoded, nextTag, type Tag, textIn } from './spans'
import { renamedName, renamedPrefixes, type XmlElement } from './xml'

const deepest = 500

/** @throws DamagedFile where tags do not match */
export function spannedTree(xml: string): XmlElement {
  const damaged = () => new DamagedFile(say('formats.this-file-is-damaged-its-part-is-3', { part: 'XML' }))
  const top: XmlElement = { name: '', attributes: {}, children: [] }
  const open: { element: XmlElement; tag: Tag }[] = [
    { element: top, tag: { name: '', kind: 'open', start: 0, end: 0 } },
  ]
  let renamed: Map<string, string> | null = null
  let at = 0
  for (let tag = nextTag(xml, 0); tag; tag = nextTag(xml, tag.end)) {
    const parent = open.at(-1)!
    if (tag.start > at) {
      const text = textIn(xml, [at, tag.start])
      if (text) parent.element.children.push(text)
    }
    at = tag.end
    if (tag.kind === 'close') {
      if (parent.tag.name !== tag.name) throw damaged()
      parent.element.at = { ...parent.tag, end: tag.end, inner: [parent.tag.end, tag.start] }
      open.pop()
      continue
    }
    const attributes: Record<string, string> = {}
    for (const { key, span } of attributesIn(xml, tag)) attributes[key] = decoded(xml.slice(...span))
    if (open.length === 1) renamed = renamedPrefixes(attributes)
    if (open.length > deepest) throw damaged()
    const element: XmlElement = { name: renamed ? renamedName(tag.name, renamed) : tag.name, attributes, children: [] }
    parent.element.children.push(element)
    if (tag.kind === 'empty') element.at = { ...tag, inner: [tag.end, tag.end] }
    else open.push({ element, tag })
  }
  const root = top.children.find((child): child is XmlElement => typeof child !== 'string')
  if (!root || open.length !== 1) throw damaged()
  return root
}
