// A workbook that is only looked at: an earlier moment, with the results its file holds.
import { type CellSearch, type FoundCell, findCells } from '../../../core/content/find-cells'
import type { Choice } from '../../../core/content/sheet-filter'
import { type CellValue, largestSheet, type Workbook } from '../../../core/content/workbook'
import type { WorkbookStore } from './store'

/** What a sheet on screen needs of a workbook. */
export type ShownWorkbook = Pick<
  WorkbookStore,
  | 'workbook'
  | 'reveal'
  | 'result'
  | 'markOf'
  | 'busy'
  | 'csv'
  | 'names'
  | 'calculation'
  | 'find'
  | 'functions'
  | 'choices'
  | 'hiddenBy'
  | 'tableWithin'
  | 'stopCalculation'
  | 'calculateAgain'
  | 'change'
  | 'undo'
  | 'redo'
  | 'canUndo'
  | 'canRedo'
  | 'typing'
  | 'subscribe'
  | 'snapshot'
>

export class StillWorkbook implements ShownWorkbook {
  reveal: WorkbookStore['reveal'] = null
  readonly busy = false
  readonly csv = null
  readonly names = []
  readonly calculation = { is: 'done' as const }
  readonly canUndo = false
  readonly canRedo = false
  constructor(
    readonly workbook: Workbook,
    private readonly results: readonly ReadonlyMap<number, CellValue>[],
  ) {}
  result(sheet: number, row: number, column: number): CellValue | undefined {
    return this.results[sheet]?.get(row * largestSheet.columns + column)
  }
  markOf(): undefined {}
  async find(search: CellSearch, only: number | null): Promise<FoundCell[]> {
    return findCells(this.workbook, search, (...at) => this.result(...at), only)
  }
  async functions(): Promise<string[]> {
    return []
  }
  async choices(): Promise<Choice[]> {
    return []
  }
  async hiddenBy(): Promise<number[]> {
    return []
  }
  async tableWithin(): Promise<null> {
    return null
  }
  async stopCalculation(): Promise<void> {}
  async calculateAgain(): Promise<void> {}
  change(): void {}
  undo(): void {}
  redo(): void {}
  typing(): void {}
  subscribe = () => () => {}
  snapshot = () => 0
}
