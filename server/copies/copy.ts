// Brings a copy of a share to what the share is: payload first, the manifest in batches after it, so that whatever is cut
// off is found and finished by the next one.
import { createHash } from 'node:crypto'
import { setTimeout as later } from 'node:timers/promises'
import pLimit from 'p-limit'
import type { DataSource } from 'typeorm'
import { z } from 'zod'
import {
  BadBag,
  csvOf,
  declaration,
  infoOf,
  manifestOf,
  oxumOf,
  payloadFolder,
  readInfo,
  readManifest,
} from '../../core/copies/bag'
import { bring, type Step } from '../../core/copies/bring'
import { layOut, type Placed, plain } from '../../core/copies/layout'
import { type Extent, type Holding, holdingIn } from '../../core/copies/plan'
import { nameKey } from '../../core/naming/check'
import { say } from '../../core/words/said'
import { copiesOfFolder } from '../sql/locks'
import { execute, selectOne } from '../sql/rows'
import { type Contents, isDamage } from '../storage/content'
import { type Facts, factsOf } from './facts'
import { CopyFault } from './fault'
import { type CopyFolder, summed } from './folder'
import { isGone } from './grounds/ground'

/** What a copy is made of beside its payload. */
export const names = {
  declaration: 'bagit.txt',
  info: 'bag-info.txt',
  manifest: 'manifest-sha256.txt',
  tags: 'tagmanifest-sha256.txt',
  table: 'versions.csv',
  records: 'records.jsonl',
  /** What a copying that goes on is about to change: after a crash the manifest is not believed of it. */
  underWay: 'under-way.txt',
} as const
/** The manifest is never older than this, in milliseconds, while files come. */
const longestBatch = 60_000
const stepsInBatch = 2000
/** Steps between two looks at the time, and files that are written at once. */
const together = 64
const atOnce = pLimit(6)

/** Somebody else copies to the same place at the moment. */
export class OtherCopying extends CopyFault {}

export interface Copied {
  shareId: string
  /** It came to its end; otherwise the next copying goes on. */
  whole: boolean
  share: string
  /** The moment that it shows. */
  at: Date
  /** What was sent, and how long that took, in milliseconds. */
  sent: number
  took: number
  /** Where it is: the folder's own name. */
  folder: string
  files: number
  versions: number
  bytes: number
  written: number
  moved: number
  removed: number
  /** What is in it of each file. */
  latest: Map<string, Held>
  /** Names that had to be others there, by path. */
  renamed: Map<string, string>
  /** Versions that are not in the copy, because the store could not give them. */
  unread: Placed[]
  /** What lies among the files and is not Jaula's: it was left alone. */
  strays: string[]
}

/** The newest version of a file that is in a copy, and which earlier ones are with it. */
export interface Held {
  number: number
  extent: Extent
  backDays: number | null
}

export interface Copying extends Holding {
  /** What holds in folders that have a plan of their own, and below them. */
  folders: ReadonlyMap<string, Holding>
  /** How fast it may be, in bytes a second; null for as fast as it goes. */
  mostRate: number | null
  now: Date
  /** Is told of each batch: what is done, and what there is to do. */
  report: (done: number, all: number) => void
  /** Whether to leave the rest to the next one. */
  stopped: () => boolean
  /** Waited for now and then, so that people are not held up. */
  pause: () => Promise<void>
}

/** The share's identity in `bag-info.txt`. */
const identity = 'external-identifier'

/** Whose a copy is when what says so is missing: where a place cannot write over a file at once, that may be cut off. */
async function shareOfRecords(site: CopyFolder, folder: string): Promise<string | undefined> {
  try {
    for await (const piece of site.read(`${folder}/${names.records}`)) {
      const [first = ''] = piece.toString('utf8').split('\n', 1)
      return z.object({ jaula: z.number(), share: z.uuid() }).parse(JSON.parse(first)).share
    }
  } catch (error) {
    if (!isGone(error) && !(error instanceof z.ZodError) && !(error instanceof SyntaxError)) throw error
  }
  return undefined
}

/** @returns the copies in a folder, by the share that each is of */
export async function copiesIn(site: CopyFolder): Promise<Map<string, string>> {
  const found = new Map<string, string>()
  for (const folder of await site.folders()) {
    const info = await site.text(`${folder}/${names.info}`, 1 << 20)
    const share = info === null ? await shareOfRecords(site, folder) : readInfo(info).get(identity)
    if (share) found.set(share, folder)
  }
  return found
}

