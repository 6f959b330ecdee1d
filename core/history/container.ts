// A file opened into its frame and its body, and made again from them, byte for byte.
//
// The frame is what holds a zip container together (APPNOTE.TXT 4.3: headers, directory) and the plans of
// its DEFLATE streams; it is small and changes with every save. The body is what the parts hold: tokens of
// streams, and bytes of whatever is not packed or could not be opened. Bytes that are no container at all
// are all body. Nothing is interpreted beyond what is needed to find the streams: whatever is unusual stays
// as it came.
import { DeflateMaker, openDeflate, packPlan, unpackPlan } from '../deflate'
import { ByteReader, ByteWriter } from './varint'

export interface BodySink {
  /** Bytes, only theirs until this returns. */
  bytes(bytes: Uint8Array): void
  tokens(tokens: Uint32Array, count: number): void
  /** A part ends here: a good place to cut. */
  endOfPart(): void
  /** The directory of the container comes next, and nothing after it. @param size in bytes */
  directoryComes(size: number): void
}

/** What a step of the frame is followed by. */
const inFrame = 0
const inBody = 1
const stream = 2
/** As `inBody`, and made by `directory`. */
const directoryInBody = 3

const localHeader = 0x04034b50
const directoryHeader = 0x02014b50
/** A longer directory stays as it came: it is held whole while it is made. */
const longestDirectory = 256 << 10
/** Longer bytes of the frame go into the body, where what stays the same is shared. */
const longestInFrame = 512
/** Streams of up to so many tokens are opened once, with the tokens held until the stream is known to be whole. */
const openedAtOnce = 2 << 20

/**
 * Opens a file step by step, so that whoever takes in the body can make room between.
 * @param plainly as bytes that are no container
 * @returns its frame
 */
export function* openFile(bytes: Uint8Array, body: BodySink, plainly = false): Generator<void, Uint8Array> {
  const frame = new ByteWriter()
  function* plain(from: number, to: number): Generator<void> {
    if (to <= from) return
    const some = bytes.subarray(from, to)
    const directory = to === bytes.length && !plainly ? directorySteps(some, -1) : null
    if (directory) {
      frame.number(directoryInBody)
      frame.number(some.length)
      body.directoryComes(directory.length)
      yield* put(directory, body)
    } else if (some.length <= longestInFrame) {
      frame.number(inFrame)
      frame.number(some.length)
      frame.raw(some)
    } else {
      frame.number(inBody)
      frame.number(some.length)
      yield* put(some, body)
    }
  }
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  let kept = 0
  let at = 0
  while (!plainly && at + 30 <= bytes.length && view.getUint32(at, true) === localHeader) {
    const flags = view.getUint16(at + 6, true)
    const method = view.getUint16(at + 8, true)
    const size = view.getUint32(at + 18, true)
    const data = at + 30 + view.getUint16(at + 26, true) + view.getUint16(at + 28, true)
    if (data > bytes.length || flags & 1) break
    if (method === 8) {
      yield* plain(kept, data)
      kept = data
      const end = yield* openStream(bytes, data, frame, body)
      // Without a stream that can be made again the size in the header tells where the next part is.
      if (end !== null) kept = end
      at = end ?? data + size
    } else at = data + size
    // Stored parts are data, not frame, and so is a stream that stays as it came.
    if (at > kept) {
      const to = Math.min(at, bytes.length)
      yield* plain(kept, Math.min(Math.max(kept, data), to))
      frame.number(inBody)
      frame.number(to - Math.min(Math.max(kept, data), to))
      yield* put(bytes.subarray(Math.min(Math.max(kept, data), to), to), body)
      kept = to
    }
    // A data descriptor (4.3.9) stands between, with or without its signature.
    if (flags & 8)
      for (let skip = 0; skip <= 24; skip += 4) {
        if (at + skip + 4 > bytes.length || (view.getUint32(at + skip, true) & 0xffff) !== 0x4b50) continue
        const signature = view.getUint32(at + skip, true)
        if (signature !== localHeader && signature !== 0x02014b50) continue
        at += skip
        break
      }
  }
  yield* plain(kept, bytes.length)
  return frame.take()
}

/**
 * A directory with each entry's place as the way from the one before (APPNOTE.TXT 4.3.12): a part that gets longer moves
 * all that follow, and changes one number of them.
 * @param way -1 for so, 1 for back again @returns null where there is none
 */
