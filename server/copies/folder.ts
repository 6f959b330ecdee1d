// A folder as a place for copies: everything is written beside its name first, flushed, read back, and only then given its
// name. Links are not followed, whoever put them there.
import { createHash, randomBytes } from 'node:crypto'
import { lstat, realpath } from 'node:fs/promises'
import { posix } from 'node:path'
import { isInside } from '../../core/copies/bag'
import { say } from '../../core/words/said'
import { CopyFault, NoSuchFolder } from './fault'
import { Disk } from './grounds/disk'
import { type Entry, type Ground, gone, isGone, type Summed } from './grounds/ground'

/** What is being written has a name like this until it has its own. */
const unfinished = /^\.jaula-[0-9a-f]{16}\.part$/

/** What is said of a link where a file should be; of anything else, itself. */
const isLink = (error: unknown, path: string): unknown =>
  (error as NodeJS.ErrnoException).code === 'ELOOP' ? new CopyFault(say('copies.a-link-in-the-copy', { path })) : error

/** The folder that something is in; empty for the place itself. */
const folderOf = (path: string) => {
  const folder = posix.dirname(path)
  return folder === '.' ? '' : folder
}

export class CopyFolder {
  private readonly known = new Set<string>([''])
  /** Folders whose entries are not flushed yet. */
  private readonly touched = new Set<string>()
  constructor(private readonly ground: Ground) {}

  get name(): string {
    return this.ground.name
  }
  /** What tells it from every other place. */
  get root(): string {
    return this.ground.root
  }

  /** A folder of this computer. @throws CopyFault when it is none that can be written to */
  static async open(path: string): Promise<CopyFolder> {
    const folder = await realpath(path).catch(() => null)
    const found = folder === null ? null : await lstat(folder)
    if (folder === null || !found?.isDirectory()) throw new NoSuchFolder(say('copies.no-such-folder', { folder: path }))
    return new CopyFolder(new Disk(folder))
  }

  private checked(path: string): string {
    if (!isInside(path) && !isInside(path, 'data/')) throw new CopyFault(say('copies.a-link-in-the-copy', { path }))
    return path
  }
  /** Folders on the way are folders, and no links to others. */
  private async plainWay(path: string, make = false): Promise<void> {
    if (this.known.has(folderOf(path))) return
    const steps = path.split('/').slice(0, -1)
    for (let depth = 1; depth <= steps.length; depth++) {
      const way = steps.slice(0, depth).join('/')
      if (this.known.has(way)) continue
      const there = await this.ground.look(way)
      if (there !== null && there !== 'folder') throw new CopyFault(say('copies.a-link-in-the-copy', { path: way }))
      if (there === null) {
        if (!make) throw gone(way)
        await this.ground.makeFolder(way)
        this.touched.add(folderOf(way))
      }
      this.known.add(way)
    }
  }

  async *read(path: string): AsyncGenerator<Buffer> {
    await this.plainWay(path)
    try {
      yield* this.ground.read(this.checked(path))
    } catch (error) {
      throw isLink(error, path)
    }
  }
  /** @returns null when there is none */
  async text(path: string, most = 256 << 20): Promise<string | null> {
    const pieces: Buffer[] = []
    let size = 0
    try {
      for await (const piece of this.read(path)) {
        if ((size += piece.length) > most) throw new RangeError(path)
        pieces.push(piece)
      }
    } catch (error) {
      if (isGone(error)) return null
      throw error
    }
    return Buffer.concat(pieces).toString('utf8')
  }
  /** @returns null when there is none */
  async sum(path: string): Promise<Summed | null> {
    try {
      await this.plainWay(path)
      return await (this.ground.sum?.(this.checked(path)) ?? summed(this.read(path)))
    } catch (error) {
      if (isGone(error)) return null
      throw isLink(error, path)
    }
  }

