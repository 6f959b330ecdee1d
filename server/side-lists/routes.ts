import type { AppParts } from '../parts'
import type { Mount } from '../requests/mount'
import { endSideList, newSideLists, newSidePdf, sideListsOf } from './service'

export function sideListRoutes(mount: Mount, parts: AppParts): void {
  const { database } = parts
  mount('sideLists', ({ person, params }) => sideListsOf(database.manager, person.id, params.fileId))
  mount('newSideLists', ({ person, params, body }) => newSideLists(parts, person.id, params.fileId, body))
  mount('newSidePdf', ({ person, params, body }) => newSidePdf(parts, person.id, params.fileId, body))
  mount('endSideList', ({ person, params }) => endSideList(database.manager, person.id, params.sideListId))
}
