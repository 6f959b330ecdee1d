// Versions that an act adds to files: each has the bytes of an earlier one, and is undone by one with those it had.
import { createHash } from 'node:crypto'
import type { EntityManager } from 'typeorm'
import { uuidv7 } from 'uuidv7'
import { z } from 'zod'
import { nameAs } from '../../core/formats/types'
import { nameKey } from '../../core/naming/check'
import { say } from '../../core/words/said'
import { ActVersionRow, EntryRow } from '../files/entity'
import { absent, Refusal } from '../refusal'
import { select } from '../sql/rows'

export interface Restoring {
  fileId: string
  name: string
  /** The newest version that the file must still have, and the one whose bytes it gets. */
  head: string
  versionId: string
}

const Added = z.object({
  file_id: z.string(),
  id: z.string(),
  outcome: z.enum(['added', 'newer', 'made', 'not found', 'not allowed']),
})
/** Files that are restored by one statement. */
const together = 500

/** @throws Refusal changed-meanwhile where a file has a newer version, or a version is gone by retention */
export async function restoreVersions(
  manager: EntityManager,
  personId: string,
  actId: string,
  restoring: readonly Restoring[],
): Promise<void> {
  for (let from = 0; from < restoring.length; from += together) {
    const some = restoring.slice(from, from + together).map((one) => ({ ...one, id: uuidv7(), key: uuidv7() }))
    await asTheyWere(manager, some)
    const digest = (one: Restoring) =>
      createHash('sha256').update(`as it was ${actId} ${one.fileId} ${one.versionId}`).digest()
    const rows = await select(
      manager,
      Added,
      `select t.file_id, t.id, n.outcome
       from unnest($1::uuid[], $2::uuid[], $3::uuid[], $4::uuid[], $5::uuid[], $6::bytea[]) as t(file_id, head, version_id, id, key, request)
       join version v on v.id = t.version_id
       cross join lateral next_version(t.file_id, t.head, t.id, t.key, $7, v.sha256, v.size, null, 'restored', null, 0, 0, null, null, null, null, t.request) n`,
      [
        some.map(({ fileId }) => fileId),
        some.map(({ head }) => head),
        some.map(({ versionId }) => versionId),
        some.map(({ id }) => id),
        some.map(({ key }) => key),
        some.map(digest),
        personId,
      ],
    )
    const outcomes = new Map(rows.map(({ file_id, outcome }) => [file_id, outcome]))
    for (const { fileId, name } of some) {
      const outcome = outcomes.get(fileId)
      if (outcome === 'added') continue
      if (outcome === 'not found') throw absent()
      throw new Refusal('changed-meanwhile', say('problem.was-changed-again-since-so-this-cannot', { toName: name }))
    }
    await manager.insert(
      ActVersionRow,
      some.map(({ fileId, head, id }) => ({ actId, fileId, fromVersion: head, toVersion: id })),
    )
  }
}

/** Files that went on as another type are again what they were, under their names with that ending. */
async function asTheyWere(manager: EntityManager, restoring: readonly Restoring[]): Promise<void> {
  const others = await select(
    manager,
    z.object({ id: z.string(), name: z.string(), type: z.string() }),
    `select e.id, e.name, v.type from unnest($1::uuid[], $2::uuid[]) as t(file_id, version_id)
     join version v on v.id = t.version_id join entry e on e.id = t.file_id where e.type <> v.type`,
    [restoring.map(({ fileId }) => fileId), restoring.map(({ versionId }) => versionId)],
  )
  for (const { id, name: now, type } of others) {
    const name = nameAs(now, type)
    await manager.update(EntryRow, { id }, { name, nameKey: nameKey(name), type })
  }
}

/** Gives each file the bytes that it had before an act, as part of the act that undoes it. */
export async function undoVersions(
  manager: EntityManager,
  personId: string,
  actId: string,
  undoingId: string,
): Promise<void> {
  const rows = await select(
    manager,
    z.object({ file_id: z.string(), name: z.string(), from_version: z.string(), to_version: z.string() }),
    `select v.file_id, e.name, v.from_version, v.to_version from act_version v join entry e on e.id = v.file_id
     where v.act_id = $1 order by v.file_id`,
    [actId],
  )
  const restoring = rows.map(({ file_id, name, from_version, to_version }) => ({
    fileId: file_id,
    name,
    head: to_version,
    versionId: from_version,
  }))
  await restoreVersions(manager, personId, undoingId, restoring)
}
