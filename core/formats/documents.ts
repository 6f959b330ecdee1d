// Documents whatever their type: one way to read each, and to write it, for all that ask.
import type { Node } from 'prosemirror-model'
import { patchDocx } from './docx/patch'
import { type ReadDocument, readDocx } from './docx/read'
import { readStyleLooks, type StyleLook } from './docx/style-looks'
import { writeWholeDocx } from './docx/whole'
import { mainTypeOf } from './opc/main-type'
import { allOf, NotPatched, type Written } from './refusals'
import { readText } from './text/read'
import { writeText } from './text/write'
import { familyOf, isText } from './types'

/** @param type the file's ending @throws DamagedFile */
export const readDocument = (bytes: Uint8Array, type: string): ReadDocument =>
  isText(type) ? readText(bytes) : readDocx(bytes)

/** How the styles of a file look; none where its type has none. */
export const styleLooksOf = (bytes: Uint8Array | null, type: string): StyleLook[] =>
  bytes && !isText(type) ? readStyleLooks(bytes) : []

/**
 * The document written into the file that it came from, or as a file of another type.
 * @param container that file; null for work that began blank
 * @param type the ending of what is written
 * @param from that of the container
 */
export function writeDocument(doc: Node, container: Uint8Array | null, type: string, from = type): Written {
  if (familyOf(type) !== familyOf(from)) {
    const { bytes, lost } = isText(type) ? writeText(doc, null) : writeWholeDocx(doc)
    // What the file holds beyond its model stays there.
    return { bytes, lost: container ? allOf(lost, readDocument(container, from).limits) : lost }
  }
  if (isText(type)) return writeText(doc, container && readText(container))
  if (!container) return writeWholeDocx(doc)
  try {
    return patchDocx(container, doc)
  } catch (error) {
    if (!(error instanceof NotPatched)) throw error
    const { bytes, lost } = writeWholeDocx(doc, mainTypeOf(container))
    return { bytes, lost: [...lost, ...readDocx(container).limits] }
  }
}
