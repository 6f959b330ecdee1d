// A file as it was at an earlier moment, and what of that differs from now: the part of the compare worker behind the
// lifeline. What was decoded lately is kept, so that a step along the lifeline costs a comparison and no more.

import { Node } from 'prosemirror-model'
import { noSource } from '../../core/calc/source'
import { bringBack, bringBackLook } from '../../core/compare/bring-back'
import { bringBackRange, bringBackSheet, type CellRange } from '../../core/compare/bring-back-cells'
import { compareDocuments, type DocumentChanges, type Stretch } from '../../core/compare/document'
import { compareFiles, type FileState } from '../../core/compare/files'
import { type TracedPlace, Tracer } from '../../core/compare/trace'
import { sayDocumentChanges, sayWorkbookChanges } from '../../core/compare/words'
import { compareWorkbooks, type Results, reversed, type WorkbookChanges } from '../../core/compare/workbook'
import { blankDocument, documentFromJSON } from '../../core/content/document'
import { type Papers, papersIn, papersThrough } from '../../core/content/papers'
import { blankWorkbook, type CellValue, type Workbook } from '../../core/content/workbook'
import type { WorkbookOp } from '../../core/content/workbook-ops'
import type { DraftModel, JournalRecord } from '../../core/contract'
import { readDocument, styleLooksOf } from '../../core/formats/documents'
import type { StyleLook } from '../../core/formats/docx/style-looks'
import { DamagedFile } from '../../core/formats/refusals'
import { defaultType } from '../../core/formats/types'
import { readWorkbook } from '../../core/formats/workbooks'
import type { ReadWorkbook } from '../../core/formats/xlsx/read'
import { openDocumentModel, openWorkbookModel } from '../../core/recovery/models'
import { SaidError, type Sentence, saidBy, say } from '../../core/words/said'
import { calculateOnce } from './calculate-once'

/** How a moment is had: a version's bytes, or what a draft stands on with its records. */
export interface MomentSource {
  id: string
  /** null for work that began blank. */
  bytes: Uint8Array | null
  records: JournalRecord[] | null
  /** What they were written on, as their draft says. */
  model?: DraftModel | null
  /** The file's ending. */
  type?: string | undefined
}
export interface ThenDocument {
  kind: 'document'
  json: unknown
  /** From then to now, in words. */
  summary: Sentence
  /** Positions in the earlier document of what is not there now, stands elsewhere, or looks different. */
  gone: Stretch[]
  moved: Stretch[]
  look: Stretch[]
}
/** What of an earlier sheet differs from now. */
export interface SheetMarks {
  cells: [row: number, column: number][]
  rows: number[]
  columns: number[]
  /** Formulas whose results follow from other changes, as `row * 16384 + column`. */
  following: number[]
}
export interface ThenWorkbook {
  kind: 'spreadsheet'
  /** Make the workbook as it was of the workbook as it is: less to hand over than the whole of it. */
  ops: WorkbookOp[]
  results: Map<number, CellValue>[]
  /** What its file said of paper. */
  papers: Papers
  summary: Sentence
  /** By sheet of the earlier workbook. */
  marks: SheetMarks[]
}
export type Then = ThenDocument | ThenWorkbook | { kind: 'damaged'; reason: Sentence }
type Decoded =
  | {
      kind: 'document'
      doc: Node
      /** How the styles of its file look; null for the work as it is now, whose file is that of a moment beside it. */
      looks: readonly StyleLook[] | null
    }
  | {
      kind: 'spreadsheet'
      workbook: Workbook
      results: Map<number, CellValue>[]
      papers: Papers
      /** What it came of; the work as it is now came of none. */
      file: ReadFile | null
    }
/** A workbook as its file has it. */
type ReadFile = Pick<ReadWorkbook, 'workbook' | 'results' | 'source' | 'looks'>
export type Comparison = { summary: Sentence } & (
  | {
      kind: 'document' | 'lines'
      older: unknown
      newer: unknown
      changes: DocumentChanges
      /** How the styles of each look. */
      looks: { older: readonly StyleLook[]; newer: readonly StyleLook[] }
    }
  | { kind: 'spreadsheet'; older: ShownSheets; newer: ShownSheets; changes: Omit<WorkbookChanges, 'ops'> }
  | { kind: 'images' | 'facts' }
)
interface ShownSheets {
  workbook: Workbook
  results: Map<number, CellValue>[]
}

/** Moments that are kept decoded. */
const mostKept = 12
const kept = new Map<string, Decoded>()
let present: Decoded | null = null

