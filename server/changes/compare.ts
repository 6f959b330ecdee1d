// The work of comparing versions, where it is called: the thread's (compare.worker.ts), or a test's.
import { compareFiles } from '../../core/compare/files'
import { Tracer } from '../../core/compare/trace'
import type { Comparing } from './threads'

/** @returns comparing that keeps its traces until they are ended */
export function openComparing(): Comparing {
  const traces = new Map<string, Tracer>()
  return {
    async describe(older, newer) {
      const { summary, weight } = compareFiles(older, newer)
      return { summary, weight }
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
