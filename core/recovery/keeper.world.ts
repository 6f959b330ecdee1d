// A world for the keeper to live in, for its tests: several devices with disks that outlive everything but their
// own loss, tabs that crash, freeze and thaw, a network that loses, doubles and delays, clocks that jump, disks
// that refuse, and shared storage. The keeper and the server's rule in it are the real ones; what is made here is
// only what fails. Shared storage is in memory (the rule of admission.ts on rows), or a real server.
import fc from 'fast-check'
import type { DraftContent, Heartbeat, PointTaken, Problem, Saved, Standing } from '../contract'
import { admit, mayWrite, takeOver } from './admission'
import { nothingBeyond } from './beyond'
import { type Digest, genesis, recordOf } from './chain'
import { putTogether } from './gathering'
import { type ReadChain, readChain, type StoredRecord } from './journal'
import { Keeper, settleEvery } from './keeper'
import { Cleared, type Disk, type DiskChange, Fault, type SharedStorage, Superseded } from './ports'
import type { FromJournal, OpenedDraft, StoredDraft, StoredSave } from './protocol'

export const person = '00000000-0000-4000-8000-00000000000a'
const problem = (type: Problem['type'], title: string): Fault => new Fault({ type, title, status: 0 })

// -- A disk ----------------------------------------------------------------------------------------

export class MemoryDisk implements Disk {
  rowsByDraft = new Map<string, StoredRecord[]>()
  draftRows = new Map<string, StoredDraft>()
  saveRows = new Map<string, StoredSave>()
  orders = 0
  refusing = false
  constructor(readonly id: string) {}
  deviceId = async () => this.id
  draft = async (id: string) => this.draftRows.get(id)
  drafts = async () => [...this.draftRows.values()]
  rows = async (id: string) => this.rowsByDraft.get(id) ?? []
  base = async () => null
  saves = async () => [...this.saveRows.values()].sort((a, b) => a.order - b.order)
  async commit({ expect, drafts, records, forget, saves, endSaves }: DiskChange): Promise<void> {
    if (this.refusing) throw new Error('The disk refuses.')
    for (const [id, generation, head] of expect) {
      const there = this.draftRows.get(id)
      if ((there?.generation ?? null) !== generation || (there && head && there.head !== head))
        throw there ? new Superseded() : new Cleared()
    }
    for (const id of forget ?? []) {
      this.draftRows.delete(id)
      this.rowsByDraft.delete(id)
    }
    for (const draft of drafts ?? []) this.draftRows.set(draft.id, draft)
    for (const row of records ?? []) {
      const rows = this.rowsByDraft.get(row.draftId) ?? []
      const others = rows.filter(({ seq, digest }) => seq !== row.seq || digest !== row.digest)
      this.rowsByDraft.set(row.draftId, [...others, row])
    }
    for (const save of saves ?? []) this.saveRows.set(save.key, save.order ? save : { ...save, order: ++this.orders })
    for (const key of endSaves ?? []) this.saveRows.delete(key)
  }
  /** Marks that can be had from it. */
  marks(): Set<string> {
    const marks = new Set<string>()
    for (const draft of this.draftRows.values())
      for (const mark of marksOf(this.chain(draft).links.map(({ text }) => text))) marks.add(mark)
    for (const save of this.saveRows.values()) for (const mark of textOf(save.bytes)) marks.add(mark)
    return marks
  }
  chain = (row: StoredDraft): ReadChain =>
    readChain(this.rowsByDraft.get(row.id) ?? [], row.baseVersionId, { seq: row.journalSeq, digest: row.head })
}

export const marksOf = (lines: readonly string[]): string[] =>
  lines.flatMap((line) => (recordOf(line).edit as { mark?: string }).mark ?? [])
export const bytesOfText = (marks: readonly string[]): Uint8Array => new TextEncoder().encode(JSON.stringify(marks))
export const textOf = (bytes: Uint8Array): string[] => JSON.parse(new TextDecoder().decode(bytes)) as string[]

