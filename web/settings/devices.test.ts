import { expect, test } from 'vitest'
import type { Draft } from '../../core/contract'
import { devicesOf } from './devices'

const draft = (deviceId: string, at: string, more: Partial<Draft> = {}): Draft =>
  ({
    deviceId,
    deviceName: `Computer ${deviceId}`,
    answeredAt: at,
    mine: true,
    state: 'open',
    journalSeq: 4,
    savedSeq: 0,
    pointSeq: 4,
    ...more,
  }) as Draft

test('devices are those with own work that is not saved, the one heard of last first, by its latest name', () => {
  const devices = devicesOf([
    draft('1', '2026-11-20T08:00:00Z', { deviceName: 'Old name', pointSeq: 2 }),
    draft('2', '2026-11-21T08:00:00Z', { state: 'closed' }),
    draft('1', '2026-11-22T08:00:00Z'),
    draft('3', '2026-11-23T08:00:00Z', { savedSeq: 4 }),
    draft('4', '2026-11-23T08:00:00Z', { mine: false }),
    draft('5', '2026-11-23T08:00:00Z', { state: 'finished' }),
  ])
  expect(devices).toEqual([
    { id: '1', name: 'Computer 1', works: 2, beyond: 1, heardAt: '2026-11-22T08:00:00Z' },
    { id: '2', name: 'Computer 2', works: 1, beyond: 0, heardAt: '2026-11-21T08:00:00Z' },
  ])
})
