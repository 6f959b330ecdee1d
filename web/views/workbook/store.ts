// The workbook as the page holds it: the model, its results, undo and redo. Every change is a
// list of operations that also goes to the journal and to the calculation worker.

import { proxy, type Remote, wrap } from 'comlink'
import type { Mark } from '../../../core/calc/engine'
import type { DefinedName } from '../../../core/calc/source'
import { workbookAbout } from '../../../core/content/about'
import type { CellSearch, FoundCell } from '../../../core/content/find-cells'
import { type Papers, papersThrough } from '../../../core/content/papers'
import type { Choice, SheetFilter } from '../../../core/content/sheet-filter'
import type { SheetPaper } from '../../../core/content/sheet-paper'
import {
  blankWorkbook,
  type CellValue,
  largestSheet,
  type MergedArea,
  openingOfWorkbook,
  type Row,
  type Sheet,
  type Workbook,
} from '../../../core/content/workbook'
import { applyOp, invertOp, type WorkbookOp } from '../../../core/content/workbook-ops'
import type { DraftModel, JournalRecord } from '../../../core/contract'
import type { CsvPreview } from '../../../core/formats/csv/preview'
import type { SaidOfList } from '../../../core/formats/csv/said'
import type { Limit, Written } from '../../../core/formats/refusals'
import type { ShownSheet } from '../../../core/paper/shown'
import { type WorkbookEdit, wentOn, workbookUndoDepth } from '../../../core/recovery/replay'
import type { Sentence } from '../../../core/words/said'
import type { Apply, Work, WrittenType } from '../../work/content'
import type { Calc, MergedIn, OpenedList, OpenedWorkbook, WorkbookDesk } from '../../workers/calc.worker'
import type { CalculationState } from '../../workers/calculating'

/** A copy for the worker. */
const sent = ({ bytes, records, model, type }: Work): Work => ({
  bytes: bytes?.slice() ?? null,
  ...(type && { type }),
  ...(records && { records }),
  ...(model && { model }),
})

const noResults: ReadonlyMap<number, CellValue> = new Map()

/** Whether a change moves what is there: then what could be undone would undo something else. */
function movesAnything(workbook: Workbook, ops: readonly WorkbookOp[]): boolean {
  let now = workbook
  for (const op of ops) {
    const lines = 'at' in op && 'axis' in op ? linesOf(now.sheets[op.sheet], op.axis) : 0
    // Lines after the last one move nothing.
    const after = 'at' in op && 'axis' in op && op.at >= lines
    if (!after && !/^(?:cells|width|freeze|merge|unmerge|height|hide|filter|rules|set up)$/.test(op.op)) return true
    now = applyOp(now, op)
  }
  return false
}
const linesOf = (sheet: Sheet | undefined, axis: 'rows' | 'columns'): number =>
  axis === 'rows' ? (sheet?.rows.length ?? 0) : Math.max(0, ...(sheet?.rows ?? []).map((row) => row?.length ?? 0))

/** How a change came about, for the journal. */
type How = Pick<JournalRecord, 'did' | 'begins'>
type Merging = [base: Work | null, theirs: Work, sheets: readonly string[] | null, adopted: boolean]

