// npm run restore -- PLACE: everything that copies in a folder hold comes back into a Jaula that has nothing yet.
import { overDatabase } from './lib/over-database.mjs'
import { installDebian } from './lib/packages.mjs'
import { placeNamed } from './lib/places.mjs'
import { run } from './lib/say.mjs'

const [folder] = process.argv.slice(2)
await run(() => {
  // On a new machine there is no PostgreSQL yet.
  if (!process.env.DATABASE_URL) installDebian(['postgresql'], 'npm run restore')
  return overDatabase('restore.js', folder ? [placeNamed(folder)] : [], '')
})
