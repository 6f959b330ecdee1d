// A mailbox by POP3 (RFC 1939), with TLS from the beginning or by STLS (RFC 2595, section 4): which messages there are,
// each of them, and taking one away. The packages that there are for it take a message that comes in pieces for one
// without an end.
import { connect as connectPlain, type Socket } from 'node:net'
import { connect as connectSecure } from 'node:tls'
import { isHere, type MailHost } from './way'

/** The mailbox would not do what it was asked for. */
export class MailboxRefused extends Error {}

export interface Mailbox {
  /** Numbers of this session, with the name that each message keeps and its size in bytes. */
  list(): Promise<{ number: number; uid: string; size: number }[]>
  read(number: number): Promise<Buffer>
  /** Takes it away when the session ends well. */
  remove(number: number): Promise<void>
  /** Ends the session. */
  quit(): Promise<void>
  /** Ends it as if it had not been, and leaves everything there. */
  drop(): void
}

/** Lines as they come, without their ends. */
class Lines {
  private text = ''
  private lines: string[] = []
  private waiting: { done: (line: string) => void; failed: (error: Error) => void } | null = null
  private over: Error | null = null
  constructor(socket: Socket) {
    // Every byte is a letter, so that nothing of a message is read as another one.
    socket.setEncoding('latin1')
    socket.on('data', (piece: string) => {
      const parts = (this.text + piece).split('\r\n')
      this.text = parts.pop()!
      this.lines.push(...parts)
      this.give()
    })
    const end = (error: Error) => {
      this.over ??= error
      this.give()
    }
    socket.on('timeout', () =>
      socket.destroy(Object.assign(new Error('The mailbox is silent.'), { code: 'ETIMEDOUT' })),
    )
    socket.on('error', end)
    socket.on('close', () => end(Object.assign(new Error('The mailbox hung up.'), { code: 'ECONNRESET' })))
  }
  private give(): void {
    const { waiting } = this
    if (!waiting) return
    const line = this.lines.shift()
    if (line === undefined && !this.over) return
    this.waiting = null
    if (line === undefined) waiting.failed(this.over!)
    else waiting.done(line)
  }
  next(): Promise<string> {
    return new Promise((done, failed) => {
      this.waiting = { done, failed }
      this.give()
    })
  }
}

/**
 * @param patience until it answers; milliseconds
 * @throws MailboxRefused, or an error of the network
 */
export async function openMailbox(
  { host, port, secure, account, password }: MailHost,
  patience = 30_000,
): Promise<Mailbox> {
  let socket: Socket = secure
    ? connectSecure({ host, port, servername: host, minVersion: 'TLSv1.2' })
    : connectPlain({ host, port })
  socket.setTimeout(patience)
  let lines = new Lines(socket)
  /** @returns what stands behind the word that it is well */
  async function answer(): Promise<string> {
    const line = await lines.next()
    if (!line.startsWith('+OK')) throw new MailboxRefused(line.replace(/^-ERR ?/, '').slice(0, 300))
    return line.slice(4)
  }
  const ask = (command: string): Promise<string> => {
    // Nothing in it begins another command.
    if (/[\r\n]/.test(command)) throw new MailboxRefused('A command has one line.')
    socket.write(`${command}\r\n`, 'latin1')
    return answer()
  }
  async function* several(): AsyncGenerator<string> {
    for (let line = await lines.next(); line !== '.'; line = await lines.next())
      yield line.startsWith('.') ? line.slice(1) : line
  }
  async function pairs(command: string): Promise<Map<number, string>> {
    await ask(command)
    const found = new Map<number, string>()
    for await (const line of several()) {
      const [number, rest] = line.split(' ')
      found.set(Number(number), rest ?? '')
    }
    return found
  }
  try {
    await answer()
    if (!secure && !isHere(host)) {
      await ask('STLS')
      socket.removeAllListeners('data')
      socket = connectSecure({ socket, servername: host, minVersion: 'TLSv1.2' })
      socket.setTimeout(patience)
      lines = new Lines(socket)
    }
    await ask(`USER ${account ?? ''}`)
    await ask(`PASS ${password}`)
  } catch (error) {
    socket.destroy()
    throw error
  }
  return {
    async list() {
      const sizes = await pairs('LIST')
      return Array.from(await pairs('UIDL'), ([number, uid]) => ({ number, uid, size: Number(sizes.get(number) ?? 0) }))
    },
    async read(number) {
      await ask(`RETR ${number}`)
      const text: string[] = []
      for await (const line of several()) text.push(line)
      return Buffer.from(`${text.join('\r\n')}\r\n`, 'latin1')
    },
    async remove(number) {
      await ask(`DELE ${number}`)
    },
    async quit() {
      await ask('QUIT')
      socket.end()
    },
    drop: () => void socket.destroy(),
  }
}
