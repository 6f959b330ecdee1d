// How often a piece of work is protected: the most specific setting wins, the managers' bounds hold
// for whatever won, and which one did, and why, can be said.
import { type ProtectionLayer, standardInterval } from '../contract'

export interface Protection {
  /** Seconds between recovery points; 0 for none. */
  interval: number
  /** Why it is this one. */
  intervalWhy: string
  continuous: boolean
  continuousWhy: string
}

/** "30 seconds", "1 minute", "5 minutes", "90 seconds", "none". */
export const sayInterval = (seconds: number): string =>
  seconds === 0
    ? 'none'
    : seconds < 60 || seconds % 60
      ? `${seconds} seconds`
      : seconds === 60
        ? '1 minute'
        : `${seconds / 60} minutes`

function why({ level, name, by }: ProtectionLayer): string {
  const place = level === 'kind' ? `${name}s` : level === 'file' ? 'this file' : `‹${name}›`
  if (level === 'person') return 'your own setting'
  return by === 'managers' ? `set by the managers for ${place}` : `you set it for ${place}`
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
  const reason = set ? why(set) : 'the usual'
  const bound = bounded < wanted ? most : bounded > wanted ? least : undefined
  return {
    interval,
    intervalWhy: bound
      ? `${reason} as ${sayInterval(asked)}, but the managers of ‹${bound.name}› allow ${bounded < wanted ? 'at most' : 'at least'} ${sayInterval(interval)}`
      : reason,
    continuous: continuous?.continuous ?? false,
    continuousWhy: continuous ? why(continuous) : 'the usual',
  }
}
