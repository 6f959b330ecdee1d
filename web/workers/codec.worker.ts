// Reads and writes documents off the main thread.
import { expose } from 'comlink'
import { blankDocument, documentFromJSON, openingOf, wordCount } from '../../core/content/document'
import type { JournalRecord } from '../../core/contract'
import { readDocx } from '../../core/formats/docx/read'
import { writeDocx } from '../../core/formats/docx/write'
import { DamagedFile, type Limit } from '../../core/formats/refusals'
import { replayDocument } from '../../core/recovery/replay'

export interface OpenedDocument {
  json: unknown
  limits: Limit[]
  words: number
  /** What replay of a draft's records brought; absent for a version as it is. */
  replay?: { seq: number; lostFrom: number | null; wordsBefore: number; opening: string }
}
export type Read<T> = { opened: T } | { damaged: string }

/** Turns a damaged file into an answer; other errors stay errors. */
export function answering<T>(read: () => T): Read<T> {
  try {
    return { opened: read() }
  } catch (error) {
    if (error instanceof DamagedFile) return { damaged: error.message }
    throw error
  }
}

const codec = {
  /** @param bytes a .docx, or null for a blank document @param records a draft's journal on top of it */
  readDocument: (bytes: Uint8Array | null, records: JournalRecord[] | null): Read<OpenedDocument> =>
    answering(() => {
      const { doc, limits } = bytes ? readDocx(bytes) : { doc: blankDocument(), limits: [] }
      if (!records) return { json: doc.toJSON(), limits, words: wordCount(doc) }
      const { model, seq, lostFrom } = replayDocument(doc, records)
      return {
        json: model.toJSON(),
        limits,
        words: wordCount(model),
        replay: { seq, lostFrom, wordsBefore: wordCount(doc), opening: openingOf(model) },
      }
    }),
  writeDocument: (json: unknown): Uint8Array => writeDocx(documentFromJSON(json)),
}
export type Codec = typeof codec
expose(codec)
