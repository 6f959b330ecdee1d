// What every feature of a spreadsheet is asked, as held-documents.ts asks those of documents.

import { sayWorkbookChanges } from '../../../core/compare/words'
import { compareWorkbooks } from '../../../core/compare/workbook'
import type { CellValue, Workbook } from '../../../core/content/workbook'
import { applyOp, applyOps, invertOp, type WorkbookOp } from '../../../core/content/workbook-ops'
import { NotPatched } from '../../../core/formats/refusals'
import { patchWorkbook, readWorkbook, writePackage } from '../../../core/formats/workbooks'
import { mergeWorkbooks } from '../../../core/merge/workbook'
import { english } from '../../../core/words/testing'
import { type Held, heldIn } from './held'
import { elsewhereSheet } from './held-documents'
import { type SheetFeature, usual } from './sheets'

const preludes = {
  xlsx: `
import openpyxl
d = openpyxl.load_workbook(path)
s = d.worksheets[0]
`,
  ods: `
from odf import dc, style, table, text
from odf.opendocument import load
d = load(path)
styles = {s.getAttribute('name'): s for s in d.automaticstyles.getElementsByType(style.Style)}
tables = d.spreadsheet.getElementsByType(table.Table)
s = tables[0]
def many(all, attribute): return [one for one in all for _ in range(min(50, int(one.getAttribute(attribute) or 1)))]
def rows(): return many(s.getElementsByType(table.TableRow), 'numberrowsrepeated')
def cells(y): return many([c for c in rows()[y].childNodes if c.qname[1] in ('table-cell', 'covered-table-cell')], 'numbercolumnsrepeated')
def cell(y, x): return cells(y)[x]
def said(c): return '\\n'.join(str(p) for p in c.getElementsByType(text.P))
def words(y, x): return said(cell(y, x)) if y < len(rows()) and x < len(cells(y)) else ''
def value(y, x): return cell(y, x).getAttribute('value')
def row(y): return [w for w in (said(c) for c in cells(y)) if w]
def column(x): return [w for w in (words(y, x) for y in range(len(rows()))) if w]
def columnAt(x): return many(s.getElementsByType(table.TableColumn), 'numbercolumnsrepeated')[x]
def traits(name):
    one = styles.get(name)
    return {key[1].replace('-', ''): value for p in (one.childNodes if one else []) for key, value in p.attributes.items()}
def look(y, x): return traits(cell(y, x).getAttribute('stylename'))
def rowLook(y): return traits(rows()[y].getAttribute('stylename'))
def columnLook(x): return traits(columnAt(x).getAttribute('stylename'))
def sheets(): return [t.getAttribute('name') for t in tables]
`,
}
const noResults = (): CellValue | undefined => undefined
const sentence = (was: Workbook, is: Workbook): unknown => english(sayWorkbookChanges(compareWorkbooks(was, is)))

/** What makes one of the other. How a sheet is put on paper is not read into what is edited: another program is asked. */
const otherwise = (was: Workbook, is: Workbook): WorkbookOp[] =>
  compareWorkbooks(was, is).ops.filter(({ op }) => op !== 'set up')

/** A workbook after operations, written into its file. */
function saved(base: Uint8Array, type: string, ops: readonly WorkbookOp[]) {
  const read = readWorkbook(base, type)
  const workbook = applyOps(read.workbook, ops)
  const work = { base, read, workbook, ops, resultOf: noResults, isNew: () => true, recalculate: true }
  try {
    return patchWorkbook({ ...work, names: read.source.names }, type)
  } catch (error) {
    // As the application does where the file cannot be changed so.
    if (!(error instanceof NotPatched)) throw error
    return writePackage(workbook, noResults, type, {})
  }
}

function held(feature: SheetFeature, type: string): { held: Held; bytes: Uint8Array } {
  const faults: Held['faults'] = {}
  const made: Workbook = { sheets: [feature.before?.(usual) ?? usual, elsewhereSheet] }
  const base = writePackage(made, noResults, type, {}).bytes
  const was = readWorkbook(base, type).workbook
  const ops = feature.change(was)
  const is = applyOps(was, ops)
  const { bytes, lost } = saved(base, type, ops)
  if (lost.length || !compareWorkbooks(was, is).ops.length) faults.saved = lost
  const again = readWorkbook(bytes, type).workbook
  if (otherwise(is, again).length) faults['opened again'] = otherwise(is, again)
  const back: WorkbookOp[] = []
  let then = was
  for (const op of ops) {
    back.unshift(...invertOp(then, op))
    then = applyOp(then, op)
  }
  const undone = saved(bytes, type, back)
  const there = readWorkbook(undone.bytes, type).workbook
  if (
    compareWorkbooks(was, applyOps(is, back)).ops.length ||
    compareWorkbooks(was, there).ops.length ||
    undone.lost.length
  )
    faults.undone = otherwise(was, there)
  const told = sentence(was, is)
  if (told !== feature.said) faults.told = told
  const last = was.sheets.length - 1
  const others: WorkbookOp[] = [{ op: 'cells', sheet: last, cells: [{ row: 0, column: 0, cell: { value: 'wet' } }] }]
  const head = saved(base, type, others).bytes
  const theirs = readWorkbook(head, type).workbook
  const { workbook: merged, conflicts } = mergeWorkbooks(was, is, theirs)
  const mine = sentence(theirs, merged)
  const kept = readWorkbook(saved(head, type, compareWorkbooks(theirs, merged).ops).bytes, type).workbook
  const wet = kept.sheets.find(({ name }) => name === 'Elsewhere')?.rows[0]?.[0]?.value
  if (conflicts.length || wet !== 'wet' || mine !== told || otherwise(merged, kept).length)
    faults.merged = conflicts.length ? conflicts : mine
  return { held: { name: feature.name, type, faults }, bytes }
}

export const heldSheets = (features: readonly SheetFeature[], type: 'xlsx' | 'ods'): Held[] =>
  heldIn(features, type, preludes, held)
