// The work of comparing versions, where it is called: the thread's (compare.worker.ts), or a test's.
import { compareDecoded, decodedState } from '../../core/compare/files'
import { cameAndWent } from '../../core/compare/text-lines'
import { Tracer } from '../../core/compare/trace'
import { keptLines } from '../../core/history/kept-lines'
import type { Comparing } from './threads'

/** @returns comparing that keeps its traces until they are ended */
export function openComparing(): Comparing {
  const traces = new Map<string, Tracer>()
  return {
    async describe(older, newer) {
      const was = older && decodedState(older)
      const now = decodedState(newer)
      const { summary, weight } = compareDecoded(was, now)
      const lines = now.content && keptLines(cameAndWent(was?.content ?? null, now.content))
      return { summary, weight, lines }
    },
    async begin(trace, version, place) {
      const tracer = new Tracer(version, place)
      traces.set(trace, tracer)
      return tracer.text
    },
    async back(trace, version) {
      return traces.get(trace)?.back(version) ?? null
    },
    end: (trace) => void traces.delete(trace),
    close: async () => {},
  }
}
/** For tests. */
export const compareHere = openComparing()
