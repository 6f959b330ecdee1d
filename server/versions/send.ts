// A version's bytes on their way to whoever asked, proved as they pass.
import { createHash } from 'node:crypto'
import type { Response } from 'express'
import type { EntityManager } from 'typeorm'
import { fileType, nameAs } from '../../core/formats/types'
import { say } from '../../core/words/said'
import { Refusal } from '../refusal'
import { type Contents, isDamage } from '../storage/content'

/** Headers of a file that is handed out (RFC 6266, RFC 8187). */
export const attachmentOf = ({ fileName, type, size }: { fileName: string; type: string; size: number }) => ({
  // Never as a page of ours: a brought-in file is somebody else's content.
  'content-type': fileType(type).editable ? fileType(type).mediaType : 'application/octet-stream',
  'content-length': String(size),
  'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(nameAs(fileName, type)).replace(/['()*]/g, (c) => `%${c.charCodeAt(0).toString(16)}`)}`,
})

/** So much is held before anything is sent: a file that is no longer is never sent damaged. */
const mostHeld = 8 << 20

/**
 * Sends a content under headers that the caller has set.
 * @throws Refusal when it is damaged and nothing was sent yet; a longer one is cut off then, so that it is not taken for whole
 */
export async function sendContent(
  contents: Contents,
  manager: EntityManager,
  sha256: Buffer,
  response: Response,
): Promise<void> {
  const hash = createHash('sha256')
  const held: Uint8Array[] = []
  let size = 0
  const send = async (piece: Uint8Array) => {
    if (response.destroyed || response.write(piece)) return
    await new Promise<void>((resolve) => {
      const go = () => {
        response.off('drain', go).off('close', go)
        resolve()
      }
      response.on('drain', go).on('close', go)
    })
  }
  try {
    for await (const piece of contents.read(manager, sha256)) {
      // Whoever asked is gone.
      if (response.destroyed) return
      hash.update(piece)
      held.push(piece)
      size += piece.length
      // The last piece waits for the proof.
      while (size > mostHeld && held.length > 1) {
        const first = held.shift()!
        size -= first.length
        await send(first)
      }
    }
    if (!hash.digest().equals(sha256)) throw new RangeError('These are not the bytes that were saved.')
  } catch (error) {
    if (!isDamage(error)) throw error
    if (response.headersSent) return void response.destroy(error as Error)
    for (const name of response.getHeaderNames())
      if (/^(content-|cache-control|etag)/.test(name)) response.removeHeader(name)
    throw Object.assign(new Refusal('checksum-differs', say('problem.this-version-is-damaged-on-the-server')), {
      cause: error,
    })
  }
  for (const piece of held) await send(piece)
  response.end()
}
