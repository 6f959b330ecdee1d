// Bytes with some of them replaced.

import { joined } from '../compound/compound'
import { NotPatched } from '../refusals'

const encode = (text: string) => new TextEncoder().encode(text)

export class Splices {
  private readonly edits: { from: number; to: number; text: string; order: number }[] = []
  constructor(private readonly bytes: Uint8Array) {}

  replace(from: number, to: number, text: string): void {
    if (from < to || text) this.edits.push({ from, to, text, order: this.edits.length })
  }
  insert(at: number, text: string): void {
    this.replace(at, at, text)
  }
  /** @throws NotPatched where two of them reach into each other */
  apply(): Uint8Array {
    // What is put in at a place comes before what is replaced from there on.
    const edits = this.edits.toSorted((a, b) => a.from - b.from || a.to - b.to || a.order - b.order)
    const parts: Uint8Array[] = []
    let at = 0
    for (const { from, to, text } of edits) {
      if (from < at) throw new NotPatched()
      parts.push(this.bytes.subarray(at, from), encode(this.apart(from, text) + text))
      at = to
      if (text) continue
      // A word that ended where its next letter was would go on with the one that follows now.
      if (this.endsInWord(from) && this.goesOn(to)) parts.push(encode(' '))
    }
    parts.push(this.bytes.subarray(at))
    return joined(parts)
  }

  /** A space where the text would else go on with a word that ends there. */
  private apart(at: number, text: string): string {
    return /^[-\w ]/.test(text) && this.endsInWord(at) ? ' ' : ''
  }
  private goesOn(at: number): boolean {
    const next = this.bytes[at]
    return next !== undefined && /[-\w ]/.test(String.fromCharCode(next))
  }
  /** Whether a control word ends here without a space of its own. */
  private endsInWord(at: number): boolean {
    let begin = at
    while (begin > 0 && at - begin < 60 && /[-\w]/.test(String.fromCharCode(this.bytes[begin - 1]!))) begin--
    if (!/^[a-zA-Z]+-?\d*$/.test(String.fromCharCode(...this.bytes.subarray(begin, at)))) return false
    let slashes = 0
    while (begin - slashes > 0 && this.bytes[begin - slashes - 1] === 0x5c) slashes++
    return slashes % 2 === 1
  }
}