export class WorkbookStore {
  workbook: Workbook = { sheets: [] }
  /** Brings a cell to sight; set by whoever shows the workbook. */
  reveal: ((sheet: number, row: number, column: number) => void) | null = null
  /** Counts up with everything that the grid must draw anew. */
  revision = 0
  /** How separated values are written; null for other types. */
  csv: OpenedList | null = null
  /** How many rows are here of those that are coming; of none where that is not known yet. */
  coming = { rows: 0, of: 0 }
  private results: Map<number, CellValue>[] = []
  private marked: ReadonlyMap<number, Mark>[] = []
  private papers: Papers = []
  /** Names that the file gives to cells and formulas. */
  names: readonly DefinedName[] = []
  /** Each with what the file said of paper before, which only undoing brings back. */
  private readonly done: { ops: WorkbookOp[]; inverse: WorkbookOp[]; papers?: Papers }[] = []
  private undone: { ops: WorkbookOp[]; inverse: WorkbookOp[] }[] = []
  private readonly listeners = new Set<() => void>()
  private readonly worker = new Worker(new URL('../../workers/calc.worker.ts', import.meta.url), {
    type: 'module',
    name: 'calc',
  })
  private desk: Promise<Remote<WorkbookDesk>> = (wrap<Calc>(this.worker) as Remote<Calc>).desk() as unknown as Promise<
    Remote<WorkbookDesk>
  >
  private calculating = 0
  /** How the calculation stands. */
  calculation: CalculationState = { is: 'done' }

  /** @param longest a calculation that takes as long is stopped; milliseconds */
  constructor(
    private readonly onEdit: ((edit: WorkbookEdit, how?: How) => void) | null,
    private readonly longest?: number,
  ) {}

  async open(
    bytes: Uint8Array | null,
    records: JournalRecord[] | null,
    written: DraftModel | null = null,
    type?: string,
  ): Promise<{ opened: OpenedWorkbook } | { damaged: Sentence }> {
    const sheets: Sheet[] = []
    if (!bytes && !records) {
      this.workbook = blankWorkbook()
      this.changed()
    }
    const desk = await this.desk
    const read = (await desk.open(
      bytes,
      records,
      proxy({
        sheet: (index: number, facts: Omit<Sheet, 'rows'>) => {
          sheets[index] = { ...facts, rows: [] }
          this.workbook = { sheets: sheets.slice() }
          this.changed()
        },
        rows: (index: number, _from: number, rows: (Row | undefined)[]) => {
          const sheet = sheets[index]!
          // While it is filled this array belongs to nobody else yet.
          for (const row of rows) (sheet.rows as (Row | undefined)[]).push(row)
          this.coming = { ...this.coming, rows: this.coming.rows + rows.length }
          sheets[index] = { ...sheet }
          this.workbook = { sheets: sheets.slice() }
          this.changed()
        },
        coming: (of: number) => {
          this.coming = { rows: 0, of }
          this.changed()
        },
        results: (index: number, values: [number, CellValue | null][], reset: boolean) => {
          const map = reset ? new Map<number, CellValue>() : (this.results[index] ?? new Map<number, CellValue>())
          for (const [key, value] of values) value === null ? map.delete(key) : map.set(key, value)
          this.results[index] = map
          this.changed()
        },
        papers: (papers: Papers) => {
          this.papers = papers
          this.changed()
        },
        marks: (marks: Mark[]) => {
          const bySheet: Map<number, Mark>[] = []
          for (const mark of marks) (bySheet[mark.sheet] ??= new Map()).set(mark.key, mark)
          this.marked = bySheet
          this.changed()
        },
        calculation: (state: CalculationState) => {
          this.calculation = state
          this.changed()
        },
      }) as never,
      written,
      type,
      this.longest,
    )) as { opened: OpenedWorkbook } | { damaged: Sentence }
    if ('opened' in read) {
      this.csv = read.opened.csv
      this.names = read.opened.names
      this.workbook = workbookAbout(this.workbook, read.opened.about)
    }
    if ('opened' in read && records) {
      this.done.push(...read.opened.undo.done)
      this.undone = read.opened.undo.undone
    }
    return read
  }

  /** The first rows of a list as they would be read. @returns null where it is no text in that encoding */
  async preview(said: SaidOfList): Promise<CsvPreview | null> {
    return (await this.desk).preview(said) as Promise<CsvPreview | null>
  }
  /** What records are applied to. */
  async stands(): Promise<DraftModel | null> {
    return (await this.desk).stands() as Promise<DraftModel | null>
  }

