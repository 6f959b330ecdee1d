// Copies that the server makes and checks by itself, as the plans of its sites say: each share when its copy is older than
// it may be, and all of a copy read again after some days. What fails is told on the copy until it works.
import { type DataSource, Not } from 'typeorm'
import { SaidError, type Sentence, saidBy, say } from '../../core/words/said'
import type { Work } from '../jobs/queue'
import { quiet } from '../jobs/quiet'
import { databaseIsAway } from '../refusal'
import type { Contents } from '../storage/content'
import { checkCopy, contentsOf } from './check'
import { copiesIn, copyShare, OtherCopying } from './copy'
import { CopyPlanRow, CopySiteRow, ShareCopyRow } from './entity'
import { CopyFault, NoSuchFolder } from './fault'
import type { CopyFolder } from './folder'
import { summed } from './folder'
import { type Due, due, folderPlans } from './plans'
import { beginning, ended, type Progress } from './progress'
import { noteChecked, noteCopied, noteFailure, noteGone, noteWell } from './record'
import { takeSamples } from './samples'
import { DriveAway, type Reachable, reach } from './sites'

/** What a person can do something about, in a sentence. */
export function told(error: unknown): Sentence {
  // Its path is for whoever set it, and not for everybody who has a file there.
  if (error instanceof NoSuchFolder) return say('copies.not-there')
  if (error instanceof SaidError) return saidBy(error)
  const code = (error as NodeJS.ErrnoException).code ?? ''
  if (/^(?:ENOSPC|EDQUOT)$/.test(code)) return say('copies.full')
  if (/^(?:EROFS|EACCES|EPERM)$/.test(code)) return say('copies.read-only')
  return say('copies.does-not-answer', { code: code || String((error as Error).message).slice(0, 200) })
}

interface Keeping {
  database: DataSource
  contents: Contents
  stopped: () => boolean
  now: Date
  /** Is told of what failed, and of damage that was found, once each. */
  onFault: (error: unknown) => void
}

/**
 * Brings copies that are due up to date, and reads those again whose turn it is.
 * @returns how many copies were made or checked
 */
export async function keepCopies(
  { database, contents }: { database: DataSource; contents: Contents },
  reachable: Reachable,
  {
    stopped = () => false,
    now = new Date(),
    onFault = () => {},
  }: { stopped?: () => boolean; now?: Date; onFault?: (error: unknown) => void } = {},
): Promise<number> {
  const keeping: Keeping = { database, contents, stopped, now, onFault }
  let done = 0
  for (const site of await database.manager.find(CopySiteRow, { order: { addedAt: 'ASC' } })) {
    for (const one of await due(database, site.id, now)) {
      if (stopped()) return done
      const progress = beginning(site.id, one.id, one.copy ? 'copy' : 'check')
      try {
        if (await keep(keeping, site, one, reachable, progress)) done++
      } catch (error) {
        // It comes again when it is there: that it is late is told by its age.
        if (error instanceof DriveAway) break
        if (error instanceof OtherCopying) continue
        // That is nothing of the folder's.
        if (databaseIsAway(error)) throw error
        if (await noteFailure(database, { shareId: one.id, siteId: site.id, at: now }, told(error))) onFault(error)
      } finally {
        ended(progress)
      }
    }
  }
  if (!stopped()) await takeSamples(database, now, done > 0)
  return done
}

