// One draft that this device writes. Its records come from a page (or from what an earlier page left on the
// disk), are committed to the device, go to shared storage in points, and stop being written here the moment
// another writer has the draft: then what this one had beyond the common records becomes a draft of its own.
//
// Three marks move forward by confirmations alone: `row.journalSeq` by the disk's commit, `row.pointSeq` by
// the server's commit of the same digests, `row.savedSeq` by a version's. Records stay in memory (`tail`)
// until both the disk and shared storage have confirmed them, so that points go on when the disk fails.
// Everything that changes the row waits its turn; what is sent over the network does not hold the turn.

import { type Heartbeat, type JournalRecord, type PointTaken, type Standing, standardInterval } from '../contract'
import { SaidError, say } from '../words/said'
import { beyondOf, countEdit, nothingBeyond } from './beyond'
import { chainOf, commonLength, type Digest, genesis, type Link, linkDigest, recordOf, recordText } from './chain'
import { readChain, storedRecords } from './journal'
import { partOnDevice } from './parting'
import { Cleared, type DiskChange, Fault, type Ports, Superseded } from './ports'
import type { FromJournal, StoredDraft, StoredSave } from './protocol'

/** Edits wait this long for others to share their commit; milliseconds. */
const gatherFor = 25
/** A journal that refused is asked again after this long; milliseconds. */
const refusedFor = 1000
/** Records that go in one request, as far as they are several; bytes of text. */
export const pieceBytes = 200_000
const heartbeatEvery = 5_000

export const clearedJournal = say('recovery.this-browser-had-cleared-the-unsaved-work')

export interface Me {
  personId: string
  deviceId: string
  deviceName: string
}

/** What a draft tells whoever keeps it. */
export interface Keeping {
  /** Everything that waits is this many times as quick; 1 but in measurements. */
  pace: number
  me(): Me
  /** For how long the page has not answered; milliseconds. */
  pageSilentMs(): number
  reached(state: 'there' | 'away' | 'signed out'): void
  /** @returns whether the failure only means to try again later */
  failed(error: unknown): boolean
  tellClock(asked: number, serverAt: string): void
  /** Whether the page has this draft open by this very holder, and not by a later one of the same draft. */
  hasPage(draft: HeldDraft): boolean
}

export class HeldDraft {
  /** What could not be written or sent as it was is in another draft by now. */
  heir: HeldDraft | null = null
  sealed = false
  sending: Promise<void> | null = null
  /** By the clock that never jumps. */
  pointAt: number
  beatAt = Number.NEGATIVE_INFINITY
  release: () => void = () => {}
  /** Seconds between points; with none, `row.pointsOff`. */
  interval = standardInterval

  /** Records that the disk or shared storage has not confirmed, and the one before them. */
  private tail: Link[]
  private before: { seq: number; digest: Digest }
  /** The row stands on the disk. */
  private kept: boolean
  private base: Uint8Array | null
  /** Counts what changed of the row; the disk has it up to `written`. */
  private changes = 0
  private written = 0
  private turn: Promise<unknown> = Promise.resolve()
  private committing: Promise<void> | null = null
  /** Somebody else writes it, as shared storage said; what this device has beyond is not parted yet. */
  private contested: Standing | null = null
  /** Somebody asked for a point. */
  private wanted = false
  /** Another page of this browser writes it; what this one has beyond is not parted yet. */
  private displaced = false
  private told = false
  private toldOfLoss = false
  private refusing = false

  /**
   * @param links all records of the draft, in order
   * @param live a page has it open
   */
  constructor(
    private readonly ports: Ports,
    private readonly keeping: Keeping,
    public row: StoredDraft,
    links: readonly Link[],
    base: Uint8Array | null,
    kept: boolean,
    readonly live: boolean,
  ) {
    const from = Math.min(row.pointSeq, row.journalSeq)
    this.tail = links.slice(from)
    this.before = { seq: from, digest: links[from - 1]?.digest ?? genesis(row.baseVersionId) }
    this.base = base
    this.kept = kept
    this.pointAt = ports.clock.steady()
  }

