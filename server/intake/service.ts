// Drives that are taken over, as whoever manages a share sees them and decides on them.
import type { DataSource, EntityManager } from 'typeorm'
import { z } from 'zod'
import type {
  Decisions,
  DriveFault as Fault,
  Intake,
  NewIntake,
  PlannedSeries,
  SeriesPage,
  ShownSeries,
} from '../../core/contract'
import { planAlone } from '../../core/intake/plan'
import { checkName } from '../../core/naming/check'
import { fromKept, say } from '../../core/words/said'
import { EntryRow } from '../files/entity'
import { acceptName } from '../files/names'
import { absent, Refusal } from '../refusal'
import { requireShare } from '../rights/service'
import { execute, select, selectOne } from '../sql/rows'
import { inTransaction } from '../sql/transaction'
import { changedAt, IntakeRow } from './entity'
import { filesToPlan, goalOf, putSeries } from './look'

const perPage = 50

/** @throws Refusal not-found */
export async function intakeAt(manager: EntityManager, shareId: string, id: string): Promise<IntakeRow> {
  const row = await manager.findOneBy(IntakeRow, { id, shareId })
  if (!row) throw absent()
  return row
}

/** Begins with a drive; asked for twice it is begun once. @throws Refusal invalid, not-found */
export async function beginIntake(
  manager: EntityManager,
  personId: string,
  shareId: string,
  { id, folderId, source, root }: NewIntake,
): Promise<void> {
  const there = await manager.findOneBy(IntakeRow, { id })
  if (there && there.shareId === shareId && there.personId === personId) return
  if (there) throw new Refusal('invalid', say('problem.this-id-belongs-to-another-act-so'))
  if (folderId && !(await manager.existsBy(EntryRow, { id: folderId, shareId, kind: 'folder' }))) throw absent()
  await manager.insert(IntakeRow, { id, shareId, folderId, source, root, personId, state: 'looking', problem: null })
}

const Row = z.object({
  id: z.string(),
  share_id: z.string(),
  share: z.string(),
  into: z.array(z.string()),
  source: z.enum(['server', 'browser']),
  root: z.string(),
  person_id: z.string(),
  person: z.string(),
  at: z.date(),
  state: z.enum(['looking', 'planning', 'ready', 'taking', 'done']),
  problem: z.string().nullable(),
  files: z.number(),
  bytes: z.string(),
  read: z.number(),
  faults: z.record(z.string(), z.number()),
  planned: z.number(),
  wanted: z.number(),
  series: z.number(),
  versions: z.number(),
  doubles: z.number(),
  doubtful: z.number(),
  by_hand: z.number(),
  coming: z.number(),
  taken: z.number(),
  refused: z.number(),
})

/** @param id of one of them; null for all, newest first */
export async function intakesOf(manager: EntityManager, shareId: string, id: string | null = null): Promise<Intake[]> {
  const rows = await select(
    manager,
    Row,
    `select i.id, i.share_id, s.name as share, i.source, i.root, i.person_id, p.name as person, i.at, i.state, i.problem,
       array(with recursive up(name, folder_id, depth) as (
           select e.name, e.folder_id, 0 from entry e where e.id = i.folder_id
           union all select e.name, e.folder_id, depth + 1 from entry e join up on e.id = up.folder_id where depth < 100)
         select name from up order by depth desc) as into,
       f.files, f.bytes, f.read, f.faults, f.doubles, f.versions, f.coming, f.taken, f.refused, f.series,
       t.planned, t.wanted, t.doubtful, t.by_hand
     from intake i join share s on s.id = i.share_id join person p on p.id = i.person_id
     left join lateral (select count(*)::int as planned, count(*) filter (where wanted)::int as wanted,
         count(*) filter (where certainty = 'doubtful' or doubts <> '[]')::int as doubtful, count(*) filter (where certainty = 'by hand')::int as by_hand
       from intake_series where intake_id = i.id) t on true
     left join lateral (
       select count(*)::int as files, coalesce(sum(size), 0)::text as bytes,
         count(*) filter (where x.sha256 is not null or x.fault is not null)::int as read,
         count(x.series) filter (where double_of is not null)::int as doubles, count(x.series) filter (where double_of is null)::int as versions,
         count(*) filter (where n.wanted)::int as coming, count(version_id)::int as taken, count(refused)::int as refused,
         count(distinct x.series) filter (where x.position > 0 or x.double_of is not null)::int as series,
         coalesce((select jsonb_object_agg(fault, n) from (select fault, count(*) as n from intake_file where intake_id = i.id and fault is not null group by fault) w), '{}') as faults
       from intake_file x left join intake_series n on n.intake_id = x.intake_id and n.no = x.series where x.intake_id = i.id) f on true
     where i.share_id = $1 and ($2::uuid is null or i.id = $2) order by i.at desc limit 100`,
    [shareId, id],
  )
  return rows.map((row) => ({
    id: row.id,
    share: { id: row.share_id, name: row.share },
    into: row.into,
    source: row.source,
    root: row.root,
    by: { id: row.person_id, name: row.person },
    at: row.at.toISOString(),
    state: row.state,
    problem: row.problem === null ? null : fromKept(row.problem),
    files: row.files,
    bytes: Number(row.bytes),
    read: row.read,
    faults: row.faults as Record<Fault, number>,
    planned: {
      files: row.planned,
      wanted: row.wanted,
      series: row.series,
      versions: row.versions,
      doubles: row.doubles,
      doubtful: row.doubtful,
      byHand: row.by_hand,
    },
    coming: row.coming,
    taken: row.taken,
    refused: row.refused,
  }))
}

