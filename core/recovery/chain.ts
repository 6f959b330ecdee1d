// A journal is a chain. Each record is kept as the exact text it was first written as, and its digest is
// taken over the digest before it and the bytes of that text:
//
//   d₀ = SHA-256("jaula journal" LF base)        dₙ = SHA-256(dₙ₋₁ ‖ UTF-8(textₙ))
//
// so that one digest stands for all records up to it. Two journals are the same up to a number exactly when
// their digests there are equal; a number alone says nothing, because two devices can both write a record 12.
// Texts are JSON (RFC 8259) as JSON.stringify writes it: without line breaks, and with NUL and lone
// surrogates escaped, so that the text survives every way and every store. SHA-256 is FIPS 180-4, computed
// at once and not by WebCrypto, whose promises would end a transaction of IndexedDB.
import { sha256 } from '@noble/hashes/sha2'
import { bytesToHex, hexToBytes, utf8ToBytes } from '@noble/hashes/utils'
import type { JournalRecord } from '../contract'

/** A SHA-256 as 64 hexadecimal digits. */
export type Digest = string

/** A record in its chain. */
export interface Link {
  seq: number
  /** The record, exactly as it was first written. */
  text: string
  digest: Digest
}

/** The digest that a chain begins with. @param baseVersionId what its records are applied to; null for blank */
export const genesis = (baseVersionId: string | null): Digest =>
  bytesToHex(sha256(utf8ToBytes(`jaula journal\n${baseVersionId ?? ''}`)))

/** The digest of a record that follows one with the digest `before`. */
export function linkDigest(before: Digest, text: string): Digest {
  return bytesToHex(sha256.create().update(hexToBytes(before)).update(utf8ToBytes(text)).digest())
}

/** The text that a record is kept as. */
export const recordText = ({ seq, at, edit, ...rest }: JournalRecord): string =>
  JSON.stringify({ seq, at, edit, ...rest })

/**
 * The text of a record whose exact text is not known, because an earlier Jaula kept only its content: keys in
 * the order of their UTF-16 units and numbers as ECMAScript writes them (RFC 8785), so that whoever holds the
 * same content makes the same text of it.
 */
export function contentText({ seq, at, edit }: JournalRecord): string {
  return JSON.stringify(sorted({ seq, at, edit }))
}
function sorted(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(sorted)
  if (typeof value !== 'object' || value === null) return value
  const entries = Object.entries(value as Record<string, unknown>).filter(([, one]) => one !== undefined)
  // Keys that are whole numbers come first in every object, in their own order; that is the same everywhere.
  return Object.fromEntries(entries.sort(([a], [b]) => (a < b ? -1 : 1)).map(([key, one]) => [key, sorted(one)]))
}

/** The record that a text holds. @throws SyntaxError */
export const recordOf = (text: string): JournalRecord => JSON.parse(text) as JournalRecord

/** Texts as the links that follow a record. */
export function chainOf(texts: readonly string[], after: { seq: number; digest: Digest }): Link[] {
  let { seq, digest } = after
  return texts.map((text) => {
    digest = linkDigest(digest, text)
    return { seq: ++seq, text, digest }
  })
}

/** How many records two chains that begin at the same base have in common. */
export function commonLength(mine: readonly Link[], theirs: readonly Link[]): number {
  // Equal digests mean equal beginnings, so that the last equal one is found by halving.
  let [low, high] = [0, Math.min(mine.length, theirs.length)]
  while (low < high) {
    const middle = (low + high + 1) >> 1
    if (mine[middle - 1]!.digest === theirs[middle - 1]!.digest) low = middle
    else high = middle - 1
  }
  return low
}

/** The digest of a chain at a number; null where it does not reach so far. */
export const digestAt = (chain: readonly Link[], seq: number, baseVersionId: string | null): Digest | null =>
  seq === 0 ? genesis(baseVersionId) : (chain[seq - 1]?.digest ?? null)

/**
 * The id of the draft that holds what one writer had beyond what it has in common with another: made of the
 * draft's id and the first digest of its own (UUID version 8, RFC 9562 §5.8), so that two tabs, or one that
 * crashed in the middle and begins again, make one draft and not two.
 */
export function forkId(draftId: string, firstOwn: Digest): string {
  const hex = bytesToHex(sha256(utf8ToBytes(`jaula fork\n${draftId}\n${firstOwn}`)))
  const variant = ((Number.parseInt(hex[16]!, 16) & 0x3) | 0x8).toString(16)
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-8${hex.slice(13, 16)}-${variant}${hex.slice(17, 20)}-${hex.slice(20, 32)}`
}
