import { type Remote, wrap } from 'comlink'
import type { Arranging } from './arrange.worker'

let remote: Remote<Arranging> | undefined
/** Started when the first pages are laid onto sides. */
export const arranging = (): Remote<Arranging> => {
  remote ??= wrap<Arranging>(
    new Worker(new URL('./arrange.worker.ts', import.meta.url), { type: 'module', name: 'arrange' }),
  )
  return remote
}
