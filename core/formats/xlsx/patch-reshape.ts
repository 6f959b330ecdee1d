// Rows and columns inserted into a file's sheets and removed from them, and sheets that get another name: the rows are
// numbered anew where they stand, and everything that refers to them goes along (patch-references.ts).
import { renameInFormula, type Shift, shiftFormula } from '../../content/formula'
import { columnName, columnNumber, largestSheet, type Sheet, sameCell, type Workbook } from '../../content/workbook'
import { applyOps, type WorkbookOp } from '../../content/workbook-ops'
import { relationshipKind } from '../opc/package'
import { attributeOf, attributeSpan, childrenIn, decoded, nextTag, rootOf, Splices, textOfPart } from '../opc/spans'
import { escapeAttribute, escapeText } from '../opc/xml'
import { CannotMove, moveReferences, type ReferenceChange } from './patch-references'
import { localName, rowsOf, sheetSource, tagWith } from './patch-rows'
import type { WorkbookParts } from './read'

export type Reshape = Extract<WorkbookOp, { op: 'insert' | 'remove' | 'rename sheet' }>

/** What operations come to for a file: what moves in its sheets, and which of them there are, in which order. */
export interface Arrangement {
  /** By the numbers of the file's own sheets. */
  reshapes: Reshape[]
  /** Of each sheet at the end the one of the file that it is; null for one that is new. */
  origins: (number | null)[]
}

/**
 * Operations that change where things are; one that undoes the one before it is as if neither had been.
 * @param sheets the names of the file's sheets
 * @param workbook as the file has it
 */
export function arrangementOf(ops: readonly WorkbookOp[], sheets: readonly string[], workbook: Workbook): Arrangement {
  /** Where in the operations each reshape that is left stands. */
  const places: number[] = []
  /** What each sheet that is renamed was called before, in the order of the renamings that are left. */
  const renames: string[] = []
  const reshapes: Reshape[] = []
  const origins: (number | null)[] = sheets.map((_, index) => index)
  const names = [...sheets]
  /** Sheets that were removed, the last one last: one that is put back is the file's own again. */
  const removed: { at: number; origin: number | null; name: string }[] = []
  for (const [place, op] of ops.entries()) {
    switch (op.op) {
      case 'add sheet':
        origins.splice(op.at, 0, null)
        names.splice(op.at, 0, op.name)
        break
      case 'put sheet': {
        const back = removed.at(-1)
        const own = back?.at === op.at && back.name === op.sheet.name ? removed.pop() : undefined
        origins.splice(op.at, 0, own?.origin ?? null)
        names.splice(op.at, 0, op.sheet.name)
        break
      }
      case 'remove sheet':
        removed.push({ at: op.sheet, origin: origins[op.sheet] ?? null, name: names[op.sheet]! })
        origins.splice(op.sheet, 1)
        names.splice(op.sheet, 1)
        break
      case 'move sheet':
        origins.splice(op.to, 0, ...origins.splice(op.sheet, 1))
        names.splice(op.to, 0, ...names.splice(op.sheet, 1))
        break
      case 'rename sheet':
      case 'insert':
      case 'remove': {
        const called = names[op.sheet]
        if (op.op === 'rename sheet') names[op.sheet] = op.name
        const origin = origins[op.sheet]
        // What is done to a sheet that is new is in it when it is written.
        if (origin === null || origin === undefined) break
        const before = reshapes.at(-1)
        const undoes =
          before &&
          before.op !== 'rename sheet' &&
          op.op !== 'rename sheet' &&
          before.op !== op.op &&
          before.sheet === origin &&
          before.axis === op.axis &&
          before.at === op.at &&
          before.count === op.count &&
          (op.op === 'remove' || comeBack(workbook, ops, places.at(-1)!, place))
        if (op.op === 'rename sheet') {
          // Called back by its name at once, it was never called otherwise.
          const last = renames.at(-1)
          if (before?.op === 'rename sheet' && before.sheet === origin && last === op.name) {
            reshapes.pop()
            places.pop()
            renames.pop()
            break
          }
          renames.push(called!)
        }
        if (undoes) {
          reshapes.pop()
          places.pop()
        } else {
          reshapes.push({ ...op, sheet: origin })
          places.push(place)
        }
      }
    }
  }
  return { reshapes, origins }
}

