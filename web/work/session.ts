// One draft that is open in this tab: what was edited, how far each edit has got, and its saves.
// The content itself belongs to the editor; it hands its edits over and is asked for its bytes.

import { uuidv7 } from 'uuidv7'
import { type About, sameAbout } from '../../core/content/about'
import { type FileWords, noWords } from '../../core/content/words'
import type { DraftModel, JournalRecord, PaperChoices, Problem, Reason, Saved, Version } from '../../core/contract'
import { type Limit, WouldLose, type Written } from '../../core/formats/refusals'
import { typeOfWork, typeWritten } from '../../core/formats/types'
import { nothingBeyond } from '../../core/recovery/beyond'
import { genesis } from '../../core/recovery/chain'
import { type Followed, type FromJournal, followChannel, type SavePlace } from '../../core/recovery/protocol'
import { claimsTooMuch, type ReachFacts } from '../../core/recovery/reach'
import type { BroughtBack, Content, PutOnPaper, Selected, TakenIn, TakenPart, Work, WrittenType } from './content'
import { onJournal, tellJournal } from './journal'
import { countEditNow, countPoint } from './rhythm'
import {
  afterHearing,
  type Beginning,
  confirmed,
  type EditTime,
  type SavedFile,
  type SessionOutline,
  type SessionState,
  stateAtFirst,
} from './session-state'

/**
 * The progress of typing is shown when it pauses this long, and at least this often together with an edit; milliseconds.
 * Showing it lays out and paints the page again, which a long document feels: with an edit, that is done anyway. What
 * stops being true is taken back at once all the same.
 */
const pause = 500
const shownEvery = 3000
/** A cursor that stays for this long rests; milliseconds. */
const restsAfter = 300

export type SaveTarget = SavePlace | 'own file'

/** Only a build for measuring has this switch: what a keystroke costs without its protection. */
declare const __MEASURING__: boolean
const unprotected = () => __MEASURING__ && sessionStorage.getItem('jaula-bench-journal') === 'off'

export class DraftSession {
  state: SessionState
  private readonly listeners = new Set<() => void>()
  private readonly waiting = new Map<string, { settle: (saved: Saved | Problem) => void }>()
  private readonly stopListening: () => void
  private readonly following: BroadcastChannel
  private readonly times: EditTime[] = []
  private content: Content | null = null
  private closed: (() => void) | null = null

  /** @param counted whether its edits count for the person's rhythm; a drill's do not */
  constructor(
    private readonly beginning: Beginning,
    private readonly counted = true,
  ) {
    const { continued, head } = beginning
    const seq = continued?.lines.length ?? 0
    const lastAt = continued?.lastEditAt ? Date.parse(continued.lastEditAt) : null
    if (seq && lastAt) this.times.push({ seq, at: lastAt })
    this.state = stateAtFirst(beginning)
    this.shown = this.state
    this.stopListening = onJournal((message) => this.hear(message))
    this.following = new BroadcastChannel(followChannel)
    this.following.onmessage = ({ data }) => this.followed(data)
    tellJournal({
      do: 'open',
      draft: {
        id: beginning.draftId,
        personId: beginning.personId,
        kind: beginning.kind,
        bornAt: beginning.bornAt,
        baseVersionId: beginning.base?.versionId ?? null,
        fileId: beginning.file?.id ?? null,
        fileName: beginning.file?.name ?? null,
        headVersionId: head?.id ?? (beginning.file ? (continued?.headVersionId ?? null) : null),
        savedSeq: continued?.savedSeq ?? 0,
        savedHead: continued?.savedHead ?? null,
        journalSeq: continued?.onDevice ?? 0,
        head: genesis(beginning.base?.versionId ?? null),
        pointSeq: Math.min(continued?.pointSeq ?? 0, seq),
        lastEditAt: continued?.lastEditAt ?? null,
        opening: continued?.opening ?? '',
        beyond: continued?.beyond ?? nothingBeyond,
        state: 'open',
        keptUntil: null,
        model: continued?.model ?? null,
        resting: continued?.resting ?? null,
        forkOf: continued?.forkOf ?? null,
      },
      base: beginning.base?.bytes ?? null,
      lines: continued?.lines ?? [],
      seen: continued?.seen ?? null,
      from: continued?.epoch ?? null,
      takeOver: continued?.takeOver ?? false,
    })
  }

