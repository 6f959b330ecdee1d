// The workbook's worker: opens it, follows every edit on a copy of its own, computes formulas
// and writes the bytes to be saved. The page never waits for any of it.

import { expose, proxy } from 'comlink'
import type { Mark } from '../../core/calc/engine'
import { registeredFunctions } from '../../core/calc/functions'
import { type DefinedName, type FormulaSource, noSource, sourceAfter, tableMeeting } from '../../core/calc/source'
import { sayWorkbookChanges, whatWouldBeLost } from '../../core/compare/words'
import { compareWorkbooks } from '../../core/compare/workbook'
import type { About } from '../../core/content/about'
import { type CellSearch, type FoundCell, findCells } from '../../core/content/find-cells'
import { looksOf, looksOfAll } from '../../core/content/looks'
import { type Papers, papersIn, papersThrough } from '../../core/content/papers'
import { type Choice, choicesIn, rowsHidden, type SheetFilter, viewOf } from '../../core/content/sheet-filter'
import {
  blankWorkbook,
  type CellValue,
  cellAt,
  filledCells,
  type MergedArea,
  openingOfWorkbook,
  type Row,
  type Sheet,
  type Workbook,
} from '../../core/content/workbook'
import { applyOps, type WorkbookOp } from '../../core/content/workbook-ops'
import type { DraftModel, JournalRecord } from '../../core/contract'
import { type Beside, notBeside, type UsualFont } from '../../core/formats/beside'
import { type CsvDialect, type Doubts, dialectOf } from '../../core/formats/csv/dialect'
import { type CsvPreview, previewCsv } from '../../core/formats/csv/preview'
import type { ReadCsv } from '../../core/formats/csv/read'
import type { SaidOfList } from '../../core/formats/csv/said'
import { writeCsv } from '../../core/formats/csv/write'
import { sheetsNotOnPaper } from '../../core/formats/not-on-paper'
import { mainTypeOf } from '../../core/formats/opc/main-type'
import { allOf, DamagedFile, type Limit, NotPatched, type Written } from '../../core/formats/refusals'
import { resultsInPlace } from '../../core/formats/results-in-place'
import { familyOf, isCsv, plainType } from '../../core/formats/types'
import { patchWorkbook, readWorkbook, writePackage } from '../../core/formats/workbooks'
import type { ResultOf } from '../../core/formats/xlsx/write'
import { commonWorkbook, partOfWorkbook } from '../../core/merge/common'
import { type CellConflict, mergeWorkbooks } from '../../core/merge/workbook'
import { type ShownSheet, shownSheet } from '../../core/paper/shown'
import { typeOfDraft } from '../../core/recovery/draft-type'
import { OtherModel, openWorkbookModel, type UndoneAndDone } from '../../core/recovery/models'
import type { WorkbookEdit } from '../../core/recovery/replay'
import { type Sentence, saidBy } from '../../core/words/said'
import type { Work, WrittenType } from '../work/content'
import { Calculating, type CalculationBase, type CalculationState, type Known, type Shown } from './calculating'

/** Rows and results cross to the page in pieces, so that taking one in never holds it up. */
const rowsAtOnce = 1500
const mostUnderWay = 3
const resultsAtOnce = 10_000
/** A save waits this long for the calculation; milliseconds. What is not known by then is not written. */
const calculationAtSave = 300
/** As long where the results are all that the file has of its formulas. */
const calculationForValues = 10_000

export interface WorkbookReceiver {
  sheet(index: number, facts: Omit<Sheet, 'rows'>): void
  rows(sheet: number, from: number, rows: (Row | undefined)[]): void
  /** How many rows there will be on all sheets. */
  coming(rows: number): void
  /** Results by `row * 16384 + column`; `reset` replaces all of the sheet's. */
  results(sheet: number, values: [number, CellValue | null][], reset: boolean): void
  /** How the sheets look beyond the model. */
  papers(papers: Papers): void
  /** All results that are not just calculated. */
  marks(marks: Mark[]): void
  calculation(state: CalculationState): void
}
export interface OpenedWorkbook {
  limits: Limit[]
  cells: number
  replay?: { seq: number; lostFrom: number | null; cellsBefore: number; opening: string }
  /** What can be undone and redone, the last one last. */
  undo: UndoneAndDone
  /** The edit that makes this work of the file as it is read now, where it was written on another reading of it. */
  carried: WorkbookEdit | null
  /** How separated values are written; null for other types. */
  csv: OpenedList | null
  /** What the file says of itself, with what was made of it since. */
  about: About | null
  /** Names that the file gives to cells and formulas. */
  names: readonly DefinedName[]
}
export interface OpenedList {
  dialect: CsvDialect
  /** What nothing in the file says of it, and nobody said. */
  doubts: Doubts
  /** The type with what was said, as the list was read by it. */
  readAs: string
}

