// Documents whatever their type: one way to read each, and to write it, for all that ask. A new type is one entry here.
import type { Node } from 'prosemirror-model'
import { aboutOfDocument, documentAbout } from '../content/about'
import { withoutRanges } from '../content/comment-ranges'
import { aboutOf, withAbout } from './about/about'
import { readDoc, readDocLooks } from './doc/read'
import { readPassages } from './docx/passages'
import { patchDocx } from './docx/patch'
import { type ReadDocument, readDocx } from './docx/read'
import { readStyleLooks, type StyleLook } from './docx/style-looks'
import { writeWholeDocx } from './docx/whole'
import { readHtml } from './html/read'
import { writeHtml } from './html/write'
import { readMarkdown } from './markdown/read'
import { writeMarkdown } from './markdown/write'
import { asTemplate } from './odf/template'
import { withNotesOfOthers } from './odt/notes'
import { readOdt } from './odt/read'
import { readOdtLooks } from './odt/style-looks'
import { writeOdt } from './odt/write'
import { mainTypeOf } from './opc/main-type'
import { decodeXml } from './opc/xml'
import { openZip } from './opc/zip'
import { allOf, commentRangesLost, type Limit, Limits, NotPatched, type Written } from './refusals'
import { readRtfLooks, writeRtf } from './rtf/file'
import { readRtf } from './rtf/read'
import { readText } from './text/read'
import { type TextWay, writeText } from './text/write'
import { familyOf, hasComments } from './types'

interface DocumentFormat {
  /** @throws DamagedFile */
  read(bytes: Uint8Array): ReadDocument
  /** A document as a new file. */
  write(doc: Node, way?: TextWay): Written
  /** A document written into the file that it came from: what nobody changed stays. */
  patch(doc: Node, container: Uint8Array, way?: TextWay): Written
  /** How the styles of a file look, for a type that has styles. */
  looks?(bytes: Uint8Array): StyleLook[]
  /** How many comments say which words they are about, for a type in which they do. */
  ranges?(bytes: Uint8Array): number
}

/** Of types that are read and not written (`isReadOnly`). */
const notWritten = {
  write: (): never => {
    throw new NotPatched()
  },
  patch: (): never => {
    throw new NotPatched()
  },
}
/** By family (core/formats/types.ts). */
const formats: Readonly<Record<string, DocumentFormat>> = {
  docx: {
    read: (bytes) => readDocx(bytes),
    write: (doc) => writeWholeDocx(doc),
    patch(doc, container) {
      try {
        return patchDocx(container, doc)
      } catch (error) {
        if (!(error instanceof NotPatched)) throw error
        const { bytes, lost } = writeWholeDocx(doc, mainTypeOf(container))
        return { bytes, lost: [...lost, ...readDocx(container).limits] }
      }
    },
    looks: readStyleLooks,
    ranges(bytes) {
      const passages = readPassages(bytes)?.passages ?? []
      return new Set(passages.flatMap((one) => (one.kind === 'comment' ? [`${one.who}: ${one.words}`] : []))).size
    },
  },
  odt: {
    read: readOdt,
    write: (doc) => writeOdt(doc, null),
    patch: writeOdt,
    looks: readOdtLooks,
    ranges(bytes) {
      const content = openZip(bytes).read('content.xml')
      return content ? (decodeXml(content).match(/<office:annotation-end\b/g)?.length ?? 0) : 0
    },
  },
  rtf: {
    read: readRtf,
    write: (doc) => writeRtf(doc, null),
    patch: writeRtf,
    looks: readRtfLooks,
  },
  doc: {
    read: readDoc,
    ...notWritten,
    looks: readDocLooks,
  },
  html: {
    read: readHtml,
    write: (doc) => writeHtml(doc, null),
    patch(doc, container) {
      const page = readHtml(container)
      // As long as nothing in it is another, it is the file.
      if (page.doc.eq(doc)) return { bytes: container, lost: [] }
      const { bytes, lost } = writeHtml(doc, page)
      return { bytes, lost: allOf(lost, page.limits) }
    },
  },
  md: {
    read: readMarkdown,
    write: (doc) => writeMarkdown(doc, null),
    patch: (doc, container) => writeMarkdown(doc, readMarkdown(container)),
  },
  txt: {
    read: readText,
    write: (doc, way) => writeText(doc, null, way),
    patch: (doc, container, way) => writeText(doc, readText(container), way),
  },
}
const formatOf = (type: string): DocumentFormat => formats[familyOf(type)] ?? formats.docx!

/** @param type the file's ending @throws DamagedFile */
export function readDocument(bytes: Uint8Array, type: string): ReadDocument {
  const read = formatOf(type).read(bytes)
  return { ...read, doc: documentAbout(read.doc, aboutOf(bytes, type)) }
}

/** How the styles of a file look; none where its type has none. */
export const styleLooksOf = (bytes: Uint8Array | null, type: string): StyleLook[] =>
  (bytes && formatOf(type).looks?.(bytes)) || []

/**
 * The document written into the file that it came from, or as a file of another type.
 * @param container that file; null for work that began blank
 * @param type the ending of what is written
 * @param from that of the container
 * @param way how plain text is written, where that was said
 */
export function writeDocument(
  doc: Node,
  container: Uint8Array | null,
  type: string,
  from = type,
  way?: TextWay,
): Written {
  const own = documentAbout(hasComments(type) ? doc : withoutRanges(doc), null)
  const written = writeContent(own, container, type, from, way)
  return withAbout(written, type, aboutOfDocument(doc))
}

/** What comments of a file are about is no part of the model: in a file of another type they are at their places alone. */
function rangesLeft(container: Uint8Array, from: string, type: string): Limit[] {
  const limits = new Limits()
  const about = hasComments(from) && hasComments(type) ? formatOf(from).ranges?.(container) : 0
  if (about) limits.add(commentRangesLost, '', about)
  return limits.list()
}

function writeContent(
  doc: Node,
  container: Uint8Array | null,
  type: string,
  from: string,
  way: TextWay | undefined,
): Written {
  if (type === 'ott') {
    const { bytes, lost } = writeContent(doc, container, 'odt', from, way)
    return { bytes: asTemplate(bytes), lost }
  }
  const format = formatOf(type)
  if (!container) return format.write(doc, way)
  if (familyOf(type) === familyOf(from)) return format.patch(doc, container, way)
  const { bytes, lost } = format.write(familyOf(from) === 'odt' ? withNotesOfOthers(doc) : doc, way)
  // What the file holds beyond its model stays there.
  return { bytes, lost: allOf(lost, rangesLeft(container, from, type), readDocument(container, from).limits) }
}
