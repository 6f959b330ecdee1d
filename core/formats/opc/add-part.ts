// What a package gets beside what it has: a part, what leads to it and of which type it is (ECMA-376 part 2, §9).
import { type OpcPackage, relationshipsPartOf } from './package'
import { attributeOf, childrenIn, rootOf, Splices, textOfPart } from './spans'
import { escapeAttribute, xmlHead } from './xml'

export type Changes = Map<string, Uint8Array | null>
const packageNamespace = 'http://schemas.openxmlformats.org/package/2006'
const office = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships'

const now = (opened: OpcPackage, changes: Changes, part: string) =>
  changes.has(part) ? (changes.get(part) ?? undefined) : opened.bytes(part)

/** Puts an element at the end of a part's root, which is made from `blank` when it is not there. @throws RangeError where the part cannot be changed */
export function append(
  opened: OpcPackage,
  changes: Changes,
  part: string,
  blank: string,
  element: (prefix: string) => string,
): void {
  const text = textOfPart(now(opened, changes, part) ?? new TextEncoder().encode(blank))
  if (!text) throw new RangeError(part)
  const root = rootOf(text.xml)
  const prefix = root.name.includes(':') ? `${root.name.split(':')[0]}:` : ''
  const splices = new Splices()
  if (root.kind === 'empty')
    splices.replace(
      root.start,
      root.end,
      `${text.xml.slice(root.start, root.end).replace(/\s*\/>$/, '')}>${element(prefix)}</${root.name}>`,
    )
  else splices.insert(root.inner[1], element(prefix))
  changes.set(part, text.encode(splices.apply(text.xml)))
}

/** Relates a part to another one, or to an address. @param kind its type, or the last segment of it @returns its id */
export function relate(
  opened: OpcPackage,
  changes: Changes,
  from: string,
  kind: string,
  target: string,
  external = false,
): string {
  const part = relationshipsPartOf(from)
  const text = textOfPart(now(opened, changes, part) ?? new Uint8Array())
  const ids = new Set<string>()
  if (text?.xml)
    for (const one of childrenIn(text.xml, rootOf(text.xml).inner)) {
      const id = attributeOf(text.xml, one, 'Id')
      if (id) ids.add(id)
      const type = attributeOf(text.xml, one, 'Type')
      const same = attributeOf(text.xml, one, 'Target') === target && (type === kind || type?.endsWith(`/${kind}`))
      if (same && id) return id
    }
  let number = ids.size + 1
  while (ids.has(`rId${number}`)) number++
  const id = `rId${number}`
  append(
    opened,
    changes,
    part,
    `${xmlHead}<Relationships xmlns="${packageNamespace}/relationships"></Relationships>`,
    (prefix) =>
      `<${prefix}Relationship Id="${id}" Type="${kind.includes(':') ? escapeAttribute(kind) : `${office}/${kind}`}" Target="${escapeAttribute(target)}"${external ? ' TargetMode="External"' : ''}/>`,
  )
  return id
}

/** Says of which type the parts with an ending are, unless that is said. */
export function typeOfEnding(opened: OpcPackage, changes: Changes, ending: string, type: string): void {
  const part = '[Content_Types].xml'
  const text = textOfPart(now(opened, changes, part)!)
  if (!text) throw new RangeError(part)
  const root = rootOf(text.xml)
  for (const one of childrenIn(text.xml, root.inner))
    if (attributeOf(text.xml, one, 'Extension')?.toLowerCase() === ending) return
  const splices = new Splices()
  const prefix = root.name.includes(':') ? `${root.name.split(':')[0]}:` : ''
  splices.insert(root.inner[0], `<${prefix}Default Extension="${ending}" ContentType="${type}"/>`)
  changes.set(part, text.encode(splices.apply(text.xml)))
}

/** A name in a folder that no part has. */
export function freePart(opened: OpcPackage, changes: Changes, before: string, ending: string): string {
  const taken = new Set([...opened.container.names, ...changes.keys()].map((name) => name.toLowerCase()))
  let number = 1
  while (taken.has(`${before}${number}.${ending}`.toLowerCase())) number++
  return `${before}${number}.${ending}`
}

/** Says of which type one part is. */
export function typeOfPart(opened: OpcPackage, changes: Changes, name: string, type: string): void {
  append(
    opened,
    changes,
    '[Content_Types].xml',
    '',
    (prefix) => `<${prefix}Override PartName="/${name}" ContentType="${type}"/>`,
  )
}
