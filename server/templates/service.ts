// Templates: a version of a file, by a name, with the convention and the values that work begun
// from it starts with. The version never changes, so nothing filled in can overwrite it.

import type { EntityManager } from 'typeorm'
import { uuidv7 } from 'uuidv7'
import type { Template } from '../../core/contract'
import { fileType } from '../../core/formats/types'
import { nameKey } from '../../core/naming/check'
import { announce } from '../events/service'
import { acceptName } from '../files/names'
import { absent, Refusal, sqlState } from '../refusal'
import { requireRole, seenBy } from '../rights/service'
import { versionById } from '../versions/read'

interface TemplateRow {
  id: string
  share_id: string
  share: string
  name: string
  type: string
  version_id: string
  convention_id: string | null
  presets: Record<string, string>
  author: string
  created_at: Date
}
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
  const rows: TemplateRow[] = await manager.query(`select ${columns} where t.removed_at is null order by t.name_key`, [
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
  if (!fileType(version.type).editable)
    throw new Refusal(
      'invalid',
      `Work can be begun from documents and spreadsheets that Jaula edits, not from ${fileType(version.type).label} files.`,
    )
  const name = acceptName(input.name)
  const id = uuidv7()
  try {
    await manager.query(
      `insert into template (id, share_id, name, name_key, version_id, convention_id, presets, created_by)
       values ($1, $2, $3, $4, $5, (select id from convention where id = $6 and share_id = $2 and ended_at is null), $7, $8)`,
      [
        id,
        version.shareId,
        name,
        nameKey(name),
        version.id,
        input.conventionId,
        JSON.stringify(input.presets),
        personId,
      ],
    )
  } catch (error) {
    if (sqlState(error) === '23505')
      throw new Refusal('name-taken', `There is a template named ${name} in this share already.`, {
        fields: { name: 'Taken.' },
      })
    throw error
  }
  await announce(manager, { about: 'names', shareId: version.shareId })
  const [row] = await manager.query(`select ${columns} where t.id = $2`, [personId, id])
  return shown(row)
}

/** Files begun from it stay; only its author and the share's managers may remove it. */
export async function removeTemplate(manager: EntityManager, personId: string, id: string): Promise<void> {
  const [row] = await manager.query('select share_id, created_by from template where id = $1 and removed_at is null', [
    id,
  ])
  if (!row) throw absent()
  await requireRole(manager, personId, row.share_id, row.created_by === personId ? 'edit' : 'manage')
  await manager.query('update template set removed_at = now() where id = $1', [id])
  await announce(manager, { about: 'names', shareId: row.share_id })
}
