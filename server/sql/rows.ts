// SQL that a repository or the query builder does not say: where one statement has to do it, such as saving, recursion
// and search. Every row has a schema, which gives its type, and by which each row is checked in tests.
import type { Pool } from 'pg'
import type { DataSource } from 'typeorm'
import type { z } from 'zod'

/** An EntityManager, a DataSource or a QueryRunner. */
export interface Queryable {
  // biome-ignore lint/suspicious/noExplicitAny: what TypeORM answers, whose type is known here only.
  query(sql: string, parameters?: unknown[]): Promise<any>
}

let checking = false
/** Has every row checked from now on, as tests do. */
export function checkRows(): void {
  checking = true
}

/** The rows of a statement: of a question, or what a change returns. */
export async function select<T extends z.ZodType>(
  on: Queryable,
  row: T,
  sql: string,
  parameters: unknown[] = [],
): Promise<z.output<T>[]> {
  const answer: unknown = await on.query(sql, parameters)
  // Of an update or a delete TypeORM answers with the rows and how many they are.
  const found = (
    Array.isArray(answer) && answer.length === 2 && Array.isArray(answer[0]) && typeof answer[1] === 'number'
      ? answer[0]
      : answer
  ) as z.output<T>[]
  if (checking)
    for (const one of found) {
      const checked = row.safeParse(one)
      if (!checked.success)
        throw new Error(`A row is not as it is said to be: ${checked.error.message} ${sql.slice(0, 200)}`)
    }
  return found
}

/**
 * The rows of a question that every request asks: parsed and planned once by each connection, which is half of what
 * asking it takes.
 * @param name of the question, the same for the same one
 */
export async function selectPrepared<T extends z.ZodType>(
  database: DataSource,
  row: T,
  name: string,
  sql: string,
  parameters: unknown[],
): Promise<z.output<T>[]> {
  const pool = (database.driver as unknown as { master: Pool }).master
  const prepared: Queryable = {
    query: async (text, values) => (await pool.query({ name, text, values: values ?? [] })).rows,
  }
  return select(prepared, row, sql, parameters)
}

/** The first row of a statement that always has one. @throws Error where it has none */
export async function selectOne<T extends z.ZodType>(
  on: Queryable,
  schema: T,
  sql: string,
  parameters: unknown[] = [],
): Promise<z.output<T>> {
  const [first] = await select(on, schema, sql, parameters)
  if (first === undefined) throw new Error('A statement that always has a row had none.')
  return first
}

/** Carries out a statement whose rows nobody asks for. @returns how many it changed, where it is an update or a delete */
export async function execute(on: Queryable, sql: string, parameters: unknown[] = []): Promise<number> {
  const answer: unknown = await on.query(sql, parameters)
  return Array.isArray(answer) && typeof answer[1] === 'number' ? answer[1] : 0
}
