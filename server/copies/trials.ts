// Trials by themselves: every so many days, and when somebody asks, what a place holds is brought back beside ours and
// compared, in a process of its own that gives way to everything else.
import { type ChildProcess, spawn } from 'node:child_process'
import type { DataSource, EntityManager } from 'typeorm'
import { z } from 'zod'
import { announce } from '../events/announce'
import type { Work } from '../jobs/queue'
import { absent } from '../refusal'
import { select } from '../sql/rows'
import { CopySiteRow } from './entity'

/** One that failed is made again after so many hours. */
const againAfter = 24

/** Places that were tried for so many days not, or are asked about: those with a copy, the longest waiting first. */
export async function trialsDue(database: DataSource, days: number, now = new Date()): Promise<string[]> {
  const rows = await select(
    database,
    z.object({ id: z.string() }),
    `select t.id from copy_site t
     left join lateral (select at, failure is not null or differ > 0 as ill from copy_drill d where d.site_id = t.id order by at desc limit 1) last on true
     where exists(select from share_copy c where c.site_id = t.id and c.copied_at is not null)
       and (t.trial_wanted or last.at is null
         or last.at < $1::timestamptz - case when last.ill then make_interval(hours => ${againAfter}) else make_interval(days => $2) end)
     order by t.trial_wanted desc, last.at nulls first, t.id`,
    [now, days],
  )
  return rows.map(({ id }) => id)
}

/** Has what a place holds tried before it is due. @throws Refusal not-found for one that holds nothing yet */
export async function askForTrial(manager: EntityManager, siteId: string): Promise<void> {
  const asked = await select(
    manager,
    z.object({ id: z.string() }),
    `update copy_site t set trial_wanted = true where t.id = $1
       and exists(select from share_copy c where c.site_id = t.id and c.copied_at is not null) returning t.id`,
    [siteId],
  )
  if (!asked.length) throw absent()
}

/** Pages that show a place hear of it. */
export async function tellOfSite(database: DataSource, siteId: string): Promise<void> {
  const shares = await select(
    database,
    z.object({ id: z.string() }),
    'select share_id as id from share_copy where site_id = $1',
    [siteId],
  )
  for (const { id } of shares) await announce(database.manager, { about: 'copies', shareId: id })
}

/** Places that are tried at this moment, by this process. */
const under = new Set<string>()
export const isTried = (siteId: string): boolean => under.has(siteId)

let running: ChildProcess | null = null
/** Runs the program of a trial to its end. @returns what it said where it failed */
function runTrial(program: URL, siteId: string): Promise<string | null> {
  return new Promise((ended) => {
    const child = spawn(process.execPath, [program.pathname, siteId], {
      env: process.env,
      stdio: ['ignore', 'ignore', 'pipe'],
    })
    let said = ''
    child.stderr.on('data', (text) => {
      said = `${said}${text}`.slice(-2000)
    })
    running = child
    const end = (text: string | null) => {
      running = null
      ended(text)
    }
    child.once('error', (error) => end(error.message))
    child.once('exit', (code, signal) => end(code === 0 || signal ? null : said.trim() || `It ended with ${code}.`))
  })
}

/** Ends a trial that is under way, for whoever ends: the next start makes it again. */
export function endTrial(): void {
  running?.kill('SIGKILL')
}

/** The work of trials. @param program the built one (server/trial.ts) */
export function trying(database: DataSource, program: URL, days: number, onFault: (error: unknown) => void): Work {
  return {
    name: 'trial',
    when: '41 * * * *',
    async run(stopped) {
      // One takes as long as what is there is large, and longer than a turn of the queue: it goes on, alone.
      if (under.size) return
      for (const siteId of await trialsDue(database, days)) {
        if (stopped()) return
        under.add(siteId)
        await tellOfSite(database, siteId)
        try {
          // Asked for once more meanwhile it is made once more.
          await database.manager.update(CopySiteRow, { id: siteId }, { trialWanted: false })
          const fault = await runTrial(program, siteId)
          if (fault !== null) onFault(new Error(`What a place for copies holds could not be tried. ${fault}`))
        } finally {
          under.delete(siteId)
          await tellOfSite(database, siteId)
        }
      }
    },
  }
}
