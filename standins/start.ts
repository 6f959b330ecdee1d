// Two other computers that keep files, for the demo: one by SFTP and one by WebDAV, on this computer and on its disk.
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { faultsIn } from './faults'
import { type StandIn, startSftp } from './sftp'
import { Storage } from './storage'
import { startWebDav } from './webdav'

/** What everybody signs in with there; there is nothing behind it but the demo. */
export const signIn = { account: 'jaula', password: 'stand-in' }

/** It listens where it did before, as another computer would. */
async function where(folder: string, start: (port: number) => Promise<StandIn>): Promise<StandIn> {
  const file = join(folder, 'port.txt')
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

/** @returns their addresses, and what ends them */
export async function startStandIns(folder: string): Promise<{ addresses: string[]; close: () => Promise<void> }> {
  const prepared = ['sftp', 'webdav'].map((name) => {
    const own = join(folder, name)
    const files = join(own, 'files')
    mkdirSync(join(files, 'copies'), { recursive: true })
    const faults = faultsIn(join(own, 'faults.json'))
    return { own, faults, storage: new Storage(files, faults) }
  })
  const [first, second] = prepared as [(typeof prepared)[number], (typeof prepared)[number]]
  const sftp = await where(first.own, (port) =>
    startSftp({ storage: first.storage, keyFile: join(first.own, 'host-key'), port, ...signIn }),
  )
  const webdav = await where(second.own, (port) =>
    startWebDav({ storage: second.storage, room: () => second.faults().room, port, ...signIn }),
  )
  return {
    addresses: [`sftp://127.0.0.1:${sftp.port}/copies`, `http://127.0.0.1:${webdav.port}/copies`],
    close: async () => {
      await sftp.close()
      await webdav.close()
    },
  }
}