  get id(): string {
    return this.row.id
  }
  /** The last record, wherever it has got. */
  get end(): { seq: number; digest: Digest } {
    return this.tail.at(-1) ?? this.before
  }
  /** The digest at a number, as far as it is in memory. */
  private digestAt(seq: number): Digest | null {
    if (seq === this.before.seq) return this.before.digest
    return this.tail[seq - this.before.seq - 1]?.digest ?? null
  }

  /** One after the other; what fails does not keep the next from its turn. */
  inTurn<T>(work: () => Promise<T>): Promise<T> {
    const result = this.turn.then(work)
    this.turn = result.catch(() => {})
    return result
  }

  /**
   * Tells the page how its draft is doing. One that no page has, such as one that is being settled while the page goes on
   * with it anew, has nothing to say of it: that it is overtaken, and how far it got, is true of itself alone.
   */
  private tell(message: FromJournal): void {
    if (this.keeping.hasPage(this)) this.ports.say(message)
  }

  // -- From the page -------------------------------------------------------------------------

  append(record: JournalRecord, opening: string, resting: number[] | null): void {
    if (this.sealed) return this.pass(record, opening, resting)
    const { seq, digest } = this.end
    const text = recordText({ ...record, seq: seq + 1 })
    this.tail.push({ seq: seq + 1, text, digest: linkDigest(digest, text) })
    this.change({
      lastEditAt: new Date(record.at).toISOString(),
      opening,
      beyond: countEdit(this.row.beyond, record.edit),
      ...(resting && { resting: { seq: seq + 1, at: resting } }),
    })
  }

  /** What still arrives when somebody else writes the draft goes to the draft that was parted from it. */
  private pass(record: JournalRecord, opening: string, resting: number[] | null): void {
    void this.inTurn(async () => {
      if (this.heir) return this.heir.append(record, opening, resting)
      const chain = this.parted?.mine ?? []
      const { seq, digest } = chain.at(-1) ?? { seq: 0, digest: genesis(this.row.baseVersionId) }
      const text = recordText({ ...record, seq: seq + 1 })
      chain.push({ seq: seq + 1, text, digest: linkDigest(digest, text) })
      this.row = { ...this.row, opening, lastEditAt: new Date(record.at).toISOString() }
      await this.part(chain, this.parted?.common ?? 0, false, this.parted?.by ?? null)
    }).catch(() => {})
  }
  private parted: { mine: Link[]; common: number; by: string | null } | null = null

  /** Changes what the draft says of itself; it is committed with the next records, or soon. */
  change(part: Partial<StoredDraft>): void {
    this.row = { ...this.row, ...part }
    this.changes++
    this.commitSoon()
  }

  /**
   * Goes on after another version.
   * @param same that version holds the work up to this record, so that it is saved as if it had been saved here
   */
  adopt(part: Pick<StoredDraft, 'fileId' | 'fileName' | 'headVersionId'>, same: number | null): void {
    const digest = same !== null && same >= this.row.savedSeq ? this.digestAt(same) : null
    if (same === null || digest === null) return this.change(part)
    this.change({
      ...part,
      savedSeq: same,
      savedHead: digest,
      ...(same >= this.end.seq && { beyond: nothingBeyond }),
    })
    // Whoever goes on elsewhere goes on from points: they are not to be behind the version.
    this.pointAt = Number.NEGATIVE_INFINITY
  }

  // -- The device's journal ---------------------------------------------------------------------

  commitSoon(): void {
    if (this.committing || this.sealed) return
    this.committing = this.ports.clock
      .sleep(gatherFor)
      .then(() => this.inTurn(() => this.write()))
      .catch((error) => this.writeFailed(error))
      // What could not be parted now is with the next turn.
      .catch(() => {})
      .finally(() => {
        this.committing = null
        if (this.unwritten && !this.sealed) this.commitSoon()
      })
  }

  /** The row as this writer left it on the disk: who moved it on since, under whatever generation, is not written over. */
  private get own(): DiskChange['expect'][number] {
    return this.kept ? [this.row.id, this.row.generation, this.row.head] : [this.row.id, null]
  }

  private get unwritten(): boolean {
    return this.end.seq > this.row.journalSeq || (this.kept && this.changes > this.written)
  }

