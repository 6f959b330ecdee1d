// npm run drill -- FOLDER: brings back all that copies in a folder hold into a scratch database, and compares every version.
import 'reflect-metadata'
import { inEnglish } from '../core/words/in-english'
import { SaidError, saidBy } from '../core/words/said'
import { drill, noteDrill } from './copies/drill'
import { openPlace } from './copies/place'
import { closeRemote } from './copies/remote'
import { siteAt } from './copies/sites'
import { openDatabase, openOwned } from './database'
import { openContents } from './storage/content'

const [folder] = process.argv.slice(2)
const say = (text: string) => process.stdout.write(`${text}\n`)
const { SCRATCH_DATABASE_URL: url, SCRATCH_OWNER_DATABASE_URL: ownerUrl } = process.env
try {
  if (!folder || !url || !ownerUrl) throw new Error('Say which folder: npm run drill -- FOLDER.')
  const site = await openPlace(folder)
  const ours = await openDatabase(process.env.DATABASE_URL!, process.env.JAULA_OWNER_DATABASE_URL)
  const scratch = { database: await openDatabase(url, ownerUrl), owner: await openOwned(ownerUrl) }
  try {
    const drilled = await drill(ours, openContents(), site, scratch)
    await noteDrill(ours, (await siteAt(ours, site)).id, drilled)
    const { files, versions, differ, seconds, failure } = drilled
    if (failure !== null) say(`Nothing came back: ${inEnglish(failure)}`)
    else say(`${files} files, ${versions} versions came back in ${seconds} s; ${differ} of them differ`)
    process.exitCode = failure !== null || differ ? 1 : 0
  } finally {
    for (const one of [ours, scratch.database, scratch.owner]) await one.destroy()
  }
} catch (error) {
  process.stderr.write(`${error instanceof SaidError ? inEnglish(saidBy(error)) : (error as Error).message}\n`)
  process.exitCode = 2
} finally {
  await closeRemote()
}
