// A folder of another computer, by SFTP (draft-ietf-secsh-filexfer-02, which is what servers speak, and OpenSSH's
// extensions to it: PROTOCOL, §4.3 to 4.5 and 4.10).
import { createHash, randomBytes } from 'node:crypto'
import { posix } from 'node:path'
import type { FileEntryWithStats, SFTPWrapper, Stats } from 'ssh2'
import Client from 'ssh2-sftp-client'
import { FarFault, far } from '../../far-fault'
import { type Entry, type Ground, gone, type Is, isGone } from './ground'
import type { Way } from './hosts'

/** Whoever waits for an answer longer than this has lost the other side; milliseconds. */
const patience = 60_000
/** What every server takes in one packet (§6.4), and how many are on their way at once. */
const packet = 32_768
const onTheWay = 16

/** A key's fingerprint, as people compare it: SHA-256 in base64 (RFC 4648, §4) without its end. */
export const fingerprint = (key: Buffer) =>
  `SHA256:${createHash('sha256').update(key).digest('base64').replace(/=+$/, '')}`

/** The other side shows another key than it did. */
export class OtherKey extends Error {
  constructor(readonly shown: string) {
    super(shown)
  }
}
/** It does not take this name with this password or key. */
export class NotLetIn extends Error {}

export interface SignIn {
  account: string
  /** A password, or a private key as text. */
  secret: string
}

/** One that says nothing on the console. */
const quiet = () => new Client('jaula', { error: () => {}, end: () => {}, close: () => {} })

/** The other side as it was reached. */
export interface Reached {
  sftp: SFTPWrapper
  closed: () => boolean
  /** What is waited for, to be told when the other side is gone. */
  waiting: Set<(error: Error) => void>
  /** When it was last asked for something. */
  usedAt: () => number
  used: () => void
  close: () => Promise<void>
}

/**
 * @param hostKey the fingerprint that it has to show
 * @throws OtherKey, NotLetIn, or what the network says
 */
export async function connect(way: Way, { account, secret }: SignIn, hostKey: string): Promise<Reached> {
  const client = quiet()
  let other: string | null = null
  let closed = false
  let usedAt = Date.now()
  const waiting = new Set<(error: Error) => void>()
  // It would be thrown where nobody is.
  client.on('error', () => {
    closed = true
  })
  client.on('close', () => {
    closed = true
  })
  const sock = await way.connect()
  sock.once('close', () => {
    closed = true
    for (const fail of waiting) fail(new FarFault(way.host, 'ECONNRESET'))
  })
  try {
    const sftp = await client.connect({
      sock,
      username: account,
      ...(/-----BEGIN [A-Z ]*PRIVATE KEY-----/.test(secret) ? { privateKey: secret } : { password: secret }),
      hostVerifier: (key: Buffer) => {
        const shown = fingerprint(key)
        if (shown !== hostKey) other = shown
        return shown === hostKey
      },
      readyTimeout: 20_000,
      keepaliveInterval: 10_000,
      keepaliveCountMax: 3,
      retries: 0,
    } as Client.ConnectOptions)
    return {
      sftp,
      closed: () => closed || sock.destroyed,
      waiting,
      usedAt: () => usedAt,
      used: () => {
        usedAt = Date.now()
      },
      close: async () => {
        closed = true
        await client.end().catch(() => {})
        sock.destroy()
      },
    }
  } catch (error) {
    sock.destroy()
    if (other !== null) throw new OtherKey(other)
    const { message, level } = error as Error & { level?: string }
    if (level === 'client-authentication' || /authentication methods failed|private key|passphrase/i.test(message))
      throw new NotLetIn(message)
    throw far(error)
  }
}

/** The fingerprint of the key that the other side shows; nobody signs in. @throws what the network says */
export async function keyShown(way: Way): Promise<string> {
  const client = quiet()
  client.on('error', () => {})
  const sock = await way.connect()
  let shown: string | null = null
  try {
    await client.connect({
      sock,
      username: 'jaula',
      hostVerifier: (key: Buffer) => {
        shown = fingerprint(key)
        return false
      },
      readyTimeout: 20_000,
      retries: 0,
    } as Client.ConnectOptions)
  } catch (error) {
    if (shown === null) throw far(error)
  } finally {
    await client.end().catch(() => {})
    sock.destroy()
  }
  return shown!
}

