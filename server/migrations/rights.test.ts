// A database of a Jaula before rights by grants keeps what everybody could do, and what its index of words counted.
import 'reflect-metadata'
import { randomUUID } from 'node:crypto'
import pg from 'pg'
import { DataSource } from 'typeorm'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { entities, migrations } from '../database'
import { Rights1765400000000 } from './1765400000000-rights'

const address = process.env.TEST_DATABASE_URL!
const name = `test_${randomUUID().replaceAll('-', '')}`
const admin = new pg.Client({ connectionString: address })
const openWith = (some: typeof migrations) =>
  new DataSource({
    type: 'postgres',
    url: address.replace(/\/[^/]*$/, `/${name}`),
    entities,
    migrations: some,
  }).initialize()
beforeAll(async () => {
  await admin.connect()
  await admin.query(`create database ${name}`)
})
afterAll(async () => {
  await admin.query(`drop database ${name} with (force)`)
  await admin.end()
})

test('members have the same roles by grants, files the rights of their share, and words are counted as before', async () => {
  const at = migrations.indexOf(Rights1765400000000)
  const before = await openWith(migrations.slice(0, at))
  await before.runMigrations()
  const [ida, priya, share, empty, folder] = [1, 2, 3, 4, 5].map(() => randomUUID())
  for (const [id, handle] of [
    [ida, 'ida'],
    [priya, 'priya'],
  ])
    await before.query(`insert into person (id, handle, name, password_hash) values ($1, $2::text, $2::text, 'x')`, [
      id,
      handle,
    ])
  // The first share that was made went again, so that numbers have a gap.
  await before.query(`insert into share (id, name, name_key) values ($1, 'Gone', 'gone')`, [randomUUID()])
  await before.query(`delete from share where name = 'Gone'`)
  await before.query(`insert into share (id, name, name_key) values ($1, 'One', 'one'), ($2, 'Empty', 'empty')`, [
    share,
    empty,
  ])
  await before.query(`insert into membership (share_id, person_id, role) values ($1, $2, 'edit'), ($1, $3, 'manage')`, [
    share,
    ida,
    priya,
  ])
  await before.query(
    `insert into entry (id, kind, share_id, name, name_key, created_by) values ($1, 'folder', $2, 'Locks', 'locks', $3)`,
    [folder, share, ida],
  )
  const [{ no }] = await before.query('select no from share where id = $1', [share])
  const [{ word }] = await before.query('insert into search_word (word, files) values ($1, 7) returning id as word', [
    `share:${no}`,
  ])
  await before.query('insert into search_share_word (word_id, share_no, files) values ($1, $2, 7)', [word, no])
  await before.destroy()

  const after = await openWith(migrations.slice(0, at + 1))
  await after.runMigrations()
  expect(await after.query('select * from may($1)', [ida])).toEqual([{ realm_id: share, rank: 2 }])
  expect(await after.query('select * from may($1)', [priya])).toEqual([{ realm_id: share, rank: 3 }])
  expect(await after.query('select person_id from who_may($1)', [empty])).toEqual([])
  expect(await after.query('select realm_id from entry where id = $1', [folder])).toEqual([{ realm_id: share }])
  expect(
    await after.query(
      `select w.files, r.id from search_word w join realm r on w.word = 'realm:' || r.no join search_realm_word c on c.realm_no = r.no`,
    ),
  ).toEqual([{ files: 7, id: share }])
  // The next share gets a number that none has.
  await after.query(`insert into share (id, name, name_key) values ($1, 'Next', 'next')`, [randomUUID()])
  const [{ different }] = await after.query('select count(distinct no) = count(*) as different from realm')
  expect(different).toBe(true)
  await after.destroy()
})
