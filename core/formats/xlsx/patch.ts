// Writes a workbook into the file that it came from: what its edits do not touch stays as it is, part by part and row
// by row (ECMA-376 part 1, §18). Nothing of where things stand is kept in the model; it is found in the base's bytes.

import type { Area } from '../../calc/source'
import { sameSetUp, setUpOf } from '../../content/sheet-set-up'
import {
  blankSheet,
  type Cell,
  type CellValue,
  cellAt,
  type Sheet,
  sameStyle,
  sameValue,
  type Workbook,
} from '../../content/workbook'
import { cellDifferences, frameDifferences, type WorkbookOp } from '../../content/workbook-ops'
import { dropPart } from '../opc/drop-part'
import { childrenIn, rootOf, type Spanned, Splices, textOfPart } from '../opc/spans'
import { parseXml } from '../opc/xml'
import { DamagedFile, NotPatched } from '../refusals'
import { toFile, toFileValue } from './date-system'
import { areaIn } from './formula-source'
import { patchFrame } from './patch-frame'
import { CannotMove } from './patch-references'
import { arrangementOf, PartTexts, reshapeParts } from './patch-reshape'
import { type CellWrite, patchRows, sheetSource, tagWith } from './patch-rows'
import { newSheetXml, relistSheets } from './patch-sheets'
import { formatsOf, PatchedStyles } from './patch-styles'
import { cellStylesOf, openParts, partOf, type ReadWorkbook, sheetReader } from './read'
import type { ResultOf } from './write'

/** What a file is made of when its edits are written into it. */
export interface WorkbookEdits {
  /** The file that the workbook came from. */
  base: Uint8Array
  /** The base as it was read. */
  read: Pick<ReadWorkbook, 'workbook' | 'results' | 'source'>
  /** The workbook as it is now. */
  workbook: Workbook
  /** What was done since, one after the other. */
  ops: readonly WorkbookOp[]
  /** What formulas result in now; the base's results stay where this does not say. */
  resultOf: ResultOf
  /** Whether a formula's result follows from the edits. */
  isNew: (sheet: number, row: number, column: number) => boolean
  /** Some result is not known: whoever opens the file is to calculate it. */
  recalculate?: boolean
}

/**
 * @returns the base's own bytes where nothing changed
 * @throws NotPatched where an edit cannot be written so, or does not read back as it was meant
 */
export function patchXlsx(edits: WorkbookEdits): Uint8Array {
  try {
    return patched(edits)
  } catch (error) {
    if (error instanceof DamagedFile || error instanceof RangeError || error instanceof CannotMove)
      throw new NotPatched(error.message)
    throw error
  }
}

