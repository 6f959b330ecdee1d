import { createHash } from 'node:crypto'
import type { Request } from 'express'
import { Refusal } from './refusal'

export interface ReceivedBytes {
  bytes: Buffer
  /** SHA-256, taken while the bytes arrived. */
  digest: Buffer
}

/** Reads a request's body. @param largest in bytes. @throws Refusal too-large, at once where the length is announced */
export function receiveBytes(request: Request, largest: number): Promise<ReceivedBytes> {
  const tooLarge = new Refusal('too-large', `Files up to ${Math.floor(largest / 1e6)} MB can be kept here.`)
  if (Number(request.headers['content-length'] ?? 0) > largest) return Promise.reject(tooLarge)
  return new Promise((resolve, reject) => {
    const hash = createHash('sha256')
    const chunks: Buffer[] = []
    let size = 0
    request.on('data', (chunk: Buffer) => {
      size += chunk.length
      if (size > largest) {
        request.removeAllListeners('data').resume()
        reject(tooLarge)
        return
      }
      hash.update(chunk)
      chunks.push(chunk)
    })
    request.once('end', () => resolve({ bytes: Buffer.concat(chunks, size), digest: hash.digest() }))
    request.once('aborted', () => reject(new Refusal('invalid', 'The file did not arrive whole.')))
    request.once('error', reject)
  })
}
