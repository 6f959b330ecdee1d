// The results of a workbook's formulas while it is edited. A result that came with the file stays as it came until
// something that it is made of changes: it is not overwritten because an engine cannot help with it, or reckons
// otherwise in its ninth digit. What this engine cannot calculate keeps the file's result, and what depends on it
// is calculated from that.
import type { HyperFormula, SimpleCellAddress, SimpleCellRange } from 'hyperformula'
import { hiddenByFilter } from '../content/sheet-filter'
import { type CellValue, isError, largestSheet, sameValue, type Workbook } from '../content/workbook'
import { applyOp, applyOps, type WorkbookOp } from '../content/workbook-ops'
import { engineOf, isInternal, plainContents, resultOf, valueContent } from './contents'
import { type FormulaAt, formulasOf, translateAt } from './formulas'
import { registeredFunctions } from './functions'
import { type Area, type FormulaSource, noSource, sourceAfter } from './source'
import type { Around, Place } from './translate'

/** `row * 16384 + column`. */
export const keyOf = (row: number, column: number): number => row * largestSheet.columns + column
const placeOf = (key: number) => ({ row: Math.floor(key / largestSheet.columns), column: key % largestSheet.columns })

/** How a formula's result came about. */
export type Standing =
  /** By this engine. */
  | 'calculated'
  /** It came with the file; nothing that it reads has changed since. */
  | 'kept'
  /** It cannot be calculated here, and is not what the file held any more: so it is not known. */
  | 'stale'

interface Result {
  /** Where it is now, and by which formula. */
  at: FormulaAt
  shown: CellValue
  /** What the engine made of it last. */
  computed: CellValue
  /** It follows from an edit, so that the file's result does not hold any more. */
  fresh: boolean
  /** The engine has its value and not its formula. */
  pinned: boolean
  /** Pinned, and what it reads has changed, or nothing was ever known of it. */
  lost: boolean
  /** What the engine has; null for a formula that it cannot be told. */
  text: string | null
  /** What in it the engine cannot be told. */
  why: string | null
  reads: readonly Area[]
  /** Points at what it calculates. */
  moving: boolean
}
export type ChangedResults = Map<number, [key: number, value: CellValue | null][]>
/** A result that is not just calculated. */
export interface Mark {
  sheet: number
  /** `row * 16384 + column`. */
  key: number
  standing: Exclude<Standing, 'calculated'>
  /** What in its formula cannot be calculated here; null where it is reckoned otherwise, or follows from another one. */
  why: string | null
}

