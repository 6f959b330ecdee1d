// What a session makes of what its journal says, over any order of what may be said.
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import type { Saved, Version } from '../../core/contract'
import type { FromJournal } from '../../core/recovery/protocol'
import { say } from '../../core/words/said'
import { afterHearing, confirmed, type EditTime, type SessionState, stateAtFirst } from './session-state'

const draftId = 'd1'
const version = (number: number): Version =>
  ({ id: `v${number}`, number, at: '2026-10-14T09:00:00Z', author: { name: 'Priya Nandakumar' } }) as Version
const saved = (number: number): Saved =>
  ({ file: { id: 'f1', name: 'Dues.xlsx', shareId: 's1', folderId: null }, version: version(number) }) as Saved
const blank = (): SessionState =>
  stateAtFirst({
    draftId,
    kind: 'document',
    personId: 'p1',
    bornAt: '2026-10-14T08:00:00Z',
    file: null,
    head: null,
    base: null,
    continued: null,
  })
const edited = (edits: number): { state: SessionState; times: EditTime[] } => {
  const times = Array.from({ length: edits }, (_, index) => ({ seq: index + 1, at: 1000 * (index + 1) }))
  const state = blank()
  return {
    times,
    state: { ...state, reach: confirmed({ ...state.reach, edit: { seq: edits, at: 1000 * edits } }, times) },
  }
}
const hear = (state: SessionState, message: FromJournal, times: readonly EditTime[]): SessionState => {
  const heard = afterHearing(state, message, times)
  if (!heard) return state
  return 'progress' in heard ? { ...state, reach: heard.progress } : { ...state, ...heard.change }
}

describe('what waits is as old as the oldest edit that a level does not have', () => {
  test('on the device and on shared storage apart', () => {
    const { state, times } = edited(5)
    expect(state.reach.waiting).toEqual({ device: 1000, storage: 1000 })
    const there = hear(state, { say: 'journaled', draftId, seq: 3, at: 3000 }, times)
    expect(there.reach.waiting).toEqual({ device: 4000, storage: 1000 })
    const point = hear(there, { say: 'point', draftId, seq: 2, edits: 2, bytes: 90 }, times)
    expect(point.reach.waiting).toEqual({ device: 4000, storage: 3000 })
    expect(point.reach.point).toEqual({ seq: 2, at: 2000, refused: null })
    const all = hear(point, { say: 'saved', draftId, key: 'k', seq: 5, saved: saved(1) }, times)
    expect(all.reach.waiting).toEqual({ device: null, storage: null })
    expect(all.file).toEqual({ id: 'f1', name: 'Dues.xlsx', shareId: 's1', folderId: null })
    expect(all.reach.version).toMatchObject({ seq: 5, at: 5000, number: 1, author: 'Priya Nandakumar' })
  })
  test('the same server again is no news, and a point is shown at once only where points were refused', () => {
    const { state, times } = edited(3)
    expect(afterHearing(state, { say: 'server', state: state.reach.server }, times)).toBeNull()
    expect(afterHearing(state, { say: 'server', state: 'away' }, times)).toHaveProperty('change')
    const point: FromJournal = { say: 'point', draftId, seq: 2, edits: 2, bytes: 90 }
    expect(afterHearing(state, point, times)).toHaveProperty('progress')
    const refused = {
      ...state,
      reach: { ...state.reach, point: { ...state.reach.point, refused: say('reach.saving') } },
    }
    expect(afterHearing(refused, point, times)).toHaveProperty('change.reach.point.refused', null)
  })
  test('whatever is heard, in any order: a level is never said to wait for what it has, nor to have what it has not', () => {
    const message = (edits: number): fc.Arbitrary<FromJournal> =>
      fc.oneof(
        fc.integer({ min: 0, max: edits }).map((seq): FromJournal => ({ say: 'journaled', draftId, seq, at: seq })),
        fc
          .integer({ min: 0, max: edits })
          .map((seq): FromJournal => ({ say: 'point', draftId, seq, edits: 1, bytes: 1 })),
        fc
          .integer({ min: 0, max: edits })
          .map((seq): FromJournal => ({ say: 'saved', draftId, key: 'k', seq, saved: saved(seq) })),
        fc.constantFrom<FromJournal>(
          { say: 'server', state: 'away' },
          { say: 'server', state: 'there' },
          { say: 'refused', reason: say('common.folder') },
          { say: 'point refused', draftId, reason: say('common.folder') },
          { say: 'opened', draftId, elsewhere: false, stale: false },
          { say: 'journaled', draftId: 'another', seq: 99, at: 1 },
        ),
      )
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 8 }).chain((edits) => fc.tuple(fc.constant(edits), fc.array(message(edits)))),
        ([edits, messages]) => {
          const { times, state: first } = edited(edits)
          let state = first
          for (const one of messages) {
            const before = state
            state = hear(state, one, times)
            if ('draftId' in one && one.draftId !== draftId) expect(state).toBe(before)
            const { edit, journal, point, version: kept, waiting } = state.reach
            const shared = Math.max(point.seq, kept.seq)
            expect(edit).toEqual(first.reach.edit)
            expect(waiting.storage).toBe(shared >= edits ? null : 1000 * (shared + 1))
            const device = Math.max(journal.seq, shared)
            // Said anew with every step of a level, so it is never older than the last of them.
            expect(waiting.device).toBe(device >= edits ? null : 1000 * (device + 1))
          }
        },
      ),
    )
  })
})

