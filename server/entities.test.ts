import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { openTestOffice, type TestOffice } from './testing'

let office: TestOffice
beforeAll(async () => {
  office = await openTestOffice()
})
afterAll(() => office.close())

/** PostgreSQL's names of types as TypeORM has them. */
const usual: Record<string, string> = {
  'timestamp with time zone': 'timestamptz',
  int: 'integer',
  ARRAY: 'array',
  varchar: 'character varying',
  char: '"char"',
}

test('every entity has the columns of its table, of the same types, and as many of them', async () => {
  const differences: string[] = []
  for (const entity of office.database.entityMetadatas) {
    const rows: { name: string; type: string; nullable: boolean }[] = await office.database.query(
      `select column_name as name, data_type as type, is_nullable = 'YES' as nullable from information_schema.columns
       where table_schema = 'public' and table_name = $1`,
      [entity.tableName],
    )
    const there = new Map(rows.map((row) => [row.name, row]))
    for (const column of entity.columns) {
      const row = there.get(column.databaseName)
      there.delete(column.databaseName)
      if (!row) {
        differences.push(`${entity.tableName}.${column.databaseName} is in no table`)
        continue
      }
      const [is, should] = [row.type, String(column.type)].map((type) => usual[type] ?? type)
      if (is !== should && !(column.isArray && is === 'array'))
        differences.push(`${entity.tableName}.${column.databaseName} is ${is}, not ${should}`)
      if (row.nullable !== column.isNullable)
        differences.push(`${entity.tableName}.${column.databaseName} is ${row.nullable ? '' : 'not '}nullable`)
    }
    for (const name of there.keys()) differences.push(`${entity.tableName}.${name} is in no entity`)
  }
  expect(differences).toEqual([])
})

test('every table has an entity', async () => {
  const tables: { name: string }[] = await office.database.query(
    `select table_name as name from information_schema.tables where table_schema = 'public' and table_type = 'BASE TABLE' and table_name <> 'migrations'`,
  )
  const known = new Set(office.database.entityMetadatas.map(({ tableName }) => tableName))
  expect(tables.map(({ name }) => name).filter((name) => !known.has(name))).toEqual([])
})

test('every entity is used, somewhere else than where it is made', () => {
  const sources = readdirSync(__dirname, { recursive: true, encoding: 'utf8' })
    .filter((file) => /\.ts$/.test(file) && !/test|entity\.ts$|^database\.ts$|^migrations/.test(file))
    .map((file) => readFileSync(join(__dirname, file), 'utf8'))
    .join('\n')
  // What only a library, the database's own functions or set-based statements touch is used by no name here.
  const elsewhere = new Set([
    'guess_limit',
    'place_count',
    'place_change',
    'realm_right',
    'search_block',
    'search_file',
    'search_form',
    'search_posting',
    'search_realm_word',
    'search_word',
  ])
  const unused = office.database.entityMetadatas.filter(
    ({ targetName, tableName }) => !elsewhere.has(tableName) && !new RegExp(`\\b${targetName}\\b`).test(sources),
  )
  expect(unused.map(({ targetName }) => targetName)).toEqual([])
})

test('SQL goes through repositories or the typed helper, but for the connection’s own business', () => {
  const allowed = [
    'binary.ts',
    'database.ts',
    'demo/seed.ts',
    'events/service.ts',
    'health/routes.ts',
    'jobs/queue.ts',
    'verify.ts',
  ]
  // The typesetter is asked about its pages, in no SQL.
  const raw = readdirSync(__dirname, { recursive: true, encoding: 'utf8' })
    .filter((file) => /\.ts$/.test(file) && !/test|arbitrary|matrix\.cells|^migrations|^sql/.test(file))
    .map(
      (file) =>
        [file, readFileSync(join(__dirname, file), 'utf8').match(/(?<!compiler)\.query[(<]/g)?.length ?? 0] as const,
    )
    .filter(([, count]) => count > 0)
  expect(raw.map(([file]) => file).filter((file) => !allowed.includes(file))).toEqual([])
  expect(raw.reduce((sum, [, count]) => sum + count, 0)).toBeLessThanOrEqual(20)
})
