// What unsaved work holds beyond its last version, computed off the main thread.

import { expose } from 'comlink'
import { compareDocuments, type DocumentChanges } from '../../core/compare/document'
import { bringOver, type Part } from '../../core/compare/replacements'
import { sayDocumentChanges, sayWorkbookChanges, whatWouldBeLost } from '../../core/compare/words'
import { compareWorkbooks, type WorkbookChanges } from '../../core/compare/workbook'
import { blankDocument, documentFromJSON, wordCount } from '../../core/content/document'
import { filledCells } from '../../core/content/workbook'
import type { DraftModel, JournalRecord } from '../../core/contract'
import { readDocument, styleLooksOf } from '../../core/formats/documents'
import type { StyleLook } from '../../core/formats/docx/style-looks'
import { DamagedFile } from '../../core/formats/refusals'
import { defaultType, isCsv } from '../../core/formats/types'
import { readWorkbook } from '../../core/formats/workbooks'
import { commonDocument } from '../../core/merge/common'
import { type DocumentConflict, mergeDocuments } from '../../core/merge/document'
import { OtherModel, openDocumentModel, openWorkbookModel } from '../../core/recovery/models'
import { type Sentence, saidBy } from '../../core/words/said'
import type { Work } from '../work/content'
import { lookingBack } from './looking-back'

export interface Beside<Change, Model> {
  /** In words and numbers. */
  summary: Sentence
  /** Words or filled cells in all. */
  size: number
  changes: Change
  /** The last version; null for work that was never saved. */
  before: Model | null
  now: Model
}
export type Inside =
  | ({ kind: 'document'; looks: readonly StyleLook[] } & Beside<DocumentChanges, unknown>)
  | ({ kind: 'spreadsheet' } & Beside<WorkbookChanges, null>)
  | { kind: 'damaged'; reason: Sentence }

const work = {
  /**
   * @param base the bytes that the records stand on, null for work that began blank
   * @param version the bytes of the last saved version, null when there is none
   * @param written what the draft says of the model that its records were written on
   * @param type of the file that the version is of
   */
  inside(
    kind: 'document' | 'spreadsheet',
    base: Uint8Array | null,
    records: JournalRecord[],
    version: Uint8Array | null,
    written: DraftModel | null,
    type: string = written?.type ?? defaultType[kind],
  ): Inside {
    try {
      if (kind === 'document') {
        const { model } = openDocumentModel(base, records, written).replayed
        const before = version ? readDocument(version, type).doc : null
        const changes = compareDocuments(before ?? blankDocument(), model)
        return {
          kind,
          changes,
          size: wordCount(model),
          summary: sayDocumentChanges(changes),
          before: before?.toJSON() ?? null,
          now: model.toJSON(),
          looks: styleLooksOf(base, written?.type ?? type),
        }
      }
      const { model } = openWorkbookModel(base, records, written).replayed
      const changes = compareWorkbooks(
        version
          ? readWorkbook(version, isCsv(type) && isCsv(written?.type ?? '') ? written!.type : type).workbook
          : { sheets: [] },
        model,
      )
      return {
        kind,
        changes,
        size: filledCells(model),
        summary: sayWorkbookChanges(changes),
        before: null,
        now: null,
      }
    } catch (error) {
      if (error instanceof DamagedFile || error instanceof OtherModel) return { kind: 'damaged', reason: saidBy(error) }
      throw error
    }
  },
}
/** A document with a draft's records on top. What a draft's base holds beside it, this work has as well. */
function readWork({ bytes, records, model = null, type: own }: Work, beside: string): ReturnType<typeof readDocument> {
  const type = own ?? beside
  if (records) return { doc: openDocumentModel(bytes, records, model, type).replayed.model, limits: [] }
  return bytes ? readDocument(bytes, type) : { doc: blankDocument(), limits: [] }
}

const merging = {
  /**
   * What another version has beyond the base, merged into a document as it is now.
   * @param base null when neither came of the other
   * @param part which of the changes; all of them when absent
   * @param adopted the work is written into that version from now on, so that nothing of it is lost
   * @param type the ending of the file that the work is
   */
  mergeDocument(
    base: Work | null,
    mine: unknown,
    theirs: Work,
    part: Part | null,
    adopted: boolean,
    type: string,
  ): MergedInDocument | { refused: Sentence } {
    try {
      const read = readWork(theirs, type)
      if (read.limits.length && !adopted) return { refused: whatWouldBeLost(read.limits) }
      const now = documentFromJSON(mine)
      const before = base ? readWork(base, type).doc : commonDocument(now, read.doc)
      const other = part ? bringOver(before, read.doc, part).doc : read.doc
      const { doc, conflicts } = mergeDocuments(before, now, other)
      return { json: doc.toJSON(), conflicts, summary: sayDocumentChanges(compareDocuments(before, other)) }
    } catch (error) {
      if (error instanceof DamagedFile || error instanceof RangeError || error instanceof OtherModel)
        return { refused: saidBy(error) }
      throw error
    }
  },
}
export interface MergedInDocument {
  json: unknown
  conflicts: DocumentConflict[]
  summary: Sentence
}
export type CompareWork = typeof work & typeof merging & typeof lookingBack
expose({ ...work, ...merging, ...lookingBack })
