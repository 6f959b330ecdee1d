// Drafts as people see them: what their devices reported, and the recovery points taken. How they are
// written is in writing.ts.

import type { EntityManager } from 'typeorm'
import { MoreThan } from 'typeorm'
import { uuidv7 } from 'uuidv7'
import { z } from 'zod'
import type { Activity, Draft, DraftContent, DraftState, PointOutline } from '../../core/contract'
import { say } from '../../core/words/said'
import { absent, Refusal } from '../refusal'
import { maySee } from '../rights/service'
import { select } from '../sql/rows'
import { ActivityRow, DraftMarkRow, DraftRow, RecoveryPointRow } from './entity'
import { linesOf, standing } from './writing'

/** A device that was silent for this long no longer counts as having the draft open. */
const silence = `${Number(process.env.JAULA_SILENCE_SECONDS) || 20} seconds`

/** A page that has not answered its worker for this long hangs. */
const hanging = '7 seconds'

const columns = `d.*, (select o.file_id from draft o where o.id = d.forked_from and o.person_id = d.person_id) as fork_file_id, p.name as person_name, d.answered_at - d.page_answered_at > interval '${hanging}' as hangs, seen.name as file_name, s.name as share_name,
  d.state = 'open' and d.answered_at > now() - interval '${silence}' as heard_from,
  (with recursive up(name, folder_id, depth) as (
     select f.name, f.folder_id, 0 from entry f where f.id = seen.folder_id
     union all select f.name, f.folder_id, up.depth + 1 from entry f join up on f.id = up.folder_id where up.depth < 100)
   select coalesce(array_agg(name order by depth desc), '{}') from up) as folders,
  case when d.file_id is null then array_remove(array[k.name, kf.name], null) end as kept_in`
