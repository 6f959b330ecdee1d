import { afterAll, beforeAll, expect, test } from 'vitest'
import { openTestOffice, type TestOffice } from '../testing'
import { appendOnly, appendOnlyActs } from './append-only'
import { folderTree } from './folder-tree'
import { mending } from './mending'
import * as nextVersion from './next-version'
import * as placeCounts from './place-counts'
import * as quotas from './quotas'
import * as retention from './retention'
import * as rights from './rights'
import { workLists } from './work-lists'

const texts = [
  appendOnly,
  appendOnlyActs,
  folderTree,
  workLists,
  mending,
  nextVersion,
  placeCounts,
  quotas,
  retention,
  rights,
]
  .flatMap((one) => (typeof one === 'string' ? [one] : Object.values(one)))
  .filter((one) => typeof one === 'string')
  .join('\n')

/** The body of each function in the texts, by its name. */
const bodies = new Map(
  [...texts.matchAll(/create (?:or replace )?function (\w+)\([\s\S]*?\$\$([\s\S]*?)\$\$/g)].map(([, name, body]) => [
    name!,
    body!,
  ]),
)
const triggers = [...texts.matchAll(/create (?:constraint )?trigger (\w+)[\s\S]*?execute function (\w+)\(\)/g)].map(
  ([, trigger, name]) => `${trigger} ${name}`,
)

let office: TestOffice
beforeAll(async () => {
  office = await openTestOffice()
})
afterAll(() => office.close())

test('the text of every function that the database has stands in this folder, and is the one that runs', async () => {
  const there: { name: string; body: string }[] = await office.owner.query(
    `select p.proname as name, p.prosrc as body from pg_proc p join pg_namespace n on n.oid = p.pronamespace
     where n.nspname = 'public' and not exists (select from pg_depend d where d.objid = p.oid and d.deptype = 'e')`,
  )
  expect(there.length).toBeGreaterThan(20)
  expect([...bodies.keys()].sort()).toEqual(there.map(({ name }) => name).sort())
  for (const { name, body } of there) expect(`${name}: ${bodies.get(name)}`).toBe(`${name}: ${body}`)
})

test('so does every trigger', async () => {
  const there: { trigger: string }[] = await office.owner.query(
    `select distinct t.tgname || ' ' || p.proname as trigger from pg_trigger t join pg_proc p on p.oid = t.tgfoid
     join pg_class c on c.oid = t.tgrelid join pg_namespace n on n.oid = c.relnamespace
     where n.nspname = 'public' and not t.tgisinternal`,
  )
  expect([...new Set(triggers)].sort()).toEqual(there.map(({ trigger }) => trigger).sort())
})