function patched({ base, read, workbook, ops, resultOf, isNew, recalculate }: WorkbookEdits): Uint8Array {
  const parts = openParts(base)
  const { opened } = parts
  const { reshapes, origins } = arrangementOf(
    ops,
    parts.sheets.map(({ name }) => name),
    read.workbook,
  )
  if (workbook.sheets.length !== origins.length) throw new NotPatched('sheets')
  const listed = origins.length !== parts.sheets.length || origins.some((origin, index) => origin !== index)
  const texts = new PartTexts(parts)
  // First everything goes where it is now, as the file has it; what of the cells is then still another is written.
  if (reshapes.length) reshapeParts(parts, texts, reshapes)
  const reshaped = texts.changed()
  const changes = new Map<string, Uint8Array | null>(reshaped)
  const moved = reshaped.size ? sheetReader(parts) : null
  const readNow = (index: number, origin: number) => {
    const { part } = parts.sheets[origin]!
    const bytes = moved && reshaped.get(part)
    return bytes
      ? withFarWidths(moved.read(bytes, workbook.sheets[index]!.name), workbook.sheets[index]!)
      : {
          sheet: read.workbook.sheets[origin]!,
          results: read.results[origin],
          arrays: read.source.arrays.filter(({ sheet }) => sheet === origin),
        }
  }
  const styles = new PatchedStyles(parts.stylesPart === undefined ? undefined : opened.bytes(parts.stylesPart), () =>
    cellStylesOf(parts),
  )
  let formulasChanged = false
  const touched: { index: number; before: Sheet; bytes: Uint8Array }[] = []
  const fileCell = (index: number, row: number, column: number, cell: Cell | null): CellWrite => {
    const write: CellWrite = { row, column, cell: toFile(cell, parts.date1904) }
    if (cell?.formula === undefined) return write
    const result = resultOf(index, row, column)
    return result === undefined ? write : { ...write, result: toFileValue(result, cell.style, parts.date1904) }
  }
  const fresh: { index: number; name: string; xml: string }[] = []
  for (const [index, sheet] of workbook.sheets.entries()) {
    const origin = origins[index]!
    if (origin === null) {
      const xml = newSheetXml(sheet, (row, column) => {
        const cell = cellAt(sheet, row, column)!
        const write = fileCell(index, row, column, cell)
        return cell.style || parts.stylesPart !== undefined ? { ...write, style: styles.derive(0, cell.style) } : write
      })
      if (sheet.rows.some((line) => line?.some((cell) => cell?.formula !== undefined))) formulasChanged = true
      fresh.push({ index, name: sheet.name, xml })
      continue
    }
    const { part } = parts.sheets[origin]!
    const { sheet: before, results, arrays } = readNow(index, origin)
    if (reshaped.has(part)) touched.push({ index, before, bytes: reshaped.get(part)! })
    const renewed = freshResults(sheet, index, results, isNew, resultOf, parts.date1904)
    if (sheet === before && !renewed.length) continue
    const differences = cellDifferences(before, sheet)
    const framed = (
      ['widths', 'frozen', 'setUp', 'merged', 'heights', 'hiddenRows', 'hiddenColumns', 'filter', 'rules'] as const
    ).some((what) => before[what] !== sheet[what])
    if (!differences.length && !renewed.length && !framed) continue
    const was = texts.get(part)
    const source = sheetSource(was)
    if (!source) throw new NotPatched(part)
    const differing = new Set(differences.map(({ row, column }) => row * 16384 + column))
    const writes: CellWrite[] = renewed.filter(({ row, column }) => !differing.has(row * 16384 + column))
    const formats = formatsOf(source)
    // One cell of those that a formula fills is not changed alone (§18.3.1.40, `ref`).
    for (const array of arrays) if (differences.some((one) => isPartOf(array, one))) throw new NotPatched('array')
    for (const { row, column, cell } of differences) {
      const old = cellAt(before, row, column)
      const write = fileCell(index, row, column, cell)
      if (!sameStyle(old?.style, cell?.style)) write.style = styles.derive(formats(row, column), cell?.style)
      else if (!old) {
        // What is new in a row or a column looks as its row or its column does.
        const usual = formats(row, column)
        if (usual) write.style = usual
      }
      writes.push(write)
    }
    const keeps = (write: CellWrite) => {
      const old = cellAt(before, write.row, write.column)
      const now = cellAt(sheet, write.row, write.column)
      return (
        write.cell !== undefined &&
        !!old &&
        !!now &&
        old.formula === now.formula &&
        sameValue(old.value, now.value) &&
        write.result === undefined
      )
    }
    const rows = patchRows(source, writes, keeps)
    formulasChanged ||= rows.formulasChanged
    const xml = patchFrame(rows.xml, source.prefix, before, sheet)
    if (xml === was) continue
    const bytes = texts.encode(part, xml)
    touched.push({ index, before, bytes })
    changes.set(part, bytes)
  }
  if (listed) {
    const newParts = relistSheets(parts, texts, changes, origins, fresh)
    changes.set(parts.main, texts.encode(parts.main, texts.get(parts.main)))
    for (const [at, { index, name }] of fresh.entries())
      touched.push({ index, before: blankSheet(name), bytes: changes.get(newParts[at]!)! })
  }
  if (!changes.size) return base
  const newStyles = styles.changed()
  if (newStyles) changes.set(parts.stylesPart!, newStyles)
  const calcChain = partOf(parts.relationships, 'calcChain')
  // Formulas that moved are others in that list.
  if ((formulasChanged || reshapes.length || listed) && calcChain) dropPart(opened, parts.main, calcChain, changes)
  if (recalculate) changes.set(parts.main, calculatedOnLoad(changes.get(parts.main) ?? opened.bytes(parts.main)!))
  verify()
  const result = opened.container.patched(changes)
  if (!result) throw new NotPatched('container')
  const names = (sheets: readonly { name: string }[]) => JSON.stringify(sheets.map(({ name }) => name))
  if (names(openParts(result).sheets) !== names(workbook.sheets)) throw new NotPatched('names of sheets')
  return result

  /** Reads every changed sheet again, and holds it against the workbook. */
  function verify(): void {
    const reader = sheetReader(parts, undefined, newStyles ? parseXml(newStyles, parts.stylesPart!) : undefined)
    for (const { index, before, bytes } of new Map(touched.map((one) => [one.index, one])).values()) {
      const wanted = workbook.sheets[index]!
      const { sheet, looks } = reader.read(bytes, wanted.name)
      for (const { row, column, cell } of cellDifferences(sheet, wanted)) {
        const is = cellAt(sheet, row, column)
        // A new cell without a look of its own has its row's.
        const same =
          is?.formula === cell?.formula &&
          sameValue(is?.value, cell?.value) &&
          (sameStyle(is?.style, cell?.style) || (!cell?.style && !cellAt(before, row, column)))
        if (!same) throw new NotPatched(`${wanted.name} ${row} ${column}`)
      }
      if (JSON.stringify(sheet.frozen) !== JSON.stringify(wanted.frozen)) throw new NotPatched('frozen')
      for (const one of frameDifferences(index, sheet, wanted)) if (!isFar(one)) throw new NotPatched(one.op)
      if (wanted.setUp && !sameSetUp(setUpOf(looks.paper), wanted.setUp)) throw new NotPatched('set-up')
      const columns = new Set([...Object.keys(sheet.widths), ...Object.keys(wanted.widths)].map(Number))
      for (const column of columns)
        if (sheet.widths[column] !== wanted.widths[column]) {
          // A run of many columns that is divided by a change of one of them is read on from there.
          const far = column >= farColumn && (reshapes.length > 0 || before.widths[column] === wanted.widths[column])
          if (!far) throw new NotPatched(`width ${column}`)
        }
    }
  }
}

