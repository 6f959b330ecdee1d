// A list that is new in a file: its definition in the numbering part (ECMA-376 part 1, §17.9), which is made where
// there is none.
import type { ListNumber } from '../../content/list-number'
import { type Changes, relate, typeOfPart } from '../opc/add-part'
import { type OpcPackage, relationshipKind } from '../opc/package'
import { attributeOf, childrenIn, rootOf, type Spanned, Splices, textOfPart } from '../opc/spans'
import { xmlHead } from '../opc/xml'
import { levelsXml } from './write'

const namespace = 'http://schemas.openxmlformats.org/wordprocessingml/2006/main'

const numberingPart = (opened: OpcPackage, main: string): string | undefined =>
  [...opened.relationships(main).values()].find((one) => relationshipKind(one) === 'numbering')?.target

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
  const known = numberingPart(opened, main)
  const folder = main.slice(0, main.lastIndexOf('/') + 1)
  const part = known ?? `${folder}numbering.xml`
  if (!known && !changes.has(part)) {
    relate(opened, changes, main, 'numbering', 'numbering.xml')
    typeOfPart(opened, changes, part, 'application/vnd.openxmlformats-officedocument.wordprocessingml.numbering+xml')
    changes.set(part, new TextEncoder().encode(`${xmlHead}<w:numbering xmlns:w="${namespace}"></w:numbering>`))
  }
  const { text, root, children, most } = numberingIn(opened, changes, part)
  const { xml } = text
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

/** A numbering part as it is now. @throws RangeError where it cannot be written into */
function numberingIn(opened: OpcPackage, changes: Changes, part: string) {
  const text = textOfPart(changes.get(part) ?? opened.bytes(part)!)
  if (!text) throw new RangeError(part)
  const { xml } = text
  const root = rootOf(xml)
  if (!/^w:/.test(root.name)) throw new RangeError(part)
  const children = [...childrenIn(xml, root.inner)]
  const most = (name: string, attribute: string) =>
    Math.max(
      0,
      ...children.filter((one) => one.name === name).map((one) => Number(attributeOf(xml, one, attribute) ?? 0)),
    )
  return { text, root, children, most }
}

/**
 * A list that counts for itself, and looks like one that is there.
 * @param named the number of that one @param start what it begins with at its level; null for one without numbers
 * @returns the number that its paragraphs name @throws RangeError
 */
export function addNumberLike(
  opened: OpcPackage,
  changes: Changes,
  main: string,
  named: string,
  level: number,
  start: number | null,
): string {
  const part = numberingPart(opened, main)
  if (part === undefined) throw new RangeError(named)
  const { text, children, most } = numberingIn(opened, changes, part)
  const { xml } = text
  const like = children.find((one) => one.name === 'w:num' && attributeOf(xml, one, 'w:numId') === named)
  if (!like) throw new RangeError(named)
  const number = most('w:num', 'w:numId') + 1
  const inside = [...childrenIn(xml, like.inner)]
  const at = (one: Spanned) => Number(attributeOf(xml, one, 'w:ilvl'))
  const raw = (one: Spanned) => xml.slice(one.start, one.end)
  const others = inside.filter((one) => one.name !== 'w:lvlOverride' || at(one) !== level)
  const own = inside.find((one) => one.name === 'w:lvlOverride' && at(one) === level)
  // How its level looks stays; where it begins is its own.
  const look = own
    ? [...childrenIn(xml, own.inner)]
        .filter(({ name }) => name !== 'w:startOverride')
        .map(raw)
        .join('')
    : ''
  const begins = start === null ? '' : `<w:startOverride w:val="${start}"/>`
  const override = begins || look ? `<w:lvlOverride w:ilvl="${level}">${begins}${look}</w:lvlOverride>` : ''
  const splices = new Splices()
  const last = children.findLast((one) => one.name === 'w:num')!
  splices.insert(last.end, `<w:num w:numId="${number}">${others.map(raw).join('')}${override}</w:num>`)
  changes.set(part, text.encode(splices.apply(xml)))
  return String(number)
}
