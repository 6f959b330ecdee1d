import fc from 'fast-check'
import { expect, test } from 'vitest'
import { differencesAt, differsIn, type EntryThenAndNow, type Standing } from './moment'

const share = 'share'
const standing = (more: Partial<Standing> = {}): Standing => ({
  shareId: share,
  folderId: null,
  name: 'Level.txt',
  removed: false,
  sha256: 'a',
  ...more,
})

test('what differs is told in words for each way', () => {
  const was = standing()
  const ways: [Standing, Standing | null, string[]][] = [
    [standing(), was, []],
    [standing({ removed: true }), was, ['removed']],
    [standing({ removed: true, sha256: 'b' }), was, ['removed', 'changed']],
    [standing({ folderId: 'f', name: 'Gauge.txt', sha256: 'b' }), was, ['moved', 'renamed', 'changed']],
    [standing({ shareId: 'other' }), was, ['moved']],
    [standing(), null, ['new']],
    [standing(), standing({ removed: true }), ['new']],
    [standing({ removed: true }), null, []],
  ]
  for (const [now, then, differs] of ways) expect(differsIn({ now, then })).toEqual(differs)
})

test('of a folder what lay in it then and what lies in it now is told, with the folders that it lay in', () => {
  const folder = (id: string, now: Partial<Standing>, then: Partial<Standing> | null): EntryThenAndNow => ({
    id,
    now: standing({ sha256: null, ...now }),
    then: then && standing({ sha256: null, ...then }),
  })
  const entries: EntryThenAndNow[] = [
    folder('tenders', { name: 'Tenders' }, { name: 'Offers' }),
    folder('2026', { name: '2026', folderId: 'tenders' }, { name: '2026', folderId: 'tenders' }),
    folder('other', { name: 'Other' }, { name: 'Other' }),
    { id: 'out', now: standing({ folderId: 'other' }), then: standing({ folderId: '2026' }) },
    {
      id: 'in',
      now: standing({ folderId: '2026', name: 'In.txt' }),
      then: standing({ folderId: 'other', name: 'In.txt' }),
    },
    { id: 'new', now: standing({ folderId: '2026', name: 'New.txt' }), then: null },
    { id: 'elsewhere', now: standing({ folderId: 'other', sha256: 'b' }), then: standing({ folderId: 'other' }) },
    { id: 'same', now: standing({ folderId: '2026' }), then: standing({ folderId: '2026' }) },
  ]
  expect(differencesAt(entries, { shareId: share, folderId: '2026' })).toEqual([
    { id: 'out', differs: ['moved'], folders: ['Offers', '2026'] },
    { id: 'in', differs: ['moved'], folders: ['Other'] },
    { id: 'new', differs: ['new'], folders: ['Tenders', '2026'] },
  ])
  expect(differencesAt(entries, { shareId: share, folderId: null }).map(({ id }) => id)).toEqual([
    'tenders',
    'out',
    'in',
    'elsewhere',
    'new',
  ])
})

test('of any two states everything that differs is told of the share, once, and nothing else', () => {
  const ids = ['a', 'b', 'c', 'd', 'e']
  const any = fc.record({
    shareId: fc.constant(share),
    folderId: fc.constantFrom(null, ...ids),
    name: fc.constantFrom('x', 'y'),
    removed: fc.boolean(),
    sha256: fc.constantFrom('1', '2'),
  })
  fc.assert(
    fc.property(fc.array(fc.tuple(any, fc.option(any)), { minLength: 5, maxLength: 5 }), (states) => {
      const entries = states.map(([now, then], index) => ({ id: ids[index]!, now, then }))
      const told = differencesAt(entries, { shareId: share, folderId: null })
      expect(told.map(({ id }) => id).sort()).toEqual(
        entries.filter((one) => differsIn(one).length).map(({ id }) => id),
      )
      for (const folderId of ids)
        for (const { id } of differencesAt(entries, { shareId: share, folderId }))
          expect(told.some((one) => one.id === id)).toBe(true)
    }),
  )
})