  attach(content: Content): void {
    this.content = content
  }

  /** Hands an edit to the journal. @param edit DocumentEdit or WorkbookEdit, as plain JSON */
  record(edit: unknown, how: Pick<JournalRecord, 'did' | 'begins'> = {}): void {
    if (unprotected()) return
    const seq = this.state.reach.edit.seq + 1
    const at = Date.now()
    this.times.push({ seq, at })
    if (this.counted) countEditNow()
    tellJournal({
      do: 'edit',
      draftId: this.state.draftId,
      record: { seq, at, edit, ...how },
      opening: this.content?.opening() ?? '',
      resting: this.content?.resting?.() ?? null,
    })
    this.progress(confirmed({ ...this.state.reach, edit: { seq, at } }, this.times), true)
  }

  /** The cursor went somewhere: when it rests there, that is kept, too. */
  moved(): void {
    clearTimeout(this.moving)
    this.moving = setTimeout(() => {
      const at = this.content?.resting?.()
      if (at && this.state.reach.edit.seq > 0 && !this.state.elsewhere && !this.state.taken)
        tellJournal({ do: 'rest', draftId: this.state.draftId, at })
    }, restsAfter)
  }
  private moving: ReturnType<typeof setTimeout> | undefined

  /** Where the cursor was when this work was left off; null when that is not known. */
  get restedAt(): number[] | null {
    const { continued } = this.beginning
    return continued?.resting && continued.resting.seq <= continued.lines.length ? continued.resting.at : null
  }

  /** What the records are applied to, once it is known. */
  standsOn(model: DraftModel): void {
    tellJournal({ do: 'model', draftId: this.state.draftId, model })
  }

  /** Where in the work whoever has it open is, in words. */
  place(): string {
    return this.content?.place?.().slice(0, 120) ?? ''
  }

  /** Brings the focus back to the work. */
  focus(): void {
    this.content?.focus?.()
  }

  /** Takes in what is still being entered. */
  settle(): void {
    this.content?.settle?.()
  }

  /** First words of the work as it is now. */
  opening(): string {
    return this.content?.opening() ?? ''
  }

  /** What the work itself says of its name. */
  clues(): FileWords {
    return this.content?.clues() ?? noWords
  }

  /** The bytes of the work as it is at this moment, for a copy; nothing is saved by it. */
  async encode(as?: WrittenType): Promise<Written> {
    if (!this.content) throw new Error('Nothing is open.')
    this.settle()
    return await this.content.encode(as)
  }

  /** What of the work as it stands, without what is still being entered, a file of another type would not hold. */
  async lossOf(as: WrittenType): Promise<Limit[]> {
    if (!this.content) throw new Error('Nothing is open.')
    return (await this.content.encode(as)).lost
  }

  /** How its file writes plain text. */
  textWay() {
    return this.content?.textWay?.() ?? Promise.resolve(null)
  }

  /** Shows a place of the work. @param at as what is lost says it */
  show(at: readonly number[]): void {
    this.content?.show?.(at)
  }

  /** What the file that was saved last does not hold of the one that it came of. */
  leftOut: readonly Limit[] = []
  /** Of what saving would lose: what was seen, and accepted. Something else is asked about again. */
  readonly accepted = new Set<string>()
  accept(limits: readonly Limit[]): void {
    for (const { feature } of limits) this.accepted.add(feature)
  }
  notAccepted(limits: readonly Limit[]): Limit[] {
    return limits.filter(({ feature }) => !this.accepted.has(feature))
  }

  get unsaved(): boolean {
    return !this.state.taken && this.state.reach.edit.seq > this.state.reach.version.seq
  }

