import { sha256 } from '@noble/hashes/sha2'
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils'
import fc from 'fast-check'
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import type { Node } from 'prosemirror-model'
import { Transform } from 'prosemirror-transform'
import { describe, expect, test } from 'vitest'
import { a4, documentSchema } from '../content/document'
import { edgesOf, storyOf, withEdges, wordsAtEdge } from '../content/edges'
import { type EntryRule, withoutRules } from '../content/entry-rules'
import { withoutLooks } from '../content/looks'
import type { Workbook } from '../content/workbook'
import type { WorkbookOp } from '../content/workbook-ops'
import type { DraftModel, JournalRecord } from '../contract'
import { writeDocx } from '../formats/docx/write'
import { writeOds } from '../formats/ods/write'
import { readWorkbook } from '../formats/workbooks'
import { writeXls } from '../formats/xls/write'
import { writeXlsx } from '../formats/xlsx/write'
import {
  documentReaders,
  OtherModel,
  openDocumentModel,
  openWorkbookModel,
  type Readers,
  workbookReaders,
} from './models'
import { undoFrom } from './undo-tail'

const paragraphs = (...texts: string[]) =>
  documentSchema.node(
    'doc',
    null,
    texts.map((text) => documentSchema.node('paragraph', null, text ? [documentSchema.text(text)] : [])),
  )
const texts = (doc: Node) => doc.children.map(({ textContent }) => textContent)
const bytes = writeDocx(paragraphs('First.', 'Second.'))
/** The file of two paragraphs with something beside the first one's words, as another program writes it. */
const withNote = (beside: string): Uint8Array => {
  const parts = unzipSync(writeDocx(paragraphs('Lock 7', 'Paddles.')))
  const xml = strFromU8(parts['word/document.xml']!).replace(/(Lock 7<\/w:t><\/w:r>)/, (run) => run + beside)
  return zipSync({ ...parts, 'word/document.xml': strToU8(xml) })
}
/** A letter at the end of the last paragraph, as the editor records it. */
const typed = (doc: Node): JournalRecord => {
  const change = new Transform(doc).insert(doc.content.size - 1, documentSchema.text('!'))
  return { seq: 1, at: 0, edit: { steps: change.steps.map((step) => step.toJSON()) } }
}

