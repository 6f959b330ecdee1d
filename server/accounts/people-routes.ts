import type { Request } from 'express'
import type { EntityManager } from 'typeorm'
import type { GivenCode, Person } from '../../core/contract'
import { senderOf } from '../mail/sender'
import type { AppParts } from '../parts'
import type { Mount } from '../requests/mount'
import { reachOf } from '../rights/access'
import { requireAdministrator } from '../rights/service'
import { inTransaction } from '../sql/transaction'
import { mailCodes } from './code-mail'
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

export function peopleRoutes(mount: Mount, { database, mail = null, soon = () => {} }: AppParts): void {
  const administering = async ({ person }: { person: { administrator: boolean } }) => requireAdministrator(person)
  /** Gives codes, and sends them where that is wished and mail is set up. */
  async function givingCodes(
    by: string,
    request: Request,
    byMail: boolean,
    give: (manager: EntityManager) => Promise<GivenCode[]>,
  ): Promise<GivenCode[]> {
    const sender = byMail && mail ? await senderOf(database.manager, mail, by, request) : null
    const given = await inTransaction(database, async (manager) => {
      const codes = await give(manager)
      return sender && mail ? mailCodes(manager, mail, sender, codes) : codes
    })
    if (sender) soon('mail')
    return given
  }
  mount('directory', () => directory(database.manager))
  mount('people', () => accounts(database.manager), administering)
  mount(
    'addPeople',
    ({ person, body, request }) =>
      givingCodes(person.id, request, body.byMail, (manager) => addPeople(manager, person.id, body.people)),
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
    async ({ person, params, body, request }) => {
      const [given] = await givingCodes(person.id, request, body.byMail, async (manager) => [
        await giveCodeTo(manager, person.id, params.personId),
      ])
      return given!
    },
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
