// What a draft's records are applied to. A draft is its base's bytes, decoded, and steps on top: a reader that
// decodes the same bytes into another model would put old steps into wrong places without an error. So a
// draft names the form of the model that it was written on and the digest of its decoded base. Readers of
// earlier forms stay here; a draft of an earlier form is replayed by its own reader, and what it changed is
// carried over to the model as it is read now.

import { sha256 } from '@noble/hashes/sha2'
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils'
import type { Node } from 'prosemirror-model'
import type { FormulaSource } from '../calc/source'
import { documentAbout, workbookAbout } from '../content/about'
import { blankDocument } from '../content/document'
import { withoutRules } from '../content/entry-rules'
import { type SheetLooks, withoutLooks } from '../content/looks'
import { withoutFilters } from '../content/sheet-filter'
import { blankWorkbook, type CellValue, type Workbook } from '../content/workbook'
import type { DraftModel, JournalRecord } from '../contract'
import type { UsualFont } from '../formats/beside'
import type { ReadCsv } from '../formats/csv/read'
import { readDocument } from '../formats/documents'
import { readDocx } from '../formats/docx/read'
import type { Limit } from '../formats/refusals'
import { familyOf } from '../formats/types'
import { readWorkbook } from '../formats/workbooks'
import { readXlsx } from '../formats/xlsx/read'
import { mergeDocuments } from '../merge/document'
import { mergeWorkbooks } from '../merge/workbook'
import { SaidError, say } from '../words/said'
import { typeOfDraft } from './draft-type'
import { type Replayed, replayDocument, replayWorkbook } from './replay'

export interface ReadBase<Model> {
  model: Model
  limits: Limit[]
  /** Results that a spreadsheet's file holds. */
  results?: Map<number, CellValue>[]
  /** What its formulas refer to beside cells. */
  source?: FormulaSource
  /** How its sheets look beyond the model. */
  looks?: SheetLooks[]
  usual?: UsualFont | undefined
  /** Sheets that the file does not show. */
  hiddenSheets?: readonly number[] | undefined
  /** How separated values are written. */
  csv?: ReadCsv
}
/** Readers by the form of the model that they give. A change of what a reader gives adds a number, and keeps the old reader. */
export type Readers<Model> = Readonly<Record<number, (bytes: Uint8Array) => ReadBase<Model>>>

export const documentReaders: Readers<Node> = {
  1: (bytes) => {
    const { doc, limits } = readDocx(bytes, 1)
    return { model: doc, limits }
  },
  2: (bytes) => {
    const { doc, limits } = readDocx(bytes, 2)
    return { model: doc, limits }
  },
  3: (bytes) => {
    const { doc, limits } = readDocx(bytes, 3)
    return { model: doc, limits }
  },
  4: (bytes) => {
    const { doc, limits } = readDocx(bytes)
    return { model: doc, limits }
  },
  // What a file says of itself is in the model from here on.
  5: (bytes) => {
    const { doc, limits } = readDocument(bytes, 'docx')
    return { model: doc, limits }
  },
}
export const workbookReaders: Readers<Workbook> = {
  1: (bytes) => {
    const { workbook, ...read } = readXlsx(bytes, 1)
    return { model: workbook, ...read }
  },
  2: (bytes) => {
    const { workbook, ...read } = readXlsx(bytes, 2)
    return { model: workbook, ...read }
  },
  3: (bytes) => {
    const { workbook, ...read } = readXlsx(bytes, 3)
    return { model: workbook, ...read }
  },
  4: (bytes) => {
    const { workbook, ...read } = readXlsx(bytes, 4)
    return { model: workbook, ...read }
  },
  5: (bytes) => {
    const { workbook, ...read } = readWorkbook(bytes, 'xlsx')
    return { model: withoutRules(workbook), ...read }
  },
  // What is to be entered into cells is in the model from here on.
  6: (bytes) => {
    const { workbook, ...read } = readWorkbook(bytes, 'xlsx')
    return { model: workbook, ...read }
  },
}
/** In the first form of texts of other types what a file says of itself was not in the model. */
const documentsOf = (type: string): Readers<Node> => ({
  1: (bytes) => {
    const { doc, limits } = readDocument(bytes, type)
    return { model: documentAbout(doc, null), limits }
  },
  2: (bytes) => {
    const { doc, limits } = readDocument(bytes, type)
    return { model: doc, limits }
  },
})
/**
 * In the first form the looks of a spreadsheet were not in its model, in the second its filters were not, in the third what
 * its file says of itself was not, in the fourth the rules for entries were not.
 */
const workbooksOf = (type: string): Readers<Workbook> => ({
  1: (bytes) => {
    const { workbook, ...read } = readWorkbook(bytes, type)
    return { model: withoutLooks(workbook), ...read }
  },
  2: (bytes) => {
    const { workbook, ...read } = readWorkbook(bytes, type)
    return { model: workbookAbout(withoutRules(withoutFilters(workbook)), null), ...read }
  },
  3: (bytes) => {
    const { workbook, ...read } = readWorkbook(bytes, type)
    return { model: workbookAbout(withoutRules(workbook), null), ...read }
  },
  4: (bytes) => {
    const { workbook, ...read } = readWorkbook(bytes, type)
    return { model: withoutRules(workbook), ...read }
  },
  5: (bytes) => {
    const { workbook, ...read } = readWorkbook(bytes, type)
    return { model: workbook, ...read }
  },
})
const newest = (readers: Readers<unknown>): number => Math.max(...Object.keys(readers).map(Number))

