import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import type { JournalRecord } from '../contract'
import { chainOf, commonLength, contentText, forkId, genesis, linkDigest, recordOf, recordText } from './chain'
import { putTogether } from './gathering'
import { readChain, readEarlierForms, type StoredRecord, storedRecords, sumOf } from './journal'
import type { StoredDraft } from './protocol'

const draftId = '00000000-0000-4000-8000-000000000001'
const first = genesis(null)
/** Anything that JSON can say, and what a database's JSON could not keep: NUL, lone surrogates, odd keys. */
const anyText = fc.oneof(fc.string({ unit: 'binary' }), fc.constantFrom('\u0000', '\ud800', '1', '__proto__', 'é'))
const anyRecords = fc
  .array(fc.tuple(fc.integer({ min: 0, max: 2e12 }), fc.jsonValue(), anyText), { minLength: 1, maxLength: 40 })
  .map((all) =>
    all.map(
      ([at, json, text], index): JournalRecord => ({ seq: index + 1, at, edit: { steps: [json, { [text]: text }] } }),
    ),
  )
const chain = (records: readonly JournalRecord[]) => chainOf(records.map(recordText), { seq: 0, digest: first })
const head = (links: ReturnType<typeof chain>) => ({ seq: links.length, digest: links.at(-1)?.digest ?? first })

