// A mailbox, however its server cuts what it says into pieces, and whatever that does wrong.
import { createServer, type Socket } from 'node:net'
import fc from 'fast-check'
import { afterEach, describe, expect, test } from 'vitest'
import { listening, type StandIn } from '../../standins/listen'
import { MailboxRefused, openMailbox } from './pop3'

let server: StandIn | undefined
afterEach(() => server?.close())

/** A server that says this to each command, cut where it is told to be. */
async function saying(answers: Record<string, string>, cuts: readonly number[] = []): Promise<number> {
  await server?.close()
  const say = async (socket: Socket, text: string) => {
    socket.setNoDelay(true)
    let from = 0
    for (const cut of [...new Set(cuts.map((one) => one % text.length))].sort((a, b) => a - b).concat(text.length)) {
      if (cut <= from || socket.destroyed) continue
      socket.write(text.slice(from, cut), 'latin1')
      from = cut
      await new Promise((soon) => setImmediate(soon))
    }
  }
  server = await listening(
    createServer((socket) => {
      socket.on('error', () => {})
      void say(socket, answers.hello ?? '+OK\r\n')
      let typed = ''
      socket.on('data', (piece) => {
        typed += piece
        for (let end = typed.indexOf('\r\n'); end >= 0; end = typed.indexOf('\r\n')) {
          const word = typed.slice(0, end).split(' ')[0]!
          typed = typed.slice(end + 2)
          if (answers[word] === 'hang up') socket.destroy()
          else if (answers[word] !== 'silence') void say(socket, answers[word] ?? '+OK\r\n')
        }
      })
    }),
    0,
  )
  return server.port
}
const at = (port: number) => ({ host: '127.0.0.1', port, secure: false, account: 'jaula', password: 'stand-in' })

describe('a mailbox', () => {
  test('gives each message byte for byte, wherever it is cut', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(
          fc.oneof(
            fc.constantFrom('.', '..', '', '.\t', 'Levels: 1.4 m', '+OK', '-ERR'),
            fc.string({
              unit: fc
                .integer({ min: 1, max: 255 })
                .map((code) => String.fromCharCode(code))
                .filter((sign) => !/[\r\n]/.test(sign)),
              maxLength: 30,
            }),
          ),
          {
            maxLength: 8,
          },
        ),
        fc.array(fc.nat(400), { maxLength: 12 }),
        async (lines, cuts) => {
          const message = lines.map((line) => `${line}\r\n`).join('') || '\r\n'
          const stuffed = message.replace(/^\./gm, '..')
          const port = await saying(
            {
              LIST: '+OK\r\n1 120\r\n3 7\r\n.\r\n',
              UIDL: '+OK\r\n1 first\r\n3 third\r\n.\r\n',
              RETR: `+OK\r\n${stuffed}.\r\n`,
            },
            cuts,
          )
          const mailbox = await openMailbox(at(port), 5000)
          expect(await mailbox.list()).toEqual([
            { number: 1, uid: 'first', size: 120 },
            { number: 3, uid: 'third', size: 7 },
          ])
          expect((await mailbox.read(3)).toString('latin1')).toBe(message)
          await mailbox.remove(3)
          await mailbox.quit()
        },
      ),
      { numRuns: 60 },
    )
  })

  test('that refuses says why', async () => {
    const port = await saying({ PASS: '-ERR [AUTH] not let in\r\n' })
    await expect(openMailbox(at(port))).rejects.toThrow(new MailboxRefused('[AUTH] not let in'))
  })

  test('that is silent, hangs up or is not there is an error, in its time', async () => {
    // Whoever is silent is given up soon; a machine that is busy has longer for what comes.
    for (const [answers, code, patience] of [
      [{ USER: 'silence' }, 'ETIMEDOUT', 400],
      [{ PASS: 'hang up' }, 'ECONNRESET', 20_000],
      [{ LIST: '+OK\r\n1 120\r\n' }, 'ETIMEDOUT', 400],
    ] as const) {
      const port = await saying(answers)
      const opened = openMailbox(at(port), patience).then((mailbox) => mailbox.list())
      await expect(opened).rejects.toMatchObject({ code })
    }
    await server!.close()
    await expect(openMailbox(at(server!.port))).rejects.toMatchObject({ code: 'ECONNREFUSED' })
  })

  test('is asked with one line at a time, whatever an account is called', async () => {
    const port = await saying({})
    await expect(openMailbox({ ...at(port), account: 'jaula\r\nDELE 1' })).rejects.toThrow(MailboxRefused)
  })
})