/** The folder of a share's copy: under the share's name as it is now, where nothing else is. */
async function folderOf(site: CopyFolder, share: Facts['share']): Promise<string> {
  const wanted = plain(share.name)
  const there = (await copiesIn(site)).get(share.id)
  if (there === wanted) return there
  const taken = (await site.folders()).some((name) => name !== there && nameKey(name) === nameKey(wanted))
  if (there !== undefined) {
    // The share has another name since.
    if (taken || !(await site.move(there, wanted))) return there
    await site.settle()
    return wanted
  }
  // One that was begun, and cut off before it said whose it is, has nothing in it.
  if (taken && !(await site.isEmpty(wanted)))
    throw new CopyFault(say('copies.something-else-is-there', { folder: wanted }))
  return wanted
}

/** What a copy has, as far as it can be believed. @param sizes is given those of contents that are not wanted any more */
async function present(
  bag: CopyFolder,
  sizes: Map<string, number>,
): Promise<{ there: Map<string, string>; strays: string[] }> {
  await bag.clear()
  const text = await bag.text(names.manifest)
  let listed = new Map<string, string>()
  let believed = text !== null
  try {
    if (text !== null) listed = readManifest(text)
  } catch (error) {
    if (!(error instanceof BadBag)) throw error
    believed = false
  }
  const doubted = new Set(
    (await bag.text(names.underWay))
      ?.split('\n')
      .filter(Boolean)
      .map((line) => JSON.parse(line) as string) ?? [],
  )
  const there = new Map<string, string>()
  const strays: string[] = []
  for await (const { path, size } of bag.files('data')) {
    const sha256 = listed.get(path)
    if (believed && sha256 !== undefined && !doubted.has(path)) {
      const known = sizes.get(sha256)
      if (known === undefined) sizes.set(sha256, size)
      if (known === undefined || known === size) there.set(path, sha256)
    } else if (!believed || doubted.has(path)) {
      const own = (await bag.sum(path))!
      there.set(path, own.sha256)
      sizes.set(own.sha256, own.size)
    } else strays.push(path)
  }
  return { there, strays }
}

/**
 * @throws CopyFault, or what the file system says; what was copied until then stays, and is gone on from
 */
export async function copyShare(
  { database, contents }: { database: DataSource; contents: Contents },
  site: CopyFolder,
  shareId: string,
  {
    extent = 'all',
    backDays = null,
    folders = new Map(),
    mostRate = null,
    now = new Date(),
    report = () => {},
    stopped = () => false,
    pause = async () => {},
  }: Partial<Copying> = {},
): Promise<Copied | null> {
  const lock = database.createQueryRunner()
  try {
    const { mine } = await selectOne(
      lock,
      z.object({ mine: z.boolean() }),
      'select pg_try_advisory_lock($1, hashtext($2)) as mine',
      [copiesOfFolder, site.root],
    )
    if (!mine) throw new OtherCopying(say('copies.another-copying-is-under-way', { folder: site.root }))
    return await brought({ database, contents }, site, shareId, {
      extent,
      backDays,
      folders,
      mostRate,
      now,
      report,
      stopped,
      pause,
    })
  } finally {
    // A connection that is gone holds nothing any more.
    await execute(lock, 'select pg_advisory_unlock($1, hashtext($2))', [copiesOfFolder, site.root]).catch(() => {})
    await lock.release()
  }
}