// -- Shared storage in memory -----------------------------------------------------------------------

interface Row {
  epoch: number
  writerId: string | null
  pointSeq: number
  pointHead: Digest
  finished: boolean
  savedSeq: number
  savedHead: Digest | null
  journalSeq: number
  state: Standing['state']
  baseVersionId: string | null
  fileId: string | null
  lines: string[]
  deviceId: string
  deviceName: string
  marks: { seq: number; digest: Digest }[]
}

/** What the drafts' service and the one way in do, on maps instead of tables. */
export class MemoryStorage implements SharedStorage {
  readonly rows = new Map<string, Row>()
  readonly files = new Map<string, { id: string; name: string; versions: { id: string; marks: string[] }[] }>()
  private readonly keys = new Map<string, { fileId: string; index: number }>()
  private made = 0

  private standing(id: string): Standing {
    const row = this.rows.get(id)!
    const { epoch, writerId, pointSeq, pointHead, savedSeq, savedHead, state } = row
    const over = state === 'finished'
    return {
      epoch,
      writerId,
      deviceId: row.deviceId,
      deviceName: row.deviceName,
      pointSeq,
      pointHead,
      savedSeq,
      savedHead,
      state,
      keptUntil: null,
      over,
    }
  }
  private answer(id: string, verdict: PointTaken['verdict']): PointTaken {
    const standing = this.standing(id)
    return { verdict, standing, pointSeq: standing.pointSeq, at: new Date(0).toISOString(), pointWanted: false }
  }
  private begin(beat: Heartbeat): Row {
    const row: Row = {
      ...beat.sender!,
      pointSeq: 0,
      pointHead: genesis(beat.baseVersionId),
      finished: false,
      savedSeq: beat.savedSeq,
      savedHead: beat.savedHead ?? null,
      journalSeq: beat.journalSeq,
      state: 'open',
      baseVersionId: beat.baseVersionId,
      fileId: beat.fileId,
      lines: [],
      deviceId: beat.deviceId,
      deviceName: beat.deviceName,
      marks: [],
    }
    this.rows.set(beat.id, row)
    return row
  }
  private takeDown(row: Row, beat: Heartbeat): void {
    row.fileId = beat.fileId ?? row.fileId
    if (beat.savedSeq >= row.savedSeq) {
      row.savedSeq = beat.savedSeq
      row.savedHead = beat.savedHead ?? row.savedHead
    }
  }
  async heartbeat(id: string, beat: Heartbeat): Promise<PointTaken> {
    const row = this.rows.get(id) ?? this.begin(beat)
    if (!mayWrite(row, beat.sender!)) return this.answer(id, 'superseded')
    this.takeDown(row, beat)
    return this.answer(id, 'taken')
  }
  async point(id: string, body: Parameters<SharedStorage['point']>[1]): Promise<PointTaken & { sent: number }> {
    if (!('lines' in body)) throw new Error('Only a Jaula before epochs sends that.')
    const row = this.rows.get(id) ?? this.begin(body.heartbeat)
    const admitted = admit(row, body.heartbeat.sender, body.after, body.lines)
    if (admitted.verdict !== 'superseded') this.takeDown(row, body.heartbeat)
    if (admitted.verdict === 'taken')
      for (const { seq, text, digest } of admitted.fresh) {
        row.lines.push(text)
        row.pointSeq = seq
        row.pointHead = digest
        row.marks.push({ seq, digest })
      }
    return { ...this.answer(id, admitted.verdict), sent: 1 }
  }
  async takeOver(id: string, asked: { from: number; writerId: string; deviceId: string; deviceName: string }) {
    const row = this.rows.get(id)
    if (!row) throw problem('not-found', 'unknown')
    const epoch = takeOver(row, asked)
    if (epoch === null) return { taken: false, standing: this.standing(id) }
    const { writerId, deviceId, deviceName } = asked
    Object.assign(row, { epoch, writerId, deviceId, deviceName, state: 'open' })
    return { taken: true, standing: this.standing(id) }
  }
  async content(id: string): Promise<DraftContent> {
    const row = this.rows.get(id)
    if (!row) throw problem('not-found', 'unknown')
    return {
      draft: { baseVersionId: row.baseVersionId, fileId: row.fileId, mine: true } as DraftContent['draft'],
      standing: this.standing(id),
      lines: row.lines.slice(),
      marks: row.marks,
      points: [],
    }
  }
  async end(id: string, body: Parameters<SharedStorage['end']>[1]): Promise<void> {
    const row = this.rows.get(id) ?? (body.heartbeat && this.begin(body.heartbeat as Heartbeat))
    if (!row) throw problem('not-found', 'unknown')
    if (row.state === 'finished' && body.state === 'finished') return
    const sender = body.heartbeat?.sender
    if (sender && !mayWrite(row, sender)) throw problem('changed-meanwhile', 'gone on with elsewhere')
    if (row.state === 'finished' && body.state !== 'finished') throw problem('changed-meanwhile', 'finished')
    if (body.heartbeat) this.takeDown(row, body.heartbeat as Heartbeat)
    row.state = body.state
    row.finished = body.state === 'finished'
    // As the sweep does, a while later: what is finished needs no points.
    if (body.state === 'finished') {
      row.lines = []
      row.pointSeq = 0
      row.pointHead = genesis(row.baseVersionId)
    }
  }
  async save(save: StoredSave): Promise<Saved> {
    const marks = textOf(save.bytes)
    const earlier = this.keys.get(save.key)
    if (earlier) return this.saved(earlier.fileId, earlier.index)
    let file: { id: string; name: string; versions: { id: string; marks: string[] }[] }
    if ('shareId' in save.target) {
      const { name } = save.target
      if ([...this.files.values()].some((one) => one.name === name)) throw problem('name-taken', 'taken')
      file = { id: `file-${++this.made}`, name, versions: [] }
      this.files.set(file.id, file)
    } else {
      const there = this.files.get(save.target.fileId ?? '')
      if (!there) throw problem('not-found', 'no file')
      file = there
      const base = save.base && 'version' in save.base ? save.base.version : null
      if (file.versions.at(-1)!.id !== base) throw problem('newer-version', 'newer')
    }
    file.versions.push({ id: `version-${++this.made}`, marks })
    this.keys.set(save.key, { fileId: file.id, index: file.versions.length - 1 })
    const row = save.draftId ? this.rows.get(save.draftId) : undefined
    if (row && row.epoch === save.epoch && row.writerId === save.writerId) {
      row.fileId = file.id
      if (save.seq >= row.savedSeq) Object.assign(row, { savedSeq: save.seq, savedHead: save.head })
    }
    return this.saved(file.id, file.versions.length - 1)
  }
  private saved(fileId: string, index: number): Saved {
    const file = this.files.get(fileId)!
    const version = { id: file.versions[index]!.id, number: index + 1 }
    return { file: { id: fileId, name: file.name }, version } as unknown as Saved
  }
  /** What shared storage has of a draft becomes a file, and the draft is finished, as from Rescue on any device. */
  async saveFromRescue(id: string): Promise<void> {
    const row = this.rows.get(id)
    if (!row || row.finished || row.lines.length === 0) return
    const file = {
      id: `file-${++this.made}`,
      name: `rescued ${this.made}`,
      versions: [] as { id: string; marks: string[] }[],
    }
    file.versions.push({ id: `version-${++this.made}`, marks: marksOf(row.lines) })
    this.files.set(file.id, file)
    await this.end(id, { state: 'finished' })
  }
  /** Marks in any draft that is there, or in the newest version of any file. */
  marks(): Set<string> {
    const marks = new Set<string>()
    for (const { lines } of this.rows.values()) for (const mark of marksOf(lines)) marks.add(mark)
    for (const { versions } of this.files.values()) for (const mark of versions.at(-1)?.marks ?? []) marks.add(mark)
    return marks
  }
}

