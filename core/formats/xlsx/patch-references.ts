// Rows and columns that come and go, and sheets that are called otherwise, in everything that refers to them (ECMA-376
// part 1, §18 and §20.5; VML by part 4, §19; extensions of worksheets by their `xm:f` and `xm:sqref`).
//
// One list says what refers, and one walk over a part changes it; the rows of the sheet itself have their own
// (patch-reshape.ts).
import { attributesIn, decoded, nextTag, Splices, type Tag } from '../opc/spans'
import { escapeAttribute, escapeText } from '../opc/xml'
import { localName } from './patch-rows'

/** What becomes of references. */
export interface ReferenceChange {
  /** A formula on a sheet, or on none. */
  formula(text: string, home: string | null): string
  /** A range of the sheet that a part belongs to; null when nothing is left of it. */
  range(ref: string): string | null
  /** A row or a column by its number, from 0: where it is now. A removed one is where the first behind it is. */
  index(axis: 'rows' | 'columns', at: number): number
}

/** Attributes that hold a range, or several, of the part's own sheet. */
const ranges: Readonly<Record<string, readonly string[]>> = {
  dimension: ['ref'],
  selection: ['activeCell', 'sqref'],
  sheetView: ['topLeftCell'],
  pane: ['topLeftCell'],
  mergeCell: ['ref'],
  autoFilter: ['ref'],
  sortState: ['ref'],
  sortCondition: ['ref'],
  hyperlink: ['ref'],
  protectedRange: ['sqref'],
  conditional: ['sqref'],
  dataValidation: ['sqref'],
  ignoredError: ['sqref'],
  cellWatch: ['r'],
  inputCells: ['r'],
  customSheetView: ['topLeftCell'],
  comment: ['ref'],
  threadedComment: ['ref'],
  table: ['ref'],
  location: ['ref'],
  singleXmlCell: ['r'],
}
/** Elements that are nothing without their range. */
const nothingWithout = new Set([
  'mergeCell',
  'hyperlink',
  'protectedRange',
  'conditional',
  'dataValidation',
  'ignoredError',
  'cellWatch',
  'comment',
  'threadedComment',
  'sortCondition',
])
/** Elements whose text is a formula. */
const formulas = new Set([
  'f',
  'formula',
  'formula1',
  'formula2',
  'definedName',
  'calculatedColumnFormula',
  'totalsRowFormula',
])

/** What cannot be moved with its rows or columns. */
export class CannotMove extends Error {}

/**
 * Changes every reference in a part.
 * @param home the sheet that the part's formulas stand on; null for none
 * @param owns whether its ranges are of the sheet that is changed
 * @param homeOf the sheet that a defined name is of, by its number
 * @param skip a span that is left as it is: a sheet's rows
 */