  /** Commits everything that has arrived. @throws Superseded, Cleared, or what the disk says */
  private async write(): Promise<void> {
    if (this.sealed || !this.unwritten) return
    const { row, changes } = this
    const fresh = this.tail.filter(({ seq }) => seq > row.journalSeq)
    const last = fresh.at(-1)
    const next = last ? { ...row, journalSeq: last.seq, head: last.digest } : row
    await this.ports.disk.commit({
      expect: [this.own],
      drafts: [next],
      ...(fresh.length && { records: storedRecords(row.id, fresh, row.head) }),
      ...(this.base && { bases: [{ draftId: row.id, bytes: this.base }] }),
    })
    this.row = { ...this.row, journalSeq: next.journalSeq, head: next.head }
    this.written = changes
    this.kept = true
    this.base = null
    this.refusing = false
    this.trim()
    if (!last) return
    this.ports.tell({ draftId: row.id, records: fresh.map(({ text }) => recordOf(text)) })
    this.tell({ say: 'journaled', draftId: row.id, seq: last.seq, at: recordOf(last.text).at })
  }

  private async writeFailed(error: unknown): Promise<void> {
    if (error instanceof Superseded) return this.superseded(null)
    if (error instanceof Cleared) {
      if (!this.toldOfLoss) this.ports.say({ say: 'refused', reason: clearedJournal })
      this.toldOfLoss = true
      await this.inTurn(() => this.rebuild()).catch(() => {})
      if (!this.unwritten) return
    } else this.refuse(error)
    await this.ports.clock.sleep(refusedFor)
  }

  private refuse(error: unknown): void {
    this.refusing = true
    const full = (error as { name?: string } | null)?.name === 'QuotaExceededError'
    this.ports.say({
      say: 'refused',
      reason: full
        ? say('recovery.this-computer-has-no-room-left-for')
        : say('recovery.this-computer-refuses-to-keep-unsaved-work'),
    })
    // Shared storage gets at once what the device does not keep.
    this.pointAt = Number.NEGATIVE_INFINITY
  }

  /** The browser cleared the journal: what was in it is had back from shared storage and put there anew. */
  private async rebuild(): Promise<void> {
    this.pointAt = Number.NEGATIVE_INFINITY
    const links = await this.wholeChain()
    const last = links.at(-1)
    const row = { ...this.row, journalSeq: last?.seq ?? 0, head: last?.digest ?? genesis(this.row.baseVersionId) }
    await this.ports.disk.commit({
      expect: [[row.id, null]],
      drafts: [row],
      records: storedRecords(row.id, links, genesis(row.baseVersionId)),
    })
    this.row = { ...this.row, journalSeq: row.journalSeq, head: row.head }
    this.trim()
    if (last) this.tell({ say: 'journaled', draftId: row.id, seq: last.seq, at: recordOf(last.text).at })
  }

  private trim(): void {
    const upTo = Math.min(this.row.pointSeq, this.row.journalSeq)
    if (upTo <= this.before.seq) return
    this.before = { seq: upTo, digest: this.digestAt(upTo)! }
    this.tail = this.tail.filter(({ seq }) => seq > upTo)
  }

  /** All records, from the disk and from memory; from shared storage what neither has. @throws Fault */
  async wholeChain(): Promise<Link[]> {
    if (this.before.seq === 0) return this.tail.slice()
    const { row } = this
    const head = { seq: this.before.seq, digest: this.before.digest }
    const rows = await this.ports.disk.rows(row.id).catch(() => [])
    const read = readChain(rows, row.baseVersionId, head)
    let links = read.links
    if (links.length < head.seq) {
      const { lines } = await this.ports.storage.content(row.id)
      links = chainOf(lines.slice(0, head.seq), { seq: 0, digest: genesis(row.baseVersionId) })
    }
    // What was confirmed while it was read begins the memory later.
    if (this.before.seq !== head.seq) return this.wholeChain()
    if (links.at(-1)?.digest !== head.digest) throw new SaidError(say('recovery.cannot-be-put-together'))
    return [...links, ...this.tail]
  }

  // -- Shared storage -----------------------------------------------------------------------------

