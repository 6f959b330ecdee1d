import { unbounded } from '../counts/quotas'
import type { AppParts } from '../parts'
import type { Mount } from '../requests/mount'
import { requireShare } from '../rights/service'
import { bringToMoment } from './bring'
import { changesIn, momentOf } from './read'

export function momentRoutes(mount: Mount, { database, quotas = unbounded }: AppParts): void {
  mount('placeChanges', ({ person, params, query }) =>
    changesIn(database.manager, person.id, params.shareId, query.folderId ?? null),
  )
  mount('moment', ({ person, params, query }) =>
    momentOf(database.manager, person.id, {
      shareId: params.shareId,
      folderId: query.folderId ?? null,
      at: new Date(query.at),
    }),
  )
  mount(
    'toMoment',
    ({ person, params, body }) => bringToMoment(database, quotas, person.id, params.shareId, body),
    ({ person, params }) => requireShare(database.manager, person.id, params.shareId, 'edit'),
  )
}
