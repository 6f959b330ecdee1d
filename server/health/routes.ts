import { statfs } from 'node:fs/promises'
import { inEnglish } from '../../core/words/in-english'
import { say } from '../../core/words/said'
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
    if (!there) problems.push(inEnglish(say('problem.the-database-does-not-answer')))
    const room = data ? await statfs(data).catch(() => null) : null
    if (room && room.bavail * room.bsize < leastRoom)
      problems.push(
        inEnglish(
          say('problem.the-servers-disk-has-mb-left-what', { floor: Math.floor((room.bavail * room.bsize) / 1e6) }),
        ),
      )
    return { ok: problems.length === 0, database: there, problems, version, at: new Date().toISOString() }
  })
}
