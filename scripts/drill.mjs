// npm run drill -- PLACE: a trial of bringing back what copies in a folder hold, into a database that goes afterwards.
import { chownSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { overDatabase } from './lib/over-database.mjs'
import { postgresPrograms } from './lib/packages.mjs'
import { databaseAccount, placeNamed } from './lib/places.mjs'
import { startPostgres } from './lib/postgres.mjs'
import { CannotGoOn, run } from './lib/say.mjs'

const [folder] = process.argv.slice(2)
await run(async () => {
  if (!postgresPrograms()) throw new CannotGoOn('There is no PostgreSQL here. Run npm start first.')
  const scratch = mkdtempSync(join(tmpdir(), 'jaula-drill-'))
  const account = databaseAccount()
  if (account) chownSync(scratch, account.uid, account.gid)
  const postgres = await startPostgres(postgresPrograms(), scratch, account, false)
  try {
    process.env.SCRATCH_DATABASE_URL = postgres.url
    process.env.SCRATCH_OWNER_DATABASE_URL = postgres.ownerUrl
    await overDatabase('drill.js', folder ? [placeNamed(folder)] : [], '')
  } finally {
    await postgres.stop()
    rmSync(scratch, { recursive: true, force: true })
  }
})
