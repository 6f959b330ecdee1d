// Takes the files of a drive in, oldest version first. Each is its own transaction with a key of its own: whatever is
// killed in the middle, it goes on where it was and nothing comes twice.
import { createHash } from 'node:crypto'
import pLimit from 'p-limit'
import type { DataSource, EntityManager } from 'typeorm'
import { z } from 'zod'
import type { Saved } from '../../core/contract'
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
import { changedAt, IntakeFileRow, type IntakeRow, IntakeSeriesRow } from './entity'

export interface Taking {
  database: DataSource
  quotas: Quotas
}

/** The identity of what comes of a file: asked for twice it comes once. */
const keyOf = (intakeId: string, no: number) =>
  createHash('sha256')
    .update([intakeId, no].join(' '))
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
    `select no, path, ${changedAt} as at, author, sha256, double_of, version_id, refused
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

interface Standing {
  id: string
  fileId: string
  at: Date
}
/**
 * What of a series is there: the newest version of what was noted, and what came in without being noted, because its
 * process ended in between.
 */
async function standing(manager: EntityManager, intakeId: string, files: readonly File[]) {
  const open = files.filter(isOpen)
  const rows = await select(
    manager,
    z.object({ id: z.string(), file_id: z.string(), at: z.date(), key: z.string(), head: z.string() }),
    `select v.id, v.file_id, v.at, v.request_key as key, e.head_version_id as head from version v join entry e on e.id = v.file_id
     where v.id = any($1) or v.request_key = any($2) order by v.number desc`,
    [files.flatMap(({ version_id }) => version_id ?? []), open.map(({ no }) => keyOf(intakeId, no))],
  )
  const unnoted = new Map(
    rows.map(({ key, id, file_id, at }): [string, Standing] => [key, { id, fileId: file_id, at }]),
  )
  const [newest] = rows
  return {
    newest: newest ? { id: newest.head, fileId: newest.file_id, at: newest.at } : null,
    unnotedOf: (no: number): Standing | null => unnoted.get(keyOf(intakeId, no)) ?? null,
  }
}
const isOpen = ({ double_of, version_id, refused }: File) =>
  double_of === null && version_id === null && refused === null

/** When it was written, or right after what was written before it. */
function timeAfter(at: Date, before: Date | undefined): Date {
  const now = Date.now()
  const time = Math.min(at.getTime(), now)
  return new Date(before && time <= before.getTime() ? Math.min(before.getTime() + 1, now) : time)
}

/** Takes in one file: as the next version of what is there, or as a new file. @throws Refusal */
async function takeOne(
  { database, quotas }: Taking,
  intake: IntakeRow,
  series: IntakeSeriesRow,
  file: File,
  before: Standing | null,
  bytes: Received,
): Promise<Standing> {
  if (!bytes.digest.equals(file.sha256)) throw new Refusal('invalid', say('intake.changed-since'))
  const keeping = {
    personId: intake.personId,
    bytes,
    reason: 'brought in' as const,
    anyType: true as const,
    key: keyOf(intake.id, file.no),
    at: timeAfter(file.at, before?.at),
  }
  const standingAs = ({ version }: Saved): Standing => ({
    id: version.id,
    fileId: version.fileId,
    at: new Date(version.at),
  })
  if (before)
    return standingAs(
      await keepVersion(database, quotas, { ...keeping, target: { fileId: before.fileId, baseId: before.id } }),
    )
  for (const name of namesFrom(series.name)) {
    try {
      const place = { shareId: intake.shareId, folderId: null, path: series.folders, name }
      return standingAs(await keepVersion(database, quotas, { ...keeping, target: { place } }))
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
  { id, fileId }: Standing,
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
    await execute(manager, 'insert into former_name (entry_id, name) select $1, unnest($2::text[])', [
      fileId,
      done.map(({ path }) => formerPath(intake, path)),
    ])
    const open = files.some((one) => one !== file && isOpen(one))
    await manager.update(IntakeSeriesRow, { intakeId: intake.id, no: series.no }, { fileId, open })
    // It is found by where it was, too, without waiting for its next change.
    await execute(manager, 'insert into search_queue (file_id) values ($1)', [fileId])
  })
}

/**
 * Takes in the open files of a series, oldest first.
 * @param read gives a file's bytes; null where it has none to give, and then it ends there
 * @throws DriveFault where there is no room
 */
async function takeSeries(
  taking: Taking,
  intake: IntakeRow,
  series: IntakeSeriesRow,
  read: (file: File) => Promise<Received | null>,
): Promise<void> {
  const { database } = taking
  const files = await filesOf(database.manager, intake.id, series.no)
  const { newest, unnotedOf } = await standing(database.manager, intake.id, files)
  let before = newest
  for (const file of files) {
    if (!isOpen(file)) continue
    try {
      let there = unnotedOf(file.no)
      if (!there) {
        const bytes = await read(file)
        if (!bytes) return
        there = await takeOne(taking, intake, series, file, before, bytes)
      }
      await noteTaken(database, intake, series, files, file, there)
      before = there
      file.version_id = there.id
    } catch (error) {
      // Where there is no room for one there is none for the next; it goes on when there is.
      if (error instanceof Refusal && error.problem.type === 'no-room' && error.problem.says)
        throw new DriveFault(error.problem.says)
      const why = whyNot(error)
      await refuse(database, intake.id, file.no, why)
      file.refused = asKept(why)
    }
  }
  if (!files.some(isOpen)) await closeSeries(database, intake.id, series.no)
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

/** Series that are taken in at once; people's own saves have as many ways beside them. */
const atOnce = 3
const perRound = 60

/** Takes in what is wanted of a drive of the server. @returns false when it was told to stop before it was done */
export async function takeAll(
  taking: Taking,
  intake: IntakeRow,
  root: string,
  stopped: () => boolean,
): Promise<boolean> {
  const { database } = taking
  const limit = pLimit(atOnce)
  const read = async (file: File) => receivedHere(await readOnDrive(root, file.path))
  for (;;) {
    const next = await database.manager.find(IntakeSeriesRow, {
      where: { intakeId: intake.id, wanted: true, open: true },
      order: { no: 'ASC' },
      take: perRound,
    })
    if (!next.length) return true
    // Somebody may stop it at any moment.
    let on = true
    const ended = await Promise.allSettled(
      next.map((series) =>
        limit(async () => {
          on &&= !stopped() && (await isTaking(database, intake.id))
          if (on) await takeSeries(taking, intake, series, read)
        }),
      ),
    )
    for (const one of ended) if (one.status === 'rejected') throw one.reason
    if (!on) return false
  }
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

/** Takes in a file that a page sends, when it is its turn; what stands against the file is told of it. @throws Refusal */
export async function takeFromPage(taking: Taking, intake: IntakeRow, no: number, bytes: Received): Promise<void> {
  const { manager } = taking.database
  const file = await manager.findOneBy(IntakeFileRow, { intakeId: intake.id, no })
  const series =
    file?.series == null ? null : await manager.findOneBy(IntakeSeriesRow, { intakeId: intake.id, no: file.series })
  if (!series?.wanted) throw new Refusal('invalid', say('intake.not-wanted'))
  if (file!.versionId) return
  let mine = false
  await takeSeries(taking, intake, series, async (next) => {
    if (mine || next.no !== no) return null
    mine = true
    return bytes
  })
  // What came in and was not noted was noted by this, too.
  if (!mine && !(await manager.findOneByOrFail(IntakeFileRow, { intakeId: intake.id, no })).versionId)
    throw new Refusal('invalid', say('intake.not-its-turn'))
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
