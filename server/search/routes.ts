import type { AppParts } from '../parts'
import type { Mount } from '../requests/mount'
import { findFiles } from './find'
import { searchPast } from './past'

export function searchRoutes(mount: Mount, { database }: AppParts): void {
  mount('search', ({ person, query }) =>
    findFiles(database.manager, person.id, {
      q: query.q,
      ...(query.shareId && { shareId: query.shareId }),
      facets: query.facets?.split('\n').filter(Boolean) ?? [],
    }),
  )
  mount('searchPast', ({ person, query }) => searchPast(database.manager, person.id, query))
}
