// Places for copies. Each is known by its identity file and not by its path: nothing is copied to an empty folder that
// another computer's storage should be mounted on, nor to another drive of the same name.
import { readdir } from 'node:fs/promises'
import { basename, join } from 'node:path'
import { type DataSource, type EntityManager, In } from 'typeorm'
import { uuidv7 } from 'uuidv7'
import { z } from 'zod'
import { usualPlan } from '../../core/copies/plan'
import { say } from '../../core/words/said'
import { absent } from '../refusal'
import type { Seal } from '../seal'
import { inTransaction } from '../sql/transaction'
import { CopyPlanRow, CopySiteRow } from './entity'
import { CopyFault, NoSuchFolder } from './fault'
import { CopyFolder } from './folder'
import { hostsIn, type NamedHosts, readAddress, wayTo } from './grounds/hosts'
import { keyShown } from './grounds/sftp'
import { isAddress } from './place'
import { openKept, openRemote, purposeOf } from './remote'

/** What the server's administrator lets copies go to; nothing else of the server is touched. */
export interface Reachable {
  /** Folders that are sites. */
  folders: readonly string[]
  /** Folders in which drives appear while they are there. */
  drives: readonly string[]
  /** Other computers; none where it says nothing. */
  hosts?: NamedHosts
  /** After so many days our own store is read again. */
  days?: number
  /** After so many days bringing back what a place holds is tried again; null for no trials. */
  trialDays?: number | null
  /** Locks what the server signs in with there; without it there are no such places. */
  seal?: Seal | null
}

/** Says whose place a folder is. */
const identityFile = 'jaula-site.json'
const Identity = z.object({ site: z.uuid() })

/** @returns the site that a folder is; null where nothing says so @throws CopyFault for a file that says nothing */
async function identityOf(folder: CopyFolder): Promise<string | null> {
  const text = await folder.text(identityFile, 1 << 16).catch((error) => {
    if (error instanceof RangeError) return ''
    throw error
  })
  if (text === null) return null
  try {
    return Identity.parse(JSON.parse(text)).site
  } catch {
    throw new CopyFault(say('copies.identity-unreadable', { file: identityFile }))
  }
}
async function identify(folder: CopyFolder, site: string): Promise<void> {
  await folder.writeText(identityFile, `${JSON.stringify({ site })}\n`)
  await folder.settle()
}

/** The drives that are there, with the site that each says it is. */
export async function drivesThere({
  drives,
}: Pick<Reachable, 'drives'>): Promise<{ path: string; site: string | null }[]> {
  const there: { path: string; site: string | null }[] = []
  for (const root of drives) {
    const entries = await readdir(root, { withFileTypes: true }).catch(() => [])
    for (const entry of entries) {
      if (!entry.isDirectory()) continue
      const path = join(root, entry.name)
      try {
        there.push({ path, site: await identityOf(await CopyFolder.open(path)) })
      } catch {
        // One that is pulled out at this moment, or whose identity is damaged, is no place for anything.
      }
    }
  }
  return there
}

const nowhere = hostsIn('')
export const isRemote = ({ kind }: Pick<CopySiteRow, 'kind'>) => kind === 'sftp' || kind === 'webdav'

/** A drive that is not there: it comes again. */
export class DriveAway extends CopyFault {}

/**
 * The folder that a site is now.
 * @throws DriveAway, NoSuchFolder, CopyFault when what is there is not the site
 */
export async function reach(database: DataSource, site: CopySiteRow, reachable: Reachable): Promise<CopyFolder> {
  if (site.kind === 'drive') {
    const here = (await drivesThere(reachable)).find((drive) => drive.site === site.id)
    if (!here) throw new DriveAway(say('copies.not-there'))
    await seen(database.manager, site, here.path)
    return CopyFolder.open(here.path)
  }
  const folder = isRemote(site)
    ? await openKept(site, reachable.hosts ?? nowhere, reachable.seal ?? null)
    : await namedFolder(site, reachable)
  const is = await identityOf(folder)
  if (is === null) {
    if (site.seenAt) throw new CopyFault(say('copies.identity-gone', { file: identityFile }))
    await identify(folder, site.id)
  } else if (is !== site.id) throw new CopyFault(say('copies.identity-other', { file: identityFile }))
  await seen(database.manager, site, site.folder)
  return folder
}
async function namedFolder(site: CopySiteRow, reachable: Reachable): Promise<CopyFolder> {
  if (!reachable.folders.includes(site.folder)) throw new CopyFault(say('copies.not-named'))
  return CopyFolder.open(site.folder)
}
async function seen(manager: EntityManager, site: CopySiteRow, folder: string): Promise<void> {
  await manager.update(CopySiteRow, { id: site.id }, { seenAt: new Date(), folder })
}

/** Makes each folder that is named a site with a plan for every share, once: what is changed later stays so. */
export async function nameSites(
  database: DataSource,
  folders: readonly string[],
  { hours, days }: { hours: number; days: number },
): Promise<void> {
  for (const folder of folders) {
    if (await database.manager.existsBy(CopySiteRow, { kind: 'folder', folder })) continue
    await addSite(database, { kind: 'folder', folder }, { ...usualPlan, hours, checkDays: days })
  }
}

/**
 * Makes a folder a site. One that was a site of a Jaula that is gone stays the one it was.
 * @param plan for every share; null for none
 */
