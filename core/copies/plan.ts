// What is copied to a place, and how often: what a plan says, in words, and when a copy is late by it.
import { z } from 'zod'
import { type Sentence, say } from '../words/said'

/** Which versions of a file are copied: its latest one, also those with a label, or all. */
export const Extent = z.enum(['latest', 'kept', 'all'])
export type Extent = z.infer<typeof Extent>

export const CopyPlan = z.object({
  extent: Extent.or(z.literal('nothing')),
  /** How old a copy may get, in hours; 0 for a copy after each change. */
  hours: z.number().int().min(0).max(8760),
  /** After so many days all of it is read again. */
  checkDays: z.number().int().min(1).max(3650),
  /** Earlier versions from no longer ago than so many days; null for all of them. */
  backDays: z.number().int().min(1).max(36_500).nullable(),
  /** How fast it may be, in megabytes a second; null for as fast as it goes. */
  mostRate: z.number().int().min(1).max(100_000).nullable(),
})
export type CopyPlan = z.infer<typeof CopyPlan>

export const usualPlan: CopyPlan = { extent: 'all', hours: 24, checkDays: 7, backDays: null, mostRate: null }

const hour = 3_600_000
/** What is copied after each change may take so long without being late. */
const grace = 1

/**
 * Whether a copy is older than its plan lets it be, by so much that it is no chance.
 * @param hours how old it may get @param openSince since when something of the share is in no such copy; null for nothing
 */
export function isLate(hours: number, openSince: Date | null, now: Date): boolean {
  if (!openSince) return false
  return now.getTime() - openSince.getTime() > (hours * 1.25 + grace) * hour
}

/** A plan in a sentence. */
export function sayPlan({ extent, hours, checkDays, backDays, mostRate }: CopyPlan): Sentence {
  if (extent === 'nothing') return say('copies.plan-nothing')
  return say('copies.plan', {
    what: extent,
    hours,
    days: hours % 24 === 0 ? hours / 24 : 0,
    checkDays,
    backDays: backDays ?? 0,
    mostRate: mostRate ?? 0,
  })
}

/** What a plan says of the files that it is for. */
export type Holding = Pick<CopyPlan, 'extent' | 'backDays'>

/**
 * What holds for files of each folder: the plan of the nearest folder upwards that has one, or the share's.
 * @param folders of the share, each with the one that it lies in
 */
export function holdingIn<T extends Holding>(
  folders: readonly { id: string; parentId: string | null }[],
  share: T,
  own: ReadonlyMap<string, T>,
): (folderId: string | null) => T {
  const above = new Map(folders.map(({ id, parentId }) => [id, parentId]))
  const known = new Map<string, T>()
  return (folderId) => {
    const passed: string[] = []
    let found: T | undefined
    let at = folderId
    for (; at !== null; at = above.get(at) ?? null) {
      found = own.get(at) ?? known.get(at)
      if (found) break
      passed.push(at)
    }
    const holding = found ?? share
    for (const id of passed) known.set(id, holding)
    return holding
  }
}

/** The moment from which earlier versions are copied at `now`; null for all of them. */
export const sinceOf = ({ backDays }: Pick<CopyPlan, 'backDays'>, now: Date): Date | null =>
  backDays === null ? null : new Date(now.getTime() - backDays * 24 * hour)

/** Whether a copy of that extent holds an earlier version. @param since those saved before it are left out */
export const holdsEarlier = (
  extent: Extent,
  since: Date | null,
  { at, kept }: { at: string; kept: boolean },
): boolean => (extent === 'all' || (extent === 'kept' && kept)) && (since === null || Date.parse(at) >= since.getTime())
