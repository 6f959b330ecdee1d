// How drafts are written on shared storage. Who may write is decided by core/recovery/admission.ts under the
// lock of the draft's row; the file's row is locked before it, as everywhere (docs/architecture.md). A point
// is the exact texts of the records since the one before it, as lines of JSON; the digests at the ends of
// points are kept when the points go, so that a device that comes back late can still tell what is its own.

import type { DataSource, EntityManager } from 'typeorm'
import { z } from 'zod'
import type {
  Beyond,
  Draft,
  DraftState,
  Heartbeat,
  JournalRecord,
  NewPoint,
  PointTaken,
  Sender,
  Standing,
  TakenOver,
} from '../../core/contract'
import { admit, mayWrite, takeOver, type Verdict } from '../../core/recovery/admission'
import { nothingBeyond } from '../../core/recovery/beyond'
import { chainOf, commonLength, contentText, forkId, genesis, type Link } from '../../core/recovery/chain'
import { mayBecome } from '../../core/recovery/life'
import { say } from '../../core/words/said'
import { settingsOf } from '../accounts/service'
import { announce } from '../events/announce'
import { absent, Refusal } from '../refusal'
import { seenBy } from '../rights/service'
import { execute, select, selectOne } from '../sql/rows'
import { inTransaction } from '../sql/transaction'
import { DraftMarkRow, DraftRow, RecoveryPointRow } from './entity'
import { roomFor } from './room'

const Row = z.object({
  id: z.string(),
  person_id: z.string(),
  base_version_id: z.string().nullable(),
  device_id: z.string(),
  device_name: z.string(),
  epoch: z.number(),
  writer_id: z.string().nullable(),
  point_seq: z.number(),
  point_head: z.instanceof(Buffer).nullable(),
  saved_seq: z.number(),
  saved_head: z.instanceof(Buffer).nullable(),
  journal_seq: z.number(),
  before_epochs_seq: z.number().nullable(),
  state: z.custom<DraftState>(),
  kept_until: z.date().nullable(),
  over: z.boolean(),
  unsent: z.custom<Beyond>().nullable(),
})
type Row = z.output<typeof Row>

const hex = (digest: Buffer | null): string | null => digest?.toString('hex') ?? null
const bytes = (digest: string | null | undefined): Buffer | null => (digest ? Buffer.from(digest, 'hex') : null)

/** Locks the file, then the draft. @returns null where there is no such draft. @throws Refusal for somebody else's */
async function lockDraft(
  manager: EntityManager,
  personId: string,
  id: string,
  fileId: string | null,
): Promise<(Row & { head: string }) | null> {
  await execute(
    manager,
    'select from entry where id in ($1, (select file_id from draft where id = $2)) order by id for key share',
    [fileId, id],
  )
  const [row] = await select(
    manager,
    Row,
    `select *, state = 'finished' or coalesce(kept_until < now(), false) as over from draft where id = $1 for update`,
    [id],
  )
  if (!row) return null
  if (row.person_id !== personId) throw absent()
  return { ...row, head: hex(row.point_head) ?? (await headOfEarlier(manager, row)) }
}

/** The digest of points that an earlier Jaula took. */
async function headOfEarlier(manager: EntityManager, { id, point_seq, base_version_id }: Row): Promise<string> {
  const chain = await chainOnStorage(manager, id, base_version_id)
  const head = chain[point_seq - 1]?.digest ?? genesis(base_version_id)
  await manager.update(DraftRow, { id }, { pointHead: bytes(head) })
  return head
}

/** The exact texts of a draft's records in its points, in order. */
export async function linesOf(manager: EntityManager, id: string): Promise<string[]> {
  const points = await manager.find(RecoveryPointRow, {
    select: { draftId: true, fromSeq: true, lines: true, records: true },
    where: { draftId: id },
    order: { fromSeq: 'ASC' },
  })
  return points.flatMap(({ lines, records }) => (lines ? lines.toString().split('\n') : records!.map(contentText)))
}
const chainOnStorage = async (manager: EntityManager, id: string, baseVersionId: string | null): Promise<Link[]> =>
  chainOf(await linesOf(manager, id), { seq: 0, digest: genesis(baseVersionId) })