  heartbeat(): Heartbeat {
    const { row } = this
    const me = this.keeping.me()
    return {
      id: row.id,
      kind: row.kind,
      deviceId: me.deviceId,
      deviceName: me.deviceName,
      bornAt: row.bornAt,
      baseVersionId: row.baseVersionId,
      fileId: row.fileId,
      headVersionId: row.headVersionId,
      savedSeq: row.savedSeq,
      savedHead: row.savedHead,
      journalSeq: row.journalSeq,
      journalHead: row.head,
      lastEditAt: row.lastEditAt,
      opening: row.opening,
      beyond: row.beyond,
      pageSilentMs: this.live ? this.keeping.pageSilentMs() : 0,
      unsent: beyondOf(this.tail.filter(({ seq }) => seq > row.pointSeq)),
      sender: { epoch: row.epoch, writerId: row.writerId },
      model: row.model,
      resting: row.resting,
      forkOf: row.forkOf,
      pointsOff: row.pointsOff,
      live: this.live,
    }
  }

  /** Brings shared storage up to date when it is time to; nothing is sent for a draft without records. */
  async bringUpToDate(now: number): Promise<void> {
    if (this.sending) return
    const work = this.contested || this.displaced ? this.superseded(this.contested) : this.send(now)
    this.sending = work
      .catch((error) => this.sendFailed(error))
      .finally(() => {
        this.sending = null
      })
    await this.sending
  }

  private async send(now: number): Promise<void> {
    const { row } = this
    if (this.sealed || (this.end.seq === 0 && !this.row.forkOf)) return
    const unsent = this.end.seq > row.pointSeq
    const due =
      unsent &&
      (this.refusing ||
        this.wanted ||
        (!row.pointsOff && now - this.pointAt >= (this.interval * 1000) / this.keeping.pace))
    if (!due && now - this.beatAt < heartbeatEvery / this.keeping.pace) return
    this.beatAt = now
    if (!(await this.claim())) return
    if (due) {
      await this.sendPieces()
      this.wanted = false
      this.pointAt = now
    } else {
      const asked = this.ports.clock.now()
      const taken = await this.ports.storage.heartbeat(row.id, this.heartbeat())
      this.heard(asked, taken)
      await this.inTurn(() => this.answered(taken, 0, 0))
    }
    if (this.contested) return this.superseded(this.contested)
    if (this.live) await this.look()
  }

  /**
   * Whether the device still keeps the draft, for this writer. The browser may clear what it keeps for a site,
   * and another page may have gone on with it while this one slept: work that is open hears of it soon.
   */
  async look(): Promise<void> {
    if (!this.kept || this.sealed) return
    const row = await this.ports.disk.draft(this.row.id).catch(() => this.row)
    // What was left or ended while the disk was asked may well be gone from it: that is nothing to be put back.
    if (!this.keeping.hasPage(this)) return
    if (!row) await this.writeFailed(new Cleared())
    else if (row.generation !== this.row.generation) await this.superseded(null)
  }

  private heard(asked: number, taken: PointTaken): void {
    this.keeping.reached('there')
    this.keeping.tellClock(asked, taken.at)
  }

  /** Sends everything that shared storage has not confirmed, in pieces, whatever the interval. @throws Fault */
  async sendPieces(): Promise<void> {
    for (;;) {
      const { pointSeq } = this.row
      const unsent = this.tail.filter(({ seq }) => seq > pointSeq)
      const digest = this.digestAt(pointSeq)
      if (!unsent.length || this.sealed || !digest) return
      let bytes = 0
      let count = 0
      while (count < unsent.length && (count === 0 || bytes + unsent[count]!.text.length <= pieceBytes))
        bytes += unsent[count++]!.text.length
      const lines = unsent.slice(0, count).map(({ text }) => text)
      const asked = this.ports.clock.now()
      const heartbeat = this.heartbeat()
      const taken = await this.ports.storage.point(this.row.id, {
        heartbeat: { ...heartbeat, sender: heartbeat.sender! },
        after: { seq: pointSeq, digest },
        lines,
      })
      this.heard(asked, taken)
      await this.inTurn(() => this.answered(taken, count, taken.sent))
      // What is refused, or goes back to an earlier record, is looked at anew with the next turn.
      if (this.row.pointSeq <= pointSeq) return
    }
  }

