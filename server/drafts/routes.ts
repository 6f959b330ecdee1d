import { say } from '../../core/words/said'
import type { AppParts } from '../parts'
import { Refusal } from '../refusal'
import type { Mount } from '../requests/mount'
import { roomOf } from './room'
import { activityFor, askForPoint, draftById, draftsOf, noteSafeCopy, ownDraft, pointsOf } from './service'
import { endDraft, heartbeat, takeOverDraft, takePoint } from './writing'

function sameDraft<T extends { id: string }>(id: string, beat: T): T {
  if (beat.id !== id) throw new Refusal('invalid', say('problem.the-address-and-the-draft-in-the'))
  return beat
}

export function draftRoutes(mount: Mount, { database }: AppParts): void {
  const { manager } = database
  mount('drafts', ({ person }) => draftsOf(manager, person.id))
  // Before the address with an id, which it would be taken for.
  mount('room', ({ person }) => roomOf(manager, person.id))
  mount('draft', ({ person, params }) => draftById(manager, person.id, params.draftId))
  mount('points', ({ person, params }) => pointsOf(manager, person.id, params.draftId))
  mount('heartbeat', ({ person, params, body }) => heartbeat(database, person.id, sameDraft(params.draftId, body)))
  mount('point', ({ person, params, body }) => {
    sameDraft(params.draftId, body.heartbeat)
    return takePoint(database, person.id, body)
  })
  mount('takeOver', ({ person, params, body }) => takeOverDraft(database, person.id, params.draftId, body))
  mount('askForPoint', ({ person, params }) => askForPoint(manager, person.id, params.draftId))
  mount('noteSafeCopy', ({ person, params }) => noteSafeCopy(manager, person.id, params.draftId))
  mount('activity', ({ person }) => activityFor(manager, person.id))
  mount('endDraft', ({ person, params, body }) =>
    endDraft(
      database,
      person.id,
      params.draftId,
      body.state,
      (own) => ownDraft(own, person.id, params.draftId),
      body.heartbeat && sameDraft(params.draftId, body.heartbeat),
    ),
  )
}