/** What merging another version into the workbook takes, or why it is not done. */
export type MergedIn = { ops: WorkbookOp[]; conflicts: CellConflict[]; summary: Sentence } | { refused: Sentence }

/** What a draft's records did, one after the other; an entry that was still being typed is in what came of it. */
function opsOf(records: readonly JournalRecord[], seq: number, model: Workbook): WorkbookOp[] {
  const edits = records.filter((record) => record.seq <= seq).map(({ edit }) => edit as WorkbookEdit)
  const ops = edits.flatMap((edit) => edit.ops)
  const typing = edits.at(-1)?.typing
  if (!typing) return ops
  const { sheet, row, column } = typing
  return [
    ...ops,
    { op: 'cells', sheet, cells: [{ row, column, cell: cellAt(model.sheets[sheet], row, column) ?? null }] },
  ]
}

/** A workbook with a draft's records on top. What a draft's base holds beside it, this work has as well. */
function readWork(
  { bytes, records, model = null, type: own }: Work,
  beside: string,
): { workbook: Workbook; limits: Limit[] } {
  const type = own ?? beside
  if (records) return { workbook: openWorkbookModel(bytes, records, model, type).replayed.model, limits: [] }
  return bytes ? readWorkbook(bytes, type) : { workbook: blankWorkbook(), limits: [] }
}

/** The file that the work is written into. */
interface Container {
  bytes: Uint8Array
  workbook: Workbook
  results: Map<number, CellValue>[]
  source: FormulaSource
  papers: Papers
  usual: UsualFont | undefined
  /** Names of the sheets that it does not show: here they are, on paper they are not unless one of them is asked for. */
  hidden: ReadonlySet<string>
  limits: Limit[]
  /** How separated values are written. */
  csv?: ReadCsv | undefined
  /** Everything that was done since, in order. */
  ops: WorkbookOp[]
}

const namesOf = ({ sheets }: Workbook, at: readonly number[] = []): Set<string> =>
  new Set(at.flatMap((one) => sheets[one]?.name ?? []))

class WorkbookDesk {
  private workbook: Workbook = blankWorkbook()
  private container: Container | null = null
  private calculating: Calculating | null = null
  private receiver: WorkbookReceiver | null = null
  private standing: (() => DraftModel) | null = null
  private working: Promise<unknown> = Promise.resolve()
  private written: { of: Workbook; is: Written } | null = null
  private marked = false
  private longest: number | undefined
  private type = 'xlsx'

  /** @param type the ending of the file that it is, or will be */
  async open(
    bytes: Uint8Array | null,
    records: JournalRecord[] | null,
    receiver: WorkbookReceiver,
    written: DraftModel | null = null,
    wanted?: string,
    longest?: number,
  ): Promise<{ opened: OpenedWorkbook } | { damaged: Sentence }> {
    this.receiver = receiver
    this.longest = longest
    const type = typeOfDraft(records ?? [], written, wanted, 'xlsx')
    this.type = type
    let opened: ReturnType<typeof openWorkbookModel>
    try {
      opened = openWorkbookModel(bytes, records ?? [], written, type)
    } catch (error) {
      if (error instanceof DamagedFile || error instanceof OtherModel) return { damaged: saidBy(error) }
      throw error
    }
    const { base } = opened
    const carried = opened.carried ? { ops: compareWorkbooks(base.model, opened.replayed.model).ops } : null
    this.standing = opened.stands
    this.workbook = base.model
    let results: readonly ReadonlyMap<number, CellValue>[] = base.results ?? []
    const since: WorkbookOp[] = []
    if (bytes)
      this.container = {
        bytes,
        workbook: base.model,
        results: base.results ?? [],
        source: base.source ?? noSource,
        papers: papersIn(base.looks),
        usual: base.usual,
        hidden: namesOf(base.model, base.hiddenSheets),
        limits: base.limits,
        csv: base.csv,
        ops: since,
      }
    let replay: OpenedWorkbook['replay']
    if (records) {
      const before = filledCells(this.workbook)
      const { model, seq, lostFrom } = opened.replayed
      if (carried) since.push(...carried.ops)
      else since.push(...opsOf(records, seq, model))
      if (model !== this.workbook) results = []
      this.workbook = model
      replay = { seq, lostFrom, cellsBefore: before, opening: openingOfWorkbook(model) }
    }
    if (base.looks) await receiver.papers(papersThrough(papersIn(base.looks), since, base.model.sheets.length))
    await receiver.coming(this.workbook.sheets.reduce((sum, { rows }) => sum + rows.length, 0))
    for (const [index, { rows, ...facts }] of this.workbook.sheets.entries()) {
      // The page began a blank workbook by itself and may have gone on with it.
      if (!bytes && !records) continue
      await receiver.sheet(index, facts)
      // While the page takes in some rows, the next ones are packed.
      const underWay: unknown[] = []
      for (let from = 0; from < rows.length; from += rowsAtOnce) {
        underWay.push(receiver.rows(index, from, rows.slice(from, from + rowsAtOnce)))
        if (underWay.length > mostUnderWay) await underWay.shift()
      }
      await Promise.all(underWay)
      await this.sendResults(index, results[index] ?? new Map())
    }
    // Files may hold no results, or not all: what is missing is computed after the work is shown.
    if (bytes || records)
      this.later(async () =>
        this.calculate(
          { workbook: base.model, results: base.results ?? [], source: base.source ?? noSource },
          this.container?.ops ?? since,
        ),
      )
    return {
      opened: {
        limits: base.limits,
        cells: filledCells(this.workbook),
        ...(replay && { replay }),
        undo: opened.undo,
        carried,
        about: this.workbook.about ?? null,
        names: this.sourceNow().names,
        csv: base.csv ? { dialect: base.csv.dialect, doubts: base.csv.doubts, readAs: type } : null,
      },
    }
  }