/** @throws Refusal not-found */
export async function intakeById(manager: EntityManager, shareId: string, id: string): Promise<Intake> {
  const [one] = await intakesOf(manager, shareId, id)
  if (!one) throw absent()
  return one
}

/** Which series are shown, as a condition on `s`. */
const shown: Record<ShownSeries, string> = {
  all: 'true',
  series:
    'exists (select from intake_file f where f.intake_id = s.intake_id and f.series = s.no and (f.position > 0 or f.double_of is not null))',
  doubtful: `(s.certainty = 'doubtful' or s.doubts <> '[]')`,
  'by hand': `s.certainty = 'by hand'`,
  faults:
    'exists (select from intake_file f where f.intake_id = s.intake_id and f.series = s.no and f.fault is not null)',
  refused:
    'exists (select from intake_file f where f.intake_id = s.intake_id and f.series = s.no and f.refused is not null)',
  'left out': 'not s.wanted',
}

const SeriesRow = z.object({
  no: z.number(),
  name: z.string(),
  folders: z.array(z.string()),
  certainty: z.enum(['sure', 'doubtful', 'by hand']),
  why: z.custom<PlannedSeries['why']>(),
  doubts: z.custom<PlannedSeries['doubts']>(),
  remarks: z.custom<PlannedSeries['remarks']>(),
  wanted: z.boolean(),
  file_id: z.string().nullable(),
})
const FileRow = z.object({
  no: z.number(),
  series: z.number(),
  path: z.string(),
  size: z.string(),
  at: z.date(),
  author: z.string(),
  sha256: z.instanceof(Buffer).nullable(),
  double: z.boolean(),
  fault: z.custom<Fault>().nullable(),
  taken: z.boolean(),
  refused: z.string().nullable(),
})

/** Series in the order of the drive. @param after the number of the last one before them; -1 for the first */
export async function seriesOf(
  manager: EntityManager,
  intake: IntakeRow,
  { show, words, after }: { show: ShownSeries; words: string; after: number },
): Promise<SeriesPage> {
  const where = `s.intake_id = $1 and ${shown[show]} and ($2 = '' or strpos(lower(s.name), lower($2)) > 0
    or exists (select from intake_file f where f.intake_id = s.intake_id and f.series = s.no and strpos(lower(f.path), lower($2)) > 0))`
  const rows = await select(
    manager,
    SeriesRow,
    `select no, name, folders, certainty, why, doubts, remarks, wanted, file_id from intake_series s where ${where} and no > $3 order by no limit ${perPage}`,
    [intake.id, words, after],
  )
  const { n } = await selectOne(
    manager,
    z.object({ n: z.number() }),
    `select count(*)::int as n from intake_series s where ${where}`,
    [intake.id, words],
  )
  const files = await select(
    manager,
    FileRow,
    `select no, series, path, size, ${changedAt} as at, author, sha256,
       double_of is not null as double, fault, version_id is not null as taken, refused
     from intake_file where intake_id = $1 and series = any($2) order by series, position, double_of nulls first, no`,
    [intake.id, rows.map(({ no }) => no)],
  )
  const bySeries = new Map<number, PlannedSeries['files']>(rows.map(({ no }) => [no, []]))
  for (const { series, at, size, sha256, refused, ...file } of files)
    bySeries.get(series)!.push({
      ...file,
      size: Number(size),
      at: at.toISOString(),
      sha256: sha256?.toString('hex') ?? null,
      refused: refused === null ? null : fromKept(refused),
    })
  return {
    series: rows.map(({ file_id, ...row }) => ({ ...row, fileId: file_id, files: bySeries.get(row.no)! })),
    inAll: n,
  }
}

