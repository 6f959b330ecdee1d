import type { AppParts } from '../parts'
import type { Mount } from '../requests/mount'
import { requireAdministrator, requireShare } from '../rights/service'
import { inTransaction } from '../sql/transaction'
import { archiveShare, changeShare, makeShare, setShareDefaults, sharesOf } from './service'

export function shareRoutes(mount: Mount, { database }: AppParts): void {
  mount('shares', ({ person }) => sharesOf(database.manager, person.id))
  mount(
    'newShare',
    ({ person, body }) => inTransaction(database, (manager) => makeShare(manager, person.id, body)),
    async ({ person }) => requireAdministrator(person),
  )
  const managing = ({ person, params }: { person: { id: string }; params: { shareId: string } }) =>
    requireShare(database.manager, person.id, params.shareId, 'manage')
  mount(
    'changeShare',
    ({ person, params, body }) =>
      inTransaction(database, (manager) => changeShare(manager, person.id, params.shareId, body)),
    managing,
  )
  mount(
    'archiveShare',
    ({ person, params, body }) =>
      inTransaction(database, (manager) => archiveShare(manager, person.id, params.shareId, body.archived)),
    managing,
  )
  mount(
    'shareDefaults',
    ({ person, params, body }) => setShareDefaults(database.manager, person.id, params.shareId, body),
    managing,
  )
}
