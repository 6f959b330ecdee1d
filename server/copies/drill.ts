// A trial of the day on which the server is gone: all that a place holds is brought back into an empty Jaula beside ours,
// and every version of it is read there and held against what ours has.
import { createHash } from 'node:crypto'
import type { DataSource } from 'typeorm'
import { uuidv7 } from 'uuidv7'
import { z } from 'zod'
import { asKept, type Sentence } from '../../core/words/said'
import { select } from '../sql/rows'
import type { Contents } from '../storage/content'
import { told } from './by-itself'
import { CopyDrillRow } from './entity'
import type { CopyFolder } from './folder'
import { restoreFrom } from './restore'

export interface Drilled {
  at: Date
  seconds: number
  files: number
  /** Versions that came back, and those of them that are not what ours has under their identity. */
  versions: number
  differ: number
  /** Why nothing came back; null where all did. */
  failure: Sentence | null
}
/** A Jaula that has nothing, and goes afterwards. */
export interface Scratch {
  database: DataSource
  owner: DataSource
}

/** Versions that are read between two looks at ours. */
const together = 500
const Version = z.object({ id: z.string(), sha256: z.instanceof(Buffer) })

/** @param ours null where it is gone: then versions are held against what the copy says of them */
export async function drill(
  ours: DataSource | null,
  contents: Contents,
  site: CopyFolder,
  scratch: Scratch,
  now = new Date(),
): Promise<Drilled> {
  const began = performance.now()
  const drilled: Drilled = { at: now, seconds: 0, files: 0, versions: 0, differ: 0, failure: null }
  try {
    const { files, versions } = await restoreFrom(scratch.owner, site)
    Object.assign(drilled, { files, versions })
    const back = await select(scratch.database, Version, 'select id, sha256 from version order by id')
    for (let from = 0; from < back.length; from += together) {
      const some = back.slice(from, from + together)
      const known = ours
        ? await select(ours, Version, 'select id, sha256 from version where id = any($1)', [some.map(({ id }) => id)])
        : []
      const own = new Map(known.map(({ id, sha256 }) => [id, sha256]))
      // What ours does not have any more went by retention since: it is what the copy says of it.
      for (const { id, sha256 } of some)
        if (!(await holds(scratch.database, contents, sha256, own.get(id) ?? sha256))) drilled.differ++
    }
  } catch (error) {
    drilled.failure = told(error)
  }
  drilled.seconds = Math.round((performance.now() - began) / 1000)
  return drilled
}

/** Whether a content, read to its end, is what it should be. */
async function holds(database: DataSource, contents: Contents, sha256: Buffer, should: Buffer): Promise<boolean> {
  const hash = createHash('sha256')
  try {
    for await (const piece of contents.read(database.manager, sha256)) hash.update(piece)
  } catch (error) {
    if (error instanceof RangeError) return false
    throw error
  }
  return hash.digest().equals(should)
}

/** Notes a trial of a site's copies. */
export async function noteDrill(database: DataSource, siteId: string, drilled: Drilled): Promise<void> {
  const { failure, ...facts } = drilled
  await database.manager.insert(CopyDrillRow, {
    id: uuidv7(),
    siteId,
    ...facts,
    failure: failure === null ? null : asKept(failure),
  })
}
