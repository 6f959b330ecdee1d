import fc from 'fast-check'
import type { Node } from 'prosemirror-model'
import { Transform } from 'prosemirror-transform'
import { describe, expect, test } from 'vitest'
import { blankDocument, documentSchema } from '../content/document'
import { blankWorkbook } from '../content/workbook'
import { anyHistory } from '../content/workbook.arbitrary'
import type { JournalRecord } from '../contract'
import { countEdit, nothingBeyond } from './beyond'
import { replayDocument, replayWorkbook } from './replay'

/** A document's journal: random typing, splitting and removing, with the document after each record. */
const anyJournal = fc
  .array(
    fc.tuple(
      fc.nat(1000),
      fc.nat(1000),
      fc.constantFrom('type', 'split', 'remove'),
      fc.string({ minLength: 1, maxLength: 5 }),
    ),
    { maxLength: 30 },
  )
  .map((edits) => {
    const states: Node[] = [blankDocument()]
    const records: JournalRecord[] = []
    for (const [a, b, kind, text] of edits) {
      const doc = states.at(-1)!
      const change = new Transform(doc)
      const inside = (n: number) => {
        const $pos = doc.resolve(1 + (n % Math.max(1, doc.content.size - 1)))
        return $pos.parent.isTextblock ? $pos.pos : $pos.pos - 1
      }
      const [from, to] = [inside(a), inside(b)].sort((x, y) => x - y) as [number, number]
      if (kind === 'type') change.insert(from, documentSchema.text(text))
      else if (kind === 'split') change.split(from)
      else change.delete(from, to)
      records.push({
        seq: records.length + 1,
        at: records.length,
        edit: JSON.parse(JSON.stringify({ steps: change.steps.map((step) => step.toJSON()) })),
      })
      states.push(change.doc)
    }
    return { states, records }
  })

describe('replay', () => {
  test('rebuilds the document after every record, also when records come twice', () => {
    fc.assert(
      fc.property(anyJournal, fc.nat(), ({ states, records }, n) => {
        const until = n % (records.length + 1)
        const { model, seq, lostFrom } = replayDocument(blankDocument(), [
          ...records.slice(0, until),
          ...records.slice(0, until),
        ])
        expect(model.toJSON()).toEqual(states[until]!.toJSON())
        expect([seq, lostFrom]).toEqual([until, null])
      }),
    )
  })
  test('stops at a lost or damaged record, keeps all before it and tells where', () => {
    fc.assert(
      fc.property(anyJournal, fc.nat(), fc.boolean(), ({ states, records }, n, damaged) => {
        fc.pre(records.length > 1)
        const lost = n % (records.length - 1)
        const broken = damaged
          ? records.with(lost, {
              ...records[lost]!,
              edit: { steps: [{ stepType: 'replace', from: 99_999, to: 99_999 }] },
            })
          : records.toSpliced(lost, 1)
        const { model, seq, lostFrom } = replayDocument(blankDocument(), broken)
        expect(model.toJSON()).toEqual(states[lost]!.toJSON())
        expect([seq, lostFrom]).toEqual([lost, lost + 1])
      }),
    )
  })
  test('rebuilds a workbook, with the entry that was still being typed', () => {
    fc.assert(
      fc.property(anyHistory(8), ({ start, ops, end }) => {
        const records = ops.map((op, i) => ({ seq: i + 1, at: i, edit: JSON.parse(JSON.stringify({ ops: [op] })) }))
        expect(JSON.stringify(replayWorkbook(start, records).model)).toBe(JSON.stringify(end))
      }),
    )
    const typing = (seq: number, entry: string) => ({
      seq,
      at: seq,
      edit: { ops: [], typing: { sheet: 0, row: 0, column: 1, entry } },
    })
    expect(replayWorkbook(blankWorkbook(), [typing(1, '4'), typing(2, '42')]).model.sheets[0]!.rows).toEqual([
      [undefined, { value: 42 }],
    ])
    expect(
      replayWorkbook(blankWorkbook(), [typing(1, '4'), { seq: 2, at: 2, edit: { ops: [] } }]).model.sheets[0]!.rows,
    ).toEqual([])
  })
  test('counts what was written and removed', () => {
    const typed = new Transform(blankDocument()).insert(1, documentSchema.text('Gate'))
    const cut = new Transform(typed.doc).delete(2, 4)
    const beyond = [typed, cut].reduce(
      (count, change) => countEdit(count, { steps: change.steps.map((step) => step.toJSON()) }),
      nothingBeyond,
    )
    expect(beyond).toEqual({ edits: 2, charactersAdded: 4, charactersRemoved: 2, cells: 0 })
  })
})
