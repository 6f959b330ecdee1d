import { type Remote, wrap } from 'comlink'
import type { CompareWork } from './compare.worker'

let remote: Remote<CompareWork> | undefined
/** Comparing, in its worker. */
export function compareWork(): Remote<CompareWork> {
  remote ??= wrap<CompareWork>(
    new Worker(new URL('./compare.worker.ts', import.meta.url), { type: 'module', name: 'compare' }),
  )
  return remote
}
