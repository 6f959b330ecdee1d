import type { AppParts } from '../parts'
import type { Mount } from '../requests/mount'
import { findFiles } from './find'

export function searchRoutes(mount: Mount, { database }: AppParts): void {
  mount('search', ({ person, query }) =>
    findFiles(database.manager, person.id, {
      q: query.q,
      ...(query.shareId && { shareId: query.shareId }),
      facets: query.facets?.split('\n').filter(Boolean) ?? [],
    }),
  )
}