// -- Devices, tabs, the way between ------------------------------------------------------------------

export interface Device {
  disk: MemoryDisk
  online: boolean
  clockAhead: number
  tabs: Tab[]
  name: string
}

interface Shown {
  journal: number
  point: number
  version: number
}

/** A tab with its page, as far as keeping is concerned: a text of marks that only grows. */
export class Tab {
  readonly keeper: Keeper
  alive = true
  frozen = false
  draftId: string | null = null
  marks: string[] = []
  /** How many of the marks the base brought. */
  readonly said: FromJournal[] = []
  shown: Shown = { journal: 0, point: 0, version: 0 }
  taken = false
  private late = 0
  fileId: string | null = null
  head: string | null = null
  private timers: { at: number; go: () => void }[] = []
  private thaw: (() => void)[] = []
  private readonly locks = new Set<string>()

  constructor(
    readonly world: World,
    readonly device: Device,
  ) {
    const { disk } = device
    const held = <T>(answer: Promise<T>) =>
      this.awake()
        .then(() => answer)
        .then(async (value) => {
          await this.awake()
          return value
        })
    const guarded =
      <A extends unknown[], T>(act: (...given: A) => Promise<T>) =>
      (...given: A) =>
        held(this.busy(act(...given)))
    const way =
      <A extends unknown[], T>(act: (...given: A) => Promise<T>) =>
      (...given: A) =>
        held(this.busy(world.send(device, () => act(...given))))
    const storage = world.storageOf(device)
    this.keeper = new Keeper({
      disk: {
        deviceId: () => disk.deviceId(),
        draft: guarded((id) => disk.draft(id)),
        drafts: guarded(() => disk.drafts()),
        rows: guarded((id) => disk.rows(id)),
        base: guarded(() => disk.base()),
        saves: guarded(() => disk.saves()),
        commit: async (change) => {
          await this.awake()
          if (!this.alive) throw new Error('This tab is gone.')
          await this.busy(disk.commit(change))
          await this.awake()
        },
      },
      storage: {
        point: way((id, body) => storage.point(id, body)),
        heartbeat: way((id, body) => storage.heartbeat(id, body)),
        takeOver: way((id, body) => storage.takeOver(id, body)),
        content: way((id) => storage.content(id)),
        end: way((id, body) => storage.end(id, body)),
        save: way((save) => storage.save(save)),
      },
      clock: {
        now: () => 1_700_000_000_000 + world.time + device.clockAhead,
        steady: () => world.time,
        sleep: (milliseconds) => new Promise((go) => this.timers.push({ at: world.time + milliseconds, go })),
      },
      lock: {
        take: async (draftId, force) => {
          const others = () => device.tabs.find((tab) => tab !== this && tab.locks.has(draftId))
          // Whoever has it may be about to go: it is waited for, for a while.
          for (let waits = 0; others() && !force && waits < 3; waits++)
            await new Promise<void>((go) => this.timers.push({ at: world.time + 1000, go }))
          const other = others()
          if (other && !force) return null
          other?.locks.delete(draftId)
          this.locks.add(draftId)
          return () => this.locks.delete(draftId)
        },
        held: async () => new Set(device.tabs.flatMap((tab) => [...tab.locks])),
      },
      newId: () => world.id(),
      say: (message) => this.hear(message),
      tell: (message) => {
        for (const tab of device.tabs)
          if (tab !== this && tab.alive) void tab.awake().then(() => tab.keeper.followed(message))
      },
    })
    void this.tell({ do: 'start', personId: person, deviceName: device.name, interval: 5 })
  }