  /**
   * Saves the work as it is at this moment.
   * @param as another type than that of its file
   * @returns when the server answered, however much later that is; a refusal is an answer
   * @throws WouldLose where its own file would lose something that nobody has accepted; nothing is saved then
   */
  async save(target: SaveTarget, reason: Reason = 'saved', as?: WrittenType): Promise<Saved | Problem> {
    if (!this.content) throw new Error('Nothing is open.')
    this.content.settle?.()
    const { seq } = this.state.reach.edit
    const key = uuidv7()
    const at = Date.now()
    this.change({ refusal: null, reach: { ...this.state.reach, waitingSave: { at, kept: false, delayed: null } } })
    let bytes: Uint8Array
    // A file whose type nobody writes goes on as another one.
    const { file, kind } = this.state
    const own = typeOfWork(file?.name ?? null, kind)
    const type = as?.type ?? typeWritten(own, kind)
    const goesOnAs = target === 'own file' && file && type !== own ? type : undefined
    // Written another way than it was, it is not said here how.
    const writtenAs = target === 'own file' && !as ? this.content.listAs?.() : null
    try {
      const written = await this.content.encode(as)
      const unseen = this.notAccepted(written.lost)
      if (target === 'own file' && unseen.length) throw new WouldLose(unseen)
      this.leftOut = written.lost
      bytes = written.bytes
    } catch (error) {
      this.change({ reach: { ...this.state.reach, waitingSave: null } })
      throw error
    }
    const answer = new Promise<Saved | Problem>((settle) => this.waiting.set(key, { settle }))
    tellJournal(
      {
        do: 'save',
        save: {
          key,
          draftId: this.state.draftId,
          personId: this.beginning.personId,
          seq,
          at,
          reason,
          bytes,
          target,
          ...(goesOnAs && { type: goesOnAs }),
          ...(writtenAs && { writtenAs }),
        },
      },
      [bytes.buffer as ArrayBuffer],
    )
    return answer
  }

  /**
   * Saves bytes as a copy, in which nobody goes on: kept on the device like every save, and sent until shared
   * storage has answered. @param kept called when the device keeps it and shared storage does not answer
   */
  async copy(
    target: SavePlace | { fileId: string; name: string; baseId: string },
    bytes: Uint8Array,
  ): Promise<Saved | Problem | 'kept'> {
    const key = uuidv7()
    const answer = new Promise<Saved | Problem>((settle) => this.waiting.set(key, { settle }))
    const kept = new Promise<'kept'>((resolve) => {
      let onDevice = false
      const stop = onJournal((message) => {
        const away = message.say === 'server' ? message.state !== 'there' : this.state.reach.server !== 'there'
        if (message.say === 'server' && onDevice && away) resolve('kept')
        if (!('key' in message) || message.key !== key) return
        onDevice ||= message.say === 'save kept'
        if (message.say === 'save delayed' || (onDevice && away)) resolve('kept')
        if (message.say === 'saved' || message.say === 'save refused') stop()
      })
    })
    const { baseId, ...place } = 'baseId' in target ? target : { ...target, baseId: undefined }
    tellJournal(
      {
        do: 'save',
        save: {
          key,
          draftId: null,
          personId: this.beginning.personId,
          seq: 0,
          at: Date.now(),
          reason: 'copied',
          bytes,
          copy: true,
          ...(baseId && { baseId }),
          target: place,
        },
      },
      [bytes.buffer as ArrayBuffer],
    )
    return Promise.race([answer, kept])
  }

  /**
   * Goes on in another file, or on a newer version of this one, with the content as it is.
   * @param same the work up to this edit is what that version holds
   */
  adopt(file: SavedFile | null, head: Version | null, same: number | null = null): void {
    tellJournal({
      do: 'adopt',
      draftId: this.state.draftId,
      fileId: file?.id ?? null,
      fileName: file?.name ?? null,
      headVersionId: head?.id ?? null,
      same,
    })
    this.change({
      file,
      head,
      refusal: null,
      reach: {
        ...this.state.reach,
        version: {
          ...this.state.reach.version,
          number: head?.number ?? null,
          author: head?.author.name ?? null,
          savedAt: head ? Date.parse(head.at) : null,
          seq: file ? Math.max(this.state.reach.version.seq, same ?? 0) : 0,
        },
      },
    })
  }

