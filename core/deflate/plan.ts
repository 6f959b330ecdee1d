// How a DEFLATE stream's tokens are cut and coded, as a few numbers.
import type { TreeRule } from './trees'

/** stored: bytes as they are. fixed: the standard's codes. zlib, fflate: codes by that rule. own: codes in `head`. */
export type BlockKind = 'stored' | 'fixed' | 'own' | TreeRule
const kinds: readonly BlockKind[] = ['stored', 'fixed', 'own', 'zlib', 'fflate']

export interface Block {
  kind: BlockKind
  tokens: number
  /** The head of an `own` block as bits, lowest first, from HLIT on. */
  head?: { bits: Uint8Array; length: number }
}

/** How a stream's tokens are cut and coded. */
export type Plan = readonly Block[]

export const isRuled = (kind: BlockKind): kind is TreeRule => kind === 'zlib' || kind === 'fflate'

/** A plan as numbers; runs of blocks that are alike are one entry. */
export function packPlan(plan: Plan): number[] {
  const numbers: number[] = []
  for (let at = 0; at < plan.length; ) {
    const { kind, tokens, head } = plan[at]!
    let times = 1
    if (!head) while (plan[at + times]?.kind === kind && plan[at + times]!.tokens === tokens) times++
    numbers.push(times * kinds.length + kinds.indexOf(kind), tokens)
    if (head) numbers.push(head.length, ...head.bits)
    at += times
  }
  return numbers
}

/** More blocks, and tokens of one, than a file of two gigabytes can have. */
const mostBlocks = 1 << 20
const mostTokens = 1 << 28

/** @throws RangeError when these are no such numbers */
export function unpackPlan(numbers: readonly number[]): Plan {
  const plan: Block[] = []
  for (let at = 0; at < numbers.length; ) {
    const kind = kinds[numbers[at]! % kinds.length]!
    const times = Math.floor(numbers[at]! / kinds.length)
    const tokens = numbers[at + 1]!
    at += 2
    // Whatever rotted: nothing is as long as it says.
    if (!(tokens <= mostTokens) || times > mostBlocks - plan.length)
      throw new RangeError('This is no plan of a stream.')
    if (kind === 'own') {
      const length = numbers[at]!
      const bits = Uint8Array.from(numbers.slice(at + 1, at + 1 + Math.ceil(length / 8)))
      if (!(bits.length * 8 >= length)) throw new RangeError('This is no plan of a stream.')
      at += 1 + bits.length
      plan.push({ kind, tokens, head: { bits, length } })
    } else for (let time = 0; time < times; time++) plan.push({ kind, tokens })
  }
  return plan
}
