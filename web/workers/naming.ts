import { type Remote, wrap } from 'comlink'
import type { NamingWork } from './naming.worker'

let remote: Remote<NamingWork> | undefined
/** Checks and audits of names in their worker. */
export function namingWork(): Remote<NamingWork> {
  remote ??= wrap<NamingWork>(
    new Worker(new URL('./naming.worker.ts', import.meta.url), { type: 'module', name: 'naming' }),
  )
  return remote
}
