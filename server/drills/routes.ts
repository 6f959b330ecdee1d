import type { AppParts } from '../parts'
import type { Mount } from '../requests/mount'
import { drillsOf, keepDrill } from './service'

export function drillRoutes(mount: Mount, { database }: AppParts): void {
  mount('drills', ({ person }) => drillsOf(database.manager, person.id))
  mount('newDrill', ({ person, body }) => keepDrill(database.manager, person.id, body))
}