  /** What is under way counts, so that the world knows when it is still; what a frozen tab waits for does not. */
  private async busy<T>(work: Promise<T>): Promise<T> {
    this.world.under++
    try {
      return await work
    } finally {
      this.world.under--
    }
  }
  awake(): Promise<void> {
    return this.alive && this.frozen ? new Promise((go) => this.thaw.push(go)) : Promise.resolve()
  }
  unfreeze(): void {
    this.frozen = false
    for (const go of this.thaw.splice(0)) go()
  }
  crash(): void {
    this.alive = false
    this.frozen = true
    this.locks.clear()
    this.device.tabs = this.device.tabs.filter((tab) => tab !== this)
  }
  tell(message: Parameters<Keeper['hear']>[0]): Promise<void> {
    return this.awake().then(() => (this.alive ? this.keeper.hear(message) : undefined))
  }
  runTimers(): void {
    if (this.frozen || !this.alive) return
    for (const timer of this.timers.splice(0)) timer.at <= this.world.time ? timer.go() : this.timers.push(timer)
  }

  private hear(message: FromJournal): void {
    if (!this.alive) return
    this.said.push(message)
    if (!('draftId' in message)) return
    const aside = this.aside.get(message.draftId ?? '')
    if (aside) return this.hearAside(aside, message)
    if (message.draftId !== this.draftId) return
    const { world, shown, taken } = this
    switch (message.say) {
      case 'journaled':
        shown.journal = message.seq
        for (const mark of this.upTo(message.seq)) world.acknowledged.set(mark, this.device.name)
        if (!taken) world.claims(this, 'device', this.upTo(message.seq))
        return
      case 'point':
        shown.point = message.seq
        for (const mark of this.upTo(message.seq)) world.onStorage.add(mark)
        if (!taken) world.claims(this, 'shared storage', this.upTo(message.seq))
        return
      case 'saved':
        shown.version = Math.max(shown.version, message.seq)
        this.fileId = message.saved.file.id
        this.head = message.saved.version.id
        for (const mark of this.upTo(message.seq)) world.onStorage.add(mark)
        world.claims(this, 'a version', this.upTo(message.seq))
        return
      case 'superseded':
        this.taken = true
        return
      case 'opened':
        if (message.elsewhere || message.stale) this.draftId = null
    }
  }
  private upTo = (seq: number) => this.marks.slice(0, seq)
  /** What is open in this tab beside what it shows, and all that was written in it. */
  readonly aside = new Map<string, readonly string[]>()
  private hearAside(marks: readonly string[], message: FromJournal): void {
    const { world } = this
    if (message.say !== 'journaled' && message.say !== 'point' && message.say !== 'saved') return
    const confirmed = marks.slice(0, message.seq)
    if (message.say === 'journaled') for (const mark of confirmed) world.acknowledged.set(mark, this.device.name)
    else for (const mark of confirmed) world.onStorage.add(mark)
    const where = { journaled: 'device', point: 'shared storage', saved: 'a version' } as const
    world.claims(this, where[message.say], confirmed)
  }
  /** Shows other work, new or of this tab, and leaves what it shows open beside it. */
  async putAside(draftId: string): Promise<void> {
    if (this.frozen) return
    if (this.draftId && this.draftId !== draftId && !this.taken) this.aside.set(this.draftId, this.marks)
    this.draftId = null
    if (this.aside.delete(draftId)) await this.tell({ do: 'leave', draftId })
    return this.open(draftId)
  }

