import 'reflect-metadata'
import { randomUUID } from 'node:crypto'
import pg from 'pg'
import { DataSource } from 'typeorm'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { entities, migrations } from '../database'
import { Doors1765300000000 } from './1765300000000-doors'

const name = `test_${randomUUID().replaceAll('-', '')}`
const admin = new pg.Client({ connectionString: process.env.TEST_DATABASE_URL })
const openWith = (list: typeof migrations) =>
  new DataSource({
    type: 'postgres',
    url: process.env.TEST_DATABASE_URL!.replace(/\/[^/]*$/, `/${name}`),
    entities,
    migrations: list,
  }).initialize()
beforeAll(async () => {
  await admin.connect()
  await admin.query(`create database ${name}`)
})
afterAll(async () => {
  await admin.query(`drop database ${name} with (force)`)
  await admin.end()
})

test('a database in which folders lay in a circle, and in another share, is put right, and words are counted by share', async () => {
  const before = await openWith(migrations.slice(0, migrations.indexOf(Doors1765300000000)))
  await before.runMigrations()
  const id = () => randomUUID()
  const [person, one, other] = [id(), id(), id()]
  await before.query(`insert into person (id, handle, name, password_hash) values ($1, 'ida', 'Ida', 'x')`, [person])
  for (const [share, title] of [
    [one, 'One'],
    [other, 'Other'],
  ])
    await before.query('insert into share (id, name, name_key) values ($1, $2::text, lower($2::text))', [share, title])
  const entry = async (share: string, folder: string | null, title: string) => {
    const made = id()
    await before.query(
      `insert into entry (id, kind, share_id, folder_id, name, name_key, created_by) values ($1, 'folder', $2, $3, $4::text, lower($4::text), $5)`,
      [made, share, folder, title, person],
    )
    return made
  }
  const [a, b] = [await entry(one, null, 'Ring A'), await entry(one, null, 'Ring B')]
  const inA = await entry(one, a, 'In A')
  await before.query('update entry set folder_id = $2 where id = $1', [a, b])
  await before.query('update entry set folder_id = $2 where id = $1', [b, a])
  const foreign = await entry(other, null, 'Foreign')
  const planted = await entry(one, foreign, 'Planted')
  const [shareNo] = await before.query('select no from share where id = $1', [one])
  const [{ word }] = await before.query(
    `insert into search_word (word, files) values ('windlass', 1) returning id as word`,
  )
  await before.query('insert into search_file (file_id, words) values ($1, $2)', [inA, [word]])
  await before.destroy()

  const after = await openWith(migrations.slice(0, migrations.indexOf(Doors1765300000000) + 1))
  await after.runMigrations()
  const rows: { id: string; folder_id: string | null; name: string; share_id: string }[] = await after.query(
    'select id, folder_id, name, share_id from entry',
  )
  const found = (wanted: string) => rows.find((row) => row.id === wanted)!
  // Both stand at the top again, under names of their own; what was in them still is.
  for (const [ring, title] of [
    [a, 'Ring A'],
    [b, 'Ring B'],
    [planted, 'Planted'],
  ] as const)
    expect(found(ring)).toMatchObject({ folder_id: null, share_id: one, name: expect.stringMatching(`^${title} `) })
  expect(found(inA)).toMatchObject({ folder_id: a, name: 'In A' })
  expect(await after.query('select word_id, share_no, files from search_share_word')).toEqual([
    { word_id: word, share_no: shareNo.no, files: 1 },
  ])
  await after.query('update entry set folder_id = $2 where id = $1', [a, b])
  await expect(after.query('update entry set folder_id = $2 where id = $1', [b, a])).rejects.toThrow('lies in itself')
  await expect(after.query('update entry set folder_id = $2 where id = $1', [b, foreign])).rejects.toThrow(
    'entry_folder_in_share',
  )
  await after.destroy()
})
