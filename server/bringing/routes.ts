import { orRefuse } from '../copies/or-refuse'
import { unbounded } from '../counts/quotas'
import type { AppParts } from '../parts'
import type { Mount } from '../requests/mount'
import { requireRole } from '../rights/service'
import { bringFiles, filesInCopy } from './from-copy'

export function bringingRoutes(mount: Mount, { database, reachable, quotas = unbounded }: AppParts): void {
  const places = reachable ?? { folders: [], drives: [] }
  const managing = ({ person, params }: { person: { id: string }; params: { shareId: string } }) =>
    requireRole(database.manager, person.id, params.shareId, 'manage')
  mount(
    'filesInCopy',
    ({ params, query }) => orRefuse(filesInCopy(database, { ...params, words: query.words ?? '' }, places)),
    managing,
  )
  mount(
    'bringFiles',
    ({ person, params, body: { key, ...wanted } }) =>
      orRefuse(bringFiles({ database, quotas, personId: person.id, shareId: params.shareId, key }, wanted, places)),
    managing,
  )
}
