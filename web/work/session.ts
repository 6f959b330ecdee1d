// One draft that is open in this tab: what was edited, how far each edit has got, and its saves.
// The content itself belongs to the editor; it hands its edits over and is asked for its bytes.

import { uuidv7 } from 'uuidv7'
import { type FileWords, noWords } from '../../core/content/words'
import {
  type Beyond,
  type DraftKind,
  type DraftModel,
  type JournalRecord,
  type Problem,
  type Reason,
  type Saved,
  standardInterval,
  type Version,
} from '../../core/contract'
import { nothingBeyond } from '../../core/recovery/beyond'
import { genesis } from '../../core/recovery/chain'
import { type Followed, type FromJournal, followChannel, type SavePlace } from '../../core/recovery/protocol'
import { claimsTooMuch, type ReachFacts } from '../../core/recovery/reach'
import { countEditNow, countPoint } from '../app/rhythm'
import { told } from '../words'
import type { BroughtBack, Content, Selected, TakenIn, TakenPart, Work } from './content'
import type { Known } from './gather'
import { onJournal, tellJournal } from './journal'

export interface SavedFile {
  id: string
  name: string
  shareId: string
  folderId: string | null
}

export interface SessionState {
  draftId: string
  kind: DraftKind
  bornAt: string
  file: SavedFile | null
  /** The newest version that the work is based on. */
  head: Version | null
  reach: ReachFacts
  /** The draft is open in another tab of this browser, which keeps it. */
  elsewhere: boolean
  /** Somebody went on with it elsewhere: who, and what only this page had by then. */
  taken: { by: string | null; fork: { id: string; beyond: Beyond } | null } | null
  /** The last save that the server refused, until the next one. */
  refusal: Problem | null
  ready: boolean
  /** Something that another tab did could not be followed. */
  missed: boolean
}

/** The state of a session as far as the frame around the work depends on it. */
export type SessionOutline = Omit<SessionState, 'reach'> & {
  unsaved: boolean
  /** The last edit that a recovery point holds. */
  pointSeq: number
}

/** The progress of typing is shown when it pauses this long, and at least this often; milliseconds. */
const pause = 150
const shownEvery = 1000
/** A cursor that stays for this long rests; milliseconds. */
const restsAfter = 300

export type SaveTarget = SavePlace | 'own file'

export interface Beginning {
  draftId: string
  kind: DraftKind
  personId: string
  bornAt: string
  file: SavedFile | null
  head: Version | null
  /** The version that the journal stands on, and its bytes; null for work that began blank. */
  base: { versionId: string; bytes: Uint8Array } | null
  /** Another tab of this browser has the draft: it is only shown here until that one is gone. */
  heldElsewhere?: boolean
  /** A draft to go on with. */
  continued: Continued | null
}

export interface Continued extends Known {
  /** Write here even if another tab has it. */
  takeOver: boolean
}

/** Only a build for measuring has this switch: what a keystroke costs without its protection. */
declare const __MEASURING__: boolean
const unprotected = __MEASURING__ && sessionStorage.getItem('jaula-bench-journal') === 'off'

export class DraftSession {
  state: SessionState
  private readonly listeners = new Set<() => void>()
  private readonly waiting = new Map<string, { settle: (saved: Saved | Problem) => void }>()
  private readonly stopListening: () => void
  private readonly following: BroadcastChannel
  private readonly times: { seq: number; at: number }[] = []
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
    const versionSeq = continued?.savedSeq ?? 0
    this.state = {
      draftId: beginning.draftId,
      kind: beginning.kind,
      bornAt: beginning.bornAt,
      file: beginning.file,
      head,
      elsewhere: beginning.heldElsewhere ?? false,
      taken: null,
      refusal: null,
      ready: false,
      missed: false,
      reach: {
        edit: { seq, at: lastAt },
        journal: { seq: 0, at: null, refused: null },
        point: {
          seq: Math.min(continued?.pointSeq ?? 0, seq),
          at: (continued?.pointSeq ?? 0) >= seq ? lastAt : null,
          refused: null,
        },
        waiting: { device: null, storage: null },
        interval: standardInterval,
        version: {
          seq: versionSeq,
          // The time of an edit before the last one is not known any more; none is claimed.
          at: versionSeq >= seq ? lastAt : null,
          savedAt: head ? Date.parse(head.at) : null,
          number: head?.number ?? null,
          author: head?.author.name ?? null,
        },
        waitingSave: null,
        server: 'there',
      },
    }
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
    if (unprotected) return
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
    this.progress(this.confirmed({ ...this.state.reach, edit: { seq, at } }))
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
  encode(): Promise<Uint8Array> {
    if (!this.content) throw new Error('Nothing is open.')
    this.settle()
    return this.content.encode()
  }

