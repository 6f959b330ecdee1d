// Which types a share takes: its managers may narrow what is saved there. What is there already stays, and goes on.
import { type EntityManager, In } from 'typeorm'
import { z } from 'zod'
import { fileType, takesType } from '../../core/formats/types'
import { say } from '../../core/words/said'
import type { Move } from '../files/moves'
import { Refusal } from '../refusal'
import { select } from '../sql/rows'
import { ShareRow } from './entity'

/** @throws Refusal name-refused for a type that is not saved in this share */
export async function refuseType(manager: EntityManager, shareId: string, name: string, type: string): Promise<void> {
  const { kind } = fileType(type)
  if (kind === 'other') return
  const share = await manager.findOneBy(ShareRow, { id: shareId })
  const only = share?.defaults[kind]?.only
  if (!share || !only || takesType(only, type)) return
  const reason = say('problem.share-does-not-take', {
    name,
    share: share.name,
    kind,
    types: only.map((one) => `.${one}`).join(', '),
  })
  throw new Refusal('name-refused', reason, { fields: { name: reason } })
}

/** The same for all that comes from other shares, also in folders. @throws Refusal as `refuseType` */
export async function refuseTypes(manager: EntityManager, moves: readonly Move[]): Promise<void> {
  const coming = moves.filter(({ entry, shareId, removed }) => !removed && shareId !== entry.share_id)
  const shares = await manager.findBy(ShareRow, { id: In([...new Set(coming.map(({ shareId }) => shareId))]) })
  for (const { id, defaults } of shares) {
    if (!defaults.document?.only && !defaults.spreadsheet?.only) continue
    const files = await select(
      manager,
      z.object({ name: z.string(), type: z.string() }),
      `with recursive inside(id, kind, name, type, depth) as (
         select id, kind, name, type, 0 from entry where id = any($1)
         union all select e.id, e.kind, e.name, e.type, i.depth + 1 from entry e join inside i on e.folder_id = i.id
           where i.kind = 'folder' and e.removed_at is null and i.depth < 100)
       select distinct on (type) name, type from inside where kind = 'file'`,
      [coming.filter(({ shareId }) => shareId === id).map(({ entry }) => entry.id)],
    )
    for (const { name, type } of files) await refuseType(manager, id, name, type)
  }
}