  /** Opens a draft as the application does: puts together what is known, and hands it to the keeper. */
  async open(draftId: string, force = false, again = false): Promise<void> {
    const { disk } = this.device
    const stored = disk.draftRows.get(draftId) ?? null
    let content: DraftContent | null = null
    try {
      content = await this.world.send(this.device, () => this.world.storageOf(this.device).content(draftId))
    } catch (error) {
      if (!(error instanceof Fault)) throw error
    }
    if (!this.alive) return
    const put = putTogether(stored, stored ? disk.chain(stored) : { links: [], damage: null }, content, again)
    if (put.parted) {
      await this.tell({ do: 'settle', draftId })
      return this.open(draftId, force, true)
    }
    // What is finished is in a version of its file.
    if (put.over || (content?.standing.state === 'finished' && !put.seen)) return
    if (!stored && !content && (again || !this.world.blank.has(draftId))) return
    this.draftId = draftId
    this.marks = marksOf(put.chain.map(({ text }) => text))
    this.taken = false
    this.late = 0
    this.shown = { journal: 0, point: put.pointSeq, version: put.savedSeq }
    this.fileId = content?.draft.fileId ?? stored?.fileId ?? null
    this.head = stored?.headVersionId ?? null
    const draft: OpenedDraft['draft'] = {
      id: draftId,
      personId: person,
      kind: 'document',
      bornAt: new Date(0).toISOString(),
      baseVersionId: put.baseVersionId,
      fileId: this.fileId,
      fileName: null,
      headVersionId: this.head,
      savedSeq: put.savedSeq,
      savedHead: put.savedHead,
      journalSeq: put.onDevice,
      head: genesis(put.baseVersionId),
      pointSeq: put.pointSeq,
      lastEditAt: null,
      opening: '',
      beyond: nothingBeyond,
      state: 'open',
      keptUntil: null,
      model: null,
      resting: null,
      forkOf: stored?.forkOf ?? null,
    }
    const lines = put.chain.map(({ text }) => text)
    await this.tell({
      do: 'open',
      draft,
      base: null,
      lines,
      seen: put.seen,
      from: put.epoch,
      takeOver: force,
    })
  }
  type(): void {
    // Some letters are on their way still when a page is told to write no more.
    if (!this.draftId || this.frozen || (this.taken && this.late++ > 2)) return
    const mark = this.world.mark()
    this.marks.push(mark)
    const record = { seq: this.marks.length, at: this.world.time, edit: { mark, steps: [] } }
    void this.tell({ do: 'edit', draftId: this.draftId, record, opening: '', resting: null })
  }
  save(): void {
    if (!this.draftId || this.taken || this.frozen || this.marks.length === 0) return
    const target = this.fileId
      ? ('own file' as const)
      : { shareId: this.world.shareId, folderId: null, name: `${this.world.id()}.bin` }
    void this.tell({
      do: 'save',
      save: {
        key: this.world.id(),
        draftId: this.draftId,
        personId: person,
        seq: this.marks.length,
        at: this.world.time,
        reason: 'saved',
        bytes: bytesOfText(this.marks),
        target,
      },
    })
  }
  close(): void {
    if (!this.draftId || this.frozen) return
    const saved = this.shown.version >= this.marks.length
    void this.tell({ do: 'close', draftId: this.draftId, how: saved ? 'finished' : 'closed' })
    this.draftId = null
  }
}

