// What unsaved work holds beyond its last version, computed off the main thread.
import { expose } from 'comlink'
import { compareDocuments, type DocumentChanges, type Stretch } from '../../core/compare/document'
import { sayDocumentChanges, sayWorkbookChanges, whatWouldBeLost } from '../../core/compare/words'
import { compareWorkbooks, type WorkbookChanges } from '../../core/compare/workbook'
import { blankDocument, documentFromJSON, wordCount } from '../../core/content/document'
import { blankWorkbook, filledCells } from '../../core/content/workbook'
import type { JournalRecord } from '../../core/contract'
import { readDocx } from '../../core/formats/docx/read'
import { DamagedFile } from '../../core/formats/refusals'
import { readXlsx } from '../../core/formats/xlsx/read'
import { type DocumentConflict, mergeDocuments } from '../../core/merge/document'
import { replayDocument, replayWorkbook } from '../../core/recovery/replay'

export interface Beside<Change, Model> {
  /** In words and numbers. */
  summary: string
  /** Words or filled cells in all. */
  size: number
  changes: Change
  /** The last version; null for work that was never saved. */
  before: Model | null
  now: Model
}
export type Inside =
  | ({ kind: 'document' } & Beside<DocumentChanges, unknown>)
  | ({ kind: 'spreadsheet' } & Beside<WorkbookChanges, null>)
  | { kind: 'damaged'; reason: string }

const work = {
  /**
   * @param base the bytes that the records stand on, null for work that began blank
   * @param version the bytes of the last saved version, null when there is none
   */
  inside(
    kind: 'document' | 'spreadsheet',
    base: Uint8Array | null,
    records: JournalRecord[],
    version: Uint8Array | null,
  ): Inside {
    try {
      if (kind === 'document') {
        const { model } = replayDocument(base ? readDocx(base).doc : blankDocument(), records)
        const before = version ? readDocx(version).doc : null
        const changes = compareDocuments(before ?? blankDocument(), model)
        return {
          kind,
          changes,
          size: wordCount(model),
          summary: sayDocumentChanges(changes),
          before: before?.toJSON() ?? null,
          now: model.toJSON(),
        }
      }
      const { model } = replayWorkbook(base ? readXlsx(base).workbook : blankWorkbook(), records)
      const changes = compareWorkbooks(version ? readXlsx(version).workbook : { sheets: [] }, model)
      return {
        kind,
        changes,
        size: filledCells(model),
        summary: sayWorkbookChanges(changes),
        before: null,
        now: null,
      }
    } catch (error) {
      if (error instanceof DamagedFile) return { kind: 'damaged', reason: error.message }
      throw error
    }
  },
}
/** What differs between an earlier version and now. */
export interface Since {
  /** In words, from then to now. */
  summary: string
  /** Positions in the earlier document of what is not there now. */
  gone: Stretch[]
}

const merging = {
  /** What differs between a version and the work as it is now; null when one of them cannot be read. */
  since(kind: 'document' | 'spreadsheet', then: Uint8Array, now: Uint8Array): Since | null {
    try {
      if (kind === 'spreadsheet') {
        const changes = compareWorkbooks(readXlsx(then).workbook, readXlsx(now).workbook)
        return { summary: sayWorkbookChanges(changes), gone: [] }
      }
      const changes = compareDocuments(readDocx(then).doc, readDocx(now).doc)
      return { summary: sayDocumentChanges(changes), gone: changes.removed }
    } catch (error) {
      if (error instanceof DamagedFile) return null
      throw error
    }
  },

  /** What another version has beyond the base, merged into a document as it is now. */
  mergeDocument(base: Uint8Array, mine: unknown, theirs: Uint8Array): MergedInDocument | { refused: string } {
    try {
      const read = readDocx(theirs)
      if (read.limits.length) return { refused: whatWouldBeLost(read.limits) }
      const before = readDocx(base).doc
      const { doc, conflicts } = mergeDocuments(before, documentFromJSON(mine), read.doc)
      return { json: doc.toJSON(), conflicts, summary: sayDocumentChanges(compareDocuments(before, read.doc)) }
    } catch (error) {
      if (error instanceof DamagedFile) return { refused: error.message }
      throw error
    }
  },
}
export interface MergedInDocument {
  json: unknown
  conflicts: DocumentConflict[]
  summary: string
}
export type CompareWork = typeof work & typeof merging
expose({ ...work, ...merging })