  /**
   * Writes a file, over one of that name.
   * @param expected what it has to be; otherwise what was given is what is read back
   * @throws CopyFault when it does not read back as that; the one that was there is there still
   */
  async write(
    path: string,
    pieces: AsyncIterable<Uint8Array> | Iterable<Uint8Array>,
    expected?: string,
  ): Promise<Summed> {
    await this.plainWay(path, true)
    const folder = folderOf(path)
    const own = this.checked(`${folder && `${folder}/`}.jaula-${randomBytes(8).toString('hex')}.part`)
    // What it has to be is held against what is read back; otherwise that is held against what came.
    const hash = expected === undefined ? createHash('sha256') : null
    let unread: unknown
    const counted = async function* () {
      try {
        for await (const piece of pieces) {
          hash?.update(piece)
          yield piece
        }
      } catch (error) {
        // What carries it to the other side may say it in its own words.
        unread = error
        throw error
      }
    }
    try {
      await this.ground.create(own, counted())
      const back = await this.sum(own)
      if (back?.sha256 !== (expected ?? hash!.digest('hex')))
        throw new CopyFault(say('copies.did-not-read-back', { path }))
      await this.ground.rename(own, this.checked(path))
      this.touched.add(folder)
      return back!
    } catch (error) {
      await this.ground.removeFile(own).catch(() => {})
      throw unread ?? error
    }
  }
  async writeText(path: string, text: string): Promise<Summed> {
    return this.write(path, [Buffer.from(text)])
  }
  /** @returns false when it is not there */
  async move(from: string, to: string): Promise<boolean> {
    try {
      await this.plainWay(from)
      await this.plainWay(to, true)
      // Not every place takes that for nothing.
      if (from === to) return (await this.ground.look(this.checked(from))) === 'file'
      await this.ground.rename(this.checked(from), this.checked(to))
    } catch (error) {
      if (isGone(error)) return false
      throw error
    }
    this.touched.add(folderOf(from)).add(folderOf(to))
    await this.tidy(from)
    return true
  }
  /** Takes a file away. */
  async remove(path: string): Promise<void> {
    try {
      await this.plainWay(path)
      await this.ground.removeFile(this.checked(path))
    } catch (error) {
      if (!isGone(error)) throw error
    }
    this.touched.add(folderOf(path))
    await this.tidy(path)
  }
  /** Takes folders away that have nothing in them since a file of theirs went. */
  private async tidy(path: string): Promise<void> {
    const steps = path.split('/')
    for (let depth = steps.length - 1; depth > 1; depth--) {
      const way = steps.slice(0, depth).join('/')
      try {
        await this.ground.removeFolder(way)
      } catch {
        return
      }
      this.known.delete(way)
      this.touched.delete(way)
      this.touched.add(folderOf(way))
    }
  }
  /** After it, what was done survives a loss of power. */
  async settle(): Promise<void> {
    const touched = [...this.touched]
    this.touched.clear()
    await this.ground.flush(touched)
  }

  /** The files in a folder and in those inside it, with their sizes; what was never finished is taken away. */
  async *files(inside: string): AsyncGenerator<{ path: string; size: number }> {
    const entries = await this.ground.list(inside, true).catch((error): Entry[] => {
      if (isGone(error)) return []
      throw error
    })
    for (const { name, is, size } of entries) {
      const path = inside ? `${inside}/${name}` : name
      if (is === 'folder') yield* this.files(path)
      else if (is === 'other') throw new CopyFault(say('copies.a-link-in-the-copy', { path }))
      else if (unfinished.test(name)) await this.ground.removeFile(path)
      else yield { path, size }
    }
  }
  /** Takes away what was never finished of the files right in it. */
  async clear(): Promise<void> {
    for (const { name } of await this.ground.list('', false))
      if (unfinished.test(name)) await this.ground.removeFile(name)
  }
  /** Names of the folders right in it. */
  async folders(): Promise<string[]> {
    return (await this.ground.list('', false)).filter(({ is }) => is === 'folder').map(({ name }) => name)
  }
  /** Whether a folder right in it holds nothing, or only what was never finished. */
  async isEmpty(name: string): Promise<boolean> {
    return (await this.ground.list(name, false)).every((entry) => entry.is === 'file' && unfinished.test(entry.name))
  }
  /** A folder in it, made where there is none. */
  async within(name: string): Promise<CopyFolder> {
    await this.plainWay(`${name}/.`, true)
    return new CopyFolder(this.ground.within(name))
  }
  /** Bytes that the place has left; null where it does not say. */
  room(): Promise<number | null> {
    return this.ground.room()
  }
}

export async function summed(pieces: AsyncIterable<Uint8Array>): Promise<Summed> {
  const hash = createHash('sha256')
  let size = 0
  for await (const piece of pieces) {
    hash.update(piece)
    size += piece.length
  }
  return { sha256: hash.digest('hex'), size }
}