const standingOf = (row: Row & { head: string }): Standing => ({
  epoch: row.epoch,
  writerId: row.writer_id,
  deviceId: row.device_id,
  deviceName: row.device_name,
  pointSeq: row.point_seq,
  pointHead: row.head,
  savedSeq: row.saved_seq,
  savedHead: hex(row.saved_head),
  state: row.state,
  keptUntil: row.kept_until?.toISOString() ?? null,
  over: row.over ?? false,
})

/** Who writes a draft, and what is there of it. */
export async function standing(manager: EntityManager, id: string): Promise<Standing> {
  const [row] = await select(
    manager,
    Row,
    `select *, state = 'finished' or coalesce(kept_until < now(), false) as over from draft where id = $1`,
    [id],
  )
  if (!row) throw absent()
  return standingOf({ ...row, head: hex(row.point_head) ?? (await headOfEarlier(manager, row)) })
}

async function answer(
  manager: EntityManager,
  id: string,
  verdict: Verdict | undefined,
): Promise<PointTaken & { standing: Standing }> {
  const { at, wanted } = await selectOne(
    manager,
    z.object({ at: z.date(), wanted: z.boolean() }),
    `select clock_timestamp() as at, point_wanted_at is not null and journal_seq > point_seq as wanted from draft where id = $1`,
    [id],
  )
  const there = await standing(manager, id)
  return {
    ...(verdict && { verdict }),
    standing: there,
    pointSeq: there.pointSeq,
    at: at.toISOString(),
    pointWanted: wanted,
  }
}

/** Where a person wants the points of work without a file kept, as far as the place is there and theirs to see. */
const chosenPlace = (part: 'share' | 'folder') =>
  `(select ${part === 'share' ? 'w.id' : 'f.id'} from person_settings s
     join share w on w.id::text = s.settings #>> '{unsavedPlace,shareId}'
     left join entry f on f.share_id = w.id and f.removed_at is null and f.id::text = s.settings #>> '{unsavedPlace,folderId}'
     ${seenBy('$2', 'coalesce(f.realm_id, w.id)')}
     where s.person_id = $2 and $8::uuid is null)`

/** What new work says it belongs to must be this person's to see. @throws Refusal not-found */
async function requireBase(manager: EntityManager, personId: string, beat: Heartbeat): Promise<void> {
  const versions = [...new Set([beat.baseVersionId, beat.headVersionId].filter((id) => id !== null))]
  const files = beat.fileId ? [beat.fileId] : []
  const { seen } = await selectOne(
    manager,
    z.object({ seen: z.number() }),
    `select count(*)::int as seen from (
       select v.id, e.realm_id from version v join entry e on e.id = v.file_id where v.id = any($2)
       union all select e.id, e.realm_id from entry e where e.id = any($3) and e.kind = 'file') named
     ${seenBy('$1', 'named.realm_id')}`,
    [personId, versions, files],
  )
  if (seen < versions.length + files.length) throw absent()
}

async function insertDraft(
  manager: EntityManager,
  personId: string,
  beat: Heartbeat,
  state: DraftState,
  id = beat.id,
): Promise<void> {
  await execute(
    manager,
    `insert into draft (id, person_id, kind, device_id, device_name, born_at, base_version_id, file_id, saved_seq, journal_seq,
                        last_edit_at, opening, beyond, state, answered_at, page_answered_at, unsent, head_version_id,
                        epoch, writer_id, saved_head, model, resting, forked_from, forked_at, points_off, kept_share_id, kept_folder_id)
     values ($1, $2, $3, $4, $5, $6, $7, (select e.id from entry e where e.id = $8), $9, $10, $11, $12, $13, $14,
             case when $18 then now() else to_timestamp(0) end, case when $18 then now() - make_interval(secs => $15::float8 / 1000) else to_timestamp(0) end,
             $16, (select v.id from version v where v.id = $17), $19, $20, $21, $22, $23, $24, $25, $26,
             ${chosenPlace('share')}, ${chosenPlace('folder')})
     on conflict (id) do nothing`,
    [
      id,
      personId,
      beat.kind,
      beat.deviceId,
      beat.deviceName,
      beat.bornAt,
      beat.baseVersionId,
      beat.fileId,
      beat.savedSeq,
      beat.journalSeq,
      beat.lastEditAt,
      beat.opening,
      JSON.stringify(beat.beyond),
      state,
      beat.pageSilentMs,
      beat.unsent ? JSON.stringify(beat.unsent) : null,
      beat.headVersionId,
      beat.live,
      beat.sender?.epoch ?? 0,
      beat.sender?.writerId ?? null,
      bytes(beat.savedHead),
      beat.model ? JSON.stringify(beat.model) : null,
      beat.resting ? JSON.stringify(beat.resting) : null,
      beat.forkOf?.draftId ?? null,
      beat.forkOf?.seq ?? null,
      beat.pointsOff ?? false,
    ],
  )
  // What a device still had when its work was gone on with elsewhere has come: it is a draft of its own.
  if (beat.forkOf) await manager.update(DraftRow, { id: beat.forkOf.draftId, personId }, { leftBehind: null })
}

