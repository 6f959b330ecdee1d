// What every feature of the table is asked, whatever it is of.
import { askPython } from './python'

type Aspect = 'saved' | 'opened again' | 'undone' | 'told' | 'merged' | 'read by another program'
export interface Held {
  name: string
  type: string
  /** What of it does not hold, and what there was instead. */
  faults: Partial<Record<Aspect, unknown>>
}
/** What a program that knows nothing of this one is asked about a file, and what it has to answer. */
type Read = readonly [expression: string, value: unknown]

/**
 * All features in files of a type; those that it has no place for are left out.
 * @param preludes as askPython has them
 * @param held what is asked of each but for what another program has of its file
 */
export function heldIn<Type extends string, Feature extends { readonly [K in Type]?: Read }>(
  features: readonly Feature[],
  type: Type,
  preludes: Readonly<Record<string, string>>,
  held: (feature: Feature, type: Type) => { held: Held; bytes: Uint8Array },
): Held[] {
  const asked = features.flatMap((feature) => {
    const read: Read | undefined = feature[type]
    return read ? [{ ...held(feature, type), type, expression: read[0], value: read[1] }] : []
  })
  askPython(asked, preludes).forEach((answer, index) => {
    const { value, held: one } = asked[index]!
    if (JSON.stringify(answer) !== JSON.stringify(value)) one.faults['read by another program'] = answer
  })
  return asked.map((one) => one.held)
}
