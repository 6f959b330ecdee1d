import type { AppParts } from '../parts'
import type { Mount } from '../requests/mount'

export function healthRoutes(mount: Mount, { database, version }: AppParts): void {
  mount('health', async () => {
    const there = await database.query('select 1').then(
      () => true,
      () => false,
    )
    return { ok: there, database: there, version, at: new Date().toISOString() }
  })
}
