// A list that is new in a file: its definition in the numbering part (ECMA-376 part 1, §17.9), which is made where
// there is none.
import type { ListNumber } from '../../content/list-number'
import { type Changes, relate, typeOfPart } from '../opc/add-part'
import { type OpcPackage, relationshipKind } from '../opc/package'
import { attributeOf, childrenIn, rootOf, Splices, textOfPart } from '../opc/spans'
import { xmlHead } from '../opc/xml'
import { levelsXml } from './write'

const namespace = 'http://schemas.openxmlformats.org/wordprocessingml/2006/main'

/**
 * @param start the number that it begins with, at a level of its own
 * @param written how its numbers are, at its level
 * @returns the number that the list's paragraphs name
 */
export function addList(
  opened: OpcPackage,
  changes: Changes,
  main: string,
  ordered: boolean,
  start: number,
  level = 0,
  written: ListNumber | null = null,
): number {
  const known = [...opened.relationships(main).values()].find((one) => relationshipKind(one) === 'numbering')?.target
  const folder = main.slice(0, main.lastIndexOf('/') + 1)
  const part = known ?? `${folder}numbering.xml`
  if (!known && !changes.has(part)) {
    relate(opened, changes, main, 'numbering', 'numbering.xml')
    typeOfPart(opened, changes, part, 'application/vnd.openxmlformats-officedocument.wordprocessingml.numbering+xml')
    changes.set(part, new TextEncoder().encode(`${xmlHead}<w:numbering xmlns:w="${namespace}"></w:numbering>`))
  }
  const text = textOfPart(changes.get(part) ?? opened.bytes(part)!)
  if (!text) throw new RangeError(part)
  const { xml } = text
  const root = rootOf(xml)
  const prefix = root.name.includes(':') ? root.name.slice(0, root.name.indexOf(':') + 1) : ''
  if (prefix !== 'w:') throw new RangeError(part)
  const children = [...childrenIn(xml, root.inner)]
  const most = (name: string, attribute: string) =>
    Math.max(
      0,
      ...children.filter((one) => one.name === name).map((one) => Number(attributeOf(xml, one, attribute) ?? 0)),
    )
  const abstract = most('w:abstractNum', 'w:abstractNumId') + 1
  const number = most('w:num', 'w:numId') + 1
  const definition = `<w:abstractNum w:abstractNumId="${abstract}"><w:multiLevelType w:val="hybridMultilevel"/>${levelsXml(ordered, level ? 1 : start, written, level)}</w:abstractNum>`
  const splices = new Splices()
  // Definitions stand before the numbers that name them.
  const first = children.find((one) => one.name === 'w:num')
  const last = children.findLast((one) => one.name === 'w:num' || one.name === 'w:abstractNum')
  const end = root.kind === 'empty' ? root.end : (last?.end ?? root.inner[1])
  const override =
    level && ordered ? `<w:lvlOverride w:ilvl="${level}"><w:startOverride w:val="${start}"/></w:lvlOverride>` : ''
  const num = `<w:num w:numId="${number}"><w:abstractNumId w:val="${abstract}"/>${override}</w:num>`
  if (root.kind === 'empty') {
    const opening = `${xml.slice(root.start, root.end).replace(/\s*\/>$/, '')}>`
    splices.replace(root.start, root.end, `${opening}${definition}${num}</${root.name}>`)
  } else {
    splices.insert(first?.start ?? end, definition)
    splices.insert(end, num)
  }
  changes.set(part, text.encode(splices.apply(xml)))
  return number
}
