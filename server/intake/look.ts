// Looks at a drive, and plans what becomes of it. What was found and read is kept file by file, so that it goes on where it
// was when the server comes back; as it stands on the drive it may change meanwhile, and is then read again.
import pLimit from 'p-limit'
import type { DataSource, EntityManager } from 'typeorm'
import { IsNull } from 'typeorm'
import { z } from 'zod'
import type { DriveFile } from '../../core/contract'
import type { Goal, Planned, PlannedFile } from '../../core/intake/plan'
import { sketchFrom } from '../../core/intake/sketch'
import { EntryRow } from '../files/entity'
import { namingOf } from '../naming/service'
import { execute, select, selectOne } from '../sql/rows'
import { inTransaction } from '../sql/transaction'
import { type OnDrive, walk } from './drive'
import { changedAt, type IntakeRow } from './entity'
import type { IntakeTasks } from './tasks'

/** Files of one statement. */
const atOnce = 500
export interface Looking {
  database: DataSource
  tasks: IntakeTasks
  /** Bytes of a file; a larger one is not read into memory, and refused as any that is too large here. */
  largestFile: number
}

/** Notes files of the drive. One that was noted and has changed since is read again. */
async function note(
  manager: DataSource | EntityManager,
  intakeId: string,
  files: readonly OnDrive[],
  largest: number,
): Promise<void> {
  if (!files.length) return
  const { next } = await selectOne(
    manager,
    z.object({ next: z.number() }),
    'select coalesce(max(no) + 1, 0) as next from intake_file where intake_id = $1',
    [intakeId],
  )
  await execute(
    manager,
    `insert into intake_file (intake_id, no, path, size, modified, fault)
     select $1, $2 + t.n - 1, t.path, t.size, t.modified, t.fault
     from unnest($3::text[], $4::bigint[], $5::timestamptz[], $6::text[]) with ordinality as t(path, size, modified, fault, n)
     on conflict (intake_id, path) do update set size = excluded.size, modified = excluded.modified, fault = excluded.fault, sha256 = null
       where intake_file.size <> excluded.size or intake_file.modified <> excluded.modified`,
    [
      intakeId,
      next,
      files.map(({ path }) => path),
      files.map(({ size }) => size),
      files.map(({ modified }) => modified),
      files.map(({ fault, size }) => fault ?? (size > largest ? 'too large' : null)),
    ],
  )
}

/** What was read of files, by their numbers. */
async function noteRead(
  manager: DataSource | EntityManager,
  intakeId: string,
  files: readonly {
    no: number
    sha256: Uint8Array | null
    at: string | null
    author: string
    title: string
    sketch: Uint8Array
    fault: string | null
  }[],
): Promise<void> {
  await execute(
    manager,
    `update intake_file f set sha256 = t.sha256, own_at = t.at, author = t.author, title = t.title, sketch = t.sketch, fault = t.fault
     from unnest($2::int[], $3::bytea[], $4::timestamptz[], $5::text[], $6::text[], $7::bytea[], $8::text[])
       as t(no, sha256, at, author, title, sketch, fault) where f.intake_id = $1 and f.no = t.no`,
    [
      intakeId,
      files.map(({ no }) => no),
      files.map(({ sha256 }) => sha256 && Buffer.from(sha256)),
      files.map(({ at }) => at),
      files.map(({ author }) => kept(author)),
      files.map(({ title }) => kept(title)),
      files.map(({ sketch }) => Buffer.from(sketch)),
      files.map(({ fault }) => fault),
    ],
  )
}
/** PostgreSQL keeps every letter but one. */
const kept = (text: string) => text.replaceAll('\0', '')

/** @param root the drive's real path @returns false when it was told to stop before it was done */
export async function lookThrough(
  looking: Looking,
  intake: IntakeRow,
  root: string,
  stopped: () => boolean,
): Promise<boolean> {
  const { database, tasks, largestFile } = looking
  let some: OnDrive[] = []
  for await (const found of walk(root)) {
    some.push(found)
    if (some.length < atOnce) continue
    await note(database, intake.id, some, largestFile)
    some = []
    if (stopped()) return false
  }
  await note(database, intake.id, some, largestFile)
  const limit = pLimit(tasks.atOnce)
  const Unread = z.object({ no: z.number(), path: z.string() })
  while (!stopped()) {
    const unread = await select(
      database,
      Unread,
      'select no, path from intake_file where intake_id = $1 and sha256 is null and fault is null order by no limit 100',
      [intake.id],
    )
    if (!unread.length) return true
    const read = await Promise.all(
      unread.map(({ no, path }) =>
        limit(async () => {
          try {
            return { no, ...(await tasks.read(root, path)) }
          } catch {
            // What cannot be read, for whatever reason, is told as that; another look tries it again.
            return { no, sha256: null, at: null, author: '', title: '', sketch: new Uint8Array(), fault: 'unreadable' }
          }
        }),
      ),
    )
    await noteRead(database, intake.id, read)
  }
  return false
}

