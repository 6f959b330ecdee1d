// What is known of one file.

import type { EntityManager } from 'typeorm'
import { In } from 'typeorm'
import { z } from 'zod'
import type { FileFacts } from '../../core/contract'
import { type Sentence, say } from '../../core/words/said'
import { copiesOfFile } from '../copies/record'
import { Refusal } from '../refusal'
import { HoldRow, RemovedVersionRow } from '../retention/entity'
import { requireRole, requireRoleAt, seenBy } from '../rights/service'
import { shareFor } from '../shares/service'
import { execute, select, selectOne } from '../sql/rows'
import { VersionRow } from '../versions/entity'
import { newestShown, pageOfVersions, versionAlone, versionById } from '../versions/read'
import { FileUseRow, FormerNameRow } from './entity'
import { entryById } from './entries'
import { trailTo } from './folders'

export async function fileFacts(manager: EntityManager, personId: string, fileId: string): Promise<FileFacts> {
  const file = await entryById(manager, fileId, 'file')
  const share = await shareFor(manager, personId, file.shareId, fileId)
  const versions = await pageOfVersions(manager, fileId, null, newestShown)
  const versionsInAll = await manager.countBy(VersionRow, { fileId })
  const { stamp, read_as: readAs } = await selectOne(
    manager,
    z.object({ stamp: z.string(), read_as: z.string().nullable() }),
    `select (select read_as from entry where id = $1),
       concat_ws(' ', (select count(*) from removed_version where file_id = $1), count(*), max(k.at)) as stamp
     from version v join kept_version k on k.version_id = v.id where v.file_id = $1`,
    [fileId],
  )
  const [origin] = await select(
    manager,
    z.object({
      id: z.string(),
      number: z.number(),
      type: z.string(),
      file_id: z.string(),
      name: z.string().nullable(),
      newer: z.string().nullable(),
    }),
    `select v.id, v.number, v.type, o.id as file_id, case when o.removed_at is null then o.name end as name,
       case when o.removed_at is null and o.head_version_id <> v.id then o.head_version_id end as newer
     from entry e join version v on v.id = e.origin_version_id join entry o on o.id = v.file_id
     ${seenBy('$2', 'o.realm_id')} where e.id = $1`,
    [fileId, personId],
  )
  const former = await manager.find(FormerNameRow, { where: { entryId: fileId }, order: { until: 'DESC' } })
  const thinnedOut = await manager.countBy(RemovedVersionRow, { fileId })
  const trail = await trailTo(manager, file.folderId)
  return {
    file,
    share,
    trail,
    versions,
    versionsInAll,
    historyStamp: stamp,
    readAs,
    origin: origin
      ? {
          fileId: origin.file_id,
          versionId: origin.id,
          number: origin.number,
          type: origin.type,
          name: origin.name,
          newer: origin.newer ? versionAlone(await versionById(manager, origin.newer)) : null,
        }
      : null,
    formerNames: [...new Set(former.map(({ name }) => name))].filter((name) => name !== file.name),
    thinnedOut,
    held: await whyHeld(manager, [fileId, ...trail.map(({ id }) => id)], share.role !== 'view'),
    copies: await copiesOfFile(manager, fileId),
  }
}

/** What of it is shown to a guest: not where it lies, what it was called and taken from, and where its copies are. */
export const forGuest = (facts: FileFacts): FileFacts => ({
  ...facts,
  share: { ...facts.share, name: '', description: '' },
  trail: [],
  origin: null,
  formerNames: [],
  held: null,
  copies: [],
})

/** Notes up to which version of its origin a copy has taken in what changed there. @throws Refusal */
export async function setOrigin(
  manager: EntityManager,
  personId: string,
  fileId: string,
  versionId: string,
): Promise<void> {
  await requireRoleAt(manager, personId, fileId, 'edit')
  const version = await versionById(manager, versionId)
  await requireRole(manager, personId, version.realmId, 'view')
  const changed = await execute(
    manager,
    `update entry set origin_version_id = $2 where id = $1
       and (select file_id from version where id = origin_version_id) = $3`,
    [fileId, versionId, version.fileId],
  )
  if (changed === 0) throw new Refusal('invalid', say('problem.that-version-is-not-of-the-file'))
}

/** @param told whether the reason may be told, too */
async function whyHeld(manager: EntityManager, ids: readonly string[], told: boolean): Promise<Sentence | null> {
  const hold = await manager.findOneBy(HoldRow, { entryId: In(ids) })
  return hold ? (told ? hold.why : say('problem.its-shares-managers-have-their-reason')) : null
}

/** Notes that a person opened or saved a file. */
export async function noteUse(manager: EntityManager, personId: string, fileId: string): Promise<void> {
  await manager.upsert(FileUseRow, { personId, fileId, usedAt: new Date() }, ['personId', 'fileId'])
}