  /** Becomes the draft's writer on shared storage. @returns whether it is, as far as is known. @throws Fault */
  async claim(): Promise<boolean> {
    const { row } = this
    if (row.claimed) return true
    const { deviceId, deviceName } = this.keeping.me()
    const body = { from: row.epoch, writerId: row.writerId, deviceId, deviceName }
    try {
      const { taken, standing } = await this.ports.storage.takeOver(row.id, body)
      this.keeping.reached('there')
      if (!taken) {
        await this.superseded(standing)
        return false
      }
      this.change({ epoch: standing.epoch, claimed: true })
      return await this.inTurn(() => this.compare(standing))
    } catch (error) {
      if (!(error instanceof Fault) || error.problem.type !== 'not-found') throw error
      // Shared storage never heard of it: the first sign of life makes it known.
      this.change({ epoch: row.epoch + 1, claimed: true, pointSeq: 0 })
      await this.inTurn(() => this.sendFrom(0))
      return true
    }
  }

  private async answered(taken: PointTaken, edits: number, bytes: number): Promise<void> {
    const { verdict, standing } = taken
    if (!standing || this.sealed) return
    if (verdict === 'superseded' || verdict === 'differs') {
      this.contested = standing
      return
    }
    // Whoever asks for a point waits for it.
    this.wanted = taken.pointWanted
    await this.compare(standing, edits, bytes)
  }

  /** Takes the server's word for how far this chain has got there. @returns whether it is this chain */
  private async compare(standing: Standing, edits = 0, bytes = 0): Promise<boolean> {
    const { pointSeq, pointHead } = standing
    if (pointSeq < this.before.seq && !(await this.sendFrom(pointSeq))) return false
    if (this.digestAt(pointSeq) !== pointHead) {
      this.contested = standing
      return false
    }
    if (pointSeq !== this.row.pointSeq) {
      this.change({ pointSeq })
      this.trim()
    } else if (!edits) return true
    this.tell({ say: 'point', draftId: this.row.id, seq: pointSeq, edits, bytes })
    return true
  }

  /** Shared storage has less than was thought: what follows is read again. */
  private async sendFrom(seq: number): Promise<boolean> {
    try {
      const links = await this.wholeChain()
      this.before = { seq, digest: links[seq - 1]?.digest ?? genesis(this.row.baseVersionId) }
      this.tail = links.slice(seq)
      this.row = { ...this.row, pointSeq: Math.min(this.row.pointSeq, seq) }
      return true
    } catch {
      return false
    }
  }

  private sendFailed(error: unknown): void {
    if (this.keeping.failed(error)) return
    const reason = say('recovery.server-refuses-points', {
      why: error instanceof Fault ? (error.problem.says ?? error.problem.title) : (error as Error).message,
    })
    this.tell({ say: 'point refused', draftId: this.row.id, reason })
    this.pointAt = this.ports.clock.steady()
  }

  // -- Another writer ---------------------------------------------------------------------------

  /**
   * Somebody else writes this draft: another device, as shared storage says, or another page of this browser
   * (null). What is here beyond the records that both have becomes a draft of its own; nothing is sent or
   * written under the old one any more. When it cannot be done now it is done with the next turn.
   */
  async superseded(standing: Standing | null): Promise<void> {
    if (this.sealed) return
    if (standing && (await this.inheritsFrom(standing))) return
    this.displaced ||= standing === null
    const by = standing?.deviceName ?? null
    if (!this.told) this.tell({ say: 'superseded', draftId: this.row.id, by, fork: null })
    this.told = true
    this.contested = standing
    // The journal goes on while it is asked: what a person writes meanwhile is kept like everything.
    const asked = await this.wholeChain()
    const common = standing ? await this.commonOnStorage(asked) : await this.commonOnDisk(asked)
    await this.inTurn(async () => {
      if (this.sealed) return
      this.sealed = true
      // What was written while the question was on its way belongs to it, too.
      const mine = [...asked, ...this.tail.filter(({ seq }) => seq > asked.length)]
      this.contested = null
      this.parted = { mine: mine.slice(), common, by }
      // The lock falls to whoever writes it now.
      this.release()
      if (mine.length > common) await this.part(mine, common, standing !== null, by)
      else if (standing && this.kept) {
        // All of it is on shared storage, under the writer that has it now.
        await this.ports.disk.commit({ expect: [this.own], forget: [this.row.id] }).catch(() => {})
      }
    })
  }