  /** The result of a formula; undefined while it is computed. */
  result(sheet: number, row: number, column: number): CellValue | undefined {
    return this.results[sheet]?.get(row * largestSheet.columns + column)
  }
  /** What is to be told of a result that is not just calculated. */
  markOf(sheet: number, row: number, column: number): Mark | undefined {
    return this.marked[sheet]?.get(row * largestSheet.columns + column)
  }
  /** What the file says of how a sheet comes to paper. */
  paperOf(sheet: number): SheetPaper | undefined {
    return this.papers[sheet]
  }
  /** The results of all formulas, by sheet; of a sheet that has none, none. */
  get allResults(): ReadonlyMap<number, CellValue>[] {
    return this.workbook.sheets.map((_, index) => this.results[index] ?? noResults)
  }
  get busy(): boolean {
    return this.calculating > 0
  }

  /** Ends a calculation that takes too long for somebody. */
  async stopCalculation(): Promise<void> {
    await (await this.desk).stopCalculation()
  }
  /** Calculates again what was stopped. */
  async calculateAgain(): Promise<void> {
    await (await this.desk).calculateAgain()
  }

  /** Cells that have a text, in order. @param only one sheet, or null for all */
  async find(search: CellSearch, only: number | null): Promise<FoundCell[]> {
    return search.text ? ((await (await this.desk).find(search, only)) as unknown as Promise<FoundCell[]>) : []
  }
  /** What a column shows, of the rows that the filter's other columns let through. */
  async choices(sheet: number, filter: SheetFilter, column: number): Promise<Choice[]> {
    return (await this.desk).choices(sheet, filter, column) as unknown as Promise<Choice[]>
  }
  /** The rows that a filter hides, in the workbook as it is when that is known. */
  async hiddenBy(sheet: number, filter: SheetFilter): Promise<number[]> {
    const desk = await this.desk
    for (;;) {
      const before = this.workbook
      const hidden = (await desk.hiddenBy(sheet, filter)) as number[]
      if (this.workbook === before) return hidden
    }
  }
  /** The name of a table of the file's own that an area has cells of. */
  async tableWithin(sheet: number, area: MergedArea): Promise<string | null> {
    return (await this.desk).tableWithin(sheet, area)
  }
  /** Names of all functions that can be calculated. */
  async functions(): Promise<string[]> {
    return (await this.desk).functions()
  }

  /** Makes a change. @param begins another step of undo; it goes on with the last one otherwise @throws RangeError when it does not fit */
  change(ops: WorkbookOp[], begins = true): void {
    if (ops.length === 0) return
    const inverse: WorkbookOp[] = []
    let workbook = this.workbook
    for (const op of ops) {
      inverse.unshift(...invertOp(workbook, op))
      workbook = applyOp(workbook, op)
    }
    this.entering = false
    const goesOn = !begins && this.done.length > 0
    if (goesOn) this.done.push(wentOn(this.done.pop()!, { ops, inverse }))
    else this.done.push({ ops, inverse, papers: this.papers })
    if (this.done.length > workbookUndoDepth) this.done.shift()
    this.undone = []
    this.take(workbook, ops, goesOn ? { begins: false } : undefined)
  }
  /** Takes in what another tab did in the same draft; it is in the journal already and is not undone here. */
  follow({ ops }: WorkbookEdit): void {
    if (ops.length === 0) return
    this.papers = papersThrough(this.papers, ops, this.workbook.sheets.length)
    this.workbook = ops.reduce((workbook, op) => applyOp(workbook, op), this.workbook)
    this.changed()
    void this.desk.then((desk) => desk.apply(ops))
    this.renewNames(ops)
  }
  /**
   * Takes in what another version has beyond the base. It is one change that can be undone like any other, unless
   * `apply` decides on it; work that goes on meanwhile is taken into account.
   */
  async takeIn(...merging: Merging): Promise<MergedIn>
  async takeIn(...merging: [...Merging, apply?: Apply]): Promise<MergedIn | { left: true }>
  async takeIn(
    base: Work | null,
    theirs: Work,
    sheets: readonly string[] | null,
    adopted: boolean,
    apply?: Apply,
  ): Promise<MergedIn | { left: true }> {
    const desk = await this.desk
    for (;;) {
      const before = this.workbook
      const merged = (await desk.merge(base && sent(base), sent(theirs), sheets, adopted)) as MergedIn
      if (this.workbook !== before) continue
      if (!('ops' in merged)) return merged
      const { ops, conflicts } = merged
      if (!apply) this.change(ops)
      else {
        const moves = movesAnything(this.workbook, ops)
        // By itself it is no step of undo: that goes on undoing what was done here.
        const change = () => ops.length && this.take(ops.reduce(applyOp, this.workbook), ops, { did: 'taken in' })
        if (!apply({ choices: conflicts.length, moves }, change)) return { left: true }
      }
      return merged
    }
  }
  get canUndo(): boolean {
    return this.done.length > 0
  }
  get canRedo(): boolean {
    return this.undone.length > 0
  }
  undo(): void {
    const last = this.done.pop()
    if (!last) return
    this.undone.push(last)
    this.take(last.inverse.reduce(applyOp, this.workbook), last.inverse, { did: 'undo' }, last.papers)
  }
  redo(): void {
    const next = this.undone.pop()
    if (!next) return
    this.done.push(next)
    this.take(next.ops.reduce(applyOp, this.workbook), next.ops, { did: 'redo' })
  }

