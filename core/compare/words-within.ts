// Paragraphs that belong together: which words of them differ, and which words only look different.

import type { Mark } from 'prosemirror-model'
import { type Sentence, sameSentence, say } from '../words/said'
import type { Findings, Stretch } from './findings'
import { lookInWords } from './looks'
import { opening, type TextBlock } from './text-blocks'
import { differences, type Token, tokensOf } from './tokens'

const lastOf = <T>(list: readonly T[]): T => list[list.length - 1]!

/** Compares the words of paragraphs that belong together, and the look of those that stayed. */
export function compareWords(olders: readonly TextBlock[], newers: readonly TextBlock[], found: Findings): void {
  const { changes } = found
  const [was, is] = [olders[0]!, newers[0]!]
  const alone = olders.length === 1 && newers.length === 1
  if (alone && !sameSentence(was.look, is.look)) {
    const newer = { from: is.at, to: is.at + is.text.length }
    changes.look.push(newer)
    found.add({
      kind: 'look',
      older: { from: was.at, to: was.at + was.text.length },
      newer,
      section: is.section,
      before: opening(is),
      now: say('changes.look-changed', { was: was.look, is: is.look }),
    })
  }
  if (alone && was.key === is.key && was.node.content.eq(is.node.content)) return
  const [a, b] = [joined(olders), joined(newers)]
  const edits = differences(a, b)
  if (!edits) changes.coarse = true
  const gaps = edits ?? [{ from: 0, to: a.length, start: 0, end: b.length }]
  let [i, j] = [0, 0]
  for (const { from, to, start, end } of gaps) {
    compareLooks(a.slice(i, from), b.slice(j, start), is.section, found)
    ;[i, j] = [to, end]
    tellWords(a.slice(from, to), b.slice(start, end), { a, b, from, start }, is, found)
  }
  compareLooks(a.slice(i), b.slice(j), is.section, found)
}

function tellWords(
  gone: readonly Token[],
  come: readonly Token[],
  { a, b, from, start }: { a: readonly Token[]; b: readonly Token[]; from: number; start: number },
  block: TextBlock,
  found: Findings,
): void {
  const { changes } = found
  const real = (tokens: readonly Token[]) => tokens.filter(({ kind }) => kind !== 'end of paragraph')
  const textOf = (tokens: readonly Token[]) =>
    real(tokens)
      .map(({ text }) => text)
      .join('')
  const words = (tokens: readonly Token[]) => tokens.filter(({ kind }) => kind === 'word').length
  const images = (tokens: readonly Token[]) => tokens.filter(({ kind }) => kind === 'image')
  const ends = (tokens: readonly Token[]) => tokens.length - real(tokens).length
  for (const stretch of stretches(gone)) changes.removed.push(stretch)
  for (const stretch of stretches(come)) changes.added.push(stretch)
  found.count(block.section, words(come), words(gone))
  const at = (tokens: readonly Token[], all: readonly Token[], index: number): Stretch => {
    if (tokens.length) return { from: tokens[0]!.from, to: lastOf(tokens).to }
    const pos = all[index]?.from ?? (all.length ? lastOf(all).to : block.at)
    return { from: pos, to: pos }
  }
  const place = { older: at(gone, a, from), newer: at(come, b, start), section: block.section }
  // The ends of paragraphs that came or went: split or joined there.
  if (ends(come) > ends(gone)) found.add({ ...place, kind: 'split', before: '', now: opening(block) })
  if (ends(gone) > ends(come)) found.add({ ...place, kind: 'joined', before: '', now: opening(block) })
  const [was, is] = [images(gone), images(come)]
  if (was.length || is.length) {
    const kind = was.length && is.length ? 'image replaced' : was.length ? 'image removed' : 'image added'
    found.add({
      ...place,
      kind,
      before: was.map(({ text }) => text).join(''),
      now: is.map(({ text }) => text).join(''),
    })
  }
  tellRemarks(gone, come, { a, b, from, start }, block.section, found)
  const told = (tokens: readonly Token[]) => textOf(tokens.filter(({ kind, remark }) => kind !== 'image' && !remark))
  const [before, now] = [told(gone), told(come)]
  // A space beside the end of a paragraph that came or went is nothing to tell.
  const trifle = ends(come) + ends(gone) > 0 && !before.trim() && !now.trim()
  if ((before || now) && !trifle) found.add({ ...place, kind: 'words', before, now })
}