describe('an answer to a save', () => {
  const asked = () => {
    const { state, times } = edited(2)
    return { times, state: { ...state, reach: { ...state.reach, waitingSave: { at: 1, kept: false, delayed: null } } } }
  }
  test('is kept, delayed, refused or there', () => {
    const { state, times } = asked()
    const problem = { status: 409, title: 'Taken', says: say('common.folder') } as never
    const kept = hear(state, { say: 'save kept', draftId, key: 'k' } as FromJournal, times)
    expect(kept.reach.waitingSave).toMatchObject({ kept: true, delayed: null })
    const late = hear(kept, { say: 'save delayed', draftId, key: 'k', problem } as FromJournal, times)
    expect(late.reach.waitingSave).toMatchObject({ kept: true, delayed: expect.stringMatching(/./) })
    const no = hear(late, { say: 'save refused', draftId, key: 'k', problem }, times)
    expect(no).toMatchObject({ refusal: problem, reach: { waitingSave: null, version: { seq: 0 } } })
    expect(hear(no, { say: 'saved', draftId, key: 'k2', seq: 2, saved: saved(3) }, times).refusal).toBeNull()
  })
  test('of a copy changes nothing of the work', () => {
    const { state, times } = asked()
    expect(afterHearing(state, { say: 'saved', draftId: null, key: 'k', seq: 0, saved: saved(9) }, times)).toBeNull()
  })
})

test('what went on elsewhere meanwhile is opened anew, and never written in as it is', () => {
  const shown = { ...blank(), elsewhere: true }
  expect(hear(shown, { say: 'opened', draftId, elsewhere: true, stale: false }, [])).toMatchObject({
    ready: true,
    elsewhere: true,
    missed: false,
  })
  expect(hear(shown, { say: 'opened', draftId, elsewhere: false, stale: false }, [])).toMatchObject({ missed: true })
  expect(hear(blank(), { say: 'opened', draftId, elsewhere: false, stale: true }, [])).toMatchObject({ missed: true })
  const fork = { id: 'd2', beyond: { edits: 1 } } as never
  const taken = hear(blank(), { say: 'superseded', draftId, by: 'The other laptop', fork } as FromJournal, [])
  // What only this page had is not forgotten when it is told a second time.
  const again = hear(taken, { say: 'superseded', draftId, by: 'The other laptop' } as FromJournal, [])
  expect(again.taken).toEqual({ by: 'The other laptop', fork })
})
