// A document as a web page in one file: elements for what things are, style for how they look, images inside.
import type { Mark, Node } from 'prosemirror-model'
import { type Look, openingOf } from '../../content/document'
import type { Kept } from '../../content/kept'
import type { ListNumber } from '../../content/list-number'
import { lookStyle, type ParagraphLook } from '../../content/paragraph-look'
import { keptFeatures } from '../docx/whole'
import { loseFrame } from '../frame'
import { Limits, type Written } from '../refusals'
import { quotedFont } from './css'
import { pageStyle, type ReadHtml, readHtml } from './read'

/** @param from the page that it was read from; null for one that is new */
export function writeHtml(doc: Node, from: ReadHtml | null): Written {
  const title = from?.title || openingOf(doc)
  const lang = from?.lang ? ` lang="${attribute(from.lang)}"` : ''
  const blocks: string[] = []
  doc.forEach((block) => void blocks.push(blockOf(block)))
  const page = `<!DOCTYPE html>
<html${lang}>
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width">
<title>${text(title)}</title>
<style>${pageStyle}</style>
</head>
<body>
${blocks.join('\n')}
</body>
</html>
`
  const bytes = new TextEncoder().encode(page)
  return { bytes, lost: lostAsHtml(doc, bytes) }
}

export const text = (raw: string) => raw.replace(/[&<>]/g, (sign) => `&#${sign.charCodeAt(0)};`)
export const attribute = (raw: string) => raw.replace(/[&<>"\t\n\r]/g, (sign) => `&#${sign.charCodeAt(0)};`)

function blockOf(node: Node): string {
  switch (node.type.name) {
    case 'paragraph':
      return textBlock('p', node)
    case 'heading':
      return textBlock(`h${node.attrs.level}`, node)
    case 'blockquote':
      return `<blockquote>\n${blocksOf(node)}\n</blockquote>`
    case 'bullet_list':
      return `<ul>\n${blocksOf(node)}\n</ul>`
    case 'ordered_list':
      return `<ol${listAttributes(node)}>\n${blocksOf(node)}\n</ol>`
    case 'list_item':
      return `<li>${blocksOf(node)}</li>`
    case 'table':
      return tableOf(node)
    case 'page_break':
      return '<hr style="break-after: page">'
    default:
      return ''
  }
}
function blocksOf(node: Node): string {
  const blocks: string[] = []
  node.forEach((block) => void blocks.push(blockOf(block)))
  return blocks.join('\n')
}

function listAttributes({ attrs: { start, number } }: Node): string {
  const style = (number as ListNumber | null)?.format
  return `${start === 1 ? '' : ` start="${start}"`}${number ? ` style="list-style-type: ${style}" data-number="${attribute(JSON.stringify(number))}"` : ''}`
}

/** Spaces that a browser would put together or leave out, and tabs. */
const spaced = /^ | $| {2}|\t| \n|\n /
function textBlock(tag: string, node: Node): string {
  const { align, look } = node.attrs as { align: string | null; look: ParagraphLook | null }
  const line = node.textBetween(0, node.content.size, undefined, (leaf) =>
    leaf.type.name === 'hard_break' ? '\n' : leaf.type.name === 'image' ? '\ufffc' : leaf.attrs.words,
  )
  const loose = spaced.test(line)
  const style = [
    align && `text-align: ${align}`,
    look && lookStyle(look).replaceAll('--fill:', 'background-color:'),
    loose && 'white-space: pre-wrap',
  ].filter(Boolean)
  const attributes = `${style.length ? ` style="${attribute(style.join('; '))}"` : ''}${look ? ` data-look="${attribute(JSON.stringify(look))}"` : ''}`
  // An empty line, and one that a break begins, are there by a break that begins none.
  const ended = !node.lastChild || node.lastChild.type.name === 'hard_break'
  return `<${tag}${attributes}>${inlineOf(node)}${ended ? '<br>' : ''}</${tag}>`
}

function inlineOf(node: Node): string {
  let out = ''
  const open: Mark[] = []
  const close = (to: number) => {
    while (open.length > to) out += endOf(open.pop()!)
  }
  node.forEach((child) => {
    const { marks } = child
    let same = 0
    while (same < open.length && same < marks.length && open[same]!.eq(marks[same]!)) same++
    close(same)
    for (const mark of marks.slice(same)) {
      out += startOf(mark)
      open.push(mark)
    }
    if (child.isText) out += text(child.text!)
    else if (child.type.name === 'hard_break') out += '<br>'
    else if (child.type.name === 'image') {
      const { src, alt, width, height } = child.attrs
      out += `<img src="${attribute(src)}" alt="${attribute(alt)}" width="${width}" height="${height}">`
    } else if (child.attrs.kind !== 'comment') out += text(child.attrs.words)
  })
  close(0)
  return out
}
const tags: Readonly<Record<string, string>> = {
  strong: 'strong',
  em: 'em',
  underline: 'u',
  strike: 's',
  raised: 'sup',
  lowered: 'sub',
  link: 'a',
  look: 'span',
}
function startOf({ type, attrs }: Mark): string {
  if (type.name === 'link') return `<a href="${attribute(attrs.href)}">`
  if (type.name !== 'look') return `<${tags[type.name]}>`
  const { color, fill, size, font } = attrs as Look
  const style = [
    color && `color: ${color}`,
    fill && `background-color: ${fill}`,
    size && `font-size: ${size}pt`,
    font && `font-family: ${quotedFont(font)}`,
  ].filter(Boolean)
  return `<span style="${attribute(style.join('; '))}">`
}
const endOf = ({ type }: Mark) => `</${tags[type.name]}>`

function tableOf(table: Node): string {
  const rows: { header: boolean; html: string; reaches: number }[] = []
  table.forEach((row) => {
    const cells: string[] = []
    let reaches = 1
    row.forEach((cell) => {
      const { colspan, rowspan, colwidth } = cell.attrs as {
        colspan: number
        rowspan: number
        colwidth: number[] | null
      }
      reaches = Math.max(reaches, rowspan)
      const tag = row.attrs.header ? 'th' : 'td'
      const spans = `${colspan > 1 ? ` colspan="${colspan}"` : ''}${rowspan > 1 ? ` rowspan="${rowspan}"` : ''}`
      const width = colwidth
        ? ` style="width: ${colwidth.reduce((sum, one) => sum + one, 0)}px" data-colwidth="${colwidth.join(',')}"`
        : ''
      cells.push(`<${tag}${spans}${width}>${blocksOf(cell)}</${tag}>`)
    })
    // A row without cells of its own says what it is.
    const header = row.attrs.header && !row.childCount ? ' data-header' : ''
    rows.push({ header: row.attrs.header, html: `<tr${header}>${cells.join('')}</tr>`, reaches })
  })
  // The rows of the head are a group, and no cell reaches out of one.
  const firstOfBody = rows.findIndex(({ header }) => !header)
  const heads = firstOfBody < 0 ? rows.length : firstOfBody
  const fits = rows.slice(0, heads).every(({ reaches }, at) => at + reaches <= heads)
  const lines = rows.map(({ html }) => html)
  const group = (tag: string, some: string[]) => (some.length ? [`<${tag}>`, ...some, `</${tag}>`] : [])
  const inner =
    heads && fits
      ? [...group('thead', lines.slice(0, heads)), ...group('tbody', lines.slice(heads))]
      : group('tbody', lines)
  return `<table>\n${inner.join('\n')}\n</table>`
}

/** What a page cannot hold of a document; and what was not read again as it is, where that is anything else. */
function lostAsHtml(doc: Node, bytes: Uint8Array): Written['lost'] {
  const limits = new Limits()
  const near = (node: Node) => node.textBetween(0, node.content.size, ' ').slice(0, 40)
  doc.descendants((node, at, parent) => {
    if (node.type.name === 'kept')
      limits.add(keptFeatures[(node.attrs as Kept).kind], parent ? near(parent) : '', 1, [at])
    if (node.isTextblock && node.attrs.style)
      limits.add('named styles (their text stays, in Jaula’s look)', near(node), 1, [at])
    return !node.isText
  })
  loseFrame(doc, limits)
  const lost = limits.list()
  if (lost.length) return lost
  const again = readHtml(bytes).doc
  if (again.eq(doc)) return lost
  const from = again.content.findDiffStart(doc.content) ?? 0
  limits.add('things that a page says in another way', near(doc.resolve(Math.min(from, doc.content.size)).parent), 1, [
    from,
  ])
  return limits.list()
}