function decode(
  kind: 'document' | 'spreadsheet',
  { id, bytes, records, model = null, type = defaultType[kind] }: MomentSource,
): Decoded {
  const there = kept.get(id)
  if (there) {
    kept.delete(id)
    kept.set(id, there)
    return there
  }
  let decoded: Decoded
  if (kind === 'document') {
    const doc = records
      ? openDocumentModel(bytes, records, model, type).replayed.model
      : bytes
        ? readDocument(bytes, type).doc
        : blankDocument()
    decoded = { kind, doc, looks: styleLooksOf(bytes, type) }
  } else {
    const read: ReadFile = bytes
      ? readWorkbook(bytes, type)
      : { workbook: blankWorkbook(), results: [], source: noSource, looks: [] }
    const workbook = records ? openWorkbookModel(bytes, records, model, type).replayed.model : read.workbook
    const papers = papersIn(read.looks)
    decoded = {
      kind,
      workbook,
      papers:
        workbook === read.workbook || !papers.some(Boolean)
          ? papers
          : papersThrough(papers, compareWorkbooks(read.workbook, workbook).ops, read.workbook.sheets.length),
      // What its file results in is of the file, not of the edits on top.
      results: records ? [] : read.results,
      file: read,
    }
  }
  kept.set(id, decoded)
  if (kept.size > mostKept) kept.delete(kept.keys().next().value!)
  return decoded
}

/** More formulas than this are not computed for a look back; they take some half a second. */
const mostComputed = 30_000
/** A look back waits this long for results; milliseconds. Those of its file are shown then. */
const longestLookBack = 10_000

/** Decodes a moment; a workbook whose file holds no results gets them computed. */
async function withResults(kind: 'document' | 'spreadsheet', source: MomentSource): Promise<void> {
  const then = guarded(() => decode(kind, source))
  if (then.kind !== 'spreadsheet') return
  let formulas = 0
  let known = 0
  for (const [index, { rows }] of then.workbook.sheets.entries()) {
    for (const row of rows) if (row) for (const cell of row) if (cell?.formula !== undefined) formulas++
    known += then.results[index]?.size ?? 0
  }
  if (!then.file || known >= formulas || formulas > mostComputed) return
  const { file, workbook } = then
  const ops = workbook === file.workbook ? [] : compareWorkbooks(file.workbook, workbook).ops
  then.results = (await calculateOnce(file, ops, longestLookBack)) ?? then.results
}

/** Moments beside the work as it is now, as long as it is. */
const ready = new Map<string, Then>()

async function thenOf(kind: 'document' | 'spreadsheet', source: MomentSource): Promise<Then> {
  const there = ready.get(source.id)
  if (there) return there
  await withResults(kind, source)
  const then = guarded(() => {
    const was = decode(kind, source)
    if (was.kind === 'document') return besideDocument(was.doc, present?.kind === 'document' ? present.doc : was.doc)
    return besideWorkbook(was, present?.kind === 'spreadsheet' ? present : was)
  })
  ready.set(source.id, then)
  if (ready.size > mostKept) ready.delete(ready.keys().next().value!)
  return then
}

function besideDocument(then: Node, now: Node): ThenDocument {
  const changes = compareDocuments(then, now)
  return {
    kind: 'document',
    json: then.toJSON(),
    summary: sayDocumentChanges(changes),
    gone: changes.removed,
    moved: changes.movedFrom,
    look: changes.places.flatMap(({ kind, older }) => (kind === 'look' && older ? [older] : [])),
  }
}

type DecodedWorkbook = Extract<Decoded, { kind: 'spreadsheet' }>
function besideWorkbook(then: DecodedWorkbook, now: DecodedWorkbook): ThenWorkbook {
  // From now to then, for the operations; what is said of it goes the other way.
  const back = compareWorkbooks(now.workbook, then.workbook, { older: now.results, newer: then.results })
  const marks = then.workbook.sheets.map(({ name }): SheetMarks => {
    const change = back.sheets.find((one) => one.name === name && one.state !== 'removed')
    return {
      cells: back.listed.flatMap(({ sheet, row, column }) =>
        sheet === name ? [[row, column] as [number, number]] : [],
      ),
      rows: change?.lines.rowsCame ?? [],
      columns: change?.lines.columnsCame ?? [],
      following: change?.following.newer ?? [],
    }
  })
  return {
    kind: 'spreadsheet',
    ops: back.ops,
    results: then.results,
    papers: then.papers,
    summary: sayWorkbookChanges(reversed(back)),
    marks,
  }
}

const guarded = <T>(job: () => T): T | { kind: 'damaged'; reason: Sentence } => {
  try {
    return job()
  } catch (error) {
    if (error instanceof DamagedFile || error instanceof RangeError || error instanceof SaidError)
      return { kind: 'damaged', reason: saidBy(error) }
    throw error
  }
}