describe('a draft names what its records are applied to', () => {
  test('and is replayed on it by the reader that it was written with', () => {
    const { base, stands } = openDocumentModel(bytes, [], null)
    const opened = openDocumentModel(bytes, [typed(base.model)], stands())
    expect(texts(opened.replayed.model)).toEqual(['First.', 'Second.!'])
    expect(opened.carried).toBe(false)
  })

  test('with a reader of another form now: its own one replays it, and the change is carried over', () => {
    // The reader that came later sees a heading before everything: every old position is another place.
    const readers: Readers<Node> = {
      ...documentReaders,
      99: (some) => {
        const { model, limits } = documentReaders[1]!(some)
        return { model: paragraphs('A new line', ...texts(model)), limits }
      },
    }
    const { base, stands } = openDocumentModel(bytes, [], null)
    const opened = openDocumentModel(bytes, [typed(base.model)], stands(), undefined, readers)
    expect(texts(opened.replayed.model)).toEqual(['A new line', 'First.', 'Second.!'])
    expect(opened.carried).toBe(true)
    expect(opened.stands().form).toBe(99)
  })

  test('a document with a note, written on before notes were seen, is carried over; one without is gone on with', () => {
    const open = (said: string) => {
      const file = withNote(said)
      const first = openDocumentModel(file, [], null, undefined, { 1: documentReaders[1]! })
      const record = typed(first.base.model)
      return openDocumentModel(file, [record], first.stands())
    }
    const plain = open('')
    expect(plain.carried).toBe(false)
    expect(texts(plain.replayed.model)).toEqual(['Lock 7', 'Paddles.!'])
    const noted = open('<w:r><w:footnoteReference w:id="1"/></w:r>')
    expect(noted.carried).toBe(true)
    expect(texts(noted.replayed.model)).toEqual(['Lock 7', 'Paddles.!'])
    expect(noted.replayed.model.child(0).lastChild!.attrs).toMatchObject({ kind: 'footnote' })
  })

  test('a document with a header, written on before headers could be, is carried over; one without is the same model', () => {
    const json = (...said: string[]) => ({
      type: 'doc',
      attrs: { page: a4 },
      content: said.map((text) => ({ type: 'paragraph', attrs: { align: null }, content: [{ type: 'text', text }] })),
    })
    const earlier = (...said: string[]): DraftModel => ({
      form: 2,
      type: 'docx',
      base: bytesToHex(sha256(utf8ToBytes(JSON.stringify(json(...said))))),
    })
    const plain = paragraphs('First.', 'Second.')
    const opened = openDocumentModel(bytes, [typed(plain)], earlier('First.', 'Second.'))
    expect(opened.carried).toBe(false)
    const story = { type: 'doc', content: [{ type: 'paragraph', content: [{ type: 'text', text: 'Trust' }] }] }
    const headed = writeDocx(withEdges(plain, [{ edge: 'head', on: 'all', json: story }]))
    const carried = openDocumentModel(headed, [typed(plain)], earlier('First.', 'Second.'))
    expect(carried.carried).toBe(true)
    expect(texts(carried.replayed.model)).toEqual(['First.', 'Second.!'])
    expect(edgesOf(carried.replayed.model).map((one) => wordsAtEdge(storyOf(one)))).toEqual(['Trust'])
  })

  test('a workbook of the first form is gone on with as it is where both forms read it the same, and else carried over', () => {
    const book = (fill: string) =>
      writeXlsx({ sheets: [{ name: 'Levels', rows: [[{ value: 1, style: { fill } }]], widths: {} }] })
    const record = {
      seq: 1,
      at: 0,
      edit: { ops: [{ op: 'cells', sheet: 0, cells: [{ row: 1, column: 0, cell: { value: 2 } }] }] },
    } satisfies JournalRecord
    const open = (bytes: Uint8Array) => {
      const first = openWorkbookModel(bytes, [], null, 'xlsx', { 1: workbookReaders[1]! }).stands()
      expect(first.form).toBe(1)
      return openWorkbookModel(bytes, [record], first)
    }
    expect(open(book('#ffe08a'))).toMatchObject({ carried: false, replayed: { seq: 1 } })
    // A colour of the palette past its eighth was another one in the first form.
    const parts = unzipSync(book('#ffe08a'))
    const styles = strFromU8(parts['xl/styles.xml']!).replace('<fgColor rgb="FFFFE08A"/>', '<fgColor indexed="52"/>')
    const opened = open(zipSync({ ...parts, 'xl/styles.xml': strToU8(styles) }))
    expect(opened.carried).toBe(true)
    expect(opened.replayed.model.sheets[0]!.rows).toEqual([[{ value: 1, style: { fill: '#ff9900' } }], [{ value: 2 }]])
  })

  test('a draft from before looks were in the model is carried over, and takes none of them away', () => {
    const sheet = {
      name: 'Levels',
      rows: [
        [
          { value: 1, style: { bold: true as const, top: '2 solid #0f6a5f', size: 14 } },
          { style: { left: '1 solid' } },
        ],
      ],
      widths: {},
      merged: [{ top: 2, left: 0, bottom: 2, right: 3 }],
      heights: { 0: 30 },
      hiddenRows: [4],
    }
    const looksOf = ({ sheets: [one] }: Workbook) => [one!.merged, one!.heights, one!.hiddenRows]
    for (const [type, bytes, form] of [
      ['xlsx', writeXlsx({ sheets: [sheet] }), 2],
      ['ods', writeOds({ workbook: { sheets: [sheet] }, resultOf: () => undefined }).bytes, 1],
      ['xls', writeXls({ workbook: { sheets: [sheet] }, resultOf: () => undefined }).bytes, 1],
    ] as const) {
      // As it was written then: its cells without lines, and a row that comes before them.
      const bare = withoutLooks({ sheets: [sheet] }).sheets[0]!.rows
      expect(bare).toEqual([[{ value: 1, style: { bold: true } }]])
      const record = {
        seq: 1,
        at: 0,
        edit: {
          ops: [
            { op: 'insert', sheet: 0, axis: 'rows', at: 0, count: 1 },
            { op: 'cells', sheet: 0, cells: [{ row: 1, column: 0, cell: { value: 2, style: { bold: true } } }] },
          ],
        },
      } satisfies JournalRecord
      const read = readWorkbook(bytes, type).workbook
      const written: DraftModel = {
        form,
        type,
        base: bytesToHex(sha256(utf8ToBytes(JSON.stringify(withoutLooks(read))))),
      }
      const opened = openWorkbookModel(bytes, [record], written, type)
      expect([type, opened.carried]).toEqual([type, true])
      const { model } = opened.replayed
      expect(model.sheets[0]!.rows[1]).toEqual([
        { value: 2, style: { bold: true, top: '2 solid #0f6a5f', size: 14 } },
        { style: { left: '1 solid' } },
      ])
      expect(looksOf(model)).toEqual([[{ top: 3, left: 0, bottom: 3, right: 3 }], { 1: 30 }, [5]])
    }
  })

  test('a draft from before rules for entries were in the model is carried over, and takes none of them away', () => {
    const rule: EntryRule = {
      areas: [{ top: 1, left: 0, bottom: 8, right: 0 }],
      condition: { kind: 'one of', choices: ['Gate', 'Weir'], shown: true },
      empty: true,
      otherwise: 'refused',
    }
    const sheet = { name: 'Kinds', rows: [[{ value: 'Kind' }]], widths: {}, rules: [rule] }
    const record = {
      seq: 1,
      at: 0,
      edit: { ops: [{ op: 'insert', sheet: 0, axis: 'rows', at: 0, count: 2 }] },
    } satisfies JournalRecord
    const ods = writeOds({ workbook: { sheets: [sheet] }, resultOf: () => undefined }).bytes
    for (const [type, bytes, form] of [
      ['xlsx', writeXlsx({ sheets: [sheet] }), 4],
      ['xlsx', writeXlsx({ sheets: [sheet] }), 5],
      ['ods', ods, 3],
      ['ods', ods, 4],
    ] as const) {
      const read = readWorkbook(bytes, type).workbook
      const written = bytesToHex(sha256(utf8ToBytes(JSON.stringify(withoutRules(read)))))
      const opened = openWorkbookModel(bytes, [record], { form, type, base: written }, type)
      expect([type, form, opened.carried]).toEqual([type, form, true])
      expect(opened.replayed.model.sheets[0]!.rows).toEqual([undefined, undefined, [{ value: 'Kind' }]])
      expect(opened.replayed.model.sheets[0]!.rules).toEqual([
        { ...rule, areas: [{ ...rule.areas[0]!, top: 3, bottom: 10 }] },
      ])
    }
  })

  test('records on a list are what they meant when it was read otherwise; work without any is read as is said now', () => {
    const list = strToU8('Lock|Level\nLK07|1,50\nLK08|2,00\n')
    const record = {
      seq: 1,
      at: 0,
      edit: { ops: [{ op: 'cells', sheet: 0, cells: [{ row: 1, column: 1, cell: { value: 1.75 } }] }] },
    } satisfies JournalRecord
    const bars = 'csv?separator=bar&decimal=comma'
    const stands = openWorkbookModel(list, [], null, bars).stands()
    expect(stands.type).toBe(bars)
    const { replayed, carried } = openWorkbookModel(list, [record], stands, 'csv?separator=semicolon')
    expect(carried).toBe(false)
    expect(replayed.model.sheets[0]!.rows[1]!.map((cell) => cell?.value)).toEqual(['LK07', 1.75])
    const anew = openWorkbookModel(list, [], stands, 'csv?separator=semicolon').base.model
    expect(anew.sheets[0]!.rows[1]!.map((cell) => cell?.value)).toEqual(['LK07|1,50'])
  })

  test('and is refused, never put into wrong places, where no reader gives that base', () => {
    const { base, stands } = openDocumentModel(bytes, [], null)
    const records = [typed(base.model)]
    expect(() => openDocumentModel(bytes, records, { ...stands(), base: 'f'.repeat(64) })).toThrow(OtherModel)
    expect(() => openDocumentModel(bytes, records, { ...stands(), form: 9 })).toThrow(OtherModel)
    // From a Jaula that said nothing of it, it is taken as it is.
    expect(texts(openDocumentModel(bytes, records, null).replayed.model)).toEqual(['First.', 'Second.!'])
  })
})

