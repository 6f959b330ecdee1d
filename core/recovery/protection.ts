// How often a piece of work is protected: the most specific setting wins, the managers' bounds hold
// for whatever won, and which one did, and why, can be said.
import type { ProtectionLayer } from '../contract'

export interface Protection {
  /** Seconds between recovery points. */
  interval: number
  /** Why it is this one. */
  intervalWhy: string
  continuous: boolean
  continuousWhy: string
}

export const standardInterval = 30

/** "30 seconds", "1 minute", "5 minutes", "90 seconds". */
export const sayInterval = (seconds: number): string =>
  seconds < 60 || seconds % 60 ? `${seconds} seconds` : seconds === 60 ? '1 minute' : `${seconds / 60} minutes`

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
  const wanted = set?.interval ?? standardInterval
  // The upper bound protects; it holds where the two contradict each other.
  const interval = Math.min(Math.max(wanted, least?.least ?? 0), most?.most ?? Number.POSITIVE_INFINITY)
  const reason = set ? why(set) : 'the usual'
  const bound = interval < wanted ? most : interval > wanted ? least : undefined
  return {
    interval,
    intervalWhy: bound
      ? `${reason} as ${sayInterval(wanted)}, but the managers of ‹${bound.name}› allow ${interval < wanted ? 'at most' : 'at least'} ${sayInterval(interval)}`
      : reason,
    continuous: continuous?.continuous ?? false,
    continuousWhy: continuous ? why(continuous) : 'the usual',
  }
}