/** Notes what somebody decided. @throws Refusal invalid, name-refused: then nothing was */
export async function decide(database: DataSource, intake: IntakeRow, { series, all }: Decisions): Promise<void> {
  await inTransaction(database, async (manager) => {
    const [{ state }] = (await select(
      manager,
      z.object({ state: z.string() }),
      'select state from intake where id = $1 for update',
      [intake.id],
    )) as [{ state: string }]
    if (state !== 'ready') throw new Refusal('invalid', say('intake.not-ready'))
    if (all)
      await execute(
        manager,
        `update intake_series s set wanted = $2 where s.intake_id = $1 and s.file_id is null and ${shown[all.show]}`,
        [intake.id, all.wanted],
      )
    for (const one of series) {
      const name = one.name === undefined ? null : acceptName(one.name)
      for (const folder of one.folders ?? []) {
        const fault = checkName(folder)
        if (fault) throw new Refusal('name-refused', fault.reason, { fields: { folders: fault.reason } })
      }
      if (one.apart?.length) await partFrom(manager, intake, one.no, one.apart)
      await execute(
        manager,
        `update intake_series set wanted = coalesce($3, wanted), name = coalesce($4, name), folders = coalesce($5, folders),
           certainty = case when $4::text is null and $5::text[] is null then certainty else 'sure' end,
           remarks = case when $4::text is null and $5::text[] is null then remarks else '[]' end
         where intake_id = $1 and no = $2 and file_id is null`,
        [intake.id, one.no, one.wanted ?? null, name, one.folders ?? null],
      )
    }
  })
}

/** Makes files of a series files of their own, planned as if they had always been. */
async function partFrom(manager: EntityManager, intake: IntakeRow, no: number, nos: readonly number[]): Promise<void> {
  const rows = await select(
    manager,
    z.object({ no: z.number(), double_of: z.number().nullable(), version_id: z.string().nullable() }),
    'select no, double_of, version_id from intake_file where intake_id = $1 and series = $2 order by position, double_of nulls first, no',
    [intake.id, no],
  )
  const going = new Set(nos)
  const stay = rows.filter((row) => !going.has(row.no))
  if (!stay.length || rows.some(({ version_id }) => version_id !== null))
    throw new Refusal('invalid', say('intake.cannot-part'))
  const goal = await goalOf(manager, intake)
  const parting = (await filesToPlan(manager, intake.id, nos)).map((file) => planAlone(file, goal))
  const { next } = await selectOne(
    manager,
    z.object({ next: z.number() }),
    'select max(no) + 1 as next from intake_series where intake_id = $1',
    [intake.id],
  )
  await putSeries(manager, intake.id, parting, next)
  // What stays keeps its order; a double of one that goes is itself one now.
  const there = new Map<number, number>()
  const order: number[] = []
  const places = stay.map((row) => {
    const of = row.double_of ?? row.no
    const first = there.get(of)
    if (first === undefined) {
      there.set(of, row.no)
      order.push(row.no)
    }
    return { no: row.no, of: first ?? null }
  })
  for (const { no: file, of } of places)
    await execute(manager, 'update intake_file set position = $3, double_of = $4 where intake_id = $1 and no = $2', [
      intake.id,
      file,
      order.indexOf(of ?? file),
      of,
    ])
  await execute(
    manager,
    `update intake_series set why = case when $3 then why else '[]' end, doubts = '[]' where intake_id = $1 and no = $2`,
    [intake.id, no, stay.length > 1],
  )
}

/** Goes on from one state to the next that somebody may choose. @throws Refusal invalid */
export async function setState(
  manager: EntityManager,
  id: string,
  from: readonly IntakeRow['state'][],
  to: IntakeRow['state'],
): Promise<void> {
  const moved = await select(
    manager,
    z.object({ id: z.string() }),
    'update intake set state = $3, problem = null where id = $1 and state = any($2) returning id',
    [id, from, to],
  )
  if (!moved.length) throw new Refusal('invalid', say('intake.not-ready'))
}

/** Tries again what was refused, too. */
export async function take(database: DataSource, id: string): Promise<void> {
  await inTransaction(database, async (manager) => {
    await setState(manager, id, ['ready', 'done'], 'taking')
    await execute(manager, 'update intake_file set refused = null where intake_id = $1 and refused is not null', [id])
    await execute(
      manager,
      `update intake_series s set open = true where intake_id = $1 and exists (
         select from intake_file f where f.intake_id = $1 and f.series = s.no and f.version_id is null and f.double_of is null)`,
      [id],
    )
  })
}

export const requireManager = (manager: EntityManager, personId: string, shareId: string) =>
  requireShare(manager, personId, shareId, 'manage')
