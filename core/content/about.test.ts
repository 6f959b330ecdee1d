import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { compareDocuments } from '../compare/document'
import { sayDocumentChanges, sayWorkbookChanges } from '../compare/words'
import { compareWorkbooks, reversed } from '../compare/workbook'
import type { JournalRecord } from '../contract'
import { commonDocument, commonWorkbook } from '../merge/common'
import { mergeDocuments } from '../merge/document'
import { mergeWorkbooks } from '../merge/workbook'
import { replayWorkbook } from '../recovery/replay'
import { english } from '../words/testing'
import {
  type About,
  aboutFields,
  aboutOfDocument,
  documentAbout,
  keywordsIn,
  longestAbout,
  mergeAbout,
  sameAbout,
  tidyAbout,
  workbookAbout,
} from './about'
import { anyAbout } from './about.arbitrary'
import { blankDocument } from './document'
import { blankWorkbook, type Workbook } from './workbook'
import { applyOp, applyOps, invertOp } from './workbook-ops'

const doc = (about: About | null) => documentAbout(blankDocument(), about)
const book = (about: About | null): Workbook => workbookAbout<Workbook>(blankWorkbook(), about)

test('is one line a field, without what no file can hold, and the same when it is put in order once more', () => {
  expect(tidyAbout({ title: ' A\u0000 b\n', author: '', keywords: 'locks; weirs,, locks ,', subject: 7 })).toEqual({
    title: 'A b',
    keywords: 'locks, weirs',
  })
  expect(tidyAbout({ title: ' ' })).toBeNull()
  // The last letter would be half of one.
  expect(tidyAbout({ title: `${'a'.repeat(longestAbout - 1)}🛶` })?.title).toBe('a'.repeat(longestAbout - 1))
  fc.assert(
    fc.property(anyAbout, (about) => {
      expect(tidyAbout(about)).toEqual(about)
      for (const field of aboutFields) expect(about?.[field]?.length ?? 1).toBeLessThanOrEqual(longestAbout)
    }),
  )
})

describe('what two people made of it', () => {
  test('is what one made of it where the other left it, in documents and in workbooks', () => {
    fc.assert(
      fc.property(anyAbout, anyAbout, (base, now) => {
        expect(mergeAbout(base, now, base)).toEqual(now)
        expect(mergeAbout(base, base, now)).toEqual(now)
        expect(mergeAbout(base, now, now)).toEqual(now)
        expect(aboutOfDocument(mergeDocuments(doc(base), doc(base), doc(now)).doc)).toEqual(now)
        expect(mergeWorkbooks(book(base), book(now), book(base)).workbook.about ?? null).toEqual(now)
      }),
    )
  })
  test('loses nothing that either wrote, as far as a field holds it', () => {
    const short = anyAbout.filter((about) => aboutFields.every((field) => (about?.[field]?.length ?? 0) < 100))
    fc.assert(
      fc.property(short, short, short, (base, mine, theirs) => {
        const merged = mergeAbout(base, mine, theirs)
        for (const [own, other] of [
          [mine, theirs],
          [theirs, mine],
        ] as const)
          for (const field of aboutFields) {
            const said = own?.[field]
            if (said === undefined || said === base?.[field]) continue
            if (field !== 'keywords') expect(merged?.[field]).toContain(said)
            else
              for (const one of keywordsIn(said))
                if (!keywordsIn(base?.keywords).includes(one) || keywordsIn(other?.keywords).includes(one))
                  expect(keywordsIn(merged?.keywords)).toContain(one)
          }
      }),
    )
    expect(
      mergeAbout({ keywords: 'a, b' }, { keywords: 'a, b, c', title: 'One' }, { keywords: 'b, d', title: 'Two' }),
    ).toEqual({ keywords: 'b, c, d', title: 'One / Two' })
  })
  test('stays where neither came of the other', () => {
    fc.assert(
      fc.property(anyAbout, anyAbout, (mine, theirs) => {
        const base = commonDocument(doc(mine), doc(theirs))
        const merged = aboutOfDocument(mergeDocuments(base, doc(mine), doc(theirs)).doc)
        expect(
          mergeWorkbooks(commonWorkbook(book(mine), book(theirs)), book(mine), book(theirs)).workbook.about,
        ).toEqual(merged ?? undefined)
        for (const field of aboutFields)
          if (theirs?.[field] && !mine?.[field]) expect(merged?.[field]).toBe(theirs[field])
      }),
    )
  })
})

test('a change of it is an edit of a workbook like any other, taken back to what it was', () => {
  fc.assert(
    fc.property(anyAbout, anyAbout, (before, now) => {
      const op = { op: 'about' as const, about: now }
      expect(applyOp(book(before), op)).toEqual(book(now))
      expect(applyOps(applyOp(book(before), op), invertOp(book(before), op))).toEqual(book(before))
      const changes = compareWorkbooks(book(before), book(now))
      expect(applyOps(book(before), changes.ops)).toEqual(book(now))
      expect(reversed(changes).about).toEqual(changes.about)
      expect(changes.about.length === 0).toBe(sameAbout(before, now))
    }),
  )
})

test('what is typed in one go is one step of undo, also after a crash', () => {
  fc.assert(
    fc.property(fc.array(fc.tuple(anyAbout, fc.boolean()), { minLength: 1, maxLength: 12 }), (typed) => {
      const start = book({ title: 'Levels' })
      const cells = { op: 'cells' as const, sheet: 0, cells: [{ row: 0, column: 0, cell: { value: 1 } }] }
      const edits = [
        { edit: { ops: [cells] } },
        ...typed.map(([about, begins], at) => ({
          edit: { ops: [{ op: 'about' as const, about }] },
          begins: begins || at === 0,
        })),
      ]
      const records = edits.map((one, at): JournalRecord => ({ seq: at + 1, at: 0, ...one }))
      const { model, undo } = replayWorkbook(start, records)
      expect(model.about ?? null).toEqual(typed.at(-1)![0])
      expect(undo.done).toHaveLength(1 + records.slice(1).filter(({ begins }) => begins).length)
      // Each step leads to what was said before it was begun.
      let now = model
      for (let at = records.length - 1; at > 0; at--) {
        if (!records[at]!.begins) continue
        now = applyOps(now, undo.done.pop()!.inverse)
        expect(now.about ?? null).toEqual(at > 1 ? typed[at - 2]![0] : { title: 'Levels' })
      }
      expect(applyOps(now, undo.done.pop()!.inverse)).toEqual(start)
    }),
  )
})

test('what differs is told, field by field', () => {
  const [was, is] = [
    { title: 'Levels', author: 'Ida' },
    { title: 'Water levels', author: 'Ida', keywords: 'locks' },
  ]
  const changes = compareDocuments(doc(was), doc(is))
  expect(changes.places.map(({ kind, before, now }) => [kind, before, now])).toEqual([
    ['title', 'Levels', 'Water levels'],
    ['keywords', '', 'locks'],
  ])
  expect(english(sayDocumentChanges(changes))).toBe('title of the file changed; keywords of the file changed.')
  expect(english(sayWorkbookChanges(compareWorkbooks(book(was), book(is))))).toBe(
    'title of the file changed; keywords of the file changed.',
  )
})
