// The results of a workbook that nobody edits, from an engine of its own that ends with them.
import { wrap } from 'comlink'
import type { CellValue } from '../../core/content/workbook'
import type { WorkbookOp } from '../../core/content/workbook-ops'
import type { CalculationBase } from './calculating'
import type { Engine } from './engine.worker'

/**
 * @param ops what was done since the file
 * @param patience milliseconds
 * @returns by sheet, `row * 16384 + column`; null when it takes longer, or cannot be done
 */
export async function calculateOnce(
  { workbook, results, source }: CalculationBase,
  ops: WorkbookOp[],
  patience: number,
): Promise<Map<number, CellValue>[] | null> {
  const worker = new Worker(new URL('./engine.worker.ts', import.meta.url), { type: 'module', name: 'engine' })
  let timer: ReturnType<typeof setTimeout> | undefined
  try {
    const calculated = await Promise.race([
      wrap<Engine>(worker).begin(workbook, results as Map<number, CellValue>[], source, [], ops),
      new Promise<null>((done) => {
        timer = setTimeout(() => done(null), patience)
        worker.onerror = () => done(null)
      }),
    ])
    return calculated?.results ?? null
  } catch {
    return null
  } finally {
    clearTimeout(timer)
    worker.terminate()
  }
}
