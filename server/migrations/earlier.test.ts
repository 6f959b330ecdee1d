// An office of every earlier schema, brought up to date: its files, versions, unsaved work and rights are what they were,
// and work in it goes on.
import 'reflect-metadata'
import { createHash, randomUUID } from 'node:crypto'
import { deflateRawSync } from 'node:zlib'
import pg from 'pg'
import { DataSource } from 'typeorm'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { performAct, undoAct } from '../acts/acts'
import { unbounded } from '../counts/quotas'
import { entities, migrations } from '../database'
import { draftById } from '../drafts/service'
import { fileFacts } from '../files/facts'
import { placeContents } from '../files/places'
import { keepVersion } from '../saving/keep'
import { openContents } from '../storage/content'
import { makeDatabase } from '../testing'

const address = process.env.TEST_DATABASE_URL!
const admin = new pg.Client({ connectionString: address })
const made: string[] = []
beforeAll(() => admin.connect())
afterAll(async () => {
  for (const name of made) await admin.query(`drop database ${name} with (force)`)
  await admin.end()
})
const sha256 = (bytes: Buffer) => createHash('sha256').update(bytes).digest()
const [ida, priya, ben, share, folder, file, first, second, named, unnamed] = Array.from({ length: 10 }, () =>
  randomUUID(),
)
const texts = [Buffer.from('The lower gate was oiled. '.repeat(80)), Buffer.from('Levels at noon.')]

/** Inserts what the table has columns for: what came later is not said. */
async function insert(on: DataSource, table: string, row: Record<string, unknown>): Promise<void> {
  const columns: { name: string }[] = await on.query(
    `select column_name as name from information_schema.columns where table_schema = 'public' and table_name = $1`,
    [table],
  )
  const names = columns.map(({ name }) => name).filter((name) => name in row)
  if (!names.length) return
  const places = names.map((_, n) => `$${n + 1}`).join(', ')
  await on.query(
    `insert into ${table} (${names.map((name) => `"${name}"`).join(', ')}) values (${places})`,
    names.map((name) => row[name]),
  )
}

/** An office with a file of two versions in a folder, and two pieces of unsaved work, as that schema keeps them. */
async function furnish(on: DataSource): Promise<void> {
  for (const [id, handle] of [
    [ida, 'ida'],
    [priya, 'priya'],
    [ben, 'ben'],
  ])
    await insert(on, 'person', { id, handle, name: handle, password_hash: 'x' })
  await insert(on, 'share', { id: share, name: 'Waterways', name_key: 'waterways' })
  for (const [person, role] of [
    [ida, 'edit'],
    [priya, 'manage'],
  ]) {
    await insert(on, 'membership', { share_id: share, person_id: person, role })
    await insert(on, 'access_grant', { realm_id: share, person_id: person, role })
  }
  await on.transaction(async (transaction) => {
    const inside = { query: transaction.query.bind(transaction) } as DataSource
    const entry = { share_id: share, created_by: ida, realm_id: share }
    await insert(inside, 'entry', {
      ...entry,
      id: folder,
      kind: 'folder',
      name: 'Inspections',
      name_key: 'inspections',
    })
    for (const [n, bytes] of texts.entries()) {
      await insert(inside, 'content', { sha256: sha256(bytes), size: bytes.length })
      // One block that was worth packing, and one that was not.
      await insert(inside, 'content_block', {
        sha256: sha256(bytes),
        index: 0,
        packed: n === 0,
        bytes: n === 0 ? deflateRawSync(bytes) : bytes,
      })
    }
    const version = { file_id: file, type: 'txt', author_id: ida, reason: 'saved' }
    // Where the head's reference is checked at once, the version comes first; the file's is checked at the end.
    for (const [n, id] of [first, second].entries())
      await insert(inside, 'version', {
        ...version,
        id,
        number: n + 1,
        sha256: sha256(texts[n]!),
        size: texts[n]!.length,
        base_version_id: n ? first : null,
        request_key: randomUUID(),
      })
    await insert(inside, 'entry', {
      ...entry,
      id: file,
      kind: 'file',
      folder_id: folder,
      name: '2026-10-12_LK07_Gate.txt',
      name_key: '2026-10-12_lk07_gate.txt',
      type: 'txt',
      head_version_id: second,
    })
  })
  const draft = {
    person_id: ida,
    kind: 'document',
    device_id: randomUUID(),
    device_name: 'the gatehouse',
    born_at: new Date('2026-10-12T08:00:00Z'),
    journal_seq: 3,
    point_seq: 2,
    point_at: new Date('2026-10-12T08:01:00Z'),
    last_edit_at: new Date('2026-10-12T08:02:00Z'),
    opening: 'Gate',
    beyond: JSON.stringify({ edits: 3, charactersAdded: 3, charactersRemoved: 0, cells: 0 }),
    state: 'open',
    page: 'answers',
  }
  await insert(on, 'draft', { ...draft, id: named, file_id: file, base_version_id: second, head_version_id: second })
  await insert(on, 'draft', { ...draft, id: unnamed })
  for (const draftId of [named, unnamed])
    await insert(on, 'recovery_point', { draft_id: draftId, from_seq: 1, to_seq: 2, records: JSON.stringify(records) })
}
const records = [1, 2].map((seq) => ({ seq, at: 1_790_000_000_000 + seq, edit: { steps: [{ stepType: 'x', seq }] } }))

