// Lists of a file that was written into, brought to begin and end where they do in the document (ECMA-376 part 1, §17.9):
// two lists that came beside each other go on as one where their paragraphs name one number, and stay two where they do
// not; and what counts on from another list counts from what is left of it.
import type { Node } from 'prosemirror-model'
import type { Changes } from '../opc/add-part'
import type { OpcPackage } from '../opc/package'
import { Splices } from '../opc/spans'
import { sourceBlocks, type Unit, unitsOf } from './patch-items'
import { withNumbering } from './patch-look'
import { addNumberLike } from './patch-numbering'
import type { DocumentSource } from './source'

type Listed = NonNullable<Extract<Unit, { is: 'paragraph' }>['context']['list']>
const listOf = (unit: Unit | undefined): Listed | null => (unit?.is === 'paragraph' ? unit.context.list : null)

/**
 * @param xml the main part as it was written
 * @param read what it reads as, with its source
 * @param changes what parts become: a number that a list needs is added to them
 * @returns the part with other numbers for its lists, which may let others behind them count otherwise; null where the
 *   two differ in more than their lists
 */
export function regroupedLists(
  { opened, changes, main, prefix }: { opened: OpcPackage; changes: Changes; main: string; prefix: string },
  xml: string,
  read: { doc: Node; source: DocumentSource },
  target: Node,
): string | null {
  const units = unitsOf(target)
  const blocks = sourceBlocks(xml, read.doc, read.source.pieces, read.source)
  if (!blocks || blocks.units.length !== units.length) return null
  if (units.some(({ key }, index) => key !== blocks.units[index]!.key)) return null
  const splices = new Splices()
  /** What lists from here on name instead of a number that is another list's now. */
  const renamed = new Map<string, string>()
  const numberOf = new Map<Node, string>()
  for (const [index, unit] of units.entries()) {
    const [list, piece, paragraph] = [listOf(unit), read.source.pieces[index], blocks.paragraphs[index]]
    if (!list) continue
    const own = list.own ?? list.of
    if (!own) return null
    if (piece?.is !== 'paragraph' || !piece.list || !paragraph) return null
    const { number: named, level } = piece.list
    const before = listOf(units[index - 1])
    const there = listOf(blocks.units[index])!
    const readAsOne = there.of === listOf(blocks.units[index - 1])?.of
    const start = own.attrs.start ?? null
    // Where one goes on counting from another, and that one is shorter now, its numbers are what the page says.
    const counts = !numberOf.has(own) && !renamed.has(named) && start !== (there.own?.attrs.start ?? null)
    if ((before && before.of !== list.of && readAsOne) || counts)
      renamed.set(named, addNumberLike(opened, changes, main, named, level, start))
    const wanted = numberOf.get(own) ?? renamed.get(named) ?? named
    numberOf.set(own, wanted)
    if (wanted === named) continue
    const [from, to] = paragraph.properties
    splices.replace(from, to, withNumbering(prefix, xml.slice(from, to), level, wanted))
  }
  return splices.any ? splices.apply(xml) : null
}
