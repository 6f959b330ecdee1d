// Brings back all that copies hold into a Jaula that has nothing yet: the same files, versions, names, rules and people
// under the same identities. All of it, or nothing.
import { createHash, randomBytes } from 'node:crypto'
import type { DataSource, EntityManager } from 'typeorm'
import { z } from 'zod'
import { readManifest } from '../../core/copies/bag'
import { settle } from '../../core/copies/settle'
import { nameKey } from '../../core/naming/check'
import { say } from '../../core/words/said'
import { hashPassword } from '../accounts/service'
import type { Received } from '../requests/upload'
import { execute, select, selectOne } from '../sql/rows'
import { storeContent } from '../storage/content'
import { copiesIn, names } from './copy'
import { CopyFault } from './fault'
import type { CopyFolder } from './folder'

export interface Restored {
  shares: string[]
  files: number
  versions: number
  bytes: number
  /** What each person signs in with now; those of before are in no copy. */
  passwords: { handle: string; name: string; password: string }[]
  /** What moved between two copyings, and is elsewhere than it was or under another name. */
  settled: { name: string; now: string }[]
}

const Line = z.union([
  z.object({ jaula: z.literal(1), share: z.uuid(), at: z.iso.datetime() }),
  z.object({ table: z.string(), row: z.record(z.string(), z.unknown()) }),
])
type Row = Record<string, unknown>

/** Tables in an order in which each row finds what it names; only these are taken from a copy. */
const order = [
  'person',
  'person_group',
  'group_member',
  'share',
  'entry',
  'realm',
  'access_grant',
  'version',
  'removed_version',
  'kept_version',
  'taken_from',
  'former_name',
  'controlled_list',
  'convention',
  'convention_version',
  'counter',
  'counter_number',
  'template',
  'place_protection',
  'retention',
  'retention_hold',
] as const
type Table = (typeof order)[number]
const rowsAtOnce = 2000
/** Files that are read whole; larger ones are read a second time while they are stored. */
const heldSize = 8 << 20

/** Rows of a copy by their tables. @throws CopyFault */
export async function recordsOf(bag: CopyFolder): Promise<{ at: string; rows: Map<Table, Row[]> }> {
  const text = await bag.text(names.records, 1 << 30)
  const fault = () => new CopyFault(say('copies.not-a-copy', { folder: bag.name }))
  if (text === null) throw fault()
  const rows = new Map<Table, Row[]>()
  let at = ''
  for (const line of text.split('\n')) {
    if (!line) continue
    let read: z.output<typeof Line>
    try {
      read = Line.parse(JSON.parse(line))
    } catch {
      throw fault()
    }
    if ('jaula' in read) {
      at = read.at
      continue
    }
    const table = order.find((one) => one === (read as { table: string }).table)
    if (!table) throw fault()
    const there = rows.get(table)
    if (there) there.push(read.row)
    else rows.set(table, [read.row])
  }
  return { at, rows }
}

/** Puts rows into a table as they were; what the database makes itself is left to it. */
async function put(manager: EntityManager, table: Table, rows: readonly Row[]): Promise<void> {
  const columns = await select(
    manager,
    z.object({ name: z.string() }),
    `select attname as name from pg_attribute where attrelid = $1::regclass and attnum > 0 and not attisdropped
     and attgenerated = '' and attidentity = ''`,
    [table],
  )
  const known = columns.map(({ name }) => name).filter((name) => rows.some((row) => name in row))
  const listed = known.map((name) => `"${name}"`).join(', ')
  for (let from = 0; from < rows.length; from += rowsAtOnce)
    await execute(
      manager,
      `insert into ${table} (${listed}) select ${listed} from jsonb_populate_recordset(null::${table}, $1::jsonb) on conflict do nothing`,
      [JSON.stringify(rows.slice(from, from + rowsAtOnce))],
    )
}

/** What is in a file, to be stored: only when it is what its manifest says. */
export async function receivedFrom(bag: CopyFolder, path: string, sha256: string): Promise<Received | null> {
  const hash = createHash('sha256')
  const held: Buffer[] = []
  let size = 0
  for await (const piece of bag.read(path)) {
    hash.update(piece)
    size += piece.length
    if (size <= heldSize) held.push(piece)
  }
  const digest = hash.digest()
  if (digest.toString('hex') !== sha256) return null
  const whole = size <= heldSize ? Buffer.concat(held) : null
  return {
    size,
    digest,
    held: whole,
    async *pieces(pieceOf) {
      if (whole) for (let from = 0; from < whole.length; from += pieceOf) yield whole.subarray(from, from + pieceOf)
      else yield* inPieces(bag.read(path), pieceOf, digest)
    },
    async discard() {},
  }
}
/** @throws CopyFault when it is not what was read before */
async function* inPieces(from: AsyncIterable<Buffer>, size: number, digest: Buffer): AsyncGenerator<Buffer> {
  const hash = createHash('sha256')
  let open: Buffer = Buffer.alloc(0)
  for await (const piece of from) {
    hash.update(piece)
    open = Buffer.concat([open, piece])
    for (; open.length >= size; open = open.subarray(size)) yield open.subarray(0, size)
  }
  if (!hash.digest().equals(digest)) throw new CopyFault(say('copies.changed-meanwhile'))
  if (open.length) yield open
}

