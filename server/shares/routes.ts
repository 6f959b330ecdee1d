import type { AppParts } from '../parts'
import type { Mount } from '../requests/mount'
import { requireRole } from '../rights/service'
import { setShareDefaults, sharesOf } from './service'

export function shareRoutes(mount: Mount, { database }: AppParts): void {
  mount('shares', ({ person }) => sharesOf(database.manager, person.id))
  mount(
    'shareDefaults',
    ({ person, params, body }) => setShareDefaults(database.manager, person.id, params.shareId, body),
    ({ person, params }) => requireRole(database.manager, person.id, params.shareId, 'manage'),
  )
}
