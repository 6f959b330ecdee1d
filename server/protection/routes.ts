import type { AppParts } from '../parts'
import type { Mount } from '../requests/mount'
import { managedProtection, protectionLayers, setOwnProtection, setPlaceProtection } from './service'

export function protectionRoutes(mount: Mount, { database }: AppParts): void {
  mount('protection', ({ person, query }) => protectionLayers(database.manager, person.id, query))
  mount('setProtection', ({ person, body }) => setOwnProtection(database.manager, person.id, body))
  mount('managedProtection', ({ person }) => managedProtection(database.manager, person.id))
  mount('setPlaceProtection', ({ person, body }) => setPlaceProtection(database.manager, person.id, body))
}
