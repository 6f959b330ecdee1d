import { timingSafeEqual } from 'node:crypto'
import type { Request, Response } from 'express'
import type { Person, Session } from '../../core/contract'
import { say } from '../../core/words/said'
import { auditing } from '../audit/log'
import { demoAccounts } from '../demo/people'
import type { AppParts } from '../parts'
import { Refusal } from '../refusal'
import { browserName } from '../requests/browser'
import { cookieOf, setCookie } from '../requests/cookies'
import type { Identify, Mount } from '../requests/mount'
import { addMember, addShare } from '../shares/service'
import { execute } from '../sql/rows'
import { inTransaction } from '../sql/transaction'
import { passwordByCode } from './codes'
import { PersonRow } from './entity'
import { guessLimits } from './limits'
import {
  beginSecondFactor,
  confirmSecondFactor,
  forgetSecondFactor,
  renewCodes,
  requireSecond,
  secondFactorOf,
} from './second-factor'
import { addPerson, anybodyHasAnAccount, handleOf, personWith, setPassword, setSettings, settingsOf } from './service'
import {
  beginSession,
  digestOf,
  endOneSession,
  endSession,
  endSessions,
  isKnownBrowser,
  knowBrowser,
  knownDays,
  personOfToken,
  sessionDays,
  sessionsOf,
} from './sessions'

/** Who asks, by the session's cookie. */
export const identifying =
  ({ database }: AppParts): Identify =>
  async (request) => {
    const token = cookieOf(request, 'session')
    return token ? personOfToken(database, token) : null
  }