test.concurrent.each(migrations.map((migration, n) => [n, migration.name] as const))(
  'an office after migration %i, %s',
  async (at) => {
    const name = `test_${randomUUID().replaceAll('-', '')}`
    made.push(name)
    const { ownerUrl } = await makeDatabase(address, name)
    const open = async (some: typeof migrations): Promise<DataSource> => {
      const opened = await new DataSource({
        type: 'postgres',
        url: ownerUrl,
        entities,
        migrations: some,
        poolSize: 3,
      }).initialize()
      await opened.runMigrations({ transaction: 'each' })
      return opened
    }
    const before = await open(migrations.slice(0, at + 1))
    await furnish(before)
    await before.destroy()

    const database = await open(migrations)
    try {
      const { manager } = database
      // What there was is there.
      const facts = await fileFacts(manager, ida!, file!)
      expect(facts.file).toMatchObject({ name: '2026-10-12_LK07_Gate.txt', head: { id: second, number: 2 } })
      expect(facts.file.folderId).toBe(folder)
      expect(facts.versions.map(({ id, number }) => [id, number])).toEqual([
        [second, 2],
        [first, 1],
      ])
      for (const bytes of texts) expect(await openContents().whole(manager, sha256(bytes))).toEqual(bytes)
      // Its rights hold: who was a member sees it as before, and nobody else does.
      expect((await fileFacts(manager, priya!, file!)).share.role).toBe('manage')
      expect(facts.share.role).toBe('edit')
      await expect(fileFacts(manager, ben!, file!)).rejects.toMatchObject({ problem: { type: 'not-found' } })
      const place = await placeContents(manager, ida!, share!, folder!, {})
      expect([place.total, place.entries.map(({ id }) => id)]).toEqual([1, [file]])
      // Unsaved work is had with all its records, by a writer that nobody is yet.
      for (const draftId of [named!, unnamed!]) {
        const content = await draftById(manager, ida!, draftId)
        expect(content.lines.map((line) => JSON.parse(line))).toEqual(records)
        expect(content.draft).toMatchObject({ state: 'open', pointSeq: 2, journalSeq: 3, opening: 'Gate', epoch: 0 })
        expect(content.standing).toMatchObject({ pointSeq: 2, over: false })
      }
      // Work goes on: the next version, a new file, an act and its undoing.
      const next = await keepVersion(database, unbounded, {
        personId: ida!,
        bytes: Buffer.from('Levels in the evening.'),
        reason: 'saved',
        key: randomUUID(),
        target: { fileId: file!, baseId: second! },
      })
      expect(next.version).toMatchObject({ number: 3 })
      const added = await keepVersion(database, unbounded, {
        personId: ida!,
        bytes: texts[0]!,
        reason: 'saved',
        key: randomUUID(),
        target: { place: { shareId: share!, folderId: folder!, name: 'The same bytes.txt' } },
      })
      const act = randomUUID()
      await performAct(database, ida!, {
        id: act,
        what: 'rename',
        changes: [{ id: file!, from: '2026-10-12_LK07_Gate.txt', name: '2026-10-12_LK07_Gates.txt' }],
      })
      await undoAct(database, ida!, act)
      const later = await placeContents(manager, ida!, share!, folder!, {})
      expect(later.entries.map((one) => one.name).toSorted()).toEqual([
        '2026-10-12_LK07_Gate.txt',
        'The same bytes.txt',
      ])
      expect(added.file.folderId).toBe(folder)
      // What is counted is what there is.
      const [{ bytes, versions }] = await database.query(
        `select sum(size)::int as bytes, count(*)::int as versions from version`,
      )
      expect(versions).toBe(4)
      expect(bytes).toBe(texts[0]!.length * 2 + texts[1]!.length + 'Levels in the evening.'.length)
      // What was saved stays as it was saved.
      await expect(database.query(`update version set number = 9 where id = $1`, [first])).rejects.toThrow()
      await expect(database.query(`delete from content where sha256 = $1`, [sha256(texts[1]!)])).rejects.toThrow()
    } finally {
      await database.destroy()
    }
  },
)