const joins = `from draft d join person p on p.id = d.person_id left join entry e on e.id = d.file_id left join share s on s.id = e.share_id
  left join entry seen on seen.id = e.id and ${maySee('$1')}
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
  epoch: number
  left_behind: Draft['leftBehind']
  model: Draft['model']
  resting: Draft['resting']
  forked_from: string | null
  forked_at: number | null
  fork_file_id: string | null
  points_off: boolean
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
    epoch: row.epoch,
    leftBehind: row.left_behind,
    model: row.model,
    resting: row.resting,
    forkOf: row.forked_from ? { draftId: row.forked_from, seq: row.forked_at ?? 0, fileId: row.fork_file_id } : null,
    pointsOff: row.points_off,
    mine: row.person_id === personId,
    pointWanted: row.point_wanted_at !== null && row.journal_seq > row.point_seq,
  }
}

/**
 * Work in a share that this person manages, or without a file and kept there: while it is open it is shown to them. A
 * file that was moved to a share in which its author has no place does not take their unsaved work along.
 */
const managed = `d.state = 'open' and exists (select from may($1) m join realm_right w on w.realm_id = m.realm_id
    join subjects_of(d.person_id) author on author.subject_id = w.subject_id
  where m.rank = 3 and (w.until is null or w.until > now())
  and m.realm_id = case when d.file_id is null
    then coalesce((select k.realm_id from entry k where k.id = d.kept_folder_id), d.kept_share_id)
    else (select f.realm_id from entry f where f.id = d.file_id) end)`

/**
 * Drafts that hold or may hold unsaved work, the last edited first: a person's own, and open ones of
 * other people in shares that this person manages.
 */
export async function draftsOf(manager: EntityManager, personId: string): Promise<Draft[]> {
  const rows = await select(
    manager,
    z.custom<Columns>(),
    `select ${columns} ${joins} where (d.kept_until is null or d.kept_until > now()) and d.made_room_at is null
       and (d.person_id = $1 and (d.state = 'open' or (d.state in ('closed', 'let go') and d.journal_seq > d.saved_seq))
         or d.person_id <> $1 and d.journal_seq > d.saved_seq and ${managed})
     order by d.last_edit_at desc nulls last limit 200`,
    [personId],
  )
  return rows.map((row) => shown(row, personId))
}

/** A draft that this person may see. @throws Refusal not-found, also for work that they may not see */
export async function visibleDraft(manager: EntityManager, personId: string, id: string): Promise<Draft> {
  const [row] = await select(
    manager,
    z.custom<Columns>(),
    `select ${columns} ${joins} where d.id = $2 and (d.person_id = $1 or ${managed})`,
    [personId, id],
  )
  if (!row) throw absent()
  return shown(row, personId)
}

/** A draft of one's own. @throws Refusal not-found */
export async function ownDraft(manager: EntityManager, personId: string, id: string): Promise<Draft> {
  const draft = await visibleDraft(manager, personId, id)
  if (!draft.mine) throw absent()
  return draft
}

/** A draft with the records of its recovery points. Looking into somebody else's is written to the activity log. */
export async function draftById(manager: EntityManager, personId: string, id: string): Promise<DraftContent> {
  const draft = await visibleDraft(manager, personId, id)
  if (!draft.mine) await note(manager, personId, draft.id, 'looked inside')
  const points = await manager.find(RecoveryPointRow, {
    select: { draftId: true, fromSeq: true, toSeq: true, at: true },
    where: { draftId: id },
    order: { fromSeq: 'ASC' },
  })
  const marks = await manager.find(DraftMarkRow, { where: { draftId: id }, order: { seq: 'ASC' } })
  return {
    draft,
    standing: await standing(manager, id),
    lines: await linesOf(manager, id),
    marks: marks.map(({ seq, digest }) => ({ seq, digest: digest.toString('hex') })),
    points: points.map(({ toSeq, at }) => ({ toSeq, at: time(at) })),
  }
}

/** The recovery points of a draft of one's own, oldest first; none of one that is not on shared storage yet. */
export async function pointsOf(manager: EntityManager, personId: string, id: string): Promise<PointOutline[]> {
  const points = await select(
    manager,
    z.object({ to_seq: z.number(), at: z.date() }),
    `select p.to_seq, p.at from recovery_point p join draft d on d.id = p.draft_id
     where p.draft_id = $1 and d.person_id = $2 order by p.from_seq`,
    [id, personId],
  )
  return points.map(({ to_seq, at }) => ({ toSeq: to_seq, at: time(at) }))
}

/** Asks the device that has a draft open for a recovery point; it hears of it with its next heartbeat. */
export async function askForPoint(manager: EntityManager, personId: string, id: string): Promise<Draft> {
  const draft = await visibleDraft(manager, personId, id)
  if (!draft.heardFrom) throw new Refusal('changed-meanwhile', say('problem.the-computer-that-has-this-work-was'))
  await manager.update(DraftRow, { id }, { pointWantedAt: () => 'now()' })
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
  const lately = { personId, draftId, what, at: MoreThan(new Date(Date.now() - 600_000)) }
  if (!(await manager.existsBy(ActivityRow, lately)))
    await manager.insert(ActivityRow, { id: uuidv7(), personId, draftId, what })
}

/** What was done with other people's unsaved work: one's own, what one did, and what happened in shares one manages. */
export async function activityFor(manager: EntityManager, personId: string): Promise<Activity[]> {
  const rows = await select(
    manager,
    z.custom<Omit<Activity, 'at'> & { at: Date }>(),
    `select a.id, a.at, p.name as person, a.what, o.name as owner, coalesce(e.name, '') as name, coalesce(s.name, '') as share
     from activity a join person p on p.id = a.person_id join draft d on d.id = a.draft_id join person o on o.id = d.person_id
     left join entry e on e.id = d.file_id and ${maySee('$1')}
     left join share s on s.id = e.share_id
     where d.person_id = $1 or a.person_id = $1 or ${managed} order by a.at desc limit 100`,
    [personId],
  )
  return rows.map((row) => ({ ...row, at: time(row.at) }))
}
