/** Collects bytes and whole numbers; numbers in base 128, the lowest seven bits first. */
export class ByteWriter {
  private bytes = new Uint8Array(1 << 12)
  size = 0

  private room(more: number): void {
    if (this.size + more <= this.bytes.length) return
    const larger = new Uint8Array(Math.max(this.bytes.length * 2, this.size + more))
    larger.set(this.bytes.subarray(0, this.size))
    this.bytes = larger
  }
  number(value: number): void {
    this.room(8)
    let rest = value
    while (rest > 127) {
      this.bytes[this.size++] = (rest % 128) | 128
      rest = Math.floor(rest / 128)
    }
    this.bytes[this.size++] = rest
  }
  raw(bytes: Uint8Array): void {
    this.room(bytes.length)
    this.bytes.set(bytes, this.size)
    this.size += bytes.length
  }
  /** What was collected, as its own bytes; the writer is empty then. */
  take(): Uint8Array {
    const taken = this.bytes.slice(0, this.size)
    this.size = 0
    return taken
  }
}

/** Reads what ByteWriter collected. @throws RangeError past the end */
export class ByteReader {
  at = 0
  constructor(private readonly bytes: Uint8Array) {}

  get done(): boolean {
    return this.at >= this.bytes.length
  }
  /** Bytes that are still to be read; a number takes one at least. */
  get left(): number {
    return Math.max(0, this.bytes.length - this.at)
  }
  number(): number {
    let value = 0
    for (let scale = 1; ; scale *= 128) {
      const byte = this.bytes[this.at++]
      if (byte === undefined) throw new RangeError('The bytes end too early.')
      value += (byte & 127) * scale
      if (byte < 128) return value
    }
  }
  raw(size: number): Uint8Array {
    if (this.at + size > this.bytes.length) throw new RangeError('The bytes end too early.')
    this.at += size
    return this.bytes.subarray(this.at - size, this.at)
  }
}
