// Where things stand in a part's XML, so that a part of it is changed and everything else stays as it is, to the
// letter. Tags are found without building anything; what is between them is never decoded here.

import { say } from '../../words/said'
import { DamagedFile } from '../refusals'

export interface Tag {
  /** With its prefix, as it is written. */
  name: string
  kind: 'open' | 'close' | 'empty'
  /** The span of the tag itself, from `<` to behind `>`. */
  start: number
  end: number
}

const damaged = () => new DamagedFile(say('formats.this-file-is-damaged-its-part-is-3', { part: 'XML' }))

/** The end of a tag whose attributes may hold `>`. */
function tagEnd(xml: string, from: number): number {
  for (let at = from; ; ) {
    const end = xml.indexOf('>', at)
    if (end < 0) throw damaged()
    let quote = -1
    for (let look = at; look < end; look++) {
      const code = xml.charCodeAt(look)
      if (code === 34 || code === 39) {
        quote = look
        break
      }
    }
    if (quote < 0) return end + 1
    const close = xml.indexOf(xml[quote]!, quote + 1)
    if (close < 0) throw damaged()
    at = close + 1
  }
}

/**
 * The next tag at or behind a place; comments, CDATA, processing instructions and a document type are passed over
 * (XML 1.0 §2.4 to §2.8). @returns null behind the last one @throws DamagedFile
 */
export function nextTag(xml: string, from: number): Tag | null {
  for (let at = from; ; ) {
    const start = xml.indexOf('<', at)
    if (start < 0) return null
    const code = xml.charCodeAt(start + 1)
    if (code === 33 || code === 63) {
      const [mark, close] =
        code === 63
          ? ['<?', '?>']
          : xml.startsWith('<!--', start)
            ? ['<!--', '-->']
            : xml.startsWith('<![CDATA[', start)
              ? ['<![CDATA[', ']]>']
              : ['<!', '>']
      const end = xml.indexOf(close, start + mark.length)
      if (end < 0) throw damaged()
      at = end + close.length
      continue
    }
    if (code === 47) {
      const end = xml.indexOf('>', start)
      if (end < 0) throw damaged()
      return { name: xml.slice(start + 2, end).trimEnd(), kind: 'close', start, end: end + 1 }
    }
    const end = tagEnd(xml, start + 1)
    let stop = start + 1
    for (; stop < end - 1; stop++) {
      const letter = xml.charCodeAt(stop)
      if (letter === 32 || letter === 47 || letter === 10 || letter === 13 || letter === 9) break
    }
    return { name: xml.slice(start + 1, stop), kind: xml.charCodeAt(end - 2) === 47 ? 'empty' : 'open', start, end }
  }
}

/** An element by its spans: the tag that opens it and the one that closes it (the same for an empty one). */
export interface Spanned extends Tag {
  /** Where its content begins and ends. */
  inner: readonly [from: number, to: number]
}

/** The element that a tag opens. @throws DamagedFile when it is not closed */
export function elementOf(xml: string, tag: Tag): Spanned {
  if (tag.kind === 'empty') return { ...tag, inner: [tag.end, tag.end] }
  let depth = 1
  for (let at = tag.end; ; ) {
    const next = nextTag(xml, at)
    if (!next) throw damaged()
    if (next.kind === 'open') depth++
    else if (next.kind === 'close' && --depth === 0) return { ...tag, end: next.end, inner: [tag.end, next.start] }
    at = next.end
  }
}

/** The elements that stand directly in a span. */
export function* childrenIn(xml: string, [from, to]: readonly [number, number]): Generator<Spanned> {
  for (let at = from; ; ) {
    const tag = nextTag(xml, at)
    if (!tag || tag.start >= to || tag.kind === 'close') return
    const element = elementOf(xml, tag)
    yield element
    at = element.end
  }
}

/** The root element. @throws DamagedFile */
export function rootOf(xml: string): Spanned {
  const tag = nextTag(xml, 0)
  if (!tag || tag.kind === 'close') throw damaged()
  return elementOf(xml, tag)
}

/** Where an attribute's value stands in a tag, within its quotes; undefined when the tag has none of that name. */
export function attributeSpan(xml: string, tag: Tag, name: string): readonly [from: number, to: number] | undefined {
  for (const { key, span } of attributesIn(xml, tag)) if (key === name) return span
  return undefined
}