  get unsaved(): boolean {
    return !this.state.taken && this.state.reach.edit.seq > this.state.reach.version.seq
  }

  /**
   * Saves the work as it is at this moment.
   * @returns when the server answered, however much later that is; a refusal is an answer
   */
  async save(target: SaveTarget, reason: Reason = 'saved'): Promise<Saved | Problem> {
    if (!this.content) throw new Error('Nothing is open.')
    this.content.settle?.()
    const { seq } = this.state.reach.edit
    const key = uuidv7()
    const at = Date.now()
    this.change({ refusal: null, reach: { ...this.state.reach, waitingSave: { at, kept: false, delayed: null } } })
    let bytes: Uint8Array
    try {
      bytes = await this.content.encode()
    } catch (error) {
      this.change({ reach: { ...this.state.reach, waitingSave: null } })
      throw error
    }
    const answer = new Promise<Saved | Problem>((settle) => this.waiting.set(key, { settle }))
    tellJournal(
      {
        do: 'save',
        save: { key, draftId: this.state.draftId, personId: this.beginning.personId, seq, at, reason, bytes, target },
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

  /** Goes on in another file, or on a newer version of this one, with the content as it is. */
  adopt(file: SavedFile | null, head: Version | null): void {
    tellJournal({
      do: 'adopt',
      draftId: this.state.draftId,
      fileId: file?.id ?? null,
      fileName: file?.name ?? null,
      headVersionId: head?.id ?? null,
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
          seq: file ? this.state.reach.version.seq : 0,
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
    const taken = await this.content.takeIn(base, theirs, part)
    if (head && !('refused' in taken)) this.adopt(this.state.file, head)
    return taken
  }

  /** The work as it is now; null while nothing is open. */
  present() {
    this.content?.settle?.()
    return this.content?.present?.() ?? null
  }
  selectedNow(): Selected | null {
    return this.content?.selected?.() ?? null
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
      this.stopListening()
      this.following.close()
    })
  }

  /** Leaves the draft as it is, to be read anew; answers when the journal has let go of it. */
  leave(): Promise<void> {
    return new Promise<void>((resolve) => {
      this.closed = resolve
      tellJournal({ do: 'leave', draftId: this.state.draftId })
      setTimeout(resolve, 3000)
    }).then(() => {
      this.stopListening()
      this.following.close()
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
      this.progress({ ...reach, edit: { seq, at }, journal: { seq, at, refused: null } })
    }
  }

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener)
    return () => this.listeners.delete(listener)
  }
  snapshot = (): SessionState => this.state
  /** The state without the progress of each keystroke: the same object until something of it changes. */
  outline = (): SessionOutline => {
    const { reach, ...rest } = this.state
    const next: SessionOutline = { ...rest, unsaved: this.unsaved, pointSeq: reach.point.seq }
    const same = Object.entries(next).every(([key, value]) => this.lastOutline?.[key as keyof SessionOutline] === value)
    if (!same) this.lastOutline = next
    return this.lastOutline!
  }
  private lastOutline: SessionOutline | null = null
  private telling: ReturnType<typeof setTimeout> | undefined
  private pausing: ReturnType<typeof setTimeout> | undefined

  private change(change: Partial<SessionState>): void {
    this.state = { ...this.state, ...change }
    clearTimeout(this.telling)
    clearTimeout(this.pausing)
    this.telling = undefined
    this.pausing = undefined
    for (const listener of this.listeners) listener()
  }

  /** Progress of the typing: shown now and then, because showing it costs more than keeping it. */
  private progress(reach: ReachFacts): void {
    const before = this.state.reach
    const wasUnsaved = this.unsaved
    this.state = { ...this.state, reach }
    // What stops being true is taken back at once.
    if (claimsTooMuch(before, reach) || this.unsaved !== wasUnsaved) this.change({})
    else {
      clearTimeout(this.pausing)
      this.pausing = setTimeout(() => this.change({}), pause)
      this.telling ??= setTimeout(() => this.change({}), shownEvery)
    }
  }

  /** With the times of the oldest edits that each level has not confirmed. */
  private confirmed(reach: ReachFacts): ReachFacts {
    const since = (seq: number) =>
      seq >= reach.edit.seq ? null : (this.times.find((time) => time.seq > seq)?.at ?? reach.edit.at)
    const shared = Math.max(reach.point.seq, reach.version.seq)
    return { ...reach, waiting: { device: since(Math.max(reach.journal.seq, shared)), storage: since(shared) } }
  }

  /** How often points are taken, so that a late one is known. */
  setInterval(seconds: number): void {
    tellJournal({ do: 'interval', draftId: this.state.draftId, seconds })
    this.change({ reach: { ...this.state.reach, interval: seconds, pointsOff: seconds === 0 } })
  }

  /** The time of an edit, by its number. */
  private timeOf(seq: number): number | null {
    let found: number | null = null
    for (const time of this.times) if (time.seq <= seq) found = time.at
    return found
  }

  private hear(message: FromJournal): void {
    const { reach } = this.state
    if (message.say === 'server') return this.change({ reach: { ...reach, server: message.state } })
    if (message.say === 'refused')
      return this.change({ reach: { ...reach, journal: { ...reach.journal, refused: message.reason } } })
    // Copies belong to no draft; whoever asked for one waits for its answer by its key.
    if ((message.say === 'saved' || message.say === 'save refused') && message.draftId === null) {
      this.waiting.get(message.key)?.settle(message.say === 'saved' ? message.saved : message.problem)
      this.waiting.delete(message.key)
      return
    }
    if (!('draftId' in message) || message.draftId !== this.state.draftId) return
    switch (message.say) {
      case 'opened':
        // What was only shown so far, or went on in another tab meanwhile, is opened anew before it is written in.
        if (message.stale || (this.state.elsewhere && !message.elsewhere)) return this.change({ missed: true })
        return this.change({ elsewhere: message.elsewhere, ready: true })
      case 'journaled':
        return this.progress(this.confirmed({ ...reach, journal: { seq: message.seq, at: message.at, refused: null } }))
      case 'point': {
        if (this.counted && message.edits) countPoint(message.edits, message.bytes)
        const at = this.timeOf(message.seq)
        this.change({ reach: this.confirmed({ ...reach, point: { seq: message.seq, at, refused: null } }) })
        return
      }
      case 'point refused':
        return this.change({ reach: { ...reach, point: { ...reach.point, refused: message.reason } } })
      case 'superseded':
        return this.change({ taken: { by: message.by, fork: message.fork ?? this.state.taken?.fork ?? null } })
      case 'save delayed':
        if (reach.waitingSave)
          this.change({ reach: { ...reach, waitingSave: { ...reach.waitingSave, delayed: told(message.problem) } } })
        return
      case 'save kept':
        if (reach.waitingSave) this.change({ reach: { ...reach, waitingSave: { ...reach.waitingSave, kept: true } } })
        return
      case 'saved': {
        const { file, version } = message.saved
        this.change({
          file: { id: file.id, name: file.name, shareId: file.shareId, folderId: file.folderId },
          head: version,
          refusal: null,
          reach: this.confirmed({
            ...reach,
            waitingSave: null,
            version: {
              seq: message.seq,
              at: this.timeOf(message.seq),
              savedAt: Date.parse(version.at),
              number: version.number,
              author: version.author.name,
            },
          }),
        })
        // Times of what is in a version are not asked for again.
        while (this.times.length > 1 && this.times[1]!.seq <= message.seq) this.times.shift()
        this.waiting.get(message.key)?.settle(message.saved)
        this.waiting.delete(message.key)
        return
      }
      case 'save refused':
        this.change({ refusal: message.problem, reach: { ...reach, waitingSave: null } })
        this.waiting.get(message.key)?.settle(message.problem)
        this.waiting.delete(message.key)
        return
      case 'closed':
        this.closed?.()
    }
  }
}

export const isProblem = (answer: Saved | Problem): answer is Problem => 'status' in answer
