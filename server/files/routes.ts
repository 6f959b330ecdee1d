import { performAct, undoAct } from '../acts/acts'
import type { AppParts } from '../parts'
import type { Mount } from '../requests/mount'
import { versionsOf } from '../versions/read'
import { fileFacts, forGuest, noteUse, setOrigin } from './facts'
import { newFolder } from './folders'
import { auditMaterial, changedByOthers, namesIn, placeContents, recentFiles, recentPlaces } from './places'
import { bePresent } from './presence'
import { setReading } from './reading'
import { removedFrom } from './removed'

export function fileRoutes(mount: Mount, { database }: AppParts): void {
  mount('place', ({ person, params, query }) =>
    placeContents(database.manager, person.id, params.shareId, query.folderId ?? null, query),
  )
  mount('placeNames', async ({ person, params, query }) => ({
    names: await namesIn(database.manager, person.id, params.shareId, query.folderId ?? null),
  }))
  mount('auditMaterial', ({ person, params }) => auditMaterial(database.manager, person.id, params.shareId))
  mount('recentPlaces', ({ person }) => recentPlaces(database.manager, person.id))
  mount('recent', ({ person }) => recentFiles(database.manager, person.id))
  mount('changedByOthers', ({ person }) => changedByOthers(database.manager, person.id))
  mount('newFolder', ({ person, body }) => newFolder(database, person.id, body.shareId, body.folderId, body.name))
  mount('removed', ({ person, params }) => removedFrom(database.manager, person.id, params.shareId))
  mount('act', ({ person, body }) => performAct(database, person.id, body))
  mount('undo', ({ person, params }) => undoAct(database, person.id, params.actId))
  mount('file', async ({ person, params }) => {
    const facts = await fileFacts(database.manager, person.id, params.fileId)
    // What was used last is a help, and no reason not to show it.
    await noteUse(database.manager, person.id, params.fileId).catch(() => {})
    return person.guestOf ? forGuest(facts) : facts
  })
  mount('versions', ({ person, params, query }) =>
    versionsOf(database.manager, person.id, params.fileId, query.before ?? null, query.limit),
  )
  mount('setOrigin', ({ person, params, body }) =>
    setOrigin(database.manager, person.id, params.fileId, body.versionId),
  )
  mount('setReading', ({ person, params, body }) => setReading(database, person.id, params.fileId, body))
  mount('presence', ({ person, params, body }) => bePresent(database.manager, person.id, params.fileId, body))
}