export class World {
  time = 0
  under = 0
  readonly devices: Device[]
  readonly draftId: string
  shareId = 'share'
  /** Marks that a disk acknowledged, and whose. Marks that shared storage acknowledged. */
  readonly acknowledged = new Map<string, string>()
  readonly onStorage = new Set<string>()
  readonly lost = new Set<string>()
  readonly falseClaims: string[] = []
  /** Drafts that begin blank. */
  readonly blank = new Set<string>()
  /** What the way does with the next messages. */
  weather: ('lose' | 'lose the answer' | 'double' | 'late' | 'slow' | 'fine')[] = []
  private slow: (() => void)[] = []
  private late: (() => Promise<unknown>)[] = []
  private ids = 0
  private marksMade = 0

  constructor(
    /** One server each, as far as there are several. */
    readonly storages: readonly SharedStorage[],
    devices: number,
    private readonly inStorage: (() => Set<string>) | null,
    private readonly idOf = (n: number) => `00000000-0000-4000-8000-${n.toString(16).padStart(12, '0')}`,
  ) {
    this.draftId = this.id()
    this.devices = Array.from({ length: devices }, (_, index) => this.device(index))
  }
  private device(index: number): Device {
    return { disk: new MemoryDisk(this.id()), online: true, clockAhead: 0, tabs: [], name: `device ${index + 1}` }
  }
  storageOf(device: Device): SharedStorage {
    return this.storages[Math.max(0, this.devices.indexOf(device)) % this.storages.length]!
  }
  id(): string {
    return this.idOf(++this.ids)
  }
  mark(): string {
    return `m${++this.marksMade}`
  }

