// The room that unsaved work takes on shared storage: what each person allows, what goes first, and
// what went. Points of work that is over (finished, or past its days) are cleared away here too.
import type { DataSource, EntityManager } from 'typeorm'
import type { Room } from '../../core/contract'
import { makeRoom, type RoomPiece } from '../../core/recovery/room'
import { settingsOf } from '../accounts/service'
import { inTransaction } from '../transaction'

/** Any number, the same in every process: one of them sweeps at a time. */
const sweepLock = 4170_02

/** A person's drafts on shared storage with the bytes that their points take there. */
async function piecesOf(manager: EntityManager, personId: string): Promise<RoomPiece[]> {
  const rows: { id: string; bytes: string; at: Date; aside: boolean }[] = await manager.query(
    `select d.id, sum(pg_column_size(p.records)) as bytes, coalesce(d.last_edit_at, d.born_at) as at,
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

/** Lets points go until a person's drafts take no more room than they allow. */
export async function makeRoomFor(manager: EntityManager, personId: string): Promise<void> {
  const { storageRoom, goesFirst } = await settingsOf(manager, personId)
  const { going } = makeRoom(await piecesOf(manager, personId), storageRoom * megabyte, goesFirst)
  if (going.length === 0) return
  await forgetPoints(manager, `id = any($1) and state in ('closed', 'let go')`, [going], 'made_room_at = now()')
}

/**
 * Removes the points of drafts that still meet the condition when they are locked: one that was called
 * back meanwhile stays. Its device learns from the next answer that shared storage has nothing of it.
 */
async function forgetPoints(manager: EntityManager, where: string, values: unknown[], also = 'unsent = unsent') {
  await manager.query(
    `with over as (update draft set point_seq = 0, point_at = null, point_edit_at = null, ${also} where ${where} returning id)
     delete from recovery_point using over where draft_id = over.id`,
    values,
  )
}

/** What a person's unsaved work takes on shared storage, and what went to make room lately. */
export async function roomOf(manager: EntityManager, personId: string): Promise<Room> {
  const { storageRoom, goesFirst } = await settingsOf(manager, personId)
  const pieces = await piecesOf(manager, personId)
  const { over } = makeRoom(pieces, storageRoom * megabyte, goesFirst)
  const went: { name: string; opening: string; at: Date }[] = await manager.query(
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

/** Clears away what is over, and makes room for everyone who is over their limit. */
export async function sweepRecoveryPoints(database: DataSource): Promise<void> {
  await inTransaction(database, async (manager) => {
    const [{ mine }] = await manager.query('select pg_try_advisory_xact_lock($1) as mine', [sweepLock])
    if (!mine) return
    await forgetPoints(
      manager,
      `point_seq > 0 and (state = 'finished' or state in ('closed', 'let go') and kept_until < now())`,
      [],
    )
    const people: { person_id: string }[] = await manager.query(
      `select distinct d.person_id from draft d join recovery_point p on p.draft_id = d.id where d.state in ('closed', 'let go')`,
    )
    for (const { person_id } of people) await makeRoomFor(manager, person_id)
  })
}

/** Sweeps each minute until closed. */
export function openSweeper(database: DataSource, onFault: (error: unknown) => void): { close(): Promise<void> } {
  let sweeping = Promise.resolve()
  const timer = setInterval(() => {
    sweeping = sweeping.then(() => sweepRecoveryPoints(database)).catch(onFault)
  }, 60_000)
  return {
    async close() {
      clearInterval(timer)
      await sweeping
    },
  }
}