async function brought(
  { database, contents }: { database: DataSource; contents: Contents },
  site: CopyFolder,
  shareId: string,
  { extent, backDays, folders, mostRate, now, report, stopped, pause }: Copying,
): Promise<Copied | null> {
  const facts = await database.transaction('REPEATABLE READ', (manager) => factsOf(manager, shareId))
  if (!facts) return null
  const holding = holdingIn(facts.folders, { extent, backDays }, folders)
  const { placed, renamed } = layOut(facts.folders, facts.files, holding, now)
  const files = facts.files.filter(({ folderId }) => holding(folderId).extent !== 'nothing')
  facts.records = recordsOf(facts, files, new Set(placed.map(({ versionId }) => versionId)))
  const folder = await folderOf(site, facts.share)
  const bag = await site.within(folder)
  const wanted = new Map(placed.map(({ path, sha256 }) => [path, sha256]))
  const sizes = new Map(placed.map(({ sha256, size }) => [sha256, size]))
  const { there, strays } = await present(bag, sizes)
  const copied: Copied = {
    shareId,
    share: facts.share.name,
    at: now,
    sent: 0,
    took: 0,
    whole: true,
    latest: new Map(),
    folder,
    files: files.length,
    versions: placed.length,
    bytes: placed.reduce((sum, { size }) => sum + size, 0),
    written: 0,
    moved: 0,
    removed: 0,
    renamed,
    unread: [],
    strays,
  }
  const tags = new BagTags(bag, facts, now)
  await tags.begin(placed, renamed)
  // What was doubted is known now: it is written down before other doubts take its place.
  await tags.write(there, sizes)
  const steps = bring(there, wanted)
  let bytesOf = (sha256: Buffer) => contents.read(database.manager, sha256)
  /** Whether it is our own store that cannot give a content; that is looked at only where something went wrong. */
  const oursToBlame = async (error: unknown, sha256: string): Promise<boolean> => {
    if (isDamage(error)) return true
    if (!(error instanceof CopyFault)) return false
    return summed(contents.sound(database.manager, Buffer.from(sha256, 'hex'))).then(
      () => false,
      (why) => {
        if (isDamage(why)) return true
        throw why
      },
    )
  }
  const missing = new Set<string>()
  const take = async (step: Step): Promise<void> => {
    switch (step.do) {
      case 'remove':
        await bag.remove(step.path)
        there.delete(step.path)
        copied.removed++
        return
      case 'move':
        if (await bag.move(step.from, step.to)) {
          there.delete(step.from)
          there.set(step.to, step.sha256)
          copied.moved++
          return
        }
        there.delete(step.from)
        break
      case 'copy': {
        const own = await bag.sum(step.from)
        if (own?.sha256 === step.sha256) {
          copied.sent += (await bag.write(step.to, bag.read(step.from), step.sha256)).size
          there.set(step.to, step.sha256)
          copied.written++
          return
        }
        break
      }
      case 'write':
    }
    try {
      copied.sent += (await bag.write(step.to, bytesOf(Buffer.from(step.sha256, 'hex')), step.sha256)).size
      there.set(step.to, step.sha256)
      copied.written++
    } catch (error) {
      // The store has it no more, or has it damaged: everything else is copied all the same.
      if (!(await oursToBlame(error, step.sha256))) throw error
      missing.add(step.to)
    }
  }
  const started = performance.now()
  for (let next = 0; next < steps.length; ) {
    const from = next
    const batch = steps.slice(from, from + stepsInBatch)
    const touched = batch.flatMap((step) =>
      step.do === 'remove' ? [step.path] : step.do === 'write' ? [step.to] : [step.from, step.to],
    )
    await bag.writeText(names.underWay, touched.map((path) => `${JSON.stringify(path)}\n`).join(''))
    await bag.settle()
    const began = performance.now()
    // What is moved goes first, in its order; what is written waits for nothing but the place that it goes to.
    while (performance.now() - began < longestBatch && !stopped()) {
      await pause()
      const rest = batch.slice(next - from, next - from + together)
      if (!rest.length) break
      // One kind at a time: what is written is written at once with the others, behind what is moved.
      const isWrite = rest[0]!.do === 'write'
      const other = rest.findIndex((step) => (step.do === 'write') !== isWrite)
      const group = other < 0 ? rest : rest.slice(0, other)
      const contentsOf = group.flatMap((step) => (step.do === 'write' ? [Buffer.from(step.sha256, 'hex')] : []))
      if (contentsOf.length > 1) bytesOf = await contents.ahead(database.manager, contentsOf)
      if (isWrite) await all(group.map((step) => atOnce(() => take(step))))
      else for (const step of group) await take(step)
      next += group.length
      copied.took = performance.now() - started
      if (mostRate) await slowly(copied, mostRate, stopped)
    }
    await bag.settle()
    await tags.write(there, sizes)
    report(next, steps.length)
    if (stopped() && next < steps.length) {
      copied.whole = false
      return copied
    }
  }
  await tags.write(there, sizes)
  await bag.remove(names.underWay)
  await bag.settle()
  copied.unread = placed.filter(({ path }) => missing.has(path))
  const whole = new Set(placed.flatMap(({ path, versionId }) => (missing.has(path) ? [] : [versionId])))
  for (const { id, folderId, versions } of files) {
    const newest = versions.findLast((version) => whole.has(version.id))
    const { extent, backDays } = holding(folderId)
    if (newest && extent !== 'nothing') copied.latest.set(id, { number: newest.number, extent, backDays })
  }
  return copied
}

/** What is said of files that are not copied at all. */
const ofFile: Record<string, string> = {
  entry: 'id',
  realm: 'entry_id',
  former_name: 'entry_id',
  retention_hold: 'entry_id',
  counter_number: 'file_id',
  removed_version: 'file_id',
}
/** What a copy tells beside the files that it holds: of those that it does not, nothing. */
function recordsOf(facts: Facts, files: Facts['files'], held: ReadonlySet<string>): Facts['records'] {
  const left = new Set(facts.files.map(({ id }) => id))
  for (const { id } of files) left.delete(id)
  const realms = new Set<unknown>()
  return facts.records.flatMap((record) => {
    const { table, row } = record
    if (left.has(String(row[ofFile[table] ?? '']))) {
      if (table === 'realm') realms.add(row.id)
      return []
    }
    if (table === 'access_grant' && realms.has(row.realm_id)) return []
    return recordOf(record, held) ?? []
  })
}

