// A document as a text in Markdown: blocks that nobody changed are the letters that they were.

import { defaultMarkdownSerializer, MarkdownSerializer } from 'prosemirror-markdown'
import type { Node } from 'prosemirror-model'
import { documentSchema } from '../../content/document'
import type { Kept } from '../../content/kept'
import { matchUp } from '../../content/sequence'
import { keptFeatures } from '../docx/whole'
import { loseFrame } from '../frame'
import { allOf, Limits, type Written } from '../refusals'
import { encoded } from '../text/encoding'
import { type MarkdownBlock, type ReadMarkdown, readMarkdown } from './read'

/** Stands where a backslash is to be put in: no text of a document has it. */
const escape = '\u0001'
/** Signs at the beginning of a line that would make it something else, beside those that the serializer knows. */
const withMarks = (text: string, afterBreak: boolean): string =>
  text
    .replace(/^(\s*\d{1,9})([.)])(?=\s|$)/, `$1${escape}$2`)
    .replace(/^(\s*)(\+)$/, `$1${escape}$2`)
    .replace(afterBreak ? /^(\s*)([#>+=-])/ : /^$/, `$1${escape}$2`)
/** Whether a list stands behind an odd number of neighbours of its kind. */
function isSecond(node: Node, parent: Node, index: number): boolean {
  let before = index
  while (before > 0 && parent.child(before - 1).type === node.type) before--
  return (index - before) % 2 === 1
}

const plain = { open: '', close: '', mixable: true }
const base = defaultMarkdownSerializer
const serializer = new MarkdownSerializer(
  {
    paragraph: base.nodes.paragraph!,
    heading: base.nodes.heading!,
    list_item: base.nodes.list_item!,
    blockquote: base.nodes.blockquote!,
    bullet_list(state, node, parent, index) {
      // Neighbours of one kind are told apart by their marks.
      const sign = isSecond(node, parent, index) ? '*' : '-'
      state.renderList(node, '  ', () => `${sign} `)
    },
    ordered_list(state, node, parent, index) {
      const sign = isSecond(node, parent, index) ? ')' : '.'
      const start = node.attrs.start as number
      const width = String(start + node.childCount - 1).length
      state.renderList(node, ' '.repeat(width + 2), (at) => `${`${start + at}${sign}`.padEnd(width + 1)} `)
    },
    table(state, node) {
      const rows: string[][] = []
      node.forEach((row) => {
        const cells: string[] = []
        row.forEach((cell) => {
          const lines: string[] = []
          cell.forEach((block) => void lines.push(inlineOf(block)))
          cells.push(lines.join(' ').trim())
        })
        rows.push(cells)
      })
      const width = Math.max(1, ...rows.map(({ length }) => length))
      const line = (cells: readonly string[]) =>
        `| ${Array.from({ length: width }, (_, at) => cells[at] ?? '').join(' | ')} |`
      const isHead = node.firstChild!.attrs.header
      const head = isHead ? rows[0]! : []
      const lines = [
        line(head),
        line(Array.from({ length: width }, () => '---')),
        ...rows.slice(isHead ? 1 : 0).map(line),
      ]
      for (const [at, one] of lines.entries()) state.write(one + (at < lines.length - 1 ? '\n' : ''))
      state.closeBlock(node)
    },
    page_break(state, node) {
      state.closeBlock(node)
    },
    hard_break(state) {
      state.write('\\\n')
    },
    image(state, node) {
      const { src, alt } = node.attrs as { src: string; alt: string }
      state.write(`![${state.esc(alt.replace(/\s+/g, ' '))}](<${src.replace(/[<>\n]/g, '')}>)`)
    },
    kept(state, node) {
      if ((node.attrs as Kept).kind !== 'comment') state.text(node.attrs.words)
    },
    text(state, node, parent, index) {
      const begins = index === 0
      const afterBreak = !begins && parent.child(index - 1).type.name === 'hard_break'
      const marked = begins || afterBreak ? withMarks(node.text!, afterBreak) : node.text!
      // Signs of a heading at its end would close it.
      const closes = parent.type.name === 'heading' && index === parent.childCount - 1
      state.text(closes ? marked.replace(/#+$/, (signs) => escape + signs) : marked)
    },
  },
  {
    strong: base.marks.strong!,
    em: base.marks.em!,
    link: {
      open: '[',
      close: (_state, mark) =>
        `](<${String(mark.attrs.href)
          .replace(/[<>\\|]/g, (sign) => encodeURIComponent(sign))
          .replace(/\s/g, '%20')}>)`,
      mixable: true,
    },
    strike: { open: '~~', close: '~~', mixable: true, expelEnclosingWhitespace: true },
    underline: plain,
    raised: plain,
    lowered: plain,
    look: plain,
  },
  { escapeExtraCharacters: /[&<|]/g },
)
const serialized = (nodes: readonly Node[]): string =>
  serializer
    .serialize(documentSchema.nodes.doc.create(null, nodes as Node[]), { tightLists: true })
    .replaceAll(escape, '\\')
const inlineOf = (block: Node): string => {
  const asParagraph = block.isTextblock ? [documentSchema.nodes.paragraph.create(null, block.content)] : [block]
  return serialized(asParagraph).replace(/\\?\n\s*/g, ' ')
}

/** @param from the text that it was read from; null for one that is new */
export function writeMarkdown(doc: Node, from: ReadMarkdown | null): Written {
  // As long as nothing in it is another, it is the file.
  if (from?.doc.eq(doc)) return { bytes: from.bytes, lost: [] }
  const { text, gone } = from ? merged(doc, from.blocks) : { text: `${serialized(doc.content.content)}\n`, gone: [] }
  const end = from?.end ?? '\n'
  const raw = end === '\n' ? text : text.replaceAll('\n', end)
  const bytes = encoded(raw, from?.encoding ?? 'utf-8') ?? encoded(raw.toWellFormed(), 'utf-8 with a mark')!
  return { bytes, lost: allOf(lostAsMarkdown(doc, bytes), ...gone.map(({ limits }) => limits)) }
}

/** The blocks that stayed as they were written, and the others written anew between them. */
function merged(doc: Node, blocks: readonly MarkdownBlock[]): { text: string; gone: MarkdownBlock[] } {
  const shown = blocks.filter(({ nodes }) => nodes.length)
  // Blocks and what the document has, each as its nodes.
  const before = shown.map(({ nodes }) => JSON.stringify(nodes.map((node) => node.toJSON())))
  const now: { nodes: Node[]; key: string }[] = []
  for (let at = 0; at < doc.childCount; ) {
    // A block of code is several paragraphs: they are one where they are still together.
    const whole = shown.find(
      ({ nodes }) => nodes.length > 1 && nodes.every((node, index) => doc.maybeChild(at + index)?.eq(node)),
    )
    const count = whole?.nodes.length ?? 1
    const nodes = Array.from({ length: count }, (_, index) => doc.child(at + index))
    now.push({ nodes, key: JSON.stringify(nodes.map((node) => node.toJSON())) })
    at += count
  }
  const { pairs } = matchUp(
    before,
    now.map(({ key }) => key),
    () => 0,
  )
  const sameAs = new Map<number, MarkdownBlock>()
  for (const [older, newer] of pairs) if (before[older] === now[newer]!.key) sameAs.set(newer, shown[older]!)
  const stayed = new Set(sameAs.values())
  let text = ''
  /** Blocks of the file up to here have been passed. */
  let passed = 0
  /** Whether what came last stands in the file's own place. */
  let inPlace = true
  const apart = () => {
    if (text && !text.endsWith('\n')) text += '\n'
    if (text && !text.endsWith('\n\n')) text += '\n'
  }
  /** What stands before a block of the file and is not shown; of blocks that went nothing. */
  const unseenBefore = (index: number) => {
    const between = blocks.slice(passed, index)
    const unseen = between.filter(({ nodes }) => !nodes.length)
    passed = index + 1
    if (inPlace && unseen.length === between.length) {
      text += unseen.map(({ source }) => source).join('')
      return
    }
    for (const { source } of unseen) {
      if (!source.trim()) continue
      apart()
      text += source
    }
    apart()
  }
  if (!shown.length) {
    // Of a file that shows nothing the document is one empty line.
    text = blocks.map(({ source }) => source).join('')
    passed = blocks.length
    inPlace = false
    if (now[0]?.nodes[0]?.content.size === 0) now.shift()
  }
  for (const [at, { nodes }] of now.entries()) {
    const block = sameAs.get(at)
    if (block) {
      unseenBefore(blocks.indexOf(block))
      text += block.source
      inPlace = true
      continue
    }
    // In the place of one that went, it stands as that one did.
    const next = blocks.findIndex((one, index) => index >= passed && one.nodes.length > 0)
    if (next >= 0 && !stayed.has(blocks[next]!)) {
      unseenBefore(next)
      inPlace = true
    } else {
      apart()
      inPlace = false
    }
    text += `${serialized(nodes)}\n`
  }
  unseenBefore(blocks.length)
  // At its end nothing stands apart that is not there.
  if (!inPlace) text = text.replace(/\n+$/, '\n')
  return { text, gone: shown.filter((one) => !stayed.has(one)) }
}

/** What such a text cannot hold of a document; and what was not read again as it is, where that is anything else. */
function lostAsMarkdown(doc: Node, bytes: Uint8Array): Written['lost'] {
  const limits = new Limits()
  const near = (node: Node) => node.textBetween(0, node.content.size, ' ').slice(0, 40)
  doc.descendants((node, at, parent) => {
    const { name } = node.type
    const lose = (feature: string, where: Node | null = node) => limits.add(feature, where ? near(where) : '', 1, [at])
    if (node.isText) {
      for (const { type } of node.marks)
        if (/^(?:underline|raised|lowered|look)$/.test(type.name)) lose('looks of text', parent)
      return false
    }
    if (name === 'kept') lose(keptFeatures[(node.attrs as Kept).kind], parent)
    if (name === 'page_break') lose('page breaks', null)
    if (node.isTextblock && (node.attrs.align || node.attrs.style || node.attrs.look)) lose('looks of paragraphs')
    if (name === 'ordered_list' && node.attrs.number) lose('lists numbered in a way of their own')
    return true
  })
  loseFrame(doc, limits)
  const lost = limits.list()
  if (lost.length) return lost
  const again = readMarkdown(bytes).doc
  if (again.eq(doc)) return lost
  const from = again.content.findDiffStart(doc.content) ?? 0
  limits.add(
    'things that such a text says in another way',
    near(doc.resolve(Math.min(from, doc.content.size)).parent),
    1,
    [from],
  )
  return limits.list()
}
