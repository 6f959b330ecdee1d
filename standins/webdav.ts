// A stand-in for another computer that keeps files by WebDAV (RFC 4918, class 1 without locks and properties of one's own).
import { createServer, type IncomingMessage, type RequestListener, type ServerResponse } from 'node:http'
import { createServer as createProtected } from 'node:https'
import { posix } from 'node:path'
import { listening, type StandIn } from './listen'
import { type Known, type Storage, Vanished } from './storage'

const escaped = (text: string) =>
  text.replace(/[&<>"]/g, (sign) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[sign]!)
const hrefOf = (path: string, is: Known['is']) =>
  `${path.split('/').map(encodeURIComponent).join('/')}${is === 'folder' && path !== '/' ? '/' : ''}`

function propertiesOf(path: string, { is, size, changed }: Known, room: number | null): string {
  const properties = [
    `<d:displayname>${escaped(posix.basename(path))}</d:displayname>`,
    `<d:getlastmodified>${new Date(changed * 1000).toUTCString()}</d:getlastmodified>`,
    `<d:resourcetype>${is === 'folder' ? '<d:collection/>' : ''}</d:resourcetype>`,
    ...(is === 'folder' ? [] : [`<d:getcontentlength>${size}</d:getcontentlength>`]),
    // RFC 4331
    ...(room === null
      ? []
      : [`<d:quota-available-bytes>${room}</d:quota-available-bytes><d:quota-used-bytes>0</d:quota-used-bytes>`]),
  ].join('')
  return `<d:response><d:href>${escaped(hrefOf(path, is))}</d:href><d:propstat><d:prop>${properties}</d:prop><d:status>HTTP/1.1 200 OK</d:status></d:propstat></d:response>`
}

const pathOf = (address: string) =>
  decodeURIComponent(new URL(address, 'http://here').pathname).replace(/(?<=.)\/+$/, '')

class Status extends Error {
  constructor(readonly status: number) {
    super(String(status))
  }
}

async function answer(
  storage: Storage,
  room: () => number | null,
  request: IncomingMessage,
  response: ServerResponse,
): Promise<void> {
  const path = pathOf(request.url ?? '/')
  const end = (status: number, body = '') =>
    response.writeHead(status, body ? { 'Content-Type': 'application/xml; charset=utf-8' } : {}).end(body)
  const there = () =>
    storage.look(path).catch((error: NodeJS.ErrnoException) => {
      if (error.code === 'ENOENT') return null
      throw error
    })
  switch (request.method) {
    case 'OPTIONS':
      response.setHeader('DAV', '1')
      return void end(200)
    case 'PROPFIND': {
      const own = await storage.look(path)
      const all = [propertiesOf(path, own, room())]
      if (own.is === 'folder' && request.headers.depth === '1')
        for (const { name, ...known } of await storage.list(path))
          all.push(propertiesOf(posix.join(path, name), known, null))
      return void end(
        207,
        `<?xml version="1.0" encoding="utf-8"?><d:multistatus xmlns:d="DAV:">${all.join('')}</d:multistatus>`,
      )
    }
    case 'HEAD':
    case 'GET': {
      const own = await storage.look(path)
      if (own.is !== 'file') throw new Status(405)
      const file = await storage.open(path, 'r')
      try {
        response.writeHead(200, { 'Content-Length': own.size })
        for (let at = 0; at < own.size && request.method === 'GET'; ) {
          const bytes = await storage.read(path, file, at, 1 << 16)
          if (!bytes.length) break
          at += bytes.length
          if (response.destroyed) break
          if (!response.write(bytes))
            await new Promise<void>((done) => {
              const goOn = () => {
                response.off('drain', goOn).off('close', goOn)
                done()
              }
              // Or whoever asked went away.
              response.on('drain', goOn).on('close', goOn)
            })
        }
        response.end()
      } finally {
        await file.close()
      }
      return
    }
    case 'PUT': {
      const own = await there()
      if (own && request.headers['if-none-match'] === '*') throw new Status(412)
      if (own?.is === 'folder') throw new Status(405)
      const file = await storage.open(path, 'w').catch((error: NodeJS.ErrnoException) => {
        throw error.code === 'ENOENT' ? new Status(409) : error
      })
      try {
        let at = 0
        for await (const bytes of request as AsyncIterable<Buffer>) {
          await storage.write(file, bytes, at)
          at += bytes.length
        }
      } finally {
        await file.close()
      }
      return void end(own ? 204 : 201)
    }
    case 'MKCOL':
      if (await there()) throw new Status(405)
      await storage.mkdir(path)
      return void end(201)
    case 'DELETE': {
      const own = await storage.look(path)
      if (own.is === 'folder') await storage.rmdir(path)
      else await storage.unlink(path)
      return void end(204)
    }
    case 'MOVE': {
      const to = pathOf(String(request.headers.destination))
      const other = await storage.look(to).catch(() => null)
      if (other && request.headers.overwrite === 'F') throw new Status(412)
      await storage.rename(path, to)
      return void end(other ? 204 : 201)
    }
    default:
      throw new Status(405)
  }
}

export async function startWebDav({
  storage,
  account,
  password,
  room = () => null,
  tls,
  port = 0,
}: {
  storage: Storage
  account: string
  password: string
  room?: () => number | null
  /** Its certificate and key, as text, where it speaks TLS. */
  tls?: { cert: string; key: string }
  port?: number
}): Promise<StandIn> {
  let vanish = () => {}
  const letIn = `Basic ${Buffer.from(`${account}:${password}`).toString('base64')}`
  const serve: RequestListener = (request, response) => {
    if (request.headers.authorization !== letIn)
      return void response.writeHead(401, { 'WWW-Authenticate': 'Basic realm="files"' }).end()
    answer(storage, room, request, response).catch((error: NodeJS.ErrnoException) => {
      if (error instanceof Vanished) vanish()
      else if (response.headersSent) response.destroy()
      else {
        const status =
          error instanceof Status
            ? error.status
            : ({ ENOENT: 404, EACCES: 403, ENOSPC: 507, ENOTEMPTY: 409 }[error.code as 'ENOENT'] ?? 500)
        // The rest of what is sent is not waited for.
        response.writeHead(status, { Connection: 'close' }).end()
      }
    })
  }
  const server = tls ? createProtected(tls, serve) : createServer(serve)
  const standIn = await listening(server, port)
  vanish = standIn.vanish
  return standIn
}
