// What makes Jaula start without its server: the pages themselves, and the last answers that open
// recently used files. Work is not kept here; that is the journal's. An answer from here is given
// only when the server does not give one, so that nothing old is shown while the new can be had.
const scope = self as unknown as ServiceWorkerGlobalScope

const answers = 'jaula-answers'
const contents = 'jaula-contents'
const mostAnswers = 200
const mostContents = 80
const largestContent = 30_000_000
/** A server that says nothing for this long counts as away, where there is a kept answer; milliseconds. */
const patience = 5000

/** Questions whose last answer is kept. What tells of other people's work or of protection is not among them. */
const keptQuestions =
  /^\/api\/(session|settings|shares|recent|recent-places|templates|files\/[0-9a-f-]+(\/versions)?|shares\/[0-9a-f-]+\/(naming|entries|names))$/
const contentOf = /^\/api\/versions\/[0-9a-f-]+\/bytes$/

interface Shell {
  version: string
  files: string[]
}

scope.addEventListener('install', (event) => {
  event.waitUntil(
    (async () => {
      const shell: Shell = await (await fetch('/offline.json', { cache: 'no-store' })).json()
      const cache = await caches.open(`jaula-shell-${shell.version}`)
      await cache.addAll(shell.files)
      await scope.skipWaiting()
    })(),
  )
})

scope.addEventListener('activate', (event) => {
  event.waitUntil(
    (async () => {
      const shells = (await caches.keys()).filter((name) => name.startsWith('jaula-shell-'))
      // The newest stays, and the one before it: a page that is open fetches its screens when it comes to them.
      for (const name of shells.slice(0, -2)) await caches.delete(name)
      await scope.clients.claim()
    })(),
  )
})

scope.addEventListener('message', (event) => {
  if (event.data === 'forget') event.waitUntil(forget().then(() => event.ports[0]?.postMessage('forgotten')))
})

/** How often this worker has forgotten: an answer asked for before is not kept after. */
let forgotten = 0

/** Somebody is signed out, here or from elsewhere: nothing of theirs stays to be looked at. */
function forget() {
  forgotten++
  return Promise.all([caches.delete(answers), caches.delete(contents)])
}

/** Whether an answer says that nobody is signed in. */
async function saysSignedOut(request: Request, response: Response): Promise<boolean> {
  if (response.status === 401) return true
  if (!response.ok || new URL(request.url).pathname !== '/api/session') return false
  return ((await response.clone().json()) as { person: unknown }).person === null
}

scope.addEventListener('fetch', (event) => {
  const { request } = event
  const url = new URL(request.url)
  if (request.method !== 'GET' || url.origin !== scope.location.origin) return
  if (request.mode === 'navigate') {
    if (!/^\/(api\/|link$)/.test(url.pathname)) event.respondWith(page(request))
  } else if (url.pathname.startsWith('/assets/') || url.pathname === '/jaula.svg') event.respondWith(asset(request))
  else if (contentOf.test(url.pathname)) event.respondWith(content(event, request))
  else if (keptQuestions.test(url.pathname)) event.respondWith(question(event, request))
})

async function page(request: Request): Promise<Response> {
  try {
    return await withPatience(fetch(request))
  } catch {
    return (await caches.match('/')) ?? Response.error()
  }
}

async function asset(request: Request): Promise<Response> {
  return (await caches.match(request)) ?? fetch(request)
}

/** A version never changes, but who may look at it may: the server is asked, and only where it is away what is kept is given. */
async function content(event: FetchEvent, request: Request): Promise<Response> {
  const since = forgotten
  const kept = await caches.match(request, { cacheName: contents })
  let response: Response
  try {
    response = await (kept ? withPatience(fetch(request)) : fetch(request))
  } catch (error) {
    if (!kept) throw error
    return kept
  }
  if (kept && response.status >= 502 && response.status <= 504) return kept
  if (await saysSignedOut(request, response)) event.waitUntil(forget())
  else if (response.status === 403 || response.status === 404) event.waitUntil(drop(contents, request))
  if (response.ok && Number(response.headers.get('content-length') ?? largestContent) < largestContent)
    event.waitUntil(keep(contents, request, response.clone(), mostContents, since))
  return response
}

async function question(event: FetchEvent, request: Request): Promise<Response> {
  const since = forgotten
  const asking = fetch(request)
  // Looked for by its name: to open what is not there would make it again, for somebody who has signed out.
  const last = () => caches.match(request, { cacheName: answers })
  try {
    const response = await withPatience(asking)
    if (await saysSignedOut(request, response)) event.waitUntil(forget())
    else if (response.ok) event.waitUntil(keep(answers, request, response.clone(), mostAnswers, since))
    else if (response.status === 403 || response.status === 404) event.waitUntil(drop(answers, request))
    if (response.status < 502 || response.status > 504) return response
    return (await last()) ?? response
  } catch {
    return (await last()) ?? asking
  }
}

/** What may not be looked at any more goes. */
async function drop(name: string, request: Request): Promise<void> {
  if (await caches.has(name)) await (await caches.open(name)).delete(request)
}

/** Puts something in as the newest; the oldest goes when there are too many. What was asked for before somebody signed out is not kept. */
async function keep(name: string, request: Request, response: Response, most: number, since: number): Promise<void> {
  try {
    if (since !== forgotten) return
    const cache = await caches.open(name)
    await cache.delete(request)
    await cache.put(request, response)
    const keys = await cache.keys()
    for (const old of keys.slice(0, Math.max(0, keys.length - most))) await cache.delete(old)
    if (since !== forgotten) await forget()
  } catch {
    // The device has no room for it; the journal's room comes first.
  }
}

function withPatience(answer: Promise<Response>): Promise<Response> {
  return new Promise((resolve, reject) => {
    const timer = setTimeout(() => reject(new Error('silent')), patience)
    answer.then(resolve, reject).finally(() => clearTimeout(timer))
  })
}
