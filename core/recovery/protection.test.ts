import fc from 'fast-check'
import { expect, test } from 'vitest'
import { type ProtectionLayer, standardInterval } from '../contract'
import { inEnglish } from '../words/in-english'
import { resolveProtection } from './protection'

const seconds = fc.option(fc.integer({ min: 5, max: 3600 }))
const anyLayers = fc.array(
  fc.record({
    level: fc.constantFrom('person', 'kind', 'share', 'folder', 'file'),
    name: fc.constantFrom('document', 'Finance', 'Budgets'),
    by: fc.constantFrom('me', 'managers'),
    interval: fc.option(fc.oneof(fc.integer({ min: 5, max: 3600 }), fc.constant(0))),
    continuous: fc.option(fc.boolean()),
    least: seconds,
    most: seconds,
  }) as fc.Arbitrary<ProtectionLayer>,
  { maxLength: 6 },
)

test('the most specific setting wins, the managers’ bounds hold, and the reason names what decided', () => {
  fc.assert(
    fc.property(anyLayers, (layers) => {
      const { interval, continuous, intervalWhy } = resolveProtection(layers)
      const asked = layers.findLast((layer) => layer.interval !== null)?.interval ?? standardInterval
      const wanted = asked || Number.POSITIVE_INFINITY
      const most = layers.findLast((layer) => layer.most !== null)?.most ?? Number.POSITIVE_INFINITY
      const least = layers.findLast((layer) => layer.least !== null)?.least ?? 0
      // Off only where no manager set a longest interval.
      if (interval === 0) expect([asked, most]).toEqual([0, Number.POSITIVE_INFINITY])
      expect(interval).toBeLessThanOrEqual(most)
      if (least <= most && interval) expect(interval).toBeGreaterThanOrEqual(least)
      if (wanted >= least && wanted <= most) expect(interval).toBe(asked)
      expect(inEnglish(intervalWhy).includes('allow')).toBe(interval !== asked)
      expect(continuous).toBe(layers.findLast((layer) => layer.continuous !== null)?.continuous ?? false)
    }),
  )
  const layer = (level: ProtectionLayer['level'], name: string, part: Partial<ProtectionLayer>): ProtectionLayer => ({
    level,
    name,
    by: 'me',
    interval: null,
    continuous: null,
    least: null,
    most: null,
    ...part,
  })
  expect(
    inEnglish(
      resolveProtection([
        layer('person', '', { interval: 30 }),
        layer('kind', 'spreadsheet', { interval: 600 }),
        layer('share', 'Finance', { by: 'managers', most: 60 }),
      ]).intervalWhy,
    ),
  ).toBe('you set it for spreadsheets as 10 minutes, but the managers of ‹Finance› allow at most 1 minute')
})