/** Comments and notes that came, went, or say something else: each in its turn with the one that was there. */
function tellRemarks(
  gone: readonly Token[],
  come: readonly Token[],
  { a, b, from, start }: { a: readonly Token[]; b: readonly Token[]; from: number; start: number },
  section: string,
  found: Findings,
): void {
  const between = (all: readonly Token[], index: number): Stretch => {
    const at = all[index]?.from ?? (all.length ? lastOf(all).to : 0)
    return { from: at, to: at }
  }
  for (const remark of ['comment', 'note'] as const) {
    const those = (tokens: readonly Token[]) => tokens.filter((token) => token.remark === remark)
    const [was, is] = [those(gone), those(come)]
    for (let at = 0; at < Math.max(was.length, is.length); at++) {
      const [one, other] = [was[at], is[at]]
      const before = other && b[start + come.indexOf(other) - 1]
      const answers = remark === 'comment' && !one && before?.remark === 'comment'
      found.add({
        kind: answers ? 'comment answered' : `${remark} ${one && other ? 'changed' : one ? 'removed' : 'added'}`,
        older: one ? { from: one.from, to: one.to } : between(a, from),
        newer: other ? { from: other.from, to: other.to } : between(b, start),
        section,
        before: one?.text ?? '',
        now: other?.text ?? '',
      })
    }
  }
}

/** Tokens of neighbouring paragraphs with an end between them. */
function joined(blocks: readonly TextBlock[]): Token[] {
  const tokens: Token[] = []
  for (const [index, block] of blocks.entries()) {
    if (index)
      tokens.push({
        text: '',
        key: '\n\n',
        from: block.at,
        to: block.at,
        marks: [],
        kind: 'end of paragraph',
      })
    for (const token of tokensOf(block.node, block.at)) tokens.push(token)
  }
  return tokens
}

/** Runs of tokens without the borders of paragraphs between them. */
function stretches(tokens: readonly Token[]): Stretch[] {
  const runs: Stretch[] = []
  for (const { from, to, kind } of tokens) {
    if (kind === 'end of paragraph') continue
    const last = runs.at(-1)
    if (last?.to === from) last.to = to
    else runs.push({ from, to })
  }
  return runs
}

/** Tokens that stayed: which of them look different. */
function compareLooks(older: readonly Token[], newer: readonly Token[], section: string, found: Findings): void {
  let open: { from: number; to: number; older: Stretch; text: string; now: Sentence } | null = null
  const close = () => {
    if (!open) return
    const { from, to, text, now } = open
    found.changes.look.push({ from, to })
    found.add({ kind: 'look', older: open.older, newer: { from, to }, section, before: text, now })
    open = null
  }
  let between = ''
  for (const [index, token] of newer.entries()) {
    const was = older[index]!
    if (token.kind === 'between') {
      between += token.text
      continue
    }
    compareImages(was, token, section, found)
    const now = sameMarks(was.marks, token.marks) ? '' : lookInWords(was.marks, token.marks)
    const run = open as { to: number; older: Stretch; text: string; now: Sentence } | null
    if (run && sameSentence(run.now, now) && token.kind !== 'end of paragraph') {
      run.to = token.to
      run.older.to = was.to
      run.text += between + token.text
    } else {
      close()
      if (now) open = { from: token.from, to: token.to, older: { from: was.from, to: was.to }, text: token.text, now }
    }
    between = ''
  }
  close()
}
/** An image that stayed: whether it is shown in another size, or said to show something else. */
function compareImages(was: Token, is: Token, section: string, found: Findings): void {
  if (!was.image || !is.image) return
  const place = { older: { from: was.from, to: was.to }, newer: { from: is.from, to: is.to }, section }
  const resized = was.image.width !== is.image.width || was.image.height !== is.image.height
  const described = was.image.alt !== is.image.alt
  const size = ({ width, height }: NonNullable<Token['image']>) => `${width} × ${height}`
  if (resized) found.add({ ...place, kind: 'image resized', before: size(was.image), now: size(is.image) })
  if (described) found.add({ ...place, kind: 'image described', before: was.image.alt, now: is.image.alt })
  if (resized || described) found.changes.look.push(place.newer)
}

const sameMarks = (a: readonly Mark[], b: readonly Mark[]) =>
  a === b || (a.length === b.length && a.every((mark, at) => mark.eq(b[at]!)))
