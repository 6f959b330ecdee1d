// The audit log: what was done to accounts, rights and holds, and what left its share. Rows are only ever added; the
// database refuses anything else. Administrators read it.

import { channel } from 'node:diagnostics_channel'
import type { EntityManager } from 'typeorm'
import { uuidv7 } from 'uuidv7'
import { z } from 'zod'
import type { AuditEntry } from '../../core/contract'
import { say } from '../../core/words/said'
import { Refusal } from '../refusal'
import { select } from '../sql/rows'
import { AuditRow } from './entity'

export interface Audited {
  /** Who did it; null for somebody who was not signed in. */
  personId: string | null
  /** Where; null for what concerns no share. */
  shareId?: string | null
  what: AuditEntry['what']
  /** What else there is to know: ids, names, addresses; never a secret. */
  facts?: Record<string, unknown>
}

/** Where each row is told as well, for the server's own log. */
export const audited = channel('jaula.audit')

/** Adds a row, in the caller's transaction. */
export async function auditing(manager: EntityManager, { personId, shareId, what, facts }: Audited): Promise<void> {
  await manager.insert(AuditRow, {
    id: uuidv7(),
    personId,
    shareId: shareId ?? null,
    what,
    facts: (facts ?? {}) as object,
  })
  audited.publish({ personId, shareId, what, facts } satisfies Audited)
}

/** The log, newest first. @param before an entry: only those before it. @throws Refusal not-allowed */
export async function auditLog(
  manager: EntityManager,
  person: { administrator: boolean },
  before: string | null,
): Promise<AuditEntry[]> {
  if (!person.administrator) throw new Refusal('not-allowed', say('problem.only-administrators-read-the-audit-log'))
  const rows = await select(
    manager,
    z.custom<Omit<AuditEntry, 'at'> & { at: Date }>(),
    `select l.id, l.at, p.name as person, s.name as share, l.what, l.facts from audit_log l
     left join person p on p.id = l.person_id left join share s on s.id = l.share_id
     where $1::uuid is null or l.id < $1 order by l.id desc limit 200`,
    [before],
  )
  return rows.map((row) => ({ ...row, at: row.at.toISOString() }))
}
