// node trial.js SITE: brings back all that a place for copies holds into the database for trials, compares every version with
// ours, and notes how it went. The server starts it; it gives way to everything else.
import { setPriority } from 'node:os'
import 'reflect-metadata'
import { readConfig } from './config'
import { told } from './copies/by-itself'
import { drill, noteDrill } from './copies/drill'
import { CopySiteRow } from './copies/entity'
import { closeRemote } from './copies/remote'
import { DriveAway, reach } from './copies/sites'
import { openTrial } from './copies/trial-database'
import { openDatabase } from './database'
import { openSeal } from './seal'
import { openContents } from './storage/content'

const [siteId] = process.argv.slice(2)
try {
  setPriority(15)
  const config = readConfig(process.env)
  if (!siteId || !config.trials) throw new Error('There is no database for trials.')
  const ours = await openDatabase(config.databaseUrl, undefined)
  try {
    const site = await ours.manager.findOneByOrFail(CopySiteRow, { id: siteId })
    const reachable = { ...config.copies, seal: config.keyFile === null ? null : openSeal(config.keyFile) }
    const now = new Date()
    const folder = await reach(ours, site, reachable).catch(async (error: unknown) => {
      // It comes again, and is tried then.
      if (!(error instanceof DriveAway))
        await noteDrill(ours, siteId, { at: now, seconds: 0, files: 0, versions: 0, differ: 0, failure: told(error) })
      return null
    })
    if (folder) {
      const scratch = await openTrial(config.trials)
      try {
        await noteDrill(ours, siteId, await drill(ours, openContents(), folder, scratch, now))
      } finally {
        await scratch.close()
      }
    }
  } finally {
    await closeRemote()
    await ours.destroy()
  }
} catch (error) {
  process.stderr.write(`${(error as Error).message}\n`)
  process.exitCode = 1
}
