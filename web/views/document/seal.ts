// Text that this browser wrote, told from text that somebody else did (RFC 2104, with SHA-256).
import { hmac } from '@noble/hashes/hmac'
import { sha256 } from '@noble/hashes/sha2'
import { bytesToHex, hexToBytes, randomBytes, utf8ToBytes } from '@noble/hashes/utils'

const place = 'jaula-seal'
let own: Uint8Array | null = null
/** This browser's own; where nothing can be kept it is this page's. */
function key(): Uint8Array {
  if (own) return own
  try {
    const kept = localStorage.getItem(place) ?? ''
    if (/^[0-9a-f]{64}$/.test(kept)) own = hexToBytes(kept)
    else {
      own = randomBytes(32)
      localStorage.setItem(place, bytesToHex(own))
    }
  } catch {
    own ??= randomBytes(32)
  }
  return own
}
const sealOf = (text: string): string => bytesToHex(hmac(sha256, key(), utf8ToBytes(text)))

export const sealed = (text: string): string => `${sealOf(text)} ${text}`
/** @returns the text; null where this browser did not seal it, or it was changed since */
export function opened(sealedText: string): string | null {
  const text = sealedText.slice(65)
  return sealedText[64] === ' ' && sealedText.slice(0, 64) === sealOf(text) ? text : null
}