  /** An entry is being typed into a cell. */
  entering = false
  /** Keeps an entry that is being typed; null when it was finished or given up. */
  typing(typing: NonNullable<WorkbookEdit['typing']> | null): void {
    this.entering = typing !== null
    this.onEdit?.(typing ? { ops: [], typing } : { ops: [] })
  }

  async encode(as?: WrittenType): Promise<Written> {
    return (await this.desk).encode(as) as Promise<Written>
  }
  /** Sheets as they are shown, for paper. @param only one of them */
  async shown(only: number | null): Promise<ShownSheet[]> {
    return (await this.desk).shown(only) as Promise<ShownSheet[]>
  }
  /** What is not on its pages. */
  async notOnPaper(): Promise<Limit[]> {
    return (await this.desk).notOnPaper()
  }
  /** Writes into this version from now on. */
  async standOn(bytes: Uint8Array): Promise<void> {
    await (await this.desk).standOn(bytes.slice())
  }
  opening(): string {
    return openingOfWorkbook(this.workbook)
  }

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener)
    return () => this.listeners.delete(listener)
  }
  snapshot = (): number => this.revision
  close(): void {
    this.worker.terminate()
  }

  private take(
    workbook: Workbook,
    ops: WorkbookOp[],
    how?: How,
    papers = papersThrough(this.papers, ops, this.workbook.sheets.length),
  ): void {
    this.papers = papers
    this.workbook = workbook
    this.onEdit?.({ ops }, how)
    this.calculating++
    void this.desk
      .then((desk) => desk.apply(ops))
      .finally(() => {
        this.calculating--
        this.changed()
      })
    this.renewNames(ops)
    this.changed()
  }
  /** Names mean other cells once rows, columns or sheets are elsewhere. */
  private renewNames(ops: readonly WorkbookOp[]): void {
    if (!this.names.length || !ops.some(({ op }) => /^(?:insert|remove)$|sheet$/.test(op))) return
    void this.desk
      .then((desk) => desk.names() as Promise<readonly DefinedName[]>)
      .then((names) => {
        this.names = names
        this.changed()
      })
  }
  private changed(): void {
    // A sheet that is gone has no results; those that were on their way came after it went.
    if (this.results.length > this.workbook.sheets.length) this.results.length = this.workbook.sheets.length
    this.revision++
    for (const listener of this.listeners) listener()
  }
}