  /** The first rows of the file as they would be read. @returns null where it is no text in that encoding */
  preview(said: SaidOfList): CsvPreview | null {
    return this.container && previewCsv(this.container.bytes, plainType(this.type), said)
  }

  /** What records are applied to; after everything that somebody waits for. */
  stands(): Promise<DraftModel | null> {
    return this.later(async () => this.standing?.() ?? null)
  }

  /** Follows edits and answers when their results have been sent. */
  async apply(ops: WorkbookOp[]): Promise<void> {
    let told: Promise<void> | undefined
    await this.later(async () => {
      if (!this.calculating) this.calculate({ workbook: this.workbook, results: [], source: noSource }, [])
      this.workbook = applyOps(this.workbook, ops)
      this.container?.ops.push(...ops)
      told = this.calculating!.apply(ops, this.workbook)
    })
    await told
  }

  /** Ends a calculation that takes too long for somebody; results that are not known are told apart. */
  async stopCalculation(): Promise<void> {
    await this.calculating?.stop()
  }
  /** Calculates again what was stopped. */
  calculateAgain(): void {
    this.calculating?.goOn()
  }

  /** Cells that have a text, in order. @param only one sheet, or null for all */
  find(search: CellSearch, only: number | null): Promise<FoundCell[]> {
    return this.later(async () => {
      const known = (await this.calculating?.known(calculationAtSave)) ?? null
      return findCells(this.workbook, search, (sheet, row, column) => known?.resultOf(sheet, row, column), only)
    })
  }
  /** What a column shows, of the rows that the filter's other columns let through. */
  choices(index: number, filter: SheetFilter, column: number): Promise<Choice[]> {
    return this.later(async () => {
      const sheet = this.workbook.sheets[index]
      return sheet ? choicesIn(filter, column, await this.viewOf(sheet, index), new Set(sheet.hiddenRows)) : []
    })
  }
  /** The rows that a filter hides. */
  hiddenBy(index: number, filter: SheetFilter): Promise<number[]> {
    return this.later(async () => {
      const sheet = this.workbook.sheets[index]
      return sheet ? rowsHidden(filter, await this.viewOf(sheet, index), new Set(sheet.hiddenRows)) : []
    })
  }
  private async viewOf(sheet: Sheet, index: number) {
    const known = (await this.calculating?.known(calculationAtSave)) ?? null
    return viewOf(sheet, (row, column) => known?.resultOf(index, row, column))
  }
  /** The name of a table of the file's own that an area has cells of: such a one has a filter of its own. */
  tableWithin(index: number, area: MergedArea): Promise<string | null> {
    return this.later(async () => {
      return tableMeeting(this.sourceNow(), { sheet: index, ...area })?.name ?? null
    })
  }
  /** Names that the file gives to cells and formulas, as they are now. */
  names(): Promise<readonly DefinedName[]> {
    return this.later(async () => this.sourceNow().names)
  }
  /** Names of all functions that can be calculated, in their order. */
  functions(): string[] {
    return [...registeredFunctions()].filter((name) => /^[A-Z]/.test(name)).sort()
  }