/** Something of a file that the draft's person may see; null for anything else. */
const ofMine = (what: string, which: string, more = '') =>
  `(select ${what} from entry e ${more} ${seenBy('d.person_id')} where ${which})`

/** Takes down what the writer says of a draft. Whether it is open, closed or finished is not changed by it. */
async function takeDown(manager: EntityManager, beat: Heartbeat, id = beat.id): Promise<void> {
  await execute(
    manager,
    `update draft d set device_id = $2, device_name = $3, file_id = coalesce(${ofMine('e.id', "e.id = $4 and e.kind = 'file'")}, file_id),
       saved_seq = greatest(saved_seq, $5), saved_head = case when $5 >= saved_seq then coalesce($6, saved_head) else saved_head end,
       journal_seq = greatest($7, point_seq), last_edit_at = $8, opening = $9, beyond = $10,
       answered_at = case when $14 then now() else answered_at end,
       page_answered_at = case when $14 then now() - make_interval(secs => $11::float8 / 1000) else page_answered_at end,
       unsent = coalesce($12, unsent), head_version_id = coalesce(${ofMine('v.id', 'v.id = $13', 'join version v on v.file_id = e.id')}, head_version_id),
       model = coalesce($15, model), resting = coalesce($16, resting), points_off = $17
     where d.id = $1`,
    [
      id,
      beat.deviceId,
      beat.deviceName,
      beat.fileId,
      beat.savedSeq,
      bytes(beat.savedHead),
      beat.journalSeq,
      beat.lastEditAt,
      beat.opening,
      JSON.stringify(beat.beyond),
      beat.pageSilentMs,
      beat.unsent ? JSON.stringify(beat.unsent) : null,
      beat.headVersionId,
      beat.live,
      beat.model ? JSON.stringify(beat.model) : null,
      beat.resting ? JSON.stringify(beat.resting) : null,
      beat.pointsOff ?? false,
    ],
  )
}

async function addLinks(
  manager: EntityManager,
  row: { id: string; point_seq: number },
  fresh: readonly Link[],
  personId: string,
): Promise<void> {
  const last = fresh.at(-1)
  if (!last) return
  const { id } = row
  await manager.insert(RecoveryPointRow, {
    draftId: id,
    fromSeq: row.point_seq + 1,
    toSeq: last.seq,
    lines: Buffer.from(fresh.map(({ text }) => text).join('\n')),
    head: bytes(last.digest),
  })
  await manager.upsert(DraftMarkRow, { draftId: id, seq: last.seq, digest: bytes(last.digest)! }, ['draftId', 'seq'])
  const { at } = JSON.parse(last.text) as JournalRecord
  await execute(
    manager,
    `update draft set point_seq = $2, point_head = $3, point_at = clock_timestamp(), point_edit_at = to_timestamp($4::float8 / 1000),
       journal_seq = greatest(journal_seq, $2), made_room_at = null,
       unsent = case when $2 >= journal_seq then $5::jsonb else unsent end,
       point_wanted_at = case when $2 >= journal_seq then null else point_wanted_at end
     where id = $1`,
    [id, last.seq, bytes(last.digest), Number.isFinite(at) ? at : Date.now(), JSON.stringify(nothingBeyond)],
  )
  await announce(manager, { about: 'draft', draftId: id, personId })
}

