// A folder of a disk, or of another computer's storage that is mounted.
import { constants } from 'node:fs'
import { type FileHandle, lstat, mkdir, open, readdir, rename, rmdir, statfs, unlink } from 'node:fs/promises'
import { basename, join } from 'node:path'
import pLimit from 'p-limit'
import { type Entry, type Ground, type Is, isGone } from './ground'

/** What is read at a time. */
const pieceSize = 1 << 20
/** Folders that are flushed, and files that are looked at, at once. */
const atOnce = pLimit(6)

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
        const size = sizes && is === 'file' ? (await atOnce(look)).size : 0
        return { name: entry.name, is, size }
      }),
    )
  }
  async *read(path: string): AsyncGenerator<Buffer> {
    const file = await open(this.at(path), constants.O_RDONLY | constants.O_NOFOLLOW)
    try {
      // One more than there is, so that a small file is known to be at its end when it was read once.
      const size = Math.min(pieceSize, (await file.stat()).size + 1)
      for (;;) {
        const { bytesRead, buffer } = await file.read(Buffer.allocUnsafe(size), 0, size)
        if (bytesRead) yield buffer.subarray(0, bytesRead)
        if (bytesRead < size) return
      }
    } finally {
      await file.close()
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