/** Notes files that a page has, as far as it has read them. @returns paths of those that are still to be read */
export async function noteFromPage(
  manager: EntityManager,
  intakeId: string,
  files: readonly DriveFile[],
  largest: number,
): Promise<string[]> {
  await note(
    manager,
    intakeId,
    files.map(({ path, size, modified, fault }) => ({
      path: kept(path),
      size,
      modified: new Date(modified),
      fault: fault === 'litter' ? fault : null,
    })),
    largest,
  )
  const rows = await select(
    manager,
    z.object({ no: z.number(), path: z.string(), known: z.boolean() }),
    'select no, path, sha256 is not null or fault is not null as known from intake_file where intake_id = $1 and path = any($2)',
    [intakeId, files.map(({ path }) => kept(path))],
  )
  const open = new Map(rows.flatMap(({ path, no, known }) => (known ? [] : [[path, no] as const])))
  const read = files.flatMap((file) => {
    const no = open.get(kept(file.path))
    if (no === undefined || (file.sha256 === null && file.fault === null)) return []
    open.delete(kept(file.path))
    const sketch = Buffer.from(file.sketch, 'base64')
    const sha256 = file.sha256 === null ? null : Buffer.from(file.sha256, 'hex')
    return [{ no, sha256, at: file.ownAt, author: file.author, title: file.title, sketch, fault: file.fault }]
  })
  await noteRead(manager, intakeId, read)
  return files.map(({ path }) => path).filter((path) => open.has(kept(path)))
}

const ToPlan = z.object({
  no: z.number(),
  path: z.string(),
  size: z.string(),
  at: z.date(),
  sha256: z.instanceof(Buffer),
  title: z.string(),
  sketch: z.instanceof(Buffer).nullable(),
})
const toPlan = (row: z.output<typeof ToPlan>): PlannedFile => ({
  no: row.no,
  path: row.path,
  size: Number(row.size),
  at: row.at.toISOString(),
  sha256: row.sha256.toString('hex'),
  title: row.title,
  sketch: sketchFrom(row.sketch ?? new Uint8Array()),
})
const columns = `no, path, size, ${changedAt} as at, sha256, title, sketch`
/** What there is to take over of it: it was read, and something is in it. */
const comes = `sha256 is not null and fault is distinct from 'empty' and fault is distinct from 'litter' and fault is distinct from 'too large'`

export async function goalOf(
  manager: EntityManager,
  { shareId, folderId }: Pick<IntakeRow, 'shareId' | 'folderId'>,
): Promise<Goal> {
  const folders = await manager.find(EntryRow, {
    select: { id: true, folderId: true, name: true },
    where: { shareId, kind: 'folder', removedAt: IsNull() },
  })
  return {
    naming: await namingOf(manager, shareId),
    folders: folders.map(({ id, folderId: parentId, name }) => ({ id, parentId, name })),
    folderId,
  }
}

export async function filesToPlan(
  manager: EntityManager,
  intakeId: string,
  nos?: readonly number[],
): Promise<PlannedFile[]> {
  const rows = await select(
    manager,
    ToPlan,
    `select ${columns} from intake_file where intake_id = $1 and ${comes} and ($2::int[] is null or no = any($2)) order by no`,
    [intakeId, nos ?? null],
  )
  return rows.map(toPlan)
}

/** Plans all that was read, and leaves it to somebody to decide. */
export async function planAll({ database, tasks }: Looking, intake: IntakeRow): Promise<void> {
  const files = await filesToPlan(database.manager, intake.id)
  const planned = await tasks.plan(files, await goalOf(database.manager, intake))
  await inTransaction(database, async (manager) => {
    await execute(manager, 'delete from intake_series where intake_id = $1', [intake.id])
    for (let from = 0; from < planned.length; from += atOnce)
      await putSeries(manager, intake.id, planned.slice(from, from + atOnce), from)
    await execute(manager, `update intake set state = 'ready' where id = $1 and state = 'planning'`, [intake.id])
  })
}

/** @param firstNo the number of the first of these series */
export async function putSeries(
  manager: EntityManager,
  intakeId: string,
  planned: readonly Planned[],
  firstNo: number,
): Promise<void> {
  await execute(
    manager,
    `insert into intake_series (intake_id, no, name, folders, certainty, why, doubts, remarks, wanted)
     select $1, t.no, t.name, t.folders, t.certainty, t.why, t.doubts, t.remarks, true
     from jsonb_to_recordset($2::jsonb) as t(no int, name text, folders text[], certainty text, why jsonb, doubts jsonb, remarks jsonb)`,
    [
      intakeId,
      JSON.stringify(
        planned.map(({ name, folders, certainty, why, doubts, remarks }, at) => ({
          no: firstNo + at,
          name: kept(name),
          folders: folders.map(kept),
          certainty,
          why,
          doubts,
          remarks,
        })),
      ),
    ],
  )
  const places = planned.flatMap(({ files, doubles }, at) => [
    ...files.map((no, position) => ({ no, series: firstNo + at, position, of: null })),
    ...doubles.map(({ no, of }) => ({ no, series: firstNo + at, position: files.indexOf(of), of })),
  ])
  await execute(
    manager,
    `update intake_file f set series = t.series, position = t.position, double_of = t.of
     from unnest($2::int[], $3::int[], $4::int[], $5::int[]) as t(no, series, position, of) where f.intake_id = $1 and f.no = t.no`,
    [
      intakeId,
      places.map(({ no }) => no),
      places.map(({ series }) => series),
      places.map(({ position }) => position),
      places.map(({ of }) => of),
    ],
  )
}