export function accountRoutes(mount: Mount, parts: AppParts): void {
  const { database, demo, largestFile, firstCode, seal = null, mail = null } = parts
  const count = guessLimits(database)
  const session = async (person: Person | null): Promise<Session> => {
    const firstRun = !person && !(await anybodyHasAnAccount(database.manager))
    return {
      person,
      firstRun,
      firstCode: firstRun && firstCode !== undefined,
      demoAccounts: demo ? demoAccounts : [],
      largestFile,
      mail: mail && { from: mail.way.from.address, largest: mail.way.largest },
    }
  }
  const addressOf = (request: Request) => request.ip ?? ''
  /** Ends the browser's session, if it has one, and begins another. */
  const begin = async (person: Person, request: Request, response: Response): Promise<Session> => {
    const browser = { name: browserName(request), address: addressOf(request) }
    const [token, known] = await inTransaction(database, async (manager) => {
      await auditing(manager, { personId: person.id, what: 'signed in', facts: browser })
      await manager.update(PersonRow, { id: person.id }, { signedInAt: new Date() })
      return [
        await beginSession(manager, person.id, browser, cookieOf(request, 'session')),
        await knowBrowser(manager, person.id, cookieOf(request, 'browser')),
      ] as const
    })
    setCookie(request, response, 'session', token, sessionDays)
    setCookie(request, response, 'browser', known, knownDays)
    return session(person)
  }

  mount('session', ({ person }) => session(person && { ...person }))
  mount('signIn', async ({ body, request, response }) => {
    const handle = handleOf(body.handle)
    const token = cookieOf(request, 'browser')
    const known =
      token && (await isKnownBrowser(database.manager, handle, token)) ? digestOf(token).toString('hex') : null
    const person = await personWith(
      database,
      count,
      { handle, password: body.password, address: addressOf(request), known },
      (whose) => inTransaction(database, (manager) => requireSecond(manager, seal, whose, body.second)),
    ).catch(async (error) => {
      const type = error instanceof Refusal ? error.problem.type : null
      if (type === 'wrong-password' || type === 'too-many-attempts')
        await auditing(database.manager, {
          personId: null,
          what: type === 'wrong-password' ? 'sign-in refused' : 'kept from signing in',
          facts: { handle, address: addressOf(request) },
        })
      throw error
    })
    return begin(person, request, response)
  })
  mount('useCode', async ({ body, request, response }) => {
    const person = await inTransaction(database, async (manager) => {
      const known = await passwordByCode(manager, count, {
        ...body,
        handle: handleOf(body.handle),
        address: addressOf(request),
        besides: (whose) => requireSecond(manager, seal, whose, body.second),
      })
      // Whoever was signed in with the password before is asked for the new one.
      await endSessions(manager, known.id, null)
      return known
    })
    return begin(person, request, response)
  })
  mount('signOut', async ({ request, response }) => {
    const token = cookieOf(request, 'session')
    if (token) await inTransaction(database, (manager) => endSession(manager, token))
    setCookie(request, response, 'session', '', 0)
  })
  mount('firstAdministrator', async ({ body, request, response }) => {
    if (firstCode !== undefined) {
      const [given, wanted] = [Buffer.from(body.code ?? ''), Buffer.from(firstCode)]
      if (given.length !== wanted.length || !timingSafeEqual(given, wanted))
        throw new Refusal('not-allowed', say('problem.this-is-not-the-code-that-the'), {
          fields: { code: say('problem.it-is-in-the-terminal-where-jaula') },
        })
    }
    const person = await inTransaction(database, async (manager) => {
      await execute(manager, 'lock table person in exclusive mode')
      if (await anybodyHasAnAccount(manager))
        throw new Refusal('not-allowed', say('problem.jaula-has-its-first-administrator-already-sign'))
      const added = await addPerson(manager, { ...body, administrator: true })
      await auditing(manager, { personId: added.id, what: 'first administrator', facts: { handle: added.handle } })
      await addMember(manager, await addShare(manager, body.share), added.id, 'manage')
      return added
    })
    return begin(person, request, response)
  })
  mount('sessions', ({ person }) => sessionsOf(database.manager, person.id, sessionOf(person)))
  mount('endSession', ({ person, params }) =>
    inTransaction(database, (manager) => endOneSession(manager, person.id, params.sessionId)),
  )
  mount('endOtherSessions', async ({ person }) => ({
    ended: await inTransaction(database, async (manager) => {
      await auditing(manager, { personId: person.id, what: 'signed out elsewhere' })
      return endSessions(manager, person.id, sessionOf(person))
    }),
  }))
  mount('changePassword', async ({ person, body, request }) => {
    await personWith(database, count, {
      handle: person.handle,
      password: body.present,
      address: addressOf(request),
      known: sessionOf(person),
    })
    await inTransaction(database, async (manager) => {
      await setPassword(manager, person, body.next)
      await auditing(manager, { personId: person.id, what: 'password changed', facts: { address: addressOf(request) } })
      await endSessions(manager, person.id, sessionOf(person))
    })
  })
  mount('changeMyName', async ({ person, body }) => {
    const name = body.name.normalize('NFC')
    const mail = body.mail === undefined ? person.mail : body.mail
    await inTransaction(database, async (manager) => {
      await manager.update(PersonRow, { id: person.id }, { name, mail })
      await auditing(manager, {
        personId: person.id,
        what: 'account changed',
        facts: { from: { name: person.name, mail: person.mail }, to: { name, mail } },
      })
    })
    return session({ ...person, name, mail })
  })
  mount('secondFactor', ({ person }) => secondFactorOf(database.manager, person.id))
  /** Whoever sits at an open page is asked for the password, as often as anybody may guess at it. */
  const known = async (person: Person, password: string, request: Request) => {
    await personWith(database, count, {
      handle: person.handle,
      password,
      address: addressOf(request),
      known: sessionOf(person),
    })
  }
  mount('beginSecondFactor', async ({ person, body, request }) => {
    await known(person, body.password, request)
    return inTransaction(database, (manager) => beginSecondFactor(manager, seal, person))
  })
  mount('confirmSecondFactor', async ({ person, body }) => ({
    codes: await inTransaction(database, (manager) => confirmSecondFactor(manager, seal, person, body.second)),
  }))
  mount('renewCodes', async ({ person, body, request }) => {
    await known(person, body.password, request)
    return { codes: await inTransaction(database, (manager) => renewCodes(manager, person)) }
  })
  mount('endSecondFactor', async ({ person, body, request }) => {
    await known(person, body.password, request)
    await inTransaction(database, (manager) => forgetSecondFactor(manager, person.id, person.id))
  })
  mount('settings', ({ person }) => settingsOf(database.manager, person.id))
  mount('setSettings', ({ person, body }) => setSettings(database, person.id, body))
}

const sessionOf = (person: Person): string => (person as Person & { session: string }).session