  /**
   * Takes in what another version has beyond a base.
   * @param base null when neither came of the other
   * @param head the version that the next save is based on then; null when that stays as it is
   */
  async takeIn(base: Work | null, theirs: Work, head: Version | null, part: TakenPart | null = null): Promise<TakenIn> {
    if (!this.content?.takeIn) throw new Error('Nothing is open.')
    this.content.settle?.()
    const taken = await this.content.takeIn(base, theirs, part, head !== null)
    if (head && 'choices' in taken) this.adopt(this.state.file, head)
    return taken
  }

  /** Whether a version of somebody else's could be taken in at this moment without getting into anybody's way. */
  get atRest(): boolean {
    const { elsewhere, taken, reach } = this.state
    // What another writer has is not this page's to call saved.
    return !!this.content?.takeIn && !elsewhere && !taken && !reach.waitingSave && !this.content.entering?.()
  }
  /**
   * Takes in by itself what a newer version has beyond the one that this work is based on, where nobody has to choose and
   * what can be undone stays what it is. Work that had nothing unsaved is what that version holds then: it is saved.
   */
  async flowIn(base: Work, theirs: Work, head: Version): Promise<TakenIn> {
    if (!this.content?.takeIn) throw new Error('Nothing is open.')
    let same: number | null = null
    const from = this.state.head
    const taken = await this.content.takeIn(base, theirs, null, true, ({ choices, moves }, change) => {
      // Somebody may have saved, or combined the two, while they were laid beside each other.
      if (choices || moves || !this.atRest || this.state.head !== from) return false
      const nothingUnsaved = !this.unsaved
      change()
      if (nothingUnsaved) same = this.state.reach.edit.seq
      return true
    })
    if ('choices' in taken) this.adopt(this.state.file, head, same)
    return taken
  }

  /** The work as it is now; null while nothing is open. @param settled with what is still being entered, which ends it */
  present(settled = true) {
    if (settled) this.content?.settle?.()
    return this.content?.present?.() ?? null
  }
  /** The work as it is put on pages; null while nothing is open. */
  /** What of the work, and of its file, is not on its pages. */
  async notOnPaper(remarks: boolean): Promise<Limit[]> {
    return (await this.content?.notOnPaper?.(remarks)) ?? []
  }

  async onPaper(only: boolean, selected = false): Promise<PutOnPaper | null> {
    // Pages are looked at while somebody goes on: an entry is on them when it is made.
    if (!this.content?.entering?.()) this.content?.settle?.()
    return (await this.content?.onPaper?.(only, selected)) ?? null
  }
  selectedNow(): Selected | null {
    return this.content?.selected?.() ?? null
  }
  /** Whether the work's own type has a place for its pages. */
  get maySetPages(): boolean {
    return !!this.content?.setPages
  }
  setPages(choices: PaperChoices): void {
    this.content?.setPages?.(choices)
  }

  /** What the work's file says of itself; undefined while nothing is open. */
  about(): About | null | undefined {
    return this.content?.about?.()
  }
  /** Has it say something else, as an edit like any other. @param begins another step of undo @returns whether that is anything else */
  setAbout(about: About | null, begins: boolean): boolean {
    const now = this.about()
    if (now === undefined || sameAbout(now, about)) return false
    this.content?.setAbout?.(about, begins)
    return true
  }
  bringBack(change: BroughtBack): void {
    this.content?.bringBack?.(change)
  }

  /** Ends the draft here; answers when its journal is settled on the device. */
  close(how: 'finished' | 'closed' | 'let go'): Promise<void> {
    return new Promise<void>((resolve) => {
      this.closed = resolve
      tellJournal({ do: 'close', draftId: this.state.draftId, how })
      // A journal that cannot answer must not keep anybody here.
      setTimeout(resolve, 3000)
    }).then(() => {
      this.over()
    })
  }

  private over(): void {
    this.stopListening()
    this.following.close()
    this.content?.release?.()
  }

  /** Leaves the draft as it is, to be read anew; answers when the journal has let go of it. */
  leave(): Promise<void> {
    return new Promise<void>((resolve) => {
      this.closed = resolve
      tellJournal({ do: 'leave', draftId: this.state.draftId })
      setTimeout(resolve, 3000)
    }).then(() => {
      this.over()
    })
  }

