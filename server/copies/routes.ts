import { announce } from '../events/announce'
import type { AppParts } from '../parts'
import type { Mount } from '../requests/mount'
import { requireAdministrator } from '../rights/service'
import { inTransaction } from '../sql/transaction'
import { askFor, markSeen, nameSite } from './asked'
import { orRefuse } from './or-refuse'
import { foldersOf, previewPlan, setPlan, sharesOfPlan } from './plans'
import { addDrive, addHost, forgetSite, lookAtHost, signInAt } from './sites'
import { alarmsFor, copiesFor } from './standing'
import { markMendedSeen } from './store-check'
import { askForTrial } from './trials'

export function copyRoutes(mount: Mount, { database, reachable, soon }: AppParts): void {
  const only = async ({ person }: { person: { administrator: boolean } }) => requireAdministrator(person)
  const places = reachable ?? { folders: [], drives: [] }
  mount('copies', ({ person }) => copiesFor(database, person, places))
  mount('copyAlarms', ({ person }) => alarmsFor(database, person))
  mount(
    'setCopyPlan',
    async ({ person, body }) => {
      await inTransaction(database, async (manager) => {
        await setPlan(manager, person.id, body)
        for (const shareId of await sharesOfPlan(manager, body.shareId))
          await announce(manager, { about: 'copies', shareId })
      })
      soon?.('copy')
    },
    only,
  )
  mount('plannableFolders', ({ params }) => foldersOf(database.manager, params.shareId), only)
  mount('previewCopyPlan', ({ body }) => previewPlan(database, body, places), only)
  mount(
    'askForCopy',
    async ({ body }) => {
      await askFor(database, body)
      soon?.('copy')
    },
    only,
  )
  mount(
    'addCopyDrive',
    async ({ person, body }) => {
      await orRefuse(addDrive(database, person.id, body.name, places))
      soon?.('copy')
    },
    only,
  )
  mount('seeMended', ({ person, body }) => markMendedSeen(database, person, body.sha256s))
  mount('lookAtCopyHost', ({ body }) => orRefuse(lookAtHost(body.address, places)), only)
  mount(
    'addCopyHost',
    async ({ person, body }) => {
      await orRefuse(addHost(database, person.id, body, places))
      soon?.('copy')
    },
    only,
  )
  mount(
    'signInAtCopySite',
    async ({ params, body }) => {
      await orRefuse(signInAt(database, params.siteId, body, places))
      soon?.('copy')
    },
    only,
  )
  mount(
    'askForTrial',
    async ({ params }) => {
      await inTransaction(database, (manager) => askForTrial(manager, params.siteId))
      soon?.('trial')
    },
    only,
  )
  mount('forgetCopySite', ({ params }) => forgetSite(database.manager, params.siteId), only)
  mount('nameCopySite', ({ params, body }) => nameSite(database.manager, params.siteId, body.name), only)
  mount('seeFindings', ({ person, body }) => markSeen(database, person, body.ids))
}