/**
 * Whether lines that were removed are the ones that are put in later, with what stood in them, and not new ones at
 * their place, which have nothing of the old ones' heights, borders and the like.
 */
function comeBack(workbook: Workbook, ops: readonly WorkbookOp[], removal: number, insertion: number): boolean {
  const op = ops[removal]!
  if (op.op !== 'remove') return false
  const was = applyOps(workbook, ops.slice(0, removal))
  let now = applyOps(was, ops.slice(removal, insertion + 1))
  const same = (a: Sheet, b: Sheet): boolean => {
    const rows = Math.max(a.rows.length, b.rows.length)
    const [from, to] = op.axis === 'rows' ? [op.at, Math.min(rows, op.at + op.count)] : [0, rows]
    for (let row = from; row < to; row++) {
      const [one, other] = [a.rows[row] ?? [], b.rows[row] ?? []]
      const width = Math.max(one.length, other.length)
      const [left, right] = op.axis === 'columns' ? [op.at, Math.min(width, op.at + op.count)] : [0, width]
      for (let column = left; column < right; column++) if (!sameCell(one[column], other[column])) return false
    }
    return true
  }
  const inserted = ops[insertion]!
  if (inserted.op !== 'insert') return false
  // Undoing puts back the cells of each sheet that lost some (invertOp).
  for (let repairs = 0; repairs <= workbook.sheets.length; repairs++) {
    if (same(was.sheets[op.sheet]!, now.sheets[inserted.sheet]!)) return true
    const repair = ops[insertion + 1 + repairs]
    if (repair?.op !== 'cells') return false
    now = applyOps(now, [repair])
  }
  return false
}

/** The text of a part as it is by now. */
export class PartTexts {
  private readonly texts = new Map<string, { xml: string; encode: (xml: string) => Uint8Array; changed: boolean }>()
  constructor(private readonly parts: WorkbookParts) {}
  get(part: string): string {
    const known = this.texts.get(part)
    if (known) return known.xml
    const bytes = this.parts.opened.bytes(part)
    const text = bytes && textOfPart(bytes)
    if (!text) throw new CannotMove(part)
    this.texts.set(part, { ...text, changed: false })
    return text.xml
  }
  set(part: string, xml: string): void {
    if (this.get(part) === xml) return
    const known = this.texts.get(part)!
    this.texts.set(part, { ...known, xml, changed: true })
  }
  encode(part: string, xml: string): Uint8Array {
    this.get(part)
    return this.texts.get(part)!.encode(xml)
  }
  /** Parts that are other ones now. */
  changed(): Map<string, Uint8Array> {
    const found = new Map<string, Uint8Array>()
    for (const [part, { xml, encode, changed }] of this.texts) if (changed) found.set(part, encode(xml))
    return found
  }
}

/** Does operations to every part that they concern. @throws CannotMove */
export function reshapeParts(parts: WorkbookParts, texts: PartTexts, ops: readonly Reshape[]): void {
  const names = parts.sheets.map(({ name }) => name)
  for (const op of ops) {
    const sheet = parts.sheets[op.sheet]
    if (!sheet) throw new CannotMove('sheet')
    const change = op.op === 'rename sheet' ? renaming(names[op.sheet]!, op.name) : shifting(op, names[op.sheet]!)
    everyPart(parts, texts, names, change, op.op === 'rename sheet' ? null : op.sheet, op)
    if (op.op === 'rename sheet') {
      renameSheet(parts, texts, op.sheet, op.name)
      names[op.sheet] = op.name
    }
  }
}

