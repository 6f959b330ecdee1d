import type { AppParts } from '../parts'
import type { Mount } from '../requests/mount'
import { previewRetention, retentionOf, setHold, setRetention } from './service'

export function retentionRoutes(mount: Mount, { database }: AppParts): void {
  mount('retention', ({ person, params }) => retentionOf(database.manager, person.id, params.shareId))
  mount('setRetention', ({ person, params, body }) => setRetention(database.manager, person.id, params.shareId, body))
  mount('previewRetention', ({ person, params, body }) =>
    previewRetention(database.manager, person.id, params.shareId, body),
  )
  mount('hold', ({ person, params, body }) => setHold(database.manager, person.id, params.entryId, body.why))
}
