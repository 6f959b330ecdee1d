// Reads a .docx (ECMA-376 part 1, §17) into the document model.
import type { Node } from 'prosemirror-model'
import { withEdges } from '../../content/edges'
import { say } from '../../words/said'
import { type OpcPackage, openPackage } from '../opc/package'
import { child, type XmlElement } from '../opc/xml'
import { DamagedFile, type Limit } from '../refusals'
import { readPageEdges } from './edges'
import { KeptThings } from './kept'
import { type DocxForm, newestForm, Reader } from './reader'
import { DocumentSource } from './source'

export interface ReadDocument {
  doc: Node
  limits: Limit[]
}

/** @param form of the model; earlier ones are for drafts that were written on them @throws DamagedFile */
export function readDocx(bytes: Uint8Array, form: DocxForm = newestForm): ReadDocument {
  const opened = openPackage(bytes)
  const main = opened.mainPart()
  return readBody(opened, main, opened.xml(main), form)
}

/**
 * The document as it is read, and from the same walk where each part of it stands.
 * @param root the main part, read with its spans
 * @throws DamagedFile
 */
export function readDocxSource(
  opened: OpcPackage,
  main: string,
  root: XmlElement,
): ReadDocument & { source: DocumentSource } {
  const source = new DocumentSource()
  return { ...readBody(opened, main, root, newestForm, source), source }
}

function readBody(
  opened: OpcPackage,
  main: string,
  root: XmlElement | undefined,
  form: DocxForm,
  source: DocumentSource | null = null,
): ReadDocument {
  const body = root && child(root, 'w:body')
  if (!body) throw new DamagedFile(say('formats.this-file-is-damaged-it-has-no'))
  const things = form === 1 ? null : new KeptThings(opened, main, root)
  const reader = new Reader(opened, main, things, source, main, form)
  const read = reader.document(body)
  const { edges, limits } = form >= 3 ? readPageEdges(opened, main, root, form) : { edges: [], limits: [] }
  const doc = edges.length ? withEdges(read, edges) : read
  doc.check()
  return { doc, limits: together([...reader.limits.list(), ...limits]) }
}

/** What stories say of one feature, said once. */
function together(limits: readonly Limit[]): Limit[] {
  const all = new Map<string, Limit>()
  for (const one of limits) {
    const had = all.get(one.feature)
    all.set(
      one.feature,
      had ? { ...had, count: had.count + one.count, where: [...had.where, ...one.where].slice(0, 5) } : one,
    )
  }
  return [...all.values()]
}
