// The tokens of Rich Text Format 1.9.1 ("Basic Entities"), each with where it stands.

export type Token =
  | { readonly is: 'open' | 'close' | 'end'; readonly from: number; readonly to: number }
  /** A control word or symbol; `value` is null where it has no number. */
  | {
      readonly is: 'word'
      readonly name: string
      readonly value: number | null
      readonly from: number
      readonly to: number
    }
  /** One byte, as `\'xx`. */
  | { readonly is: 'byte'; readonly byte: number; readonly from: number; readonly to: number }
  /** Letters as they stand; line ends between them are none. */
  | { readonly is: 'text'; readonly from: number; readonly to: number }

const backslash = 0x5c
const isLetter = (byte: number | undefined) =>
  byte !== undefined && ((byte >= 0x61 && byte <= 0x7a) || (byte >= 0x41 && byte <= 0x5a))
const isDigit = (byte: number | undefined) => byte !== undefined && byte >= 0x30 && byte <= 0x39
const hexOf = (byte: number | undefined): number => {
  if (byte === undefined) return -1
  if (isDigit(byte)) return byte - 0x30
  const low = byte | 0x20
  return low >= 0x61 && low <= 0x66 ? low - 0x57 : -1
}
/** Letters of a control word at most, as the format has them ("32 letters"), and some. */
const longestWord = 40

export class Scanner {
  at = 0
  constructor(readonly bytes: Uint8Array) {}

  next(): Token {
    const { bytes } = this
    while (bytes[this.at] === 0x0d || bytes[this.at] === 0x0a || bytes[this.at] === 0) this.at++
    const from = this.at
    if (from >= bytes.length) return { is: 'end', from, to: from }
    const byte = bytes[from]!
    if (byte === 0x7b || byte === 0x7d) {
      this.at++
      return { is: byte === 0x7b ? 'open' : 'close', from, to: this.at }
    }
    if (byte === backslash) return this.control(from)
    let to = from + 1
    while (to < bytes.length) {
      const one = bytes[to]!
      if (one === backslash || one === 0x7b || one === 0x7d || one === 0x0d || one === 0x0a || one === 0) break
      to++
    }
    this.at = to
    return { is: 'text', from, to }
  }

  private control(from: number): Token {
    const { bytes } = this
    let at = from + 1
    if (!isLetter(bytes[at])) {
      if (bytes[at] === 0x27) {
        const [high, low] = [hexOf(bytes[at + 1]), hexOf(bytes[at + 2])]
        this.at = Math.min(bytes.length, at + 3)
        return { is: 'byte', byte: high < 0 || low < 0 ? 0x3f : high * 16 + low, from, to: this.at }
      }
      this.at = Math.min(bytes.length, at + 1)
      const sign = bytes[at]
      const name = sign === undefined ? '' : sign === 0x0d || sign === 0x0a ? 'par' : String.fromCharCode(sign)
      return { is: 'word', name, value: null, from, to: this.at }
    }
    const begin = at
    while (isLetter(bytes[at]) && at - begin < longestWord) at++
    const name = String.fromCharCode(...bytes.subarray(begin, at))
    let value: number | null = null
    const negative = bytes[at] === 0x2d && isDigit(bytes[at + 1])
    if (negative) at++
    if (isDigit(bytes[at])) {
      value = 0
      for (let digits = 0; isDigit(bytes[at]); at++) if (digits++ < 10) value = value * 10 + bytes[at]! - 0x30
      if (negative) value = -value
    }
    // One space ends a word and is of it.
    if (bytes[at] === 0x20) at++
    if (name === 'bin' && value !== null && value > 0) at = Math.min(bytes.length, at + value)
    this.at = at
    return { is: 'word', name, value, from, to: at }
  }

  /** Behind the end of the group that is open. @param onto is told of each token in it, with its depth */
  restOfGroup(onto?: (token: Token, depth: number) => void): number {
    let depth = 0
    for (;;) {
      const token = this.next()
      if (token.is === 'end') return token.from
      if (token.is === 'close' && depth-- === 0) return token.to
      onto?.(token, depth)
      if (token.is === 'open') depth++
    }
  }
}
