// Drafts as the server knows them: what their devices reported, and the recovery points taken.
// A point is the records since the one before it; together with the version that the draft is
// based on they are the work, and the same replay as on the device rebuilds it.
import type { DataSource, EntityManager } from 'typeorm'
import { uuidv7 } from 'uuidv7'
import type {
  Activity,
  Draft,
  DraftContent,
  DraftState,
  Heartbeat,
  JournalRecord,
  PointOutline,
  PointTaken,
} from '../../core/contract'
import { freshInPoint, mayBecome } from '../../core/recovery/life'
import { nothingBeyond } from '../../core/recovery/replay'
import { settingsOf } from '../accounts/service'
import { announce } from '../events/service'
import { versionById } from '../files/service'
import { Refusal } from '../refusal'
import { requireRole } from '../shares/service'
import { inTransaction } from '../transaction'

/** A device that was silent for this long no longer counts as having the draft open. */
const silence = '20 seconds'

/** Where a person wants the points of work without a file kept, as far as the place is there and theirs to see. */
const chosenPlace = (part: 'share' | 'folder') =>
  `(select ${part === 'share' ? 'm.share_id' : 'f.id'} from person_settings s
     join membership m on m.person_id = $2 and m.share_id::text = s.settings #>> '{unsavedPlace,shareId}'
     left join entry f on f.share_id = m.share_id and f.removed_at is null and f.id::text = s.settings #>> '{unsavedPlace,folderId}'
     where s.person_id = $2 and $8::uuid is null)`

/** Records that a draft is open on a device, with what the device says of it. */
export async function heartbeat(
  manager: EntityManager,
  personId: string,
  beat: Heartbeat,
  state: DraftState = 'open',
): Promise<PointTaken> {
  if (beat.baseVersionId) {
    const base = await versionById(manager, beat.baseVersionId)
    await requireRole(manager, personId, base.shareId, 'view')
  }
  const rows = await manager.query(
    `insert into draft (id, person_id, kind, device_id, device_name, born_at, base_version_id, file_id, saved_seq, journal_seq,
                        last_edit_at, opening, beyond, state, answered_at, page_answered_at, unsent, head_version_id, kept_share_id, kept_folder_id)
     values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, now(), now() - make_interval(secs => $15::float8 / 1000), $16, $17,
             ${chosenPlace('share')}, ${chosenPlace('folder')})
     on conflict (id) do update set
       device_id = excluded.device_id, device_name = excluded.device_name,
       file_id = coalesce(excluded.file_id, draft.file_id),
       saved_seq = greatest(draft.saved_seq, excluded.saved_seq), journal_seq = greatest(draft.journal_seq, excluded.journal_seq),
       last_edit_at = excluded.last_edit_at, opening = excluded.opening, beyond = excluded.beyond,
       state = excluded.state, answered_at = now(), page_answered_at = excluded.page_answered_at, kept_until = null, made_room_at = null,
       unsent = coalesce(excluded.unsent, draft.unsent), head_version_id = coalesce(excluded.head_version_id, draft.head_version_id)
     where draft.person_id = excluded.person_id
     returning point_seq, now() as at, point_wanted_at is not null and journal_seq > point_seq as point_wanted`,
    [
      beat.id,
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
    ],
  )
  if (rows.length === 0) throw new Refusal('not-found', 'This draft belongs to somebody else.')
  return { pointSeq: rows[0].point_seq, at: rows[0].at.toISOString(), pointWanted: rows[0].point_wanted }
}

/**
 * Takes a recovery point. Records that the server has already are passed over, a gap is refused
 * (the device then sends from where the server is), so that a repeated point changes nothing.
 */
export function takePoint(
  database: DataSource,
  personId: string,
  beat: Heartbeat,
  records: JournalRecord[],
): Promise<PointTaken> {
  return inTransaction(database, async (manager) => {
    await heartbeat(manager, personId, beat)
    const [draft] = await manager.query('select point_seq from draft where id = $1 for update', [beat.id])
    const added = freshInPoint(draft.point_seq, records)
    if ('missing' in added)
      throw new Refusal(
        'invalid',
        `This recovery point lacks record ${added.missing}; ${draft.point_seq} is the last one here.`,
      )
    const { fresh } = added
    const pointSeq: number = draft.point_seq + fresh.length
    if (fresh.length > 0) {
      await manager.query('insert into recovery_point (draft_id, from_seq, to_seq, records) values ($1, $2, $3, $4)', [
        beat.id,
        fresh[0]!.seq,
        pointSeq,
        JSON.stringify(fresh),
      ])
      await manager.query(
        `update draft set point_seq = $2, point_at = clock_timestamp(), point_edit_at = to_timestamp($3::float8 / 1000), unsent = $4,
           point_wanted_at = case when $2 >= journal_seq then null else point_wanted_at end
         where id = $1`,
        [beat.id, pointSeq, fresh.at(-1)!.at, pointSeq >= beat.journalSeq ? JSON.stringify(nothingBeyond) : null],
      )
      await announce(manager, { about: 'draft', draftId: beat.id, personId })
    }
    const [taken] = await manager.query('select point_at, now() as now from draft where id = $1', [beat.id])
    return { pointSeq, at: (taken.point_at ?? taken.now).toISOString(), pointWanted: false }
  })
}