/** @throws CopyFault where there is something already */
async function requireEmpty(manager: EntityManager): Promise<void> {
  const { full } = await selectOne(
    manager,
    z.object({ full: z.boolean() }),
    'select exists(select from share) or exists(select from person) or exists(select from entry) as full',
  )
  if (full) throw new CopyFault(say('copies.not-empty'))
}

/**
 * @param database as the role that owns it: rows come as they were
 * @param report is told of each content that was taken in
 * @throws CopyFault naming what is missing or damaged; the database is as empty as before then
 */
export async function restoreFrom(
  database: DataSource,
  site: CopyFolder,
  report: (done: number) => void = () => {},
): Promise<Restored> {
  const bags = await Promise.all([...(await copiesIn(site)).values()].sort().map((name) => site.within(name)))
  if (!bags.length) throw new CopyFault(say('copies.not-a-copy', { folder: site.name }))
  return database.transaction(async (manager) => {
    await requireEmpty(manager)
    const restored: Restored = { shares: [], files: 0, versions: 0, bytes: 0, passwords: [], settled: [] }
    const all = new Map<Table, Row[]>(order.map((table) => [table, []]))
    const there = new Set<string>()
    const damaged: string[] = []
    const records: Awaited<ReturnType<typeof recordsOf>>[] = []
    for (const bag of bags) {
      const manifest = await bag.text(names.manifest)
      if (manifest === null) throw new CopyFault(say('copies.not-a-copy', { folder: bag.name }))
      records.push(await recordsOf(bag))
      for (const [path, sha256] of readManifest(manifest)) {
        if (there.has(sha256)) continue
        const received = await receivedFrom(bag, path, sha256).catch((error) => {
          if ((error as NodeJS.ErrnoException).code === 'ENOENT') return null
          throw error
        })
        if (!received) {
          damaged.push(path)
          continue
        }
        await storeContent(manager, received)
        there.add(sha256)
        restored.bytes += received.size
        report(there.size)
      }
    }
    // What moved from one share to another between two copyings is in both: the later one is right.
    for (const { rows } of records.sort((a, b) => (a.at < b.at ? 1 : -1)))
      for (const [table, some] of rows) for (const row of some) all.get(table)!.push(row)
    for (const table of ['entry', 'version'] as const) all.set(table, onceEach(all.get(table)!))
    const versions = all.get('version')!
    const missing = versions.filter(({ sha256 }) => !there.has(String(sha256).replace(/^\\x/, '')))
    if (missing.length)
      throw new CopyFault(
        say('copies.versions-missing', { n: missing.length, damaged: damaged.length, paths: damaged.slice(0, 20) }),
      )
    await putAll(manager, all, restored)
    for (const { name } of all.get('share')!) restored.shares.push(String(name))
    restored.files = all.get('entry')!.filter(({ kind }) => kind === 'file').length
    restored.versions = versions.length
    return restored
  })
}

async function putAll(manager: EntityManager, all: Map<Table, Row[]>, restored: Restored): Promise<void> {
  const people = new Map(all.get('person')!.map((row) => [String(row.id), row]))
  for (const row of people.values()) {
    const password = randomBytes(12).toString('base64url')
    row.password_hash = await hashPassword(password)
    restored.passwords.push({ handle: String(row.handle), name: String(row.name), password })
  }
  all.set('person', [...people.values()])
  const versions = new Set(all.get('version')!.map(({ id }) => id))
  const conventions = new Set(all.get('convention')!.map(({ id }) => id))
  // A copy's origin may be in a share that has no copy, and a template's convention may be gone.
  const origins = new Map<unknown, unknown>()
  for (const row of all.get('entry')!) {
    if (versions.has(row.origin_version_id)) origins.set(row.id, row.origin_version_id)
    row.origin_version_id = null
  }
  for (const row of all.get('template')!) if (!conventions.has(row.convention_id)) row.convention_id = null
  for (const table of order) {
    const rows = all.get(table)!
    if (rows.length) await put(manager, table, table === 'entry' ? topDown(rows, restored) : rows)
  }
  const pairs = JSON.stringify([...origins].map(([id, origin]) => ({ id, origin })))
  await execute(
    manager,
    `update entry set origin_version_id = o.origin from jsonb_to_recordset($1::jsonb) as o(id uuid, origin uuid) where entry.id = o.id`,
    [pairs],
  )
}

/** Of rows with one identity the first. */
function onceEach(rows: readonly Row[]): Row[] {
  const known = new Map<unknown, Row>()
  for (const row of rows) if (!known.has(row.id)) known.set(row.id, row)
  return [...known.values()]
}

/** Folders before what lies in them; what moved between two copyings has a place and a name of its own all the same. */
function topDown(rows: readonly Row[], restored: Restored): Row[] {
  const byId = new Map(rows.map((row) => [String(row.id), row]))
  const { settled, changed } = settle(
    rows.map((row) => ({
      id: String(row.id),
      shareId: String(row.share_id),
      folderId: row.folder_id === null ? null : String(row.folder_id),
      name: String(row.name),
    })),
    (id) => byId.get(id)?.kind === 'folder',
  )
  return settled.map(({ id, shareId, folderId, name }) => {
    const row = byId.get(id)!
    if (name !== row.name || folderId !== row.folder_id) restored.settled.push({ name: String(row.name), now: name })
    return changed.has(id) ? { ...row, share_id: shareId, folder_id: folderId, name, name_key: nameKey(name) } : row
  })
}
