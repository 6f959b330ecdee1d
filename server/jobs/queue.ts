// Work that nobody waits for, on a queue in PostgreSQL: one place says what there is, when it is due and who does it.
// What has to be done stands in the subjects' own tables (what is not indexed, not described, not moved); a job only
// says that there may be some. So a job that is lost with its process loses nothing, two processes at one piece of work
// hold each other off by its lock, and the next minute's job finds whatever was left.
import PgBoss from 'pg-boss'
import type { DataSource, QueryRunner } from 'typeorm'
import { databaseIsAway } from '../refusal'

export interface Work {
  name: string
  /** When it is done without being asked for, in the fields of cron (POSIX crontab). */
  when: string
  /** Does what there is to do, until there is no more or `stopped` says so. */
  run(stopped: () => boolean): Promise<unknown>
}

export interface Queue {
  /** There may be some work of this kind now. */
  soon(name: string): void
  close(): Promise<void>
}

const schema = 'pgboss'
/** What was asked for again and again within this is asked for once; milliseconds. */
const together = 200
/** How often each process looks for work that another one, or the clock, has asked for; seconds. */
const looksEvery = 5
/** Nothing runs longer without letting others have their turn; it is asked for again. Milliseconds. */
const longest = 600_000

/**
 * Makes the queue's tables, as the owner of the database, and lets the application's role work with them.
 * @param url of the owner @param names the works that there are @param role of the application, where it is another one
 */
export async function prepareQueue(
  url: string,
  names: readonly string[],
  { runner, role }: { runner: QueryRunner; role: string | null },
): Promise<void> {
  const boss = new PgBoss({ connectionString: url, schema, supervise: false, schedule: false, max: 1 })
  let fault: unknown
  boss.on('error', (error) => {
    fault = error
  })
  await boss.start()
  // The clock's own, and ours: one of a kind may wait, whatever else is running.
  await boss.createQueue('__pgboss__send-it')
  for (const name of names) await boss.createQueue(name, { name, policy: 'short', retryLimit: 0, expireInMinutes: 15 })
  await boss.stop({ graceful: false })
  if (fault) throw fault
  if (!role) return
  const to = `"${role.replaceAll('"', '""')}"`
  await runner.query(`
    grant usage on schema ${schema} to ${to};
    grant select, insert, update, delete on all tables in schema ${schema} to ${to};
  `)
}

/** Does the works of this process, until closed. */
export async function openQueue(
  database: DataSource,
  works: readonly Work[],
  onFault: (error: unknown, work: string) => void,
): Promise<Queue> {
  let closing = false
  const pool = (
    database.driver as unknown as { master: { query(text: string, values: unknown[]): Promise<{ rows: [] }> } }
  ).master
  /** While the database is away everything waits: what was done is said when it is back. */
  const executeSql = async (text: string, values: unknown[]): Promise<{ rows: [] }> => {
    for (;;) {
      try {
        return await pool.query(text, values)
      } catch (error) {
        // pg-boss reads how many it told of, also of what nobody hears any more.
        if (closing) return { rows: /select count\(\*\)/i.test(text) ? [{ count: '0' }] : [] } as { rows: [] }
        if (!databaseIsAway(error)) throw error
        await new Promise((again) => setTimeout(again, 500))
      }
    }
  }
  const boss = new PgBoss({
    db: { executeSql },
    schema,
    migrate: false,
    supervise: true,
    maintenanceIntervalSeconds: 60,
    archiveCompletedAfterSeconds: 60,
    archiveFailedAfterSeconds: 60,
    deleteAfterHours: 1,
  })
  boss.on('error', (error) => closing || onFault(error, 'queue'))
  await boss.start()
  const workers = new Map<string, string>()
  const running = new Set<Promise<unknown>>()
  for (const work of works) {
    const id = await boss.work(work.name, { pollingIntervalSeconds: looksEvery }, async () => {
      const end = Date.now() + longest
      const doing = work
        .run(() => closing || Date.now() > end)
        .catch((error) => closing || onFault(error, work.name))
        .finally(() => running.delete(doing))
      running.add(doing)
      await doing
      if (!closing && Date.now() > end) soon(work.name)
    })
    workers.set(work.name, id)
    await boss.schedule(work.name, work.when)
  }
  const asked = new Map<string, NodeJS.Timeout>()
  function soon(name: string): void {
    const worker = workers.get(name)
    if (closing || !worker || asked.has(name)) return
    asked.set(
      name,
      setTimeout(() => {
        asked.delete(name)
        // One that waits already is enough; its worker is woken all the same.
        boss
          .send({ name })
          .then(() => boss.notifyWorker(worker))
          .catch((error) => closing || onFault(error, name))
      }, together),
    )
  }
  // Whatever was left when the last process ended.
  for (const { name } of works) soon(name)
  return {
    soon,
    async close() {
      closing = true
      for (const timer of asked.values()) clearTimeout(timer)
      await boss.stop({ graceful: false })
      await Promise.all(running)
    },
  }
}
