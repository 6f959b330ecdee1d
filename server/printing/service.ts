// What is printed: written down with its pages, given to its printer beside everything else, and followed until it is over.
// A job whose process is killed while it is given to the printer is looked for there first, so that it is printed once.
import type { DataSource, EntityManager } from 'typeorm'
import { uuidv7 } from 'uuidv7'
import { z } from 'zod'
import type { NewPrintJob, Printed, PrintJob, PrintState } from '../../core/contract'
import { asKept, fromKept, type Sentence, say } from '../../core/words/said'
import { auditing } from '../audit/log'
import { announce } from '../events/announce'
import type { Work } from '../jobs/queue'
import { absent, Refusal } from '../refusal'
import { requireRoleAt } from '../rights/service'
import { execute, select } from '../sql/rows'
import { inTransaction } from '../sql/transaction'
import { versionById } from '../versions/read'
import { PrinterRow, PrintJobRow } from './entity'
import { askJob, cancelJob, findJob, giveJob, type JobNow, PrinterAway, PrinterRefuses } from './printer'

/** So many jobs of one person wait at most. */
const mostWaiting = 50
/** Pages stay so long to be printed again; hours. */
const keptFor = 24
/** How often a job under way is looked at, and one whose printer does not answer; milliseconds. */
const looksEvery = 1000
const awayEvery = 10_000
/** Whoever gives a job to its printer has so long, until another may try. Milliseconds. */
const lease = 180_000
/** A printer that does not answer for so long gets no job any more; that is longer than a night. Milliseconds. */
const longestAway = 16 * 3600_000
/** One that was printing, and went away, is waited for so long. Milliseconds. */
const longestLost = 3600_000

/** Under which a job is known at its printer; people read it on its display. */
const titleOf = (id: string, name: string): string => `${[...name].slice(0, 60).join('')} [${id.slice(-12)}]`

const underWay = ['waiting', 'printing', 'stopped']
const bytesOf = (base64: string): Buffer => {
  const bytes = Buffer.from(base64, 'base64')
  if (bytes.subarray(0, 5).toString('latin1') !== '%PDF-') throw new Refusal('invalid', say('problem.no-pdf'))
  return bytes
}

const JobShown = z.object({
  id: z.string(),
  printer: z.string(),
  printerId: z.string(),
  name: z.string(),
  fileId: z.string().nullable(),
  at: z.date(),
  since: z.date(),
  state: z.custom<PrintState>(),
  reasons: z.array(z.string()),
  said: z.string().nullable(),
  done: z.number(),
  faces: z.number(),
  pages: z.number(),
  copies: z.number(),
  hasBacks: z.boolean(),
  again: z.boolean(),
})
const jobColumns = `j.id, r.name as printer, j.printer_id as "printerId", j.name, j.file_id as "fileId", j.at, j.since, j.state,
  j.reasons, j.said, j.done, j.faces * j.copies as faces, j.pages, j.all_copies as copies,
  j.backs is not null and j.state = 'done' as "hasBacks",
  j.document is not null and j.state in ('done', 'cancelled', 'failed', 'lost') and r.removed_at is null as again`
const shownJob = ({ at, since, said, ...job }: z.output<typeof JobShown>): PrintJob => ({
  ...job,
  done: Math.min(job.done, job.faces),
  at: at.toISOString(),
  since: since.toISOString(),
  said: said === null ? null : fromKept(said),
})
async function jobOf(manager: EntityManager, personId: string, id: string): Promise<PrintJob> {
  const [row] = await select(
    manager,
    JobShown,
    `select ${jobColumns} from print_job j join printer r on r.id = j.printer_id where j.id = $1 and j.person_id = $2`,
    [id, personId],
  )
  if (!row) throw absent()
  return shownJob(row)
}

async function printerById(manager: EntityManager, id: string): Promise<PrinterRow> {
  const row = await manager.findOneBy(PrinterRow, { id })
  if (!row || row.removedAt) throw absent()
  return row
}