  /**
   * Whether who writes the draft, as shared storage has it, is an earlier page of this browser: one whose take-over
   * was answered to nobody, or whose first sign of life came late. Which page of a browser writes is settled by
   * its disk, and the disk says this one; it takes over from there.
   */
  private async inheritsFrom(standing: Standing): Promise<boolean> {
    const { row } = this
    const mine = standing.deviceId === this.keeping.me().deviceId && standing.writerId !== row.writerId
    if (!mine || !this.live || !this.kept || standing.state === 'finished') return false
    // What is written here under its own generation proves that no later page has it.
    await this.settleDown()
    const there = await this.ports.disk.draft(row.id).catch(() => undefined)
    if (this.sealed || there?.generation !== row.generation) return false
    this.contested = null
    this.change({ epoch: standing.epoch, claimed: false })
    this.beatAt = Number.NEGATIVE_INFINITY
    return true
  }

  private async commonOnStorage(mine: readonly Link[]): Promise<number> {
    const { lines, marks, standing } = await this.ports.storage.content(this.row.id)
    const theirs = chainOf(lines, { seq: 0, digest: genesis(this.row.baseVersionId) })
    let common = commonLength(mine, theirs)
    // Records that are in no point any more are known by the digests that were kept of them.
    for (const { seq, digest } of [
      ...marks,
      ...(standing.savedHead ? [{ seq: standing.savedSeq, digest: standing.savedHead }] : []),
    ])
      if (seq > common && mine[seq - 1]?.digest === digest) common = seq
    return common
  }

  private async commonOnDisk(mine: readonly Link[]): Promise<number> {
    const row = await this.ports.disk.draft(this.row.id)
    if (!row) return 0
    const rows = await this.ports.disk.rows(row.id)
    const { links } = readChain(rows, row.baseVersionId, { seq: row.journalSeq, digest: row.head })
    return commonLength(mine, links)
  }

  /** Makes a draft of its own of a chain that parted from another one. @param own the old row here is this writer's */
  private async part(mine: readonly Link[], common: number, own: boolean, by: string | null): Promise<void> {
    const base = this.base ?? (await this.ports.disk.base(this.row.id).catch(() => null))
    const parted = await partOnDevice(this.ports, { row: this.row, own: own && this.kept, mine, common, base })
    if (!parted) return
    const kept = parted.refused === null
    if (!kept) this.refuse(parted.refused)
    this.heir = new HeldDraft(this.ports, this.keeping, parted.row, parted.links, kept ? null : base, kept, false)
    this.heir.pointAt = Number.NEGATIVE_INFINITY
    this.sayParted(by)
  }

  private sayParted(by: string | null): void {
    const { id, beyond } = this.heir!.row
    this.tell({ say: 'superseded', draftId: this.row.id, by, fork: { id, beyond } })
  }

  // -- Ending -----------------------------------------------------------------------------------

  /** Commits what has arrived. */
  async settleDown(): Promise<void> {
    await this.inTurn(() => this.write())
      .catch((error) => this.writeFailed(error))
      .catch(() => {})
  }

  /** Ends the draft on this device. @param keptUntil until when it can be had back at least */
  async close(how: 'finished' | 'closed' | 'let go', keptUntil: string): Promise<void> {
    await this.inTurn(async () => {
      if (this.sealed || (this.end.seq === 0 && !this.kept)) return
      // What is in a version is finished; what waits for its version is not.
      const saved = this.row.savedSeq >= this.end.seq && how === 'finished'
      const state = how === 'finished' && !saved ? 'closed' : how
      this.row = { ...this.row, state, keptUntil: state === 'finished' ? null : keptUntil, endUntold: true }
      if (!this.kept && !this.tail.length) return
      await this.ports.disk.commit({
        expect: [this.own],
        // The version has confirmed these records; of the draft itself shared storage has yet to hear.
        ...(state === 'finished' && { forget: [this.row.id] }),
        drafts: [this.row],
      })
      this.kept = true
    }).catch((error) => (error instanceof Superseded ? this.superseded(null) : this.refuse(error)))
  }

  /** Tells shared storage how the draft ended, after everything that belongs to it. @throws Fault */
  private async tellEnd(): Promise<void> {
    const { state } = this.row
    await this.ports.storage.end(this.row.id, { state, heartbeat: this.heartbeat() })
    this.keeping.reached('there')
    const again = await this.inTurn(async () => {
      this.row = { ...this.row, endUntold: false }
      if (!this.kept) return false
      try {
        await this.ports.disk.commit({ expect: [this.own], drafts: [this.row] })
        return false
      } catch (error) {
        return error instanceof Superseded && (await this.takeWishSince(state))
      }
    })
    if (again) await this.tellEnd()
  }

