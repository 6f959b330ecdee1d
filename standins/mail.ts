// A stand-in for the office's mail server (RFC 5321): it takes messages, keeps each as a file, and delivers none. What it
// is told cannot be delivered it reports to the address that it came from (RFC 3464), as a mail server does.
import { randomUUID } from 'node:crypto'
import { mkdirSync, readdirSync, renameSync, writeFileSync } from 'node:fs'
import { createServer } from 'node:net'
import { join } from 'node:path'
import { SMTPServer } from 'smtp-server'
import type { MailFaults } from './faults'
import { listening, type StandIn } from './listen'

export const messagesIn = (folder: string): string => join(folder, 'messages')
/** The mailbox of whoever sends. */
export const returnedIn = (folder: string): string => join(folder, 'returned')

/** A message as a file, whose name begins with its time; whoever reads the folder never sees half of one. */
function keep(folder: string, message: string | Buffer): string {
  mkdirSync(folder, { recursive: true })
  const name = `${new Date().toISOString().replaceAll(':', '-')} ${randomUUID().slice(0, 8)}.eml`
  writeFileSync(join(folder, `.${name}`), message)
  renameSync(join(folder, `.${name}`), join(folder, name))
  return name
}
/** Names of the messages in a folder, the first that came first. */
export function messageNames(folder: string): string[] {
  mkdirSync(folder, { recursive: true })
  return readdirSync(folder)
    .filter((name) => /^[^.].*\.eml$/.test(name))
    .sort()
}

/** What a mail server reports of a message (RFC 6522, RFC 3464). */
export function deliveryReport(
  message: Buffer,
  { from, to, action }: { from: string; to: string; action: 'failed' | 'delayed' },
): string {
  const between = `report-${randomUUID()}`
  const text = message.toString('latin1')
  const [head = ''] = text.split(/\r?\n\r?\n/)
  const failed = action === 'failed'
  return [
    'From: Mail Delivery System <postmaster@mail.example>',
    `To: <${from}>`,
    `Subject: ${failed ? 'Undelivered mail returned to sender' : 'Delayed mail'}`,
    `Date: ${new Date().toUTCString().replace('GMT', '+0000')}`,
    `Message-ID: <${randomUUID()}@mail.example>`,
    'Auto-Submitted: auto-replied',
    'MIME-Version: 1.0',
    `Content-Type: multipart/report; report-type=delivery-status; boundary="${between}"`,
    '',
    `--${between}`,
    'Content-Type: text/plain; charset=utf-8',
    '',
    failed ? `Your message to ${to} could not be delivered.` : `Your message to ${to} is late. It is still tried.`,
    '',
    `--${between}`,
    'Content-Type: message/delivery-status',
    '',
    'Reporting-MTA: dns; mail.example',
    '',
    `Final-Recipient: rfc822; ${to}`,
    `Action: ${action}`,
    `Status: ${failed ? '5.1.1' : '4.4.1'}`,
    `Diagnostic-Code: smtp; ${failed ? '550 5.1.1 Nobody here has this address' : '451 4.4.1 No answer from the host'}`,
    '',
    `--${between}`,
    'Content-Type: text/rfc822-headers',
    '',
    head,
    '',
    `--${between}--`,
    '',
  ].join('\r\n')
}

/** @param faults what goes wrong now */
export async function startMail({
  folder,
  faults,
  port = 0,
}: {
  folder: string
  faults: () => MailFaults
  port?: number
}): Promise<StandIn> {
  messageNames(messagesIn(folder))
  const smtp = new SMTPServer({
    authOptional: true,
    disabledCommands: ['AUTH', 'STARTTLS'],
    disableReverseLookup: true,
    hideENHANCEDSTATUSCODES: false,
    size: 30_000_000,
    logger: false,
    onRcptTo(_address, _session, done) {
      const { refuses, slow } = faults()
      setTimeout(
        () =>
          done(
            refuses
              ? Object.assign(new Error(refuses < 500 ? 'Come again later' : 'This address takes no mail'), {
                  responseCode: refuses,
                })
              : null,
          ),
        slow,
      )
    },
    onData(stream, session, done) {
      const pieces: Buffer[] = []
      stream.on('data', (piece: Buffer) => pieces.push(piece))
      stream.on('end', () => {
        const message = Buffer.concat(pieces)
        keep(messagesIn(folder), message)
        const { bounces, delays } = faults()
        const from = session.envelope.mailFrom ? session.envelope.mailFrom.address : ''
        for (const { address: to } of session.envelope.rcptTo) {
          const action =
            bounces !== null && to.includes(bounces)
              ? 'failed'
              : delays !== null && to.includes(delays)
                ? 'delayed'
                : null
          if (action && from) keep(returnedIn(folder), deliveryReport(message, { from, to, action }))
        }
        done()
      })
    },
  })
  smtp.on('error', () => {})
  const server = createServer((socket) => smtp.connect(socket))
  return listening(server, port)
}
