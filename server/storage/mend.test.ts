// What is stored rots, in blocks and in chunks, and is put back from bytes that somebody else kept; nothing else can be.
import { createHash, randomBytes, randomUUID } from 'node:crypto'
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import fc from 'fast-check'
import { afterAll, beforeAll, expect, test } from 'vitest'
import type { Copies, CopyAlarm, Saved } from '../../core/contract'
import { writeDocx } from '../../core/formats/docx/write'
import { keepCopies } from '../copies/by-itself'
import { nameSites } from '../copies/sites'
import { checkStore } from '../copies/store-check'
import { doc, p } from '../demo/papers'
import { inTransaction } from '../sql/transaction'
import { openTestOffice, signInAs, type TestOffice } from '../testing'
import { openContents } from './content'
import { moveContents } from './move'

let office: TestOffice
let priya: Awaited<ReturnType<typeof signInAs>>
let scratch: string
const contents = openContents()
beforeAll(async () => {
  office = await openTestOffice()
  priya = await signInAs(office, 'priya')
  scratch = mkdtempSync(join(tmpdir(), 'jaula-mend-'))
})
afterAll(async () => {
  await office.close()
  rmSync(scratch, { recursive: true, force: true })
})

const digestOf = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest()
const paper = (seed: number, lines = 400) =>
  Buffer.from(writeDocx(doc(...Array.from({ length: lines }, (_, line) => p(`Line ${line} of ${(line * seed) % 97}`)))))
async function save(bytes: Buffer, to?: Saved): Promise<Saved> {
  const address = to
    ? `/api/files/${to.file.id}/versions?baseId=${to.version.id}&key=${randomUUID()}`
    : `/api/files?shareId=${office.share}&name=${randomUUID()}.docx&key=${randomUUID()}`
  const answer = await priya.ask(address, { method: 'POST', body: bytes as BodyInit })
  expect(answer.status).toBe(200)
  return (await answer.json()) as Saved
}
/** As rot would. */
const rot = async (table: string, where: string, bit: number) => {
  await office.owner.query(
    `alter table ${table} disable trigger user;
     update ${table} set bytes = set_byte(bytes, ${bit} % octet_length(bytes), get_byte(bytes, ${bit} % octet_length(bytes)) # 4) where ${where};
     alter table ${table} enable trigger user`,
  )
}
const hex = (bytes: Buffer) => `decode('${bytes.toString('hex')}', 'hex')`
const wholeOf = async (sha256: Buffer) => {
  const pieces: Uint8Array[] = []
  for await (const piece of contents.sound(office.database.manager, sha256, true)) pieces.push(piece)
  return Buffer.concat(pieces)
}
const isWell = (bytes: Buffer) =>
  wholeOf(digestOf(bytes)).then(
    (whole) => whole.equals(bytes),
    (error) => {
      expect(error).toBeInstanceOf(RangeError)
      return false
    },
  )
const mend = (sha256: Buffer, bytes: Buffer) =>
  inTransaction(office.database, (manager) => contents.mend(manager, sha256, bytes))

test('whatever bit of whatever chunk changes, it is known, and all versions that share it are whole again', async () => {
  await fc.assert(
    fc.asyncProperty(fc.integer({ min: 1, max: 90 }), fc.nat(100_000), fc.nat(), async (seed, bit, which) => {
      const papers = [paper(seed), paper(seed + 1), paper(seed, 410)]
      let saved: Saved | undefined
      for (const bytes of papers) saved = await save(bytes, saved)
      await moveContents(office.database, contents)
      const chunks: { id: number }[] = await office.owner.query(
        `select distinct unnest(chunks) as id from content where sha256 in (${papers.map((one) => hex(digestOf(one))).join()}) order by 1`,
      )
      await rot('chunk', `id = ${chunks[which % chunks.length]!.id}`, bit)
      const ill = []
      for (const bytes of papers) if (!(await isWell(bytes))) ill.push(bytes)
      if (!ill.length) return // A bit that says nothing, as one that pads the last byte of a DEFLATE block.
      expect(await mend(digestOf(ill[0]!), ill[0]!)).toBe(true)
      expect(await isWell(ill[0]!)).toBe(true)
      // Moved again it is well from its chunks, too, and so is whatever shares them.
      await moveContents(office.database, contents)
      for (const bytes of papers) if (!(await isWell(bytes))) expect(await mend(digestOf(bytes), bytes)).toBe(true)
      await moveContents(office.database, contents)
      for (const bytes of papers) expect(await isWell(bytes)).toBe(true)
      const [{ blocks }] = await office.owner.query('select count(*)::int as blocks from content_block')
      expect(blocks).toBe(0)
    }),
    { numRuns: 15 },
  )
})

test('a block that changed, a block that is gone, a chunk that is gone: put back, a large one as well', async () => {
  const large = Buffer.concat([randomBytes(1 << 20), Buffer.alloc(2_500_000, 'weir '), randomBytes(1000)])
  await save(large)
  await rot('content_block', `sha256 = ${hex(digestOf(large))} and index = 1`, 77)
  expect(await isWell(large)).toBe(false)
  expect(await mend(digestOf(large), large)).toBe(true)
  expect(await isWell(large)).toBe(true)
  await office.owner.query(`delete from content_block where sha256 = ${hex(digestOf(large))} and index = 2`)
  expect(await isWell(large)).toBe(false)
  expect(await mend(digestOf(large), large)).toBe(true)
  await moveContents(office.database, contents)
  expect(await isWell(large)).toBe(true)
  await office.owner.query(
    `delete from chunk where id = (select chunks[3] from content where sha256 = ${hex(digestOf(large))})`,
  )
  expect(await isWell(large)).toBe(false)
  expect(await mend(digestOf(large), large)).toBe(true)
  await moveContents(office.database, contents)
  expect(await isWell(large)).toBe(true)
})