/** A document as text: as earlier forms wrote it, where it has nothing that they could not hold. */
const documentText = (doc: Node): string =>
  JSON.stringify(doc.toJSON(), (name, value) => {
    const none =
      (/^(?:style|look|number|about)$/.test(name) && value === null) || (name === 'edges' && value?.length === 0)
    return none ? undefined : value
  })

const digestOf = (text: string): string => bytesToHex(sha256(utf8ToBytes(text)))

/** A draft that this Jaula cannot replay: its base was read by a reader that is not here. */
export class OtherModel extends SaidError {}

export interface OpenedDraftModel<Model> {
  base: ReadBase<Model>
  replayed: Replayed<Model>
  /** What records are applied to from now on; its digest takes a while for a large base, and is taken once. */
  stands(): DraftModel
  /** It was written on an earlier form: this is the work carried over, and no record of it can follow in the old draft. */
  carried: boolean
}

interface Kind<Model> {
  readers: Readers<Model>
  blank(): Model
  text(model: Model): string
  replay(base: Model, records: readonly JournalRecord[]): Replayed<Model>
  /** What changed from `base` to `changed`, made in `now`. */
  carry(base: Model, changed: Model, now: Model): Model
}

/**
 * Decodes a draft's base and replays its records on it.
 * @param bytes null for work that began blank
 * @param written what the draft says of its model; null from a Jaula that kept nothing of it
 * @throws OtherModel, DamagedFile
 */
function openModel<Model>(
  kind: Kind<Model>,
  bytes: Uint8Array | null,
  type: string,
  records: readonly JournalRecord[],
  written: DraftModel | null,
): OpenedDraftModel<Model> {
  const form = newest(kind.readers)
  const read = (by: number): ReadBase<Model> => (bytes ? kind.readers[by]!(bytes) : { model: kind.blank(), limits: [] })
  const base = read(form)
  let digest: string | undefined
  const stands = () => ({ form, type, base: (digest ??= digestOf(kind.text(base.model))) })
  // Another form that reads this base the same is no other model.
  const same = (): boolean =>
    !!written && (written.base ? written.form in kind.readers && written.base === stands().base : written.form === form)
  if (!written || !records.length || same())
    return { base, replayed: kind.replay(base.model, records), stands, carried: false }
  const earlier = kind.readers[written.form] && (written.form === form ? base : read(written.form))
  if (!earlier || (written.base && digestOf(kind.text(earlier.model)) !== written.base))
    throw new OtherModel(say('recovery.other-model'))
  const replayed = kind.replay(earlier.model, records)
  return {
    base,
    replayed: { ...replayed, model: kind.carry(earlier.model, replayed.model, base.model) },
    stands,
    carried: true,
  }
}

export const openDocumentModel = (
  bytes: Uint8Array | null,
  records: readonly JournalRecord[],
  written: DraftModel | null,
  wanted?: string,
  readers?: Readers<Node>,
): OpenedDraftModel<Node> => {
  const type = typeOfDraft(records, written, wanted, 'docx')
  return openModel(
    {
      readers: readers ?? (familyOf(type) === 'docx' ? documentReaders : documentsOf(type)),
      blank: blankDocument,
      text: documentText,
      replay: replayDocument,
      carry: (base, changed, now) => mergeDocuments(base, now, changed).doc,
    },
    bytes,
    familyOf(type) === 'docx' ? 'docx' : type,
    records,
    written,
  )
}

export const openWorkbookModel = (
  bytes: Uint8Array | null,
  records: readonly JournalRecord[],
  written: DraftModel | null,
  wanted?: string,
  readers?: Readers<Workbook>,
): OpenedDraftModel<Workbook> & { undo: UndoneAndDone } => {
  const type = typeOfDraft(records, written, wanted, 'xlsx')
  let undo: UndoneAndDone = { done: [], undone: [] }
  const opened = openModel<Workbook>(
    {
      readers: readers ?? (familyOf(type) === 'xlsx' ? workbookReaders : workbooksOf(type)),
      blank: blankWorkbook,
      text: (workbook) => JSON.stringify(workbook),
      replay: (base, some) => {
        const replayed = replayWorkbook(base, some)
        undo = replayed.undo
        return replayed
      },
      carry: (base, changed, now) => mergeWorkbooks(base, now, changed).workbook,
    },
    bytes,
    familyOf(type) === 'xlsx' ? 'xlsx' : type,
    records,
    written,
  )
  return { ...opened, undo: opened.carried ? { done: [], undone: [] } : undo }
}
export type UndoneAndDone = ReturnType<typeof replayWorkbook>['undo']
