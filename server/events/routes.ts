import type { Person } from '../../core/contract'
import type { AppParts } from '../parts'
import type { Mount } from '../requests/mount'

export function eventRoutes(mount: Mount, { newsroom }: AppParts): void {
  mount('events', async ({ person, response }) =>
    newsroom.subscribe(person.id, (person as Person & { session: string }).session, response),
  )
}