function renaming(from: string, to: string): ReferenceChange {
  return { formula: (text) => renameInFormula(text, from, to), range: (ref) => ref, index: (_, at) => at }
}
function shifting({ op, axis, at, count }: Exclude<Reshape, { op: 'rename sheet' }>, sheet: string): ReferenceChange {
  const shift: Shift = { sheet, axis, at, count: op === 'insert' ? count : -count }
  return {
    // What stands on no sheet names the sheet that it means.
    formula: (text, home) => shiftFormula(text, home ?? '', shift),
    range(ref) {
      // What was nowhere before stays nowhere.
      if (ref.includes('#REF!')) return ref
      const moved = shiftFormula(ref, sheet, shift)
      return moved.includes('#REF!') ? null : moved
    },
    index(along, index) {
      if (along !== axis || index < at) return index
      return op === 'insert' ? index + count : Math.max(at, index - count)
    },
  }
}

/** The sheet that a part stands on, by what leads to it. */
function sheetsByPart(parts: WorkbookParts): Map<string, number> {
  const found = new Map<string, number>()
  for (const [index, { part }] of parts.sheets.entries()) {
    found.set(part, index)
    for (const relationship of parts.opened.relationships(part).values())
      if (!relationship.external) {
        const kind = relationshipKind(relationship)
        if (
          ['drawing', 'vmlDrawing', 'comments', 'threadedComment', 'table', 'pivotTable', 'tableSingleCells'].includes(
            kind,
          )
        )
          found.set(relationship.target, index)
      }
  }
  return found
}

function everyPart(
  parts: WorkbookParts,
  texts: PartTexts,
  names: readonly string[],
  change: ReferenceChange,
  moved: number | null,
  op: Reshape,
): void {
  const owners = sheetsByPart(parts)
  const folder = parts.main.slice(0, parts.main.lastIndexOf('/') + 1)
  const all = [...parts.root.children].filter((child) => typeof child !== 'string')
  const sheetList = all.find(({ name }) => name === 'sheets')
  /** Defined names count every sheet, those of another kind, too. */
  const listed = (sheetList?.children ?? []).flatMap((child) =>
    typeof child === 'string' ? [] : [child.attributes['r:id']],
  )
  const homeOf = (index: number) => {
    const at = parts.sheets.findIndex(({ relationship }) => relationship === listed[index])
    return at >= 0 ? names[at]! : null
  }
  for (const part of parts.opened.container.names) {
    if (!part.startsWith(folder) || !/\.(xml|vml)$/.test(part)) continue
    // What another file held when it was last read does not move with this one.
    if (
      /\/(?:externalLinks|theme|sharedStrings\.xml|styles\.xml|calcChain\.xml|media)/.test(
        part.slice(folder.length - 1),
      )
    )
      continue
    const owner = owners.get(part)
    const owns = owner !== undefined && owner === moved
    const home = owner === undefined ? null : names[owner]!
    const xml = texts.get(part)
    const isSheet = parts.sheets.some((one) => one.part === part)
    if (part.includes('/tables/') && owns && op.op !== 'rename sheet') tableStays(xml, op)
    if (part.includes('pivotCacheDefinition')) {
      texts.set(part, movedSource(xml, change, names, moved, op))
      continue
    }
    if (!isSheet) {
      texts.set(part, moveReferences(xml, change, { home, owns, homeOf }))
      continue
    }
    const source = sheetSource(xml)
    if (!source) throw new CannotMove(part)
    const around = moveReferences(xml, change, { home, owns, skip: source.data.inner })
    const cells = sheetSource(around)
    if (!cells) throw new CannotMove(part)
    let next = moveFormulas(around, cells.data.inner, cells.prefix, change, home!, owns)
    if (owns && op.op !== 'rename sheet') next = op.axis === 'rows' ? moveRows(next, op) : moveColumns(next, op)
    texts.set(part, next)
  }
}

