// The results of a workbook's formulas while it is edited. A result that came with the file stays as it came until
// something that it is made of changes: it is not overwritten because an engine cannot help with it, or reckons
// otherwise in its ninth digit. What this engine cannot calculate keeps the file's result, and what depends on it
// is calculated from that.
import type { HyperFormula, SimpleCellAddress, SimpleCellRange } from 'hyperformula'
import { engineContent, engineOf, resultOf } from '../content/evaluate'
import { type CellValue, isError, largestSheet, type Sheet, sameValue, type Workbook } from '../content/workbook'
import { applyOps, type WorkbookOp } from '../content/workbook-ops'

/** `row * 16384 + column`. */
export const keyOf = (row: number, column: number): number => row * largestSheet.columns + column
const placeOf = (key: number) => ({ row: Math.floor(key / largestSheet.columns), column: key % largestSheet.columns })

/** How a formula's result came about. */
export type Standing =
  /** By this engine. */
  | 'calculated'
  /** It came with the file; nothing that it reads has changed since. */
  | 'kept'
  /** It came with the file, this engine cannot calculate it, and something that it reads has changed. */
  | 'stale'

interface Result {
  shown: CellValue
  /** What the engine made of it last. */
  computed: CellValue
  /** It follows from an edit, so that the file's result does not hold any more. */
  fresh: boolean
  /** The engine has its value and not its formula. */
  pinned: { reads: readonly (SimpleCellAddress | SimpleCellRange)[] } | null
  stale: boolean
}
export type ChangedResults = Map<number, [key: number, value: CellValue | null][]>

