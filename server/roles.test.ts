// The role that the application connects as: the database itself refuses it what it should never do.
import { randomUUID } from 'node:crypto'
import pg from 'pg'
import { DataSource } from 'typeorm'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import type { Saved } from '../core/contract'
import { makeRoles, roleUrls } from '../scripts/lib/roles.mjs'
import { migrations, openDatabase } from './database'
import { appendOnly, roleFaults } from './sql/roles'
import { openTestOffice, signInAs, type TestOffice } from './testing'

let office: TestOffice
let saved: Saved[]
beforeAll(async () => {
  office = await openTestOffice()
  const ida = await signInAs(office, 'ida')
  saved = []
  for (let number = 1; number <= 4; number++) {
    const before = saved.at(-1)
    const path = before
      ? `/api/files/${before.file.id}/versions?baseId=${before.version.id}&key=${randomUUID()}`
      : `/api/files?shareId=${office.share}&name=Levels.txt&key=${randomUUID()}`
    saved.push(await (await ida.ask(path, { method: 'POST', body: `${number}` })).json())
  }
})
afterAll(() => office.close())
const asApplication = (sql: string, values: unknown[] = []) => office.database.query(sql, values)

describe('the application’s role', () => {
  test('is as it should be, and the owner’s and a superuser’s are told apart from it', async () => {
    expect(await roleFaults(office.database)).toEqual([])
    expect((await roleFaults(office.owner)).join()).toContain('owns')
    const [{ name }] = await office.owner.query('select current_database() as name')
    const superuser = await new DataSource({
      type: 'postgres',
      url: process.env.TEST_DATABASE_URL!.replace(/\/[^/]*$/, `/${name}`),
    }).initialize()
    expect((await roleFaults(superuser)).join()).toContain('superuser')
    await superuser.destroy()
  })
  test.each([...appendOnly])(
    'cannot change, remove or empty rows of %s, nor switch off what holds them',
    async (table) => {
      const [{ column }] = await office.owner.query(
        `select column_name as column from information_schema.columns where table_schema = 'public' and table_name = $1 and is_identity = 'NO' and column_name not in ('chunks', 'undone_by') limit 1`,
        [table],
      )
      for (const sql of [
        `update ${table} set "${column}" = "${column}"`,
        `delete from ${table}`,
        `truncate ${table} cascade`,
        `alter table ${table} disable trigger all`,
        `alter table ${table} add column mine integer`,
        `drop table ${table} cascade`,
        `create trigger mine before insert on ${table} for each row execute function refuse_change()`,
      ])
        await expect(asApplication(sql), sql).rejects.toThrow(/permission denied|must be owner/)
    },
  )
  test('cannot run programs, read files, make roles, or pass over rules', async () => {
    for (const sql of [
      `copy person to program 'cat'`,
      `copy person from '/etc/hostname'`,
      `select pg_read_file('/etc/hostname')`,
      `create role other`,
      `set session_replication_role = replica`,
      `alter function remove_versions owner to current_user`,
      `create or replace function remove_versions(the_ids uuid[], the_why text) returns uuid[] language sql as 'select null::uuid[]'`,
      `set role jaula_owner`,
      `create table mine (id integer)`,
    ])
      await expect(asApplication(sql), sql).rejects.toThrow(/permission denied|must be (owner|member|superuser)/)
  })
  test('removes no version by saying that it is retention', async () => {
    await expect(
      office.database.transaction(async (manager) => {
        await manager.query(`select set_config('jaula.retention', 'on', true)`)
        await manager.query('delete from version where id = $1', [saved[0]!.version.id])
      }),
    ).rejects.toThrow('permission denied')
    // And the owner, who may, is still asked for it.
    await expect(office.owner.query('delete from version where id = $1', [saved[0]!.version.id])).rejects.toThrow(
      'but by retention',
    )
  })
  test('removes by the owner’s function, but no newest, labelled or held one', async () => {
    const remove = async (ids: string[]): Promise<string[]> =>
      (await asApplication(`select remove_versions($1, 'a test') as gone`, [ids]))[0].gone
    const [first, second, third, newest] = saved.map(({ version }) => version.id)
    await asApplication('insert into kept_version (version_id, label, person_id) values ($1, $2, $3)', [
      second,
      'Approved',
      office.people.ida,
    ])
    await asApplication('insert into retention_hold (entry_id, person_id, why) values ($1, $2, $3)', [
      saved[0]!.file.id,
      office.people.priya,
      'An inquiry',
    ])
    expect(await remove([first!, second!, third!, newest!])).toEqual([])
    await asApplication('delete from retention_hold')
    expect((await remove([first!, second!, third!, newest!])).sort()).toEqual([first!, third!].sort())
    const logged = await asApplication('select id, why from removed_version order by number')
    expect(logged).toEqual([
      { id: first, why: 'a test' },
      { id: third, why: 'a test' },
    ])
    // The way that was open for it is closed again, in the same transaction too.
    await expect(
      office.owner.transaction(async (manager) => {
        await manager.query(`select remove_versions('{}', '')`)
        await manager.query('delete from version where id = $1', [second])
      }),
    ).rejects.toThrow('but by retention')
  })
})

test('a database that an earlier Jaula made as superuser is the owner’s afterwards, whole, and goes on', async () => {
  const name = `test_${randomUUID().replaceAll('-', '')}`
  const superuserUrl = process.env.TEST_DATABASE_URL!.replace(/\/[^/]*$/, `/${name}`)
  const admin = new pg.Client({ connectionString: process.env.TEST_DATABASE_URL })
  await admin.connect()
  await admin.query(`create database ${name}`)
  const earlier = await new DataSource({
    type: 'postgres',
    url: superuserUrl,
    migrations: migrations.slice(0, -1),
  }).initialize()
  await earlier.runMigrations()
  await earlier.query(`insert into person (id, handle, name, password_hash) values ($1, 'ida', 'Ida', 'x')`, [
    randomUUID(),
  ])
  await earlier.destroy()
  const inside = new pg.Client({ connectionString: superuserUrl })
  await inside.connect()
  // Run twice, as two starts do.
  await inside.query(makeRoles(superuserUrl))
  await inside.query(makeRoles(superuserUrl))
  await inside.end()
  const { url, ownerUrl } = roleUrls(superuserUrl)
  const database = await openDatabase(url, ownerUrl)
  expect(await roleFaults(database)).toEqual([])
  expect(await database.query('select handle from person')).toEqual([{ handle: 'ida' }])
  const [{ other }] = await database.query(
    `select count(*)::int as other from pg_class where relnamespace = 'public'::regnamespace and relkind = 'r' and relowner <> 'jaula_owner'::regrole`,
  )
  expect(other).toBe(0)
  expect(await database.query('show temp_file_limit')).toEqual([{ temp_file_limit: '4GB' }])
  await database.destroy()
  await admin.query(`drop database ${name} with (force)`)
  await admin.end()
})
