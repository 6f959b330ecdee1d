// The side of the calculation that the workbook's worker has: what was calculated last, what was done since, and how
// long it has been at it. Its answers come when they come; what is known meanwhile is told without them.
import { type Remote, wrap } from 'comlink'
import type { Mark } from '../../core/calc/engine'
import { formulasOf } from '../../core/calc/formulas'
import { type FormulaSource, sourceAfter } from '../../core/calc/source'
import { type Settled, unsettled } from '../../core/calc/unsettled'
import { type CellValue, largestSheet, type Workbook } from '../../core/content/workbook'
import { applyOp, type WorkbookOp } from '../../core/content/workbook-ops'
import type { Calculated, Engine } from './engine.worker'

/** Only a build for measuring and tests are in a greater hurry. */
declare const __PACE__: number
/** A calculation that takes this long is told of; one that takes `longestCalculation` is stopped; milliseconds. */
const noticedAfter = 1000 / __PACE__
const longestCalculation = 60_000

export type StoppedBy = 'person' | 'bound' | 'failure'
/** How the calculation stands: done (or soon), at work for long, or stopped. */
export type CalculationState =
  | { is: 'done' }
  | { is: 'working'; since: number; formulas: number }
  | { is: 'stopped'; by: StoppedBy; unknown: number }

/** What a save may write of the results. */
export interface Known {
  resultOf(sheet: number, row: number, column: number): CellValue | undefined
  isNew(sheet: number, row: number, column: number): boolean
  /** Some result is not known: whoever opens the file has to calculate it. */
  recalculate: boolean
  /** Everything is calculated. */
  whole: boolean
}
/** What is to be shown. */
export interface Shown {
  /** Results that changed; where that is null, `results` are to be shown anew. */
  changed: Calculated['changed']
  results: readonly ReadonlyMap<number, CellValue>[]
  marks: readonly Mark[]
}
/** A workbook as its file has it. */
export interface CalculationBase {
  workbook: Workbook
  results: readonly (ReadonlyMap<number, CellValue> | undefined)[]
  source: FormulaSource
}
interface Running {
  worker: Worker
  engine: Remote<Engine>
  /** Resolves when it is ended before it has answered. */
  ended: Promise<null>
  end(): void
}
/** Whether an edit may put a formula where none was. */
const bringsFormula = (op: WorkbookOp): boolean => {
  const cells = op.op === 'cells' ? op.cells : op.op === 'put sheet' ? op.sheet.cells : []
  return cells.some(({ cell }) => cell?.formula !== undefined)
}
const keyOf = (row: number, column: number): number => row * largestSheet.columns + column

export class Calculating {
  private running: Running | null = null
  private settled: Settled
  private marks: readonly Mark[] = []
  /** What was done since the results were calculated, by edits. */
  private open: (readonly WorkbookOp[])[]
  /** The newest question; resolves when it is answered, or never will be. */
  private latest: Promise<void> = Promise.resolve()
  private questions = 0
  private timers: ReturnType<typeof setTimeout>[] = []
  private stoppedBy: StoppedBy | null = null
  /** There are no formulas, and no engine. */
  private plain = false
  private lastTold: CalculationState['is'] = 'done'
  private showing: Promise<void> = Promise.resolve()

  /** @param ops what was done since the file; @param now the workbook with it */
  constructor(
    { workbook, results: stored, source }: CalculationBase,
    ops: readonly WorkbookOp[],
    private now: Workbook,
    private readonly show: (shown: Shown) => Promise<void>,
    private readonly told: (state: CalculationState) => void,
    private readonly longest = longestCalculation,
  ) {
    const unknown = workbook.sheets.map(() => new Set<number>())
    for (const { sheet, row, column } of formulasOf(workbook, source))
      if (stored[sheet]?.get(keyOf(row, column)) === undefined) unknown[sheet]!.add(keyOf(row, column))
    const results = workbook.sheets.map((_, index) => new Map(stored[index]))
    this.settled = { workbook, source, results, unknown, fresh: workbook.sheets.map(() => new Set<number>()) }
    this.open = ops.length ? [[...ops]] : []
    // A workbook without formulas needs no engine, which would need a copy of all of it.
    this.plain = ![workbook, now].some((one) => formulasOf(one, source).length) && !ops.some(bringsFormula)
    if (this.plain) this.settlePlain()
    else this.begin()
  }

  /** Follows edits. @returns when what came of them has been shown, or the calculation is stopped */
  async apply(ops: readonly WorkbookOp[], now: Workbook): Promise<void> {
    this.now = now
    this.open.push(ops)
    if (this.plain && !ops.some(bringsFormula)) this.settlePlain()
    else if (this.plain) {
      this.plain = false
      this.begin()
      await this.latest
      await this.showing
    } else if (this.stoppedBy) await this.showUnsettled()
    else {
      this.ask((engine) => engine.apply([...ops]), 1)
      await this.latest
      await this.showing
    }
  }

  /** What is known when everything is calculated, or after `patience` milliseconds. */
  async known(patience: number): Promise<Known> {
    let timer: ReturnType<typeof setTimeout> | undefined
    await Promise.race([this.latest, new Promise((done) => (timer = setTimeout(done, patience)))])
    clearTimeout(timer)
    const { results, unknown, fresh } = this.facts()
    return {
      resultOf: (sheet, row, column) =>
        unknown[sheet]?.has(keyOf(row, column)) ? undefined : results[sheet]?.get(keyOf(row, column)),
      isNew: (sheet, row, column) => fresh[sheet]?.has(keyOf(row, column)) ?? false,
      recalculate: unknown.some(({ size }) => size > 0),
      whole: this.open.length === 0 && this.questions === 0,
    }
  }