  async send<T>(device: Device, act: () => Promise<T>): Promise<T> {
    const away = () => problem('storage-unavailable', 'Shared storage does not answer.')
    if (!device.online) throw away()
    const weather = this.weather.shift() ?? 'fine'
    if (weather === 'lose') throw away()
    if (weather === 'late') {
      this.late.push(act)
      throw away()
    }
    if (weather === 'slow') {
      // What is only waited for is nothing that moves.
      this.under--
      await new Promise<void>((go) => this.slow.push(go))
      this.under++
    }
    const answer = await act()
    if (weather === 'double') this.late.push(act)
    if (weather === 'lose the answer') throw away()
    return answer
  }
  /** What was on its way all the time arrives. */
  async arrive(): Promise<void> {
    for (const act of this.late.splice(0)) await act().catch(() => {})
  }

  /** Something was shown as safe: it has to be there at this very moment. */
  claims(tab: Tab, where: 'device' | 'shared storage' | 'a version', marks: readonly string[]): void {
    if (where !== 'device' && !this.inStorage) return
    const there = where === 'device' ? tab.device.disk.marks() : this.inStorage!()
    const versions = where === 'device' ? new Set<string>() : there
    for (const mark of marks)
      if (!there.has(mark) && !versions.has(mark) && !(where === 'device' && this.inStorage?.().has(mark)))
        this.falseClaims.push(`${mark} is not on ${where} of ${tab.device.name} at ${this.time}`)
  }

  newTab(device: Device): Tab {
    const tab = new Tab(this, device)
    device.tabs.push(tab)
    return tab
  }
  /** Somebody saves from Rescue what shared storage has. */
  async rescue(draftId: string): Promise<void> {
    const [storage] = this.storages
    if (storage instanceof MemoryStorage) await storage.saveFromRescue(draftId)
  }
  lose(device: Device): void {
    for (const tab of [...device.tabs]) tab.crash()
    for (const mark of device.disk.marks()) this.lost.add(mark)
    for (const [mark, name] of this.acknowledged) if (name === device.name) this.lost.add(mark)
    this.devices[this.devices.indexOf(device)] = { ...this.device(0), name: `${device.name} anew` }
  }
  get tabs(): Tab[] {
    return this.devices.flatMap(({ tabs }) => tabs)
  }

  /** Until nothing moves any more of itself. */
  async still(): Promise<void> {
    for (let quiet = 0; quiet < 4; ) {
      await new Promise((go) => setImmediate(go))
      quiet = this.under === 0 ? quiet + 1 : 0
    }
  }
  async pass(milliseconds: number, step = 1000): Promise<void> {
    await this.still()
    const end = this.time + milliseconds
    while (this.time < end) {
      this.time = Math.min(end, this.time + step)
      for (const go of this.slow.splice(0)) go()
      for (const tab of this.tabs) {
        tab.runTimers()
        if (!tab.frozen) void tab.keeper.tick()
      }
      await this.still()
    }
  }
  /** Everybody is back, and everything has its time. */
  async calm(): Promise<void> {
    this.weather = []
    await this.arrive()
    for (const device of this.devices) {
      device.online = true
      device.disk.refusing = false
      for (const tab of device.tabs) tab.unfreeze()
      if (device.tabs.length === 0) this.newTab(device)
    }
    await this.pass(200_000, 5000)
    // What pages still had open is left; what they left is settled.
    for (const device of this.devices) {
      for (const tab of [...device.tabs]) tab.crash()
      this.newTab(device)
    }
    await this.pass(3 * settleEvery, 5000)
  }
}

// -- What happens ------------------------------------------------------------------------------------

