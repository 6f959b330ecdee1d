// How two common compressors choose the codes of a dynamic block from what is in it. Nothing says that a
// stream was written by either; where what they would have written is exactly what stands there, it need
// not be kept, and where not, it is kept as it stands.
//
// Sources: zlib 1.2.13 trees.c (build_tree, gen_bitlen, scan_tree, send_tree; zlib licence), whose rules
// every compressor that descends from it follows; fflate 0.8 (hTree, lc, wblk; MIT), which Jaula writes with.
import { codeLengthOrder, codesOf, distances, endOfBlock, literals } from './code'

export type TreeRule = 'zlib' | 'fflate'

/** Bits, the lowest first, at most 16 at a time. */
export type BitSink = (value: number, length: number) => void

export interface Codes {
  literalLengths: Uint8Array
  distanceLengths: Uint8Array
}

/** The codes that a rule chooses for symbol counts. @param literalCounts with one end of block counted */
export function chooseCodes(rule: TreeRule, literalCounts: Uint32Array, distanceCounts: Uint32Array): Codes {
  const lengths = rule === 'zlib' ? zlibLengths : fflateLengths
  return {
    literalLengths: lengths(literalCounts, literals, 15),
    distanceLengths: lengths(distanceCounts, distances, 15),
  }
}

// -- Code lengths ----------------------------------------------------------------------------

/** build_tree and gen_bitlen of zlib: a heap by count and depth, and its way of cutting codes that are too long. */
function zlibLengths(given: Uint32Array, symbols: number, longest: number): Uint8Array {
  const size = 2 * symbols + 1
  const counts = new Uint32Array(size)
  counts.set(given.subarray(0, symbols))
  const parent = new Uint16Array(size)
  const depth = new Uint8Array(size)
  const heap = new Uint16Array(size)
  let inHeap = 0
  let top = size
  let highest = -1
  for (let symbol = 0; symbol < symbols; symbol++)
    if (counts[symbol]) {
      heap[++inHeap] = symbol
      highest = symbol
    }
  // At least two codes, so that each has at least one bit.
  while (inHeap < 2) {
    const symbol = highest < 2 ? ++highest : 0
    heap[++inHeap] = symbol
    counts[symbol] = 1
  }
  const before = (a: number, b: number) =>
    counts[a]! < counts[b]! || (counts[a] === counts[b] && depth[a]! <= depth[b]!)
  const sink = (from: number) => {
    let at = from
    const moving = heap[at]!
    for (let child = at << 1; child <= inHeap; child <<= 1) {
      if (child < inHeap && before(heap[child + 1]!, heap[child]!)) child++
      if (before(moving, heap[child]!)) break
      heap[at] = heap[child]!
      at = child
    }
    heap[at] = moving
  }
  for (let at = inHeap >> 1; at >= 1; at--) sink(at)
  let node = symbols
  do {
    const least = heap[1]!
    heap[1] = heap[inHeap--]!
    sink(1)
    const next = heap[1]!
    heap[--top] = least
    heap[--top] = next
    counts[node] = counts[least]! + counts[next]!
    depth[node] = Math.max(depth[least]!, depth[next]!) + 1
    parent[least] = node
    parent[next] = node
    heap[1] = node++
    sink(1)
  } while (inHeap >= 2)
  heap[--top] = heap[1]!

  const lengths = new Uint8Array(size)
  const ofLength = new Uint16Array(longest + 1)
  let overflow = 0
  lengths[heap[top]!] = 0
  for (let at = top + 1; at < size; at++) {
    const one = heap[at]!
    let bits = lengths[parent[one]!]! + 1
    if (bits > longest) {
      bits = longest
      overflow++
    }
    lengths[one] = bits
    if (one <= highest) ofLength[bits]!++
  }
  if (overflow) {
    do {
      let bits = longest - 1
      while (!ofLength[bits]) bits--
      ofLength[bits]!--
      ofLength[bits + 1]! += 2
      ofLength[longest]!--
      overflow -= 2
    } while (overflow > 0)
    let at = size
    for (let bits = longest; bits; bits--)
      for (let left = ofLength[bits]!; left; ) {
        const one = heap[--at]!
        if (one > highest) continue
        lengths[one] = bits
        left--
      }
  }
  return lengths.slice(0, symbols)
}

interface FflateNode {
  symbol: number
  count: number
  left?: FflateNode
  right?: FflateNode
}

