// Reads and writes documents off the main thread.

import { expose } from 'comlink'
import { transformTo } from '../../core/compare/replacements'
import { documentFromJSON, openingOf, wordCount } from '../../core/content/document'
import type { DraftModel, JournalRecord } from '../../core/contract'
import { readDocument, styleLooksOf, writeDocument } from '../../core/formats/documents'
import { readPassages } from '../../core/formats/docx/passages'
import type { StyleLook } from '../../core/formats/docx/style-looks'
import { languageOf } from '../../core/formats/language'
import { documentNotOnPaper } from '../../core/formats/not-on-paper'
import { DamagedFile, type Limit, type Written } from '../../core/formats/refusals'
import { textWayOf } from '../../core/formats/text/read'
import type { TextWay } from '../../core/formats/text/write'
import { familyOf } from '../../core/formats/types'
import { OtherModel, openDocumentModel } from '../../core/recovery/models'
import { type DocumentEdit, replayDocument } from '../../core/recovery/replay'
import { undoFrom } from '../../core/recovery/undo-tail'
import { type Sentence, saidBy } from '../../core/words/said'

export interface OpenedDocument {
  json: unknown
  limits: Limit[]
  words: number
  /** What replay of a draft's records brought; absent for a version as it is. */
  replay?: { seq: number; lostFrom: number | null; wordsBefore: number; opening: string }
  /** The records that go through the page's own history, so that they can be undone: `json` is before them. */
  tail: JournalRecord[]
  /** What records are applied to. */
  stands: DraftModel
  /**
   * It was written as an earlier Jaula read its file, and carried over, so that no record can follow the old ones:
   * the edit that makes this work of the file as it is read now.
   */
  carried: DocumentEdit | null
}
export type Read<T> = { opened: T } | { damaged: Sentence }

/** Turns a damaged file into an answer; other errors stay errors. */
export function answering<T>(read: () => T): Read<T> {
  try {
    return { opened: read() }
  } catch (error) {
    if (error instanceof DamagedFile || error instanceof OtherModel) return { damaged: saidBy(error) }
    throw error
  }
}

const codec = {
  /**
   * @param bytes a .docx, or null for a blank document
   * @param records a draft's journal on top of it
   * @param written what the draft says of its model
   * @param undoable leave the last records to the page, whose history is to have them
   * @param type the file's ending; that of the draft where it is not known
   */
  readDocument: (
    bytes: Uint8Array | null,
    records: JournalRecord[] | null,
    written: DraftModel | null = null,
    undoable = false,
    type?: string,
  ): Read<OpenedDocument> =>
    answering(() => {
      const { base, replayed, stands, carried } = openDocumentModel(bytes, records ?? [], written, type)
      if (!records)
        return {
          json: base.model.toJSON(),
          limits: base.limits,
          words: wordCount(base.model),
          tail: [],
          stands: stands(),
          carried: null,
        }
      const { model, seq, lostFrom } = replayed
      const whole = records.filter((record) => record.seq <= seq)
      const from = undoable && !carried ? undoFrom(whole) : seq + 1
      const before = from <= seq ? replayDocument(base.model, whole.slice(0, from - 1)).model : model
      return {
        json: before.toJSON(),
        limits: base.limits,
        words: wordCount(model),
        replay: { seq, lostFrom, wordsBefore: wordCount(base.model), opening: openingOf(model) },
        tail: whole.slice(from - 1),
        stands: stands(),
        carried: carried ? { steps: transformTo(base.model, model).steps.map((step) => step.toJSON()) } : null,
      }
    }),
  /** How plain text is written. */
  readTextWay: (bytes: Uint8Array) => textWayOf(bytes),
  /** How the styles of a file look. */
  readStyleLooks: (bytes: Uint8Array, type: string): StyleLook[] => styleLooksOf(bytes, type),
  /** The language that a file says it is written in; null where it says none. */
  readLanguage: (bytes: Uint8Array, type: string): string | null => languageOf(bytes, type),
  /** What a file says of stretches of its text, and the document that they are positions in. */
  readPassages: (bytes: Uint8Array, type: string) => {
    if (familyOf(type) !== 'docx') return null
    const read = readPassages(bytes)
    return read && { json: read.doc.toJSON() as unknown, passages: read.passages }
  },
  /**
   * The document written into the file that it came from, or as a file of another type.
   * @param container that file; null for work that began blank
   * @param type the ending of what is written @param from that of the container @param way of plain text
   */
  writeDocument: (json: unknown, container: Uint8Array | null, type: string, from = type, way?: TextWay): Written =>
    writeDocument(documentFromJSON(json), container, type, from, way),
  /** What of a document, and of the file that it came from, is not on its pages. */
  notOnPaper: (json: unknown, container: Uint8Array | null, type: string, remarks: boolean): Limit[] =>
    documentNotOnPaper(documentFromJSON(json), container ? readDocument(container, type).limits : [], remarks),
}
export type Codec = typeof codec
expose(codec)