function directorySteps(bytes: Uint8Array, way: -1 | 1): Uint8Array | null {
  if (bytes.length < 46 || bytes.length > longestDirectory) return null
  // A copy, whatever kind of bytes they are: slices of Node's buffers share theirs.
  const made = new Uint8Array(bytes)
  const view = new DataView(made.buffer)
  let entries = 0
  let before = 0
  for (let at = 0; at + 46 <= made.length && view.getUint32(at, true) === directoryHeader; entries++) {
    const place = view.getUint32(at + 42, true)
    const now = (place + way * before) >>> 0
    view.setUint32(at + 42, now, true)
    before = way === 1 ? now : place
    at += 46 + view.getUint16(at + 28, true) + view.getUint16(at + 30, true) + view.getUint16(at + 32, true)
  }
  return entries > 0 ? made : null
}

function* put(bytes: Uint8Array, body: BodySink): Generator<void> {
  for (let at = 0; at < bytes.length; at += 1 << 16) {
    body.bytes(bytes.subarray(at, at + (1 << 16)))
    yield
  }
  body.endOfPart()
}

/** @returns the byte after the stream; null when it stays as it came */
function* openStream(
  bytes: Uint8Array,
  from: number,
  frame: ByteWriter,
  body: BodySink,
): Generator<void, number | null> {
  const held: Uint32Array[] = []
  let count = 0
  const first = openDeflate(bytes, from)
  let step = first.next()
  for (; !step.done; step = first.next()) {
    if (count < openedAtOnce) held.push(step.value.slice())
    count += step.value.length
  }
  const opened = step.value
  if (!opened) return null
  // A long one is opened a second time, so that its tokens are never all in memory.
  for (const tokens of count <= openedAtOnce ? held : openDeflate(bytes, from)) {
    body.tokens(tokens, tokens.length)
    yield
  }
  body.endOfPart()
  const numbers = packPlan(opened.plan)
  frame.number(stream)
  frame.number(numbers.length)
  for (const number of numbers) frame.number(number)
  return opened.end
}

/** Makes a file again: give it the body in the order it came in. */
export class FileMaker {
  private readonly steps: ByteReader
  /** Bytes of the body that stand next, or the stream that the next tokens go to. */
  private raw = 0
  /** What there is of a directory so far. */
  private directory: { bytes: Uint8Array; size: number } | null = null
  private stream: DeflateMaker | null = null

  /** @param sink gets the file's bytes in pieces, which are only its own until it returns */
  constructor(
    frame: Uint8Array,
    private readonly sink: (piece: Uint8Array) => void,
  ) {
    this.steps = new ByteReader(frame)
    this.advance()
  }

  /** @throws RangeError when the frame has no place for them */
  bytes(bytes: Uint8Array): void {
    for (let at = 0; at < bytes.length; ) {
      if (this.raw === 0) throw new RangeError('More bytes than the frame has.')
      const some = bytes.subarray(at, at + this.raw)
      if (this.directory) {
        this.directory.bytes.set(some, this.directory.size)
        this.directory.size += some.length
      } else this.sink(some)
      at += some.length
      this.raw -= some.length
      if (this.raw > 0) continue
      if (this.directory) {
        const made = directorySteps(this.directory.bytes, 1)
        if (!made) throw new RangeError('This is no directory.')
        this.sink(made)
        this.directory = null
      }
      this.advance()
    }
  }
  /** Tokens of one stream. @throws RangeError when the frame has no place for them */
  tokens(tokens: Uint32Array, count: number): void {
    if (!this.stream) throw new RangeError('More tokens than the frame has.')
    this.stream.tokens(tokens, 0, count)
    if (!this.stream.complete) return
    this.stream.end()
    this.stream = null
    this.advance()
  }
  /** @throws RangeError when something is missing */
  end(): void {
    if (this.raw || this.stream || !this.steps.done) throw new RangeError('The body ends too early.')
  }

  private advance(): void {
    while (!this.steps.done) {
      const step = this.steps.number()
      const size = this.steps.number()
      if (step === inFrame) this.sink(this.steps.raw(size))
      else if (step === inBody || step === directoryInBody) {
        if (step === directoryInBody && size > longestDirectory) throw new RangeError('No directory is as long.')
        if (step === directoryInBody) this.directory = { bytes: new Uint8Array(size), size: 0 }
        this.raw = size
        if (size) return
      } else {
        if (size > this.steps.left) throw new RangeError('The frame ends too early.')
        const maker = new DeflateMaker(unpackPlan(Array.from({ length: size }, () => this.steps.number())), this.sink)
        if (!maker.complete) {
          this.stream = maker
          return
        }
        maker.end()
      }
    }
  }
}
