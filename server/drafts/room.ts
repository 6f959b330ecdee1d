// The room that unsaved work takes on shared storage: what each person allows, what goes first, and
// what went. Points of work that is over (finished, or past its days) are cleared away here too.

import type { DataSource, EntityManager } from 'typeorm'
import { z } from 'zod'
import type { Room } from '../../core/contract'
import { makeRoom, type RoomPiece } from '../../core/recovery/room'
import { say } from '../../core/words/said'
import { settingsOf } from '../accounts/service'
import type { Work } from '../jobs/queue'
import { Refusal } from '../refusal'
import { locks, tryLock } from '../sql/locks'
import { execute, select } from '../sql/rows'
import { inTransaction } from '../sql/transaction'

/** A person's drafts on shared storage with the bytes that their points take there. */
async function piecesOf(manager: EntityManager, personId: string): Promise<RoomPiece[]> {
  const rows = await select(
    manager,
    z.object({ id: z.string(), bytes: z.string(), at: z.date(), aside: z.boolean() }),
    `select d.id, sum(coalesce(pg_column_size(p.lines), pg_column_size(p.records))) as bytes, coalesce(d.last_edit_at, d.born_at) as at,
       d.state in ('closed', 'let go') as aside
     from draft d join recovery_point p on p.draft_id = d.id where d.person_id = $1 group by d.id`,
    [personId],
  )
  return rows.map(({ id, bytes, at, aside }) => ({
    id,
    bytes: Number(bytes),
    lastEditAt: at.getTime(),
    setAside: aside,
  }))
}

const megabyte = 1_000_000

/**
 * Whether work may be set aside on shared storage: nothing that is there goes before its announced day, so that
 * when the room is short no more is taken. @throws Refusal no-room
 */
export async function roomFor(manager: EntityManager, personId: string, draftId: string): Promise<void> {
  const { storageRoom } = await settingsOf(manager, personId)
  const pieces = await piecesOf(manager, personId)
  const aside = pieces.filter((piece) => piece.setAside || piece.id === draftId)
  const taken = aside.reduce((sum, { bytes }) => sum + bytes, 0)
  if (taken <= storageRoom * megabyte) return
  throw new Refusal('no-room', say('problem.work-closed-without-saving-uses-more-than', { storageRoom }))
}

/**
 * Removes the points of drafts that still meet the condition when they are locked: one that was called
 * back meanwhile stays. Its device learns from the next answer that shared storage has nothing of it.
 */
async function forgetPoints(manager: EntityManager, where: string, values: unknown[], also = 'unsent = unsent') {
  await execute(
    manager,
    `with over as (update draft set point_seq = 0, point_head = null, point_at = null, point_edit_at = null, ${also} where ${where} returning id)
     delete from recovery_point using over where draft_id = over.id`,
    values,
  )
}

/** What a person's unsaved work takes on shared storage, and what went to make room lately. */
export async function roomOf(manager: EntityManager, personId: string): Promise<Room> {
  const { storageRoom, goesFirst } = await settingsOf(manager, personId)
  const pieces = await piecesOf(manager, personId)
  const { over } = makeRoom(pieces, storageRoom * megabyte, goesFirst)
  const went = await select(
    manager,
    z.object({ name: z.string(), opening: z.string(), at: z.date() }),
    `select coalesce(e.name, '') as name, d.opening, d.made_room_at as at from draft d left join entry e on e.id = d.file_id
     where d.person_id = $1 and d.made_room_at > now() - interval '90 days' order by d.made_room_at desc limit 50`,
    [personId],
  )
  return {
    taken: pieces.reduce((sum, { bytes }) => sum + bytes, 0),
    pieces: pieces.length,
    over,
    went: went.map(({ name, opening, at }) => ({ name, opening, at: at.toISOString() })),
  }
}

/** Clears away what is over: finished, or past its announced day. */
export async function sweepRecoveryPoints(database: DataSource): Promise<void> {
  await inTransaction(database, async (manager) => {
    if (!(await tryLock(manager, locks.sweep))) return
    await forgetPoints(
      manager,
      `point_seq > 0 and (state = 'finished' or state in ('closed', 'let go') and kept_until < now())`,
      [],
    )
  })
}

/** Sweeps each minute. */
export const sweeping = (database: DataSource): Work => ({
  name: 'sweep',
  when: '* * * * *',
  run: () => sweepRecoveryPoints(database),
})