const acts = {
  type: (world: World, n: number) => {
    for (const tab of world.tabs) for (let letter = 0; letter <= n % 3; letter++) tab.type()
  },
  'take over': (world: World, n: number) => {
    const device = world.devices[n % world.devices.length]!
    void world
      .newTab(device)
      .open(world.draftId, true)
      .catch(() => {})
  },
  save: (world: World, n: number) => world.tabs[n % Math.max(1, world.tabs.length)]?.save(),
  close: (world: World, n: number) => world.tabs[n % Math.max(1, world.tabs.length)]?.close(),
  crash: (world: World, n: number) => world.tabs[n % Math.max(1, world.tabs.length)]?.crash(),
  freeze: (world: World, n: number) => {
    const tab = world.tabs[n % Math.max(1, world.tabs.length)]
    if (tab) tab.frozen = true
  },
  thaw: (world: World) => {
    for (const tab of world.tabs) tab.unfreeze()
  },
  open: (world: World, n: number) => {
    const device = world.devices[n % world.devices.length]!
    const tab = device.tabs.find((one) => !one.draftId && !one.frozen) ?? world.newTab(device)
    void tab.open(world.draftId, n % 3 === 0).catch(() => {})
  },
  'open a fork': (world: World, n: number) => {
    const device = world.devices[n % world.devices.length]!
    const fork = [...device.disk.draftRows.keys()].find((id) => id !== world.draftId)
    if (fork)
      void world
        .newTab(device)
        .open(fork, true)
        .catch(() => {})
  },
  'put aside': (world: World, n: number) => {
    const tab = world.tabs[n % Math.max(1, world.tabs.length)]
    if (!tab) return
    const beside = [...tab.aside.keys()][n % 2]
    const id = beside ?? world.id()
    if (!beside) world.blank.add(id)
    void tab.putAside(id).catch(() => {})
  },
  offline: (world: World, n: number) => {
    world.devices[n % world.devices.length]!.online = false
  },
  online: (world: World) => {
    for (const device of world.devices) device.online = true
  },
  weather: (world: World, n: number) => {
    world.weather = (['lose', 'lose the answer', 'double', 'late', 'fine'] as const).toSorted(
      (a, b) => ((a.length * (n + 1)) % 7) - ((b.length * (n + 1)) % 7),
    )
  },
  arrive: (world: World) => world.arrive(),
  'clock jump': (world: World, n: number) => {
    world.devices[n % world.devices.length]!.clockAhead += (n % 2 ? 1 : -1) * n * 86_400_000
  },
  'disk refuses': (world: World, n: number) => {
    world.devices[n % world.devices.length]!.disk.refusing = true
  },
  'disk works': (world: World) => {
    for (const { disk } of world.devices) disk.refusing = false
  },
  'saved from Rescue': (world: World) => world.rescue(world.draftId),
  'lose a device': (world: World, n: number) => {
    if (n % 4 === 0) world.lose(world.devices[n % world.devices.length]!)
  },
  wait: (world: World, n: number) => world.pass(n % 2 ? 100 : 1000 * (1 + (n % 8)), n % 2 ? 50 : 1000),
}
const usual = ['type', 'type', 'type', 'wait', 'wait', 'take over', 'freeze', 'thaw', 'save', 'online'] as const

/** Something that happens, and which of the tabs or devices it happens to. */
export type Act = [keyof typeof acts, number]

export const anyHistory = (longest: number): fc.Arbitrary<Act[]> =>
  fc.array(
    fc.tuple(
      fc.oneof(
        { weight: 3, arbitrary: fc.constantFrom(...usual) },
        fc.constantFrom(...(Object.keys(acts) as (keyof typeof acts)[])),
      ),
      fc.nat(30),
    ),
    { maxLength: longest, size: 'max' },
  )

export async function happen(world: World, ...[name, n]: Act): Promise<void> {
  await acts[name](world, n)
  await world.still()
}
