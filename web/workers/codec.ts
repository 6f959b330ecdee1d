import { type Remote, wrap } from 'comlink'
import type { Codec } from './codec.worker'

let remote: Remote<Codec> | undefined
/** The document codec in its worker. */
export function codec(): Remote<Codec> {
  remote ??= wrap<Codec>(new Worker(new URL('./codec.worker.ts', import.meta.url), { type: 'module', name: 'codec' }))
  return remote
}
