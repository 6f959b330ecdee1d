// Takes the files of a drive in, oldest version first. Each is its own transaction with a key of its own: whatever is
// killed in the middle, it goes on where it was and nothing comes twice.
import { createHash } from 'node:crypto'
import type { DataSource, EntityManager } from 'typeorm'
import { z } from 'zod'
import { byteLength, splitExtension } from '../../core/naming/check'
import { asKept, type Sentence, say } from '../../core/words/said'
import type { Quotas } from '../counts/quotas'
import { Refusal } from '../refusal'
import { type Received, receivedHere } from '../requests/upload'
import { keepVersion } from '../saving/keep'
import { execute, select, selectOne } from '../sql/rows'
import { inTransaction } from '../sql/transaction'
import { KeptVersionRow, TakenFromRow } from '../versions/entity'
import { DriveFault, readOnDrive } from './drive'
import { IntakeFileRow, type IntakeRow, IntakeSeriesRow } from './entity'

export interface Taking {
  database: DataSource
  quotas: Quotas
}

/** The identity of what comes of a file under a name: asked for twice it comes once. */
const keyOf = (intakeId: string, no: number, name: string) =>
  createHash('sha256')
    .update([intakeId, no, name].join(' '))
    .digest('hex')
    .replace(/^(.{8})(.{4}).(.{3}).(.{3})(.{12}).*$/, '$1-$2-4$3-8$4-$5')

const File = z.object({
  no: z.number(),
  path: z.string(),
  at: z.date(),
  author: z.string(),
  sha256: z.instanceof(Buffer),
  double_of: z.number().nullable(),
  version_id: z.string().nullable(),
  refused: z.string().nullable(),
})
type File = z.output<typeof File>

/** A series' files, oldest first, doubles after what they are doubles of. */
const filesOf = (manager: EntityManager, intakeId: string, series: number): Promise<File[]> =>
  select(
    manager,
    File,
    `select no, path, case when own_at between '1985-01-01' and now() then own_at else modified end as at, author, sha256, double_of, version_id, refused
     from intake_file where intake_id = $1 and series = $2 order by position, double_of nulls first, no`,
    [intakeId, series],
  )

/** What of a drive's files is said where they are found again: the drive and their path on it. */
const formerPath = ({ root, source }: IntakeRow, path: string) => {
  const drive = source === 'server' ? root.slice(root.lastIndexOf('/') + 1) : root
  return drive ? `${drive}/${path}` : path
}
const oldName = (path: string) =>
  Array.from(path.slice(path.lastIndexOf('/') + 1))
    .slice(0, 100)
    .join('')

/** Names to try where the one that was planned is taken by somebody else's file by now. */
function* namesFrom(name: string): Generator<string> {
  yield name
  const [stem, ending] = splitExtension(name)
  for (let number = 2; number <= 60; number++)
    if (byteLength(`${stem} ${number}${ending}`) <= 255) yield `${stem} ${number}${ending}`
}

/** The newest version of a series that is there already, and how many there are. */
async function standing(manager: EntityManager, files: readonly File[]) {
  const ids = files.flatMap(({ version_id }) => version_id ?? [])
  if (!ids.length) return null
  const [row] = await select(
    manager,
    z.object({ file_id: z.string(), head: z.string(), at: z.date() }),
    `select v.file_id, e.head_version_id as head, v.at from version v join entry e on e.id = v.file_id
     where v.id = any($1) order by v.number desc limit 1`,
    [ids],
  )
  return row ?? null
}

/** When it was written, or right after what was written before it. */
function timeAfter(at: Date, before: Date | undefined): Date {
  const now = Date.now()
  const time = Math.min(at.getTime(), now)
  return new Date(before && time <= before.getTime() ? Math.min(before.getTime() + 1, now) : time)
}

/**
 * Takes in one file of a series, the next one of it.
 * @throws Refusal
 */
async function takeOne(
  { database, quotas }: Taking,
  intake: IntakeRow,
  series: IntakeSeriesRow,
  files: readonly File[],
  file: File,
  bytes: Received,
): Promise<void> {
  if (!bytes.digest.equals(file.sha256)) throw new Refusal('invalid', say('intake.changed-since'))
  const before = await standing(database.manager, files)
  const keeping = {
    personId: intake.personId,
    bytes,
    reason: 'brought in' as const,
    at: timeAfter(file.at, before?.at),
  }
  if (before) {
    const saved = await keepVersion(database, quotas, {
      ...keeping,
      key: keyOf(intake.id, file.no, ''),
      target: { fileId: before.file_id, baseId: before.head },
    })
    return noteTaken(database, intake, series, files, file, saved.version)
  }
  for (const name of namesFrom(series.name)) {
    try {
      const saved = await keepVersion(database, quotas, {
        ...keeping,
        key: keyOf(intake.id, file.no, name),
        target: { place: { shareId: intake.shareId, folderId: null, path: series.folders, name } },
      })
      return await noteTaken(database, intake, series, files, file, saved.version)
    } catch (error) {
      if (!(error instanceof Refusal) || error.problem.type !== 'name-taken') throw error
    }
  }
  throw new Refusal('name-taken', say('intake.no-free-name', { name: series.name }))
}

