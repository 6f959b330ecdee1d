// A change of what stands at the head or the foot of a document's pages, as a step of the document that holds it: so it
// is journaled, undone and replayed with everything else.
import type { Node, Schema } from 'prosemirror-model'
import { Step, StepMap, StepResult } from 'prosemirror-transform'
import { type EdgeName, edgeKey, edgeOf, edgesOf, storyJSON, storyOf, withEdges } from './edges'

export class EdgeStep extends Step {
  constructor(
    readonly name: EdgeName,
    /** The step of the small document. */
    readonly inner: Step,
  ) {
    super()
  }
  override apply(doc: Node): StepResult {
    const edge = edgeOf(edgesOf(doc), this.name)
    if (!edge) return StepResult.fail('It has no such edge.')
    const { doc: story, failed } = this.inner.apply(storyOf(edge))
    if (!story) return StepResult.fail(failed ?? '')
    const others = edgesOf(doc).filter((one) => one !== edge)
    return StepResult.ok(withEdges(doc, [...others, { ...edge, json: storyJSON(story) }]))
  }
  override invert(doc: Node): Step {
    return new EdgeStep(this.name, this.inner.invert(storyOf(edgeOf(edgesOf(doc), this.name)!)))
  }
  override getMap(): StepMap {
    return StepMap.empty
  }
  override map(): Step {
    return this
  }
  override merge(other: Step): Step | null {
    if (!(other instanceof EdgeStep) || edgeKey(other.name) !== edgeKey(this.name)) return null
    const inner = this.inner.merge(other.inner)
    return inner && new EdgeStep(this.name, inner)
  }
  override toJSON(): unknown {
    const { edge, on } = this.name
    return { stepType: 'edge', edge, on, step: this.inner.toJSON() }
  }
  static override fromJSON(schema: Schema, json: EdgeName & { step: unknown }): EdgeStep {
    if ((json.edge !== 'head' && json.edge !== 'foot') || !['all', 'first', 'even'].includes(json.on))
      throw new RangeError('no edge')
    return new EdgeStep({ edge: json.edge, on: json.on }, Step.fromJSON(schema, json.step))
  }
}
Step.jsonID('edge', EdgeStep)
