// Web pages as documents: one file, read by the HTML standard, and nothing in it runs or is fetched.
import { DOMParser, type Node } from 'prosemirror-model'
import { documentSchema, type Look } from '../../content/document'
import { say } from '../../words/said'
import { DamagedFile, type Limit, Limits } from '../refusals'
import { decoded, type Encoding, encodingOf, encodings, isGuessed } from '../text/encoding'
import { mostLetters } from '../text/read'
import { colorFrom } from './css'
import { pageTree } from './tree'

export interface ReadHtml {
  doc: Node
  limits: Limit[]
  title: string
  lang: string
}

/** How pages that are written here look in a browser. */
export const pageStyle = `
body { max-width: 46em; margin: 2em auto; padding: 0 1em; font-family: sans-serif; line-height: 1.5; }
table { border-collapse: collapse; }
td, th { border: 1px solid #999999; padding: 0.25em 0.5em; text-align: start; vertical-align: top; }
blockquote { margin-inline: 1.5em; border-inline-start: 3px solid #cccccc; padding-inline-start: 1em; }
img { max-width: 100%; height: auto; }
hr { border: 0; }
`
/** A page of this many letters, with its images, is kept and not opened. */
export const mostMarkup = 40_000_000

const parser = new DOMParser(documentSchema, [
  {
    tag: 'span[data-text-look]',
    mark: 'look',
    getAttrs: (dom) => lookFrom(dom.getAttribute('data-text-look')),
  },
  ...DOMParser.fromSchema(documentSchema).rules,
])

/** A look that the tree was given; a page may have written anything there. */
function lookFrom(text: string | null): Look | false {
  let given: Partial<Record<keyof Look, unknown>> | null
  try {
    given = JSON.parse(text ?? 'null')
  } catch {
    return false
  }
  if (typeof given !== 'object' || given === null) return false
  const color = (value: unknown) => (typeof value === 'string' ? colorFrom(value) : null)
  const { size, font } = given
  const look: Look = {
    color: color(given.color),
    fill: color(given.fill),
    size: typeof size === 'number' && size >= 1 && size <= 1638 ? Math.round(size * 2) / 2 : null,
    font: typeof font === 'string' && font.length <= 100 ? font : null,
  }
  return Object.values(look).some((value) => value !== null) && look
}

/** By its mark, by what its head says, or as any text (the HTML standard, §13.2.3.2). */
export function encodingOfPage(bytes: Uint8Array): Encoding {
  const found = encodingOf(bytes)
  if (!isGuessed(found)) return found
  const head = decoded(bytes.subarray(0, 1024), 'windows-1252')
  const said = /<meta[^>]*charset\s*=\s*["']?\s*([\w-]+)/i.exec(head)?.[1]?.toLowerCase()
  const known = encodings.find((one) => one === said)
  // A page in sound UTF-8 is in it, whatever an earlier program wrote in its head.
  return known && found !== 'utf-8' ? known : found
}

/** @throws DamagedFile for what is too large or nested too deep */
export const readHtml = (bytes: Uint8Array): ReadHtml => readHtmlText(decoded(bytes, encodingOfPage(bytes)))

/** @throws DamagedFile for what is too large or nested too deep */
export function readHtmlText(markup: string): ReadHtml {
  const limits = new Limits()
  if (markup.length > mostMarkup) throw new DamagedFile(say('formats.text-too-long', { n: mostMarkup }))
  const { body, title, lang } = pageTree(markup, limits, pageStyle)
  // What it walks is no page of a browser; it asks for no more than pieces have.
  const doc = parser.parse(body as never, { preserveWhitespace: 'full' })
  if (doc.textContent.length > mostLetters) throw new DamagedFile(say('formats.text-too-long', { n: mostLetters }))
  doc.check()
  return { doc, limits: limits.list(), title, lang }
}