/** Notes what became of a file, and of those that hold the same: where it was before stays known. */
function noteTaken(
  database: DataSource,
  intake: IntakeRow,
  series: IntakeSeriesRow,
  files: readonly File[],
  file: File,
  { id, fileId }: { id: string; fileId: string },
): Promise<void> {
  const those = files.filter((one) => one.no === file.no || one.double_of === file.no)
  const several = files.filter(({ double_of }) => double_of === null).length > 1
  return inTransaction(database, async (manager) => {
    // Whoever does the same at the same time finds it done.
    const done = await select(
      manager,
      z.object({ path: z.string() }),
      'update intake_file set version_id = $3, refused = null where intake_id = $1 and no = any($2) and version_id is null returning path',
      [intake.id, those.map(({ no }) => no), id],
    )
    if (!done.length) return
    await manager.upsert(TakenFromRow, { versionId: id, path: formerPath(intake, file.path), author: file.author }, [
      'versionId',
    ])
    // Versions of years ago would be thinned at once; they are kept under what they were called.
    if (several)
      await manager.upsert(
        KeptVersionRow,
        { versionId: id, label: oldName(file.path), personId: intake.personId, at: () => 'clock_timestamp()' },
        ['versionId'],
      )
    for (const { path } of done)
      await execute(manager, 'insert into former_name (entry_id, name) values ($1, $2)', [
        fileId,
        formerPath(intake, path),
      ])
    await manager.update(IntakeSeriesRow, { intakeId: intake.id, no: series.no }, { fileId })
    // It is found by where it was, too, without waiting for its next change.
    await execute(manager, 'insert into search_queue (file_id) values ($1)', [fileId])
  })
}

async function refuse(database: DataSource, intakeId: string, no: number, why: Sentence): Promise<void> {
  await database.manager.update(IntakeFileRow, { intakeId, no }, { refused: asKept(why) })
}

/** What stands against one file is told of that file, and the others come all the same. @throws whatever is no file's fault */
function whyNot(error: unknown): Sentence {
  if (error instanceof Refusal) return error.problem.says ?? say('intake.refused', { code: error.problem.type })
  if (error instanceof DriveFault) return say('intake.leads-out-by-now')
  const { code } = error as NodeJS.ErrnoException
  if (code === 'ENOENT' || code === 'ENOTDIR') return say('intake.gone-since')
  if (code && /^E[A-Z]+$/.test(code) && !/^ECONN|^EPIPE|ETIMEDOUT/.test(code)) return say('intake.refused', { code })
  throw error
}

/** Whether all of a series that can be there is there. */
async function closeSeries(database: DataSource, intakeId: string, no: number): Promise<void> {
  await execute(
    database,
    `update intake_series s set open = false where intake_id = $1 and no = $2 and not exists (
       select from intake_file f where f.intake_id = $1 and f.series = $2 and f.version_id is null and f.refused is null and f.double_of is null)`,
    [intakeId, no],
  )
}

/** Takes in what is wanted of a drive of the server. @returns false when it was told to stop before it was done */
export async function takeAll(
  taking: Taking,
  intake: IntakeRow,
  root: string,
  stopped: () => boolean,
): Promise<boolean> {
  const { database } = taking
  while (!stopped()) {
    const next = await database.manager.find(IntakeSeriesRow, {
      where: { intakeId: intake.id, wanted: true, open: true },
      order: { no: 'ASC' },
      take: 50,
    })
    if (!next.length) return true
    for (const series of next) {
      // Somebody may stop it, or leave this one out, at any moment.
      if (stopped() || !(await isTaking(database, intake.id))) return false
      for (;;) {
        const files = await filesOf(database.manager, intake.id, series.no)
        const file = files.find((one) => one.double_of === null && one.version_id === null && one.refused === null)
        if (!file) break
        try {
          await takeOne(taking, intake, series, files, file, receivedHere(await readOnDrive(root, file.path)))
        } catch (error) {
          // Where there is no room for one there is none for the next; it goes on when there is.
          if (error instanceof Refusal && error.problem.type === 'no-room' && error.problem.says)
            throw new DriveFault(error.problem.says)
          await refuse(database, intake.id, file.no, whyNot(error))
        }
      }
      await closeSeries(database, intake.id, series.no)
    }
  }
  return false
}

const isTaking = async (database: DataSource, id: string) =>
  (
    await selectOne(
      database,
      z.object({ yes: z.boolean() }),
      `select exists(select from intake where id = $1 and state = 'taking') as yes`,
      [id],
    )
  ).yes

/**
 * Takes in a file that a page sends. @throws Refusal, which is also told of the file where it is the file's
 */
export async function takeFromPage(taking: Taking, intake: IntakeRow, no: number, bytes: Received): Promise<void> {
  const { database } = taking
  const { series: of } = await database.manager.findOneByOrFail(IntakeFileRow, { intakeId: intake.id, no })
  const series = of === null ? null : await database.manager.findOneBy(IntakeSeriesRow, { intakeId: intake.id, no: of })
  if (!series?.wanted) throw new Refusal('invalid', say('intake.not-wanted'))
  const files = await filesOf(database.manager, intake.id, series.no)
  const file = files.find((one) => one.no === no)!
  const waiting = files.find((one) => one.double_of === null && one.version_id === null && one.refused === null)
  if (file.version_id) return
  if (waiting && waiting.no !== no) throw new Refusal('invalid', say('intake.not-its-turn'))
  try {
    await takeOne(taking, intake, series, files, file, bytes)
  } catch (error) {
    const why = whyNot(error)
    await refuse(database, intake.id, no, why)
  }
  await closeSeries(database, intake.id, series.no)
}

/** It is done when nothing that is wanted is open. */
export async function endIfDone(database: DataSource, intakeId: string): Promise<void> {
  await execute(
    database,
    `update intake set state = 'done' where id = $1 and state = 'taking'
       and not exists (select from intake_series s where s.intake_id = $1 and s.wanted and s.open)`,
    [intakeId],
  )
}
