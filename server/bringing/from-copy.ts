// Single files out of a copy, into the Jaula that is there: what went for good comes as a file again, what was removed comes
// back, and what is other here gets the copy's version as its next one. Nothing of what is here is lost by it.
import { createHash } from 'node:crypto'
import type { DataSource, EntityManager } from 'typeorm'
import { uuidv7 } from 'uuidv7'
import { z } from 'zod'
import type { BroughtFiles, CopiedFiles, InCopy } from '../../core/contract'
import { splitExtension } from '../../core/naming/check'
import { SaidError, saidBy, say } from '../../core/words/said'
import { performAct } from '../acts/acts'
import { contentsOf } from '../copies/check'
import { copiesIn } from '../copies/copy'
import { CopySiteRow } from '../copies/entity'
import { CopyFault } from '../copies/fault'
import type { CopyFolder } from '../copies/folder'
import { receivedFrom, recordsOf } from '../copies/restore'
import { type Reachable, reach } from '../copies/sites'
import type { Quotas } from '../counts/quotas'
import { Refusal } from '../refusal'
import { keepVersion } from '../saving/keep'
import { select } from '../sql/rows'

/** Files that are listed at once. */
const mostListed = 500

const EntryRow = z.object({
  id: z.uuid(),
  folder_id: z.uuid().nullable(),
  name: z.string(),
  kind: z.string(),
  type: z.string().nullable(),
})
const VersionRow = z.object({
  file_id: z.uuid(),
  number: z.number(),
  size: z.coerce.number(),
  at: z.string(),
  author_id: z.uuid(),
  // As PostgreSQL writes bytes in JSON.
  sha256: z.string().regex(/^\\x[0-9a-f]{64}$/),
})
const PersonRow = z.object({ id: z.uuid(), name: z.string() })

interface Held extends Omit<InCopy, 'here'> {
  sha256: string
  path: string
}

/** The share's copy at a place. @throws CopyFault where there is none */
async function bagOf(database: DataSource, siteId: string, shareId: string, reachable: Reachable): Promise<CopyFolder> {
  const site = await database.manager.findOneBy(CopySiteRow, { id: siteId })
  if (!site) throw new CopyFault(say('copies.not-there'))
  const folder = await reach(database, site, reachable)
  const name = (await copiesIn(folder)).get(shareId)
  if (name === undefined) throw new CopyFault(say('copies.copy-gone'))
  return folder.within(name)
}

/** The files of a copy, each with the latest version that it holds of it. */
async function heldIn(bag: CopyFolder): Promise<{ at: string; files: Held[] }> {
  const { at, rows } = await recordsOf(bag)
  const paths = await contentsOf(bag)
  const fault = () => new CopyFault(say('copies.not-a-copy', { folder: bag.name }))
  const of = <T>(table: 'entry' | 'version' | 'person', shape: z.ZodType<T>): T[] => {
    const read = z.array(shape).safeParse(rows.get(table) ?? [])
    if (!read.success) throw fault()
    return read.data
  }
  const people = new Map(of('person', PersonRow).map(({ id, name }) => [id, name]))
  const entries = new Map(of('entry', EntryRow).map((entry) => [entry.id, entry]))
  const latest = new Map<string, z.output<typeof VersionRow>>()
  for (const version of of('version', VersionRow))
    if (paths.has(version.sha256.slice(2)) && version.number > (latest.get(version.file_id)?.number ?? 0))
      latest.set(version.file_id, version)
  const files: Held[] = []
  for (const [id, version] of latest) {
    const entry = entries.get(id)
    if (entry?.kind !== 'file') continue
    const folders: string[] = []
    for (let at = entry.folder_id; at !== null; at = entries.get(at)?.folder_id ?? null) {
      // A circle of folders is none of ours.
      if (folders.length > 100) throw fault()
      folders.unshift(entries.get(at)?.name ?? '')
    }
    const sha256 = version.sha256.slice(2)
    files.push({
      id,
      name: entry.name,
      type: entry.type ?? '',
      folders: folders.filter(Boolean),
      number: version.number,
      at: new Date(version.at).toISOString(),
      author: people.get(version.author_id) ?? '',
      size: version.size,
      sha256,
      path: paths.get(sha256)!,
    })
  }
  return { at, files }
}

const Ours = z.object({
  id: z.string(),
  share_id: z.string(),
  removed: z.boolean(),
  sha256: z.string().nullable(),
  head: z.string().nullable(),
})
async function oursOf(manager: EntityManager, ids: readonly string[]): Promise<Map<string, z.output<typeof Ours>>> {
  const rows = await select(
    manager,
    Ours,
    `select e.id, e.share_id, e.removed_at is not null as removed, encode(v.sha256, 'hex') as sha256, v.id as head
     from entry e left join version v on v.id = e.head_version_id where e.id = any($1)`,
    [ids],
  )
  return new Map(rows.map((row) => [row.id, row]))
}
const standing = (one: Held, shareId: string, ours: z.output<typeof Ours> | undefined): InCopy['here'] =>
  !ours
    ? 'gone'
    : ours.removed
      ? 'removed'
      : ours.share_id !== shareId
        ? 'elsewhere'
        : ours.sha256 === one.sha256
          ? 'same'
          : 'other'