  /** What the tab that has this draft committed; a gap means to open it anew. */
  private followed(message: Followed): void {
    if (!this.state.elsewhere || message.draftId !== this.state.draftId || !('records' in message)) return
    for (const { seq, at, edit } of message.records) {
      const { reach } = this.state
      if (seq <= reach.edit.seq) continue
      if (seq !== reach.edit.seq + 1) return this.change({ missed: true })
      try {
        this.content?.follow?.(edit)
      } catch {
        return this.change({ missed: true })
      }
      this.progress({ ...reach, edit: { seq, at }, journal: { seq, at, refused: null } }, true)
    }
  }

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener)
    return () => this.listeners.delete(listener)
  }
  private readonly ofEdits = new Set<() => void>()
  /** Tells of each edit at once, where the others are told now and then. */
  subscribeToEdits = (listener: () => void): (() => void) => {
    this.ofEdits.add(listener)
    return () => this.ofEdits.delete(listener)
  }
  /** The state that is shown: while typing goes on, behind the true one by as much as that is not shown. */
  snapshot = (): SessionState => this.shown
  /** The state without the progress of each keystroke: the same object until something of it changes. */
  outline = (): SessionOutline => {
    const { reach, ...rest } = this.state
    const next: SessionOutline = { ...rest, unsaved: this.unsaved, pointSeq: reach.point.seq }
    const same = Object.entries(next).every(([key, value]) => this.lastOutline?.[key as keyof SessionOutline] === value)
    if (!same) this.lastOutline = next
    return this.lastOutline!
  }
  private lastOutline: SessionOutline | null = null
  private shown: SessionState
  private shownAt = Number.NEGATIVE_INFINITY
  private pausing: ReturnType<typeof setTimeout> | undefined

  private change(change: Partial<SessionState>): void {
    this.state = { ...this.state, ...change }
    this.shown = this.state
    this.shownAt = performance.now()
    clearTimeout(this.pausing)
    this.pausing = undefined
    for (const listener of this.listeners) listener()
  }

  /** Progress of the typing: shown now and then, because showing it costs more than keeping it. @param edited with an edit in the page */
  private progress(reach: ReachFacts, edited = false): void {
    const before = this.state.reach
    const wasUnsaved = this.unsaved
    this.state = { ...this.state, reach }
    if (edited) for (const listener of this.ofEdits) listener()
    // What stops being true is taken back at once.
    if (claimsTooMuch(before, reach) || this.unsaved !== wasUnsaved) this.change({})
    else if (edited && performance.now() - this.shownAt > shownEvery) this.change({})
    else {
      clearTimeout(this.pausing)
      this.pausing = setTimeout(() => this.change({}), pause)
    }
  }

  /** How often points are taken, so that a late one is known. */
  setInterval(seconds: number): void {
    tellJournal({ do: 'interval', draftId: this.state.draftId, seconds })
    this.change({ reach: { ...this.state.reach, interval: seconds, pointsOff: seconds === 0 } })
  }

  private hear(message: FromJournal): void {
    const { draftId } = this.state
    if (message.say === 'point' && message.draftId === draftId && this.counted && message.edits)
      countPoint(message.edits, message.bytes)
    const heard = afterHearing(this.state, message, this.times)
    if (heard && 'progress' in heard) this.progress(heard.progress)
    else if (heard) this.change(heard.change)
    if (message.say === 'closed' && message.draftId === draftId) this.closed?.()
    if (message.say !== 'saved' && message.say !== 'save refused') return
    // Copies belong to no draft; whoever asked for one waits for its answer by its key.
    if (message.draftId !== null && message.draftId !== draftId) return
    // Times of what is in a version are not asked for again.
    if (message.say === 'saved' && message.draftId)
      while (this.times.length > 1 && this.times[1]!.seq <= message.seq) this.times.shift()
    this.waiting.get(message.key)?.settle(message.say === 'saved' ? message.saved : message.problem)
    this.waiting.delete(message.key)
  }
}

export const isProblem = (answer: Saved | Problem): answer is Problem => 'status' in answer
