import type { AppParts } from '../parts'
import type { Mount } from '../requests/mount'
import { auditsFor, noteAudit } from './audits'
import { nextNumber } from './counters'
import {
  changeConvention,
  changeList,
  endConvention,
  newConvention,
  newList,
  requireConvention,
  requireList,
  shareNaming,
  usedValues,
} from './service'

export function namingRoutes(mount: Mount, { database }: AppParts): void {
  const { manager } = database
  mount('naming', ({ person, params }) => shareNaming(manager, person.id, params.shareId))
  mount('newList', ({ person, body }) => newList(database, person.id, body))
  mount(
    'changeList',
    ({ person, params, body }) => changeList(database, person.id, params.listId, body),
    ({ person, params }) => requireList(manager, person.id, params.listId, 'manage'),
  )
  mount('newConvention', ({ person, body }) => newConvention(database, person.id, body))
  mount(
    'changeConvention',
    ({ person, params, body }) => changeConvention(database, person.id, params.conventionId, body),
    ({ person, params }) => requireConvention(manager, person.id, params.conventionId, 'manage'),
  )
  mount('endConvention', ({ person, params }) => endConvention(database, person.id, params.conventionId))
  mount('nextNumber', async ({ person, params, body }) => ({
    next: await nextNumber(manager, person.id, params.conventionId, body.folderId, body.values),
  }))
  mount('noteAudit', ({ person, params, body }) => noteAudit(manager, person.id, params.shareId, body))
  mount('audits', ({ person }) => auditsFor(manager, person.id))
  mount('usedValues', ({ person, params }) => usedValues(manager, person.id, params.conventionId))
}
