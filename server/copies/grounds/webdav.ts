// A folder of another computer, by WebDAV (RFC 4918). It has nothing that flushes: that a file is kept is what the other
// side answers for. What was written is read back all the same.
import { Agent, type ClientRequestArgs } from 'node:http'
import { isIP } from 'node:net'
import { posix } from 'node:path'
import { Readable } from 'node:stream'
import { connect as connectTls } from 'node:tls'
import { AuthType, createClient, type FileStat, type WebDAVClient } from 'webdav'
import { FarFault, far } from '../../far-fault'
import { type Entry, type Ground, gone, type Is } from './ground'
import type { Address, Way } from './hosts'
import type { SignIn } from './sftp'

/** Whoever waits for an answer longer than this has lost the other side; milliseconds. */
const patience = 60_000

/** Goes to the one address that was looked at, whatever the other side sends it to. */
class OneWay extends Agent {
  protocol: string
  constructor(
    private readonly way: Way,
    private readonly secure: boolean,
    private readonly ca: string | undefined,
  ) {
    super({ keepAlive: true, maxSockets: 8 })
    this.protocol = secure ? 'https:' : 'http:'
  }
  override createConnection(
    options: ClientRequestArgs,
    connected?: (error: Error | null, stream: never) => void,
  ): never {
    const done = connected as unknown as (error: Error | null, stream?: unknown) => void
    const asked = String(options.host ?? options.hostname ?? '').replace(/^\[(.*)\]$/, '$1')
    if (asked.toLowerCase() !== this.way.host || Number(options.port) !== this.way.port) {
      done(Object.assign(new Error(`sent to ${asked}`), { code: 'EREDIRECT' }))
      return undefined as never
    }
    void this.way.connect().then(
      (socket) => {
        socket.setTimeout(patience, () => socket.destroy(Object.assign(new Error(asked), { code: 'ETIMEDOUT' })))
        if (!this.secure) return done(null, socket)
        // An address is no name that a certificate is asked for by (RFC 6066, §3), and is held against it all the same.
        const { host } = this.way
        const protectedOne = connectTls({ socket, host, ...(!isIP(host) && { servername: host }), ca: this.ca })
        protectedOne.once('secureConnect', () => done(null, protectedOne))
        protectedOne.once('error', (error) => done(error))
      },
      (error: Error) => done(error),
    )
    return undefined as never
  }
}

/** What the other side says is wrong, by what our own disk would say. */
function known(error: unknown, path: string): Error {
  const { status, code, message } = error as { status?: number; code?: string; message: string }
  const as = (name: string) => new FarFault(message, name)
  if (status === 404) return gone(path)
  if (status === 409) return gone(path)
  if (status === 401) return as('EAUTH')
  if (status === 403) return as('EACCES')
  // RFC 4918, §11.5
  if (status === 507) return as('ENOSPC')
  if (status) return as(`HTTP ${status}`)
  return code ? far(error) : as('EPROTO')
}

const isStat = (value: unknown): value is FileStat => typeof (value as FileStat | null)?.type === 'string'
const kindOf = ({ type }: FileStat): Is => (type === 'directory' ? 'folder' : 'file')

export class WebDav implements Ground {
  private constructor(
    private readonly client: WebDAVClient,
    private readonly address: string,
    private readonly folder: string,
  ) {}

  /** @param ca certificates that are trusted, where it is not those that Node.js trusts */
  static at({ host, port, path, text, secure }: Address, way: Way, { account, secret }: SignIn, ca?: string): WebDav {
    const shown = host.includes(':') ? `[${host}]` : host
    const agent = new OneWay(way, secure, ca)
    const client = createClient(`${secure ? 'https' : 'http'}://${shown}:${port}`, {
      authType: AuthType.Auto,
      username: account,
      password: secret,
      httpAgent: agent,
      httpsAgent: agent,
    })
    return new WebDav(client, text, path === '' ? '/' : path)
  }

  get root(): string {
    return this.address
  }
  get name(): string {
    return posix.basename(this.folder) || this.address
  }
  private at(path: string): string {
    return path === '' ? this.folder : posix.join(this.folder, path)
  }
  private async ask<T>(path: string, question: (signal: AbortSignal) => Promise<T>): Promise<T> {
    try {
      return await question(AbortSignal.timeout(patience))
    } catch (error) {
      throw known(error, path)
    }
  }
  async look(path: string): Promise<Is | null> {
    try {
      const found = await this.ask(path, (signal) => this.client.stat(this.at(path), { signal }))
      if (!isStat(found)) throw new FarFault(path, 'EPROTO')
      return kindOf(found)
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code === 'ENOENT') return null
      throw error
    }
  }
  async list(path: string): Promise<Entry[]> {
    const found = await this.ask(path, (signal) => this.client.getDirectoryContents(this.at(path), { signal }))
    if (!Array.isArray(found)) throw new FarFault(path, 'EPROTO')
    return found.map((one) => {
      // A name that leads elsewhere is none.
      if (!isStat(one) || !one.basename || /[/\0]|^\.{1,2}$/.test(one.basename)) throw new FarFault(path, 'EPROTO')
      return { name: one.basename, is: kindOf(one), size: one.size }
    })
  }
  async *read(path: string): AsyncGenerator<Buffer> {
    const own = this.at(path)
    // However long it takes; that nothing at all comes is what its connection watches.
    const { body } = (await this.client
      .customRequest(own, { method: 'GET', headers: { Accept: '*/*' } })
      .catch((error: unknown) => {
        throw known(error, path)
      })) as unknown as { body: AsyncIterable<Buffer> | null }
    if (!body) return
    try {
      for await (const piece of body) yield Buffer.from(piece)
    } catch (error) {
      throw known(error, path)
    }
  }
  async create(path: string, pieces: AsyncIterable<Uint8Array>): Promise<void> {
    // However long it takes; that nothing at all goes is what its connection watches.
    await this.client
      .putFileContents(this.at(path), Readable.from(pieces, { objectMode: false, highWaterMark: 1 << 18 }), {
        overwrite: false,
        contentLength: false,
      })
      .then(
        (done) => {
          if (!done) throw new FarFault(path, 'EEXIST')
        },
        (error) => {
          throw known(error, path)
        },
      )
  }
  async rename(from: string, to: string): Promise<void> {
    await this.ask(from, (signal) => this.client.moveFile(this.at(from), this.at(to), { overwrite: true, signal }))
  }
  async removeFile(path: string): Promise<void> {
    await this.ask(path, (signal) => this.client.deleteFile(this.at(path), { signal }))
  }
  async makeFolder(path: string): Promise<void> {
    try {
      await this.ask(path, (signal) => this.client.createDirectory(this.at(path), { signal }))
    } catch (error) {
      // §9.3.1: 405 where there is something.
      if ((await this.look(path)) !== 'folder') throw error
    }
  }
  async removeFolder(path: string): Promise<void> {
    // Taken away with all that is in it otherwise (§9.6.1).
    if ((await this.list(path)).length) throw new FarFault(path, 'ENOTEMPTY')
    await this.removeFile(path)
  }
  async flush(): Promise<void> {}
  within(name: string): WebDav {
    return new WebDav(this.client, `${this.address}/${name}`, this.at(name))
  }
  async room(): Promise<number | null> {
    const quota = await this.client
      .getQuota({ path: this.folder, signal: AbortSignal.timeout(patience) })
      .catch(() => null)
    const available = quota && 'available' in quota ? quota.available : null
    return typeof available === 'number' ? available : null
  }
}
