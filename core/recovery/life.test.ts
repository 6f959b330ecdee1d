import fc from 'fast-check'
import { Transform } from 'prosemirror-transform'
import { describe, expect, test } from 'vitest'
import { blankDocument, documentSchema } from '../content/document'
import type { DraftState, JournalRecord } from '../contract'
import { joinJournals, readJournal, type StoredRecord, storedRecord } from './journal'
import { freshInPoint, mayBecome, phaseOf } from './life'
import { type ReachFacts, reachOf } from './reach'
import { replayDocument } from './replay'

/** One letter as the editor records it. */
function edit(text: string, seq: number, at: number): JournalRecord {
  const before = documentSchema.node('doc', null, [
    documentSchema.node('paragraph', null, text ? [documentSchema.text(text)] : []),
  ])
  const change = new Transform(before).insert(before.content.size - 1, documentSchema.text(letter(seq)))
  return { seq, at, edit: { steps: change.steps.map((step) => step.toJSON()) } }
}
const letter = (seq: number) => String.fromCharCode(97 + (seq % 26))
const textUpTo = (seq: number) => Array.from({ length: seq }, (_, index) => letter(index + 1)).join('')

/**
 * The world of one draft: a page, its worker, the device's disk, the server's. The disks change only
 * by whole commits; everything else is lost in a crash. It is driven by random events.
 */
class World {
  draftId = '00000000-0000-4000-8000-000000000001'
  // What survives.
  disk: StoredRecord[] = []
  points: JournalRecord[] = []
  version = 0
  savedOnServer = 0
  // What a page and its worker know; null when nobody has the draft open.
  page: {
    edits: number
    arrived: JournalRecord[]
    facts: ReachFacts
    /** Points and saves on their way: done by the server or not when they are looked at. */
  } | null = null
  online = true
  time = 1_000_000
  /** The furthest that each level ever confirmed to a page. */
  confirmed = { device: 0, storage: 0 }

  open(): void {
    // The lock: a second page does not get the draft while the first one lives.
    if (this.page) return
    const found = joinJournals(readJournal(this.disk), this.online ? this.points : [])
    const seq = found.records.length
    // Work that came from shared storage is committed here before it goes on.
    this.disk = found.records.map((record) => storedRecord(this.draftId, record))
    this.page = {
      edits: seq,
      arrived: [],
      facts: {
        edit: { seq, at: seq ? this.time : null },
        journal: { seq, at: seq ? this.time : null, refused: null },
        point: { seq: 0, at: null, refused: null },
        version: { seq: 0, at: null, savedAt: null, number: this.version || null, author: null },
        waiting: { device: null, storage: null },
        interval: 5,
        waitingSave: null,
        server: 'there',
      },
    }
  }
  type(): void {
    if (!this.page) return
    const { page } = this
    page.edits++
    page.arrived.push(edit(textUpTo(page.edits - 1), page.edits, this.time))
    page.facts = { ...page.facts, edit: { seq: page.edits, at: this.time } }
  }
  /** @param confirmed whether the page hears of it before what comes next */
  commit(confirmed: boolean): void {
    if (!this.page?.arrived.length) return
    this.disk.push(...this.page.arrived.map((record) => storedRecord(this.draftId, record)))
    this.page.arrived = []
    if (!confirmed) return
    const { seq } = this.disk.at(-1)!
    this.page.facts = { ...this.page.facts, journal: { seq, at: this.time, refused: null } }
    this.confirmed.device = Math.max(this.confirmed.device, seq)
  }
  point(confirmed: boolean): void {
    if (!this.page || !this.online) return
    const records = readJournal(this.disk, this.page.facts.point.seq).records
    const taken = freshInPoint(this.points.length, records)
    if ('missing' in taken) {
      // The server's word counts: the worker begins again from what it has.
      this.page.facts = { ...this.page.facts, point: { ...this.page.facts.point, seq: this.points.length } }
      return
    }
    this.points.push(...taken.fresh)
    if (!confirmed) return
    this.page.facts = { ...this.page.facts, point: { seq: this.points.length, at: this.time, refused: null } }
    this.confirmed.storage = Math.max(this.confirmed.storage, this.points.length)
  }
  save(confirmed: boolean): void {
    if (!this.page || !this.online) return
    const seq = this.page.edits
    this.version++
    this.savedOnServer = seq
    if (!confirmed) return
    this.page.facts = {
      ...this.page.facts,
      version: { seq, at: this.time, savedAt: this.time, number: this.version, author: 'Ida' },
    }
  }
  crash(): void {
    this.page = null
  }
  loseDevice(): void {
    this.page = null
    this.disk = []
    this.confirmed.device = 0
  }
  harm(at: number): void {
    // A damaged record: what was confirmed of the device holds only up to it.
    const row = this.disk[at % Math.max(1, this.disk.length)]
    if (!row || this.page) return
    this.disk = this.disk.map((one) => (one === row ? { ...one, at: one.at + 1 } : one))
    this.confirmed.device = Math.min(this.confirmed.device, row.seq - 1)
  }

