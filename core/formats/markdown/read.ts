// Texts in Markdown (CommonMark 0.31, with tables and lines through text) as documents: each block is read by itself, and
// its letters are kept beside it, so that a block that nobody changes stays as it was written.
import MarkdownIt from 'markdown-it'
import type { Node } from 'prosemirror-model'
import { documentSchema } from '../../content/document'
import { say } from '../../words/said'
import { readHtmlText } from '../html/read'
import { DamagedFile, type Limit, Limits } from '../refusals'
import { type Encoding, encodingOf, soundText } from '../text/encoding'
import { mostLetters, mostLines } from '../text/read'

/** Lines of the file, and what they are in the document: none for what it cannot show. */
export interface MarkdownBlock {
  source: string
  nodes: readonly Node[]
  limits: readonly Limit[]
}
export interface ReadMarkdown {
  bytes: Uint8Array
  doc: Node
  limits: Limit[]
  encoding: Encoding
  end: '\n' | '\r\n' | '\r'
  blocks: readonly MarkdownBlock[]
}

const markdown = new MarkdownIt('commonmark', { html: false }).enable(['table', 'strikethrough'])

/** @throws DamagedFile for what is no text, and for more than is edited */
export function readMarkdown(bytes: Uint8Array): ReadMarkdown {
  const encoding = encodingOf(bytes)
  const sound = soundText(bytes, encoding)
  if (sound === null || sound.includes('\0')) throw new DamagedFile(say('formats.no-text'))
  if (sound.length > mostLetters) throw new DamagedFile(say('formats.text-too-long', { n: mostLetters }))
  const end = /\r\n|\n|\r/.exec(sound)?.[0] as ReadMarkdown['end'] | undefined
  const text = sound.replace(/\r\n?/g, '\n')
  const lines = text.split('\n')
  if (lines.length > mostLines) throw new DamagedFile(say('formats.too-many-lines', { n: mostLines }))
  const blocks = blocksOf(text, lines)
  const all = new Limits()
  for (const { limits } of blocks)
    for (const { feature, count, where } of limits) all.add(feature, where[0] ?? '', count)
  const nodes = blocks.flatMap((block) => block.nodes)
  const doc = documentSchema.nodes.doc.create(null, nodes.length ? nodes : [documentSchema.nodes.paragraph.create()])
  return { bytes, doc, limits: all.list(), encoding, end: end ?? '\n', blocks }
}

function blocksOf(text: string, lines: readonly string[]): MarkdownBlock[] {
  const environment = {}
  const tokens = markdown.parse(text, environment)
  const blocks: MarkdownBlock[] = []
  let line = 0
  const source = (to: number) => {
    const part = lines.slice(line, to).join('\n')
    const ended = to < lines.length ? '\n' : ''
    line = to
    return part + ended
  }
  for (let at = 0; at < tokens.length; ) {
    let last = at
    for (let depth = tokens[at]!.nesting; depth > 0; ) depth += tokens[++last]!.nesting
    const group = tokens.slice(at, last + 1)
    const [from, to] = group[0]!.map ?? [line, line]
    // What is between blocks (empty lines, where links lead to) is of none of them.
    if (from > line) blocks.push({ source: source(from), nodes: [], limits: [] })
    const { doc, limits } = readHtmlText(markdown.renderer.render(group, markdown.options, environment))
    const isCode = /^(?:fence|code_block)$/.test(group[0]!.type)
    const inCode = group.filter(({ children }) => children?.some(({ type }) => type === 'code_inline')).length
    const said = new Limits()
    const near = doc.textContent.trim().slice(0, 40)
    if (isCode) said.add('code (its text stays)', near)
    if (inCode) said.add('code (its text stays)', near, inCode)
    for (const { feature, count } of limits) said.add(feature, near, count)
    const isNothing = group[0]!.type === 'hr'
    blocks.push({
      source: source(Math.max(to, line)),
      nodes: isNothing ? [] : doc.content.content,
      limits: said.list(),
    })
    at = last + 1
  }
  if (line < lines.length) blocks.push({ source: source(lines.length), nodes: [], limits: [] })
  return blocks
}
