// Reads a folder of this computer for a take-over, and sends what is wanted of it. Where the server is away it waits; what
// was read or sent before is not again.
import { type Remote, wrap } from 'comlink'
import type { DriveFile, PlannedSeries } from '../../core/contract'
import { call, isAway, Refused } from '../api/call'
import type { DriveReader } from '../workers/intake.worker'
import { type HeldDrive, litterAmong } from './held-drives'

/** Files of one request. */
const together = 100
/** Bytes of a file that the page reads; the server takes no larger one either. */
const largest = 100_000_000
const again = 2000

interface OfIntake {
  shareId: string
  intakeId: string
}

/** A file that takes longer than this is one that cannot be read, as at the server; milliseconds. */
const patience = 30_000

let open: { worker: Worker; reader: Remote<DriveReader> } | undefined
/** Reads in a worker, which is ended where a file takes it for ever. @throws Error for what cannot be read */
async function readInWorker(file: File, path: string): Promise<Awaited<ReturnType<DriveReader['read']>>> {
  if (!open) {
    const worker = new Worker(new URL('../workers/intake.worker.ts', import.meta.url), {
      type: 'module',
      name: 'intake',
    })
    open = { worker, reader: wrap<DriveReader>(worker) }
  }
  const { worker, reader } = open
  let timer: ReturnType<typeof setTimeout> | undefined
  const late = new Promise<never>((_, failed) => {
    timer = setTimeout(() => {
      worker.terminate()
      open = undefined
      failed(new Error('It took too long.'))
    }, patience)
  })
  return Promise.race([reader.read(file, path), late]).finally(() => clearTimeout(timer))
}

/** Asks until the server is there. @throws Refused for any other reason */
async function patiently<T>(ask: () => Promise<T>, signal: AbortSignal): Promise<T> {
  for (;;) {
    signal.throwIfAborted()
    try {
      return await ask()
    } catch (error) {
      if (!isAway(error)) throw error
      await new Promise((later) => setTimeout(later, again))
    }
  }
}

const listed = ([path, file]: [string, File]): DriveFile => ({
  path,
  size: file.size,
  modified: new Date(file.lastModified).toISOString(),
  sha256: null,
  ownAt: null,
  author: '',
  title: '',
  sketch: '',
  fault: litterAmong(path) ? 'litter' : null,
})

async function described(found: DriveFile, file: File): Promise<DriveFile> {
  if (file.size > largest) return { ...found, fault: 'too large' }
  try {
    return { ...found, ...(await readInWorker(file, found.path)) }
  } catch {
    return { ...found, fault: 'unreadable' }
  }
}

/** Reads all of a drive; what the server knows already is not read again. */
export async function readDrive(params: OfIntake, drive: HeldDrive, signal: AbortSignal): Promise<void> {
  const all = [...drive.files]
  for (let from = 0; from < all.length; from += together) {
    const files = all.slice(from, from + together).map(listed)
    const { unread } = await patiently(() => call('addDriveFiles', { params, body: { files, last: false } }), signal)
    const wanted = new Set(unread)
    const read: DriveFile[] = []
    for (const found of files)
      if (wanted.has(found.path)) read.push(await described(found, drive.files.get(found.path)!))
    if (read.length)
      await patiently(() => call('addDriveFiles', { params, body: { files: read, last: false } }), signal)
  }
  await patiently(() => call('addDriveFiles', { params, body: { files: [], last: true } }), signal)
}

/** The files of a series that are still to come, oldest first. */
const toCome = ({ wanted, files }: PlannedSeries) =>
  wanted ? files.filter(({ double, taken, refused }) => !double && !taken && refused === null) : []

/**
 * Sends what is wanted of a drive, until all of it is there or somebody stops it.
 * @returns paths that the drive does not have any more
 */
export async function sendDrive(params: OfIntake, drive: HeldDrive, signal: AbortSignal): Promise<string[]> {
  const gone: string[] = []
  for (let after = -1; ; ) {
    const page = await patiently(() => call('intakeSeries', { params, query: { after } }), signal)
    if (!page.series.length) return gone
    for (const series of page.series)
      for (const { no, path } of toCome(series)) {
        const file = drive.files.get(path)
        if (!file) {
          gone.push(path)
          break
        }
        try {
          await patiently(
            () => call('takeDriveFile', { params, query: { no }, bytes: file }, { timeout: 600_000 }),
            signal,
          )
        } catch (error) {
          // What the file is refused for is told at the file; of its series nothing later can come.
          if (error instanceof Refused && error.problem.type === 'invalid') break
          if (error instanceof Refused) throw error
          gone.push(path)
          break
        }
      }
    after = page.series.at(-1)!.no
  }
}
