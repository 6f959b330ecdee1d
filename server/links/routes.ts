import type { Request, Response } from 'express'
import { say } from '../../core/words/said'
import { guessLimits } from '../accounts/limits'
import { beginSession, sessionDays } from '../accounts/sessions'
import type { AppParts } from '../parts'
import { Refusal } from '../refusal'
import { browserName } from '../requests/browser'
import { cookieOf, setCookie } from '../requests/cookies'
import type { Mount } from '../requests/mount'
import { thingFor } from '../rights/access'
import { inTransaction } from '../sql/transaction'
import { attachmentOf, sendContent } from '../versions/send'
import { guestOf } from './guests'
import { endLink, linkFor, linksTo, makeLink, usesOf } from './service'
import { folderByLink, noteUse, openedLink, openLink, shownByLink, versionByLink, visitHours } from './visits'

/** Longer files are handed out and not shown; bytes. */
const largestShown = 20 << 20
/** Pictures that browsers show and in which nothing runs. */
const pictures: Readonly<Record<string, string>> = {
  png: 'image/png',
  jpg: 'image/jpeg',
  jpeg: 'image/jpeg',
  gif: 'image/gif',
  webp: 'image/webp',
}
const visitOf = (linkId: string) => `link_${linkId}`

export function linkRoutes(mount: Mount, { database, contents, show, largestFile }: AppParts): void {
  const { manager } = database
  const count = guessLimits(database)
  const came = (request: Request) => ({ address: request.ip ?? '', browser: browserName(request) })
  const opened = (request: Request, linkId: string) => openedLink(manager, linkId, cookieOf(request, visitOf(linkId)))
  /** What is shown by a link is kept in no cache and in no search engine. */
  const unlisted = (response: Response) => response.set('x-robots-tag', 'noindex, nofollow, noarchive')

  mount('links', ({ person, params }) => linksTo(manager, person.id, params.id))
  mount(
    'newLink',
    ({ person, params, body }) => inTransaction(database, (one) => makeLink(one, person.id, params.id, body)),
    ({ person, params }) => thingFor(manager, person.id, params.id, 'manage'),
  )
  mount(
    'endLink',
    ({ person, params }) => inTransaction(database, (one) => endLink(one, person.id, params.linkId)),
    ({ person, params }) => linkFor(manager, person.id, params.linkId),
  )
  mount('linkUses', ({ person, params }) => usesOf(manager, person.id, params.linkId))

  mount('openLink', async ({ person, body, request, response }) => {
    unlisted(response)
    const { link, visit } = await openLink(database, count, {
      ...body,
      ...came(request),
      cookieOf: (linkId) => cookieOf(request, visitOf(linkId)),
    })
    if (visit) setCookie(request, response, visitOf(link.id), visit, visitHours / 24)
    return shownByLink(manager, link, person && !person.guestOf ? person.name : null)
  })
  mount(
    'comeToWrite',
    async ({ person, params, body, request, response }) => {
      unlisted(response)
      const here = await opened(request, params.linkId)
      // Whoever has an account writes under their own name; their session is not ended for a guest's.
      if (person && !person.guestOf)
        throw new Refusal('not-allowed', say('links.signed-in-already', { name: person.name }))
      const [guest, token] = await inTransaction(database, async (one) => {
        const guest = await guestOf(one, here, body.name, came(request))
        const browser = { name: browserName(request), address: request.ip ?? '' }
        return [guest, await beginSession(one, guest.id, browser, cookieOf(request, 'session'))] as const
      })
      // Who writes when the link's day is over keeps the page with what they wrote; their right is over by itself.
      setCookie(request, response, 'session', token, sessionDays)
      return { person: guest, firstRun: false, demoAccounts: [], largestFile }
    },
    // Whoever did not open it is told so before anything else.
    ({ params, request }) => opened(request, params.linkId),
  )
  mount('linkedFolder', async ({ params, request, response }) => {
    unlisted(response)
    const { link } = await opened(request, params.linkId)
    return folderByLink(manager, link, params.folderId)
  })
  mount('linkedPage', async ({ params, request, response }) => {
    unlisted(response)
    const { link } = await opened(request, params.linkId)
    const version = await versionByLink(manager, link, params.fileId)
    await noteUse(manager, link.id, 'looked', came(request), { fileId: version.fileId, versionId: version.id })
    const picture = pictures[version.type]
    const sha256 = Buffer.from(version.sha256, 'hex')
    if (picture) {
      response.set({ 'content-type': picture, 'content-length': String(version.size) })
      await sendContent(contents, manager, sha256, response)
      return undefined
    }
    const shown =
      version.size <= largestShown
        ? await show({ bytes: await contents.whole(manager, sha256), type: version.type })
        : null
    if (!shown) return undefined
    response.set({
      // Shown in a frame of its own, in which nothing runs; opened by itself it runs nothing either.
      'content-security-policy': "default-src 'none'; img-src data:; style-src 'unsafe-inline'; sandbox",
      'jaula-cut': encodeURIComponent(JSON.stringify(shown.cut)),
    })
    response.type('html').send(shown.page)
    return undefined
  })
  mount('linkedBytes', async ({ params, request, response }) => {
    unlisted(response)
    const { link } = await opened(request, params.linkId)
    const version = await versionByLink(manager, link, params.fileId)
    if (!link.download) throw new Refusal('not-allowed', say('links.looking-only'))
    await noteUse(manager, link.id, 'took', came(request), { fileId: version.fileId, versionId: version.id })
    response.set(attachmentOf(version))
    await sendContent(contents, manager, Buffer.from(version.sha256, 'hex'), response)
    return undefined
  })
}
