// The keeper: all of keeping, for one tab. It takes what the page hands over (protocol.ts), has it committed
// to the device, sends points and saves to shared storage, takes drafts over and parts them where two wrote,
// and tidies up what earlier pages left. It is a state machine over ports (ports.ts): the worker of the
// application and the tests run this same code.
import { standardInterval } from '../contract'
import { say as sentence } from '../words/said'
import { chainOf, genesis, type Link } from './chain'
import { HeldDraft, type Keeping, type Me } from './held-draft'
import { readChain } from './journal'
import { KeptSaves } from './kept-saves'
import { Fault, isSilence, type Ports, Superseded } from './ports'
import type { Followed, OpenedDraft, StoredDraft, ToJournal } from './protocol'

const askPageEvery = 2_000
/** What earlier pages left is compared with shared storage this often; milliseconds. */
export const settleEvery = 60_000
/** Closed work can be had back for at least this long by the device's own guess; the server's day decides. */
const guessedDays = 14

export class Keeper {
  private me: Me = { personId: '', deviceId: '', deviceName: '' }
  private interval = standardInterval
  /** The drafts that this tab has open, whichever of them it shows. */
  private readonly open = new Map<string, HeldDraft>()
  /** Drafts that no page has open, on their way to shared storage: parted ones, and those that were just closed. */
  private readonly loose = new Map<string, HeldDraft>()
  /** Drafts whose end is being written and told. */
  private readonly closing = new Map<string, Promise<void>>()
  private server: 'there' | 'away' | 'signed out' = 'there'
  /** Nobody is signed in: nothing is sent until somebody is. */
  private paused = false
  private pageAnsweredAt: number
  private askedAt = Number.NEGATIVE_INFINITY
  private settledAt = Number.NEGATIVE_INFINITY
  private settling: Promise<void> | null = null
  private clockTold = 0
  private readonly saves: KeptSaves
  private readonly keeping: Keeping

  /** @param pace everything that waits is this many times as quick, for measurements */
  constructor(
    private readonly ports: Ports,
    private readonly pace = 1,
  ) {
    this.pageAnsweredAt = ports.clock.steady()
    this.keeping = {
      pace,
      me: () => this.me,
      // A page is asked every two seconds; what is younger than one question is no silence.
      pageSilentMs: () =>
        Math.max(0, Math.round(Math.min(this.ports.clock.steady() - this.pageAnsweredAt, 86_400_000))),
      reached: (state) => this.reached(state),
      failed: (error) => this.failed(error),
      tellClock: (asked, serverAt) => this.tellClock(asked, serverAt),
      hasPage: (draft) => draft === this.open.get(draft.id),
    }
    this.saves = new KeptSaves(ports, {
      personId: () => this.me.personId,
      paused: () => this.paused || !this.me.personId,
      held: (draftId) => {
        const draft = this.open.get(draftId) ?? this.loose.get(draftId)
        // What somebody else writes by now is not this page's to speak for.
        return draft && !draft.sealed ? draft : null
      },
      reached: (state) => this.reached(state),
      failed: (error) => this.failed(error),
      refused: () =>
        this.ports.say({ say: 'refused', reason: sentence('recovery.this-computer-refuses-to-keep-unsaved-work') }),
    })
    // Without a journal the device has no lasting id; the drafts of this tab then belong to one that ends with it.
    this.known = ports.disk
      .deviceId()
      .catch(() => ports.newId())
      .then((deviceId) => {
        this.me = { ...this.me, deviceId }
      })
  }
  private opening: Promise<void> = Promise.resolve()
  /** The device's id is known. */
  private readonly known: Promise<void>

