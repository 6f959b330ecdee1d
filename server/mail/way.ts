// The way out for mail: the office's own mail server (RFC 5321, RFC 6409), told by whoever runs Jaula.
import { createTransport } from 'nodemailer'
import { type Sentence, say } from '../../core/words/said'

/** A mail server that messages go to, or a mailbox there. */
export interface MailHost {
  host: string
  port: number
  /** TLS from the beginning; without it TLS is asked for before anybody signs in, but on this computer itself. */
  secure: boolean
  account: string | null
  password: string
}
export interface MailWay {
  out: MailHost
  /** What messages come from: a name and an address. */
  from: { name: string; address: string }
  /** The mailbox of that address, in which what comes back is found (RFC 1939); null where it is not read. */
  returns: MailHost | null
  /** How much may go with a message; bytes. */
  largest: number
}

const loopback = /^(?:localhost|127\.\d+\.\d+\.\d+|::1)$/
export const isHere = (host: string): boolean => loopback.test(host)

/** @param schemes without and with TLS, with their ports @throws Error for what is no such address */
export function readMailHost(
  setting: string,
  text: string,
  schemes: { plain: [string, number]; secure: [string, number] },
  password = '',
): MailHost {
  const wrong = () =>
    new Error(`${setting}: write it as ${schemes.plain[0]}://account@mail.office.example or ${schemes.secure[0]}://….`)
  let url: URL
  try {
    url = new URL(text)
  } catch {
    throw wrong()
  }
  const scheme = url.protocol.slice(0, -1)
  const secure = scheme === schemes.secure[0]
  if ((!secure && scheme !== schemes.plain[0]) || !url.hostname || !/^\/?$/.test(url.pathname)) throw wrong()
  // It would be in whatever lists the settings.
  if (url.password) throw new Error(`${setting}: leave the password out; it is ${setting}_PASSWORD.`)
  return {
    host: url.hostname.replace(/^\[(.*)\]$/, '$1'),
    port: url.port ? Number(url.port) : (secure ? schemes.secure : schemes.plain)[1],
    secure,
    account: url.username ? decodeURIComponent(url.username) : null,
    password,
  }
}

export interface Message {
  /** Known by it, also when it comes back (RFC 5322, section 3.6.4), with its brackets. */
  messageId: string
  /** Who sends it, as they are called. */
  by: string
  /** Where answers go; null: nowhere. */
  replyTo: string | null
  to: { name: string | null; address: string }
  subject: string
  text: string
  attachments: { filename: string; content: Buffer; contentType: string }[]
  /** Nobody wrote it (RFC 3834). */
  automatic: boolean
}

/** What the mail server did with a message. */
export type Outcome =
  | { is: 'sent' }
  /** For good. */
  | { is: 'refused'; said: Sentence }
  /** Not now; `away` where it could not even be spoken to. */
  | { is: 'later'; said: Sentence; away: boolean }

export type Deliver = (message: Message) => Promise<Outcome>

/** What a mail server says, on one line, without the codes that it begins each of its lines with. */
const plainAnswer = (response: string): string =>
  response
    .split(/\r?\n/)
    .map((line) => line.replace(/^\d{3}[ -](?:\d\.\d{1,3}\.\d{1,3} )?/, '').trim())
    .filter(Boolean)
    .join(' ')
    .slice(0, 500)

/** @param patience until the server answers; milliseconds */
export function deliverBy({ out, from }: MailWay, patience = 30_000): Deliver {
  const transport = createTransport({
    host: out.host,
    port: out.port,
    secure: out.secure,
    requireTLS: !out.secure && !isHere(out.host),
    ignoreTLS: !out.secure && isHere(out.host),
    ...(out.account !== null && { auth: { user: out.account, pass: out.password } }),
    connectionTimeout: patience,
    greetingTimeout: patience,
    socketTimeout: 2 * patience,
    disableFileAccess: true,
    disableUrlAccess: true,
  })
  return async ({ messageId, by, replyTo, to, subject, text, attachments, automatic }) => {
    try {
      await transport.sendMail({
        from: { name: `${by} (${from.name})`, address: from.address },
        ...(replyTo !== null && { replyTo: { name: by, address: replyTo } }),
        to: { name: to.name ?? '', address: to.address },
        envelope: { from: from.address, to: [to.address] },
        messageId,
        subject,
        text,
        attachments,
        ...(automatic && { headers: { 'Auto-Submitted': 'auto-generated' } }),
        // Where the server can, it says in what comes back which message it is about (RFC 3461).
        dsn: { id: messageId.slice(1, -1), return: 'headers', notify: ['failure', 'delay'], recipient: to.address },
      })
      return { is: 'sent' }
    } catch (error) {
      const { responseCode, response, code } = error as { responseCode?: number; response?: string; code?: string }
      if (responseCode === undefined)
        return {
          is: 'later',
          away: true,
          said: say('problem.mail-server-away', { host: out.host, code: code ?? 'ESOCKET' }),
        }
      const said = say('problem.mail-server-said', { said: plainAnswer(response ?? '') || String(responseCode) })
      // That it does not know who signs in is no fault of the message: whoever runs Jaula can mend it.
      return responseCode >= 500 && code !== 'EAUTH'
        ? { is: 'refused', said }
        : { is: 'later', said, away: code === 'EAUTH' }
    }
  }
}
