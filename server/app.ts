import { existsSync } from 'node:fs'
import { join } from 'node:path'
import { parseCookie, stringifySetCookie } from 'cookie'
import express, { type Express, type NextFunction, type Request, type Response } from 'express'
import helmet from 'helmet'
import type { Logger } from 'pino'
import type { DataSource } from 'typeorm'
import type { Person, Session } from '../core/contract'
import { fileType } from '../core/formats/types'
import {
  addPerson,
  anybodyHasAnAccount,
  personOfToken,
  setSettings,
  settingsOf,
  signIn,
  signOut,
} from './accounts/service'
import type { Comparing } from './changes/threads'
import { traceBack } from './changes/trace'
import { demoAccounts } from './demo/people'
import { roomOf } from './drafts/room'
import { activityFor, askForPoint, draftById, draftsOf, noteSafeCopy, pointsOf, visibleDraft } from './drafts/service'
import { endDraft, heartbeat, takeOverDraft, takePoint } from './drafts/writing'
import { drillsOf, keepDrill } from './drills/service'
import type { Newsroom } from './events/service'
import { performAct, removedFrom, undoAct } from './files/acts'
import { auditMaterial, namesIn, recentPlaces } from './files/places'
import { bePresent } from './files/presence'
import { fileFacts, newFolder, noteUse, placeContents, recentFiles, setOrigin, versionById } from './files/service'
import { nextNumber } from './naming/counters'
import {
  changeConvention,
  changeList,
  endConvention,
  newConvention,
  newList,
  shareNaming,
  usedValues,
} from './naming/service'
import { openapi } from './openapi'
import { managedProtection, protectionLayers, setOwnProtection, setPlaceProtection } from './protection/service'
import { databaseIsAway, Refusal } from './refusal'
import { previewRetention, retentionOf, setHold, setRetention } from './retention/service'
import { findFiles } from './search/find'
import { mounting } from './serve'
import { addMember, addShare, requireRole, setShareDefaults, sharesOf } from './shares/service'
import { addTemplate, removeTemplate, templatesFor } from './templates/service'
import { inTransaction } from './transaction'
import { wholeContent } from './versions/content'
import { labelVersion } from './versions/labels'
import { sendContent } from './versions/send'
import { keepVersion } from './versions/service'

export interface AppParts {
  database: DataSource
  newsroom: Newsroom
  comparing: Comparing
  log: Logger
  /** Offer the demo accounts on the sign-in page. */
  demo: boolean
  /** Largest file accepted, in bytes. */
  largestFile: number
  /** The folder of the built pages. */
  pages: string
  version: string
}

type SavedDraft = Partial<
  Record<'draftId' | 'writerId' | 'draftHead', string> & Record<'draftSeq' | 'draftEpoch', number>
>

const cookieName = 'jaula_session'

