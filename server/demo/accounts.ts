// The demo's accounts have passwords that everybody knows. They are open with the demo and closed without it: a
// database that began as a demo and is used in earnest lets nobody in by them.

import { verify } from '@node-rs/argon2'
import { type DataSource, MoreThan, Raw } from 'typeorm'
import { PersonRow, SessionRow } from '../accounts/entity'
import { AuditRow } from '../audit/entity'
import { inTransaction } from '../sql/transaction'
import { demoAccounts } from './people'

/** Opens the demo's accounts, or closes them and ends their sessions; one with a password of its own stays as it is. */
export async function openDemoAccounts(database: DataSource, open: boolean): Promise<void> {
  for (const { handle, password } of demoAccounts) {
    const person = await database.manager.findOneBy(PersonRow, { handle })
    if (!person?.passwordHash || (person.closedAt === null) === open) continue
    if (!(await verify(person.passwordHash, password))) continue
    // One that an administrator closed is theirs to open.
    if (
      open &&
      (await database.manager.existsBy(AuditRow, {
        what: 'account closed',
        facts: Raw((at) => `${at} ->> 'handle' = :handle`, { handle }),
        at: MoreThan(new Date(person.closedAt!.getTime() - 60_000)),
      }))
    )
      continue
    await inTransaction(database, async (manager) => {
      await manager.update(PersonRow, { id: person.id }, { closedAt: open ? null : new Date() })
      if (!open) await manager.delete(SessionRow, { personId: person.id })
    })
  }
}
