// A part that goes, with what leads to it and what says of which type it is (ECMA-376 part 2, §9.1.2 and §9.3).
import { type OpcPackage, relationshipsPartOf, resolvePart } from './package'
import { attributeOf, childrenIn, rootOf, Splices, textOfPart } from './spans'

/** The children of a part's root that are not wanted, left out; null where there is none. */
function without(
  bytes: Uint8Array,
  unwanted: (attribute: (name: string) => string | undefined) => boolean,
): Uint8Array | null {
  const text = textOfPart(bytes)
  if (!text) return null
  const splices = new Splices()
  for (const element of childrenIn(text.xml, rootOf(text.xml).inner))
    if (unwanted((name) => attributeOf(text.xml, element, name))) splices.replace(element.start, element.end, '')
  return splices.any ? text.encode(splices.apply(text.xml)) : null
}

/** Takes a part out of the package. @param from the part that leads to it @param changes where the changes are put */
export function dropPart(
  opened: OpcPackage,
  from: string,
  part: string,
  changes: Map<string, Uint8Array | null>,
): void {
  const now = (name: string) => changes.get(name) ?? opened.bytes(name)
  const folder = from.slice(0, from.lastIndexOf('/') + 1)
  const edit = (name: string, unwanted: Parameters<typeof without>[1]) => {
    const bytes = now(name)
    const changed = bytes && without(bytes, unwanted)
    if (changed) changes.set(name, changed)
  }
  edit(relationshipsPartOf(from), (attribute) => {
    const target = attribute('Target')
    return target !== undefined && attribute('TargetMode') !== 'External' && resolvePart(folder, target) === part
  })
  // Names of parts are the same whatever the case of their letters (§9.1.1).
  edit('[Content_Types].xml', (attribute) => attribute('PartName')?.toLowerCase() === `/${part}`.toLowerCase())
  changes.set(part, null)
}
