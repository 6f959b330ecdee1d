// The pages as they were built, packed as small as the browser can open them. What is named by its content is kept by
// browsers for good; the page itself is asked for anew each time.
import { existsSync } from 'node:fs'
import express, { type RequestHandler, Router } from 'express'
import expressStaticGzip from 'express-static-gzip'
import { say } from '../core/words/said'
import { Refusal } from './refusal'

interface Headed {
  setHeader(name: string, value: string): unknown
  removeHeader(name: string): unknown
}
/** What helmet says of a page that is opened, and that means nothing for a script, a style or a font that a page asks for. */
const ofPages = [
  'content-security-policy',
  'cross-origin-opener-policy',
  'origin-agent-cluster',
  'referrer-policy',
  'x-dns-prefetch-control',
  'x-download-options',
  'x-frame-options',
  'x-permitted-cross-domain-policies',
  'x-xss-protection',
]
/** A worker is held to the policy that comes with its own script (Content Security Policy 3, section 4.2.3). */
const isPart = (path: string) => /\/assets\/[^/]*\.(js|css|woff2)(\.br|\.gz)?$/.test(path) && !/\.worker-/.test(path)

/** @param pages the folder of the build; every address that is no file of it is the page's own */
export function servePages(pages: string): Router {
  const router = Router()
  const serveStatic = {
    index: false as const,
    setHeaders: (response: Headed, path: string) => {
      if (isPart(path)) for (const name of ofPages) response.removeHeader(name)
      response.setHeader(
        'cache-control',
        path.includes('/assets/') ? 'public, max-age=31536000, immutable' : 'no-cache',
      )
    },
  }
  const send: RequestHandler = existsSync(pages)
    ? expressStaticGzip(pages, { enableBrotli: true, orderPreference: ['br', 'gz'], index: false, serveStatic })
    : express.static(pages, serveStatic)
  router.use((request, _response, next) => {
    try {
      decodeURIComponent(request.path)
    } catch {
      throw new Refusal('invalid', say('problem.this-address-is-not-written-as-addresses'))
    }
    next()
  })
  // The page of a link is a page of its own, and nothing for those who make lists of pages.
  router.get('/link', (request, response, next) => {
    response.set('x-robots-tag', 'noindex, nofollow, noarchive')
    request.url = '/link.html'
    send(request, response, next)
  })
  router.use(send)
  router.get('/{*path}', (request, response, next) => {
    request.url = '/index.html'
    send(request, response, next)
  })
  router.get('/{*path}', () => {
    throw new Refusal('not-found', say('problem.the-pages-are-not-built-run-npm'))
  })
  return router
}
