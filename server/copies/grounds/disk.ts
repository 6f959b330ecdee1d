// A folder of a disk, or of another computer's storage that is mounted.
import { createHash } from 'node:crypto'
import * as fs from 'node:fs'
import { type FileHandle, lstat, mkdir, open, readdir, rename, rmdir, statfs, unlink } from 'node:fs/promises'
import { basename, join } from 'node:path'
import { promisify } from 'node:util'
import pLimit from 'p-limit'
import { type Entry, type Ground, type Is, isGone, type Summed } from './ground'

/** What is read at first, and then at a time. */
const firstSize = 64 << 10
const pieceSize = 1 << 20
/** Folders that are flushed at once. */
const atOnce = pLimit(6)

/** Plain descriptors: of many small files a handle for each costs more than reading them. */
const [opened, readFrom, closed] = [promisify(fs.open), promisify(fs.read), promisify(fs.close)]
/** Pieces for what is summed, as many as are summed at once. */
const spare: Buffer[] = []

const kindOf = (there: { isFile(): boolean; isDirectory(): boolean }): Is =>
  there.isDirectory() ? 'folder' : there.isFile() ? 'file' : 'other'

export class Disk implements Ground {
  /** @param root a real path */
  constructor(readonly root: string) {}

  get name(): string {
    return basename(this.root)
  }
  private at(path: string): string {
    return join(this.root, path)
  }
  async look(path: string): Promise<Is | null> {
    try {
      return kindOf(await lstat(this.at(path)))
    } catch (error) {
      if (isGone(error)) return null
      throw error
    }
  }
  async list(path: string, sizes: boolean): Promise<Entry[]> {
    return Promise.all(
      (await readdir(this.at(path), { withFileTypes: true })).map(async (entry) => {
        const is = kindOf(entry)
        const look = () => lstat(join(this.at(path), entry.name))
        const size = sizes && is === 'file' ? (await look()).size : 0
        return { name: entry.name, is, size }
      }),
    )
  }
  async *read(path: string): AsyncGenerator<Buffer> {
    const file = await opened(this.at(path), fs.constants.O_RDONLY | fs.constants.O_NOFOLLOW)
    try {
      // A small file is known to be at its end when it was read once, and need not be asked how large it is.
      for (let size = firstSize; ; size = pieceSize) {
        const { bytesRead, buffer } = await readFrom(file, Buffer.allocUnsafe(size), 0, size, null)
        if (bytesRead) yield buffer.subarray(0, bytesRead)
        if (bytesRead < size) return
      }
    } finally {
      await closed(file)
    }
  }
  async sum(path: string): Promise<Summed> {
    const file = await opened(this.at(path), fs.constants.O_RDONLY | fs.constants.O_NOFOLLOW)
    try {
      const hash = createHash('sha256')
      // What was summed is not looked at again: one piece after the other in the same place.
      let piece = spare.pop() ?? Buffer.allocUnsafeSlow(firstSize)
      let size = 0
      for (;;) {
        const { bytesRead } = await readFrom(file, piece, 0, piece.length, null)
        hash.update(bytesRead < piece.length ? piece.subarray(0, bytesRead) : piece)
        size += bytesRead
        if (bytesRead < piece.length) break
        if (piece.length < pieceSize) {
          spare.push(piece)
          piece = Buffer.allocUnsafeSlow(pieceSize)
        }
      }
      if (piece.length === firstSize) spare.push(piece)
      return { sha256: hash.digest('hex'), size }
    } finally {
      await closed(file)
    }
  }
  async create(path: string, pieces: AsyncIterable<Uint8Array>): Promise<void> {
    const file = await open(this.at(path), 'wx')
    try {
      for await (const piece of pieces)
        for (let from = 0; from < piece.length; ) from += (await file.write(piece, from)).bytesWritten
      await file.sync()
    } finally {
      await file.close()
    }
  }
  rename(from: string, to: string): Promise<void> {
    return rename(this.at(from), this.at(to))
  }
  removeFile(path: string): Promise<void> {
    return unlink(this.at(path))
  }
  async makeFolder(path: string): Promise<void> {
    await mkdir(this.at(path)).catch((error) => {
      // Several files of one folder may be the first.
      if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error
    })
  }
  removeFolder(path: string): Promise<void> {
    return rmdir(this.at(path))
  }
  async flush(folders: readonly string[]): Promise<void> {
    await Promise.all(folders.map((path) => atOnce(() => flushed(this.at(path)))))
  }
  within(name: string): Disk {
    return new Disk(this.at(name))
  }
  async room(): Promise<number | null> {
    const { bavail, bsize } = await statfs(this.root)
    return bavail * bsize
  }
}

/** Flushes a folder's entries; one that went meanwhile has none. */
async function flushed(path: string): Promise<void> {
  const folder: FileHandle | null = await open(path, 'r').catch((error) => {
    if (isGone(error)) return null
    throw error
  })
  await folder?.sync().finally(() => folder.close())
}