/** The whole server as an Express application; it keeps nothing in memory that another process would need. */
export function makeApp({ database, newsroom, comparing, log, demo, largestFile, pages, version }: AppParts): Express {
  const app = express()
  app.disable('x-powered-by')
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'self'"],
          scriptSrc: ["'self'"],
          workerSrc: ["'self'", 'blob:'],
          styleSrc: ["'self'", "'unsafe-inline'"],
          imgSrc: ["'self'", 'data:', 'blob:'],
          fontSrc: ["'self'", 'data:'],
          connectSrc: ["'self'"],
          objectSrc: ["'none'"],
          baseUri: ["'self'"],
          formAction: ["'self'"],
          // A recovery drill runs in a frame of its own.
          frameAncestors: ["'self'"],
        },
      },
      strictTransportSecurity: false,
    }),
  )
  app.use('/api', sameOriginOnly)
  const isBytes = (request: Request) =>
    request.method === 'POST' && /^\/api\/files(\/[^/]+\/versions)?$/.test(request.path)
  app.use((request, response, next) =>
    isBytes(request) ? next() : express.json({ limit: '64mb' })(request, response, next),
  )

  const tokenOf = (request: Request) => parseCookie(request.headers.cookie ?? '')[cookieName]
  const identify = async (request: Request): Promise<Person | null> => {
    const token = tokenOf(request)
    return token ? personOfToken(database, token) : null
  }
  const setCookie = (request: Request, response: Response, token: string, maxAge: number) =>
    response.append(
      'set-cookie',
      stringifySetCookie({
        name: cookieName,
        value: token,
        httpOnly: true,
        sameSite: 'lax',
        path: '/',
        maxAge,
        secure: request.secure,
      }),
    )
  const session = async (person: Person | null): Promise<Session> => ({
    person,
    firstRun: !person && !(await anybodyHasAnAccount(database)),
    demoAccounts: demo ? demoAccounts : [],
    largestFile,
  })
  const mount = mounting(app, identify, largestFile)

  mount('health', async () => {
    const there = await database.query('select 1').then(
      () => true,
      () => false,
    )
    return { ok: there, database: there, version, at: new Date().toISOString() }
  })
  mount('session', ({ person }) => session(person))
  mount('signIn', async ({ body, request, response }) => {
    const { person, token } = await signIn(database, body.handle, body.password, request.socket.remoteAddress ?? '')
    setCookie(request, response, token, 14 * 86400)
    return session(person)
  })
  mount('signOut', async ({ request, response }) => {
    const token = tokenOf(request)
    if (token) await signOut(database, token)
    setCookie(request, response, '', 0)
  })
  mount('firstAdministrator', async ({ body, request, response }) => {
    await inTransaction(database, async (manager) => {
      await manager.query('lock table person in exclusive mode')
      const [{ people }] = await manager.query('select count(*)::int as people from person')
      if (people > 0) throw new Refusal('not-allowed', 'Jaula has its first administrator already. Sign in.')
      const person = await addPerson(manager, { ...body, administrator: true })
      await addMember(manager, await addShare(manager, body.share), person.id, 'manage')
    })
    const { person, token } = await signIn(database, body.handle, body.password, request.socket.remoteAddress ?? '')
    setCookie(request, response, token, 14 * 86400)
    return session(person)
  })
  mount('settings', ({ person }) => settingsOf(database.manager, person.id))
  mount('setSettings', async ({ person, body }) => {
    return setSettings(database, person.id, body)
  })

  mount('shares', ({ person }) => sharesOf(database.manager, person.id))
  mount('place', ({ person, params, query }) =>
    placeContents(database.manager, person.id, params.shareId, query.folderId ?? null, query),
  )
  mount('newFolder', ({ person, body }) => newFolder(database, person.id, body.shareId, body.folderId, body.name))
  mount('recent', ({ person }) => recentFiles(database.manager, person.id))
  mount('presence', ({ person, params, body }) => bePresent(database.manager, person.id, params.fileId, body))
  mount('file', async ({ person, params }) => {
    const facts = await fileFacts(database.manager, person.id, params.fileId)
    await noteUse(database.manager, person.id, params.fileId)
    return facts
  })
  const draftOf = (query: SavedDraft) =>
    query.draftId
      ? {
          id: query.draftId,
          seq: query.draftSeq ?? 0,
          epoch: query.draftEpoch ?? 0,
          writerId: query.writerId ?? null,
          head: query.draftHead ? Buffer.from(query.draftHead, 'hex') : null,
        }
      : undefined
  mount('newFile', ({ person, query, body }) =>
    keepVersion(database, {
      personId: person.id,
      ...body,
      reason: query.reason,
      key: query.key,
      sha256: query.sha256,
      draft: draftOf(query),
      target: {
        place: {
          shareId: query.shareId,
          folderId: query.folderId ?? null,
          path: query.path?.split('/').filter(Boolean),
          name: query.name,
          composition: query.composition,
          originId: query.originId,
        },
      },
    }),
  )
  mount('nextVersion', ({ person, query, params, body }) =>
    keepVersion(database, {
      personId: person.id,
      ...body,
      reason: query.reason,
      key: query.key,
      sha256: query.sha256,
      draft: draftOf(query),
      target: { fileId: params.fileId, baseId: query.baseId },
    }),
  )
  mount('restore', async ({ person, params, body }) => {
    const earlier = await versionById(database.manager, params.versionId)
    await requireRole(database.manager, person.id, earlier.shareId, 'edit')
    return keepVersion(database, {
      personId: person.id,
      bytes: await wholeContent(database.manager, Buffer.from(earlier.sha256, 'hex')),
      reason: 'restored',
      key: body.key,
      sha256: earlier.sha256,
      target: { fileId: earlier.fileId, baseId: body.baseId },
    })
  })
  mount('bytes', async ({ person, params, response }) => {
    const wanted = await versionById(database.manager, params.versionId)
    await requireRole(database.manager, person.id, wanted.shareId, 'view')
    response.set({
      // Never as a page of ours: a brought-in file is somebody else's content.
      'content-type':
        wanted.type === 'docx' || wanted.type === 'xlsx' ? fileType(wanted.type).mediaType : 'application/octet-stream',
      'content-length': String(wanted.size),
      'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(wanted.fileName).replace(/['()*]/g, (c) => `%${c.charCodeAt(0).toString(16)}`)}`,
      'cache-control': 'private, max-age=31536000, immutable',
      etag: `"${wanted.sha256}"`,
    })
    await sendContent(database.manager, Buffer.from(wanted.sha256, 'hex'), response)
    return undefined
  })

  mount('setOrigin', ({ person, params, body }) =>
    setOrigin(database.manager, person.id, params.fileId, body.versionId),
  )
  mount('labelVersion', ({ person, params, body }) =>
    labelVersion(database.manager, person.id, params.versionId, body.label),
  )
  mount('trace', ({ person, params, body }) => traceBack(database, comparing, person.id, params.versionId, body))
  mount('retention', ({ person, params }) => retentionOf(database.manager, person.id, params.shareId))
  mount('setRetention', ({ person, params, body }) => setRetention(database.manager, person.id, params.shareId, body))
  mount('previewRetention', ({ person, params, body }) =>
    previewRetention(database.manager, person.id, params.shareId, body),
  )
  mount('hold', ({ person, params, body }) => setHold(database.manager, person.id, params.entryId, body.why))

  mount('placeNames', async ({ person, params, query }) => ({
    names: await namesIn(database.manager, person.id, params.shareId, query.folderId ?? null),
  }))
  mount('shareDefaults', ({ person, params, body }) =>
    setShareDefaults(database.manager, person.id, params.shareId, body),
  )
  mount('recentPlaces', ({ person }) => recentPlaces(database.manager, person.id))
  mount('removed', ({ person, params }) => removedFrom(database.manager, person.id, params.shareId))
  mount('act', ({ person, body }) => performAct(database, person.id, body))
  mount('undo', ({ person, params }) => undoAct(database, person.id, params.actId))
  mount('search', ({ person, query }) =>
    findFiles(database.manager, person.id, {
      q: query.q,
      ...(query.shareId && { shareId: query.shareId }),
      facets: query.facets?.split('\n').filter(Boolean) ?? [],
    }),
  )

  mount('naming', ({ person, params }) => shareNaming(database.manager, person.id, params.shareId))
  mount('newList', ({ person, body }) => newList(database, person.id, body))
  mount('changeList', ({ person, params, body }) => changeList(database, person.id, params.listId, body))
  mount('newConvention', ({ person, body }) => newConvention(database, person.id, body))
  mount('changeConvention', ({ person, params, body }) =>
    changeConvention(database, person.id, params.conventionId, body),
  )
  mount('endConvention', ({ person, params }) => endConvention(database, person.id, params.conventionId))
  mount('nextNumber', async ({ person, params, body }) => ({
    next: await nextNumber(database.manager, person.id, params.conventionId, body.folderId, body.values),
  }))
  mount('usedValues', ({ person, params }) => usedValues(database.manager, person.id, params.conventionId))
  mount('auditMaterial', ({ person, params }) => auditMaterial(database.manager, person.id, params.shareId))

  mount('templates', ({ person }) => templatesFor(database.manager, person.id))
  mount('newTemplate', ({ person, body }) => addTemplate(database.manager, person.id, body))
  mount('removeTemplate', ({ person, params }) => removeTemplate(database.manager, person.id, params.templateId))

  mount('drafts', ({ person }) => draftsOf(database.manager, person.id))
  // Before the address with an id, which it would be taken for.
  mount('room', ({ person }) => roomOf(database.manager, person.id))
  mount('draft', ({ person, params }) => draftById(database.manager, person.id, params.draftId))
  mount('points', ({ person, params }) => pointsOf(database.manager, person.id, params.draftId))
  mount('heartbeat', ({ person, params, body }) => heartbeat(database, person.id, sameDraft(params.draftId, body)))
  mount('point', ({ person, params, body }) => {
    sameDraft(params.draftId, body.heartbeat)
    return takePoint(database, person.id, body)
  })
  mount('takeOver', ({ person, params, body }) => takeOverDraft(database, person.id, params.draftId, body))
  mount('askForPoint', ({ person, params }) => askForPoint(database.manager, person.id, params.draftId))
  mount('noteSafeCopy', ({ person, params }) => noteSafeCopy(database.manager, person.id, params.draftId))
  mount('activity', ({ person }) => activityFor(database.manager, person.id))
  mount('protection', ({ person, query }) => protectionLayers(database.manager, person.id, query))
  mount('setProtection', ({ person, body }) => setOwnProtection(database.manager, person.id, body))
  mount('managedProtection', ({ person }) => managedProtection(database.manager, person.id))
  mount('setPlaceProtection', ({ person, body }) => setPlaceProtection(database.manager, person.id, body))
  mount('drills', ({ person }) => drillsOf(database.manager, person.id))
  mount('newDrill', ({ person, body }) => keepDrill(database.manager, person.id, body))
  mount('endDraft', ({ person, params, body }) =>
    endDraft(
      database,
      person.id,
      params.draftId,
      body.state,
      (manager) => visibleDraft(manager, person.id, params.draftId),
      body.heartbeat && sameDraft(params.draftId, body.heartbeat),
    ),
  )
  mount('events', async ({ person, response }) => newsroom.subscribe(person.id, response))

  app.get('/api/openapi.json', (_request, response) => void response.json(openapi(version)))
  app.use('/api', () => {
    throw new Refusal('not-found', 'There is nothing at this address.')
  })
  app.use(
    express.static(pages, {
      index: false,
      setHeaders: (response, path) =>
        response.set('cache-control', path.includes('/assets/') ? 'public, max-age=31536000, immutable' : 'no-cache'),
    }),
  )
  app.get('/{*path}', (_request, response) => {
    const page = join(pages, 'index.html')
    if (!existsSync(page)) throw new Refusal('not-found', 'The pages are not built. Run npm run build.')
    response.set('cache-control', 'no-cache').sendFile(page)
  })

  app.use((error: unknown, request: Request, response: Response, next: NextFunction) => {
    if (response.headersSent) return next(error)
    const refusal = asRefusal(error, largestFile)
    if (refusal.problem.status >= 500 || refusal.cause) log.error({ err: error, path: request.path }, refusal.message)
    if (refusal.problem.retryAfter) response.set('retry-after', String(refusal.problem.retryAfter))
    response.status(refusal.problem.status).type('application/problem+json').send(JSON.stringify(refusal.problem))
  })
  return app
}

function sameDraft<T extends { id: string }>(id: string, beat: T): T {
  if (beat.id !== id) throw new Refusal('invalid', 'The address and the draft in the request differ.')
  return beat
}

/** Refuses changes asked for by another site's page: browsers name the asking site in Origin. */
function sameOriginOnly(request: Request, _response: Response, next: NextFunction): void {
  const origin = request.headers.origin
  if (request.method !== 'GET' && origin && new URL(origin).host !== request.headers.host)
    throw new Refusal('not-allowed', 'This request came from another site.')
  next()
}

function asRefusal(error: unknown, largestFile: number): Refusal {
  if (error instanceof Refusal) return error
  if ((error as { type?: string })?.type === 'entity.too.large')
    return new Refusal('too-large', `Files up to ${Math.floor(largestFile / 1e6)} MB can be kept here.`)
  if ((error as { type?: string })?.type === 'entity.parse.failed')
    return new Refusal('invalid', 'This request is not JSON.')
  if (databaseIsAway(error)) return new Refusal('storage-unavailable', 'Shared storage does not answer right now.')
  return new Refusal('unexpected', 'Something went wrong here. Nothing was changed.')
}
