// What comes back: the mailbox that messages come from is read, and what is reported there of a message is known of it.
// A report is taken away when it was read; whatever else lies there stays, for whoever reads that mailbox.
import type { DataSource } from 'typeorm'
import { z } from 'zod'
import { asKept, say } from '../../core/words/said'
import { announce } from '../events/announce'
import type { Work } from '../jobs/queue'
import { select } from '../sql/rows'
import { openMailbox } from './pop3'
import { type Report, reportOf } from './report'
import type { MailHost } from './way'

/** Reports have no more, but for the message that some send along; bytes. */
const largest = 8_000_000
/** So many are known by their names, so that what stays in the mailbox is not read again and again. */
const mostKnown = 5000

/** @returns whether it can be taken away: it was of a message of ours, and is known of it */
async function note(database: DataSource, { messageIds, action, said }: Report): Promise<boolean | null> {
  return database.transaction(async (manager) => {
    const rows = await select(
      manager,
      z.object({ personId: z.string() }),
      // A message that was reported as late may still arrive: it stays sent, with what is said of it.
      `update mail set said = $2, state = case when $3 then 'came back' else state end,
         since = case when $3 then now() else since end
       where message_id = any($1) and state = 'sent' returning person_id as "personId"`,
      [messageIds, asKept(say('problem.mail-server-said', { said })), action === 'failed'],
    )
    for (const { personId } of rows) await announce(manager, { about: 'mail', personId })
    if (rows.length) return true
    const known = await select(
      manager,
      z.object({ state: z.string() }),
      'select state from mail where message_id = any($1)',
      [messageIds],
    )
    // One that came back before it was written down that it was sent is read again in a minute.
    if (known.some(({ state }) => state === 'waiting')) return null
    return known.length > 0
  })
}

/** Reads the mailbox, each minute. */
export function readingReturns(database: DataSource, host: MailHost, patience?: number): Work {
  const known = new Set<string>()
  return {
    name: 'returned-mail',
    when: '* * * * *',
    async run(stopped) {
      const mailbox = await openMailbox(host, patience)
      try {
        for (const { number, uid, size } of await mailbox.list()) {
          if (stopped()) break
          if (known.has(uid) || size > largest) continue
          const report = await reportOf(await mailbox.read(number))
          const noted = report ? await note(database, report) : false
          if (noted) await mailbox.remove(number)
          else if (noted === false) known.add(uid)
        }
        await mailbox.quit()
      } catch (error) {
        mailbox.drop()
        throw error
      }
      for (const uid of known) {
        if (known.size <= mostKnown) break
        known.delete(uid)
      }
    },
  }
}
