// Where a paragraph or a cell changed: its file's versions are gone through from one of them back.

import { randomUUID } from 'node:crypto'
import type { DataSource } from 'typeorm'
import { z } from 'zod'
import type { TracedPlace } from '../../core/compare/trace'
import type { Trace } from '../../core/contract'
import { DamagedFile } from '../../core/formats/refusals'
import { saidBy, say } from '../../core/words/said'
import { typeRead } from '../files/reading'
import { Refusal } from '../refusal'
import { requireRole } from '../rights/service'
import { select } from '../sql/rows'
import type { Contents } from '../storage/content'
import { versionById } from '../versions/read'
import type { Comparing } from './threads'

/** Versions, and milliseconds, past which it is told how far was gone. */
const mostVersions = 400
const longest = 8000

/** @throws Refusal not-found, not-allowed; invalid where nothing stands at the place */
export async function traceBack(
  database: DataSource,
  { comparing, contents }: { comparing: Comparing; contents: Contents },
  personId: string,
  versionId: string,
  place: TracedPlace,
): Promise<Trace> {
  const { manager } = database
  const from = await versionById(manager, versionId)
  await requireRole(manager, personId, from.realmId, 'view')
  const versions = await select(
    manager,
    z.object({
      id: z.string(),
      number: z.number(),
      at: z.date(),
      type: z.string(),
      sha256: z.instanceof(Buffer),
      author: z.string(),
    }),
    `select v.id, v.number, v.at, ${typeRead('v', 'e')} as type, v.sha256, p.name as author
       from version v join entry e on e.id = v.file_id join person p on p.id = v.author_id
       where v.file_id = $1 and v.number <= $2 order by v.number desc limit ${mostVersions + 1}`,
    [from.fileId, from.number],
  )
  const trace = randomUUID()
  const read = async ({ sha256, type }: (typeof versions)[number]) => ({
    bytes: await contents.whole(manager, sha256),
    type,
  })
  const begun = Date.now()
  try {
    let now = await comparing.begin(trace, await read(versions[0]!), place)
    if (now === null) throw new Refusal('invalid', say('problem.there-is-nothing-at-this-place-in'))
    const changes: Trace['changes'] = []
    let until: number | null = null
    for (const [index, version] of versions.entries()) {
      const earlier = versions[index + 1]
      const before = earlier ? await comparing.back(trace, await read(earlier)) : null
      if (before !== now)
        changes.push({
          versionId: version.id,
          number: version.number,
          at: version.at.toISOString(),
          author: version.author,
          before,
          now,
        })
      if (before === null || !earlier) break
      now = before
      if (index + 1 >= mostVersions || Date.now() - begun > longest) {
        until = earlier.number
        break
      }
    }
    return { changes, until }
  } catch (error) {
    if (error instanceof RangeError || error instanceof DamagedFile) throw new Refusal('invalid', saidBy(error))
    throw error
  } finally {
    comparing.end(trace)
  }
}
