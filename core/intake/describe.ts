// What a file that was not made here says of itself: whether it is what its name says, who wrote it and when, and what its
// text is like. It is read for nothing else, so it is read fast and in plain text, not into a document.

import { openZip } from '../formats/opc/zip'
import { DamagedFile } from '../formats/refusals'
import { isEncryptedPackage, typeOfBytes } from '../formats/signature'
import { textOf } from '../formats/text/encoding'
import { familyOf, typeOfName } from '../formats/types'
import { piecesOfText, sketchOf } from './sketch'

/** damaged: it is not what its name says, and nothing else either. protected: nobody here can look into it. */
export type FileFault = 'empty' | 'damaged' | 'protected'

export interface Described {
  fault: FileFault | null
  /** Its own title, as its properties have it; empty where they have none. */
  title: string
  /** Who changed it last, in its own words. */
  author: string
  /** When it was changed last by its own properties; ISO 8601, null where they do not say. */
  at: string | null
  sketch: Uint32Array
}

/** Text that a sketch is made from; letters. */
const longest = 400_000
/** A part of a container that is read for its text at most; bytes expanded. */
const largestPart = 24_000_000

const entities: Record<string, string> = { lt: '<', gt: '>', amp: '&', quot: '"', apos: "'" }
const unescaped = (text: string): string =>
  text.replace(/&(?:#x([0-9a-f]{1,6})|#(\d{1,7})|(\w+));/gi, (whole, hex?: string, number?: string, name?: string) => {
    const code = hex ? Number.parseInt(hex, 16) : number ? Number(number) : Number.NaN
    if (name) return entities[name] ?? whole
    return code > 0 && code <= 0x10ffff ? String.fromCodePoint(code) : ''
  })
const plain = (xml: string): string => unescaped(xml.replace(/<[^>]*>/g, ' '))

/** The text of an element's first occurrence. */
const valueOf = (xml: string, name: string): string => {
  const found = new RegExp(`<${name}(?:\\s[^>]*)?>([^<]*)</${name}>`).exec(xml)
  return found ? unescaped(found[1]!).replace(/\s+/g, ' ').trim().slice(0, 200) : ''
}
/** A point in time as W3CDTF has it; ODF leaves out the zone. */
function timeOf(text: string): string | null {
  if (!/^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}/.test(text)) return null
  const time = new Date(/(?:Z|[+-]\d{2}:\d{2})$/.test(text) ? text : `${text}Z`)
  return Number.isNaN(time.getTime()) ? null : time.toISOString()
}

type Read = (name: string) => string
/** Running text with a line for each paragraph, and no words of one run into the next. */
const wordsOf = (xml: string, end: RegExp): string[] =>
  piecesOfText(unescaped(xml.replace(end, '\n').replace(/<[^>]*>/g, '')).slice(0, longest))

const mostCells = 20_000
/** The cells of a workbook: its strings (ECMA-376 part 1, §18.4.8, §18.3.1.53) and what else has a value (§18.3.1.96). */
function cellsOf(names: readonly string[], read: Read): Iterable<string> {
  const cells = new Set<string>()
  for (const [, text] of read('xl/sharedStrings.xml').matchAll(/<si>([\s\S]*?)<\/si>/g)) cells.add(plain(text!).trim())
  for (const name of names) {
    if (!/^xl\/worksheets\/[^/]+\.xml$/i.test(name)) continue
    for (const [, attributes, inside] of read(name).matchAll(/<c\b([^>]*[^/])>([\s\S]*?)<\/c>/g)) {
      if (/\bt="s"/.test(attributes!)) continue
      const value = /<v>([^<]*)<|<is>([\s\S]*?)<\/is>/.exec(inside!)
      if (value) cells.add(plain(value[1] ?? value[2]!).trim())
      if (cells.size > mostCells) return cells
    }
  }
  cells.delete('')
  return cells
}

/**
 * Reads a file's own word on itself.
 * Sources: core properties ECMA-376 part 2 §11, OpenDocument metadata ISO/IEC 26300-1 §4.3.
 */
export function describeFile(bytes: Uint8Array, name: string): Described {
  const nothing: Described = { fault: null, title: '', author: '', at: null, sketch: new Uint32Array() }
  if (!bytes.length) return { ...nothing, fault: 'empty' }
  const type = familyOf(typeOfName(name))
  if (type === 'csv' || type === 'txt' || type === 'md') {
    const text = textOf(bytes, longest)
    const pieces = type === 'txt' || type === 'md' ? piecesOfText(text) : text.split(/[\r\n;,\t]+/).filter(Boolean)
    return { ...nothing, sketch: sketchOf(pieces) }
  }
  const is = typeOfBytes(bytes)
  if (!['docx', 'xlsx', 'odt', 'ods'].includes(type)) {
    const known = type === 'pdf' || type === 'png' || type === 'jpg' || type === 'jpeg'
    return known && is !== (type === 'jpeg' ? 'jpg' : type) ? { ...nothing, fault: 'damaged' } : nothing
  }
  if (isEncryptedPackage(bytes)) return { ...nothing, fault: 'protected' }
  try {
    const container = openZip(bytes)
    const read: Read = (part) => {
      const content = container.read(part)
      return content ? new TextDecoder().decode(content.subarray(0, largestPart)) : ''
    }
    if (type === 'odt' || type === 'ods') {
      const meta = read('meta.xml')
      const xml = read('content.xml')
      if (!xml) return { ...nothing, fault: 'damaged' }
      const rows =
        type === 'ods'
          ? Array.from(xml.matchAll(/<text:p[^>]*>([\s\S]*?)<\/text:p>/g), ([, text]) => plain(text!))
          : null
      return {
        fault: null,
        title: valueOf(meta, 'dc:title'),
        author: valueOf(meta, 'dc:creator') || valueOf(meta, 'meta:initial-creator'),
        at: timeOf(valueOf(meta, 'dc:date')) ?? timeOf(valueOf(meta, 'meta:creation-date')),
        sketch: sketchOf(rows ?? wordsOf(xml, /<\/text:[ph]>/g)),
      }
    }
    const main = type === 'docx' ? /^word\/document\d*\.xml$/i : /^xl\/workbook\d*\.xml$/i
    const part = container.names.find((one) => main.test(one))
    if (!part) return { ...nothing, fault: 'damaged' }
    const core = read('docProps/core.xml')
    return {
      fault: null,
      title: valueOf(core, 'dc:title'),
      author: valueOf(core, 'cp:lastModifiedBy') || valueOf(core, 'dc:creator'),
      at: timeOf(valueOf(core, 'dcterms:modified')) ?? timeOf(valueOf(core, 'dcterms:created')),
      sketch: sketchOf(
        type === 'docx' ? wordsOf(read(part), /<\/w:p>|<w:(?:tab|br)\b[^>]*>/g) : cellsOf(container.names, read),
      ),
    }
  } catch (error) {
    if (error instanceof DamagedFile || error instanceof RangeError) return { ...nothing, fault: 'damaged' }
    throw error
  }
}
