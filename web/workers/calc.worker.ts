// The workbook's worker: opens it, follows every edit on a copy of its own, computes formulas
// and writes the bytes to be saved. The page never waits for any of it.

import { expose, proxy } from 'comlink'
import type { HyperFormula } from 'hyperformula'
import { sayWorkbookChanges, whatWouldBeLost } from '../../core/compare/words'
import { compareWorkbooks } from '../../core/compare/workbook'
import { engineContent, engineOf, resultOf } from '../../core/content/evaluate'
import {
  blankWorkbook,
  type CellValue,
  filledCells,
  largestSheet,
  openingOfWorkbook,
  type Row,
  type Workbook,
} from '../../core/content/workbook'
import { applyOp, type WorkbookOp } from '../../core/content/workbook-ops'
import type { DraftModel, JournalRecord } from '../../core/contract'
import type { Limit } from '../../core/formats/refusals'
import { DamagedFile } from '../../core/formats/refusals'
import { readXlsx } from '../../core/formats/xlsx/read'
import { writeXlsx } from '../../core/formats/xlsx/write'
import { commonWorkbook, partOfWorkbook } from '../../core/merge/common'
import { type CellConflict, mergeWorkbooks } from '../../core/merge/workbook'
import { OtherModel, openWorkbookModel, type UndoneAndDone } from '../../core/recovery/models'
import { replayWorkbook, type WorkbookEdit } from '../../core/recovery/replay'
import { type Sentence, saidBy } from '../../core/words/said'
import type { Work } from '../work/content'

/** Rows and results cross to the page in pieces, so that taking one in never holds it up. */
const rowsAtOnce = 1500
const resultsAtOnce = 10_000

export interface WorkbookReceiver {
  sheet(
    index: number,
    facts: { name: string; widths: Record<number, number>; frozen?: { rows: number; columns: number } },
  ): void
  rows(sheet: number, from: number, rows: (Row | undefined)[]): void
  /** Results by `row * 16384 + column`; `reset` replaces all of the sheet's. */
  results(sheet: number, values: [number, CellValue | null][], reset: boolean): void
}
export interface OpenedWorkbook {
  limits: Limit[]
  cells: number
  replay?: { seq: number; lostFrom: number | null; cellsBefore: number; opening: string }
  /** What can be undone and redone, the last one last. */
  undo: UndoneAndDone
  /** The edit that makes this work of the file as it is read now, where it was written on another reading of it. */
  carried: WorkbookEdit | null
}

/** What merging another version into the workbook takes, or why it is not done. */
export type MergedIn = { ops: WorkbookOp[]; conflicts: CellConflict[]; summary: Sentence } | { refused: Sentence }

const keyOf = (row: number, column: number) => row * largestSheet.columns + column

/** A workbook with a draft's records on top. What a draft's base holds beside it, this work has as well. */
function readWork({ bytes, records }: Work): { workbook: Workbook; limits: Limit[] } {
  const read = bytes ? readXlsx(bytes) : { workbook: blankWorkbook(), limits: [] }
  return records ? { workbook: replayWorkbook(read.workbook, records).model, limits: [] } : read
}

class WorkbookDesk {
  private workbook: Workbook = blankWorkbook()
  private results: Map<number, CellValue>[] = []
  private engine: HyperFormula | null = null
  private receiver: WorkbookReceiver | null = null
  private standing: (() => DraftModel) | null = null
  private working: Promise<unknown> = Promise.resolve()

  async open(
    bytes: Uint8Array | null,
    records: JournalRecord[] | null,
    receiver: WorkbookReceiver,
    written: DraftModel | null = null,
  ): Promise<{ opened: OpenedWorkbook } | { damaged: Sentence }> {
    this.receiver = receiver
    let limits: Limit[] = []
    let opened: ReturnType<typeof openWorkbookModel>
    try {
      opened = openWorkbookModel(bytes, records ?? [], written)
    } catch (error) {
      if (error instanceof DamagedFile || error instanceof OtherModel) return { damaged: saidBy(error) }
      throw error
    }
    const { base } = opened
    const carried = opened.carried ? { ops: compareWorkbooks(base.model, opened.replayed.model).ops } : null
    this.standing = opened.stands
    this.workbook = base.model
    if (base.results) this.results = base.results
    limits = base.limits
    let replay: OpenedWorkbook['replay']
    if (records) {
      const before = filledCells(this.workbook)
      const { model, seq, lostFrom } = opened.replayed
      if (model !== this.workbook) this.results = []
      this.workbook = model
      replay = { seq, lostFrom, cellsBefore: before, opening: openingOfWorkbook(model) }
    }
    for (const [index, { name, widths, frozen, rows }] of this.workbook.sheets.entries()) {
      this.results[index] ??= new Map()
      // The page began a blank workbook by itself and may have gone on with it.
      if (!bytes && !records) continue
      await receiver.sheet(index, { name, widths: { ...widths }, ...(frozen && { frozen }) })
      for (let from = 0; from < rows.length; from += rowsAtOnce)
        await receiver.rows(index, from, rows.slice(from, from + rowsAtOnce))
      await this.sendResults(index)
    }
    // Files may hold no results, or another program's: all are computed anew, after the work is shown.
    if (bytes || records) this.later(() => this.rebuild())
    return {
      opened: {
        limits,
        cells: filledCells(this.workbook),
        ...(replay && { replay }),
        undo: opened.undo,
        carried,
      },
    }
  }

