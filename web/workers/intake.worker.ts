// Reads the files of a drive off the main thread: what they are, who wrote them and when, what they are like.
import { sha256 } from '@noble/hashes/sha2'
import { bytesToHex } from '@noble/hashes/utils'
import { expose } from 'comlink'
import type { DriveFile } from '../../core/contract'
import { describeFile } from '../../core/intake/describe'
import { sketchBytes } from '../../core/intake/sketch'

const reader = {
  /** @throws where the browser does not give the file any more */
  async read(file: File, path: string): Promise<Omit<DriveFile, 'size' | 'modified'>> {
    const bytes = new Uint8Array(await file.arrayBuffer())
    const { at, author, title, sketch, fault } = describeFile(bytes, path)
    return {
      path,
      sha256: bytesToHex(sha256(bytes)),
      ownAt: at,
      author,
      title,
      sketch: btoa(String.fromCharCode(...sketchBytes(sketch))),
      fault,
    }
  },
}
export type DriveReader = typeof reader
expose(reader)
