// Templates: a version of a file, by a name, with the convention and the values that work begun
// from it starts with. The version never changes, so nothing filled in can overwrite it.

import type { EntityManager } from 'typeorm'
import { IsNull } from 'typeorm'
import { uuidv7 } from 'uuidv7'
import { z } from 'zod'
import type { Template } from '../../core/contract'
import { fileType, isPackage } from '../../core/formats/types'
import { nameKey } from '../../core/naming/check'
import { say } from '../../core/words/said'
import { announce } from '../events/announce'
import { acceptName } from '../files/names'
import { ConventionRow } from '../naming/entity'
import { absent, Refusal, sqlState } from '../refusal'
import { requireRole, seenBy } from '../rights/service'
import { select, selectOne } from '../sql/rows'
import { versionById } from '../versions/read'
import { TemplateEntity } from './entity'

const TemplateRow = z.object({
  id: z.string(),
  share_id: z.string(),
  share: z.string(),
  name: z.string(),
  type: z.string(),
  version_id: z.string(),
  convention_id: z.string().nullable(),
  presets: z.custom<Record<string, string>>(),
  author: z.string(),
  created_at: z.date(),
})
type TemplateRow = z.output<typeof TemplateRow>
const columns = `t.id, t.share_id, s.name as share, t.name, v.type, t.version_id, c.id as convention_id, t.presets, p.name as author, t.created_at
  from template t join share s on s.id = t.share_id join version v on v.id = t.version_id join person p on p.id = t.created_by
  left join convention c on c.id = t.convention_id and c.ended_at is null
  ${seenBy('$1', 't.share_id')}`

const shown = (row: TemplateRow): Template => ({
  id: row.id,
  shareId: row.share_id,
  share: row.share,
  name: row.name,
  kind: fileType(row.type).kind as Template['kind'],
  type: row.type,
  versionId: row.version_id,
  conventionId: row.convention_id,
  presets: row.presets,
  author: row.author,
  at: row.created_at.toISOString(),
})

export async function templatesFor(manager: EntityManager, personId: string): Promise<Template[]> {
  const rows = await select(manager, TemplateRow, `select ${columns} where t.removed_at is null order by t.name_key`, [
    personId,
  ])
  return rows.map(shown)
}

/** @throws Refusal not-allowed, name-refused, name-taken, invalid for a type that no editor begins from */
export async function addTemplate(
  manager: EntityManager,
  personId: string,
  input: { versionId: string; name: string; conventionId: string | null; presets: Record<string, string> },
): Promise<Template> {
  const version = await versionById(manager, input.versionId)
  await requireRole(manager, personId, version.realmId, 'edit')
  // Its name is shown, and its content given, to all of the share.
  await requireRole(manager, personId, version.shareId, 'edit')
  if (!isPackage(version.type))
    throw new Refusal(
      'invalid',
      say('problem.work-can-be-begun-from-documents-and', { label: fileType(version.type).label }),
    )
  const name = acceptName(input.name)
  const id = uuidv7()
  try {
    const convention = input.conventionId
      ? await manager.findOneBy(ConventionRow, { id: input.conventionId, shareId: version.shareId, endedAt: IsNull() })
      : null
    await manager.insert(TemplateEntity, {
      id,
      shareId: version.shareId,
      name,
      nameKey: nameKey(name),
      versionId: version.id,
      conventionId: convention?.id ?? null,
      presets: input.presets,
      createdBy: personId,
    })
  } catch (error) {
    if (sqlState(error) === '23505')
      throw new Refusal('name-taken', say('problem.there-is-a-template-named-in-this', { name }), {
        fields: { name: say('problem.this-name-is-used-already') },
      })
    throw error
  }
  await announce(manager, { about: 'names', shareId: version.shareId })
  return shown(await selectOne(manager, TemplateRow, `select ${columns} where t.id = $2`, [personId, id]))
}

/** Files begun from it stay; only its author and the share's managers may remove it. */
export async function removeTemplate(manager: EntityManager, personId: string, id: string): Promise<void> {
  const row = await manager.findOneBy(TemplateEntity, { id, removedAt: IsNull() })
  if (!row) throw absent()
  await requireRole(manager, personId, row.shareId, row.createdBy === personId ? 'edit' : 'manage')
  await manager.update(TemplateEntity, { id }, { removedAt: () => 'now()' })
  await announce(manager, { about: 'names', shareId: row.shareId })
}