  /** Takes in what the page says; answers when it is handled. */
  async hear(message: ToJournal): Promise<void> {
    if (message.do === 'open') {
      const before = this.opening
      const opening = before.then(() => this.begin(message))
      this.opening = opening.catch(() => {})
      return opening
    }
    // What a page says of a draft while it is being opened is heard when it is open.
    if ('draftId' in message || message.do === 'save') await this.opening
    switch (message.do) {
      case 'start':
        this.me = { ...this.me, personId: message.personId, deviceName: message.deviceName }
        // What is open keeps its file's own interval.
        this.interval = message.interval
        return
      case 'interval': {
        if (!message.draftId) this.interval = message.seconds
        const meant = message.draftId ? [this.open.get(message.draftId)] : [...this.open.values()]
        for (const draft of meant) if (draft) protect(draft, message.seconds)
        return
      }
      case 'edit':
        this.open.get(message.draftId)?.append(message.record, message.opening, message.resting)
        return
      case 'rest': {
        const draft = this.open.get(message.draftId)
        if (draft && draft.end.seq > 0) draft.change({ resting: { seq: draft.end.seq, at: message.at } })
        return
      }
      case 'model': {
        const draft = this.open.get(message.draftId)
        if (draft && !draft.row.model) draft.change({ model: message.model })
        return
      }
      case 'save':
        return this.saves.accept(message.save)
      case 'adopt': {
        const { fileId, fileName, headVersionId, same } = message
        this.open.get(message.draftId)?.adopt({ fileId, fileName, headVersionId }, same)
        return
      }
      case 'leave':
        await this.leave(message.draftId)
        return this.ports.say({ say: 'closed', draftId: message.draftId })
      case 'close': {
        const { draftId, how } = message
        const closing = this.close(draftId, how).finally(() => {
          if (this.closing.get(draftId) === closing) this.closing.delete(draftId)
        })
        this.closing.set(draftId, closing)
        return closing
      }
      case 'answer':
        this.pageAnsweredAt = this.ports.clock.steady()
        return
      case 'try now':
        this.paused = false
        this.settledAt = Number.NEGATIVE_INFINITY
        return this.saves.tryNow()
      case 'settle': {
        // What is on its way comes before what was wished for since.
        await this.closing.get(message.draftId)?.catch(() => {})
        const loose = this.loose.get(message.draftId)
        await loose?.sending
        const row = await this.ports.disk.draft(message.draftId).catch(() => undefined)
        // What waits for shared storage is the wish that is written now, and not the one before it.
        if (loose && row && row.generation !== loose.row.generation && row.head === loose.end.digest)
          this.loose.delete(message.draftId)
        if (row) await this.settleOne(row).catch((error) => this.failed(error))
        return this.ports.say({ say: 'settled', draftId: message.draftId })
      }
      case 'look': {
        const draft = this.open.get(message.draftId)
        if (!draft) return
        draft.beatAt = Number.NEGATIVE_INFINITY
        return draft.bringUpToDate(this.ports.clock.steady())
      }
    }
  }

  /** What another page of this browser told. */
  async followed(message: Followed): Promise<void> {
    const draft = this.open.get(message.draftId)
    if (draft && 'taken' in message && message.taken.generation !== draft.row.generation)
      await draft.superseded(null).catch((error) => this.failed(error))
  }

  /** About each second. */
  async tick(): Promise<void> {
    const now = this.ports.clock.steady()
    if (now - this.askedAt >= askPageEvery) {
      this.askedAt = now
      this.ports.say({ say: 'do you answer' })
    }
    await this.known
    if (this.paused || !this.me.personId) return
    await Promise.all([
      ...[...this.open.values()].map((draft) => draft.bringUpToDate(now)),
      ...[...this.loose.values()].map((draft) => this.bringLoose(draft)),
      this.saves.deliver(),
      this.settle(now),
    ])
    for (const { heir } of this.open.values()) if (heir) this.loose.set(heir.id, heir)
  }

  // -- Opening ---------------------------------------------------------------------------------

