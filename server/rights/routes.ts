import { senderOf } from '../mail/sender'
import type { AppParts } from '../parts'
import type { Mount } from '../requests/mount'
import { inTransaction } from '../sql/transaction'
import { accessOf, giveRight, leave, setOwnRights, takeRight, thingFor } from './access'
import { answerRequest, askForMore, placeOfRequest, rightsNews, seeRightsNews } from './asking'
import { allGroups, changeGroup, endGroup, makeGroup } from './groups'
import { invite } from './invite'
import { requireAdministrator } from './service'

export function rightRoutes(mount: Mount, { database, mail = null, soon = () => {} }: AppParts): void {
  const administering = async ({ person }: { person: { administrator: boolean } }) => requireAdministrator(person)
  const managing = ({ person, params }: { person: { id: string }; params: { id: string } }) =>
    thingFor(database.manager, person.id, params.id, 'manage')

  mount('access', ({ person, params }) => accessOf(database.manager, person.id, params.id))
  mount(
    'grant',
    async ({ person, params, body, request }) => {
      const sender = mail && body.byMail ? await senderOf(database.manager, mail, person.id, request) : null
      await inTransaction(database, async (manager) => {
        await giveRight(manager, person.id, params.id, body)
        if (sender) await invite(manager, mail!, sender, params.id, body)
      })
      if (sender) soon('mail')
      return accessOf(database.manager, person.id, params.id)
    },
    managing,
  )
  mount('askForMore', ({ person, params, body }) =>
    inTransaction(database, (manager) => askForMore(manager, person.id, params.id, body)),
  )
  mount(
    'answerRequest',
    ({ person, params, body }) =>
      inTransaction(database, (manager) => answerRequest(manager, person.id, params.requestId, body.give)),
    async ({ person, params }) =>
      thingFor(database.manager, person.id, await placeOfRequest(database.manager, params.requestId), 'manage'),
  )
  mount('rightsNews', ({ person }) => rightsNews(database.manager, person.id))
  mount('seeRightsNews', ({ person, body }) =>
    inTransaction(database, (manager) => seeRightsNews(manager, person.id, body)),
  )
  mount('endGrant', ({ person, params }) =>
    inTransaction(database, (manager) => takeRight(manager, person.id, params.id, params.grantId)),
  )
  mount('leave', ({ person, params }) => inTransaction(database, (manager) => leave(manager, person.id, params.id)))
  mount(
    'setOwnRights',
    async ({ person, params, body }) => {
      await inTransaction(database, (manager) => setOwnRights(manager, person.id, params.id, body.from))
      return accessOf(database.manager, person.id, params.id)
    },
    managing,
  )
  mount('groups', () => allGroups(database.manager), administering)
  mount(
    'newGroup',
    async ({ person, body }) => ({
      id: await inTransaction(database, (manager) => makeGroup(manager, person.id, body)),
    }),
    administering,
  )
  mount(
    'changeGroup',
    ({ person, params, body }) =>
      inTransaction(database, (manager) => changeGroup(manager, person.id, params.groupId, body)),
    administering,
  )
  mount(
    'endGroup',
    ({ person, params }) => inTransaction(database, (manager) => endGroup(manager, person.id, params.groupId)),
    administering,
  )
}
