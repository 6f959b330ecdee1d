// Other computers for the demo, on this computer and on its disk: two that keep files, by SFTP and by WebDAV, one that
// takes mail, and two printers.
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import type { MailWay } from '../server/mail/way'
import { Faults, faultsIn, MailFaults, PrinterFaults } from './faults'
import type { StandIn } from './listen'
import { startMail } from './mail'
import { startMailPage } from './mail-page'
import { startPop3 } from './pop3'
import { startPrinter } from './printer'
import { startSftp } from './sftp'
import { Storage } from './storage'
import { startWebDav } from './webdav'

/** What everybody signs in with there; there is nothing behind it but the demo. */
export const signIn = { account: 'jaula', password: 'stand-in' }

/** Where messages of the demo come from, and go back to. */
export const returnsTo = 'jaula@merrowdale.example'

/** It listens where it did before, as another computer would. */
async function where(folder: string, name: string, start: (port: number) => Promise<StandIn>): Promise<StandIn> {
  const file = join(folder, `${name}.txt`)
  let before = 0
  try {
    before = Number(readFileSync(file, 'utf8')) || 0
  } catch {
    // It was never started.
  }
  const started = await start(before).catch((error) => {
    if (!before) throw error
    return start(0)
  })
  writeFileSync(file, `${started.port}\n`)
  return started
}

export interface StandIns {
  /** Of those that keep files. */
  addresses: string[]
  /** The way to the one that takes mail. */
  mail: MailWay
  /** Where its messages are looked at. */
  mailPage: string
  printers: { name: string; address: string }[]
  close(): Promise<void>
}

/** @param folder where they keep what they have */
export async function startStandIns(folder: string): Promise<StandIns> {
  const prepared = ['sftp', 'webdav'].map((name) => {
    const own = join(folder, name)
    const files = join(own, 'files')
    mkdirSync(join(files, 'copies'), { recursive: true })
    const faults = faultsIn(join(own, 'faults.json'), Faults)
    return { own, faults, storage: new Storage(files, faults) }
  })
  const [first, second] = prepared as [(typeof prepared)[number], (typeof prepared)[number]]
  const sftp = await where(first.own, 'port', (port) =>
    startSftp({ storage: first.storage, keyFile: join(first.own, 'host-key'), port, ...signIn }),
  )
  const webdav = await where(second.own, 'port', (port) =>
    startWebDav({ storage: second.storage, room: () => second.faults().room, port, ...signIn }),
  )
  const post = join(folder, 'mail')
  const mailFaults = faultsIn(join(post, 'faults.json'), MailFaults)
  const smtp = await where(post, 'smtp', (port) => startMail({ folder: post, faults: mailFaults, port }))
  const pop3 = await where(post, 'pop3', (port) => startPop3({ folder: post, port, ...signIn }))
  const page = await where(post, 'page', (port) => startMailPage({ folder: post, port }))
  const printers = await Promise.all(
    [
      { name: 'Front office', of: 'printer', twoSided: true, colour: true },
      { name: 'Store room', of: 'small-printer', twoSided: false, colour: false },
    ].map(async ({ name, of, ...can }) => {
      const own = join(folder, of)
      mkdirSync(own, { recursive: true })
      const faults = faultsIn(join(own, 'faults.json'), PrinterFaults)
      return { name, started: await where(own, 'port', (port) => startPrinter({ folder: own, faults, port, ...can })) }
    }),
  )
  const here = { host: '127.0.0.1', secure: false }
  return {
    mail: {
      out: { ...here, port: smtp.port, account: null, password: '' },
      from: { name: 'Jaula', address: returnsTo },
      returns: { ...here, port: pop3.port, account: signIn.account, password: signIn.password },
      largest: 20_000_000,
    },
    printers: printers.map(({ name, started }) => ({ name, address: `ipp://127.0.0.1:${started.port}/ipp/print` })),
    mailPage: `http://127.0.0.1:${page.port}/`,
    addresses: [`sftp://127.0.0.1:${sftp.port}/copies`, `http://127.0.0.1:${webdav.port}/copies`],
    close: async () => {
      await sftp.close()
      await webdav.close()
      for (const one of [smtp, pop3, page, ...printers.map(({ started }) => started)]) await one.close()
    },
  }
}