/** Writes down what is printed. @throws Refusal invalid, not-found, too-many-attempts */
export async function print(database: DataSource, personId: string, asked: NewPrintJob): Promise<PrintJob> {
  const { key, pdf, backs, fileId, versionId, ...job } = asked
  const document = bytesOf(pdf)
  const turned = backs === null ? null : bytesOf(backs)
  return inTransaction(database, async (manager) => {
    if (fileId) await requireRoleAt(manager, personId, fileId, 'view')
    const version = versionId === null ? null : await versionById(manager, versionId)
    if (version && version.fileId !== fileId) throw absent()
    // Asked for twice at once, the second waits for the first.
    await execute(manager, 'select pg_advisory_xact_lock(hashtextextended($1, 0))', [key])
    const before = await manager.findOneBy(PrintJobRow, { id: key, personId })
    if (before) return jobOf(manager, personId, key)
    const printer = await printerById(manager, job.printerId)
    const [{ waiting } = { waiting: 0 }] = await select(
      manager,
      z.object({ waiting: z.number() }),
      'select count(*)::int as waiting from print_job where person_id = $1 and next_at is not null',
      [personId],
    )
    if (waiting >= mostWaiting)
      throw new Refusal('too-many-attempts', say('problem.too-many-print-jobs', { most: mostWaiting }))
    await manager.insert(PrintJobRow, {
      ...job,
      id: key,
      personId,
      fileId,
      versionId,
      number: version?.number ?? null,
      document,
      backs: turned,
      nextAt: () => 'now()',
    })
    await auditing(manager, {
      personId,
      shareId: version?.shareId ?? null,
      what: 'printed',
      facts: {
        name: job.name,
        ...(version && { number: version.number }),
        printer: printer.name,
        pages: job.pages,
        copies: job.allCopies,
      },
    })
    await announce(manager, { about: 'printing', personId })
    return jobOf(manager, personId, key)
  })
}

/** What somebody prints, and printed lately. */
export async function printJobs(manager: EntityManager, personId: string): Promise<PrintJob[]> {
  const rows = await select(
    manager,
    JobShown,
    `select ${jobColumns} from print_job j join printer r on r.id = j.printer_id
     where j.person_id = $1 and (j.next_at is not null or j.since > now() - interval '1 day' or (j.backs is not null and j.state = 'done'))
     order by j.at desc limit 50`,
    [personId],
  )
  return rows.map(shownJob)
}

export async function ownJob(manager: EntityManager, personId: string, id: string): Promise<PrintJobRow> {
  const row = await manager.findOneBy(PrintJobRow, { id, personId })
  if (!row) throw absent()
  return row
}

/** @throws Refusal not-found, invalid where it is over or its printer does not let go of it */
export async function cancelPrint(database: DataSource, personId: string, by: string, id: string): Promise<void> {
  const { manager } = database
  const row = await ownJob(manager, personId, id)
  if (!underWay.includes(row.state)) throw new Refusal('invalid', say('problem.this-print-is-over'))
  if (row.remoteId !== null) {
    const { address } = await manager.findOneByOrFail(PrinterRow, { id: row.printerId })
    try {
      await cancelJob(address, by, row.remoteId)
    } catch (error) {
      if (error instanceof PrinterAway)
        throw new Refusal('invalid', say('problem.cannot-cancel', { why: [error.said] }))
      // It is over there, or gone: the next look says which.
      if (!(error instanceof PrinterRefuses)) throw error
    }
    await execute(manager, 'update print_job set next_at = now() where id = $1 and next_at is not null', [id])
    return
  }
  // Whoever gives it to the printer in this moment finds that it is cancelled, and cancels it there.
  await over(database, row, 'cancelled', null)
}

/** The same again, as a job of its own. @throws Refusal not-found, invalid */
export async function printAgain(
  database: DataSource,
  personId: string,
  id: string,
  backs: boolean,
): Promise<PrintJob> {
  return inTransaction(database, async (manager) => {
    const row = await ownJob(manager, personId, id)
    await printerById(manager, row.printerId)
    const document = backs ? row.backs : row.document
    if (!document || underWay.includes(row.state) || (backs && row.state !== 'done'))
      throw new Refusal('invalid', say('problem.this-print-is-not-kept'))
    if (row.fileId) await requireRoleAt(manager, personId, row.fileId, 'view')
    const fresh = uuidv7()
    await execute(
      manager,
      `insert into print_job (id, printer_id, person_id, file_id, version_id, number, unsaved, name, pages, faces, copies,
         all_copies, collated, turn, size, landscape, colour, document, backs, next_at)
       select $2, printer_id, person_id, file_id, version_id, number, unsaved, name, pages, faces, copies, all_copies,
         collated, turn, size, landscape, colour, case when $3 then backs else document end,
         case when $3 then null else backs end, now() from print_job where id = $1`,
      [id, fresh, backs],
    )
    // They are printed once.
    if (backs) await execute(manager, 'update print_job set backs = null where id = $1', [id])
    await announce(manager, { about: 'printing', personId })
    return jobOf(manager, personId, fresh)
  })
}

