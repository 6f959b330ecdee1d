import type { AppParts } from '../parts'
import type { Mount } from '../requests/mount'
import { auditLog } from './log'

export function auditRoutes(mount: Mount, { database }: AppParts): void {
  mount('auditLog', ({ person, query }) => auditLog(database.manager, person, query.before ?? null))
}
