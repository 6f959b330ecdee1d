// Rows as PostgreSQL has them, without a way through text, on which bytes come twice as long and are read twice:
// COPY in its binary format (PostgreSQL's documentation, COPY, "Binary Format").
import { to } from 'pg-copy-streams'
import type { EntityManager } from 'typeorm'

/** Signature, flags and the length of an extension that there is none of. */
const header = 19

interface Client {
  query(query: ReturnType<typeof to>): AsyncIterable<Buffer>
}

/**
 * @param sql a query whose columns are bytea, integer or boolean, with its values written out in it
 * @returns for each row its columns; null where there is nothing. They are windows on one buffer
 */
export async function binaryRows(manager: EntityManager, sql: string): Promise<(Buffer | null)[][]> {
  const own = manager.queryRunner ? null : manager.connection.createQueryRunner()
  const runner = own ?? manager.queryRunner!
  const pieces: Buffer[] = []
  try {
    const client = (await runner.connect()) as Client
    for await (const piece of client.query(to(`copy (${sql}) to stdout with (format binary)`))) pieces.push(piece)
  } finally {
    await own?.release()
  }
  const all = pieces.length === 1 ? pieces[0]! : Buffer.concat(pieces)
  const rows: (Buffer | null)[][] = []
  for (let at = header; ; ) {
    const columns = all.readInt16BE(at)
    at += 2
    if (columns < 0) return rows
    const row: (Buffer | null)[] = []
    for (let column = 0; column < columns; column++) {
      const size = all.readInt32BE(at)
      at += 4
      row.push(size < 0 ? null : all.subarray(at, at + Math.max(0, size)))
      at += Math.max(0, size)
    }
    rows.push(row)
  }
}

/** A bytea as it is written in a query. */
export const byteaLiteral = (bytes: Buffer): string => `'\\x${bytes.toString('hex')}'::bytea`

/** An array of integers (array_send in PostgreSQL's arrayfuncs.c): dimensions, flags, type, length, first index, elements. */
export function intArray(value: Buffer | null): number[] | null {
  if (!value || value.readInt32BE(0) === 0) return value && []
  const length = value.readInt32BE(12)
  return Array.from({ length }, (_, at) => value.readInt32BE(24 + at * 8))
}