/** @returns whether everything that was due was done */
async function keep(
  { database, contents, stopped, now, onFault }: Keeping,
  site: CopySiteRow,
  { id: shareId, copy, check, extent, back_days: backDays, slowest }: Due,
  reachable: Reachable,
  progress: Progress,
): Promise<boolean> {
  const folder = await reach(database, site, reachable)
  const at = { shareId, siteId: site.id, at: now }
  if (copy) {
    const own = await folderPlans(database.manager, { siteId: site.id, shareIds: [shareId] })
    const copied = await copyShare({ database, contents }, folder, shareId, {
      extent: extent ?? 'nothing',
      backDays,
      folders: new Map(own.map(({ folderId, plan }) => [folderId, plan])),
      mostRate: slowest === null ? null : slowest * 1e6,
      now,
      stopped,
      report: (done, all) => Object.assign(progress, { is: 'copy', done, all }),
      pause: () => quiet(stopped),
    })
    if (!copied?.whole) return false
    await noteCopied(database, site.id, copied)
    if (copied.unread.length)
      onFault(
        new Error(
          `${copied.unread.length} versions of ${copied.share} could not be read, and are not in ${folder.root}.`,
        ),
      )
  }
  if (check) {
    const name = (await copiesIn(folder)).get(shareId)
    // It was there, and is not: nothing of it is said to be safe before it is made again.
    if (name === undefined) {
      await noteGone(database, at)
      throw new CopyFault(say('copies.copy-gone'))
    }
    const before = await database.manager.findOneBy(ShareCopyRow, { shareId, siteId: site.id })
    Object.assign(progress, { is: 'check', done: 0, all: before?.versions ?? 0 })
    const checked = await checkCopy(
      await folder.within(name),
      goodPlaces(database, contents, site, shareId, reachable),
      () => {
        progress.done++
      },
    )
    await noteChecked(database, at, checked)
    const wrong = checked.findings.filter(({ is }) => is !== 'not listed')
    if (wrong.length)
      onFault(new Error(`${wrong.length} files of the copy ${name} in ${folder.root} were not as they should be.`))
    // What it says of itself is written anew by the next copying, and looked at again; once, should it not help.
    if (checked.tags.length && !before?.faults)
      await database.manager.update(ShareCopyRow, { shareId, siteId: site.id }, { copyWanted: true, checkWanted: true })
  }
  await noteWell(database, at)
  return true
}

/** Where a content may be had that a copy has no more: our own store, and the share's copies at other sites. */
function goodPlaces(
  database: DataSource,
  contents: Contents,
  { id: siteId }: CopySiteRow,
  shareId: string,
  reachable: Reachable,
): (sha256: string) => AsyncIterable<Uint8Array> {
  let others: Promise<{ bag: CopyFolder; paths: Map<string, string> }[]> | undefined
  return async function* (sha256: string) {
    const own = () => contents.sound(database.manager, Buffer.from(sha256, 'hex'))
    // Read to its end first: what turns out to be wrong only then cannot be taken back.
    const here = await summed(own()).catch((error) => {
      if (error instanceof RangeError) return null
      throw error
    })
    if (here) {
      yield* own()
      return
    }
    others ??= copiesElsewhere(database, siteId, shareId, reachable)
    for (const { bag, paths } of await others) {
      const path = paths.get(sha256)
      if (path === undefined) continue
      // It is held against its checksum by whoever asked for it, and it alone is read: a damaged one is none.
      if ((await bag.sum(path))?.sha256 !== sha256) continue
      yield* bag.read(path)
      return
    }
    throw new RangeError(sha256)
  }
}

export async function copiesElsewhere(
  database: DataSource,
  siteId: string | null,
  shareId: string,
  reachable: Reachable,
): Promise<{ site: string; bag: CopyFolder; paths: Map<string, string> }[]> {
  const found: { site: string; bag: CopyFolder; paths: Map<string, string> }[] = []
  for (const site of await database.manager.find(CopySiteRow)) {
    if (site.id === siteId) continue
    try {
      const folder = await reach(database, site, reachable)
      const name = (await copiesIn(folder)).get(shareId)
      if (name === undefined) continue
      const bag = await folder.within(name)
      found.push({ site: site.name, bag, paths: await contentsOf(bag) })
    } catch (error) {
      if (databaseIsAway(error)) throw error
      // A place that cannot be reached has nothing to give.
    }
  }
  return found
}

/** The work of copying, and whether anybody wishes for a copy after each change: only then is each change a reason to look. */
export function copying(
  database: DataSource,
  contents: Contents,
  reachable: Reachable,
  onFault: (error: unknown) => void,
): Work & { afterChanges: () => boolean; look: () => Promise<void> } {
  let afterChanges = false
  const look = async () => {
    afterChanges = await database.manager.existsBy(CopyPlanRow, { hours: 0, extent: Not('nothing') })
  }
  return {
    name: 'copy',
    when: '*/5 * * * *',
    async run(stopped) {
      await look()
      return keepCopies({ database, contents }, reachable, { stopped, onFault })
    },
    afterChanges: () => afterChanges,
    look,
  }
}