export function moveReferences(
  xml: string,
  change: ReferenceChange,
  {
    home,
    owns,
    homeOf = () => null,
    skip,
  }: {
    home: string | null
    owns: boolean
    homeOf?: (index: number) => string | null
    skip?: readonly [from: number, to: number]
  },
): string {
  const splices = new Splices()
  const attribute = (tag: Tag, wanted: string): { text: string; span: readonly [number, number] } | null => {
    for (const { key, span } of attributesIn(xml, tag))
      if (key === wanted) return { text: decoded(xml.slice(...span)), span }
    return null
  }
  const set = (span: readonly [number, number], before: string, now: string) => {
    if (now !== before) splices.replace(span[0], span[1], escapeAttribute(now))
  }
  const open: { tag: Tag; axis: 'rows' | 'columns' | null }[] = []
  /** Lists with a count, of which some went. */
  const gone = new Map<number, { tag: Tag; count: number; went: number }>()
  for (let at = 0; ; ) {
    const tag = nextTag(xml, at)
    if (!tag) break
    at = skip && tag.start >= skip[0] && tag.start < skip[1] ? skip[1] : tag.end
    if (at === skip?.[1]) continue
    if (tag.kind === 'close') {
      open.pop()
      continue
    }
    const name = localName(tag.name).replace(/^conditional[A-Z].*/, 'conditional')
    const parent = open.at(-1)
    const inBreaks = parent && /^(?:row|col)Breaks$/.test(localName(parent.tag.name))
    if (owns) {
      let lost = false
      const now: [span: readonly [number, number], before: string, now: string][] = []
      for (const wanted of ranges[name] ?? []) {
        const found = attribute(tag, wanted)
        if (!found?.text) continue
        const left = found.text.split(/\s+/).flatMap((one) => change.range(one) ?? [])
        // A place to be at is somewhere; a range of cells that went is nowhere.
        if (!left.length && nothingWithout.has(name)) lost = true
        else if (!left.length && (name === 'table' || name === 'location' || name === 'autoFilter'))
          throw new CannotMove(name)
        else if (left.length) now.push([found.span, found.text, left.join(' ')])
      }
      if (name === 'mergeCell' && !lost) {
        const ref = attribute(tag, 'ref')
        const left = ref && change.range(ref.text)
        const [first, last = first] = (left ?? '').replaceAll('$', '').split(':')
        if (left && first === last) lost = true
      }
      if (!lost) for (const one of now) set(...one)
      if (lost) {
        const end = tag.kind === 'empty' ? tag.end : closeOf(xml, tag)
        splices.replace(tag.start, end, '')
        if (parent) {
          const list = gone.get(parent.tag.start) ?? { tag: parent.tag, count: childCount(xml, parent.tag), went: 0 }
          list.went++
          gone.set(parent.tag.start, list)
        }
        at = end
        continue
      }
      if (name === 'brk' && inBreaks) {
        const found = attribute(tag, 'id')
        const axis = localName(parent.tag.name) === 'rowBreaks' ? 'rows' : 'columns'
        // A break stands before the row or the column that its number counts up to.
        if (found) set(found.span, found.text, String(change.index(axis, Number(found.text))))
      }
    }
    if (name === 'hyperlink') {
      const found = attribute(tag, 'location')
      if (found && /[!]/.test(found.text)) set(found.span, found.text, change.formula(found.text, home))
    }
    if (name === 'cfvo') {
      const found = attribute(tag, 'val')
      if (found && attribute(tag, 'type')?.text === 'formula')
        set(found.span, found.text, change.formula(found.text, home))
    }
    const leaf = (): readonly [number, number] | null => {
      if (tag.kind !== 'open') return null
      const end = nextTag(xml, tag.end)
      return end?.kind === 'close' ? [tag.end, end.start] : null
    }
    const rewrite = (span: readonly [number, number] | null, by: (text: string) => string) => {
      if (!span) return
      const raw = xml.slice(...span)
      if (raw.includes('<')) throw new CannotMove(name)
      const now = by(decoded(raw))
      if (now !== decoded(raw)) splices.replace(span[0], span[1], escapeText(now))
    }
    if (formulas.has(name)) {
      const local = name === 'definedName' ? attribute(tag, 'localSheetId') : null
      const on = local ? homeOf(Number(local.text)) : home
      rewrite(leaf(), (text) => change.formula(text, on))
    }
    if (owns && name === 'sqref')
      rewrite(leaf(), (text) => {
        const left = text.split(/\s+/).flatMap((one) => change.range(one) ?? [])
        if (!left.length) throw new CannotMove(name)
        return left.join(' ')
      })
    // Anchors of drawings (§20.5.2.15) and of what stands on a sheet in VML.
    if (owns && parent && /^(?:from|to)$/.test(localName(parent.tag.name)) && (name === 'row' || name === 'col')) {
      const anchor = open.at(-2)?.tag
      const fixed = anchor && /editAs="absolute"/.test(xml.slice(anchor.start, anchor.end))
      if (!fixed) rewrite(leaf(), (text) => String(change.index(name === 'row' ? 'rows' : 'columns', Number(text))))
    }
    if (owns && (name === 'Row' || name === 'Column') && /^x:/.test(tag.name))
      rewrite(leaf(), (text) => String(change.index(name === 'Row' ? 'rows' : 'columns', Number(text))))
    if (owns && name === 'Anchor' && /^x:/.test(tag.name))
      rewrite(leaf(), (text) => {
        const numbers = text.split(',').map(Number)
        if (numbers.length !== 8 || numbers.some((one) => !Number.isFinite(one))) throw new CannotMove(name)
        return numbers
          .map((one, index) => (index % 2 ? one : change.index(index % 4 ? 'rows' : 'columns', one)))
          .join(', ')
      })
    if (tag.kind === 'open') open.push({ tag, axis: null })
  }
  for (const { tag, count, went } of gone.values()) {
    if (
      count === went &&
      /^(?:mergeCells|dataValidations|hyperlinks|protectedRanges|ignoredErrors)$/.test(localName(tag.name))
    ) {
      // A list that nothing is left of goes, too: the schema wants one at least.
      return moveReferences(withoutElement(xml, tag), change, {
        home,
        owns,
        homeOf,
        ...(skip && { skip: shifted(skip, tag, xml) }),
      })
    }
    const found = attribute(tag, 'count')
    if (found) set(found.span, found.text, String(Number(found.text) - went))
  }
  return splices.any ? splices.apply(xml) : xml
}

function closeOf(xml: string, tag: Tag): number {
  let depth = 1
  for (let at = tag.end; ; ) {
    const next = nextTag(xml, at)
    if (!next) throw new CannotMove(tag.name)
    if (next.kind === 'open') depth++
    else if (next.kind === 'close' && --depth === 0) return next.end
    at = next.end
  }
}
function childCount(xml: string, tag: Tag): number {
  let count = 0
  let depth = 0
  for (let at = tag.end; ; ) {
    const next = nextTag(xml, at)
    if (!next) return count
    if (next.kind === 'close' && depth-- === 0) return count
    if (next.kind !== 'close' && depth === 0) count++
    if (next.kind === 'open') depth++
    at = next.end
  }
}
const withoutElement = (xml: string, tag: Tag): string => xml.slice(0, tag.start) + xml.slice(closeOf(xml, tag))
/** A span after an element was taken out before or behind it. */
function shifted(span: readonly [number, number], tag: Tag, xml: string): readonly [number, number] {
  const length = closeOf(xml, tag) - tag.start
  return tag.start < span[0] ? [span[0] - length, span[1] - length] : span
}