test('nobody can put anything else there: not by mending, and not as the role of the application', async () => {
  const bytes = paper(3)
  await save(bytes)
  await moveContents(office.database, contents)
  expect(await mend(digestOf(bytes), paper(4))).toBe(false)
  const { manager } = office.database
  const other = Buffer.from('something else')
  expect(await manager.query('select mend_content($1::bytea[]) as mended', [[other]])).toEqual([{ mended: false }])
  expect(await manager.query('select mend_chunk($1) as mended', [other])).toEqual([{ mended: false }])
  await manager.query("select set_config('jaula.mending', 'on', false)")
  for (const sql of [
    `update chunk set bytes = '\\x00'`,
    'update content set chunks = null',
    'delete from content_block',
    'delete from chunk',
  ])
    await expect(manager.query(sql), sql).rejects.toThrow(/permission denied|never changes/)
  await manager.query("select set_config('jaula.mending', 'off', false)")
  // The owner, too, changes nothing by the way.
  await expect(office.owner.query(`update chunk set bytes = '\\x00'`)).rejects.toThrow('never changes')
  await expect(office.owner.query('update content set chunks = null')).rejects.toThrow('never changes')
  expect(await isWell(bytes)).toBe(true)
})

test('the server reads its store again by itself, puts back what a copy has, and tells of what nobody has', async () => {
  const network = join(scratch, 'network')
  mkdirSync(network)
  await nameSites(office.database, [network], { hours: 24, days: 7 })
  const [one, two] = [await save(paper(51, 333)), await save(paper(52, 333))]
  await moveContents(office.database, contents)
  const reachable = { folders: [network], drives: [] }
  await keepCopies({ database: office.database, contents }, reachable)
  const later = (days: number) => new Date(Date.now() + days * 86_400_000)
  const told: unknown[] = []
  const check = (days: number) =>
    checkStore({ database: office.database, contents: openContents() }, reachable, {
      days: 7,
      now: later(days),
      onFault: (error) => told.push(error),
    })
  const all = await check(8)
  expect(all).toBeGreaterThan(1)
  // Nothing is read again before it is due.
  expect(await check(9)).toBe(0)
  // What is copied meanwhile is the rest of it.
  const three = await save(paper(53, 333))
  for (const { version } of [one, two])
    await rot(
      'chunk',
      `id in (select unnest(chunks) from content where sha256 = decode('${version.sha256}', 'hex'))`,
      9,
    )
  await rot('content_block', `sha256 = decode('${three.version.sha256}', 'hex')`, 700)
  await keepCopies({ database: office.database, contents: openContents() }, reachable, { now: later(1) })
  const [copied] = await office.owner.query('select unread, failure from share_copy')
  expect(copied).toEqual({ unread: 1, failure: null })
  await mend(digestOf(paper(53, 333)), paper(53, 333))
  writeFileSync(join(network, 'Waterways/data', two.file.name), 'not what it was')
  expect(await check(16)).toBe(all + 1)
  expect(told).toHaveLength(2)
  expect(await isWell(paper(51, 333))).toBe(true)
  expect(await isWell(paper(52, 333))).toBe(false)
  const store = async () => ((await (await priya.ask('/api/copies')).json()) as Copies).store
  expect((await store()).findings).toEqual([
    expect.objectContaining({ name: two.file.name, number: 1, damaged: true, mendedFrom: null }),
    expect.objectContaining({ name: one.file.name, number: 1, damaged: false, mendedFrom: 'network' }),
  ])
  const ben = await signInAs(office, 'ben')
  expect(((await (await ben.ask('/api/copies')).json()) as Copies).store.findings).toEqual([])
  const alarms = async (who: typeof priya) =>
    ((await (await who.ask('/api/copies/alarms')).json()) as CopyAlarm[]).map(({ is }) => is)
  expect(await alarms(priya)).toContain('store')
  expect(await alarms(ben)).not.toContain('store')
  // Told once; what is damaged is tried again, and is well as soon as a copy has it.
  const tried = later(16.5)
  expect(
    await checkStore({ database: office.database, contents: openContents() }, reachable, {
      days: 7,
      now: tried,
      onFault: (error) => told.push(error),
    }),
  ).toBe(1)
  expect(told).toHaveLength(2)
  writeFileSync(join(network, 'Waterways/data', two.file.name), paper(52, 333))
  await check(17)
  expect(await isWell(paper(52, 333))).toBe(true)
  const { findings } = await store()
  expect(findings.map(({ damaged }) => damaged)).toEqual([false, false])
  const sha256s = findings.map(({ sha256 }) => sha256)
  await ben.json('/api/copies/mended/seen', 'POST', { sha256s })
  expect((await store()).findings).toHaveLength(2)
  await priya.json('/api/copies/mended/seen', 'POST', { sha256s })
  expect((await store()).findings).toEqual([])
})
