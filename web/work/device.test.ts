// The device's journal over a real IndexedDB (fake-indexeddb, which passes the web platform's tests): it does what the
// keeper's world takes a disk to do, so that what is proved there of the keeper holds here.
import 'fake-indexeddb/auto'
import fc from 'fast-check'
import { beforeEach, describe, expect, test } from 'vitest'
import { nothingBeyond } from '../../core/recovery/beyond'
import { type Digest, genesis, linkDigest } from '../../core/recovery/chain'
import type { StoredRecord } from '../../core/recovery/journal'
import { storedRecords } from '../../core/recovery/journal'
import { MemoryDisk } from '../../core/recovery/keeper.world'
import { Cleared, type DiskChange, Superseded } from '../../core/recovery/ports'
import type { StoredDraft, StoredSave } from '../../core/recovery/protocol'
import { bytesOf, device, deviceId, forgetDraft, readRecords, recordsAfter } from './device'

const draft = (id: string, part: Partial<StoredDraft> = {}): StoredDraft => ({
  id,
  personId: 'ida',
  kind: 'document',
  bornAt: new Date(0).toISOString(),
  baseVersionId: null,
  fileId: null,
  fileName: null,
  headVersionId: null,
  savedSeq: 0,
  savedHead: null,
  journalSeq: 0,
  head: genesis(null),
  pointSeq: 0,
  lastEditAt: null,
  opening: '',
  beyond: nothingBeyond,
  state: 'open',
  keptUntil: null,
  generation: 'first',
  epoch: 1,
  writerId: 'writer',
  claimed: true,
  model: null,
  resting: null,
  forkOf: null,
  endUntold: false,
  pointsOff: false,
  refused: null,
  ...part,
})
const save = (key: string, order = 0): StoredSave => ({
  key,
  draftId: null,
  personId: 'ida',
  order,
  seq: 0,
  head: null,
  epoch: 0,
  writerId: null,
  base: null,
  at: 0,
  reason: 'saved',
  bytes: new Uint8Array([1, 2, 3]),
  target: { fileId: null, name: null },
  tries: 0,
  refused: null,
})
/** A chain of so many records. */
const chain = (length: number) => {
  const links: { seq: number; text: string; digest: Digest }[] = []
  for (let seq = 1; seq <= length; seq++) {
    const text = JSON.stringify({ seq, at: seq, edit: { mark: `m${seq}` } })
    links.push({ seq, text, digest: linkDigest(links.at(-1)?.digest ?? genesis(null), text) })
  }
  return links
}

beforeEach(async () => {
  for (const { id } of await device.drafts()) await forgetDraft(id)
  await device.commit({ expect: [], endSaves: (await device.saves()).map(({ key }) => key) })
})

describe('one commit', () => {
  test('writes nothing for a page whose draft another one has, or whose row moved on, or is gone', async () => {
    const links = chain(3)
    const last = links[2]!
    await device.commit({
      expect: [['a', null]],
      drafts: [draft('a', { journalSeq: 3, head: last.digest })],
      records: storedRecords('a', links, genesis(null)),
    })
    const change = (expect: DiskChange['expect']) => device.commit({ expect, forget: ['a'] })
    await expect(change([['a', 'another']])).rejects.toThrow(Superseded)
    await expect(change([['a', null]])).rejects.toThrow(Superseded)
    await expect(change([['a', 'first', genesis(null)]])).rejects.toThrow(Superseded)
    await expect(change([['b', 'first']])).rejects.toThrow(Cleared)
    await expect(
      change([
        ['a', 'first', last.digest],
        ['b', 'first'],
      ]),
    ).rejects.toThrow(Cleared)
    expect((await readRecords((await device.draft('a'))!)).links.map(({ text }) => text)).toEqual(
      links.map(({ text }) => text),
    )
    expect((await recordsAfter('a', 2)).map(({ seq }) => seq)).toEqual([3])
    expect(await bytesOf('a')).toBeGreaterThan(0)
    await change([['a', 'first', last.digest]])
    expect(await device.rows('a')).toEqual([])
  })

  test('that cannot be written in one part is not written in any', async () => {
    await device.commit({ expect: [], drafts: [draft('a')] })
    const unkept = { ...draft('b'), id: undefined } as unknown as StoredDraft
    await expect(
      device.commit({
        expect: [],
        drafts: [draft('a', { opening: 'changed' }), unkept],
        forget: ['c'],
        saves: [save('s')],
      }),
    ).rejects.toThrow()
    expect((await device.draft('a'))!.opening).toBe('')
    expect(await device.saves()).toEqual([])
  })

  test('gives saves their order, whatever the clock says, and the device keeps its name', async () => {
    await device.commit({ expect: [], saves: [save('first'), save('second')] })
    await device.commit({ expect: [], saves: [save('third')], endSaves: ['first'] })
    expect((await device.saves()).map(({ key }) => key)).toEqual(['second', 'third'])
    expect(await deviceId()).toBe(await deviceId())
  })
})

