import fc from 'fast-check'
import { expect, test } from 'vitest'
import type { HistoryVersion } from '../contract'
import { closest, momentsOf, parseMoment, placeIn, showing, stateAt, ticksOf, viewOfAll, zoomed } from './lifeline'

const minute = 60_000
const start = Date.UTC(2026, 9, 14, 9)
const version = (number: number, at: number, reason: HistoryVersion['reason'], label: string | null = null) =>
  ({
    id: `v${number}`,
    number,
    at: new Date(at).toISOString(),
    reason,
    label,
    author: { id: 'ida', name: 'Ida' },
  }) as HistoryVersion

test('runs of versions saved by themselves are folded under their last one, and can be unfolded', () => {
  const reasons = ['saved', 'by itself', 'by itself', 'by itself', 'saved', 'by itself', 'by itself'] as const
  const versions = reasons.map((reason, at) => version(at + 1, start + at * minute, reason)).reverse()
  const moments = momentsOf(
    versions,
    [{ toSeq: 9, at: new Date(start + 20 * minute).toISOString() }],
    start + 30 * minute,
  )
  expect(moments.map((one) => [one.id, one.kind === 'version' ? one.folded.length : 0])).toEqual([
    ['v1', 0],
    ['v4', 2],
    ['v5', 0],
    ['v7', 1],
    ['point 9', 0],
    ['now', 0],
  ])
  expect(momentsOf(versions, [], start, new Set(['v4'])).map(({ id }) => id)).toEqual([
    'v1',
    'v2',
    'v3',
    'v4',
    'v5',
    'v7',
    'now',
  ])
  // A labelled one is never hidden in a run.
  const labelled = versions.map((one) => (one.number === 2 ? { ...one, label: 'As sent' } : one))
  expect(momentsOf(labelled, [], start).map(({ id }) => id)).toContain('v2')
  expect(stateAt(moments, start + 4.5 * minute)?.id).toBe('v5')
  expect(stateAt(moments, start - minute)?.id).toBe('v1')
})

test('a view stays within all there is, zooms around its moment, and is ruled at round times', () => {
  fc.assert(
    fc.property(
      fc.array(fc.nat(3 * 365 * 24 * 60), { minLength: 1, maxLength: 30 }),
      fc.array(fc.tuple(fc.double({ min: 0.1, max: 8, noNaN: true }), fc.double({ min: 0, max: 1, noNaN: true })), {
        maxLength: 12,
      }),
      (minutes, acts) => {
        const versions = minutes
          .sort((a, b) => b - a)
          .map((at, index) => version(minutes.length - index, start + at * minute, 'saved'))
        const moments = momentsOf(versions, [], start + (minutes[0]! + 1) * minute)
        const all = viewOfAll(moments)
        for (const { at } of moments) expect(placeIn(all, at)).toBeGreaterThanOrEqual(0)
        let view = all
        for (const [factor, share] of acts) {
          const around = view.from + (view.to - view.from) * share
          view = zoomed(view, factor, around, all)
          expect(view.to - view.from).toBeGreaterThanOrEqual(closest - 1)
          expect(view.from).toBeGreaterThanOrEqual(all.from - 1)
          expect(view.to).toBeLessThanOrEqual(all.to + 1)
          const ticks = ticksOf(view, 12)
          expect(ticks.length).toBeLessThanOrEqual(15)
          for (const { at } of ticks) expect(new Date(at).getSeconds()).toBe(0)
          const shown = showing(view, moments[0]!.at, all)
          expect(placeIn(shown, moments[0]!.at)).toBeGreaterThanOrEqual(-1e-6)
          expect(placeIn(shown, moments[0]!.at)).toBeLessThanOrEqual(1 + 1e-6)
        }
      },
    ),
    { numRuns: 100 },
  )
})

test.each([
  ['last Tuesday 14:00', '2026-10-13 14:00'],
  ['tue', '2026-10-13 23:59'],
  ['Wednesday', '2026-10-07 23:59'],
  ['yesterday', '2026-10-13 23:59'],
  ['yesterday at 9:30', '2026-10-13 09:30'],
  ['today 8 am', '2026-10-14 08:00'],
  ['2 pm', '2026-10-13 14:00'],
  ['14 Oct 2025', '2025-10-14 23:59'],
  ['20 December', '2025-12-20 23:59'],
  ['2026-03-02 7:05', '2026-03-02 07:05'],
  ['3.2.2026', '2026-02-03 23:59'],
  ['3 days ago', '2026-10-11 12:00'],
  ['an hour ago', '2026-10-14 11:00'],
  ['last week', '2026-10-07 23:59'],
  ['letzten Dienstag 14:00', '2026-10-13 14:00'],
  ['Mittwoch', '2026-10-07 23:59'],
  ['gestern um 9:30 Uhr', '2026-10-13 09:30'],
  ['vor 3 Tagen', '2026-10-11 12:00'],
  ['vor einer Stunde', '2026-10-14 11:00'],
  ['vor 2 Monaten', '2026-08-14 12:00'],
  ['letzte Woche', '2026-10-07 23:59'],
  ['14. Okt. 2025', '2025-10-14 23:59'],
  ['3. März 2026, 7:05', '2026-03-03 07:05'],
  ['20. Dezember', '2025-12-20 23:59'],
  ['bald', null],
  ['soon', null],
  ['', null],
])('%s is understood', (typed, meant) => {
  const now = new Date(2026, 9, 14, 12)
  const found = parseMoment(typed, now)
  const pad = (number: number) => String(number).padStart(2, '0')
  const said =
    found &&
    `${found.getFullYear()}-${pad(found.getMonth() + 1)}-${pad(found.getDate())} ${pad(found.getHours())}:${pad(found.getMinutes())}`
  expect(said).toBe(meant)
})
