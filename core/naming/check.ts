// A name is checked against what common systems and network shares refuse, because a file
// that is filed here is also taken away and opened elsewhere.
import { type Said, type Sentence, say } from '../words/said'

export interface NameFault {
  fault: 'empty' | 'symbol' | 'control' | 'reserved' | 'ends' | 'long' | 'form'
  /** What is wrong, for people. */
  reason: Sentence
  /** The name put right; null where only a person can. */
  correction: string | null
}

const symbols: Record<string, Said> = {
  '\\': say('naming.symbol-backslash'),
  '/': say('naming.symbol-slash'),
  ':': say('naming.symbol-colon'),
  '*': say('naming.symbol-star'),
  '?': say('naming.symbol-question'),
  '"': say('naming.symbol-quote'),
  '<': say('naming.symbol-less'),
  '>': say('naming.symbol-greater'),
  '|': say('naming.symbol-bar'),
}
const forbidden = /[\\/:*?"<>|]/g
// What cannot be seen (Unicode's control and format characters, and letters that are blank): among them the marks that
// turn the direction of writing, with which a name can pretend another ending. The two joiners are written in some
// scripts and in emoji, and stay.
const control = /(?![\u200c\u200d])[\p{Cc}\p{Cf}]|[\u034f\u115f\u1160\u17b4\u17b5\u2028\u2029\u2800\u3164\uffa0]/gu
/** Device names of common desktop systems, refused with any extension. */
const reserved = /^(con|prn|aux|nul|com[0-9¹²³]|lpt[0-9¹²³])(\.|$)/i
const longest = 255

/** Bytes of a name in UTF-8, which is what file systems count. */
export const byteLength = (name: string): number => new TextEncoder().encode(name).length

/** The form in which names are compared: NFC, without case. Two names with one key are the same name. */
export const nameKey = (name: string): string =>
  plain.test(name) ? name.toLowerCase() : name.normalize('NFC').toLowerCase()
const plain = /^[\x20-\x7e]*$/

/**
 * The first fault of a whole file or folder name (with its extension), or null for a good one.
 * The correction of a fault may show the next fault: `correctName` goes on to the end.
 */
export function checkName(name: string): NameFault | null {
  if (name.trim() === '') return { fault: 'empty', reason: say('naming.enter-a-name'), correction: null }
  const found = [...new Set(name.match(forbidden))]
  if (found.length) {
    const all = found.map((symbol) => say('naming.symbol', { name: symbols[symbol], symbol }))
    return {
      fault: 'symbol',
      reason: say('naming.this-name-has-which-many-computers-and', { all, found: Boolean(found.length > 1) }),
      correction: name.replace(forbidden, '-'),
    }
  }
  if (name.search(control) >= 0)
    return {
      fault: 'control',
      reason: say('naming.this-name-has-an-invisible-symbol-that'),
      correction: name.replace(control, ''),
    }
  if (reserved.test(name))
    return {
      fault: 'reserved',
      reason: say('naming.some-computers-keep-the-name-for-a', { it: name.split('.')[0] }),
      correction: name.replace(/^([^.]+)/, '$1-file'),
    }
  if (/^\s|[\s.]$/.test(name))
    return {
      fault: 'ends',
      reason: say('naming.a-name-cannot-begin-with-a-space'),
      correction: name.replace(/^\s+|[\s.]+$/g, ''),
    }
  if (byteLength(name) > longest) {
    const correction = shorten(name)
    const over = Array.from(name).length - Array.from(correction).length
    return {
      fault: 'long',
      reason: say('naming.this-name-is-too-long-shorten-it', { over }),
      correction,
    }
  }
  if (name !== name.normalize('NFC'))
    return {
      fault: 'form',
      reason: say('naming.this-name-has-letters-in-a-form'),
      correction: name.normalize('NFC'),
    }
  return null
}

/** The name with every correction made that needs no person; null when a person must. */
export function correctName(name: string): string | null {
  let current = name
  for (let round = 0; round < 10; round++) {
    const fault = checkName(current)
    if (!fault) return current
    if (fault.correction === null || fault.correction === current) return null
    current = fault.correction
  }
  return null
}

function shorten(name: string): string {
  const [stem, extension] = splitExtension(name)
  return fitted(stem, extension) + extension
}

/** As much of a stem as has room before what follows it; all of it where it has. */
function fitted(stem: string, after: string): string {
  const room = longest - byteLength(after)
  let bytes = byteLength(stem)
  if (bytes <= room) return stem
  bytes = 0
  let end = 0
  for (const letter of stem) {
    bytes += byteLength(letter)
    if (bytes > room && end > 0) break
    end += letter.length
  }
  return stem.slice(0, end).trimEnd()
}

/** A name as its stem and its extension with the dot (empty when it has none). */
export function splitExtension(name: string): [stem: string, extension: string] {
  const match = /^(.*[^.])(\.[a-z0-9]{1,12})$/i.exec(name)
  return match ? [match[1]!, match[2]!] : [name, '']
}

/**
 * The first of "Name 2", "Name 3" … that `taken` does not hold. A name that ends with a number is counted on where the
 * one without it is there: "Name 2" beside "Name" goes on with "Name 3", and "Budget 2026" with "Budget 2026 2". One
 * that has no room for the number is shortened.
 * @param taken name keys
 */
export function freeName(name: string, taken: ReadonlySet<string>): string {
  if (!taken.has(nameKey(name))) return name
  const [stem, extension] = splitExtension(name)
  const [base, after] = countedOn(stem, (without) => taken.has(nameKey(without + extension)))
  for (let number = after + 1; ; number++) {
    const after = ` ${number}${extension}`
    const candidate = fitted(base, after) + after
    if (!taken.has(nameKey(candidate))) return candidate
  }
}

/** What the keys of a name and of all the names begin with that would be free instead of it. */
export function freeKeysBegin(name: string): string {
  const [stem, extension] = splitExtension(name)
  return nameKey(fitted(stem, ` ${Number.MAX_SAFE_INTEGER}${extension}`))
}

/** What a text that was made free by a number was before, and its number; the text itself and 1 where it was not. */
export function countedOn(text: string, isThere: (without: string) => boolean): [base: string, number: number] {
  const [, base, number] = /^(.*\S)\s(\d{1,3})$/.exec(text) ?? []
  return base !== undefined && Number(number) > 1 && isThere(base) ? [base, Number(number)] : [text, 1]
}