const id = fc.constantFrom('a', 'b')
const generation = fc.constantFrom('first', 'second')
const anyChange: fc.Arbitrary<DiskChange> = fc
  .record({
    expect: fc.array(fc.tuple(id, fc.option(generation), fc.option(fc.nat(4))), { maxLength: 2 }),
    drafts: fc.uniqueArray(fc.tuple(id, generation, fc.nat(4)), { maxLength: 2, selector: ([one]) => one }),
    records: fc.array(fc.tuple(id, fc.nat({ max: 3 })), { maxLength: 3 }),
    forget: fc.array(id, { maxLength: 1 }),
    saves: fc.uniqueArray(fc.constantFrom('s', 't', 'u'), { maxLength: 2 }),
    endSaves: fc.array(fc.constantFrom('s', 't', 'u'), { maxLength: 1 }),
  })
  .map((made) => {
    const links = chain(4)
    const headAt = (seq: number) => links[seq - 1]?.digest ?? genesis(null)
    return {
      expect: made.expect.map(([one, of, head]): DiskChange['expect'][number] =>
        head === null || of === null ? [one, of] : [one, of, headAt(head)],
      ),
      drafts: made.drafts.map(([one, of, seq]) => draft(one, { generation: of, journalSeq: seq, head: headAt(seq) })),
      records: made.records.flatMap(([one, at]) => storedRecords(one, [links[at]!], headAt(at))),
      forget: made.forget,
      saves: made.saves.map((key) => save(key)),
      endSaves: made.endSaves.filter((key) => !made.saves.includes(key)),
    }
  })

test('whatever is committed, the device has what the keeper’s world takes it to have', async () => {
  await fc.assert(
    fc.asyncProperty(fc.array(anyChange, { maxLength: 12 }), async (changes) => {
      for (const { id: one } of await device.drafts()) await forgetDraft(one)
      for (const one of ['a', 'b']) await forgetDraft(one)
      await device.commit({ expect: [], endSaves: ['s', 't', 'u'] })
      const world = new MemoryDisk('device')
      for (const change of changes) {
        const outcome = (answer: Promise<void>) =>
          answer.then(
            () => 'done',
            (error: Error) => error.constructor.name,
          )
        expect(await outcome(device.commit(change))).toBe(await outcome(world.commit(change)))
      }
      const seen = async (disk: typeof device | MemoryDisk) => ({
        drafts: (await disk.drafts()).sort((a, b) => a.id.localeCompare(b.id)),
        rows: await Promise.all(
          ['a', 'b'].map(async (one) =>
            ((await disk.rows(one)) as StoredRecord[])
              .map(({ seq, digest, text }) => `${seq} ${digest} ${text}`)
              .sort(),
          ),
        ),
        saves: (await disk.saves()).map(({ key }) => key),
      })
      expect(await seen(device)).toEqual(await seen(world))
    }),
    { numRuns: 150 },
  )
})