test('undo and redo in a spreadsheet are had back from the journal, step by step', () => {
  const sheet = writeXlsx({ sheets: [{ name: 'Sheet1', rows: [[{ value: 0 }]], widths: {} }] }, () => undefined)
  const put = (value: number): unknown => ({
    ops: [{ op: 'cells', sheet: 0, cells: [{ row: 0, column: 0, cell: { value } }] }],
  })
  fc.assert(
    fc.property(fc.array(fc.constantFrom('edit', 'undo', 'redo'), { maxLength: 40 }), (acts) => {
      const records: JournalRecord[] = []
      const note = (edit: unknown, did?: 'undo' | 'redo') =>
        records.push({ seq: records.length + 1, at: 0, edit, ...(did && { did }) })
      const done = [0]
      let undone: number[] = []
      for (const [index, act] of acts.entries()) {
        if (act === 'edit') {
          done.push(index + 1)
          undone = []
          note(put(index + 1))
        } else if (act === 'undo' && done.length > 1) {
          undone.push(done.pop()!)
          note(put(done.at(-1)!), 'undo')
        } else if (act === 'redo' && undone.length) {
          done.push(undone.pop()!)
          note(put(done.at(-1)!), 'redo')
        }
      }
      const { undo, replayed } = openWorkbookModel(sheet, records, null)
      const value = (op: WorkbookOp) => (op.op === 'cells' ? op.cells[0]!.cell?.value : undefined)
      expect(replayed.model.sheets[0]!.rows[0]![0]!.value).toBe(done.at(-1))
      expect(undo.done.map(({ ops }) => value(ops[0]!))).toEqual(done.slice(1))
      expect(undo.done.map(({ inverse }) => value(inverse[0]!))).toEqual(done.slice(0, -1))
      expect(undo.undone.map(({ ops }) => value(ops[0]!))).toEqual(undone)
    }),
  )
})