/** Formulas of cells as they are written: the text of each, and the range of those that are shared or of several cells. */
function moveFormulas(
  xml: string,
  [from, to]: readonly [number, number],
  prefix: string,
  change: ReferenceChange,
  home: string,
  owns: boolean,
): string {
  const splices = new Splices()
  const name = `<${prefix}f`
  for (let at = xml.indexOf(name, from); at >= 0 && at < to; at = xml.indexOf(name, at + 1)) {
    if (!/[\s/>]/.test(xml[at + name.length] ?? '')) continue
    const tag = nextTag(xml, at)!
    for (const key of owns ? ['ref', 'r1', 'r2'] : []) {
      const span = attributeSpan(xml, tag, key)
      if (!span) continue
      const ref = xml.slice(...span)
      const now = change.range(ref)
      if (now === null) {
        if (key === 'ref' && attributeOf(xml, tag, 't') === 'shared') continue
        // Part of what several cells result in goes with its first one only.
        continue
      }
      if (now !== ref) splices.replace(span[0], span[1], now)
    }
    if (tag.kind === 'empty') continue
    const end = nextTag(xml, tag.end)
    if (!end) break
    const text = decoded(xml.slice(tag.end, end.start))
    const now = change.formula(text, home)
    if (now !== text) splices.replace(tag.end, end.start, escapeText(now))
  }
  return splices.any ? splices.apply(xml) : xml
}

type Shifted = Exclude<Reshape, { op: 'rename sheet' }>

