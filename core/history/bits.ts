/** Writes bits, the lowest first (RFC 1951 §3.1.1), into bytes that are handed on in pieces. */
export class BitWriter {
  private bytes = new Uint8Array(1 << 16)
  private at = 0
  private held = 0
  private count = 0

  /** @param sink gets the bytes in pieces that are its own */
  constructor(private readonly sink: (piece: Uint8Array) => void) {}

  /** @param length 0 … 16 */
  bits(value: number, length: number): void {
    this.held |= value << this.count
    this.count += length
    while (this.count >= 8) {
      this.byte(this.held & 255)
      this.held >>>= 8
      this.count -= 8
    }
  }
  /** Zero bits up to the next byte. */
  align(): void {
    if (this.count) this.bits(0, 8 - this.count)
  }
  /** Whole bytes; the writer must stand at one. */
  raw(bytes: Uint8Array): void {
    for (const byte of bytes) this.byte(byte)
  }
  byte(value: number): void {
    if (this.at === this.bytes.length) this.flush()
    this.bytes[this.at++] = value
  }
  flush(): void {
    if (this.at) this.sink(this.bytes.slice(0, this.at))
    this.at = 0
  }
}