test('the end of a journal that goes through the history holds every step that can be undone, and no half of one', () => {
  const anyRecords = fc
    .array(
      fc.tuple(
        fc.constantFrom(undefined, undefined, undefined, 'undo' as const, 'redo' as const, 'taken in' as const),
        fc.boolean(),
      ),
      { maxLength: 60 },
    )
    .map((all) => all.map(([did, begins], index): JournalRecord => ({ seq: index + 1, at: 0, edit: {}, did, begins })))
  /** Which records each step of undo holds, from a record on. */
  const stepsFrom = (records: readonly JournalRecord[]) => {
    const done: number[][] = []
    let undone: number[][] = []
    for (const { seq, did, begins } of records) {
      if (did === 'taken in') continue
      if (did) {
        const step = (did === 'undo' ? done : undone).pop()
        if (step) (did === 'undo' ? undone : done).push(step)
        continue
      }
      if (begins !== false || !done.length) done.push([seq])
      else done.at(-1)!.push(seq)
      undone = []
    }
    return { done, undone }
  }
  fc.assert(
    fc.property(anyRecords, fc.integer({ min: 1, max: 12 }), (records, depth) => {
      const from = undoFrom(records, depth)
      const [whole, tail] = [stepsFrom(records), stepsFrom(records.slice(from - 1))]
      expect(tail.done.slice(-depth)).toEqual(whole.done.slice(-depth))
      expect(tail.undone).toEqual(whole.undone)
    }),
    { numRuns: 1000 },
  )
})
