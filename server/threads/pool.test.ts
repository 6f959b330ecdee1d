// Work that takes more than its share is ended, also where it never comes back to be asked, and the next is done.
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { openPool, TaskEnded, type ThreadPool } from './pool'

let folder: string
const pools: ThreadPool[] = []
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'jaula-pool-'))
})
afterAll(async () => {
  for (const pool of pools) await pool.close()
  rmSync(folder, { recursive: true, force: true })
})
/** What it is asked for is done; asked to stay, it never answers and hears nothing. */
const script = `
export default async function (asked) {
  if (asked.stay) for (;;) {}
  if (asked.fails) throw new Error('no levels')
  return { pid: process.pid, bytes: asked.bytes }
}`
const isThere = (pid: number): boolean => {
  try {
    process.kill(pid, 0)
    return true
  } catch {
    return false
  }
}

test.each([true, false])('in processes: %s', async (processes) => {
  const file = join(folder, `worker-${processes}.mjs`)
  writeFileSync(file, script)
  const pool = openPool(pathToFileURL(file), { processes, patience: 3000 })
  pools.push(pool)
  const bytes = new Uint8Array(300_000).map((_, at) => at)
  const first = await pool.run<{ pid: number; bytes: Uint8Array }>({ bytes })
  expect(Buffer.from(first.bytes).equals(Buffer.from(bytes))).toBe(true)
  expect(first.pid === process.pid).toBe(!processes)
  await expect(pool.run({ fails: true })).rejects.toThrow('no levels')
  await expect(pool.run({ stay: true })).rejects.toBeInstanceOf(TaskEnded)
  if (processes) await expect.poll(() => isThere(first.pid)).toBe(false)
  const next = await pool.run<{ pid: number; bytes: Uint8Array }>({ bytes })
  expect(next.bytes.length).toBe(bytes.length)
  if (processes) expect(next.pid).not.toBe(first.pid)
})
