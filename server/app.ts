import compression from 'compression'
import express, { type Express, type NextFunction, type Request, type Response } from 'express'
import helmet from 'helmet'
import { say } from '../core/words/said'
import { peopleRoutes } from './accounts/people-routes'
import { accountRoutes, identifying } from './accounts/routes'
import { type Audited, audited } from './audit/log'
import { auditRoutes } from './audit/routes'
import { bringingRoutes } from './bringing/routes'
import { copyRoutes } from './copies/routes'
import { draftRoutes } from './drafts/routes'
import { drillRoutes } from './drills/routes'
import { eventRoutes } from './events/routes'
import { fileRoutes } from './files/routes'
import { isTooDeep, tooDeep } from './files/tree'
import { healthRoutes } from './health/routes'
import { intakeRoutes } from './intake/routes'
import { linkRoutes } from './links/routes'
import { momentRoutes } from './moments/routes'
import { namingRoutes } from './naming/routes'
import { openapi } from './openapi'
import { servePages } from './pages'
import { paperRoutes } from './paper/routes'
import type { AppParts } from './parts'
import { printingRoutes } from './printing/routes'
import { protectionRoutes } from './protection/routes'
import { absent, databaseIsAway, Refusal } from './refusal'
import { mounting } from './requests/mount'
import { retentionRoutes } from './retention/routes'
import { rightRoutes } from './rights/routes'
import { searchRoutes } from './search/routes'
import { sendingRoutes } from './sending/routes'
import { shareRoutes } from './shares/routes'
import { sideListRoutes } from './side-lists/routes'
import { templateRoutes } from './templates/routes'
import { versionRoutes } from './versions/routes'
import { watchingRoutes } from './watching/routes'

const subjects = [
  healthRoutes,
  accountRoutes,
  peopleRoutes,
  shareRoutes,
  rightRoutes,
  watchingRoutes,
  linkRoutes,
  sendingRoutes,
  paperRoutes,
  printingRoutes,
  fileRoutes,
  versionRoutes,
  draftRoutes,
  namingRoutes,
  templateRoutes,
  sideListRoutes,
  searchRoutes,
  retentionRoutes,
  copyRoutes,
  bringingRoutes,
  intakeRoutes,
  momentRoutes,
  protectionRoutes,
  drillRoutes,
  auditRoutes,
  eventRoutes,
]

/** The whole server as an Express application; it keeps nothing in memory that another process would need. */
export function makeApp(parts: AppParts): Express {
  const { log, largestFile, pages, version, spool, hosts, proxies = 0 } = parts
  const app = express()
  app.disable('x-powered-by')
  app.set('trust proxy', proxies)
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
      // Said where TLS is, below: on plain http it means nothing.
      strictTransportSecurity: false,
    }),
  )
  app.use((request, response, next) => {
    if (request.secure) response.set('strict-transport-security', 'max-age=31536000')
    if (hosts?.length && !hosts.includes(nameOfHost(request)))
      throw new Refusal('invalid', say('problem.this-name-is-not-jaulas'))
    next()
  })
  app.use('/api', (request, response, next) => {
    // Answers are for who asked, now; a version's bytes say for themselves how they may be kept.
    response.set('cache-control', 'no-store')
    if (!isSameOrigin(request)) throw new Refusal('not-allowed', say('problem.this-request-came-from-another-site'))
    next()
  })
  // Lists grow; files are packed already, and a stream of news must not wait to be worth packing.
  app.use(
    '/api',
    compression({ filter: (_request, response) => /json/.test(String(response.getHeader('content-type'))) }),
  )
  audited.subscribe((entry) => log.info({ audit: entry }, (entry as Audited).what))
  const mount = mounting(app, identifying(parts), spool, largestFile)
  for (const routes of subjects) routes(mount, parts)

  // Made once: it is the same for everybody.
  let description: object | undefined
  app.get('/api/openapi.json', (_request, response) => void response.json((description ??= openapi(version))))
  app.use('/api', () => {
    throw absent()
  })
  app.use(servePages(pages))
  app.use(() => {
    throw absent()
  })

  app.use((error: unknown, request: Request, response: Response, next: NextFunction) => {
    if (response.headersSent) return next(error)
    const refusal = asRefusal(error)
    if (refusal.problem.status >= 500 || refusal.cause) log.error({ err: error, path: request.path }, refusal.message)
    if (refusal.problem.retryAfter) response.set('retry-after', String(refusal.problem.retryAfter))
    // What is still being sent is not waited for.
    if (!request.complete) response.set('connection', 'close')
    response.status(refusal.problem.status).type('application/problem+json').send(JSON.stringify(refusal.problem))
  })
  return app
}

const nameOfHost = (request: Request): string => (request.headers.host ?? '').replace(/:\d+$/, '').toLowerCase()

/**
 * Whether a change is asked for by a page of this server, or by no page: browsers name the asking site in Origin, and
 * say how it stands to this one in Sec-Fetch-Site (Fetch Metadata, W3C).
 */
function isSameOrigin(request: Request): boolean {
  if (request.method === 'GET' || request.method === 'HEAD') return true
  const site = request.headers['sec-fetch-site']
  if (site && site !== 'same-origin' && site !== 'none') return false
  const { origin } = request.headers
  return !origin || origin === `${request.protocol}://${request.headers.host}`
}

function asRefusal(error: unknown): Refusal {
  if (error instanceof Refusal) return error
  // What Express says of an address that is no address (bad percent-encoding), or of a file that it does not send.
  const { status } = error as { status?: number }
  if (status === 404) return absent()
  if (typeof status === 'number' && status >= 400 && status < 500)
    return new Refusal('invalid', say('problem.this-request-is-not-as-it-should'))
  if (isTooDeep(error)) return tooDeep()
  if (databaseIsAway(error))
    return new Refusal('storage-unavailable', say('problem.the-server-does-not-answer-right-now'))
  return new Refusal('unexpected', say('problem.something-went-wrong-here-nothing-was-changed'))
}
