// npm run copy -- PLACE: copies of all shares, as ordinary files with their checksums; with --check they are read again.
import { overDatabase } from './lib/over-database.mjs'
import { placeNamed } from './lib/places.mjs'
import { run } from './lib/say.mjs'

const [folder, ...options] = process.argv.slice(2)
await run(() =>
  overDatabase(
    'copy.js',
    folder ? [placeNamed(folder), ...options] : [],
    'There is no PostgreSQL here, so there is nothing to copy yet. Run npm start first.',
  ),
)