/** What the other side says is wrong, by what our own disk would say (§7). */
function known(error: unknown, path: string): Error {
  const { code, message } = error as { code?: number | string; message: string }
  if (code === 2) return gone(path)
  if (code === 3) return new FarFault(message, 'EACCES')
  if (code === 4 && /no space|quota|full/i.test(message)) return new FarFault(message, 'ENOSPC')
  return typeof code === 'number' ? new FarFault(message, `SFTP ${code}`) : far(error)
}

const kindOf = (stats: Pick<Stats, 'isFile' | 'isDirectory'>): Is =>
  stats.isDirectory() ? 'folder' : stats.isFile() ? 'file' : 'other'

export class Sftp implements Ground {
  /**
   * @param address what tells it from other places
   * @param folder the whole path of it there
   */
  constructor(
    private readonly reached: Reached,
    private readonly address: string,
    private readonly folder: string,
  ) {}

  get root(): string {
    return this.address
  }
  get name(): string {
    return posix.basename(this.folder) || this.address
  }
  private at(path: string): string {
    return path === '' ? this.folder : posix.join(this.folder, path)
  }
  /** One question to the other side, and its answer; one that never comes closes the connection. */
  private ask<T>(
    path: string,
    question: (sftp: SFTPWrapper, done: (error: unknown, answer: T) => void) => void,
  ): Promise<T> {
    return new Promise((answered, failed) => {
      const timer = setTimeout(() => {
        void this.reached.close()
        failed(new FarFault(path, 'ETIMEDOUT'))
      }, patience)
      const lost = (error: Error) => end(error, undefined as T)
      const end = (error: unknown, answer: T) => {
        clearTimeout(timer)
        this.reached.waiting.delete(lost)
        if (error) failed(known(error, path))
        else answered(answer)
      }
      if (this.reached.closed()) return lost(new FarFault(path, 'ECONNRESET'))
      this.reached.waiting.add(lost)
      this.reached.used()
      try {
        question(this.reached.sftp, end)
      } catch (error) {
        end(error, undefined as T)
      }
    })
  }
  /** One that not every server knows. @returns whether it does */
  private async askOptional(
    path: string,
    question: (sftp: SFTPWrapper, done: (error: unknown) => void) => void,
  ): Promise<boolean> {
    try {
      await this.ask<void>(path, question)
      return true
    } catch (error) {
      if (/does not support|SFTP 8/.test(`${(error as Error).message} ${(error as NodeJS.ErrnoException).code}`))
        return false
      throw error
    }
  }