/** Every attribute of a tag, with the span of its value. */
export function* attributesIn(
  xml: string,
  tag: Tag,
): Generator<{ key: string; span: readonly [number, number]; whole: readonly [number, number] }> {
  const opened = xml.slice(
    tag.start,
    tag.kind === 'open' || tag.kind === 'empty' ? tagEnd(xml, tag.start + 1) : tag.end,
  )
  const attribute = /\s+([^\s=/>]+)\s*=\s*(?:"([^"]*)"|'([^']*)')/g
  for (let found = attribute.exec(opened); found; found = attribute.exec(opened)) {
    const value = found[2] ?? found[3] ?? ''
    const from = tag.start + found.index + found[0].length - 1 - value.length
    yield {
      key: found[1]!,
      span: [from, from + value.length],
      whole: [tag.start + found.index, tag.start + found.index + found[0].length],
    }
  }
}

const references: Record<string, string> = { amp: '&', lt: '<', gt: '>', quot: '"', apos: "'" }
/** A value with its references replaced (XML 1.0 §4.1); one that is not known stays as it is. */
export const decoded = (text: string): string =>
  text.includes('&')
    ? text.replace(
        /&(?:#x([0-9a-fA-F]{1,6})|#(\d{1,7})|(\w+));/g,
        (whole, hex?: string, decimal?: string, named?: string) => {
          if (named) return references[named] ?? whole
          const code = hex ? Number.parseInt(hex, 16) : Number(decimal)
          return code <= 0x10ffff ? String.fromCodePoint(code) : whole
        },
      )
    : text

/** The value of a tag's attribute. */
export function attributeOf(xml: string, tag: Tag, name: string): string | undefined {
  const span = attributeSpan(xml, tag, name)
  return span && decoded(xml.slice(...span))
}

/** The text in an element, its references and CDATA read. */
export function textIn(xml: string, [from, to]: readonly [number, number]): string {
  let text = ''
  for (let at = from; at < to; ) {
    const tag = nextTag(xml, at)
    const end = Math.min(tag?.start ?? to, to)
    text += betweenTags(xml.slice(at, end))
    at = tag && tag.start < to ? tag.end : to
  }
  return text.replace(/\r\n?/g, '\n')
}
const betweenTags = (text: string): string =>
  text.includes('<')
    ? [...text.matchAll(/<!\[CDATA\[([\s\S]*?)\]\]>|<!--[\s\S]*?-->|<\?[\s\S]*?\?>|[^<]+/g)]
        .map(([piece, cdata]) => cdata ?? (piece.startsWith('<') ? '' : decoded(piece)))
        .join('')
    : decoded(text)

/** Changes of a text, each of a span of it as it was; they do not lie over each other. */
export class Splices {
  private readonly all: { from: number; to: number; text: string; order: number }[] = []

  replace(from: number, to: number, text: string): void {
    this.all.push({ from, to, text, order: this.all.length })
  }
  /** Replaces what a change that is there already puts in at a place. */
  replaceAgain(from: number, text: string): void {
    const one = this.all.find((splice) => splice.from === from && splice.to > from)
    if (one) one.text = text
  }
  /** Puts text at a place; what is put at one place stands in the order in which it was put. */
  insert(at: number, text: string): void {
    this.replace(at, at, text)
  }
  get any(): boolean {
    return this.all.length > 0
  }
  /** @throws RangeError when two lie over each other */
  apply(source: string): string {
    const sorted = this.all.toSorted((a, b) => a.from - b.from || a.to - b.to || a.order - b.order)
    const out: string[] = []
    let at = 0
    for (const { from, to, text } of sorted) {
      if (from < at) throw new RangeError('Two changes of one place.')
      out.push(source.slice(at, from), text)
      at = to
    }
    out.push(source.slice(at))
    return out.join('')
  }
}

/** A part as text that is encoded back to the same bytes; null for one that is not UTF-8 (ISO 10646, RFC 3629). */
export function textOfPart(bytes: Uint8Array): { xml: string; encode: (xml: string) => Uint8Array } | null {
  const mark = bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf
  let xml: string
  try {
    xml = new TextDecoder('utf-8', { fatal: true, ignoreBOM: true }).decode(bytes)
  } catch {
    return null
  }
  const declared = /^\uFEFF?<\?xml[^>]*\sencoding\s*=\s*["']([^"']+)["']/.exec(xml)?.[1]
  if (declared && !/^(utf-8|us-ascii|ascii)$/i.test(declared)) return null
  if (mark) xml = xml.slice(1)
  return { xml, encode: (next) => new TextEncoder().encode((mark ? '\uFEFF' : '') + next) }
}