function moveRows(xml: string, { op, at, count }: Shifted): string {
  const source = sheetSource(xml)!
  const { prefix } = source
  const address = new RegExp(`(<${prefix}c\\b[^>]*?\\sr=["'])([A-Za-z]+)(\\d+)`, 'g')
  const splices = new Splices()
  for (const row of rowsOf(source)) {
    if (row.number < at) continue
    if (op === 'remove' && row.number < at + count) {
      splices.replace(row.start, row.end, '')
      continue
    }
    const number = row.number + (op === 'insert' ? count : -count) + 1
    const raw = xml.slice(row.start, row.end)
    if (number > largestSheet.rows) {
      // A row without cells only says how it looks.
      if (raw.includes(`<${prefix}c`)) throw new CannotMove('past the last row')
      splices.replace(row.start, row.end, '')
      continue
    }
    if (raw.includes('<!')) throw new CannotMove('row')
    const opening = raw.slice(0, row.inner[0] - row.start)
    const rest = raw.slice(row.inner[0] - row.start)
    const numbered = row.numbered
      ? opening.replace(/(\sr=["'])\d+/, (_, before: string) => `${before}${number}`)
      : opening.replace(`<${prefix}row`, `<${prefix}row r="${number}"`)
    splices.replace(
      row.start,
      row.end,
      numbered + rest.replace(address, (_, before: string, column: string) => `${before}${column}${number}`),
    )
  }
  return splices.any ? splices.apply(xml) : xml
}

function moveColumns(xml: string, { op, at, count }: Shifted): string {
  const source = sheetSource(xml)!
  const { prefix } = source
  const splices = new Splices()
  const moved = (column: number): number | null =>
    column < at ? column : op === 'insert' ? column + count : column < at + count ? null : column - count
  for (const row of rowsOf(source)) {
    const span = attributeSpan(xml, row, 'spans')
    if (span) {
      const [low, high] = xml
        .slice(...span)
        .split(':')
        .map(Number) as [number, number]
      const [first, last] = [moved(low - 1) ?? at, moved(high - 1) ?? Math.max(at - 1, 0)]
      splices.replace(span[0], span[1], `${Math.min(first, last) + 1}:${Math.max(first, last) + 1}`)
    }
    for (const cell of childrenIn(xml, row.inner)) {
      if (cell.name !== `${prefix}c`) continue
      const place = attributeSpan(xml, cell, 'r')
      if (!place) throw new CannotMove('cells without addresses')
      const [, letters = '', rest = ''] = /^([A-Za-z]+)(.*)$/.exec(xml.slice(...place)) ?? []
      const column = columnNumber(letters)
      const now = moved(column)
      if (now === null) splices.replace(cell.start, cell.end, '')
      else if (now >= largestSheet.columns) throw new CannotMove('past the last column')
      else if (now !== column) splices.replace(place[0], place[1], `${columnName(now)}${rest}`)
    }
  }
  for (const part of childrenIn(xml, rootOf(xml).inner)) {
    if (part.name !== `${prefix}cols`) continue
    const pieces = [...childrenIn(xml, part.inner)].flatMap((col) => {
      const [min, max] = [Number(attributeOf(xml, col, 'min')) - 1, Number(attributeOf(xml, col, 'max')) - 1]
      const piece = (from: number, to: number) =>
        from <= to
          ? [
              `${tagWith(xml, col, { min: String(from + 1), max: String(Math.min(to, largestSheet.columns - 1) + 1) })}/>`,
            ]
          : []
      if (op === 'remove') {
        const first = min < at ? min : Math.max(at, min - count)
        const last = max < at ? max : max < at + count ? at - 1 : max - count
        return piece(first, last)
      }
      if (max < at) return piece(min, max)
      if (min >= at) return min + count < largestSheet.columns ? piece(min + count, max + count) : []
      // Columns that come in the middle of some that are alike are as usual.
      return [...piece(min, at - 1), ...piece(at + count, max + count)]
    })
    if (pieces.length) splices.replace(part.inner[0], part.inner[1], pieces.join(''))
    else splices.replace(part.start, part.end, '')
  }
  return splices.any ? splices.apply(xml) : xml
}

/** A table's heading and its columns are more than their range: what would change those is not done here. */
function tableStays(xml: string, { op, axis, at, count }: Shifted): void {
  const ref = attributeOf(xml, rootOf(xml), 'ref') ?? ''
  const [, left = '', top = '', right = '', bottom = ''] = /^\$?([A-Z]+)\$?(\d+):\$?([A-Z]+)\$?(\d+)$/.exec(ref) ?? []
  const [first, last] =
    axis === 'rows' ? [Number(top) - 1, Number(bottom) - 1] : [columnNumber(left), columnNumber(right)]
  const past = op === 'insert' ? at : at + count - 1
  if (axis === 'columns' && at <= last && (op === 'insert' ? at > first : past >= first))
    throw new CannotMove('columns of a table')
  if (axis === 'rows' && op === 'remove' && at <= first && past >= first) throw new CannotMove('heading of a table')
  // A table keeps a row below its heading.
  if (axis === 'rows' && op === 'remove' && at <= first + 1 && past >= last) throw new CannotMove('rows of a table')
}

/** Where a pivot table's source stands (§18.10.1.95). */
function movedSource(
  xml: string,
  change: ReferenceChange,
  names: readonly string[],
  moved: number | null,
  op: Reshape,
): string {
  const splices = new Splices()
  for (let tag = nextTag(xml, 0); tag; tag = nextTag(xml, tag.end)) {
    if (tag.kind === 'close' || localName(tag.name) !== 'worksheetSource') continue
    const sheet = attributeSpan(xml, tag, 'sheet')
    const ref = attributeSpan(xml, tag, 'ref')
    if (!sheet || attributeSpan(xml, tag, 'r:id')) continue
    const name = decoded(xml.slice(...sheet))
    if (op.op === 'rename sheet') {
      if (name.toLowerCase() === names[op.sheet]!.toLowerCase())
        splices.replace(sheet[0], sheet[1], escapeAttribute(op.name))
    } else if (ref && moved !== null && name.toLowerCase() === names[moved]!.toLowerCase()) {
      const now = change.range(xml.slice(...ref))
      if (now === null) throw new CannotMove('source of a pivot table')
      splices.replace(ref[0], ref[1], now)
    }
  }
  return splices.any ? splices.apply(xml) : xml
}

function renameSheet(parts: WorkbookParts, texts: PartTexts, index: number, name: string): void {
  const xml = texts.get(parts.main)
  const splices = new Splices()
  for (const list of childrenIn(xml, rootOf(xml).inner)) {
    if (localName(list.name) !== 'sheets') continue
    for (const sheet of childrenIn(xml, list.inner)) {
      const relationship = /\s[\w]*:id=["']([^"']*)["']/.exec(xml.slice(sheet.start, sheet.end))?.[1]
      const span = attributeSpan(xml, sheet, 'name')
      if (relationship === parts.sheets[index]!.relationship && span)
        splices.replace(span[0], span[1], escapeAttribute(name))
    }
  }
  texts.set(parts.main, splices.apply(xml))
}
