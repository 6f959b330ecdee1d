// Two versions of a file, whatever its type: by meaning where Jaula reads the type, by lines where it is text, by
// eye where it is an image, and by the facts otherwise.

import type { Node } from 'prosemirror-model'
import { aboutOfDocument, documentAbout, workbookAbout } from '../content/about'
import { blankDocument } from '../content/document'
import { type Papers, papersIn } from '../content/papers'
import { setUpOf } from '../content/sheet-set-up'
import type { Workbook } from '../content/workbook'
import { readDocument } from '../formats/documents'
import { DamagedFile } from '../formats/refusals'
import { fileType, isText } from '../formats/types'
import { readWorkbook } from '../formats/workbooks'
import { type Said, type Sentence, say } from '../words/said'
import { compareDocuments, type DocumentChanges } from './document'
import { documentOfLines, lineTypes } from './lines'
import { sayDocumentChanges, sayWorkbookChanges } from './words'
import { compareWorkbooks, type Results, type WorkbookChanges } from './workbook'

/** A version's bytes and its type. */
export interface FileState {
  bytes: Uint8Array
  type: string
}
export type FileComparison = { summary: Sentence /** Words, cells and the like that differ. */; weight: number } & (
  | { kind: 'document' | 'lines'; older: Node; newer: Node; changes: DocumentChanges }
  | { kind: 'spreadsheet'; older: Workbook; newer: Workbook; changes: WorkbookChanges }
  | { kind: 'images' }
  | { kind: 'facts' }
)

/** How much differs, for a mark on the lifeline: words, with what is no word counted as some. */
export const weightOfDocument = ({ wordsAdded, wordsRemoved, places, otherwise }: DocumentChanges): number =>
  wordsAdded + wordsRemoved + 3 * places.filter(({ kind }) => kind !== 'words').length + (otherwise ? 1 : 0)
export const weightOfWorkbook = ({ sheets, reordered, about }: WorkbookChanges): number =>
  sheets.reduce(
    (sum, { cells, looks, rowsAdded, rowsRemoved, columnsAdded, columnsRemoved }) =>
      sum + cells + Math.ceil(looks / 10) + 3 * (rowsAdded + rowsRemoved + columnsAdded + columnsRemoved),
    (reordered ? 1 : 0) + about.length,
  )

const imageTypes: ReadonlySet<string> = new Set(['png', 'jpg', 'jpeg', 'gif', 'webp', 'bmp', 'svg'])
const bytesInWords = (n: number): Said =>
  n < 1000
    ? say('changes.bytes', { n })
    : n < 1e6
      ? say('changes.kilobytes', { n: n / 1000 })
      : say('changes.megabytes', { n: n / 1e6 })

export type Decoded =
  | { kind: 'document' | 'lines'; doc: Node }
  | { kind: 'spreadsheet'; workbook: Workbook; results: Results; papers: Papers }

/** What a type's content decodes to; null for a type that is not decoded. @throws DamagedFile */
export function decoded({ bytes, type }: FileState): Decoded | null {
  const { kind, editable } = fileType(type)
  // Lines are laid beside each other as lines, also where they are more than are edited.
  if (editable && kind === 'document' && !isText(type)) return { kind, doc: readDocument(bytes, type).doc }
  if (editable && kind === 'spreadsheet') {
    const { workbook, results, looks } = readWorkbook(bytes, type)
    return { kind, workbook, results, papers: papersIn(looks) }
  }
  if (!lineTypes.has(type)) return null
  const doc = documentOfLines(bytes)
  return doc && { kind: 'lines', doc }
}

/** With how the file says that each sheet is put on paper, which is part of what is compared. */
const withSetUps = ({ workbook, papers }: Extract<Decoded, { kind: 'spreadsheet' }>): Workbook => ({
  ...workbook,
  sheets: workbook.sheets.map((sheet, at) => ({ ...sheet, setUp: setUpOf(papers[at]) })),
})

/** A version with what it decodes to; null for what is not decoded, or is damaged. */
export type DecodedState = FileState & { content: Decoded | null }

export function decodedState(state: FileState): DecodedState {
  try {
    return { ...state, content: decoded(state) }
  } catch (error) {
    if (error instanceof DamagedFile) return { ...state, content: null }
    throw error
  }
}

/** @param older null for a file's first version */
export const compareFiles = (older: FileState | null, newer: FileState): FileComparison =>
  compareDecoded(older && decodedState(older), decodedState(newer))

/** The same of what is decoded already. */
export function compareDecoded(older: DecodedState | null, newer: DecodedState): FileComparison {
  const facts = (): FileComparison => {
    const [was, is] = [older?.bytes.length ?? 0, newer.bytes.length]
    const images = imageTypes.has(newer.type) && (!older || imageTypes.has(older.type))
    const same = older && was === is && older.bytes.every((byte, at) => byte === newer.bytes[at])
    return {
      kind: images ? 'images' : 'facts',
      summary: !older
        ? say('changes.first-version', { size: bytesInWords(is) })
        : same
          ? say('changes.same-bytes')
          : say('changes.size', {
              is: bytesInWords(is),
              was: bytesInWords(was),
              type: older.type !== newer.type,
              now: newer.type,
              before: older.type,
            }),
      weight: same ? 0 : 10,
    }
  }
  const now = newer.content
  const was = older?.content ?? null
  if (!now || (older && !was)) return facts()
  if (now.kind === 'spreadsheet') {
    if (was && was.kind !== 'spreadsheet') return facts()
    // What a first version says of itself is nothing that came.
    const before: Workbook = was?.workbook ?? workbookAbout<Workbook>({ sheets: [] }, now.workbook.about)
    const changes = compareWorkbooks(
      was ? withSetUps(was) : before,
      withSetUps(now),
      was ? { older: was.results, newer: now.results } : undefined,
    )
    return {
      kind: 'spreadsheet',
      older: before,
      newer: now.workbook,
      changes,
      summary: sayWorkbookChanges(changes),
      weight: weightOfWorkbook(changes),
    }
  }
  if (was?.kind === 'spreadsheet') return facts()
  const before = was?.doc ?? documentAbout(blankDocument(), aboutOfDocument(now.doc))
  const changes = compareDocuments(before, now.doc)
  return {
    kind: now.kind === 'lines' && (!was || was.kind === 'lines') ? 'lines' : 'document',
    older: before,
    newer: now.doc,
    changes,
    summary: sayDocumentChanges(changes),
    weight: weightOfDocument(changes),
  }
}