export const lookingBack = {
  /** Which of these moments are decoded already. */
  known: (ids: string[]): string[] => ids.filter((id) => kept.has(id)),

  /** Has a moment ready ahead of its being looked at. */
  async prepare(kind: 'document' | 'spreadsheet', source: MomentSource): Promise<void> {
    await thenOf(kind, source)
  },

  /** The work as it is now; told again whenever it changed. */
  setPresent(kind: 'document' | 'spreadsheet', state: unknown, results: Results): void {
    present =
      kind === 'document'
        ? { kind, doc: documentFromJSON(state), looks: null }
        : { kind, workbook: state as Workbook, results: results.map((one) => new Map(one)), papers: [], file: null }
    ready.clear()
  },

  /** The file as it was at a moment, beside now. */
  lookAt: (kind: 'document' | 'spreadsheet', source: MomentSource): Promise<Then> => thenOf(kind, source),

  /** Two moments beside each other; null is the work as it is now. */
  async compareMoments(
    kind: 'document' | 'spreadsheet',
    older: MomentSource,
    newer: MomentSource | null,
  ): Promise<Comparison | { kind: 'damaged'; reason: Sentence }> {
    await withResults(kind, older)
    if (newer) await withResults(kind, newer)
    return guarded((): Comparison => {
      const [was, is] = [decode(kind, older), newer ? decode(kind, newer) : present]
      if (was.kind === 'document' && is?.kind === 'document') {
        const changes = compareDocuments(was.doc, is.doc)
        return {
          kind: 'document',
          older: was.doc.toJSON(),
          newer: is.doc.toJSON(),
          changes,
          looks: { older: was.looks ?? [], newer: is.looks ?? was.looks ?? [] },
          summary: sayDocumentChanges(changes),
        }
      }
      if (was.kind !== 'spreadsheet' || is?.kind !== 'spreadsheet')
        throw new SaidError(say('compare.these-cannot-be-compared'))
      const { ops: _, ...changes } = compareWorkbooks(was.workbook, is.workbook, {
        older: was.results,
        newer: is.results,
      })
      return {
        kind: 'spreadsheet',
        older: was,
        newer: is,
        changes,
        summary: sayWorkbookChanges({ ...changes, ops: [] }),
      }
    })
  },

  /** Two versions of a file of any type. */
  compareBytes: (older: FileState, newer: FileState) =>
    guarded((): Comparison => {
      const { kind, summary, ...rest } = compareFiles(older, newer)
      if ('changes' in rest && rest.older instanceof Node && rest.newer instanceof Node)
        return {
          kind: 'lines',
          older: rest.older.toJSON(),
          newer: rest.newer.toJSON(),
          changes: rest.changes as DocumentChanges,
          looks: { older: [], newer: [] },
          summary,
        }
      return { kind: kind === 'images' ? 'images' : 'facts', summary }
    }),

  /** Where a place of the present work is in a moment; null where it is not there. */
  placeThen(kind: 'document' | 'spreadsheet', source: MomentSource, place: TracedPlace): TracedPlace | null {
    if (!present) return null
    const tracer = new Tracer(present, place)
    tracer.back(decode(kind, source))
    return tracer.place
  },

  /**
   * The steps, as JSON, that bring a part of a moment back into the present document.
   * @returns null when nothing differs there
   */
  bringBackText(source: MomentSource, selected: Stretch, what: 'content' | 'look'): BackText | Damaged | null {
    return guarded(() => {
      const then = decode('document', source)
      if (then.kind !== 'document' || present?.kind !== 'document') return null
      const transform = (what === 'content' ? bringBack : bringBackLook)(present.doc, then.doc, selected)
      if (!transform.docChanged) return null
      let at = 0
      transform.mapping.maps.at(-1)!.forEach((_from, _to, start) => {
        at = start
      })
      return { steps: transform.steps.map((step) => step.toJSON()), at }
    })
  },

  /** The operations that bring back a range, the look of a range, or a whole sheet. */
  bringBackCells(
    source: MomentSource,
    sheet: number,
    range: CellRange | null,
    what: 'content' | 'look',
  ): BackCells | Damaged | null {
    return guarded(() => {
      const then = decode('spreadsheet', source)
      if (then.kind !== 'spreadsheet' || present?.kind !== 'spreadsheet') return null
      const ops = range
        ? bringBackRange(present.workbook, then.workbook, sheet, range, what)
        : bringBackSheet(present.workbook, then.workbook, sheet)
      return ops.length ? { ops } : null
    })
  },
}
interface BackText {
  steps: unknown[]
  at: number
}
interface BackCells {
  ops: WorkbookOp[]
}
interface Damaged {
  kind: 'damaged'
  reason: Sentence
}
