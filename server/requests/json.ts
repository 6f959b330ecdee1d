// A request's JSON, within bounds that are checked before anything is made of it: its size as sent and unpacked, its
// depth, its letters. It is read only once it is known who sends it (mount.ts).

import { createGunzip } from 'node:zlib'
import type { Request } from 'express'
import { canBeKept } from '../../core/contract/text'
import { inEnglish } from '../../core/words/in-english'
import { say } from '../../core/words/said'
import { Refusal } from '../refusal'

export const usualLargest = 64_000
/** A body is handled in steps, and between those of a large one others are answered; bytes. */
const worthPauses = 250_000
export const pause = (): Promise<void> => new Promise((go) => setImmediate(go))
/** Lists and objects within each other; what Jaula itself sends has six or so. */
const deepest = 100
/** A body that has not arrived whole after this long is given up; milliseconds. */
const patience = 60_000

/** How JSON writes a letter that no database keeps: as the text comes in UTF-8, there is no other way. */
const unkeptEscape = /\\u(?:0000|d[89a-f])/i

export interface Json {
  value: unknown
  /** Nothing in it is written in a way that could be a letter that cannot be kept. */
  plain: boolean
}

/** @param largest unpacked, in bytes. @throws Refusal invalid, too-large */
export async function readJson(request: Request, largest: number, mayBePacked: boolean): Promise<Json> {
  const type = (request.headers['content-type'] ?? '').toLowerCase()
  if (type && !/^application\/json\s*(;\s*charset="?utf-?8"?\s*)?$/.test(type))
    throw new Refusal('invalid', say('problem.this-request-is-not-json-in-utf'))
  const encoding = (request.headers['content-encoding'] ?? 'identity').toLowerCase()
  if (encoding !== 'identity' && !(encoding === 'gzip' && mayBePacked))
    throw new Refusal('invalid', say('problem.a-request-like-this-is-sent-without'))
  const tooLarge = () =>
    new Refusal('too-large', say('problem.this-request-is-larger-than-kb', { ceil: Math.ceil(largest / 1000) }))
  if (Number(request.headers['content-length'] ?? 0) > largest) throw tooLarge()
  const chunks: Buffer[] = []
  let size = 0
  const late = setTimeout(
    () => request.destroy(new Error(inEnglish(say('problem.the-request-took-too-long')))),
    patience,
  )
  try {
    const body = encoding === 'gzip' ? request.pipe(createGunzip()) : request
    for await (const chunk of body as AsyncIterable<Buffer>) {
      size += chunk.length
      if (size > largest) throw tooLarge()
      chunks.push(chunk)
    }
  } catch (error) {
    if (error instanceof Refusal) throw error
    throw new Refusal('invalid', say('problem.this-request-did-not-arrive-whole'))
  } finally {
    clearTimeout(late)
  }
  if (size === 0) return { value: undefined, plain: true }
  const bytes = Buffer.concat(chunks, size)
  const between = () => (size > worthPauses ? pause() : undefined)
  await between()
  if (isTooDeep(bytes)) throw new Refusal('invalid', say('problem.this-request-is-nested-too-deeply'))
  try {
    const text = bytes.toString()
    const plain = !unkeptEscape.test(text)
    await between()
    const value: unknown = JSON.parse(text)
    await between()
    return { value, plain }
  } catch {
    throw new Refusal('invalid', say('problem.this-request-is-not-json'))
  }
}

/** Whether lists and objects lie deeper within each other than is read, found without reading them (RFC 8259). */
export function isTooDeep(json: Uint8Array): boolean {
  let depth = 0
  let inText = false
  for (let at = 0; at < json.length; at++) {
    const byte = json[at]
    if (inText) {
      if (byte === 0x5c) at++
      else if (byte === 0x22) inText = false
    } else if (byte === 0x22) inText = true
    else if (byte === 0x5b || byte === 0x7b) {
      if (++depth > deepest) return true
    } else if (byte === 0x5d || byte === 0x7d) depth--
  }
  return false
}

/** Records are kept as their exact bytes, whatever is in them. */
const exact = new Set(['lines', 'records'])

/** The path of the first text that no database keeps; null where all can be kept. */
export function unkeptText(value: unknown, path: readonly string[] = []): string | null {
  if (typeof value === 'string') return canBeKept(value) ? null : path.join('.')
  if (typeof value !== 'object' || value === null) return null
  for (const [key, one] of Object.entries(value)) {
    if (exact.has(key)) continue
    if (!canBeKept(key)) return path.join('.')
    const found = unkeptText(one, [...path, key])
    if (found !== null) return found
  }
  return null
}