  /**
   * What was wished for the same records while another end was being told, by another page perhaps. Shared storage may
   * have heard it before what was just told, and then has the older one: it is told once more.
   * @returns whether there is such a wish
   */
  private async takeWishSince(told: StoredDraft['state']): Promise<boolean> {
    const { row } = this
    const there = await this.ports.disk.draft(row.id).catch(() => undefined)
    if (!there || there.head !== row.head || there.state === told || there.state === 'finished') return false
    // Whoever writes it anew says itself how it is.
    if (there.writerId !== row.writerId) return false
    const wish = { ...there, pointSeq: Math.max(row.pointSeq, there.pointSeq), endUntold: true }
    try {
      await this.ports.disk.commit({ expect: [[row.id, there.generation, there.head]], drafts: [wish] })
    } catch {
      return false
    }
    this.row = wish
    return true
  }

  /** All of it is in a version, and its records are gone from here: only that it is finished is still to be told. */
  private async tellFinished(): Promise<void> {
    const { id, epoch, writerId, claimed } = this.row
    const { deviceId, deviceName } = this.keeping.me()
    try {
      const claim = claimed
        ? null
        : await this.ports.storage.takeOver(id, { from: epoch, writerId, deviceId, deviceName })
      if (claim?.taken) this.row = { ...this.row, epoch: claim.standing.epoch, claimed: true }
      if (!claim || claim.taken) await this.ports.storage.end(id, { state: 'finished', heartbeat: this.heartbeat() })
      this.keeping.reached('there')
    } catch (error) {
      // Whoever writes it by now ends it; and what shared storage never heard of has no end there.
      const settled = error instanceof Fault && ['changed-meanwhile', 'not-found'].includes(error.problem.type)
      if (!settled) throw error
    }
    this.row = { ...this.row, endUntold: false }
    if (this.kept) await this.ports.disk.commit({ expect: [this.own], forget: [id] })
  }

  /** Brings a draft that no page has open in step with shared storage. @throws Fault */
  async settle(): Promise<void> {
    if (this.row.state === 'finished') return this.tellFinished()
    if (!(await this.claim())) {
      if (this.contested) await this.superseded(this.contested)
      return
    }
    if (this.end.seq > this.row.pointSeq && !this.row.pointsOff) await this.sendPieces()
    if (this.contested) return this.superseded(this.contested)
    if (this.sealed) return
    if (this.row.endUntold) return this.tellEnd()
    const taken = await this.ports.storage.heartbeat(this.row.id, this.heartbeat())
    this.keeping.reached('there')
    await this.inTurn(() => this.answered(taken, 0, 0))
    if (this.contested) return this.superseded(this.contested)
    // Let go by its person, its days over by the server's clock; or saved, as the server confirms.
    if (taken.standing?.over) await this.ports.disk.commit({ expect: [this.own], forget: [this.row.id] })
  }

  /** Whether a chain with this digest at a number is this one. */
  async has(seq: number, digest: Digest | null): Promise<boolean> {
    if (digest === null) return false
    const known = this.digestAt(seq)
    if (known) return known === digest
    return (await this.wholeChain().catch(() => []))[seq - 1]?.digest === digest
  }

  /** Takes in that a version holds the records up to `seq`. Together with what else changes on the device. */
  async saved(part: Partial<StoredDraft>, also: { endSaves?: string[]; saves?: StoredSave[] }): Promise<void> {
    await this.inTurn(async () => {
      this.row = { ...this.row, ...part }
      this.changes++
      // Whoever goes on elsewhere goes on from points: they are not to be behind the version.
      if (part.savedSeq) this.pointAt = Number.NEGATIVE_INFINITY
      const { disk } = this.ports
      if (this.kept && !this.sealed)
        try {
          return await disk.commit({ expect: [this.own], drafts: [this.row], ...also })
        } catch (error) {
          // Whoever has the draft now finds the version in its file.
          if (!(error instanceof Superseded || error instanceof Cleared)) throw error
        }
      await disk.commit({ expect: [], ...also })
    })
  }
}