  private async begin(opened: OpenedDraft): Promise<void> {
    const { disk, lock, say, tell } = this.ports
    const id = opened.draft.id
    await this.leave(id)
    const release = await lock.take(id, opened.takeOver)
    if (!release) return say({ say: 'opened', draftId: id, elsewhere: true, stale: false })
    // It has a page again; what is still on its way from before is an older writer's.
    this.loose.delete(id)
    const first = genesis(opened.draft.baseVersionId)
    const links = chainOf(opened.lines, { seq: 0, digest: first })
    const fresh = opened.from === null && !opened.seen && links.length === 0
    // What shared storage confirmed is asked anew; the device has what it had when the page read it.
    const { seen } = opened
    const onDevice = seen ? opened.draft.journalSeq : 0
    const row: StoredDraft = {
      ...opened.draft,
      journalSeq: onDevice,
      head: links[onDevice - 1]?.digest ?? first,
      generation: this.ports.newId(),
      epoch: fresh ? 1 : (opened.from ?? 0),
      writerId: this.ports.newId(),
      claimed: fresh,
      state: 'open',
      keptUntil: null,
      endUntold: false,
      refused: null,
      pointsOff: this.interval === 0,
    }
    const draft = new HeldDraft(this.ports, this.keeping, row, links, seen ? null : opened.base, !!seen, true)
    protect(draft, this.interval)
    draft.release = release
    let refused = false
    try {
      // Whoever went on with it since the page read it is not overwritten.
      if (seen) await disk.commit({ expect: [[id, seen.generation, seen.head]], drafts: [row] })
      else if (await disk.draft(id)) throw new Superseded()
    } catch (error) {
      if (error instanceof Superseded) {
        release()
        return say({ say: 'opened', draftId: id, elsewhere: false, stale: true })
      }
      // The device keeps nothing now: shared storage does, from memory.
      refused = true
      say({ say: 'refused', reason: sentence('recovery.this-computer-refuses-to-keep-unsaved-work') })
    }
    this.open.set(id, draft)
    if (seen) tell({ draftId: id, taken: { generation: row.generation } })
    say({ say: 'opened', draftId: id, elsewhere: false, stale: false })
    // Work that came from elsewhere is committed here before anything is added to it.
    if (links.length > onDevice) draft.commitSoon()
    else if (links.length && !refused)
      say({ say: 'journaled', draftId: id, seq: links.length, at: Date.parse(row.lastEditAt ?? row.bornAt) })
    await this.known
    if (!fresh && this.me.personId && !this.paused) {
      draft.beatAt = Number.NEGATIVE_INFINITY
      void draft.bringUpToDate(this.ports.clock.steady())
    }
  }

  // -- Closing ---------------------------------------------------------------------------------

  /** What is open is left as it is, whole on the device, and brought to shared storage without a page. */
  private async leave(draftId: string): Promise<void> {
    const draft = this.open.get(draftId)
    if (!draft) return
    await draft.settleDown()
    this.open.delete(draftId)
    draft.release()
    const left = draft.heir ?? draft
    if (left.end.seq > left.row.pointSeq && !left.sealed) this.loose.set(left.id, left)
  }

  private async close(draftId: string, how: 'finished' | 'closed' | 'let go'): Promise<void> {
    const draft = this.open.get(draftId)
    if (!draft) return this.ports.say({ say: 'closed', draftId })
    await draft.settleDown()
    this.open.delete(draftId)
    const heir = draft.heir
    if (heir) this.loose.set(heir.id, heir)
    await draft.close(how, new Date(this.ports.clock.now() + guessedDays * 86_400_000).toISOString())
    draft.release()
    this.ports.say({ say: 'closed', draftId })
    if (!draft.sealed && draft.end.seq > 0) {
      this.loose.set(draftId, draft)
      // Nothing of what is being sent comes after the end.
      await draft.sending
      if (!this.paused) await this.bringLoose(draft)
    }
  }

  /** Brings a draft that no page has open to shared storage; when that is done it is left to its own. */
  private async bringLoose(draft: HeldDraft): Promise<void> {
    if (draft.sending) return
    draft.sending = draft
      .settle()
      .then(() => {
        if (draft.sealed || (!draft.row.endUntold && draft.end.seq <= draft.row.pointSeq)) this.loose.delete(draft.id)
        if (draft.heir) this.loose.set(draft.heir.id, draft.heir)
      })
      .catch((error) => {
        if (!this.failed(error)) this.loose.delete(draft.id)
      })
      .finally(() => {
        draft.sending = null
      })
    await draft.sending
  }

