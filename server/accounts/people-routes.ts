import type { Person } from '../../core/contract'
import type { AppParts } from '../parts'
import type { Mount } from '../requests/mount'
import { reachOf } from '../rights/access'
import { requireAdministrator } from '../rights/service'
import { inTransaction } from '../sql/transaction'
import {
  accounts,
  addPeople,
  changePerson,
  closePerson,
  directory,
  giveCodeTo,
  reopenPerson,
  sessionsOfPerson,
  signOutPerson,
} from './people'
import { endSecondFactorOf } from './second-factor'

export function peopleRoutes(mount: Mount, { database }: AppParts): void {
  const administering = async ({ person }: { person: { administrator: boolean } }) => requireAdministrator(person)
  mount('directory', () => directory(database.manager))
  mount('people', () => accounts(database.manager), administering)
  mount(
    'addPeople',
    ({ person, body }) => inTransaction(database, (manager) => addPeople(manager, person.id, body.people)),
    administering,
  )
  mount(
    'changePerson',
    ({ person, params, body }) =>
      inTransaction(database, (manager) => changePerson(manager, person.id, params.personId, body)),
    administering,
  )
  mount(
    'closePerson',
    ({ person, params, body }) =>
      inTransaction(database, (manager) => closePerson(manager, person.id, params.personId, body.handTo)),
    administering,
  )
  mount(
    'reopenPerson',
    ({ person, params }) => inTransaction(database, (manager) => reopenPerson(manager, person.id, params.personId)),
    administering,
  )
  mount(
    'giveCode',
    ({ person, params }) => inTransaction(database, (manager) => giveCodeTo(manager, person.id, params.personId)),
    administering,
  )
  mount(
    'sessionsOfPerson',
    ({ person, params }) => sessionsOfPerson(database.manager, person as Person & { session: string }, params.personId),
    administering,
  )
  mount(
    'endSessionsOfPerson',
    async ({ person, params }) => ({
      ended: await inTransaction(database, (manager) => signOutPerson(manager, person.id, params.personId)),
    }),
    administering,
  )
  mount(
    'endSecondFactorOf',
    ({ person, params }) =>
      inTransaction(database, (manager) => endSecondFactorOf(manager, person.id, params.personId)),
    administering,
  )
  mount('reachOfPerson', ({ params }) => reachOf(database.manager, params.personId), administering)
}
