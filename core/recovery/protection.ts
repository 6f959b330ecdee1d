// How often a piece of work is protected: the most specific setting wins, the managers' bounds hold
// for whatever won, and which one did, and why, can be said.

import { type ProtectionLayer, standardInterval } from '../contract'
import { type Said, type Sentence, say } from '../words/said'

export interface Protection {
  /** Seconds between recovery points; 0 for none. */
  interval: number
  /** Why it is this one. */
  intervalWhy: Sentence
  continuous: boolean
  continuousWhy: Sentence
}

/** "30 seconds", "1 minute", "5 minutes", "90 seconds", "none". */
export const sayInterval = (seconds: number): Said =>
  seconds < 60 || seconds % 60
    ? say('reach.interval', { seconds })
    : say('reach.interval-minutes', { minutes: seconds / 60 })

function why({ level, name, by }: ProtectionLayer): Sentence {
  if (level === 'person') return say('reach.your-own-setting')
  const place =
    level === 'kind' ? say('reach.kind-files', { kind: name }) : level === 'file' ? say('reach.this-file') : `‹${name}›`
  return say(by === 'managers' ? 'reach.set-by-managers' : 'reach.you-set-it', { place })
}

/** @param layers from the widest to the narrowest */
export function resolveProtection(layers: readonly ProtectionLayer[]): Protection {
  const last = <K extends 'interval' | 'continuous' | 'least' | 'most'>(key: K) =>
    layers.findLast((layer) => layer[key] !== null)
  const [set, least, most, continuous] = [last('interval'), last('least'), last('most'), last('continuous')]
  const asked = set?.interval ?? standardInterval
  // No points at all are the longest interval there is: where the managers set a longest one, that holds.
  const wanted = asked === 0 ? Number.POSITIVE_INFINITY : asked
  // The upper bound protects; it holds where the two contradict each other.
  const bounded = Math.min(Math.max(wanted, least?.least ?? 0), most?.most ?? Number.POSITIVE_INFINITY)
  const interval = Number.isFinite(bounded) ? bounded : 0
  const reason = set ? why(set) : say('reach.the-usual')
  const bound = bounded < wanted ? most : bounded > wanted ? least : undefined
  return {
    interval,
    intervalWhy: bound
      ? say('reach.but-managers', {
          reason,
          asked: sayInterval(asked),
          name: bound.name,
          most: bounded < wanted,
          given: sayInterval(interval),
        })
      : reason,
    continuous: continuous?.continuous ?? false,
    continuousWhy: continuous ? why(continuous) : say('reach.the-usual'),
  }
}