  /** What records are applied to; after everything that somebody waits for. */
  stands(): Promise<DraftModel | null> {
    return this.later(async () => this.standing?.() ?? null)
  }

  /** Follows edits and answers when their results have been sent. */
  apply(ops: WorkbookOp[]): Promise<void> {
    return this.later(async () => {
      for (const op of ops) this.workbook = applyOp(this.workbook, op)
      if (ops.every((op) => op.op === 'width')) return
      if (ops.some((op) => op.op !== 'cells') || !this.engine) return this.rebuild()
      await this.follow(ops)
    })
  }

  /**
   * What another version has beyond the base, as operations for the workbook as it is now; nothing is applied here.
   * @param base null when neither came of the other
   * @param sheets only what changed on these; on all of them when null
   */
  merge(base: Work | null, theirs: Work, sheets: readonly string[] | null): Promise<MergedIn> {
    return this.later(async () => {
      try {
        const read = readWork(theirs)
        if (read.limits.length) return { refused: whatWouldBeLost(read.limits) }
        const before = base ? readWork(base).workbook : commonWorkbook(this.workbook, read.workbook)
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

  /** The bytes of the workbook with every edit applied so far. */
  encode(): Promise<Uint8Array> {
    return this.later(async () =>
      writeXlsx(this.workbook, (sheet, row, column) => this.results[sheet]?.get(keyOf(row, column))),
    )
  }

  private later<T>(work: () => Promise<T>): Promise<T> {
    const result = this.working.then(work)
    this.working = result.catch(() => {})
    return result
  }

  private async rebuild(): Promise<void> {
    const old = this.results
    this.results = this.workbook.sheets.map(() => new Map())
    this.engine?.destroy()
    this.engine = null
    const hasFormulas = this.workbook.sheets.some(({ rows }) =>
      rows.some((row) => row?.some((cell) => cell?.formula !== undefined)),
    )
    if (hasFormulas) {
      this.engine = engineOf(this.workbook)
      for (const [index, { name, rows }] of this.workbook.sheets.entries()) {
        const id = this.engine.getSheetId(name)!
        rows.forEach((row, y) =>
          row?.forEach((cell, x) => {
            if (cell?.formula !== undefined)
              this.results[index]!.set(keyOf(y, x), resultOf(this.engine!.getCellValue({ sheet: id, row: y, col: x })))
          }),
        )
      }
    }
    for (const index of this.workbook.sheets.keys())
      if (this.results[index]!.size || old[index]?.size || old.length !== this.results.length)
        await this.sendResults(index)
  }

  private async follow(ops: WorkbookOp[]): Promise<void> {
    const engine = this.engine!
    const changes = engine.batch(() => {
      for (const op of ops) {
        if (op.op !== 'cells') continue
        const id = engine.getSheetId(this.workbook.sheets[op.sheet]!.name)!
        for (const { row, column } of op.cells)
          engine.setCellContents({ sheet: id, row, col: column }, [
            [engineContent(this.workbook.sheets[op.sheet]!.rows[row]?.[column])],
          ])
      }
    })
    const changed = new Map<number, [number, CellValue | null][]>()
    const note = (sheet: number, row: number, column: number) => {
      const key = keyOf(row, column)
      const list = changed.get(sheet) ?? []
      changed.set(sheet, list)
      if (this.workbook.sheets[sheet]?.rows[row]?.[column]?.formula === undefined) {
        if (this.results[sheet]!.delete(key)) list.push([key, null])
        return
      }
      const value = resultOf(
        engine.getCellValue({ sheet: engine.getSheetId(this.workbook.sheets[sheet]!.name)!, row, col: column }),
      )
      this.results[sheet]!.set(key, value)
      list.push([key, value])
    }
    for (const op of ops) if (op.op === 'cells') for (const { row, column } of op.cells) note(op.sheet, row, column)
    for (const change of changes) {
      if (!('address' in change)) continue
      const sheet = this.workbook.sheets.findIndex(({ name }) => name === engine.getSheetName(change.address.sheet))
      if (sheet >= 0) note(sheet, change.address.row, change.address.col)
    }
    for (const [sheet, values] of changed)
      for (let from = 0; from < values.length; from += resultsAtOnce)
        await this.receiver!.results(sheet, values.slice(from, from + resultsAtOnce), false)
  }

  private async sendResults(index: number): Promise<void> {
    const values = [...this.results[index]!]
    await this.receiver!.results(index, values.slice(0, resultsAtOnce), true)
    for (let from = resultsAtOnce; from < values.length; from += resultsAtOnce)
      await this.receiver!.results(index, values.slice(from, from + resultsAtOnce), false)
  }
}

const calc = { desk: () => proxy(new WorkbookDesk()) }
export type Calc = typeof calc
export type { WorkbookDesk }

expose(calc)