/** What was printed of a file, the latest first. @throws Refusal not-found */
export async function printedOf(manager: EntityManager, personId: string, fileId: string): Promise<Printed[]> {
  await requireRoleAt(manager, personId, fileId, 'view')
  const rows = await select(
    manager,
    z.object({
      id: z.string(),
      at: z.date(),
      by: z.string(),
      printer: z.string(),
      number: z.number().nullable(),
      unsaved: z.boolean(),
      pages: z.number(),
      copies: z.number(),
      state: z.custom<PrintState>(),
    }),
    `select j.id, j.at, p.name as by, r.name as printer, j.number, j.unsaved, j.pages, j.all_copies as copies, j.state
     from print_job j join printer r on r.id = j.printer_id join person p on p.id = j.person_id
     where j.file_id = $1 order by j.at desc, j.id limit 200`,
    [fileId],
  )
  return rows.map(({ at, ...one }) => ({ ...one, at: at.toISOString() }))
}

const Taken = z.object({
  id: z.string(),
  personId: z.string(),
  by: z.string(),
  address: z.string(),
  name: z.string(),
  state: z.custom<PrintState>(),
  remoteId: z.number().nullable(),
  tries: z.number(),
  awaySince: z.date().nullable(),
  copies: z.number(),
  collate: z.boolean(),
  turn: z.enum(['one', 'long', 'short']),
  size: z.string().nullable(),
  landscape: z.boolean(),
  colour: z.boolean(),
  reasons: z.array(z.string()),
  done: z.number(),
})
type Taken = z.output<typeof Taken>

/** Takes the next job that is to be looked at, for a while. */
async function takeNext(database: DataSource): Promise<Taken | undefined> {
  const [row] = await select(
    database,
    Taken,
    `with taken as (
       update print_job set tries = tries + case when remote_id is null then 1 else 0 end, next_at = now() + $1 * interval '1 millisecond'
       where id = (select id from print_job where next_at <= now() order by next_at limit 1 for update skip locked)
       returning *)
     select j.id, j.person_id as "personId", p.name as by, r.address, j.name, j.state, j.remote_id as "remoteId", j.tries,
       j.away_since as "awaySince", j.copies, j.collated as "collate", j.turn, j.size, j.landscape, j.colour, j.reasons, j.done
     from taken j join printer r on r.id = j.printer_id join person p on p.id = j.person_id`,
    [lease],
  )
  return row
}
/** When the next one is due; milliseconds from now, null for none. */
async function nextIn(database: DataSource): Promise<number | null> {
  const [row] = await select(
    database,
    z.object({ wait: z.number().nullable() }),
    `select (extract(epoch from min(next_at) - now()) * 1000)::float as wait from print_job where next_at is not null`,
  )
  return row?.wait ?? null
}

async function over(
  database: DataSource,
  { id, personId }: { id: string; personId: string },
  state: 'done' | 'cancelled' | 'failed' | 'lost',
  said: Sentence | null,
  reasons: readonly string[] = [],
): Promise<void> {
  await database.transaction(async (manager) => {
    await execute(
      manager,
      `update print_job set state = $2, said = $3, reasons = $4, since = now(), next_at = null, away_since = null,
         done = case when $2 = 'done' then faces * copies else done end where id = $1 and next_at is not null`,
      [id, state, said === null ? null : asKept(said), reasons],
    )
    await announce(manager, { about: 'printing', personId })
  })
}

