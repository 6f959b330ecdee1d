// A file's bytes on their way in. A small file is held in memory; a larger one goes to a spool file while it arrives,
// so that a slow sender holds no memory, no database connection and no lock. Its version's transaction begins when the
// last byte is there and the digest is known.

import { createHash, randomUUID } from 'node:crypto'
import { createReadStream, existsSync, readdirSync, rmSync } from 'node:fs'
import { type FileHandle, mkdir, open, rm } from 'node:fs/promises'
import { join } from 'node:path'
import type { Request } from 'express'
import { inEnglish } from '../../core/words/in-english'
import { say } from '../../core/words/said'
import { Refusal } from '../refusal'

/** Files up to this size are held in memory; bytes. It is a block of stored content. */
export const smallFile = 1 << 20
/** A sender that says nothing for this long is given up; milliseconds. */
const silence = 60_000

/** Bytes that are there whole, wherever they are. */
export interface Received {
  size: number
  /** SHA-256. */
  digest: Buffer
  /** All of them, where they are few enough to be held in memory. */
  held: Buffer | null
  /** The bytes in order, in pieces of `size` bytes but for the last. */
  pieces(size: number): AsyncIterable<Buffer>
  /** To be called when they are needed no more. */
  discard(): Promise<void>
}

/** Bytes that are in memory already. */
export function receivedHere(bytes: Buffer, digest = createHash('sha256').update(bytes).digest()): Received {
  return {
    size: bytes.length,
    digest,
    held: bytes,
    async *pieces(size) {
      for (let at = 0; at < bytes.length; at += size) yield bytes.subarray(at, at + size)
    },
    async discard() {},
  }
}

/**
 * What says that it is small, straight into memory: as it comes, without a pause between its parts.
 * @throws Refusal where it does not arrive whole
 */
function receiveSmall(request: Request): Promise<Received> {
  return new Promise((done, failed) => {
    const hash = createHash('sha256')
    const chunks: Buffer[] = []
    let size = 0
    const notWhole = () => {
      clearTimeout(watch)
      failed(new Refusal('invalid', say('problem.the-file-did-not-arrive-whole')))
    }
    const given = () => request.destroy(new Error(inEnglish(say('problem.the-sender-fell-silent'))))
    const watch = setTimeout(given, silence)
    request.on('data', (chunk: Buffer) => {
      watch.refresh()
      hash.update(chunk)
      size += chunk.length
      chunks.push(chunk)
    })
    request.once('error', notWhole)
    request.once('aborted', notWhole)
    request.once('end', () => {
      clearTimeout(watch)
      done(receivedHere(Buffer.concat(chunks, size), hash.digest()))
    })
  })
}

export interface Spool {
  receive(request: Request, largest: number): Promise<Received>
}

/**
 * @param folder of this process alone, in one that several may share: what processes that are gone left there is removed
 * @param room for files that are on their way, all together; bytes
 */
export function openSpool(folder: string, room = 4e9): Spool {
  for (const name of existsSync(folder) ? readdirSync(folder) : []) {
    const pid = Number(name.split('-')[0])
    if (pid === process.pid || !isAlive(pid)) rmSync(join(folder, name), { force: true })
  }
  let taken = 0

  async function receive(request: Request, largest: number): Promise<Received> {
    const tooLarge = () =>
      new Refusal('too-large', say('problem.files-up-to-mb-can-be-kept', { floor: Math.floor(largest / 1e6) }))
    const encoding = request.headers['content-encoding']
    if (encoding && encoding !== 'identity') throw new Refusal('invalid', say('problem.a-file-is-sent-as-it-is'))
    if (Number(request.headers['content-length'] ?? 0) > largest) throw tooLarge()
    if (Number(request.headers['content-length'] ?? Number.POSITIVE_INFINITY) <= smallFile) return receiveSmall(request)
    const hash = createHash('sha256')
    let chunks: Buffer[] = []
    let size = 0
    let file: { handle: FileHandle; path: string } | null = null
    const drop = async () => {
      taken -= file ? size : 0
      await file?.handle.close().catch(() => {})
      if (file) await rm(file.path, { force: true })
    }
    const given = () => request.destroy(new Error(inEnglish(say('problem.the-sender-fell-silent'))))
    let watch = setTimeout(given, silence)
    try {
      for await (const chunk of request as AsyncIterable<Buffer>) {
        clearTimeout(watch)
        watch = setTimeout(given, silence)
        if (size + chunk.length > largest) throw tooLarge()
        hash.update(chunk)
        if (!file && size + chunk.length > smallFile) {
          await mkdir(folder, { recursive: true, mode: 0o700 })
          const path = join(folder, `${process.pid}-${randomUUID()}`)
          file = { handle: await open(path, 'wx', 0o600), path }
          await file.handle.writev(chunks)
          taken += size
          chunks = []
        }
        size += chunk.length
        if (!file) chunks.push(chunk)
        else {
          taken += chunk.length
          if (taken > room) throw new Refusal('no-room', say('problem.too-many-large-files-arrive-at-this'))
          await file.handle.write(chunk)
        }
      }
    } catch (error) {
      await drop()
      if (error instanceof Refusal) throw error
      if ((error as { code?: string }).code === 'ENOSPC')
        throw new Refusal('no-room', say('problem.the-servers-disk-is-full-so-the'))
      throw new Refusal('invalid', say('problem.the-file-did-not-arrive-whole'))
    } finally {
      clearTimeout(watch)
    }
    const digest = hash.digest()
    if (!file) return receivedHere(Buffer.concat(chunks, size), digest)
    const { path } = file
    await file.handle.close()
    return {
      size,
      digest,
      held: null,
      async *pieces(length) {
        yield* createReadStream(path, { highWaterMark: length })
      },
      async discard() {
        taken -= size
        await rm(path, { force: true })
      },
    }
  }
  return { receive }
}

function isAlive(pid: number): boolean {
  try {
    process.kill(pid, 0)
    return true
  } catch (error) {
    return (error as { code?: string }).code === 'EPERM'
  }
}
