// The disk of a stand-in for another computer: a folder of ours, with faults when they are switched on.
import { createHash } from 'node:crypto'
import { type FileHandle, lstat, mkdir, open, readdir, rename, rmdir, unlink } from 'node:fs/promises'
import { basename, join } from 'node:path'
import { setTimeout as later } from 'node:timers/promises'
import type { Faults } from './faults'

/** The other computer went away: its connections end without a word. */
export class Vanished extends Error {}

const fault = (code: string) => Object.assign(new Error(code === 'ENOSPC' ? 'No space left on device' : code), { code })
const oneOf = (many: number, text: string) =>
  many > 0 && createHash('sha256').update(text).digest().readUInt32BE(0) % many === 0

export interface Known {
  is: 'file' | 'folder' | 'other'
  size: number
  /** Seconds since 1970, by its own clock. */
  changed: number
}

export class Storage {
  private taken = 0
  private asked = 0
  private before: Faults | null = null
  private moved = 0
  constructor(
    private readonly root: string,
    private readonly faults: () => Faults,
  ) {}

  /** @throws for what leads out of it */
  private at(path: string): string {
    const steps = path.split('/').filter((step) => step !== '' && step !== '.')
    if (steps.includes('..') || path.includes('\0')) throw fault('EACCES')
    return join(this.root, ...steps)
  }
  private async begin(changes: boolean): Promise<Faults> {
    const now = this.faults()
    // What was switched anew begins anew.
    if (now !== this.before) {
      this.before = now
      this.taken = 0
      this.asked = 0
    }
    if (now.slow) await later(now.slow)
    if (now.vanishes !== null && this.asked++ >= now.vanishes) throw new Vanished()
    if (changes && now.readOnly) throw fault('EACCES')
    return now
  }
  async look(path: string): Promise<Known> {
    const { clock } = await this.begin(false)
    const there = await lstat(this.at(path))
    return {
      is: there.isDirectory() ? 'folder' : there.isFile() ? 'file' : 'other',
      size: there.size,
      changed: Math.floor(there.mtimeMs / 1000) + clock * 3600,
    }
  }
  async list(path: string): Promise<(Known & { name: string })[]> {
    await this.begin(false)
    const names = await readdir(this.at(path))
    return Promise.all(names.map(async (name) => ({ name, ...(await this.look(`${path}/${name}`)) })))
  }
  open(path: string, how: 'r' | 'wx' | 'w'): Promise<FileHandle> {
    return this.begin(how !== 'r').then(() => open(this.at(path), how))
  }
  async read(path: string, file: FileHandle, at: number, length: number): Promise<Buffer> {
    const { flips } = await this.begin(false)
    const { buffer, bytesRead } = await file.read(Buffer.alloc(length), 0, length, at)
    if (bytesRead && at === 0 && !basename(path).startsWith('.') && oneOf(flips, path)) buffer[0]! ^= 1
    return buffer.subarray(0, bytesRead)
  }
  async write(file: FileHandle, bytes: Uint8Array, at: number): Promise<void> {
    const { room } = await this.begin(true)
    if (room !== null && this.taken + bytes.length > room) throw fault('ENOSPC')
    this.taken += bytes.length
    for (let from = 0; from < bytes.length; )
      from += (await file.write(bytes, from, bytes.length - from, at + from)).bytesWritten
  }
  async rename(from: string, to: string): Promise<void> {
    const { loses } = await this.begin(true)
    await rename(this.at(from), this.at(to))
    if (loses > 0 && ++this.moved % loses === 0) await unlink(this.at(to)).catch(() => {})
  }
  async unlink(path: string): Promise<void> {
    await this.begin(true)
    await unlink(this.at(path))
  }
  async mkdir(path: string): Promise<void> {
    await this.begin(true)
    await mkdir(this.at(path))
  }
  async rmdir(path: string): Promise<void> {
    await this.begin(true)
    await rmdir(this.at(path))
  }
}
