// npm run verify: re-reads every version against its checksum; exits non-zero on any fault.
import { spawnSync } from 'node:child_process'
import { join } from 'node:path'
import { buildAll } from './lib/build.mjs'
import { installNpm, postgresPrograms } from './lib/packages.mjs'
import { databaseAccount, dataFolder, root } from './lib/places.mjs'
import { startPostgres } from './lib/postgres.mjs'
import { CannotGoOn, run } from './lib/say.mjs'

await run(async () => {
  installNpm()
  await buildAll()
  let url = process.env.DATABASE_URL
  let ownerUrl = process.env.JAULA_OWNER_DATABASE_URL
  let postgres
  if (!url) {
    if (!postgresPrograms())
      throw new CannotGoOn('There is no PostgreSQL here, so nothing was stored yet. Run npm start first.')
    const account = databaseAccount()
    postgres = await startPostgres(postgresPrograms(), dataFolder(process.env.JAULA_DATA ?? '.jaula', account), account)
    url = postgres.url
    ownerUrl = postgres.ownerUrl
  }
  const { status } = spawnSync(process.execPath, [join(root, 'dist/server/verify.js')], {
    env: { ...process.env, DATABASE_URL: url, ...(ownerUrl && { JAULA_OWNER_DATABASE_URL: ownerUrl }) },
    stdio: 'inherit',
  })
  if (postgres?.startedHere) await postgres.stop()
  process.exitCode = status ?? 1
})