/** hTree of fflate, with its own way of cutting codes that are too long. */
function fflateLengths(given: Uint32Array, symbols: number, longest: number): Uint8Array {
  const lengths = new Uint8Array(symbols)
  const leaves: FflateNode[] = []
  for (let symbol = 0; symbol < symbols; symbol++) if (given[symbol]) leaves.push({ symbol, count: given[symbol]! })
  if (leaves.length === 0) return lengths
  if (leaves.length === 1) {
    lengths[leaves[0]!.symbol] = 1
    return lengths
  }
  const nodes = leaves.toSorted((a, b) => a.count - b.count)
  nodes.push({ symbol: -1, count: 25001 })
  const joined = (left: FflateNode, right: FflateNode): FflateNode => ({
    symbol: -1,
    count: left.count + right.count,
    left,
    right,
  })
  nodes[0] = joined(nodes[0]!, nodes[1]!)
  let behind = 0
  let made = 1
  let ahead = 2
  while (made !== leaves.length - 1) {
    const left = nodes[nodes[behind]!.count < nodes[ahead]!.count ? behind++ : ahead++]!
    const right = nodes[behind !== made && nodes[behind]!.count < nodes[ahead]!.count ? behind++ : ahead++]!
    nodes[made++] = joined(left, right)
  }
  const deep = new Uint16Array(symbols)
  const measure = (node: FflateNode, depth: number): number => {
    if (node.left) return Math.max(measure(node.left, depth + 1), measure(node.right!, depth + 1))
    deep[node.symbol] = depth
    return depth
  }
  const deepest = measure(nodes[made - 1]!, 0)
  if (deepest > longest) {
    const over = deepest - longest
    const cost = 1 << over
    const order = leaves.toSorted((a, b) => deep[b.symbol]! - deep[a.symbol]! || a.count - b.count)
    let at = 0
    let debt = 0
    for (; at < order.length; at++) {
      const { symbol } = order[at]!
      if (deep[symbol]! <= longest) break
      debt += cost - (1 << (deepest - deep[symbol]!))
      deep[symbol] = longest
    }
    debt >>= over
    while (debt > 0) {
      const { symbol } = order[at]!
      if (deep[symbol]! < longest) debt -= 1 << (longest - deep[symbol]!++ - 1)
      else at++
    }
    for (; at >= 0 && debt; at--) {
      const { symbol } = order[at]!
      if (deep[symbol] === longest) {
        deep[symbol]!--
        debt++
      }
    }
  }
  lengths.set(deep)
  return lengths
}

// -- The head of a dynamic block (§3.2.7) ------------------------------------------------------

/** Code length symbols with their extra bits: symbol, value, bits. */
type Run = [symbol: number, extra: number, bits: number]

/** scan_tree and send_tree of zlib. */
function zlibRuns(lengths: Uint8Array, upTo: number): Run[] {
  const runs: Run[] = []
  let previous = -1
  let count = 0
  let most = lengths[0] === 0 ? 138 : 7
  let least = lengths[0] === 0 ? 3 : 4
  for (let at = 0; at <= upTo; at++) {
    const current = lengths[at]!
    // After the last one stands a length that equals none.
    const next = at === upTo ? 0xffff : lengths[at + 1]!
    if (++count < most && current === next) continue
    if (count < least) for (; count; count--) runs.push([current, 0, 0])
    else if (current !== 0) {
      if (current !== previous) {
        runs.push([current, 0, 0])
        count--
      }
      runs.push([16, count - 3, 2])
    } else if (count <= 10) runs.push([17, count - 3, 3])
    else runs.push([18, count - 11, 7])
    count = 0
    previous = current
    most = next === 0 ? 138 : current === next ? 6 : 7
    least = next === 0 || current === next ? 3 : 4
  }
  return runs
}

/** lc of fflate. */
function fflateRuns(lengths: Uint8Array, upTo: number): Run[] {
  const runs: Run[] = []
  const size = upTo + 1
  let current = lengths[0]!
  let streak = 1
  for (let at = 1; at <= size; at++) {
    if (at !== size && lengths[at] === current) {
      streak++
      continue
    }
    if (!current && streak > 2) {
      for (; streak > 138; streak -= 138) runs.push([18, 127, 7])
      if (streak > 2) {
        runs.push(streak > 10 ? [18, streak - 11, 7] : [17, streak - 3, 3])
        streak = 0
      }
    } else if (streak > 3) {
      runs.push([current, 0, 0])
      streak--
      for (; streak > 6; streak -= 6) runs.push([16, 3, 2])
      if (streak > 2) {
        runs.push([16, streak - 3, 2])
        streak = 0
      }
    }
    while (streak-- > 0) runs.push([current, 0, 0])
    streak = 1
    current = lengths[at]!
  }
  return runs
}

/** Writes the head of a dynamic block with these codes as the rule does, from HLIT on. */
export function writeHead(rule: TreeRule, { literalLengths, distanceLengths }: Codes, sink: BitSink): void {
  let highestLiteral = literals - 1
  while (highestLiteral > endOfBlock && !literalLengths[highestLiteral]) highestLiteral--
  let highestDistance = distances - 1
  while (highestDistance > 0 && !distanceLengths[highestDistance]) highestDistance--
  const runsOf = rule === 'zlib' ? zlibRuns : fflateRuns
  const runs = [...runsOf(literalLengths, highestLiteral), ...runsOf(distanceLengths, highestDistance)]
  const counts = new Uint32Array(19)
  for (const [symbol] of runs) counts[symbol]!++
  const lengths = rule === 'zlib' ? zlibLengths(counts, 19, 7) : fflateLengths(counts, 19, 7)
  let last = 18
  while (last > 3 && !lengths[codeLengthOrder[last]!]) last--
  sink(highestLiteral - 256, 5)
  sink(highestDistance, 5)
  sink(last - 3, 4)
  for (let at = 0; at <= last; at++) sink(lengths[codeLengthOrder[at]!]!, 3)
  const codes = codesOf(lengths)
  for (const [symbol, extra, bits] of runs) {
    sink(codes[symbol]!, lengths[symbol]!)
    if (bits) sink(extra, bits)
  }
}
