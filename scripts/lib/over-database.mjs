// Runs a program of the server over the database, which is started where nobody gave one, and stopped afterwards.
import { spawnSync } from 'node:child_process'
import { join } from 'node:path'
import { buildAll } from './build.mjs'
import { installNpm, postgresPrograms } from './packages.mjs'
import { databaseAccount, dataFolder, root } from './places.mjs'
import { startPostgres } from './postgres.mjs'
import { CannotGoOn } from './say.mjs'

/** @param program its name in dist/server @param args what it is told @param none what is said where nothing was ever stored */
export async function overDatabase(program, args, none) {
  installNpm()
  await buildAll()
  let url = process.env.DATABASE_URL
  let ownerUrl = process.env.JAULA_OWNER_DATABASE_URL
  let postgres
  if (!url) {
    if (!postgresPrograms()) throw new CannotGoOn(none)
    const account = databaseAccount()
    postgres = await startPostgres(postgresPrograms(), dataFolder(process.env.JAULA_DATA ?? '.jaula', account), account)
    url = postgres.url
    ownerUrl = postgres.ownerUrl
  }
  const { status } = spawnSync(process.execPath, [join(root, 'dist/server', program), ...args], {
    env: { ...process.env, DATABASE_URL: url, ...(ownerUrl && { JAULA_OWNER_DATABASE_URL: ownerUrl }) },
    stdio: 'inherit',
  })
  if (postgres?.startedHere) await postgres.stop()
  process.exitCode = status ?? 1
}
