// Large buffers are freed when V8 next looks for garbage, and it looks late for what lies outside its heap: a large
// file would leave hundreds of megabytes of them behind on its way through. Whoever works on one asks for a look.
import { setFlagsFromString } from 'node:v8'
import { runInNewContext } from 'node:vm'
import { isMainThread } from 'node:worker_threads'

let look: ((options?: { type: 'minor' }) => void) | null = null
let passed = 0
let passedInAll = 0

/** Every so many bytes garbage is looked for; a look at what is young takes about a millisecond. */
const every = 4 << 20
/** What is as large as this, and was held for long, is worth a look at everything. */
const worthAll = 16 << 20

/** Buffers that lived a little longer are only found by a look at everything: some milliseconds in a thread. */
const everyAll = isMainThread ? 96 << 20 : 24 << 20

/**
 * Tells that buffers were used and let go of.
 * @param young bytes that were held for a moment
 * @param old bytes that were held for longer
 */
export function letGoOf(young: number, old = 0): void {
  passed += young
  passedInAll += young
  if (passed < every && old < worthAll) return
  passed = 0
  if (!look) {
    setFlagsFromString('--expose-gc')
    look = runInNewContext('gc') as typeof look
  }
  if (old >= worthAll || passedInAll >= everyAll) {
    passedInAll = 0
    look!()
  } else look!({ type: 'minor' })
}