/** Of a run of columns that are alike the reader takes so many: where it was moved it ends elsewhere. */
const farColumn = 1000
const isFar = (op: WorkbookOp): boolean =>
  op.op === 'hide' && op.axis === 'columns' && op.spans.every(([from]) => from >= farColumn)
const withFarWidths = (read: ReturnType<ReturnType<typeof sheetReader>['read']>, wanted: Sheet) => {
  const near = Object.entries(read.sheet.widths).filter(([column]) => Number(column) < farColumn)
  const far = Object.entries(wanted.widths).filter(([column]) => Number(column) >= farColumn)
  return { ...read, sheet: { ...read.sheet, widths: Object.fromEntries([...near, ...far]) } }
}

function isPartOf(array: Area | string, { row, column }: { row: number; column: number }): boolean {
  const area = typeof array === 'string' ? areaIn(array, 0) : array
  if (!area || (row === area.top && column === area.left)) return false
  return row >= area.top && row <= area.bottom && column >= area.left && column <= area.right
}

/** Formulas that nobody edited, whose results follow from edits. */
function freshResults(
  sheet: Sheet,
  index: number,
  stored: Map<number, CellValue> | undefined,
  isNew: WorkbookEdits['isNew'],
  resultOf: ResultOf,
  date1904: boolean,
): CellWrite[] {
  const found: CellWrite[] = []
  sheet.rows.forEach((line, row) => {
    line?.forEach((cell, column) => {
      if (cell?.formula === undefined || !isNew(index, row, column)) return
      const result = resultOf(index, row, column)
      if (sameValue(result, stored?.get(row * 16384 + column))) return
      found.push({ row, column, ...(result !== undefined && { result: toFileValue(result, cell.style, date1904) }) })
    })
  })
  return found
}

/** The workbook part with the wish that everything is calculated when it is opened (§18.2.2). */
function calculatedOnLoad(bytes: Uint8Array): Uint8Array {
  const text = textOfPart(bytes)
  if (!text) throw new NotPatched('workbook')
  const { xml } = text
  const root = rootOf(xml)
  const prefix = root.name.slice(0, root.name.length - 'workbook'.length)
  const splices = new Splices()
  let before: Spanned | undefined
  for (const element of childrenIn(xml, root.inner)) {
    const name = element.name.slice(prefix.length)
    if (name === 'calcPr') {
      const start = tagWith(xml, element, { fullCalcOnLoad: '1' })
      splices.replace(
        element.start,
        element.kind === 'empty' ? element.end : element.inner[0],
        element.kind === 'empty' ? `${start}/>` : `${start}>`,
      )
      return text.encode(splices.apply(xml))
    }
    // The elements that stand before it (§18.2.27).
    if (['sheets', 'functionGroups', 'externalReferences', 'definedNames'].includes(name)) before = element
  }
  splices.insert(before?.end ?? root.inner[1], `<${prefix}calcPr fullCalcOnLoad="1"/>`)
  return text.encode(splices.apply(xml))
}
