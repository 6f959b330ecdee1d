// Finding when words disappeared: in a file of a thousand versions, beside listing these; and among all files of an office
// with a hundred thousand versions, beside finding a file by words that it has now.
import 'reflect-metadata'
import { randomUUID } from 'node:crypto'
import pg from 'pg'
import type { Saved } from '../core/contract'
import { writeDocx } from '../core/formats/docx/write'
import { compareHere } from '../server/changes/compare'
import { describeVersions } from '../server/changes/describe'
import { unbounded } from '../server/counts/quotas'
import { openDatabase } from '../server/database'
import { doc, h, p } from '../server/demo/papers'
import { keepVersion } from '../server/saving/keep'
import { searchPast } from '../server/search/past'
import { openContents } from '../server/storage/content'
import { pageOfVersions } from '../server/versions/read'
import { one, random, things } from './million'
import { median, report } from './report'

const suite = 'past'
const versions = Number(process.env.BENCH_VERSIONS ?? 1000)
const files = Number(process.env.BENCH_FILES ?? 20_000)
const url = process.env.BENCH_DATABASE_URL!
const database = await openDatabase(url)
const { manager } = database
const bare = new pg.Client({ connectionString: url })
await bare.connect()
const [person] = await database.query("select id from person where handle = 'priya'")
const [share] = await database.query("select id from share where name = 'Waterways'")

const times = async (rounds: number, work: () => Promise<unknown>): Promise<number> => {
  const taken: number[] = []
  for (let round = -2; round < rounds; round++) {
    const begun = performance.now()
    await work()
    if (round >= 0) taken.push(performance.now() - begun)
  }
  return median(taken)
}
const words = (count: number) => Array.from({ length: count }, () => one(things).toLowerCase()).join(' ')

// -- One file, a paragraph of which is written anew with each version -------------------------------------------
const lines = Array.from({ length: 200 }, (_, at) => `Paragraph ${at}: ${words(30)}.`)
const wanted = 'the grating of the culvert waits for May'
let saved: Saved | null = null
for (let n = 0; n < versions; n++) {
  lines[random(lines.length)] = `In version ${n}: ${words(30)}.`
  if (n === Math.floor(versions / 3)) lines[7] = `As agreed, ${wanted}.`
  if (n === Math.floor((2 * versions) / 3)) lines[7] = 'As agreed, it is done.'
  saved = await keepVersion(database, unbounded, {
    personId: person.id,
    bytes: Buffer.from(writeDocx(doc(h(1, 'Culverts'), ...lines.map((line) => p(line))))),
    reason: 'saved',
    key: randomUUID(),
    target: saved
      ? { fileId: saved.file.id, baseId: saved.version.id }
      : { place: { shareId: share.id, folderId: null, name: `${randomUUID()}.docx` } },
  })
}
const fileId = saved!.file.id
const begun = performance.now()
// The server looks through them as well, one at a time.
for (
  let waiting = 1;
  waiting;
  [{ waiting }] = await database.query('select count(*)::int as waiting from change_queue')
)
  await describeVersions(database, compareHere, openContents())
report({
  suite,
  case: 'looking-through',
  value: (performance.now() - begun) / versions,
  unit: 'ms a version',
  baseline: null,
  better: 'lower',
})
const find = async () => {
  const { files: found } = await searchPast(manager, person.id, { q: wanted, fileId })
  if (found[0]?.changes.length !== 2) throw new Error(`${found[0]?.changes.length} changes were found.`)
}
report({
  suite,
  case: `find-in-history-${versions}-versions`,
  value: await times(15, find),
  unit: 'ms',
  baseline: await times(15, () => pageOfVersions(manager, fileId, null, versions)),
  better: 'lower',
})
const [{ kept, whole }] = await database.query(
  `select sum(pg_column_size(came) + pg_column_size(went) + pg_column_size(gone_words))::int as kept,
     (select sum(size)::int from version where file_id = $1) as whole
   from version_change c join version v on v.id = c.version_id where v.file_id = $1`,
  [fileId],
)
report({ suite, case: 'kept-for-it', value: kept / 1000, unit: 'kB', baseline: whole / 1000, better: 'lower' })

// -- An office -----------------------------------------------------------------------------------------------------
await bare.query('alter table entry disable trigger user; alter table version disable trigger user')
await bare.query(
  `with made as (
     insert into entry (id, kind, share_id, realm_id, name, name_key, type, head_version_id, created_by)
     select gen_random_uuid(), 'file', e.share_id, e.realm_id, 'made ' || n || '.docx', 'made ' || n || '.docx', 'docx', e.head_version_id, e.created_by
     from entry e, generate_series(1, $2::int) n where e.id = $1 returning id)
   insert into version (id, file_id, number, sha256, size, type, author_id, at, base_version_id, reason, request_key)
   select gen_random_uuid(), m.id, n, v.sha256, v.size, v.type, v.author_id, v.at - interval '1 day' * n, null, v.reason, gen_random_uuid()
   from made m, generate_series(1, 5) n, (select * from version where id = (select head_version_id from entry where id = $1)) v`,
  [fileId, files],
)
await bare.query(
  `update entry e set head_version_id = v.id from version v where v.file_id = e.id and v.number = 5 and e.name like 'made %'`,
)
await bare.query('alter table entry enable trigger user; alter table version enable trigger user')
const vocabulary = Array.from({ length: 20_000 }, (_, at) => `${one(things).toLowerCase()}${at.toString(36)}`)
const { rows: all } = await bare.query<{ id: string }>(
  `select v.id from version v join entry e on e.id = v.file_id where e.name like 'made %'`,
)
for (let from = 0; from < all.length; from += 5000) {
  const some = all.slice(from, from + 5000).map(({ id }, at) => {
    // One in a thousand of them says what is looked for.
    const text = `${Array.from({ length: 25 }, () => one(vocabulary)).join(' ')}${(from + at) % 1000 === 7 ? ` sluicekeeper ${wanted}` : ''}`
    return { id, went: JSON.stringify([['', null, text]]), words: [...new Set(text.toLowerCase().split(' '))] }
  })
  await bare.query(
    `insert into version_change (version_id, before_id, summary, weight, came, went, whole, gone_words)
     select id, null, '', 1, '[]', went, false, words from jsonb_to_recordset($1::jsonb) as t(id uuid, went text, words text[])`,
    [JSON.stringify(some)],
  )
}
await bare.query('vacuum analyze version_change; ').catch(() => {})
await bare.query('analyze version')
await bare.query('analyze entry')
const [{ n }] = await database.query('select count(*)::int as n from version')
report({
  suite,
  case: `find-in-history-of-${n}-versions`,
  value: await times(9, async () => {
    const { files: found } = await searchPast(manager, person.id, { q: wanted })
    if (!found.length) throw new Error('Nothing was found.')
  }),
  unit: 'ms',
  baseline: null,
  better: 'lower',
})
await bare.end()
await database.destroy()