  /** The next save comes after this version: the work is written into it from now on. */
  standOn(bytes: Uint8Array): Promise<void> {
    return this.later(async () => {
      const { workbook, results, source, looks, usual, hiddenSheets, limits, csv } = readWorkbook(bytes, this.type)
      const papers = papersIn(looks)
      const hidden = namesOf(workbook, hiddenSheets)
      const { ops } = compareWorkbooks(workbook, this.workbook)
      await this.receiver!.papers(papersThrough(papers, ops, workbook.sheets.length))
      this.container = { bytes, workbook, results, source, papers, usual, hidden, limits, csv, ops }
      this.calculate({ workbook, results, source }, ops)
    })
  }
  private calculate(base: CalculationBase, ops: readonly WorkbookOp[]): void {
    this.calculating?.close()
    const receiver = this.receiver!
    const one: Calculating = new Calculating(
      base,
      ops,
      this.workbook,
      async (shown) => {
        if (this.calculating === one) await this.sendShown(shown)
      },
      (state) => void (this.calculating === one && receiver.calculation(state)),
      this.longest,
    )
    this.calculating = one
  }

  /**
   * What another version has beyond the base, as operations for the workbook as it is now; nothing is applied here.
   * @param base null when neither came of the other
   * @param sheets only what changed on these; on all of them when null
   * @param adopted the work is written into that version from now on, so that nothing of it is lost
   */
  merge(base: Work | null, theirs: Work, sheets: readonly string[] | null, adopted: boolean): Promise<MergedIn> {
    return this.later(async () => {
      try {
        const read = readWork(theirs, this.type)
        if (read.limits.length && !adopted) return { refused: whatWouldBeLost(read.limits) }
        const before = base ? readWork(base, this.type).workbook : commonWorkbook(this.workbook, read.workbook)
        const other = sheets ? partOfWorkbook(before, read.workbook, sheets) : read.workbook
        const { workbook, conflicts } = mergeWorkbooks(before, this.workbook, other)
        return {
          ops: compareWorkbooks(this.workbook, workbook).ops,
          conflicts,
          summary: sayWorkbookChanges(compareWorkbooks(before, other)),
        }
      } catch (error) {
        if (error instanceof DamagedFile) return { refused: saidBy(error) }
        throw error
      }
    })
  }

