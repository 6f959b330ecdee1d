import fc from 'fast-check'
import { expect, test } from 'vitest'
import type { DraftState } from '../contract'
import { mayBecome, phaseOf } from './life'

test('phases follow from the signs: unsaved work is never taken for ended before its days are over', () => {
  const now = '2026-11-24T12:00:00.000Z'
  fc.assert(
    fc.property(
      fc.constantFrom<DraftState>('open', 'closed', 'let go', 'finished'),
      fc.nat(5),
      fc.nat(5),
      fc.boolean(),
      fc.constantFrom(null, '2026-11-20T00:00:00.000Z', '2026-12-20T00:00:00.000Z'),
      (state, journalSeq, savedSeq, live, keptUntil) => {
        const phase = phaseOf({ state, journalSeq, savedSeq, live, keptUntil }, now)
        const unsaved = journalSeq > savedSeq
        if (unsaved && state !== 'finished' && !(keptUntil && keptUntil < now)) expect(phase).not.toBe('ended')
        if (unsaved && state === 'open' && !live) expect(phase).toBe('interrupted')
        if (live && unsaved && state !== 'finished') expect(phase).toBe('working')
      },
    ),
  )
  expect(mayBecome.finished).toEqual(['finished'])
})