/** What its printer said of a job under way is written down; its person's pages hear of it where it is something else. */
async function follow(database: DataSource, job: Taken, now: JobNow): Promise<void> {
  const state = now.state as 'waiting' | 'printing' | 'stopped'
  const done = now.done ?? job.done
  const same = state === job.state && done === job.done && !job.awaySince && now.reasons.join() === job.reasons.join()
  await database.transaction(async (manager) => {
    await execute(
      manager,
      `update print_job set state = $2, reasons = $3, done = $4, said = null, away_since = null,
         since = case when state = $2 then since else now() end, next_at = now() + $5 * interval '1 millisecond'
       where id = $1 and next_at is not null`,
      [job.id, state, now.reasons, done, looksEvery],
    )
    if (!same) await announce(manager, { about: 'printing', personId: job.personId })
  })
}

/** Its printer does not answer, or refuses for now. */
async function waitFor(database: DataSource, job: Taken, said: Sentence): Promise<void> {
  const since = job.awaySince ?? new Date()
  const away = Date.now() - since.getTime()
  if (job.remoteId === null && away > longestAway) return over(database, job, 'failed', said)
  if (job.remoteId !== null && away > longestLost) return over(database, job, 'lost', said)
  await database.transaction(async (manager) => {
    await execute(
      manager,
      `update print_job set said = $2, away_since = $3, next_at = now() + $4 * interval '1 millisecond'
       where id = $1 and next_at is not null`,
      [job.id, asKept(said), since, awayEvery],
    )
    await announce(manager, { about: 'printing', personId: job.personId })
  })
}

async function give(database: DataSource, job: Taken): Promise<void> {
  const [row] = await select(
    database,
    z.object({ document: z.instanceof(Buffer).nullable() }),
    'select document from print_job where id = $1',
    [job.id],
  )
  if (!row?.document) return over(database, job, 'failed', say('problem.this-print-is-not-kept'))
  const title = titleOf(job.id, job.name)
  // Whoever tried before may have been killed after it was given.
  const there = job.tries > 1 ? await findJob(job.address, title) : null
  const remoteId =
    there ??
    (await giveJob(job.address, {
      by: job.by,
      title,
      pdf: row.document,
      copies: job.copies,
      collate: job.collate,
      turn: job.turn,
      size: job.size,
      landscape: job.landscape,
      colour: job.colour,
    }))
  const kept = await execute(
    database,
    'update print_job set remote_id = $2, next_at = now(), away_since = null, said = null where id = $1 and next_at is not null',
    [job.id, remoteId],
  )
  // It was cancelled meanwhile.
  if (!kept) await cancelJob(job.address, job.by, remoteId)
}

async function lookAt(database: DataSource, job: Taken): Promise<void> {
  try {
    if (job.remoteId === null) return await give(database, job)
    const now = await askJob(job.address, job.remoteId)
    if (!now) return await over(database, job, 'lost', say('problem.printer-knows-it-no-more'))
    if (now.state === 'done' || now.state === 'cancelled' || now.state === 'failed')
      return await over(
        database,
        job,
        now.state,
        now.state === 'failed' ? say('problem.printer-gave-it-up') : null,
        now.state === 'failed' ? now.reasons : [],
      )
    await follow(database, job, now)
  } catch (error) {
    if (error instanceof PrinterAway) return waitFor(database, job, error.said)
    if (!(error instanceof PrinterRefuses)) throw error
    // What it takes in a while is no refusal for good (RFC 8011, appendix B.1.5).
    if (error.code >= 0x0500 && error.code !== 0x0501) return waitFor(database, job, error.said)
    return over(database, job, 'failed', error.said)
  }
}

/** Gives what waits to its printers, and follows what they print. */
export const printing = (database: DataSource): Work => ({
  name: 'print',
  when: '* * * * *',
  async run(stopped) {
    await execute(
      database,
      `update print_job set document = null, backs = null
       where (document is not null or backs is not null) and next_at is null and since < now() - $1 * interval '1 hour'`,
      [keptFor],
    )
    while (!stopped()) {
      const job = await takeNext(database)
      if (job) {
        await lookAt(database, job)
        continue
      }
      const wait = await nextIn(database)
      // What is due later is found by the next minute's look.
      if (wait === null || wait > 15_000) return
      await new Promise((done) => setTimeout(done, Math.max(50, Math.min(1000, wait))))
    }
  },
})