/** Records that a draft is open on a device, with what the device says of it. */
export function heartbeat(database: DataSource, personId: string, beat: Heartbeat): Promise<PointTaken> {
  return inTransaction(database, async (manager) => {
    const row = await lockDraft(manager, personId, beat.id, beat.fileId)
    if (!row) {
      await requireBase(manager, personId, beat)
      await insertDraft(manager, personId, beat, 'open')
      return answer(manager, beat.id, beat.sender && 'taken')
    }
    if (!beat.sender) return earlierHeartbeat(manager, row, beat)
    if (!mayWrite(writerOf(row), beat.sender)) return answer(manager, beat.id, 'superseded')
    await takeDown(manager, beat)
    return answer(manager, beat.id, 'taken')
  })
}

const writerOf = (row: Row & { head: string }) => ({
  epoch: row.epoch,
  writerId: row.writer_id,
  pointSeq: row.point_seq,
  pointHead: row.head,
  finished: row.state === 'finished',
})

/**
 * Takes a recovery point: records that are there already are passed over, a gap is told (the device then
 * sends from where the server is), so that a repeated point changes nothing.
 */
export function takePoint(database: DataSource, personId: string, point: NewPoint): Promise<PointTaken> {
  return inTransaction(database, async (manager) => {
    const { heartbeat: beat } = point
    let row = await lockDraft(manager, personId, beat.id, beat.fileId)
    if (!row) {
      await requireBase(manager, personId, beat)
      await insertDraft(manager, personId, beat, 'open')
      row = (await lockDraft(manager, personId, beat.id, beat.fileId))!
    }
    if (!('lines' in point)) return earlierPoint(manager, row, personId, beat, point.records)
    const admitted = admit(writerOf(row), beat.sender as Sender, point.after, point.lines)
    if (admitted.verdict === 'superseded') return answer(manager, beat.id, 'superseded')
    await takeDown(manager, beat)
    if (admitted.verdict === 'taken') await addLinks(manager, row, admitted.fresh, personId)
    return answer(manager, beat.id, admitted.verdict)
  })
}

// -- Tabs of a Jaula before epochs ----------------------------------------------------------------

/**
 * Such a tab tells its records by their numbers and cannot be told that somebody else writes. Its work is
 * taken all the same: once another writer has its draft, into a draft of its own, which the server makes.
 */
async function earlierHeartbeat(
  manager: EntityManager,
  row: Row & { head: string },
  beat: Heartbeat,
): Promise<PointTaken> {
  if (row.epoch === 0) {
    if (row.state !== 'finished') await takeDown(manager, beat)
    return answer(manager, row.id, undefined)
  }
  const own = await ownOfEarlier(manager, row, beat)
  if (own) await takeDown(manager, beat, own.id)
  const there = await answer(manager, own?.id ?? row.id, undefined)
  return own ? there : { ...there, pointSeq: Math.min(there.pointSeq, row.before_epochs_seq ?? there.pointSeq) }
}

async function ownOfEarlier(
  manager: EntityManager,
  row: Row,
  beat: Heartbeat,
): Promise<(Row & { head: string }) | null> {
  const [own] = await select(
    manager,
    z.object({ id: z.string() }),
    `select id from draft where forked_from = $1 and epoch = 0 and device_id = $2 and person_id = $3 order by born_at limit 1`,
    [row.id, beat.deviceId, row.person_id],
  )
  return own ? lockDraft(manager, row.person_id, own.id, null) : null
}

async function earlierPoint(
  manager: EntityManager,
  row: Row & { head: string },
  personId: string,
  beat: Heartbeat,
  records: readonly JournalRecord[],
): Promise<PointTaken> {
  let target = row
  if (row.epoch > 0) target = (await ownOfEarlier(manager, row, beat)) ?? row
  const from = records[0]!.seq
  const there = await chainOnStorage(manager, target.id, target.base_version_id)
  if (from > there.length + 1)
    throw new Refusal(
      'invalid',
      say('problem.this-recovery-point-lacks-record-is-the', { it: there.length + 1, there: there.length }),
    )
  const known = there.slice(0, from - 1)
  const before = { seq: from - 1, digest: known.at(-1)?.digest ?? genesis(target.base_version_id) }
  const mine = [...known, ...chainOf(records.map(contentText), before)]
  const common = commonLength(mine, there)
  const parts = target.epoch > 0 ? mine.length > common : common < Math.min(mine.length, there.length)
  if (!parts) {
    if (target.epoch === 0) {
      await takeDown(manager, beat, target.id)
      const fresh = mine.slice(there.length)
      await addLinks(manager, target, fresh, personId)
      // Somebody writes in it again.
      if (fresh.length && target.state !== 'finished')
        await manager.update(DraftRow, { id: target.id }, { state: 'open', keptUntil: null })
    }
    return answer(manager, target.id, undefined)
  }
  const id = forkId(target.id, mine[common]!.digest)
  await insertDraft(
    manager,
    personId,
    { ...beat, sender: undefined, forkOf: { draftId: row.id, seq: common } },
    'open',
    id,
  )
  const fork = (await lockDraft(manager, personId, id, null))!
  await addLinks(manager, fork, mine.slice(fork.point_seq), personId)
  return answer(manager, id, undefined)
}