  // -- What earlier pages left -------------------------------------------------------------------

  /**
   * Compares the drafts that this device keeps, and that no page has open, with shared storage: what is not
   * there is sent, what another writer went on with is parted, and what the server says is over goes.
   */
  settle(now: number): Promise<void> {
    if (this.settling || now - this.settledAt < settleEvery / this.pace) return this.settling ?? Promise.resolve()
    this.settledAt = now
    this.settling = this.settleAll()
      .catch(() => {})
      .finally(() => {
        this.settling = null
      })
    return this.settling
  }

  private async settleAll(): Promise<void> {
    const { disk, lock } = this.ports
    const held = await lock.held().catch(() => new Set<string>())
    const waiting = new Set((await disk.saves()).filter(({ refused }) => !refused).map(({ draftId }) => draftId))
    for (const row of await disk.drafts()) {
      if (row.personId !== this.me.personId || held.has(row.id) || this.loose.has(row.id)) continue
      if (this.open.has(row.id) || waiting.has(row.id) || this.paused) continue
      try {
        await this.settleOne(row)
      } catch (error) {
        if (isSilence(error)) return
        // One that is refused does not keep the others from theirs; another page's draft is that page's.
        if (!(error instanceof Superseded || error instanceof Fault)) throw error
      }
    }
  }

  private async settleOne(row: StoredDraft): Promise<void> {
    const draft = await this.fromDisk(row)
    await draft?.settle()
    if (draft?.heir) this.loose.set(draft.heir.id, draft.heir)
  }

  /** @returns null for a draft whose journal cannot be read to its end: that is shown, not settled */
  private async fromDisk(row: StoredDraft): Promise<HeldDraft | null> {
    if (row.journalSeq === 0 && !row.endUntold) return null
    let links: Link[] = []
    if (row.state !== 'finished') {
      const head = { seq: row.journalSeq, digest: row.head }
      const read = readChain(await this.ports.disk.rows(row.id), row.baseVersionId, head)
      if (read.damage) return null
      links = read.links
    }
    return new HeldDraft(this.ports, this.keeping, row, links, null, true, false)
  }

  // -- Shared storage ----------------------------------------------------------------------------

  private reached(state: 'there' | 'away' | 'signed out'): void {
    // An answer to what was asked before nobody was signed in any more says nothing of now.
    if (state === this.server || (state === 'there' && this.paused)) return
    // What waited for shared storage need not wait any longer.
    if (state === 'there') this.settledAt = Number.NEGATIVE_INFINITY
    this.server = state
    this.ports.say({ say: 'server', state })
    if (state === 'there') void this.saves.tryNow()
  }

  /** @returns whether the failure only means to try again later */
  private failed(error: unknown): boolean {
    if (isSilence(error)) this.reached('away')
    else if (error instanceof Fault && error.problem.type === 'signed-out') {
      this.paused = true
      this.reached('signed out')
    } else return !(error instanceof Fault)
    return true
  }

  /** Tells of a clock that is wrong by more than the answer's way could explain, and of one that is right again. */
  private tellClock(asked: number, serverAt: string): void {
    const now = this.ports.clock.now()
    const ahead = Math.round((asked + now) / 2 - Date.parse(serverAt))
    const wrong = Math.abs(ahead) - (now - asked) > 60_000 ? ahead : 0
    if (wrong === this.clockTold || (wrong !== 0 && Math.abs(wrong - this.clockTold) < 30_000)) return
    this.clockTold = wrong
    this.ports.say({ say: 'clock', ahead: wrong })
  }
}

/** Seconds; 0 switches points off, which the draft says of itself for as long as it is so. */
function protect(draft: HeldDraft, seconds: number): void {
  const pointsOff = seconds === 0
  if (!pointsOff) draft.interval = seconds
  if (draft.row.pointsOff !== pointsOff) draft.change({ pointsOff })
}
