import { afterAll, beforeAll, expect, test } from 'vitest'
import { openTestOffice, type TestOffice } from './testing'

let office: TestOffice
beforeAll(async () => {
  office = await openTestOffice()
})
afterAll(() => office.close())

/** PostgreSQL's names of types as TypeORM has them. */
const usual: Record<string, string> = { 'timestamp with time zone': 'timestamptz', int: 'integer', ARRAY: 'array' }

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