/** What a copy says of a version that it does not hold is nothing; what came of it began with it. */
function recordOf(
  { table, row }: Facts['records'][number],
  held: ReadonlySet<string>,
): Facts['records'][number] | null {
  const has = (id: unknown) => held.has(String(id))
  if (table === 'version') {
    if (!has(row.id)) return null
    return row.base_version_id === null || has(row.base_version_id)
      ? { table, row }
      : { table, row: { ...row, base_version_id: null } }
  }
  if (table === 'kept_version' || table === 'taken_from' || table === 'template')
    return has(row.version_id) ? { table, row } : null
  return { table, row }
}

/** Waits until what was sent is no more than may be sent by now. */
async function slowly({ sent, took }: Copied, mostRate: number, stopped: () => boolean): Promise<void> {
  const due = performance.now() + (sent / mostRate) * 1000 - took
  for (let left = due - performance.now(); left > 0 && !stopped(); left = due - performance.now())
    await later(Math.min(left, 500))
}

const sha256Of = (text: string): string => createHash('sha256').update(text).digest('hex')
const both = (one: Promise<void>, other: Promise<void>): Promise<void> => all([one, other])

/** Waits for all of them, also where one fails: nothing goes on behind whoever is told of it. */
async function all(doings: readonly Promise<void>[]): Promise<void> {
  for (const ended of await Promise.allSettled(doings)) if (ended.status === 'rejected') throw ended.reason
}

/** The files of a bag that are about it. */
class BagTags {
  private readonly sums = new Map<string, string>()
  private written: string | null = null
  constructor(
    private readonly bag: CopyFolder,
    private readonly facts: Facts,
    private readonly now: Date,
  ) {}

  /** What is known of the share comes first: with it even a copy that was cut off tells what it has. */
  async begin(placed: readonly Placed[], renamed: ReadonlyMap<string, string>): Promise<void> {
    const { share, files, labels, reasons, records } = this.facts
    const versions = new Map(files.flatMap((file) => file.versions.map((one) => [one.id, { file, one }] as const)))
    const rows = placed.map(({ path, versionId, sha256, size }) => {
      const { file, one } = versions.get(versionId)!
      const { number, author, at } = one
      return [
        file.name,
        number,
        author,
        at,
        reasons.get(versionId) ?? '',
        labels.get(versionId) ?? '',
        size,
        path.slice(payloadFolder.length),
        renamed.has(path) ? 'yes' : '',
        sha256,
      ]
    })
    const head = [
      'Name',
      'Version',
      'Author',
      'Saved (UTC)',
      'Reason',
      'Label',
      'Bytes',
      'Place',
      'Renamed here',
      'SHA-256',
    ]
    // Whose it is comes first of all, so that one that is cut off is known again.
    if ((await this.bag.text(names.info)) === null) await this.about(0, 0)
    await this.put(names.declaration, declaration)
    // Also of a share that has nothing yet (RFC 8493, §2.1.2).
    await this.bag.within('data')
    // A spreadsheet takes it for UTF-8 by its first sign.
    const lines = [{ jaula: 1, share: share.id, at: this.now.toISOString() }, ...records]
    await both(
      this.put(names.table, `\uFEFF${csvOf([head, ...rows])}`),
      this.put(names.records, lines.map((line) => `${JSON.stringify(line)}\n`).join('')),
    )
  }
  private about(bytes: number, files: number): Promise<void> {
    const { share } = this.facts
    return this.put(
      names.info,
      infoOf([
        ['External-Identifier', share.id],
        ['External-Description', share.name],
        ['Bagging-Date', this.now.toISOString().slice(0, 10)],
        ['Payload-Oxum', oxumOf(bytes, files)],
        ['Bag-Software-Agent', 'Jaula'],
      ]),
    )
  }
  /** What stands there already, word for word, is not written again. */
  private async put(name: string, text: string): Promise<void> {
    const there = await this.bag.text(name)
    this.sums.set(name, there === text ? sha256Of(text) : (await this.bag.writeText(name, text)).sha256)
  }

  /** @param there the payload as it is now */
  async write(there: ReadonlyMap<string, string>, sizes: ReadonlyMap<string, number>): Promise<void> {
    const manifest = manifestOf(there)
    if (manifest === this.written) return
    let bytes = 0
    for (const sha256 of there.values()) bytes += sizes.get(sha256) ?? 0
    await both(this.put(names.manifest, manifest), this.about(bytes, there.size))
    await this.bag.writeText(names.tags, manifestOf(this.sums))
    await this.bag.settle()
    this.written = manifest
  }
}
