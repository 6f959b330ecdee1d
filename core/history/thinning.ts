// Which of the versions that were saved by themselves thin out with time. A run of them is what one person's
// work made without a save on purpose in between; its last one is a version like any other and stays.
import type { Version } from '../contract'

const hour = 3_600_000
const day = 24 * hour
/** All of a run stay for a day; then one an hour until it is a week old; then only its last one. */
const all = day
const hourly = 7 * day

/**
 * @param versions of one file, in the order of their numbers
 * @param now milliseconds since 1970
 * @returns those that go
 */
export function thinnedOut<V extends Pick<Version, 'reason' | 'at'> & { authorId: string }>(
  versions: readonly V[],
  now: number,
): V[] {
  return versions.filter((version, index) => {
    const next = versions[index + 1]
    const inRun = next && next.reason === 'by itself' && next.authorId === version.authorId
    // The first version of a file stays, however it was made.
    if (version.reason !== 'by itself' || !inRun || index === 0) return false
    const at = Date.parse(version.at)
    const age = now - at
    if (age < all) return false
    if (age >= hourly) return true
    // Of those in one hour the last one stays.
    return Math.floor(Date.parse(next.at) / hour) === Math.floor(at / hour)
  })
}
