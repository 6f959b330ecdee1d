// Reads the files of a drive off the main thread: what they are, who wrote them and when, what they are like.
import { sha256 } from '@noble/hashes/sha2'
import { bytesToHex } from '@noble/hashes/utils'
import { expose } from 'comlink'
import type { DriveFile } from '../../core/contract'
import { describeFile } from '../../core/intake/describe'

/** Base64 of a sketch's hashes, each little end first. */
function written(sketch: Uint32Array): string {
  const bytes = new Uint8Array(sketch.length * 4)
  const view = new DataView(bytes.buffer)
  for (const [at, hash] of sketch.entries()) view.setUint32(at * 4, hash, true)
  return btoa(String.fromCharCode(...bytes))
}

const reader = {
  /** @throws where the browser does not give the file any more */
  async read(file: File, path: string): Promise<Omit<DriveFile, 'size' | 'modified'>> {
    const bytes = new Uint8Array(await file.arrayBuffer())
    const { at, author, title, sketch, fault } = describeFile(bytes, path)
    return { path, sha256: bytesToHex(sha256(bytes)), ownAt: at, author, title, sketch: written(sketch), fault }
  },
}
export type DriveReader = typeof reader
expose(reader)