async function addSite(
  database: DataSource,
  { kind, folder }: Pick<CopySiteRow, 'kind' | 'folder'>,
  plan: typeof usualPlan | null,
  setBy: string | null = null,
): Promise<CopySiteRow> {
  const was = await CopyFolder.open(folder).then(identityOf, (error) => {
    if (error instanceof NoSuchFolder) return null
    throw error
  })
  return inTransaction(database, async (manager) => {
    const known = was !== null && (await manager.existsBy(CopySiteRow, { id: was }))
    const id = was === null || known ? uuidv7() : was
    await manager
      .createQueryBuilder()
      .insert()
      .into(CopySiteRow)
      .values({ id, kind, folder, name: basename(folder) })
      .orIgnore()
      .execute()
    if (plan && (await manager.existsBy(CopySiteRow, { id })))
      await manager.insert(CopyPlanRow, { id: uuidv7(), siteId: id, ...plan, setBy, setAt: new Date() })
    return manager.findOneByOrFail(CopySiteRow, { kind, folder })
  })
}

/** Makes a drive that is there a site. @throws CopyFault when it is not there, or is one already */
export async function addDrive(
  database: DataSource,
  personId: string,
  name: string,
  reachable: Reachable,
): Promise<CopySiteRow> {
  const here = (await drivesThere(reachable)).find(({ path }) => basename(path) === name)
  if (!here) throw new CopyFault(say('copies.not-there'))
  if (here.site && (await database.manager.existsBy(CopySiteRow, { id: here.site })))
    throw new CopyFault(say('copies.a-site-already', { name }))
  const site = await addSite(database, { kind: 'drive', folder: here.path }, usualPlan, personId)
  await identify(await CopyFolder.open(here.path), site.id)
  return site
}

/** What is written down of a place on another computer. */
export interface Remote {
  account: string
  /** A password, or a private key as text. */
  secret: string
  /** The fingerprint that somebody agreed to, for SFTP. */
  key: string | null
}

/** What another computer shows before anybody signs in. @throws CopyFault, or what the network says */
export async function lookAtHost(
  text: string,
  { hosts = nowhere }: Reachable,
): Promise<{ address: string; kind: 'sftp' | 'webdav'; key: string | null }> {
  const address = readAddress(text)
  const way = await wayTo(address, hosts)
  return { address: address.text, kind: address.kind, key: address.kind === 'sftp' ? await keyShown(way) : null }
}

/**
 * Makes a folder of another computer a place for copies, with a plan for every share: it was signed in there and written.
 * @throws CopyFault when it is one already, or cannot be; then nothing is kept of it
 */
export async function addHost(
  database: DataSource,
  personId: string,
  { address: text, account, secret, key }: Remote & { address: string },
  { hosts = nowhere, seal = null }: Reachable,
): Promise<string> {
  if (!seal) throw new CopyFault(say('copies.no-key-file'))
  const address = readAddress(text)
  const taken = (name: string) => new CopyFault(say('copies.a-site-already', { name }))
  if (await database.manager.existsBy(CopySiteRow, { folder: address.text, kind: address.kind }))
    throw taken(address.text)
  const folder = await openRemote(address, { account, secret }, key, hosts)
  const was = await identityOf(folder)
  if (was !== null && (await database.manager.existsBy(CopySiteRow, { id: was }))) throw taken(address.text)
  const id = was ?? uuidv7()
  if (was === null) await identify(folder, id)
  const kept = { id, folder: address.text, account }
  await inTransaction(database, async (manager) => {
    await manager.insert(CopySiteRow, {
      ...kept,
      kind: address.kind,
      name: folder.name === address.text ? address.host : folder.name,
      sealed: seal.lock(secret, purposeOf(kept)),
      hostKey: key,
      seenAt: new Date(),
    })
    await manager.insert(CopyPlanRow, { id: uuidv7(), siteId: id, ...usualPlan, setBy: personId, setAt: new Date() })
  })
  return id
}

/** Signs in anew at a place that is there. @throws Refusal not-found, CopyFault when that place is not reached so */
export async function signInAt(
  database: DataSource,
  siteId: string,
  { account, secret, key }: Remote,
  { hosts = nowhere, seal = null }: Reachable,
): Promise<void> {
  const site = await database.manager.findOneBy(CopySiteRow, { id: siteId })
  if (!site || !isRemote(site)) throw absent()
  if (!seal) throw new CopyFault(say('copies.no-key-file'))
  const folder = await openRemote(readAddress(site.folder), { account, secret }, key, hosts)
  const is = await identityOf(folder)
  if (is !== null && is !== siteId) throw new CopyFault(say('copies.identity-other', { file: identityFile }))
  await database.manager.update(
    CopySiteRow,
    { id: siteId },
    { account, sealed: seal.lock(secret, purposeOf({ id: siteId, folder: site.folder, account })), hostKey: key },
  )
}

/** Copies go there no more; what was copied stays where it is. A folder that is named stays one. @throws Refusal not-found */
export async function forgetSite(manager: EntityManager, siteId: string): Promise<void> {
  const { affected } = await manager.delete(CopySiteRow, { id: siteId, kind: In(['drive', 'sftp', 'webdav']) })
  if (!affected) throw absent()
}

/** The site that a folder is, made one where it is none: for whoever copies by hand. */
export async function siteAt(database: DataSource, folder: CopyFolder): Promise<CopySiteRow> {
  const is = await identityOf(folder)
  const known = is && (await database.manager.findOneBy(CopySiteRow, { id: is }))
  if (known) return known
  if (isAddress(folder.root)) throw new CopyFault(say('copies.add-it-first', { address: folder.root }))
  const there = await database.manager.findOneBy(CopySiteRow, { kind: 'folder', folder: folder.root })
  const site = there ?? (await addSite(database, { kind: 'folder', folder: folder.root }, null))
  if (is === null) await identify(folder, site.id)
  return site
}