  async look(path: string): Promise<Is | null> {
    try {
      return kindOf(await this.ask<Stats>(path, (sftp, done) => sftp.lstat(this.at(path), done)))
    } catch (error) {
      if (isGone(error)) return null
      throw error
    }
  }
  async list(path: string): Promise<Entry[]> {
    const entries = await this.ask<FileEntryWithStats[]>(path, (sftp, done) => sftp.readdir(this.at(path), done))
    return entries
      .filter(({ filename }) => filename !== '.' && filename !== '..')
      .map(({ filename, attrs }) => ({ name: filename, is: kindOf(attrs), size: attrs.size }))
  }
  async *read(path: string): AsyncGenerator<Buffer> {
    const is = await this.look(path)
    if (is === null) throw gone(path)
    if (is !== 'file') throw new FarFault(path, 'ELOOP')
    const file = await this.ask<Buffer>(path, (sftp, done) => sftp.open(this.at(path), 'r', done))
    const reading: Promise<Buffer>[] = []
    try {
      const { size } = await this.ask<Stats>(path, (sftp, done) => sftp.fstat(file, done))
      let next = 0
      for (;;) {
        // Also after what it said is its end, so that one that grew is not taken for what it was.
        while (reading.length < onTheWay && next <= size) {
          const piece = this.readPiece(path, file, next)
          // It is waited for in its turn; until then nobody else tells of it.
          piece.catch(() => {})
          reading.push(piece)
          next += packet
        }
        const piece = await reading.shift()
        if (!piece?.length) return
        yield piece
        if (piece.length < packet) return
      }
    } finally {
      await Promise.allSettled(reading)
      await this.ask<void>(path, (sftp, done) => sftp.close(file, done as () => void)).catch(() => {})
    }
  }
  /** Reads a packet's worth, or less at the end: a server may give less at a time. */
  private async readPiece(path: string, file: Buffer, from: number): Promise<Buffer> {
    const piece = Buffer.allocUnsafe(packet)
    for (let filled = 0; ; ) {
      const read = await this.ask<number>(path, (sftp, done) =>
        sftp.read(file, piece, filled, packet - filled, from + filled, (error, bytes) =>
          // Its end is an answer (§7, SSH_FX_EOF).
          (error as { code?: number } | undefined)?.code === 1 ? done(null, 0) : done(error, bytes),
        ),
      )
      filled += read
      if (!read || filled === packet) return piece.subarray(0, filled)
    }
  }
  async create(path: string, pieces: AsyncIterable<Uint8Array>): Promise<void> {
    const file = await this.ask<Buffer>(path, (sftp, done) => sftp.open(this.at(path), 'wx', done))
    try {
      let at = 0
      for await (const piece of pieces) {
        const whole = Buffer.from(piece.buffer, piece.byteOffset, piece.byteLength)
        for (let from = 0; from < whole.length; from += packet * onTheWay) {
          const writing: Promise<void>[] = []
          for (let part = from; part < Math.min(whole.length, from + packet * onTheWay); part += packet) {
            const length = Math.min(packet, whole.length - part)
            const to = at + part
            writing.push(
              this.ask<void>(path, (sftp, done) => sftp.write(file, whole, part, length, to, done as () => void)),
            )
          }
          for (const ended of await Promise.allSettled(writing)) if (ended.status === 'rejected') throw ended.reason
        }
        at += whole.length
      }
      await this.askOptional(path, (sftp, done) => sftp.ext_openssh_fsync(file, done))
    } finally {
      await this.ask<void>(path, (sftp, done) => sftp.close(file, done as () => void)).catch(() => {})
    }
  }
  async rename(from: string, to: string): Promise<void> {
    if (await this.askOptional(from, (sftp, done) => sftp.ext_openssh_rename(this.at(from), this.at(to), done))) return
    const plain = (source: string, target: string) =>
      this.ask<void>(source, (sftp, done) => sftp.rename(this.at(source), this.at(target), done))
    try {
      await plain(from, to)
    } catch (error) {
      // Such a server gives no name that is taken (§6.5): what has it waits beside it meanwhile.
      if ((await this.look(from)) === null) throw gone(from)
      if ((await this.look(to)) !== 'file') throw error
      const aside = posix.join(posix.dirname(to), `.jaula-${randomBytes(8).toString('hex')}.part`)
      await plain(to, aside)
      try {
        await plain(from, to)
      } catch (again) {
        await plain(aside, to)
        throw again
      }
      await this.removeFile(aside)
    }
  }
  removeFile(path: string): Promise<void> {
    return this.ask<void>(path, (sftp, done) => sftp.unlink(this.at(path), done))
  }
  async makeFolder(path: string): Promise<void> {
    try {
      await this.ask<void>(path, (sftp, done) => sftp.mkdir(this.at(path), done))
    } catch (error) {
      if ((await this.look(path)) !== 'folder') throw error
    }
  }
  removeFolder(path: string): Promise<void> {
    return this.ask<void>(path, (sftp, done) => sftp.rmdir(this.at(path), done))
  }
  /** SFTP has nothing that flushes a folder: a file is flushed by itself where the server can. */
  async flush(): Promise<void> {}
  within(name: string): Sftp {
    return new Sftp(this.reached, `${this.address}/${name}`, this.at(name))
  }
  async room(): Promise<number | null> {
    try {
      const { f_bavail, f_frsize } = await this.ask<{ f_bavail: number; f_frsize: number }>('', (sftp, done) =>
        (sftp as unknown as { ext_openssh_statvfs(path: string, done: unknown): void }).ext_openssh_statvfs(
          this.folder,
          done,
        ),
      )
      return f_bavail * f_frsize
    } catch {
      return null
    }
  }
}
