// npm run verify: re-reads every version against its checksum; exits non-zero on any fault.
import { overDatabase } from './lib/over-database.mjs'
import { run } from './lib/say.mjs'

await run(() =>
  overDatabase('verify.js', [], 'There is no PostgreSQL here, so nothing was stored yet. Run npm start first.'),
)
