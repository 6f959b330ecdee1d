// What a place for copies stands on: a disk that the server reaches, or storage of another computer. It does single things;
// that they are done with care (beside the name first, read back, then the name) is the folder's business.

/** Something is not as it has to be; told apart from a place that does not answer. */
export type Is = 'file' | 'folder' | 'other'
export interface Entry {
  name: string
  is: Is
  /** Bytes, of a file. */
  size: number
}

/** What a file holds. */
export interface Summed {
  sha256: string
  size: number
}

/** Paths are relative to the place, with `/`; the empty one is the place itself. What is not there is an `ENOENT`. */
export interface Ground {
  /** What tells it from every other place: a whole path, or an address. */
  readonly root: string
  readonly name: string
  /** @returns null when there is nothing; a link is itself, not what it leads to */
  look(path: string): Promise<Is | null>
  /** What is right in a folder. @param sizes whether they are wanted; otherwise they are 0 */
  list(path: string, sizes: boolean): Promise<Entry[]>
  /** Follows no link. */
  read(path: string): AsyncGenerator<Buffer>
  /** What a file holds, where it is known faster than by reading it here. Follows no link. */
  sum?(path: string): Promise<Summed>
  /** Makes a file that is not there yet, and has it kept as well as the place can. */
  create(path: string, pieces: AsyncIterable<Uint8Array>): Promise<void>
  /** Over a file of that name, at once: there is never none. */
  rename(from: string, to: string): Promise<void>
  removeFile(path: string): Promise<void>
  /** Fine where there is one. */
  makeFolder(path: string): Promise<void>
  /** @throws when it is not empty */
  removeFolder(path: string): Promise<void>
  /** After it, the entries of these folders survive a loss of power, where the place can be asked for that. */
  flush(folders: readonly string[]): Promise<void>
  /** A folder in it, as a place of its own. */
  within(name: string): Ground
  /** Bytes that it has left; null where it does not say. */
  room(): Promise<number | null>
}

/** The error of a file that is not there. */
export function gone(path: string): NodeJS.ErrnoException {
  return Object.assign(new Error(`${path} is not there.`), { code: 'ENOENT' })
}
export const isGone = (error: unknown) => /^(?:ENOENT|ENOTDIR)$/.test((error as NodeJS.ErrnoException).code ?? '')
