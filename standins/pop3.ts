// The mailbox of whoever sends, of the stand-in that takes mail (RFC 1939, as much of it as is needed to read one).
import { readFileSync, rmSync, statSync } from 'node:fs'
import { createServer } from 'node:net'
import { join } from 'node:path'
import { createInterface } from 'node:readline'
import { listening, type StandIn } from './listen'
import { messageNames, returnedIn } from './mail'

export async function startPop3({
  folder,
  account,
  password,
  port = 0,
}: {
  folder: string
  account: string
  password: string
  port?: number
}): Promise<StandIn> {
  const server = createServer((socket) => {
    const mailbox = returnedIn(folder)
    const names = messageNames(mailbox)
    const removed = new Set<number>()
    let user = ''
    let isIn = false
    const say = (text: string) => socket.write(`${text}\r\n`, 'latin1')
    const list = (of: (name: string) => string | number) => {
      say('+OK')
      for (const [at, name] of names.entries()) if (!removed.has(at)) say(`${at + 1} ${of(name)}`)
      say('.')
    }
    const commands: Record<string, (given: string) => void> = {
      USER(given) {
        user = given
        say('+OK')
      },
      PASS(given) {
        isIn = user === account && given === password
        say(isIn ? '+OK' : '-ERR [AUTH] not let in')
      },
      LIST: () => list((name) => statSync(join(mailbox, name)).size),
      UIDL: () => list((name) => name.replace(/[^!-~]/g, '_')),
      RETR(given) {
        const name = names[Number(given) - 1]
        if (!name) return say('-ERR no such message')
        say('+OK')
        const text = readFileSync(join(mailbox, name), 'latin1').replace(/\r?\n$/, '')
        for (const line of text.split(/\r?\n/)) say(line.startsWith('.') ? `.${line}` : line)
        say('.')
      },
      DELE(given) {
        removed.add(Number(given) - 1)
        say('+OK')
      },
      QUIT() {
        for (const at of removed) rmSync(join(mailbox, names[at]!), { force: true })
        say('+OK')
        socket.end()
      },
    }
    socket.on('error', () => {})
    say('+OK ready')
    createInterface({ input: socket }).on('line', (line) => {
      const [word = '', ...rest] = line.split(' ')
      const name = word.toUpperCase()
      const command = commands[name]
      if (!command) say('-ERR not known')
      else if (!isIn && !['USER', 'PASS', 'QUIT'].includes(name)) say('-ERR sign in first')
      else command(rest.join(' '))
    })
  })
  return listening(server, port)
}