/** A page that has not answered its worker for this long hangs. */
const hanging = '7 seconds'

const columns = `d.*, p.name as person_name, d.answered_at - d.page_answered_at > interval '${hanging}' as hangs, e.name as file_name, s.name as share_name,
  d.state = 'open' and d.answered_at > now() - interval '${silence}' as heard_from,
  (with recursive up(name, folder_id, depth) as (
     select f.name, f.folder_id, 0 from entry f where f.id = e.folder_id
     union all select f.name, f.folder_id, up.depth + 1 from entry f join up on f.id = up.folder_id)
   select coalesce(array_agg(name order by depth desc), '{}') from up) as folders,
  case when d.file_id is null then array_remove(array[k.name, kf.name], null) end as kept_in`
const joins = `from draft d join person p on p.id = d.person_id left join entry e on e.id = d.file_id left join share s on s.id = e.share_id
  left join share k on k.id = d.kept_share_id left join entry kf on kf.id = d.kept_folder_id`

interface Columns {
  id: string
  kind: Draft['kind']
  device_id: string
  device_name: string
  born_at: Date
  base_version_id: string | null
  file_id: string | null
  head_version_id: string | null
  saved_seq: number
  journal_seq: number
  point_seq: number
  point_at: Date | null
  last_edit_at: Date | null
  opening: string
  beyond: Draft['beyond']
  state: DraftState
  person_id: string
  person_name: string
  file_name: string | null
  share_name: string
  folders: string[]
  kept_in: string[] | null
  answered_at: Date
  page_answered_at: Date
  kept_until: Date | null
  heard_from: boolean
  hangs: boolean
  point_edit_at: Date | null
  point_wanted_at: Date | null
  unsent: Draft['beyond'] | null
}
const time = (value: Date) => value.toISOString()
const timeOrNull = (value: Date | null) => value?.toISOString() ?? null

function shown(row: Columns, personId: string): Draft {
  return {
    id: row.id,
    kind: row.kind,
    deviceId: row.device_id,
    deviceName: row.device_name,
    bornAt: time(row.born_at),
    baseVersionId: row.base_version_id,
    fileId: row.file_id,
    headVersionId: row.head_version_id,
    savedSeq: row.saved_seq,
    journalSeq: row.journal_seq,
    lastEditAt: timeOrNull(row.last_edit_at),
    opening: row.opening,
    beyond: row.beyond,
    state: row.state,
    person: { id: row.person_id, name: row.person_name },
    file: row.file_name ? { name: row.file_name, share: row.share_name, folders: row.folders } : null,
    keptIn: row.kept_in?.length ? row.kept_in : null,
    pointSeq: row.point_seq,
    pointAt: timeOrNull(row.point_at),
    answeredAt: time(row.answered_at),
    pageAnsweredAt: time(row.page_answered_at),
    keptUntil: timeOrNull(row.kept_until),
    heardFrom: row.heard_from,
    page: !row.heard_from ? 'silent' : row.hangs ? 'hangs' : 'answers',
    pointEditAt: timeOrNull(row.point_edit_at),
    unsent: row.unsent,
    mine: row.person_id === personId,
    pointWanted: row.point_wanted_at !== null && row.journal_seq > row.point_seq,
  }
}

/** Work in a share that this person manages, or without a file and kept there: while it is open it is shown to them. */
const managed = `exists (select from membership m where m.role = 'manage' and m.person_id = $1
  and m.share_id = case when d.file_id is null then d.kept_share_id else (select f.share_id from entry f where f.id = d.file_id) end)`

/**
 * Drafts that hold or may hold unsaved work, the last edited first: a person's own, and open ones of
 * other people in shares that this person manages.
 */
export async function draftsOf(manager: EntityManager, personId: string): Promise<Draft[]> {
  const rows = await manager.query(
    `select ${columns} ${joins} where (d.kept_until is null or d.kept_until > now()) and d.made_room_at is null
       and (d.person_id = $1 and (d.state = 'open' or (d.state in ('closed', 'let go') and d.journal_seq > d.saved_seq))
         or d.person_id <> $1 and d.state = 'open' and d.journal_seq > d.saved_seq and ${managed})
     order by d.last_edit_at desc nulls last limit 200`,
    [personId],
  )
  return rows.map((row: Columns) => shown(row, personId))
}

