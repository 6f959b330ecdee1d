// npm run restore -- FOLDER: brings everything back that copies in a folder hold, into a Jaula that has nothing yet.
import 'reflect-metadata'
import { inEnglish } from '../core/words/in-english'
import { SaidError, saidBy } from '../core/words/said'
import { openPlace } from './copies/place'
import { closeRemote } from './copies/remote'
import { restoreFrom } from './copies/restore'
import { openDatabase, openOwned } from './database'

const [folder] = process.argv.slice(2)
const say = (text: string) => process.stdout.write(`${text}\n`)
try {
  if (!folder) throw new Error('Say which folder: npm run restore -- FOLDER.')
  const site = await openPlace(folder)
  const url = process.env.JAULA_OWNER_DATABASE_URL ?? process.env.DATABASE_URL!
  // Brought up to date as at every start.
  await (await openDatabase(process.env.DATABASE_URL!, process.env.JAULA_OWNER_DATABASE_URL)).destroy()
  const owner = await openOwned(url)
  try {
    const { shares, files, versions, bytes, passwords, settled } = await restoreFrom(owner, site)
    say(`${shares.join(', ')}: ${files} files, ${versions} versions, ${bytes} bytes`)
    for (const { name, now } of settled)
      say(`  ${name}: moved between two copyings, and is ${now === name ? 'in another place' : now} now`)
    say('Passwords are in no copy. Each person signs in with a new one, shown here only:')
    for (const { handle, name, password } of passwords) say(`  ${name}: ${handle}, ${password}`)
  } finally {
    await owner.destroy()
  }
} catch (error) {
  process.stderr.write(`${error instanceof SaidError ? inEnglish(saidBy(error)) : (error as Error).message}\n`)
  process.exitCode = 2
} finally {
  await closeRemote()
}