describe('a chain', () => {
  test('keeps every record exactly, whatever is in it, also on the way through JSON and UTF-8', () => {
    fc.assert(
      fc.property(anyRecords, (records) => {
        const texts = records.map(recordText)
        const sent = JSON.parse(JSON.stringify(texts)) as string[]
        const stored = new TextDecoder('utf-8', { fatal: true }).decode(new TextEncoder().encode(sent.join('\n')))
        expect(stored.split('\n')).toEqual(texts)
        expect(stored.split('\n').map((text) => JSON.stringify(recordOf(text)))).toEqual(texts)
      }),
    )
  })

  test('has the same digest at a number exactly when all records up to it are the same', () => {
    fc.assert(
      fc.property(anyRecords, anyRecords, fc.nat(40), (mine, others, n) => {
        const same = n % (mine.length + 1)
        const theirs = [
          ...mine.slice(0, same),
          ...others.map((record, index) => ({ ...record, seq: same + index + 1 })),
        ]
        const [a, b] = [chain(mine), chain(theirs)]
        let common = 0
        while (common < Math.min(a.length, b.length) && a[common]!.text === b[common]!.text) common++
        expect(commonLength(a, b)).toBe(common)
        if (common < a.length)
          expect(forkId(draftId, a[common]!.digest)).toMatch(
            /^[0-9a-f]{8}-[0-9a-f]{4}-8[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/,
          )
      }),
    )
    expect(genesis(null)).not.toBe(genesis(draftId))
    // FIPS 180-4: SHA-256 of 32 zero bytes and "abc", taken with another implementation.
    expect(linkDigest('0'.repeat(64), 'abc')).toBe('365aa7d8f7f9402c4b9434502b4cc89ddb09fe50d7cd95b493b834c62d5a5370')
    expect(genesis(null)).toBe('737305856b6bc214113b24f189d363f86f393e41be5898f5a2e4ed072f39ea3f')
  })

  test('of content is the same for whoever holds the same content, in whatever order its keys come', () => {
    const a = contentText({ seq: 1, at: 2, edit: { b: 1, a: [{ y: -0, x: 1e21 }], 10: 1, 9: 2 } })
    const b = contentText({ edit: { 9: 2, 10: 1, a: [{ x: 1e21, y: 0 }], b: 1 }, at: 2, seq: 1 } as JournalRecord)
    expect(a).toBe(b)
  })
})

describe('a journal on the device', () => {
  test('reads back whole, in whatever order its rows come, and whatever other chain stands among them', () => {
    fc.assert(
      fc.property(anyRecords, anyRecords, fc.nat(40), (records, others, n) => {
        const links = chain(records)
        const from = n % (links.length + 1)
        const before = links[from - 1]?.digest ?? first
        const strangers = chainOf(
          others.map((record, index) => recordText({ ...record, seq: from + index + 1 })),
          { seq: from, digest: before },
        )
        const rows = [...storedRecords(draftId, strangers, before), ...storedRecords(draftId, links, first)].reverse()
        expect(readChain(rows, null, head(links))).toEqual({ links, damage: null })
      }),
    )
  })

  test('with a record that was altered, cut off or lost: everything before it is there, and where it ends is told', () => {
    const harms: ((row: StoredRecord) => unknown)[] = [
      ({ text: _, ...row }) => row,
      ({ digest: _, ...row }) => row,
      (row) => ({ ...row, text: `${row.text} ` }),
      (row) => ({ ...row, before: first.replace(/./g, '0') }),
      (row) => ({ seq: row.seq, draftId }),
      (row) => ({ ...row, form: 4 }),
      () => undefined,
    ]
    fc.assert(
      fc.property(anyRecords, fc.nat(), fc.constantFrom(...harms), (records, n, harm) => {
        const at = n % records.length
        const links = chain(records)
        const rows = storedRecords(draftId, links, first)
          .map((row, index) => (index === at ? harm(row) : row))
          .filter((row) => row !== undefined)
        const read = readChain(rows, null, head(links))
        expect(read.links).toEqual(links.slice(0, at))
        expect(read.damage?.from).toBe(at + 1)
      }),
    )
  })

  test('of forms 1 and 2 is read as the chain of its content, as far as it is whole', () => {
    fc.assert(
      fc.property(anyRecords, fc.nat(40), fc.option(fc.nat()), (records, old, harm) => {
        const rows = records.map((record, index) => ({
          draftId,
          ...record,
          ...(index >= old && { form: 2, sum: sumOf(record) }),
        }))
        const at = harm === null ? records.length : harm % records.length
        const read = readEarlierForms(
          rows.filter((_, index) => index !== at),
          null,
          records.length,
        )
        expect(read.links).toEqual(chainOf(records.map(contentText), { seq: 0, digest: first }).slice(0, at))
        expect(read.damage).toEqual(harm === null ? null : { from: at + 1, reason: 'missing' })
      }),
    )
  })
})

describe('put together from the device and shared storage', () => {
  test('it is the longer of two that go on from each other, is told as parted otherwise, and never claims a version of another chain', () => {
    fc.assert(
      fc.property(anyRecords, fc.nat(), fc.nat(), fc.nat(), (records, a, b, c) => {
        const all = chain(records)
        const mine = all.slice(0, a % (all.length + 1))
        const same = all.slice(0, b % (all.length + 1))
        const other = chain([...records.slice(0, same.length), { seq: same.length + 1, at: 7, edit: 'another' }])
        for (const theirs of [same, other]) {
          const savedSeq = c % (theirs.length + 1)
          const savedHead = theirs[savedSeq - 1]?.digest ?? null
          const put = putTogether(
            {
              baseVersionId: null,
              generation: 'g',
              head: head(mine).digest,
              savedSeq: 0,
              savedHead: null,
              epoch: 2,
            } as StoredDraft,
            { links: mine, damage: null },
            {
              draft: { baseVersionId: null },
              lines: theirs.map(({ text }) => text),
              standing: { epoch: 5, savedSeq, savedHead, state: 'open' },
            } as Parameters<typeof putTogether>[2],
          )
          const common = commonLength(mine, theirs)
          expect(put.parted).toBe(common < Math.min(mine.length, theirs.length))
          expect(put.chain).toEqual(mine.length >= theirs.length ? mine : theirs)
          expect(put.epoch).toBe(5)
          if (put.savedSeq > 0) expect(put.chain[put.savedSeq - 1]!.digest).toBe(savedHead)
        }
      }),
    )
  })
})
