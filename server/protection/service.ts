import { In, IsNull } from 'typeorm'

// Where and by whom protection was set: a person's own settings for a kind, a share, a folder or a
// file, and what a share's managers set for everyone, with bounds.

import type { EntityManager } from 'typeorm'
import { type OwnProtection, PlaceProtection, type ProtectionLayer } from '../../core/contract'
import { say } from '../../core/words/said'
import { settingsOf } from '../accounts/service'
import { EntryRow } from '../files/entity'
import { trailTo } from '../files/folders'
import { absent, Refusal } from '../refusal'
import { requireRoleAt, requireRoleIn, requireShare, seenBy } from '../rights/service'
import { shareFor } from '../shares/service'
import { execute, select } from '../sql/rows'
import { OwnProtectionRow, PlaceProtectionRow } from './entity'

interface Where {
  kind: 'document' | 'spreadsheet'
  fileId?: string | undefined
  shareId?: string | undefined
  folderId?: string | undefined
}

interface Row {
  at: string
  interval: number | null
  continuous: boolean | null
  least: number | null
  most: number | null
}
const unset = { interval: null, continuous: null, least: null, most: null }

/** Every layer that has a say in a file or a place, from the widest to the narrowest. */
export async function protectionLayers(
  manager: EntityManager,
  personId: string,
  { kind, fileId, shareId, folderId }: Where,
): Promise<ProtectionLayer[]> {
  const settings = await settingsOf(manager, personId)
  let file: EntryRow | undefined
  if (fileId) {
    await requireRoleAt(manager, personId, fileId, 'view', true)
    file = await manager.findOneByOrFail(EntryRow, { id: fileId })
  }
  const inShare = file?.shareId ?? shareId
  const at = fileId ?? folderId ?? null
  const share = inShare ? await shareFor(manager, personId, inShare, at) : undefined
  if (!share && at) throw absent()
  const trail = share ? await trailTo(manager, file ? file.folderId : (folderId ?? null)) : []
  const ids = [...trail.map(({ id }) => id), ...(fileId ? [fileId] : [])]
  const own = (
    await manager.findBy(OwnProtectionRow, [
      { personId, kind },
      ...(inShare ? [{ personId, shareId: inShare }] : []),
      { personId, entryId: In(ids) },
    ])
  ).map(
    (one): Row => ({
      ...unset,
      at: (one.kind ?? one.shareId ?? one.entryId)!,
      interval: one.interval,
      continuous: one.continuous,
    }),
  )
  const everyone = inShare
    ? (
        await manager.findBy(PlaceProtectionRow, [
          { shareId: inShare, folderId: IsNull() },
          { shareId: inShare, folderId: In(ids) },
        ])
      ).map(
        ({ folderId: below, interval, continuous, least, most }): Row => ({
          at: below ?? inShare,
          interval,
          continuous,
          least,
          most,
        }),
      )
    : []
  const layers: ProtectionLayer[] = [
    {
      level: 'person',
      name: '',
      by: 'me',
      ...unset,
      interval: settings.recoveryInterval,
      continuous: settings.continuousSave || null,
    },
  ]
  const add = (level: ProtectionLayer['level'], name: string, at: string) => {
    const forAll = everyone.find((row) => row.at === at)
    const mine = own.find((row) => row.at === at)
    const { at: _, ...all } = forAll ?? { at, ...unset }
    const { at: __, ...me } = mine ?? { at, ...unset }
    if (forAll) layers.push({ level, name, by: 'managers', ...all })
    if (mine) layers.push({ level, name, by: 'me', ...me })
  }
  add('kind', kind, kind)
  if (share) add('share', share.name, share.id)
  for (const { id, name } of trail) add('folder', name, id)
  if (file && fileId) add('file', file.name, fileId)
  return layers
}

/** Sets a person's own protection for a kind, a share, a folder or a file; nulls take it away. */
export async function setOwnProtection(manager: EntityManager, personId: string, own: OwnProtection): Promise<void> {
  const { kind, shareId, entryId, interval, continuous } = own
  if ([kind, shareId, entryId].filter((one) => one !== undefined).length !== 1)
    throw new Refusal('invalid', say('problem.say-for-what-it-is-set-a'))
  if (shareId) await requireShare(manager, personId, shareId, 'view')
  if (entryId) await requireRoleAt(manager, personId, entryId, 'view', true)
  await execute(
    manager,
    `insert into own_protection (person_id, kind, share_id, entry_id, interval, continuous) values ($1, $2, $3, $4, $5, $6)
     on conflict (person_id, (coalesce(kind, share_id::text, entry_id::text)))
     do update set interval = excluded.interval, continuous = excluded.continuous`,
    [personId, kind ?? null, shareId ?? null, entryId ?? null, interval, continuous],
  )
}

/** Sets what holds for everyone in a share or folder, with bounds. @throws Refusal not-allowed, invalid */
export async function setPlaceProtection(
  manager: EntityManager,
  personId: string,
  { shareId, folderId, interval, continuous, least, most }: PlaceProtection,
): Promise<void> {
  await requireRoleIn(manager, personId, { shareId, folderId }, 'manage')
  if (least !== null && most !== null && least > most)
    throw new Refusal('invalid', say('problem.the-longest-interval-allowed-cannot-be-shorter'))
  await execute(
    manager,
    `insert into place_protection (share_id, folder_id, interval, continuous, least, most) values ($1, $2, $3, $4, $5, $6)
     on conflict (share_id, (coalesce(folder_id, share_id)))
     do update set interval = excluded.interval, continuous = excluded.continuous, least = excluded.least, most = excluded.most`,
    [shareId, folderId, interval, continuous, least, most],
  )
}

/** What the managers of the shares that this person manages have set for whole shares. */
export async function managedProtection(manager: EntityManager, personId: string): Promise<PlaceProtection[]> {
  return select(
    manager,
    PlaceProtection,
    `select p.share_id as "shareId", p.folder_id as "folderId", p.interval, p.continuous, p.least, p.most
     from place_protection p ${seenBy('$1', 'p.share_id')} and may_see.rank = 3
     where p.folder_id is null`,
    [personId],
  )
}