/** A draft that this person may see. @throws Refusal not-found, also for work that they may not see */
async function visibleDraft(manager: EntityManager, personId: string, id: string): Promise<Draft> {
  const [row] = await manager.query(`select ${columns} ${joins} where d.id = $2 and (d.person_id = $1 or ${managed})`, [
    personId,
    id,
  ])
  if (!row) throw new Refusal('not-found', 'This work is not on shared storage.')
  return shown(row, personId)
}

/** A draft with the records of its recovery points. Looking into somebody else's is written to the activity log. */
export async function draftById(manager: EntityManager, personId: string, id: string): Promise<DraftContent> {
  const draft = await visibleDraft(manager, personId, id)
  if (!draft.mine) await note(manager, personId, draft.id, 'looked inside')
  const points: { records: JournalRecord[]; to_seq: number; at: Date }[] = await manager.query(
    'select records, to_seq, at from recovery_point where draft_id = $1 order by from_seq',
    [id],
  )
  return {
    draft,
    records: points.flatMap((point) => point.records),
    points: points.map(({ to_seq, at }) => ({ toSeq: to_seq, at: time(at) })),
  }
}

/** The recovery points of a draft of one's own, oldest first; none of one that is not on shared storage yet. */
export async function pointsOf(manager: EntityManager, personId: string, id: string): Promise<PointOutline[]> {
  const points: { to_seq: number; at: Date }[] = await manager.query(
    `select p.to_seq, p.at from recovery_point p join draft d on d.id = p.draft_id
     where p.draft_id = $1 and d.person_id = $2 order by p.from_seq`,
    [id, personId],
  )
  return points.map(({ to_seq, at }) => ({ toSeq: to_seq, at: time(at) }))
}

/** Asks the device that has a draft open for a recovery point; it hears of it with its next heartbeat. */
export async function askForPoint(manager: EntityManager, personId: string, id: string): Promise<Draft> {
  const draft = await visibleDraft(manager, personId, id)
  if (!draft.heardFrom)
    throw new Refusal(
      'changed-meanwhile',
      'The device that has this work was not heard from lately, so it cannot be asked.',
    )
  await manager.query('update draft set point_wanted_at = now() where id = $1', [id])
  if (!draft.mine) await note(manager, personId, id, 'asked for a point')
  return visibleDraft(manager, personId, id)
}

/** Notes that somebody saved a copy of other people's unsaved work. */
export async function noteSafeCopy(manager: EntityManager, personId: string, id: string): Promise<void> {
  const draft = await visibleDraft(manager, personId, id)
  if (!draft.mine) await note(manager, personId, id, 'saved a safe copy')
}

/** One line for one thing done: looking again within ten minutes adds none. */
async function note(manager: EntityManager, personId: string, draftId: string, what: Activity['what']): Promise<void> {
  await manager.query(
    `insert into activity (id, person_id, draft_id, what) select $1, $2, $3, $4
     where not exists (select from activity where person_id = $2 and draft_id = $3 and what = $4 and at > now() - interval '10 minutes')`,
    [uuidv7(), personId, draftId, what],
  )
}

/** What was done with other people's unsaved work: one's own, what one did, and what happened in shares one manages. */
export async function activityFor(manager: EntityManager, personId: string): Promise<Activity[]> {
  const rows = await manager.query(
    `select a.id, a.at, p.name as person, a.what, o.name as owner, coalesce(e.name, '') as name, coalesce(s.name, '') as share
     from activity a join person p on p.id = a.person_id join draft d on d.id = a.draft_id join person o on o.id = d.person_id
     left join entry e on e.id = d.file_id left join share s on s.id = e.share_id
     where d.person_id = $1 or a.person_id = $1 or ${managed} order by a.at desc limit 100`,
    [personId],
  )
  return rows.map((row: Activity & { at: Date }) => ({ ...row, at: time(row.at) }))
}

/** Closes a draft, lets it go (it is kept for some days all the same) or calls it back. */
export async function endDraft(
  manager: EntityManager,
  personId: string,
  id: string,
  state: DraftState,
  beat?: Heartbeat,
): Promise<Draft> {
  const [there]: { state: DraftState }[] = await manager.query(
    'select state from draft where id = $1 and person_id = $2',
    [id, personId],
  )
  if (there && !mayBecome[there.state].includes(state))
    throw new Refusal('changed-meanwhile', 'This work was finished already: it is in a version of its file.')
  if (beat) await heartbeat(manager, personId, beat, state)
  await manager.query(
    `update draft set state = $3, kept_until = case when $3 in ('closed', 'let go') then now() + make_interval(days => $4) end,
       answered_at = case when $3 = 'open' then to_timestamp(0) else answered_at end
     where id = $1 and person_id = $2`,
    [id, personId, state, (await settingsOf(manager, personId)).keptDays],
  )
  await announce(manager, { about: 'draft', draftId: id, personId })
  return visibleDraft(manager, personId, id)
}
