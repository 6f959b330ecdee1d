import { statfs } from 'node:fs/promises'
import type { AppParts } from '../parts'
import type { Mount } from '../requests/mount'

/** Less room than this on the disk is a fault; bytes. */
const leastRoom = 200e6

export function healthRoutes(mount: Mount, { database, version, data }: AppParts): void {
  mount('health', async () => {
    const problems: string[] = []
    const there = await database.query('select 1').then(
      () => true,
      () => false,
    )
    if (!there) problems.push('The database does not answer.')
    const room = data ? await statfs(data).catch(() => null) : null
    if (room && room.bavail * room.bsize < leastRoom)
      problems.push(
        `The server’s disk has ${Math.floor((room.bavail * room.bsize) / 1e6)} MB left: what is read goes on, saving may not.`,
      )
    return { ok: problems.length === 0, database: there, problems, version, at: new Date().toISOString() }
  })
}
