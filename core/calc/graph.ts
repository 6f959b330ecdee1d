// The engine ties each cell of a range to the range anew for every formula that reads it: a thousand sums over one
// column of thousands take it seconds. A range that it knows already is only tied to the formula here.
import { HyperFormula } from 'hyperformula'

interface Vertex {
  idInGraph?: number
}
interface Range {
  start: unknown
  end: unknown
}
interface Graph {
  getRange(start: unknown, end: unknown): Vertex | undefined
  graph: { addEdge(from: number, to: number): void }
  processCellDependencies(dependencies: unknown[], end: Vertex): void
}
const isRange = (one: unknown): one is Range =>
  typeof one === 'object' && one !== null && 'start' in one && 'end' in one

/** Changes it for all engines; once. */
export function tieRangesOnce(): void {
  const engine = HyperFormula.buildEmpty({ licenseKey: 'gpl-v3' })
  const graph = Object.getPrototypeOf(engine.dependencyGraph) as Graph
  engine.destroy()
  const tie = graph.processCellDependencies
  graph.processCellDependencies = function (this: Graph, dependencies, end) {
    const others = dependencies.filter((one) => {
      const known = isRange(one) ? this.getRange(one.start, one.end)?.idInGraph : undefined
      if (known === undefined || end.idInGraph === undefined) return true
      this.graph.addEdge(known, end.idInGraph)
      return false
    })
    tie.call(this, others, end)
  }
}