// -- Taking over and ending ----------------------------------------------------------------------

/** Makes a device the draft's writer, if nobody else was first since it looked. */
export function takeOverDraft(
  database: DataSource,
  personId: string,
  id: string,
  asked: { from: number; writerId: string; deviceId: string; deviceName: string },
): Promise<TakenOver> {
  return inTransaction(database, async (manager) => {
    const row = await lockDraft(manager, personId, id, null)
    if (!row) throw absent()
    const epoch = takeOver(writerOf(row), asked)
    if (epoch === null) return { taken: false, standing: await standing(manager, id) }
    const left =
      row.device_id !== asked.deviceId && row.journal_seq > row.point_seq
        ? {
            edits: row.journal_seq - row.point_seq,
            deviceId: row.device_id,
            deviceName: row.device_name,
            beyond: row.unsent,
          }
        : null
    if (epoch !== row.epoch)
      await execute(
        manager,
        `update draft set epoch = $2, writer_id = $3, device_id = $4, device_name = $5, state = 'open', kept_until = null,
           journal_seq = case when device_id = $4 then journal_seq else point_seq end,
           answered_at = now(), page_answered_at = now(),
           -- A device that writes again has what it had; it is in this work, or a draft of its own.
           left_behind = coalesce($6, case when left_behind ->> 'deviceId' <> $4::text then left_behind end),
           before_epochs_seq = case when epoch = 0 then point_seq else before_epochs_seq end
         where id = $1`,
        [id, epoch, asked.writerId, asked.deviceId, asked.deviceName, left && JSON.stringify(left)],
      )
    await announce(manager, { about: 'draft', draftId: id, personId })
    return { taken: true, standing: await standing(manager, id) }
  })
}

/** Closes a draft, lets it go (it is kept for some days all the same) or calls it back. */
export function endDraft(
  database: DataSource,
  personId: string,
  id: string,
  state: DraftState,
  shown: (manager: EntityManager) => Promise<Draft>,
  beat?: Heartbeat,
): Promise<Draft> {
  return inTransaction(database, async (manager) => {
    let row = await lockDraft(manager, personId, id, beat?.fileId ?? null)
    if (!row && beat) {
      await requireBase(manager, personId, beat)
      await insertDraft(manager, personId, beat, 'open')
      row = await lockDraft(manager, personId, id, beat.fileId)
    }
    if (row) {
      // Said a second time, it is so already.
      if (row.state === 'finished' && state === 'finished') return shown(manager)
      const older = beat?.sender ? !mayWrite(writerOf(row), beat.sender) : beat !== undefined && row.epoch > 0
      if (older)
        throw new Refusal(
          'changed-meanwhile',
          say('problem.this-work-is-open-on-now-so', { devicename: row.device_name }),
        )
      if (!mayBecome[row.state].includes(state))
        throw new Refusal('changed-meanwhile', say('problem.this-work-was-finished-already-it-is'))
      if (beat) await takeDown(manager, beat)
      if ((state === 'closed' || state === 'let go') && row.state === 'open') await roomFor(manager, personId, id)
      await execute(
        manager,
        `update draft set state = $2, kept_until = case when $2 in ('closed', 'let go') then now() + make_interval(days => $3) end,
           answered_at = case when $2 = 'open' then to_timestamp(0) else answered_at end
         where id = $1`,
        [id, state, (await settingsOf(manager, personId)).keptDays],
      )
      await announce(manager, { about: 'draft', draftId: id, personId })
    }
    return shown(manager)
  })
}