  check(): void {
    const reachable = joinJournals(readJournal(this.disk), this.points)
    // Nothing that was confirmed is missing, on each level by itself.
    expect(readJournal(this.disk).records.length).toBeGreaterThanOrEqual(this.confirmed.device)
    expect(this.points.length).toBeGreaterThanOrEqual(this.confirmed.storage)
    // What comes back is the beginning of what was typed.
    const { model, seq, lostFrom } = replayDocument(blankDocument(), reachable.records)
    expect([model.textContent, seq, lostFrom]).toEqual([
      textUpTo(reachable.records.length),
      reachable.records.length,
      null,
    ])
    if (!this.page) return
    // Nothing is shown safer than it is.
    const { steps } = reachOf(this.page.facts, String, this.time)
    if (steps[1]!.state === 'all')
      expect(
        Math.max(readJournal(this.disk).records.length, this.points.length, this.savedOnServer),
      ).toBeGreaterThanOrEqual(this.page.edits)
    if (steps[2]!.state === 'all')
      expect(Math.max(this.points.length, this.savedOnServer)).toBeGreaterThanOrEqual(this.page.edits)
  }
}

type Event = [keyof typeof events, boolean, number]
const events = {
  type: (world: World) => world.type(),
  commit: (world: World, confirmed: boolean) => world.commit(confirmed),
  point: (world: World, confirmed: boolean) => world.point(confirmed),
  save: (world: World, confirmed: boolean) => world.save(confirmed),
  crash: (world: World) => world.crash(),
  open: (world: World) => world.open(),
  'second tab': (world: World) => world.open(),
  offline: (world: World) => void (world.online = false),
  online: (world: World) => void (world.online = true),
  'server restart': (world: World) => void (world.page && (world.page.facts = { ...world.page.facts, server: 'away' })),
  'server answers': (world: World) =>
    void (world.page && (world.page.facts = { ...world.page.facts, server: 'there' })),
  'clock jump': (world: World, forth: boolean, by: number) => void (world.time += (forth ? 1 : -1) * by * 1000),
  'lose the device': (world: World) => world.loseDevice(),
  harm: (world: World, _: boolean, at: number) => world.harm(at),
}
const usual = ['type', 'type', 'type', 'commit', 'commit', 'point', 'save', 'open'] as const

describe('the life of a draft', () => {
  test('whatever happens in whatever order: nothing acknowledged is missing, nothing is shown safer than it is', () => {
    const anyEvent: fc.Arbitrary<Event> = fc.tuple(
      fc.oneof(
        { weight: 3, arbitrary: fc.constantFrom(...usual) },
        fc.constantFrom(...(Object.keys(events) as (keyof typeof events)[])),
      ),
      fc.boolean(),
      fc.nat(100),
    )
    fc.assert(
      fc.property(fc.array(anyEvent, { maxLength: 60 }), (happened) => {
        const world = new World()
        world.open()
        for (const [name, flag, number] of happened) {
          world.time++
          events[name](world, flag, number)
          world.check()
        }
      }),
      { numRuns: 400 },
    )
  })

  test('a point that is sent again, late or with a gap changes nothing that is there', () => {
    fc.assert(
      fc.property(fc.nat(20), fc.nat(20), fc.nat(20), (there, from, length) => {
        const records = Array.from({ length }, (_, index) => ({ seq: from + index + 1, at: 0, edit: {} }))
        const taken = freshInPoint(there, records)
        if ('missing' in taken) expect(from).toBeGreaterThan(there)
        else
          expect(taken.fresh.map(({ seq }) => seq)).toEqual(records.map(({ seq }) => seq).filter((seq) => seq > there))
      }),
    )
  })

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
})
