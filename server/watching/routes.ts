import type { AppParts } from '../parts'
import type { Mount } from '../requests/mount'
import { inTransaction } from '../sql/transaction'
import { seeWatched, watch, watchedBy } from './service'

export function watchingRoutes(mount: Mount, { database }: AppParts): void {
  mount('watch', ({ person, params, body }) =>
    inTransaction(database, (manager) => watch(manager, person.id, params.id, body.on)),
  )
  mount('watched', ({ person }) => watchedBy(database.manager, person.id))
  mount('seeWatched', ({ person, params, body }) => seeWatched(database.manager, person.id, params.id, body.at))
}
