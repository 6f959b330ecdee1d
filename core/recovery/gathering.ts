// What is known of a draft, put together from the device's journal and from shared storage. Both are chains:
// where one goes on from the other, the longer one is the work. Where they parted, two wrote.
import type { DraftContent } from '../contract'
import { chainOf, commonLength, type Digest, genesis, type Link } from './chain'
import type { ReadChain } from './journal'
import type { StoredDraft } from './protocol'

export interface PutTogether {
  baseVersionId: string | null
  chain: Link[]
  from: 'device' | 'shared storage'
  /** Each has records that the other has not: the device's are to be parted first. */
  parted: boolean
  /** What this device keeps of these records; null for nothing. */
  seen: { generation: string; head: Digest } | null
  onDevice: number
  /** The epoch to go on from; null when nobody knows of one. */
  epoch: number | null
  /** The last record that is in a version, by this very chain. */
  savedSeq: number
  savedHead: Digest | null
  /** How many of these records shared storage is known to have. */
  pointSeq: number
  /** The first record that could not be read; null when all could. */
  lostFrom: number | null
  /** It is finished, as far as is known: what was in it is in a version. */
  over: boolean
}

/**
 * @param stored what the device keeps, and its chain as it was read
 * @param content what shared storage has; null when it has nothing, or could not be asked
 * @param pass take what shared storage has, although the two parted and that could not be mended
 */
export function putTogether(
  stored: StoredDraft | null,
  local: ReadChain,
  content: (Pick<DraftContent, 'lines' | 'standing'> & { draft: { baseVersionId: string | null } }) | null,
  pass = false,
): PutTogether {
  const baseVersionId = stored ? stored.baseVersionId : (content?.draft.baseVersionId ?? null)
  const theirs = chainOf(content?.lines ?? [], { seq: 0, digest: genesis(baseVersionId) })
  const mine = local.links
  const common = commonLength(mine, theirs)
  const standing = content?.standing
  // What is finished there is in a version; what this device has beyond that is told by the marks that are kept.
  const parted =
    stored !== null &&
    (common < Math.min(mine.length, theirs.length) || (standing?.state === 'finished' && mine.length > 0))
  // Of one that is finished the device keeps that it is, until shared storage knows; not what was in it.
  const over =
    stored?.state === 'finished' && mine.length === 0 && (standing === undefined || standing.state === 'finished')
  const own = stored && !(parted && pass) && !over ? stored : null
  const fromDevice = own !== null && mine.length >= theirs.length
  const chain = fromDevice ? mine : theirs
  // A number says nothing of what is saved: only a digest of this very chain does.
  const saves = [
    own && { seq: own.savedSeq, head: own.savedHead },
    standing && { seq: standing.savedSeq, head: standing.savedHead },
  ].filter((one) => one !== null && one !== undefined)
  const saved = saves
    .filter(({ seq, head }) => seq <= chain.length && (head === null || chain[seq - 1]?.digest === head))
    .sort((a, b) => b.seq - a.seq)[0]
  return {
    baseVersionId,
    chain,
    from: fromDevice ? 'device' : 'shared storage',
    parted: parted && !pass,
    seen: own && { generation: own.generation, head: own.head },
    onDevice: own ? (common === theirs.length || fromDevice ? Math.min(mine.length, chain.length) : common) : 0,
    epoch: standing?.epoch ?? own?.epoch ?? null,
    savedSeq: saved?.seq ?? 0,
    savedHead: saved?.head ?? null,
    pointSeq: content ? common : Math.min(own?.pointSeq ?? 0, chain.length),
    lostFrom: local.damage && chain.length < local.damage.from ? local.damage.from : null,
    over,
  }
}
