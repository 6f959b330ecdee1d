// Names as they are taken, and refused.

import type { EntityManager } from 'typeorm'
import { z } from 'zod'
import type { Entry } from '../../core/contract'
import { checkName, freeKeysBegin, freeName, nameKey } from '../../core/naming/check'
import { say } from '../../core/words/said'
import { Refusal, sqlState } from '../refusal'
import { maySee } from '../rights/service'
import { select } from '../sql/rows'
import { entryById } from './entries'

/** The name as it is stored. @throws Refusal name-refused with the reason and, in `freeName`, the correction */
export function acceptName(name: string): string {
  const normal = name.normalize('NFC')
  const fault = checkName(normal)
  if (fault)
    throw new Refusal('name-refused', fault.reason, {
      fields: { name: fault.reason },
      ...(fault.correction && { freeName: fault.correction }),
    })
  return normal
}

/** The refusal for a name that exists in its place, with what is there and the next free name. */
export async function nameTaken(
  manager: EntityManager,
  personId: string,
  shareId: string,
  folderId: string | null,
  name: string,
): Promise<Refusal> {
  // Only names that begin alike can stand in the way of the free one.
  const rows = await select(
    manager,
    z.object({ id: z.string(), name_key: z.string(), kind: z.custom<Entry['kind']>(), seen: z.boolean() }),
    `select e.id, e.name_key, e.kind, ${maySee('$4')} as seen from entry e where share_id = $1 and folder_id is not distinct from $2 and removed_at is null and starts_with(name_key, $3)`,
    [shareId, folderId, freeKeysBegin(name), personId],
  )
  const there = rows.find((row) => row.name_key === nameKey(name))
  const title = say('problem.a-file-with-this-name-is-here', { kind: Boolean(there?.kind === 'folder') })
  return new Refusal('name-taken', title, {
    fields: { name: title },
    freeName: freeName(name.normalize('NFC'), new Set(rows.map((row) => row.name_key))),
    ...(there?.seen && { entry: await entryById(manager, there.id, there.kind) }),
  })
}

/** Whether an error is the refusal of a second entry of one name. */
export const isNameTaken = (error: unknown): boolean =>
  sqlState(error) === '23505' && String(error).includes('entry_name')