  /** The workbook with every edit applied so far, written into the file that it came from, or as a file of another type. */
  encode(as?: WrittenType): Promise<Written> {
    return this.later(async () => {
      if (as?.values) return this.writeValues(as, (await this.calculating?.known(calculationForValues)) ?? null)
      if (as && this.isOther(as.type))
        return this.writeAs(as, (await this.calculating?.known(calculationForValues)) ?? null)
      if (this.written?.of !== this.workbook) {
        const known =
          (await this.calculating?.known(isCsv(this.type) ? calculationForValues : calculationAtSave)) ?? null
        const is = this.write(known)
        // What was written without all results is written again with them.
        if (known && !known.whole) return is
        this.written = { of: this.workbook, is }
      }
      const { bytes, lost } = this.written.is
      return { bytes: bytes.slice(), lost }
    })
  }
  /** Packages of one family stay what they are; lists differ by what parts their values. */
  private isOther(type: string): boolean {
    return isCsv(type) ? type !== plainType(this.type) : familyOf(type) !== familyOf(this.type)
  }
  /** Every formula that has a result is that; what it was is told. */
  private writeValues(as: WrittenType, known: Known | null): Written {
    const { ops, lost } = resultsInPlace(this.workbook, (at, row, column) => known?.resultOf(at, row, column))
    const { workbook, container } = this
    this.workbook = applyOps(workbook, ops)
    if (container) this.container = { ...container, ops: [...container.ops, ...ops] }
    try {
      const is = this.isOther(as.type) ? this.writeAs(as, known) : this.write(known)
      return { bytes: is.bytes, lost: allOf(lost, is.lost) }
    } finally {
      this.workbook = workbook
      this.container = container
    }
  }
  /** What the file holds beyond its model stays there, and is told. */
  private writeAs({ type, sheet = 0, list }: WrittenType, known: Known | null): Written {
    const { container, workbook } = this
    const resultOf: ResultOf = (at, row, column) => known?.resultOf(at, row, column)
    const { bytes, lost } = isCsv(type)
      ? writeCsv({ workbook, resultOf, from: container?.csv ?? null, dialect: { ...dialectOf(type), ...list }, sheet })
      : writePackage(workbook, resultOf, type, this.beside())
    const limits = container?.limits ?? []
    return { bytes, lost: allOf(lost, isCsv(type) ? limits : notBeside(limits)) }
  }
  private write(known: Known | null): Written {
    const { container, workbook } = this
    const resultOf: ResultOf = (sheet, row, column) => known?.resultOf(sheet, row, column)
    if (isCsv(this.type)) return writeCsv({ workbook, resultOf, from: container?.csv ?? null })
    if (!container) return writePackage(workbook, resultOf, this.type, {})
    try {
      return patchWorkbook(
        {
          base: container.bytes,
          read: container,
          ops: container.ops,
          workbook,
          resultOf,
          isNew: (sheet, row, column) => known?.isNew(sheet, row, column) ?? false,
          recalculate: known?.recalculate ?? false,
          ...this.beside(),
        },
        this.type,
      )
    } catch (error) {
      if (!(error instanceof NotPatched)) throw error
      const mainType = familyOf(this.type) === 'xlsx' ? mainTypeOf(container.bytes) : undefined
      return this.writeWhole(container, resultOf, mainType)
    }
  }
  private writeWhole(container: Container, resultOf: ResultOf, mainType?: string): Written {
    const { bytes, lost } = writePackage(this.workbook, resultOf, this.type, this.beside(), mainType)
    return { bytes, lost: allOf(lost, notBeside(container.limits)) }
  }
  /** What the file holds beside the model, after everything that was done since. */
  private beside(): Beside {
    if (!this.container) return {}
    return { papers: this.papers(), names: this.sourceNow().names, usual: this.container.usual }
  }
  /** What formulas refer to beside cells, after everything that was done since. */
  private sourceNow(): FormulaSource {
    if (!this.container) return noSource
    let { source, workbook } = this.container
    // What cells hold changes no name and no table.
    for (const op of source.names.length || source.tables.length ? this.container.ops : []) {
      if (op.op === 'cells') continue
      source = sourceAfter(source, op, workbook)
      workbook = applyOps(workbook, [op])
    }
    return source
  }
  /** What its file says of paper, after everything that was done since. */
  private papers(): Papers {
    if (!this.container) return []
    const { papers, ops, workbook } = this.container
    return papersThrough(papers, ops, workbook.sheets.length)
  }

  /** Sheets as they are shown, for paper; with all results that can be waited for. @param only one of them */
  shown(only: number | null): Promise<ShownSheet[]> {
    return this.later(async () => {
      const known = (await this.calculating?.known(calculationForValues)) ?? null
      const papers = this.papers()
      const usual = this.container?.usual
      return this.workbook.sheets.flatMap((sheet, at) =>
        only === at || (only === null && !this.container?.hidden.has(sheet.name))
          ? [shownSheet(sheet, looksOf(sheet, papers[at]), (row, column) => known?.resultOf(at, row, column), usual)]
          : [],
      )
    })
  }

  /** What of the workbook, and of the file that it came from, is not on its pages. */
  notOnPaper(): Promise<Limit[]> {
    return this.later(async () => {
      const { hidden, limits = [] } = this.container ?? {}
      const left = this.workbook.sheets.flatMap(({ name }, at) => (hidden?.has(name) ? [at] : []))
      return sheetsNotOnPaper(this.workbook, looksOfAll(this.workbook, this.papers()), limits, new Set(left))
    })
  }

  private later<T>(work: () => Promise<T>): Promise<T> {
    const result = this.working.then(work)
    this.working = result.catch(() => {})
    return result
  }

  private async sendShown({ changed, results, marks }: Shown): Promise<void> {
    if (changed)
      for (const [sheet, values] of changed)
        for (let from = 0; from < values.length; from += resultsAtOnce)
          await this.receiver!.results(sheet, values.slice(from, from + resultsAtOnce), false)
    else for (const [index, one] of results.entries()) await this.sendResults(index, one)
    if (!marks.length && !this.marked) return
    this.marked = marks.length > 0
    await this.receiver!.marks([...marks])
  }

  private async sendResults(index: number, results: ReadonlyMap<number, CellValue>): Promise<void> {
    const values = [...results]
    await this.receiver!.results(index, values.slice(0, resultsAtOnce), true)
    for (let from = resultsAtOnce; from < values.length; from += resultsAtOnce)
      await this.receiver!.results(index, values.slice(from, from + resultsAtOnce), false)
  }
}

const calc = { desk: () => proxy(new WorkbookDesk()) }
export type Calc = typeof calc
export type { WorkbookDesk }

expose(calc)
