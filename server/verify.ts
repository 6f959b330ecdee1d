// npm run verify: reads every version again and compares it with its checksum.

import { z } from 'zod'
import { select } from './sql/rows'
import 'reflect-metadata'
import { createHash } from 'node:crypto'
import { openDatabase } from './database'
import { roleFaults } from './sql/roles'
import { openContents } from './storage/content'

const owner = process.env.JAULA_OWNER_DATABASE_URL
const database = await openDatabase(process.env.DATABASE_URL!, owner)
const stored = await select(
  database,
  z.object({ sha256: z.instanceof(Buffer), size: z.string(), versions: z.number() }),
  'select c.sha256, c.size, count(v.id)::int as versions from content c left join version v on v.sha256 = c.sha256 group by c.sha256, c.size',
)
const contents = openContents()
let faults = 0
let versions = 0
for (const content of stored) {
  const hash = createHash('sha256')
  let size = 0
  let trouble = ''
  try {
    for await (const block of contents.read(database.manager, content.sha256)) {
      hash.update(block)
      size += block.length
    }
  } catch (error) {
    trouble = (error as Error).message
  }
  versions += content.versions
  if (!trouble && size === Number(content.size) && hash.digest().equals(content.sha256)) continue
  faults++
  const files = await database.query(
    'select e.name, v.number from version v join entry e on e.id = v.file_id where v.sha256 = $1',
    [content.sha256],
  )
  for (const file of files)
    process.stdout.write(
      `fault: ${file.name}, version ${file.number}: ${trouble || 'its bytes are not those that were saved'}\n`,
    )
}
// Chunks that a content or another chunk needs and that are not there.
const [{ missing }] = await database.query(
  `select count(*)::int as missing from (
     select unnest(chunks) as id from content where chunks is not null union select unnest(roots) from chunk where roots is not null) needed
   where not exists (select from chunk c where c.id = needed.id)`,
)
const [{ astray }] = await database.query(
  "select count(*)::int as astray from entry e where e.kind = 'file' and not exists (select from version v where v.id = e.head_version_id and v.file_id = e.id)",
)
const roles = await roleFaults(database)
for (const fault of roles) process.stdout.write(`${owner ? 'fault' : 'warning'}: ${fault}\n`)
if (!roles.length) process.stdout.write('the application’s role can change and remove nothing that is append-only\n')
process.stdout.write(
  `${versions} versions read, ${faults} contents damaged, ${missing} chunks missing, ${astray} files without a newest version\n`,
)
await database.destroy()
process.exitCode = faults + missing + astray + (owner ? roles.length : 0) > 0 ? 1 : 0