/** Results of another moment each time they are asked for (OpenFormula 1.2 §4.5). */
const volatile = /\b(?:NOW|TODAY|RAND|RANDBETWEEN|RANDARRAY)\s*\(/i
/** Stands before the number of a result that takes its cell's way; no cell that anybody wrote begins so. */
const mark = '\u0000'
/** Rounds of taking the file's results for what cannot be calculated, before all that is left of it is taken so. */
const mostRounds = 4

export class Calculation {
  private engine: HyperFormula | null = null
  private sheets: Map<number, Result>[] = []
  private restless = false

  /**
   * @param workbook as its file has it
   * @param stored the results that the file holds, by sheet
   */
  constructor(
    private workbook: Workbook,
    stored: readonly (ReadonlyMap<number, CellValue> | undefined)[] = [],
  ) {
    this.sheets = this.workbook.sheets.map(() => new Map())
    if (!this.build()) return
    for (const [sheet, { rows }] of workbook.sheets.entries())
      forFormulas(rows, (key) => {
        const came = stored[sheet]?.get(key)
        const computed = this.computedAt(sheet, key)
        this.sheets[sheet]!.set(key, { shown: came ?? computed, computed, fresh: false, pinned: null, stale: false })
      })
    this.pin()
    this.renewVolatile()
  }

  /** What a formula results in; undefined where there is none, or none that is known to be right. */
  resultOf(sheet: number, row: number, column: number): CellValue | undefined {
    const result = this.sheets[sheet]?.get(keyOf(row, column))
    return result && !result.stale ? result.shown : undefined
  }
  /** Whether a result follows from edits. */
  isNew(sheet: number, row: number, column: number): boolean {
    return this.sheets[sheet]?.get(keyOf(row, column))?.fresh ?? false
  }
  standing(sheet: number, row: number, column: number): Standing | null {
    const result = this.sheets[sheet]?.get(keyOf(row, column))
    if (!result) return null
    return result.stale ? 'stale' : result.pinned || !sameValue(result.shown, result.computed) ? 'kept' : 'calculated'
  }
  /** Some result is not known any more: whoever opens the file has to calculate it. */
  get anyStale(): boolean {
    return this.sheets.some((results) => [...results.values()].some(({ stale }) => stale))
  }
  /** All results as they are shown, by sheet. */
  shown(): Map<number, CellValue>[] {
    return this.sheets.map((results) => new Map([...results].map(([key, { shown }]) => [key, shown])))
  }
  close(): void {
    this.engine?.destroy()
    this.engine = null
  }

  /**
   * Follows edits.
   * @param after the workbook with them
   * @returns the results that changed, by sheet; null where all of them are to be taken anew
   */
  apply(ops: readonly WorkbookOp[], after: Workbook): ChangedResults | null {
    const looks = (op: WorkbookOp) => op.op === 'width' || op.op === 'freeze'
    if (ops.every(looks)) {
      this.workbook = after
      return new Map()
    }
    const cells = ops.filter((op) => op.op === 'cells')
    if (!this.engine || cells.length + ops.filter(looks).length < ops.length) {
      this.reshape(ops, after)
      return null
    }
    return this.follow(cells, after)
  }

  private build(): boolean {
    this.close()
    const formulas = this.workbook.sheets.flatMap(({ rows }) => {
      const found: string[] = []
      forFormulas(rows, (_, formula) => found.push(formula))
      return found
    })
    this.restless = formulas.some((formula) => volatile.test(formula))
    if (formulas.length) this.engine = engineOf(this.workbook)
    return formulas.length > 0
  }
  private addressOf(sheet: number, key: number): SimpleCellAddress {
    const { row, column } = placeOf(key)
    return { sheet: this.engine!.getSheetId(this.workbook.sheets[sheet]!.name)!, row, col: column }
  }
  private computedAt(sheet: number, key: number): CellValue {
    return resultOf(this.engine!.getCellValue(this.addressOf(sheet, key)))
  }
  private sheetOf(address: SimpleCellAddress): number {
    const name = this.engine!.getSheetName(address.sheet)
    return this.workbook.sheets.findIndex((sheet) => sheet.name === name)
  }

  /**
   * Gives the engine the file's result for a formula that fails here though what it reads does not, round by round:
   * what failed only because of those comes right by itself.
   */
  private pin(): void {
    const engine = this.engine!
    for (let round = 0; round < mostRounds; round++) {
      const failing: [sheet: number, key: number, result: Result][] = []
      for (const [sheet, results] of this.sheets.entries())
        for (const [key, result] of results)
          if (!result.pinned && isError(result.computed) && !isError(result.shown)) failing.push([sheet, key, result])
      if (!failing.length) return
      const bad = new Set(failing.map(([sheet, key]) => `${sheet} ${key}`))
      const reads = failing.map(([sheet, key]) => engine.getCellPrecedents(this.addressOf(sheet, key)))
      const badByPlace = failing.map(([sheet, key]) => ({ sheet: this.addressOf(sheet, key).sheet, ...placeOf(key) }))
      const roots = failing.filter(
        (_, index) =>
          round === mostRounds - 1 ||
          !reads[index]!.some((one) =>
            'start' in one
              ? badByPlace.some(({ sheet, row, column }) => inRange(one, sheet, row, column))
              : bad.has(`${this.sheetOf(one)} ${keyOf(one.row, one.col)}`),
          ),
      )
      const chosen = roots.length ? roots : failing
      for (const one of chosen) one[2].pinned = { reads: reads[failing.indexOf(one)]! }
      this.setPinned(chosen)
      for (const [sheet, key, result] of failing) result.computed = this.computedAt(sheet, key)
    }
  }
  private setPinned(all: readonly [sheet: number, key: number, result: Result][]): void {
    this.engine!.batch(() => {
      for (const [sheet, key, { shown }] of all)
        this.engine!.setCellContents(this.addressOf(sheet, key), [[engineContent({ value: shown })]])
    })
  }

  /** What is of another moment is shown as of now, with what depends on it; the file keeps what it has. */
  private renewVolatile(): void {
    if (!this.restless) return
    const from: SimpleCellAddress[] = []
    for (const [sheet, { rows }] of this.workbook.sheets.entries())
      forFormulas(rows, (key, formula) => {
        if (volatile.test(formula)) from.push(this.addressOf(sheet, key))
      })
    for (const place of this.reach(from)) {
      const [sheet, key] = place.split(' ').map(Number) as [number, number]
      const result = this.sheets[sheet]?.get(key)
      if (result && !result.pinned) result.shown = result.computed
    }
  }

  /** Everything that depends on some cells, and those themselves, as `sheet key`. */
  private reach(from: readonly SimpleCellAddress[]): Set<string> {
    const engine = this.engine!
    const seen = new Set<string>()
    const reached = new Set<string>()
    const open: (SimpleCellAddress | SimpleCellRange)[] = [...from]
    for (let one = open.pop(); one; one = open.pop()) {
      const name = 'start' in one ? JSON.stringify(one) : `${one.sheet} ${one.row} ${one.col}`
      if (seen.has(name)) continue
      seen.add(name)
      if (!('start' in one)) reached.add(`${this.sheetOf(one)} ${keyOf(one.row, one.col)}`)
      open.push(...engine.getCellDependents(one))
    }
    return reached
  }

  private follow(ops: readonly Extract<WorkbookOp, { op: 'cells' }>[], after: Workbook): ChangedResults {
    const engine = this.engine!
    this.workbook = after
    const edited: [sheet: number, key: number][] = []
    const changes = engine.batch(() => {
      for (const { sheet, cells } of ops)
        for (const { row, column } of cells) {
          edited.push([sheet, keyOf(row, column)])
          const content = engineContent(after.sheets[sheet]!.rows[row]?.[column])
          engine.setCellContents(this.addressOf(sheet, keyOf(row, column)), [[content]])
        }
    })
    for (const { sheet, cells } of ops)
      for (const { row, column } of cells)
        if (volatile.test(after.sheets[sheet]!.rows[row]?.[column]?.formula ?? '')) this.restless = true
    const told: ChangedResults = new Map()
    const tell = (sheet: number, key: number, value: CellValue | null) => {
      const list = told.get(sheet) ?? []
      told.set(sheet, list)
      list.push([key, value])
    }
    const touched: { sheet: number; row: number; column: number }[] = []
    for (const [sheet, key] of edited) {
      const { row, column } = placeOf(key)
      touched.push({ sheet: this.addressOf(sheet, key).sheet, row, column })
      if (after.sheets[sheet]!.rows[row]?.[column]?.formula === undefined) {
        if (this.sheets[sheet]!.delete(key)) tell(sheet, key, null)
        continue
      }
      const computed = this.computedAt(sheet, key)
      this.sheets[sheet]!.set(key, { shown: computed, computed, fresh: true, pinned: null, stale: false })
      tell(sheet, key, computed)
    }
    const own = new Set(edited.map(([sheet, key]) => `${sheet} ${key}`))
    const within = this.restless ? this.reach(edited.map(([sheet, key]) => this.addressOf(sheet, key))) : null
    for (const change of changes) {
      if (!('address' in change)) continue
      const sheet = this.sheetOf(change.address)
      const key = keyOf(change.address.row, change.address.col)
      const result = this.sheets[sheet]?.get(key)
      if (!result || result.pinned || own.has(`${sheet} ${key}`)) continue
      touched.push({ sheet: change.address.sheet, row: change.address.row, column: change.address.col })
      result.computed = this.computedAt(sheet, key)
      result.shown = result.computed
      if (!within || within.has(`${sheet} ${key}`)) result.fresh = true
      tell(sheet, key, result.shown)
    }
    for (const results of this.sheets)
      for (const result of results.values()) {
        if (!result.pinned || result.stale) continue
        if (!result.pinned.reads.some((read) => touched.some((cell) => reads(read, cell)))) continue
        result.stale = true
        result.fresh = true
      }
    return told
  }

  /** Rows, columns or sheets come, go or move: results move along with their cells, and all is calculated anew. */
  private reshape(ops: readonly WorkbookOp[], after: Workbook): void {
    // Each result takes the way that its cell takes.
    const all: { result: Result; formula: string }[] = []
    const places: Workbook = {
      sheets: this.workbook.sheets.map((sheet, index) => {
        const rows: { value: string }[][] = []
        for (const [key, result] of this.sheets[index] ?? []) {
          const { row, column } = placeOf(key)
          while (rows.length <= row) rows.push([])
          const formula = sheet.rows[row]?.[column]?.formula ?? ''
          rows[row]![column] = { value: `${mark}${all.push({ result, formula }) - 1}` }
        }
        return { ...sheet, rows: rows.map((row) => Array.from(row)) }
      }),
    }
    const moved = applyOps(places, ops)
    this.workbook = after
    const before = this.sheets
    this.sheets = after.sheets.map(() => new Map())
    if (!this.build()) return
    const pinned: [number, number, Result][] = []
    for (const [sheet, { rows }] of after.sheets.entries())
      forFormulas(rows, (key, formula) => {
        const { row, column } = placeOf(key)
        const at = moved.sheets[sheet]?.rows[row]?.[column]
        const was =
          typeof at?.value === 'string' && at.value.startsWith(mark) ? all[Number(at.value.slice(1))] : undefined
        const result: Result = was
          ? { ...was.result, ...(formula.includes('#REF!') && { pinned: null, stale: false }) }
          : { shown: 0, computed: 0, fresh: true, pinned: null, stale: false }
        this.sheets[sheet]!.set(key, result)
        if (result.pinned) pinned.push([sheet, key, result])
      })
    // What a kept result reads has moved, too.
    for (const [sheet, key, result] of pinned)
      result.pinned = { reads: this.engine!.getCellPrecedents(this.addressOf(sheet, key)) }
    if (pinned.length) this.setPinned(pinned)
    const known = before.length > 0
    for (const [sheet, results] of this.sheets.entries())
      for (const [key, result] of results) {
        if (result.pinned) continue
        const computed = this.computedAt(sheet, key)
        if (known && !result.fresh && sameValue(computed, result.computed)) continue
        Object.assign(result, { computed, shown: computed, fresh: true })
      }
  }
}

const inRange = ({ start, end }: SimpleCellRange, sheet: number, row: number, column: number): boolean =>
  sheet === start.sheet && row >= start.row && row <= end.row && column >= start.col && column <= end.col
const reads = (
  one: SimpleCellAddress | SimpleCellRange,
  { sheet, row, column }: { sheet: number; row: number; column: number },
): boolean =>
  'start' in one ? inRange(one, sheet, row, column) : one.sheet === sheet && one.row === row && one.col === column

function forFormulas(rows: Sheet['rows'], visit: (key: number, formula: string) => void): void {
  rows.forEach((line, row) => {
    line?.forEach((cell, column) => {
      if (cell?.formula !== undefined) visit(keyOf(row, column), cell.formula)
    })
  })
}
