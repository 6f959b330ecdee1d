// The history store on series of a hundred versions: what they take beside plain copies and beside the best
// general deltas, how long a save and a read take beside the bare database, and how much memory.

import { execFileSync } from 'node:child_process'
import { createHash, randomBytes, randomUUID } from 'node:crypto'
import { mkdtempSync, readFileSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { unzipSync, zipSync } from 'fflate'
import pg from 'pg'
import { unbounded } from '../server/counts/quotas'
import 'reflect-metadata'
import type { Saved } from '../core/contract'
import { openDatabase } from '../server/database'
import { keepVersion } from '../server/saving/keep'
import { openContents } from '../server/storage/content'
import { moveContents } from '../server/storage/move'
import { workInThreads } from '../server/storage/threads'
import { median, report } from './report'
import { docxSeries, editedDocx, editedXlsx, foreignSeries, odtSeries, xlsxSeries } from './series'

const suite = 'history'
const versions = Number(process.env.BENCH_VERSIONS ?? 100)
const url = process.env.BENCH_DATABASE_URL!
const scratch = mkdtempSync(join(tmpdir(), 'jaula-history-'))
const threads = workInThreads(
  new URL('../server/history.worker.js', new URL(`file://${fileURLToPath(import.meta.url)}`)),
)
const contents = openContents(threads)
const database = await openDatabase(url)
const bare = new pg.Client({ connectionString: url })
await bare.connect()
await bare.query('create table if not exists bare_file (id uuid primary key, bytes bytea not null)')
await bare.query('alter table bare_file alter column bytes set storage external')

const digestOf = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest()
const [person] = await database.query("select id from person where handle = 'priya'")
const [share] = await database.query(
  "select realm_id as id from access_grant where person_id = $1 and role = 'manage' limit 1",
  [person.id],
)
/** Saves a file's first or next version as any save does, and has the store settle. */
async function save(bytes: Buffer, earlier: Saved | null, name: string): Promise<Saved> {
  return keepVersion(database, unbounded, {
    personId: person.id,
    bytes,
    reason: 'saved',
    key: randomUUID(),
    target: earlier
      ? { fileId: earlier.file.id, baseId: earlier.version.id }
      : { place: { shareId: share.id, folderId: null, name } },
  })
}
/** Bytes of rows and what PostgreSQL puts around each; indexes are not counted, on neither side. */
async function taken(): Promise<number> {
  const [row] = await database.query(
    `select (select coalesce(sum(octet_length(bytes) + 32 + 4 + 4 + 8 + 28 + coalesce(array_length(roots, 1) * 4 + 24, 0)), 0) from chunk)
      + (select coalesce(sum(octet_length(bytes)), 0) from content_block)
      + (select coalesce(sum(pg_column_size(chunks) + 32 + 8 + 8 + 28), 0) from content) as bytes`,
  )
  return Number(row.bytes)
}
/** Has all that is in the database settle, so that nothing else gets smaller while a series is measured. */
async function settle(): Promise<void> {
  for (;;) {
    await moveContents(database, contents)
    const [{ waiting }] = await database.query('select count(*)::int as waiting from content where chunks is null')
    if (!waiting) return
    await new Promise((resolve) => setTimeout(resolve, 100))
  }
}
/** What zstd takes: the first version's opened parts packed, then each against the one before it. */
class Deltas {
  bytes = 0
  private first = true
  add(file: Buffer): void {
    const now = join(scratch, 'now')
    const before = join(scratch, 'before')
    const out = join(scratch, 'out')
    writeFileSync(now, Buffer.concat(Object.values(unzipSync(file)).map((part) => Buffer.from(part))))
    const how = this.first ? [] : ['--long=27', `--patch-from=${before}`]
    execFileSync('zstd', ['-q', '-f', ...how, now, '-o', out])
    this.bytes += statSync(out).size
    this.first = false
    renameSync(now, before)
  }
}

const saves: number[] = []
const bareSaves: number[] = []
const moves: number[] = []
const only = process.env.BENCH_SERIES?.split(',')
async function series(name: string, files: Iterable<Buffer>, timed = false): Promise<void> {
  if (only && !only.includes(name)) return
  await settle()
  const before = await taken()
  const deltas = new Deltas()
  let copies = 0
  let saved: Saved | null = null
  const digests: Buffer[] = []
  for (const file of files) {
    copies += file.length
    deltas.add(file)
    globalThis.gc?.()
    let begun = performance.now()
    saved = await save(
      file,
      saved,
      `${randomUUID()}.${name.includes('xlsx') ? 'xlsx' : name === 'odt' ? 'odt' : 'docx'}`,
    )
    const took = performance.now() - begun
    begun = performance.now()
    await moveContents(database, contents)
    moves.push(performance.now() - begun)
    begun = performance.now()
    if (timed) {
      await bare.query('insert into bare_file values ($1, $2)', [randomUUID(), file])
      if (digests.length) {
        saves.push(took)
        bareSaves.push(performance.now() - begun)
      }
    }
    digests.push(Buffer.from(saved.version.sha256, 'hex'))
  }
  await settle()
  const bytes = (await taken()) - before
  const unit = `bytes for ${digests.length} versions of ${copies} bytes`
  report({ suite, case: `size-${name}-copies`, value: bytes, unit, baseline: copies, better: 'lower' })
  report({ suite, case: `size-${name}-deltas`, value: bytes, unit, baseline: deltas.bytes, better: 'lower' })
  if (!timed) return
  // Any version: the first, the last, and others at random.
  const reads: number[] = []
  const bareReads: number[] = []
  const { rows } = await bare.query('select id from bare_file')
  // As in a server that has been running: both have read before.
  for (let warm = 0; warm < 24; warm++) {
    await contents.whole(database.manager, digests[(warm * 29) % digests.length]!)
    await bare.query('select bytes from bare_file where id = $1', [rows[(warm * 29) % rows.length]!.id])
  }
  for (const index of [0, digests.length - 1, ...Array.from({ length: 28 }, (_, at) => (at * 37) % digests.length)]) {
    globalThis.gc?.()
    let begun = performance.now()
    const whole = await contents.whole(database.manager, digests[index]!)
    reads.push(performance.now() - begun)
    if (!digestOf(whole).equals(digests[index]!)) throw new Error('A version did not read back as it was.')
    begun = performance.now()
    await bare.query('select bytes from bare_file where id = $1', [rows[index]!.id])
    bareReads.push(performance.now() - begun)
  }
  const spread = `ms, first ${reads[0]!.toFixed(0)}, last ${reads[1]!.toFixed(0)}`
  const settled = `ms; in the store for good after ${median(moves).toFixed(0)} more`
  report({ suite, case: 'save-1mb', value: median(saves), unit: settled, baseline: median(bareSaves), better: 'lower' })
  report({ suite, case: 'read-any', value: median(reads), unit: spread, baseline: median(bareReads), better: 'lower' })
}

/** How far the memory of this process rises while a file is saved, moved into the store and read back. */
async function measureMemory(path: string): Promise<void> {
  const large = readFileSync(path)
  globalThis.gc?.()
  const resting = process.memoryUsage.rss()
  let peak = resting
  const watching = setInterval(() => {
    peak = Math.max(peak, process.memoryUsage.rss())
  }, 5)
  const { version } = await save(large, null, `${randomUUID()}.docx`)
  await moveContents(database, contents)
  const hash = createHash('sha256')
  for await (const piece of contents.read(database.manager, Buffer.from(version.sha256, 'hex'))) hash.update(piece)
  clearInterval(watching)
  if (hash.digest('hex') !== version.sha256) throw new Error('The large file did not read back as it was.')
  const unit = `MB over the ${Math.round(resting / 1e6)} MB of the process with the file`
  report({ suite, case: 'memory-100mb', value: (peak - resting) / 1e6, unit, baseline: 200, better: 'lower' })
}

async function measureSeries(): Promise<void> {
  await series('docx', docxSeries(versions, 3_300_000), true)
  await series('xlsx', xlsxSeries(versions, 76_000))
  await series('xlsx-200k', xlsxSeries(versions, 200_000))
  await series('odt', odtSeries(versions, 3_300_000))
  const foreign = await foreignSeries(versions)
  await series('foreign', foreign.docx)
  await series('foreign-xlsx', foreign.xlsx)
  await series('foreign-edited', editedDocx(foreign.docx[0]!, versions))
  await series('foreign-edited-xlsx', editedXlsx(foreign.xlsx[0]!, versions))

  // A hundred megabytes that hardly pack, half of them in a container's stream: in a process that did nothing else.
  const large = join(scratch, 'large')
  writeFileSync(
    large,
    zipSync({ 'word/media/scan': [randomBytes(50e6), { level: 0 }], 'word/document.xml': randomBytes(50e6) }),
  )
  execFileSync(process.execPath, ['--expose-gc', fileURLToPath(import.meta.url)], {
    env: { ...process.env, BENCH_MEMORY_OF: large },
    stdio: 'inherit',
  })
}

try {
  if (process.env.BENCH_MEMORY_OF) await measureMemory(process.env.BENCH_MEMORY_OF)
  else await measureSeries()
} finally {
  rmSync(scratch, { recursive: true, force: true })
  await bare.end()
  await database.destroy()
  await threads.close()
}
