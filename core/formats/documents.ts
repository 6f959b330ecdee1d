// Documents whatever their type: one way to read each, and to write it, for all that ask.
import type { Node } from 'prosemirror-model'
import { patchDocx } from './docx/patch'
import { type ReadDocument, readDocx } from './docx/read'
import { readStyleLooks, type StyleLook } from './docx/style-looks'
import { writeWholeDocx } from './docx/whole'
import { readHtml } from './html/read'
import { writeHtml } from './html/write'
import { readMarkdown } from './markdown/read'
import { writeMarkdown } from './markdown/write'
import { mainTypeOf } from './opc/main-type'
import { allOf, NotPatched, type Written } from './refusals'
import { readText } from './text/read'
import { writeText } from './text/write'
import { familyOf, isMarkdown, isPage, isText } from './types'

/** @param type the file's ending @throws DamagedFile */
export const readDocument = (bytes: Uint8Array, type: string): ReadDocument =>
  isText(type)
    ? readText(bytes)
    : isPage(type)
      ? readHtml(bytes)
      : isMarkdown(type)
        ? readMarkdown(bytes)
        : readDocx(bytes)

/** How the styles of a file look; none where its type has none. */
export const styleLooksOf = (bytes: Uint8Array | null, type: string): StyleLook[] =>
  bytes && familyOf(type) === 'docx' ? readStyleLooks(bytes) : []

/** A document as a new file of a type. */
const writeNew = (doc: Node, type: string): Written =>
  isText(type)
    ? writeText(doc, null)
    : isPage(type)
      ? writeHtml(doc, null)
      : isMarkdown(type)
        ? writeMarkdown(doc, null)
        : writeWholeDocx(doc)

/**
 * The document written into the file that it came from, or as a file of another type.
 * @param container that file; null for work that began blank
 * @param type the ending of what is written
 * @param from that of the container
 */
export function writeDocument(doc: Node, container: Uint8Array | null, type: string, from = type): Written {
  if (!container) return writeNew(doc, type)
  if (familyOf(type) !== familyOf(from)) {
    const { bytes, lost } = writeNew(doc, type)
    // What the file holds beyond its model stays there.
    return { bytes, lost: allOf(lost, readDocument(container, from).limits) }
  }
  if (isText(type)) return writeText(doc, readText(container))
  if (isMarkdown(type)) return writeMarkdown(doc, readMarkdown(container))
  if (isPage(type)) {
    const page = readHtml(container)
    // As long as nothing in it is another, it is the file.
    if (page.doc.eq(doc)) return { bytes: container, lost: [] }
    const { bytes, lost } = writeHtml(doc, page)
    return { bytes, lost: allOf(lost, page.limits) }
  }
  try {
    return patchDocx(container, doc)
  } catch (error) {
    if (!(error instanceof NotPatched)) throw error
    const { bytes, lost } = writeWholeDocx(doc, mainTypeOf(container))
    return { bytes, lost: [...lost, ...readDocx(container).limits] }
  }
}
