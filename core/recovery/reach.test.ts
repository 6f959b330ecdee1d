import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { inEnglish } from '../words/in-english'
import { claimsTooMuch, type ReachFacts, reachOf } from './reach'

const clock = (at: number) => `t${at}`
/** Facts as they can come about: nothing is confirmed that was not edited. Edit n happened at time n. */
const anyFacts: fc.Arbitrary<ReachFacts> = fc
  .record({
    edits: fc.nat(20),
    journal: fc.nat(20),
    point: fc.nat(20),
    version: fc.nat(20),
    number: fc.option(fc.integer({ min: 1, max: 9 })),
    refused: fc.boolean(),
    waiting: fc.option(fc.boolean()),
    server: fc.constantFrom('there' as const, 'away' as const, 'signed out' as const),
    pointRefused: fc.boolean(),
    interval: fc.integer({ min: 5, max: 60 }),
    copied: fc.option(fc.record({ number: fc.nat(9), well: fc.boolean() })),
  })
  .map(({ edits, journal, point, version, number, refused, waiting, server, pointRefused, interval, copied }) => {
    const at = (seq: number) => (seq === 0 ? null : seq)
    const [j, p, v] = [Math.min(journal, edits), Math.min(point, edits), number === null ? 0 : Math.min(version, edits)]
    return {
      edit: { seq: edits, at: at(edits) },
      journal: { seq: j, at: at(j), refused: refused ? 'This device is full.' : null },
      point: { seq: p, at: at(p), refused: pointRefused ? 'The server refuses.' : null },
      waiting: { device: j < edits ? j + 1 : null, storage: Math.max(p, v) < edits ? Math.max(p, v) + 1 : null },
      interval,
      version: {
        seq: v,
        at: at(v),
        savedAt: number === null ? null : edits + 100,
        number,
        author: number === null ? null : 'Ida',
      },
      waitingSave: waiting === null ? null : { at: edits, kept: waiting },
      server,
      copied,
    }
  })

describe('the reach', () => {
  test('never claims more than was confirmed', () => {
    fc.assert(
      fc.property(anyFacts, fc.nat(100_000), (facts, now) => {
        const { steps, ...reach } = reachOf(facts, clock, now)
        const sentence = inEnglish(reach.sentence)
        const [tab, device, shared, copies] = steps.map((step) => step.state)
        const { seq } = facts.edit
        expect(tab).toBe('all')
        // A copy holds versions: it has all only when the newest one has all, and is in it, and nothing is wrong with it.
        expect(copies === 'none').toBe(!facts.copied || (facts.copied.well && facts.copied.number === 0))
        if (copies === 'all')
          expect([facts.copied!.well, facts.copied!.number >= facts.version.number!, facts.version.seq]).toEqual([
            true,
            true,
            seq,
          ])
        if (facts.copied && !facts.copied.well) expect(copies).toBe('stopped')
        const onShared = Math.max(facts.point.seq, facts.version.seq)
        if (shared === 'all') expect(onShared).toBe(seq)
        if (device === 'all') expect(Math.max(facts.journal.seq, onShared)).toBe(seq)
        // A time that is named is the time of an edit that is there, whatever the clock said at the commit.
        for (const [step, held] of [
          [steps[1]!, Math.max(facts.journal.seq, onShared)],
          [steps[2]!, onShared],
        ] as const)
          expect(step.until ?? 0).toBeLessThanOrEqual(held)
        const named = /up to t(\d+) (?:is )?on the server/.exec(sentence)
        if (named) expect(Number(named[1])).toBeLessThanOrEqual(onShared)
        if (/^Saved as/.test(sentence)) expect(facts.version.seq).toBe(seq)
        if (/Everything (up to \S+ )?is on the server/.test(sentence)) expect(onShared).toBe(seq)
        if (/Everything (up to \S+ )?is on this computer/.test(sentence)) expect(facts.journal.seq).toBe(seq)
        if (/is completed as soon as it can be/.test(sentence)) expect(facts.waitingSave?.kept).toBe(true)
      }),
      { numRuns: 2000 },
    )
  })
  test('takes back at once what it said of shared storage when something was typed since', () => {
    fc.assert(
      fc.property(anyFacts, fc.integer({ min: 1, max: 3 }), (facts, more) => {
        const edit = { seq: facts.edit.seq + more, at: facts.edit.seq + more }
        const sentence = inEnglish(reachOf(facts, clock, facts.edit.seq).sentence)
        const claims = /[Ee]verything (up to \S+ )?is on the server/.test(sentence) || /^This is version/.test(sentence)
        if (claims) expect(claimsTooMuch(facts, { ...facts, edit })).toBe(true)
        // Further typing changes no such sentence any more.
        expect(claimsTooMuch({ ...facts, edit }, { ...facts, edit: { seq: edit.seq + 1, at: edit.seq + 1 } })).toBe(
          false,
        )
      }),
    )
  })
  test('raises an alarm whenever work is less safe than it should be, and never without a reason', () => {
    fc.assert(
      fc.property(anyFacts, fc.nat(100_000), (facts, now) => {
        const { alarm, steps } = reachOf(facts, clock, now)
        const onShared = Math.max(facts.point.seq, facts.version.seq)
        const behind = onShared < facts.edit.seq
        const late = behind && now - (onShared + 1) > facts.interval * 1000 + 15_000
        const journalLate = facts.journal.seq < facts.edit.seq && now - (facts.journal.seq + 1) > 5000
        expect(alarm).toBe(
          facts.journal.refused !== null ||
            journalLate ||
            (behind && (facts.server !== 'there' || late || facts.point.refused !== null)),
        )
        // No level is shown as working that has not confirmed within its interval.
        if (late) expect(steps[2]!.state).toBe('stopped')
        if (journalLate && facts.journal.seq >= onShared) expect(steps[1]!.state).toBe('stopped')
      }),
    )
  })
})