/** Results of another moment each time they are asked for (OpenFormula 1.2 §4.5). */
const volatile = /\b(?:NOW|TODAY|RAND|RANDBETWEEN|RANDARRAY)\s*\(/i
/** Edits that no formula can read. */
const onlyLooks = /^(?:width|freeze|merge|unmerge|height|rules|set up)$/
/** Functions that count what is hidden otherwise (OpenFormula 1.2 §6.16.66). */
const countsHidden = /\b(?:SUBTOTAL|AGGREGATE)\s*\(/i
/** Stands before the number of a result that takes its cell's way; no cell that anybody wrote begins so. */
const mark = '\u0000'
/** Rounds of taking the file's results for what cannot be calculated, before all that is left of it is taken so. */
const mostRounds = 4
/** Rounds in which formulas follow where others point; those that still move go round in a circle. */
const mostMoves = 8
const noResult: CellValue = { error: '#NAME?' }

export class Calculation {
  private engine: HyperFormula | null = null
  private sheets: Map<number, Result>[] = []
  /** Those of which more is to be thought than what the engine says: pinned, moving, or in a circle. */
  private readonly watched = new Set<Result>()
  private unknown = new Set<Result>()
  private restless = false
  private readonly around: Around

  /**
   * @param workbook as its file has it
   * @param stored the results that the file holds, by sheet
   * @param source what else its formulas refer to
   */
  constructor(
    private workbook: Workbook,
    stored: readonly (ReadonlyMap<number, CellValue> | undefined)[] = [],
    private source: FormulaSource = noSource,
  ) {
    const functions = registeredFunctions()
    this.around = {
      workbook,
      source,
      has: (name) => functions.has(name),
      result: (expression, { sheet }) => {
        if (!this.engine) return undefined
        const value = this.engine.calculateFormula(`=${expression}`, this.sheetId(sheet))
        return Array.isArray(value) ? resultOf(value[0]?.[0]) : resultOf(value)
      },
    }
    const came = (at: FormulaAt): CellValue | undefined => stored[at.sheet]?.get(keyOf(at.row, at.column))
    if (!this.build(came)) return
    for (const result of this.all()) {
      const value = came(result.at)
      result.computed = result.pinned ? result.shown : this.computedAt(result.at)
      result.shown = value ?? result.computed
      result.lost = result.pinned && value === undefined
      if (isInternal(result.shown)) this.watched.add(result)
    }
    this.pin()
    this.renewVolatile()
    this.spread(false)
  }

  /** What a formula results in; undefined where there is none, or none that is known to be right. */
  resultOf(sheet: number, row: number, column: number): CellValue | undefined {
    const result = this.sheets[sheet]?.get(keyOf(row, column))
    return result && !this.unknown.has(result) ? result.shown : undefined
  }
  /** Whether a result follows from edits. */
  isNew(sheet: number, row: number, column: number): boolean {
    return this.sheets[sheet]?.get(keyOf(row, column))?.fresh ?? false
  }
  standing(sheet: number, row: number, column: number): Standing | null {
    const result = this.sheets[sheet]?.get(keyOf(row, column))
    return result ? this.standingOf(result) : null
  }
  private standingOf(result: Result): Standing {
    if (this.unknown.has(result)) return 'stale'
    return result.pinned || !sameValue(result.shown, result.computed) ? 'kept' : 'calculated'
  }
  /** All results that are kept or not known; of those that only differ in their last digits none. */
  marks(): Mark[] {
    const marks: Mark[] = []
    for (const result of this.all()) {
      const standing = this.standingOf(result)
      if (standing === 'calculated' || (standing === 'kept' && !result.pinned && near(result.shown, result.computed)))
        continue
      for (const { sheet, row, column } of [result.at, ...cellsOf(result.at)])
        marks.push({ sheet, key: keyOf(row, column), standing, why: result.why })
    }
    return marks
  }
  /** Some result is not known any more: whoever opens the file has to calculate it. */
  get anyStale(): boolean {
    return this.unknown.size > 0
  }
  /** The places of the results that are not known, and of those that follow from edits, by sheet. */
  facts(): { unknown: Set<number>[]; fresh: Set<number>[] } {
    const facts = { unknown: this.workbook.sheets.map(() => new Set<number>()), fresh: [] as Set<number>[] }
    for (const { at } of this.unknown) facts.unknown[at.sheet]?.add(keyOf(at.row, at.column))
    for (const [sheet, results] of this.sheets.entries()) {
      const fresh = new Set<number>()
      for (const [key, result] of results) if (result.fresh) fresh.add(key)
      facts.fresh[sheet] = fresh
    }
    return facts
  }
  /** Results here follow from edits, though they are not known to this calculation. */
  followed(fresh: readonly ReadonlySet<number>[]): void {
    for (const [sheet, keys] of fresh.entries())
      for (const key of keys) {
        const result = this.sheets[sheet]?.get(key)
        if (result) result.fresh = true
      }
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
    // Rows that are hidden count in some functions.
    const showing = (op: WorkbookOp) => op.op === 'hide' || op.op === 'filter'
    const counts = ops.some(showing) && [...this.all()].some(({ at }) => countsHidden.test(at.formula))
    const looks = (op: WorkbookOp) => onlyLooks.test(op.op) || (showing(op) && !counts)
    const follow = () => {
      if (ops.some(showing)) this.source = { ...this.source, hidden: after.sheets.map(hiddenByFilter) }
    }
    if (ops.every(looks)) {
      follow()
      this.workbook = after
      this.around.workbook = after
      return new Map()
    }
    const cells = ops.filter((op) => op.op === 'cells')
    const withinArray = cells.some((op) => sourceAfter(this.source, op, this.workbook) !== this.source)
    if (!this.engine || withinArray || cells.length + ops.filter(looks).length < ops.length) {
      this.reshape(ops, after)
      return null
    }
    follow()
    return this.follow(cells, after)
  }

  private *all(): Iterable<Result> {
    for (const results of this.sheets) yield* results.values()
  }

  /**
   * Begins anew with all formulas of the workbook.
   * @param held the result that stands for a formula that cannot be calculated
   */
  private build(held: (at: FormulaAt) => CellValue | undefined): boolean {
    this.close()
    const { workbook, source } = this
    this.around.workbook = workbook
    this.around.source = source
    this.watched.clear()
    this.unknown.clear()
    this.sheets = workbook.sheets.map(() => new Map())
    const formulas = formulasOf(workbook, source)
    this.restless = formulas.some(({ formula }) => volatile.test(formula))
    if (!formulas.length) return false
    const contents = workbook.sheets.map(plainContents)
    for (const at of formulas) {
      const result = this.translated(at)
      if (result.pinned) result.shown = held(at) ?? noResult
      this.sheets[at.sheet]!.set(keyOf(at.row, at.column), result)
      const rows = contents[at.sheet]!
      while (rows.length <= at.row) rows.push([])
      const line = rows[at.row]!
      while (line.length <= at.column) line.push(null)
      line[at.column] = result.pinned ? valueContent(result.shown) : result.text
    }
    this.engine = engineOf(workbook, contents, () => this.source)
    this.moveAll()
    return true
  }
  private translated(at: FormulaAt): Result {
    const found = translateAt(at, this.around)
    const text = 'text' in found ? `=${found.text}` : null
    const result: Result = {
      at,
      shown: noResult,
      computed: noResult,
      fresh: false,
      pinned: text === null,
      lost: false,
      text,
      why: 'unsupported' in found ? found.unsupported : null,
      reads: found.reads,
      moving: found.moving,
    }
    if (result.pinned || result.moving) this.watched.add(result)
    return result
  }
  private sheetId(sheet: number): number {
    return this.engine!.getSheetId(this.workbook.sheets[sheet]!.name)!
  }
  private addressOf({ sheet, row, column }: Place): SimpleCellAddress {
    return { sheet: this.sheetId(sheet), row, col: column }
  }
  private computedAt(at: FormulaAt): CellValue {
    return resultOf(this.engine!.getCellValue(this.addressOf(at)))
  }
  private sheetOf(address: SimpleCellAddress): number {
    const name = this.engine!.getSheetName(address.sheet)
    return this.workbook.sheets.findIndex((sheet) => sheet.name === name)
  }
  private resultAt(address: SimpleCellAddress): Result | undefined {
    return this.sheets[this.sheetOf(address)]?.get(keyOf(address.row, address.col))
  }

  /** Formulas that point at what they calculate are pointed anew, until none of them moves. @returns what changed */
  private moveAll(): SimpleCellAddress[] {
    const moving = [...this.watched].filter(({ moving, pinned }) => moving && !pinned)
    const changed: SimpleCellAddress[] = []
    for (let round = 0; moving.length && round <= mostMoves; round++) {
      let moved = false
      for (const result of moving) {
        const found = translateAt(result.at, this.around)
        const text = 'text' in found && round < mostMoves ? `=${found.text}` : null
        if (text === result.text) continue
        moved = true
        result.reads = found.reads
        result.text = text
        result.pinned = text === null
        result.lost ||= result.pinned
        const changes = this.engine!.setCellContents(this.addressOf(result.at), [[text ?? '#NAME?']])
        for (const change of changes) if ('address' in change) changed.push(change.address)
      }
      if (!moved) break
    }
    return changed
  }

  /**
   * Gives the engine the file's result for a formula that fails here though what it reads does not, round by round:
   * what failed only because of those comes right by itself.
   */
  private pin(): void {
    for (let round = 0; round < mostRounds; round++) {
      const failing = [...this.all()].filter(
        ({ pinned, computed, shown }) => !pinned && isError(computed) && !isError(shown),
      )
      if (!failing.length) return
      const roots = failing.filter(
        (result) =>
          round === mostRounds - 1 ||
          !result.reads.some((area) => failing.some(({ at }) => at !== result.at && within(area, at))),
      )
      const chosen = roots.length ? roots : failing
      for (const result of chosen) {
        result.pinned = true
        this.watched.add(result)
      }
      this.setPinned(chosen)
      for (const result of failing) if (!result.pinned) result.computed = this.computedAt(result.at)
    }
  }
  private setPinned(all: readonly Result[]): void {
    this.engine!.batch(() => {
      for (const { at, shown } of all) this.engine!.setCellContents(this.addressOf(at), [[valueContent(shown)]])
    })
  }

  /** What is of another moment is shown as of now, with what depends on it; the file keeps what it has. */
  private renewVolatile(): void {
    if (!this.restless) return
    const from = [...this.all()].filter(({ at }) => volatile.test(at.formula))
    for (const result of this.reach(from.map(({ at }) => this.addressOf(at))))
      if (!result.pinned) result.shown = result.computed
  }

  /** All results that depend on some cells, and those of these cells. */
  private reach(from: readonly SimpleCellAddress[]): Set<Result> {
    const engine = this.engine!
    const seen = new Set<string>()
    const reached = new Set<Result>()
    const open: (SimpleCellAddress | SimpleCellRange)[] = [...from]
    for (let one = open.pop(); one; one = open.pop()) {
      const name =
        'start' in one
          ? `${one.start.sheet} ${one.start.row} ${one.start.col} ${one.end.row} ${one.end.col}`
          : `${one.sheet} ${one.row} ${one.col}`
      if (seen.has(name)) continue
      seen.add(name)
      const result = 'start' in one ? undefined : this.resultAt(one)
      if (result) reached.add(result)
      open.push(...engine.getCellDependents(one))
    }
    return reached
  }

  /** What depends on a result that is not known is not known either. @param edited it follows from an edit */
  private spread(edited: boolean): void {
    const before = this.unknown
    let roots = [...this.watched].filter(({ lost, shown }) => lost || isInternal(shown))
    this.unknown = new Set(roots)
    while (roots.length) {
      const from = roots.flatMap(({ at }) => [at, ...cellsOf(at)])
      for (const result of this.reach(from.map((at) => this.addressOf(at)))) this.unknown.add(result)
      // The engine does not see what a pinned one reads.
      roots = [...this.watched].filter(
        (result) =>
          result.pinned &&
          !this.unknown.has(result) &&
          result.reads.some((area) => [...this.unknown].some(({ at }) => overlaps(area, at))),
      )
      for (const result of roots) {
        result.lost = true
        this.unknown.add(result)
      }
    }
    if (edited) for (const result of this.unknown) if (!before.has(result)) result.fresh = true
  }

  private follow(ops: readonly Extract<WorkbookOp, { op: 'cells' }>[], after: Workbook): ChangedResults {
    const engine = this.engine!
    this.workbook = after
    this.around.workbook = after
    const edited = new Map<string, FormulaAt>()
    for (const { sheet, cells } of ops)
      for (const { row, column } of cells)
        edited.set(`${sheet} ${keyOf(row, column)}`, { sheet, row, column, formula: '', array: null })
    const told: ChangedResults = new Map()
    const tell = (sheet: number, key: number, value: CellValue | null) => {
      const list = told.get(sheet) ?? []
      told.set(sheet, list)
      list.push([key, value])
    }
    const own = new Set<Result>()
    const changes = engine.batch(() => {
      for (const at of edited.values()) {
        const key = keyOf(at.row, at.column)
        const results = this.sheets[at.sheet]!
        const was = results.get(key)
        if (was) {
          this.watched.delete(was)
          this.unknown.delete(was)
        }
        const cell = after.sheets[at.sheet]!.rows[at.row]?.[at.column]
        if (cell?.formula === undefined) {
          if (results.delete(key)) tell(at.sheet, key, null)
          engine.setCellContents(this.addressOf(at), [[valueContent(cell?.value)]])
          continue
        }
        at.formula = cell.formula
        if (volatile.test(cell.formula)) this.restless = true
        const result = this.translated(at)
        result.fresh = true
        result.lost = result.pinned
        results.set(key, result)
        own.add(result)
        engine.setCellContents(this.addressOf(at), [[result.text ?? '#NAME?']])
      }
    })
    const changed = changes.flatMap((change) => ('address' in change ? [change.address] : []))
    changed.push(...this.moveAll())
    const touched: { sheet: number; row: number; column: number }[] = [...edited.values()]
    for (const result of own) {
      result.computed = result.pinned ? noResult : this.computedAt(result.at)
      result.shown = result.computed
      if (isInternal(result.shown)) this.watched.add(result)
      tell(result.at.sheet, keyOf(result.at.row, result.at.column), result.shown)
    }
    const reached = this.restless ? this.reach([...edited.values()].map((at) => this.addressOf(at))) : null
    for (const result of new Set(changed.map((address) => this.resultAt(address)))) {
      if (!result || own.has(result)) continue
      touched.push(result.at)
      if (!result.pinned) {
        result.computed = this.computedAt(result.at)
        result.shown = result.computed
      }
      if (isInternal(result.shown)) this.watched.add(result)
      if (!reached || reached.has(result)) result.fresh = true
      tell(result.at.sheet, keyOf(result.at.row, result.at.column), result.shown)
    }
    for (const result of this.watched) {
      if (!result.pinned || result.lost) continue
      if (!touched.some((cell) => result.reads.some((area) => within(area, cell)))) continue
      result.lost = true
      result.fresh = true
    }
    this.spread(true)
    return told
  }

  /** Rows, columns or sheets come, go or move: results move along with their cells, and all is calculated anew. */
  private reshape(ops: readonly WorkbookOp[], after: Workbook): void {
    // Each result takes the way that its cell takes.
    const all: Result[] = []
    const places: Workbook = {
      sheets: this.workbook.sheets.map((sheet, index) => {
        const rows: { value: string }[][] = []
        for (const [key, result] of this.sheets[index] ?? []) {
          const { row, column } = placeOf(key)
          while (rows.length <= row) rows.push([])
          rows[row]![column] = { value: `${mark}${all.push(result) - 1}` }
        }
        return { ...sheet, rows: rows.map((row) => Array.from(row)) }
      }),
    }
    const moved = applyOps(places, ops)
    let stepped = this.workbook
    for (const op of ops) {
      this.source = sourceAfter(this.source, op, stepped)
      stepped = applyOp(stepped, op)
    }
    const known = this.engine !== null
    this.workbook = after
    const wasAt = ({ sheet, row, column, formula }: FormulaAt): Result | undefined => {
      const at = moved.sheets[sheet]?.rows[row]?.[column]
      const was =
        typeof at?.value === 'string' && at.value.startsWith(mark) ? all[Number(at.value.slice(1))] : undefined
      return was && formula.includes('#REF!') && !was.at.formula.includes('#REF!') ? undefined : was
    }
    if (!this.build((at) => wasAt(at)?.shown)) return
    const pinned: Result[] = []
    for (const result of this.all()) {
      const was = wasAt(result.at)
      if (!was) {
        result.fresh = true
        result.lost = result.pinned
        continue
      }
      result.shown = was.shown
      result.computed = was.computed
      result.fresh = was.fresh
      result.lost = was.pinned && (was.lost || ops.some((op) => concerns(op, [...was.reads, ...result.reads])))
      if (result.lost) result.fresh ||= !was.lost
      if (!was.pinned || result.pinned) continue
      result.pinned = true
      this.watched.add(result)
      pinned.push(result)
    }
    if (pinned.length) this.setPinned(pinned)
    const changed: FormulaAt[] = []
    for (const result of this.all()) {
      if (result.pinned) continue
      const computed = this.computedAt(result.at)
      if (isInternal(computed)) this.watched.add(result)
      if (known && !result.fresh && sameValue(computed, result.computed)) continue
      Object.assign(result, { computed, shown: computed, fresh: true })
      changed.push(result.at)
    }
    for (const result of this.watched) {
      if (!result.pinned || result.lost) continue
      if (!changed.some((cell) => result.reads.some((area) => within(area, cell)))) continue
      Object.assign(result, { lost: true, fresh: true })
    }
    this.spread(true)
  }
}

/** Alike but for the last digits, which programs reckon each in its own way. */
const near = (a: CellValue, b: CellValue): boolean =>
  typeof a === 'number' && typeof b === 'number'
    ? Math.abs(a - b) <= 1e-9 * Math.max(Math.abs(a), Math.abs(b))
    : sameValue(a, b)
const within = (area: Area, cell: { sheet: number; row: number; column: number }): boolean =>
  cell.sheet === area.sheet &&
  cell.row >= area.top &&
  cell.row <= area.bottom &&
  cell.column >= area.left &&
  cell.column <= area.right
/** Whether an edit may change what stands in some areas, as they were or as they are. */
function concerns(op: WorkbookOp, areas: readonly Area[]): boolean {
  if (op.op === 'cells')
    return op.cells.some((cell) => areas.some((area) => within(area, { ...cell, sheet: op.sheet })))
  if (op.op !== 'remove') return false
  return areas.some(({ sheet, top, left, bottom, right }) => {
    const [first, last] = op.axis === 'rows' ? [top, bottom] : [left, right]
    return sheet === op.sheet && op.at <= last && op.at + op.count > first
  })
}
const overlaps = (area: Area, { array, ...at }: FormulaAt): boolean =>
  array
    ? array.sheet === area.sheet &&
      array.top <= area.bottom &&
      array.bottom >= area.top &&
      array.left <= area.right &&
      array.right >= area.left
    : within(area, at)
/** The other cells that an array fills. */
function cellsOf({ array, row, column }: FormulaAt): Place[] {
  if (!array) return []
  const cells: Place[] = []
  for (let y = array.top; y <= array.bottom; y++)
    for (let x = array.left; x <= array.right; x++)
      if (y !== row || x !== column) cells.push({ sheet: array.sheet, row: y, column: x })
  return cells
}