const order: readonly InCopy['here'][] = ['gone', 'removed', 'other', 'elsewhere', 'same']
const placeOf = ({ folders, name }: Pick<InCopy, 'folders' | 'name'>) => [...folders, name].join(' / ')

/** What a copy holds of a share's files, and how each stands here: first what is not here. */
export async function filesInCopy(
  database: DataSource,
  { siteId, shareId, words }: { siteId: string; shareId: string; words: string },
  reachable: Reachable,
): Promise<CopiedFiles> {
  const { at, files } = await heldIn(await bagOf(database, siteId, shareId, reachable))
  const ours = await oursOf(
    database.manager,
    files.map(({ id }) => id),
  )
  const wanted = words.toLocaleLowerCase().split(/\s+/).filter(Boolean)
  const found = files
    .map(({ sha256: _, path: __, ...one }, index) => ({
      ...one,
      here: standing(files[index]!, shareId, ours.get(one.id)),
    }))
    .filter((one) => wanted.every((word) => placeOf(one).toLocaleLowerCase().includes(word)))
    .sort(
      (a, b) =>
        order.indexOf(a.here) - order.indexOf(b.here) ||
        placeOf(a).localeCompare(placeOf(b), undefined, { numeric: true }),
    )
  return { at: new Date(at).toISOString(), files: found.slice(0, mostListed), inAll: found.length }
}

/** A key of what was asked for and what comes of it: asked for twice it is done once. */
const keyOf = (key: string, ...of: string[]) =>
  createHash('sha256')
    .update([key, ...of].join(' '))
    .digest('hex')
    .replace(/^(.{8})(.{4}).(.{3}).(.{3})(.{12}).*$/, '$1-$2-4$3-8$4-$5')

/** What was removed is where it was again. @returns false when its days are over: then it comes as a file of its own */
async function cameBack(database: DataSource, personId: string, id: string): Promise<boolean> {
  try {
    await performAct(database, personId, { id: uuidv7(), what: 'bring back', changes: [{ id }] })
    return true
  } catch (error) {
    if (error instanceof Refusal && error.problem.type === 'not-found') return false
    throw error
  }
}

/** @throws Refusal for what may not be here */
async function bringOne(
  { database, quotas, personId, shareId, key }: Bringing,
  bag: CopyFolder,
  one: Held,
  ours: z.output<typeof Ours> | undefined,
): Promise<boolean> {
  const received = await receivedFrom(bag, one.path, one.sha256).catch((error) => {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') return null
    throw error
  })
  if (!received) return false
  if (ours && (!ours.removed || (await cameBack(database, personId, one.id)))) {
    if (ours.sha256 !== one.sha256)
      await keepVersion(database, quotas, {
        personId,
        bytes: received,
        key: keyOf(key, one.id),
        reason: 'restored',
        target: { fileId: one.id, baseId: ours.head!, ...(one.type && { type: one.type }) },
      })
    return true
  }
  const [stem, extension] = splitExtension(one.name)
  for (let number = 1; ; number++) {
    const name = number === 1 ? one.name : `${stem} ${number}${extension}`
    try {
      await keepVersion(database, quotas, {
        personId,
        bytes: received,
        key: keyOf(key, one.id, name),
        reason: 'brought in',
        anyType: true,
        target: { place: { shareId, folderId: null, path: one.folders, name } },
      })
      return true
    } catch (error) {
      if (!(error instanceof Refusal) || error.problem.type !== 'name-taken' || number > 50) throw error
    }
  }
}

interface Bringing {
  database: DataSource
  quotas: Quotas
  personId: string
  shareId: string
  key: string
}

/** Brings files out of a copy; what is damaged there, or refused here, is told, and the others come all the same. */
export async function bringFiles(
  bringing: Bringing,
  { siteId, fileIds }: { siteId: string; fileIds: readonly string[] },
  reachable: Reachable,
): Promise<BroughtFiles> {
  const { database, shareId } = bringing
  const bag = await bagOf(database, siteId, shareId, reachable)
  const wanted = new Set(fileIds)
  const files = (await heldIn(bag)).files.filter(({ id }) => wanted.has(id))
  const ours = await oursOf(database.manager, [...wanted])
  const brought: BroughtFiles = { brought: 0, not: [] }
  for (const one of files) {
    const here = standing(one, shareId, ours.get(one.id))
    if (here === 'same') continue
    try {
      if (here === 'elsewhere') throw new Refusal('not-found', say('copies.in-another-share'))
      if (await bringOne(bringing, bag, one, ours.get(one.id))) brought.brought++
      else brought.not.push({ name: one.name, why: say('copies.damaged-there') })
    } catch (error) {
      if (error instanceof Refusal)
        brought.not.push({
          name: one.name,
          why: error.problem.says ?? say('copies.does-not-answer', { code: error.problem.type }),
        })
      else if (error instanceof SaidError) brought.not.push({ name: one.name, why: saidBy(error) })
      else throw error
    }
  }
  return brought
}
