// A folder of the server that is taken over: walked and read, and never written to. No link is followed, and nothing
// outside the folders that the server's administrator named is looked at.
import { constants, type Dirent } from 'node:fs'
import { lstat, open, readdir, realpath } from 'node:fs/promises'
import { isAbsolute, join, relative, resolve, sep } from 'node:path'
import { isLitter, isLitterFolder } from '../../core/intake/litter'
import { SaidError, say } from '../../core/words/said'

/** The drive, or a file of it, is not as it has to be. */
export class DriveFault extends SaidError {
  override readonly name = 'DriveFault'
}

export interface OnDrive {
  path: string
  size: number
  modified: Date
  /** Something that no program can read as a file, or that a program left for itself. */
  fault: 'litter' | 'unreadable' | null
}

const isWithin = (root: string, path: string) => {
  const way = relative(root, path)
  return way === '' || !(way === '..' || way.startsWith(`..${sep}`) || isAbsolute(way))
}

/** The folder by its real path. @throws DriveFault when it is none, or in none of those that were named */
export async function driveFolder(path: string, named: readonly string[]): Promise<string> {
  // Whether there is something elsewhere on the server is not told.
  if (!named.some((one) => isWithin(one, resolve(path))))
    throw new DriveFault(say('intake.not-named', { folder: path }))
  const roots = (await Promise.all(named.map((one) => realpath(one).catch(() => null)))).filter((one) => one !== null)
  const real = await realpath(path).catch(() => null)
  if (real === null || !(await lstat(real)).isDirectory())
    throw new DriveFault(say('intake.no-such-folder', { folder: path }))
  if (!roots.some((root) => isWithin(root, real))) throw new DriveFault(say('intake.not-named', { folder: path }))
  return real
}

/** The folders right in it, by name. */
export async function foldersIn(root: string): Promise<string[]> {
  const entries = await readdir(root, { withFileTypes: true })
  return entries
    .filter((entry) => entry.isDirectory() && !isLitterFolder(entry.name))
    .map(({ name }) => name)
    .sort((a, b) => a.localeCompare(b, undefined, { numeric: true }))
}

const byName = (a: Dirent, b: Dirent) => (a.name < b.name ? -1 : a.name > b.name ? 1 : 0)

/** Every file below a folder, folder by folder; of one that cannot be read, itself. */
export async function* walk(root: string, inside = ''): AsyncGenerator<OnDrive> {
  const folders: string[] = []
  let entries: Dirent[]
  try {
    entries = await readdir(join(root, inside), { withFileTypes: true })
  } catch (error) {
    if (!inside) throw error
    yield { path: inside, size: 0, modified: new Date(), fault: 'unreadable' }
    return
  }
  for (const entry of entries.sort(byName)) {
    const path = inside ? `${inside}/${entry.name}` : entry.name
    if (entry.isDirectory()) {
      if (!isLitterFolder(entry.name)) folders.push(path)
      continue
    }
    const there = await lstat(join(root, path)).catch(() => null)
    if (!there) continue
    yield {
      path,
      size: there.isFile() ? there.size : 0,
      modified: there.mtime,
      fault: !there.isFile() ? 'unreadable' : isLitter(entry.name) ? 'litter' : null,
    }
  }
  for (const folder of folders) yield* walk(root, folder)
}

/** A file's bytes. @throws DriveFault for a link, or one that leads out of the drive */
export async function readOnDrive(root: string, path: string): Promise<Buffer> {
  const whole = join(root, path)
  const folder = await realpath(join(whole, '..'))
  if (!isWithin(root, folder)) throw new DriveFault(say('intake.leads-out', { path }))
  const file = await open(whole, constants.O_RDONLY | constants.O_NOFOLLOW | constants.O_NONBLOCK)
  try {
    if (!(await file.stat()).isFile()) throw new DriveFault(say('intake.leads-out', { path }))
    return await file.readFile()
  } finally {
    await file.close()
  }
}
