// What rights cost: a folder of ten thousand files in an office of a million, of five thousand people in five hundred groups
// who were given something in two thousand folders, beside the same before anybody was there; and whether every door is
// shut to whom it should be; what finding and telling cost where few may look.
import { randomUUID } from 'node:crypto'
import pg from 'pg'
import 'reflect-metadata'
import { tryMatrix } from '../server/matrix.cells'
import { findFiles } from '../server/search/find'
import { openTestOffice } from '../server/testing'
import { openListeners } from './listeners'
import { filled, p95, queries, timed } from './million'
import { median, report } from './report'

const { BENCH_URL: url = '', BENCH_DATABASE_URL: database = '' } = process.env
const suite = 'rights'
const count = (name: string, usual: number) => Number(process.env[name] ?? usual)
const files = count('BENCH_FILES', 1_000_000)
const here = 10_000
const [people, groups, folders] = [
  count('BENCH_PEOPLE', 5000),
  count('BENCH_GROUPS', 500),
  count('BENCH_FOLDERS', 2000),
]
const client = new pg.Client({ connectionString: database })
await client.connect()

const signIn = async (handle: string) => {
  const answer = await fetch(`${url}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ handle, password: 'lock-and-weir' }),
  })
  const cookie = answer.headers
    .getSetCookie()
    .map((one) => one.split(';')[0])
    .join('; ')
  return (path: string, init: RequestInit = {}) => fetch(url + path, { ...init, headers: { cookie, ...init.headers } })
}
const [priya, ida] = [await signIn('priya'), await signIn('ida')]
const json = (body: unknown): RequestInit => ({
  method: 'POST',
  headers: { 'content-type': 'application/json' },
  body: JSON.stringify(body),
})
const times = async (rounds: number, work: () => Promise<Response>): Promise<number> => {
  const taken: number[] = []
  for (let round = -2; round < rounds; round++) {
    const begun = performance.now()
    const answer = await work()
    const size = (await answer.arrayBuffer()).byteLength
    if (!answer.ok || !size) throw new Error(`${answer.status} after ${size} bytes`)
    if (round >= 0) taken.push(performance.now() - begun)
  }
  return median(taken)
}

// -- A million files, ten thousand of them in one folder ---------------------------------------------------
const shares = (await (await priya('/api/shares')).json()) as { id: string; name: string }[]
const share = shares.find(({ name }) => name === 'Waterways')!
const newFolder = async (name: string) =>
  (await (await priya('/api/folders', json({ shareId: share.id, folderId: null, name }))).json()) as { id: string }
const [many, other] = [await newFolder('Ten thousand'), await newFolder('The others')]
const saved = (await (
  await priya(`/api/files?shareId=${share.id}&name=${randomUUID()}.bin&key=${randomUUID()}&folderId=${many.id}`, {
    method: 'POST',
    body: 'one',
  })
).json()) as { file: { id: string } }
const fill = (folder: string, how: number) =>
  client.query(
    `insert into entry (id, kind, share_id, realm_id, folder_id, name, name_key, type, head_version_id, created_by)
     select gen_random_uuid(), 'file', e.share_id, e.realm_id, $3::uuid, 'made ' || n || '.bin', 'made ' || n || '.bin', 'bin', e.head_version_id, e.created_by
     from entry e, generate_series(1, $2::int) n where e.id = $1`,
    [saved.file.id, how, folder],
  )
await client.query('alter table entry disable trigger user')
await fill(many.id, here)
await fill(other.id, files - here)
await client.query('alter table entry enable trigger user')
await client.query('insert into place_change (place_id, entries) values ($1, $2), ($3, $4)', [
  many.id,
  here,
  other.id,
  files - here,
])
await client.query('vacuum analyze entry')
const listing = () => ida(`/api/shares/${share.id}/entries?folderId=${many.id}&limit=2000`)
const before = await times(15, listing)

// -- Everybody comes, and is given something ------------------------------------------------------------------
await client.query(
  `insert into person (id, handle, name) select gen_random_uuid(), 'p' || n, 'Person ' || n from generate_series(1, $1::int) n`,
  [people],
)
await client.query(
  `insert into person_group (id, name, name_key) select gen_random_uuid(), 'Group ' || n, 'group ' || n from generate_series(1, $1::int) n`,
  [groups],
)
// Each is in three of them; a tenth of the groups lie in another; Ida is in fifty.
await client.query(
  `with g as (select id, row_number() over (order by name) - 1 as n from person_group where name like 'Group %'),
   p as (select id, row_number() over (order by handle) - 1 as n from person where handle ~ '^p[0-9]+$')
   insert into group_member (group_id, person_id)
   select g.id, p.id from p, generate_series(0, 2) k join g on true where g.n = (p.n * 7 + k * 131) % $1::int
   on conflict do nothing`,
  [groups],
)
await client.query(
  `with g as (select id, row_number() over (order by name) - 1 as n from person_group where name like 'Group %')
   insert into group_member (group_id, member_group_id) select a.id, b.id from g a join g b on b.n = a.n + 1 where a.n % 10 = 0`,
)
await client.query(
  `with g as (select id, row_number() over (order by name) - 1 as n from person_group where name like 'Group %')
   insert into group_member (group_id, person_id) select g.id, p.id from g join person p on p.handle = 'ida' where g.n % 10 = 3
   on conflict do nothing`,
)
await client.query('alter table entry disable trigger user')
await client.query(
  `insert into entry (id, kind, share_id, realm_id, folder_id, name, name_key, created_by)
   select gen_random_uuid(), 'folder', e.share_id, e.realm_id, e.id, 'own ' || n, 'own ' || n, e.created_by
   from entry e, generate_series(1, $2::int) n where e.id = $1`,
  [other.id, folders],
)
await client.query('alter table entry enable trigger user')
// Loaded without its triggers; the rights are made anew once, as the last grant would have it.
await client.query(`set session_replication_role = replica`)
await client.query(
  `insert into realm (id, share_id, entry_id, closed) select id, share_id, id, random() < 0.5 from entry where folder_id = $1 and kind = 'folder'`,
  [other.id],
)
await client.query(`update entry set realm_id = id where folder_id = $1 and kind = 'folder'`, [other.id])
await client.query(
  `with g as (select id, row_number() over (order by name) - 1 as n from person_group where name like 'Group %'),
   r as (select id, row_number() over (order by id) - 1 as n from realm where share_id = $1)
   insert into access_grant (realm_id, group_id, role)
   select r.id, g.id, case r.n % 3 when 0 then 'view' when 1 then 'edit' else 'manage' end from r join g on g.n = (r.n * 13) % $2::int
   on conflict do nothing`,
  [share.id, groups],
)
await client.query(`set session_replication_role = origin`)
await client.query('select refresh_rights($1)', [share.id])
await client.query('vacuum analyze')
const [{ rights, realms }] = (
  await client.query(
    `select (select count(*)::int from realm_right) as rights, (select count(*)::int from realm) as realms`,
  )
).rows
report({
  suite,
  case: `listing-10k-with-${people}-people`,
  value: await times(15, listing),
  unit: `ms, 2,000 of ${here} among ${files} files, ${groups} groups, ${realms} realms, ${rights} rights; baseline: before they were there`,
  baseline: before,
  better: 'lower',
})
const whoCan = () => priya(`/api/access/${share.id}`)
const everybody = (await (await whoCan()).json()) as { people: unknown[] }
report({
  suite,
  case: 'who-can-reach-a-share',
  value: await times(10, whoCan),
  unit: `ms, ${everybody.people.length} people with their reasons`,
  baseline: 500,
  better: 'lower',
})
// One grant more: the rights of the whole share are made anew.
const [{ id: someone }] = (await client.query(`select id from person where handle = 'p1'`)).rows
const give = () =>
  priya(`/api/access/${many.id}/grants`, json({ subject: { personId: someone }, role: 'edit', until: null, words: '' }))
report({
  suite,
  case: 'give-a-right',
  value: await times(5, give),
  unit: `ms, in a share of ${realms} realms`,
  baseline: 1000,
  better: 'lower',
})
const accounts = () => priya('/api/people')
report({
  suite,
  case: 'all-accounts',
  value: await times(5, accounts),
  unit: `ms, of ${people} people`,
  baseline: 1000,
  better: 'lower',
})

// -- News of a folder that few may see ----------------------------------------------------------------------
const listeners = count('BENCH_LISTENERS', 300)
const listening = await openListeners(priya, client, listeners)
const shut = await newFolder(`Shut ${randomUUID()}`)
await client.query('insert into realm (id, share_id, entry_id, closed) values ($1, $2, $1, true)', [shut.id, share.id])
const [{ id: one }] = (await client.query(`select id from person where handle = 'priya'`)).rows
// Somebody is let in by a group within a group.
const [inner, outer] = [randomUUID(), randomUUID()]
for (const id of [inner, outer])
  await client.query('insert into person_group (id, name, name_key) values ($1, $2, $2)', [id, id])
await client.query('insert into group_member (group_id, member_group_id) values ($1, $2)', [outer, inner])
await client.query('insert into group_member (group_id, person_id) values ($1, $2)', [inner, one])
await client.query(`insert into access_grant (realm_id, group_id, role) values ($1, $2, 'view')`, [shut.id, outer])
/** Milliseconds; the median. */
const heard = async (news: object, about: string): Promise<number> => {
  const taken: number[] = []
  for (let round = -2; round < 20; round++) {
    const begun = performance.now()
    await listening.untilAllHeard(news, about)
    if (round >= 0) taken.push(performance.now() - begun)
  }
  return median(taken)
}
report({
  suite,
  case: `event-to-${listeners}-listeners`,
  value: await heard({ about: 'place', shareId: share.id, folderId: shut.id }, 'place'),
  unit: 'ms, of a folder that few may see; baseline: told to one person by name',
  baseline: await heard({ about: 'draft', draftId: randomUUID(), personId: one }, 'draft'),
  better: 'lower',
})
listening.close()
await client.end()

// -- A million files, a third of them where few may look ----------------------------------------------------
{
  const {
    database: found,
    person,
    closed,
    shares: all,
  } = await filled(database, files, { name: 'bench_rights_files', narrowed: 40 })
  const [ben, group] = [randomUUID(), randomUUID()]
  await found.query(`insert into person (id, handle, name, password_hash) values ($1, 'ben', 'Ben Marlowe', '-')`, [
    ben,
  ])
  await found.query('insert into person_group (id, name, name_key) values ($1, $2, $2)', [group, group])
  await found.query('insert into group_member (group_id, person_id) values ($1, $2)', [group, ben])
  for (const id of [...all, ...closed.slice(0, 25)])
    await found.query(`insert into access_grant (realm_id, group_id, role) values ($1, $2, 'view')`, [id, group])
  const narrow: number[] = []
  const wide: number[] = []
  for (let round = 0; round < 2; round++)
    for (const query of queries) {
      const his = await timed(() => findFiles(found.manager, ben, query))
      const everything = await timed(() => findFiles(found.manager, person, query))
      if (!round) continue
      narrow.push(his)
      wide.push(everything)
    }
  report({
    suite,
    case: 'find-1m-narrowed',
    value: p95(narrow),
    unit: `ms, p95 among ${files} files; baseline: by somebody who may see all`,
    baseline: p95(wide),
    better: 'lower',
  })
  await found.destroy()
}

// -- Everybody at every door ------------------------------------------------------------------------------
process.env.TEST_DATABASE_URL = database
const tried = await openTestOffice()
const matrix = await tryMatrix(tried)
for (const cell of matrix.wrong) process.stderr.write(`${cell}\n`)
report({
  suite,
  case: 'matrix-wrong-cells',
  value: matrix.wrong.length,
  unit: `of ${matrix.cells}`,
  baseline: null,
  better: 'lower',
})
await tried.close()
process.exit(0)