  /** Ends what it is at; edits are not calculated until it goes on. */
  async stop(by: StoppedBy = 'person'): Promise<void> {
    if (this.stoppedBy || !this.running) return
    this.stoppedBy = by
    this.close()
    await this.showUnsettled()
  }
  /** Calculates again: the workbook as it is now, with what is known of it. */
  goOn(): void {
    if (!this.stoppedBy) return
    this.stoppedBy = null
    this.tell({ is: 'done' })
    const { results, unknown, fresh } = this.facts()
    const { workbook, source } = this.after(this.open.flat())
    const known = results.map(
      (values, sheet) => new Map([...values].filter(([key]) => !unknown[sheet]!.has(key))) as Map<number, CellValue>,
    )
    this.settled = { workbook, source, results: known, unknown, fresh }
    this.open = []
    this.begin()
  }
  close(): void {
    this.running?.worker.terminate()
    this.running?.end()
    this.running = null
    this.quiet()
  }

  private settlePlain(): void {
    const { workbook, source } = this.after(this.open.flat())
    this.open = []
    const each = <T>(make: () => T) => workbook.sheets.map(make)
    this.settled = {
      workbook,
      source,
      results: each(() => new Map<number, CellValue>()),
      unknown: each(() => new Set<number>()),
      fresh: each(() => new Set<number>()),
    }
  }

  /** Begins with what was known last: an engine that was ended takes what it knew along. */
  private begin(): void {
    const worker = new Worker(new URL('./engine.worker.ts', import.meta.url), { type: 'module', name: 'engine' })
    let end = () => {}
    const ended = new Promise<null>((done) => {
      end = () => done(null)
    })
    this.running = { worker, engine: wrap<Engine>(worker), ended, end }
    worker.onerror = () => {
      if (this.running?.worker === worker) void this.stop('failure')
    }
    const { workbook, results, source, fresh } = this.settled
    const ops = this.open.flat()
    this.questions = 0
    this.ask(
      (engine) => engine.begin(workbook, results as Map<number, CellValue>[], source, fresh as Set<number>[], ops),
      null,
    )
  }

  /** @param edits how many of the open ones the answer holds; all of them for null */
  private ask(what: (engine: Remote<Engine>) => Promise<Calculated>, edits: number | null): void {
    const running = this.running!
    const holds = edits ?? this.open.length
    this.questions++
    this.watch()
    const answer = Promise.race([what(running.engine), running.ended])
    this.latest = answer.then(
      (calculated) => {
        if (calculated && this.running === running) this.take(calculated, holds)
      },
      () => {
        if (this.running === running) void this.stop('failure')
      },
    )
  }
  private take({ changed, results, marks, unknown, fresh }: Calculated, edits: number): void {
    const { workbook, source } = this.after(this.open.splice(0, edits).flat())
    const kept = results ?? (this.settled.results as Map<number, CellValue>[])
    for (const [sheet, values] of changed ?? []) {
      kept[sheet] ??= new Map()
      for (const [key, value] of values) value === null ? kept[sheet].delete(key) : kept[sheet].set(key, value)
    }
    this.settled = { workbook, source, results: kept, unknown, fresh }
    this.marks = marks
    this.quiet()
    if (--this.questions) this.watch()
    this.say({ changed, results: kept, marks })
  }
  private after(ops: readonly WorkbookOp[]): Pick<Settled, 'workbook' | 'source'> {
    let { workbook, source } = this.settled
    for (const op of ops) {
      source = sourceAfter(source, op, workbook)
      workbook = applyOp(workbook, op)
    }
    return { workbook, source }
  }
  private say(shown: Shown): Promise<void> {
    this.showing = this.showing.then(() => this.show(shown))
    return this.showing
  }

  /** It is told of when it takes long, and stopped when it takes too long. */
  private watch(): void {
    if (this.timers.length) return
    const since = Date.now()
    const noticed = () => {
      const formulas = formulasOf(this.now, this.settled.source).length
      this.tell({ is: 'working', since, formulas })
    }
    this.timers = [setTimeout(noticed, noticedAfter), setTimeout(() => void this.stop('bound'), this.longest)]
  }
  private quiet(): void {
    for (const timer of this.timers) clearTimeout(timer)
    this.timers = []
    if (!this.stoppedBy) this.tell({ is: 'done' })
  }

  private tell(state: CalculationState): void {
    if (state.is === 'done' && this.lastTold === 'done') return
    this.lastTold = state.is
    this.told(state)
  }
  private facts(): Pick<Settled, 'results' | 'unknown' | 'fresh'> {
    return this.open.length ? unsettled(this.settled, this.open.flat(), this.now) : this.settled
  }
  private async showUnsettled(): Promise<void> {
    const by = this.stoppedBy
    if (!by) return
    const found = this.open.length ? unsettled(this.settled, this.open.flat(), this.now) : null
    const { results, unknown } = found ?? this.settled
    const marks: Mark[] = []
    for (const mark of this.marks) {
      const place = found ? found.places.get(`${mark.sheet} ${mark.key}`) : mark
      if (place && !unknown[place.sheet]!.has(place.key)) marks.push({ ...mark, sheet: place.sheet, key: place.key })
    }
    for (const [sheet, keys] of unknown.entries())
      for (const key of keys) marks.push({ sheet, key, standing: 'stale', why: null })
    this.tell({ is: 'stopped', by, unknown: unknown.reduce((sum, { size }) => sum + size, 0) })
    await this.say({ changed: null, results, marks })
  }
}
