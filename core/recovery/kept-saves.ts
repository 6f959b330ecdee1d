// Saves that are completed exactly once. A save is committed on the device with a key of its own before it
// is sent; the key makes a repetition harmless. It ends only when shared storage made its version, or gave
// one of the answers below for it, and then its work is a draft. Everything else is tried again, in the order
// in which the saves were made, with growing pauses, whatever the status was and across restarts.
import type { Problem, ProblemType } from '../contract'
import { nothingBeyond } from './beyond'
import type { HeldDraft } from './held-draft'
import { readChain } from './journal'
import { Cleared, Fault, type Ports, Superseded } from './ports'
import type { AskedSave, SaveBase, StoredDraft, StoredSave } from './protocol'

/** Answers that no repetition changes. */
const final: readonly ProblemType[] = ['name-refused', 'convention-refused', 'not-allowed', 'not-found', 'too-large']
/** Answers that somebody has to decide about: another name, or merging with what is there. */
const toDecide: readonly ProblemType[] = ['newer-version', 'name-taken']

const firstPause = 1_000
const longestPause = 120_000

export interface SavesKeeping {
  personId(): string
  paused(): boolean
  /** The draft that this page writes, or null. */
  held(draftId: string): HeldDraft | null
  reached(state: 'there' | 'away' | 'signed out'): void
  failed(error: unknown): boolean
  refused(error: unknown): void
}

const isPlace = (target: StoredSave['target']): target is Extract<StoredSave['target'], { shareId: string }> =>
  'shareId' in target

export class KeptSaves {
  private delivering: Promise<void> | null = null
  /** By the clock that never jumps. */
  private readonly notBefore = new Map<string, number>()
  /** Saves that pages of this worker wait for. */
  private readonly asked = new Set<string>()
  /** Saves that the device did not keep; they go out from memory. */
  private readonly unkept: StoredSave[] = []

  constructor(
    private readonly ports: Ports,
    private readonly keeping: SavesKeeping,
  ) {}

  /** Keeps a save, and begins to send. Its base is settled now, whatever becomes of the draft afterwards. */
  async accept({ copy, baseId, type, writtenAs, target, ...asked }: AskedSave): Promise<void> {
    const { disk, say } = this.ports
    this.asked.add(asked.key)
    const held = asked.draftId && !copy ? this.keeping.held(asked.draftId) : null
    await held?.settleDown()
    const waiting = await disk.saves().catch(() => this.unkept)
    const before = held && waiting.filter((one) => one.draftId === held.id && !one.refused).at(-1)
    const row = held?.row
    const base: SaveBase = copy
      ? baseId
        ? { version: baseId }
        : null
      : target !== 'own file' && 'shareId' in target
        ? null
        : before
          ? { after: before.key }
          : row?.headVersionId
            ? { version: row.headVersionId }
            : null
    const save: StoredSave = {
      ...asked,
      draftId: copy ? null : asked.draftId,
      order: 0,
      head: held && held.end.seq === asked.seq ? held.end.digest : await headOf(held, asked.seq),
      epoch: row?.epoch ?? 0,
      writerId: row?.writerId ?? null,
      base,
      target:
        target === 'own file'
          ? {
              fileId: row?.fileId ?? null,
              name: row?.fileName ?? null,
              ...(type && { type }),
              ...(writtenAs && { writtenAs }),
            }
          : 'shareId' in target
            ? target
            : { fileId: target.fileId, name: target.name },
      tries: 0,
      refused: null,
    }
    try {
      await disk.commit({ expect: [], saves: [save] })
      say({ say: 'save kept', draftId: save.draftId, key: save.key })
    } catch (error) {
      this.keeping.refused(error)
      this.unkept.push({ ...save, order: (waiting.at(-1)?.order ?? 0) + 1 })
    }
    await this.deliver()
  }

  /** Sends what waits and is due. */
  deliver(): Promise<void> {
    this.delivering ??= this.run()
      .catch(() => {})
      .finally(() => {
        this.delivering = null
      })
    return this.delivering
  }

  /** Sends what waits now, without regard to pauses. */
  async tryNow(): Promise<void> {
    this.notBefore.clear()
    await this.deliver()
  }

  private async run(): Promise<void> {
    const tried = new Set<string>()
    for (;;) {
      const save = await this.next(tried)
      if (!save || this.keeping.paused()) return
      tried.add(save.key)
      await this.send(save)
    }
  }

  /** The first save that may go out: the oldest of its draft, its base known, its pause over. */
  private async next(tried: ReadonlySet<string>): Promise<StoredSave | null> {
    const kept = await this.ports.disk.saves().catch(() => [])
    const waiting = [...kept, ...this.unkept].sort((a, b) => a.order - b.order)
    const blocked = new Set<string>()
    const now = this.ports.clock.steady()
    // Another live page sends its own; it would not know what was changed of its draft.
    const elsewhere = await this.ports.lock.held().catch(() => new Set<string>())
    for (const save of waiting) {
      if (save.draftId && elsewhere.has(save.draftId) && !this.keeping.held(save.draftId)) continue
      if (save.personId !== this.keeping.personId() || save.refused) continue
      const free = !save.draftId || !blocked.has(save.draftId)
      if (free && !tried.has(save.key) && !isAfter(save.base) && (this.notBefore.get(save.key) ?? 0) <= now) return save
      if (save.draftId) blocked.add(save.draftId)
    }
    return null
  }

  private async send(save: StoredSave): Promise<void> {
    const { say, storage, clock } = this.ports
    try {
      const saved = await storage.save(save)
      this.keeping.reached('there')
      const versionId = saved.version.id
      const dependents = (await this.dependentsOf(save)).map((one) => ({
        ...one,
        base: { version: versionId },
        target: isPlace(one.target) ? one.target : { ...one.target, fileId: one.target.fileId ?? saved.file.id },
      }))
      const part = (row: StoredDraft): Partial<StoredDraft> => ({
        ...((isPlace(save.target) || baseOf(save) === row.headVersionId) && {
          fileId: saved.file.id,
          fileName: saved.file.name,
          headVersionId: versionId,
        }),
        ...(save.seq >= row.savedSeq && { savedSeq: save.seq, savedHead: save.head }),
        ...(save.seq >= row.journalSeq && { beyond: nothingBeyond }),
        refused: null,
      })
      const held = save.draftId ? this.keeping.held(save.draftId) : null
      // A page hears of its own saves, and of those that an earlier page of the same records made.
      const concerns = this.asked.has(save.key) || (!!held && (await held.has(save.seq, save.head)))
      await this.end(save, part, dependents)
      if (concerns) say({ say: 'saved', draftId: save.draftId, key: save.key, seq: save.seq, saved })
    } catch (error) {
      if (!(error instanceof Fault)) throw error
      const { problem } = error
      if (final.includes(problem.type) || toDecide.includes(problem.type)) {
        this.keeping.reached('there')
        return this.refuse(save, problem)
      }
      // Silence, and nobody being signed in, end for all saves at once, and cost none of them a try.
      if (!this.keeping.failed(error)) {
        await this.later(save)
        say({ say: 'save delayed', draftId: save.draftId, key: save.key, problem })
      }
      this.notBefore.set(save.key, clock.steady() + pauseOf(save.tries))
    }
  }

  private async later(save: StoredSave): Promise<void> {
    const again = { ...save, tries: save.tries + 1 }
    const index = this.unkept.findIndex(({ key }) => key === save.key)
    if (index >= 0) this.unkept[index] = again
    else await this.ports.disk.commit({ expect: [], saves: [again] }).catch(() => {})
  }

  private async dependentsOf(save: StoredSave): Promise<StoredSave[]> {
    const kept = await this.ports.disk.saves().catch(() => [])
    return [...kept, ...this.unkept].filter(({ base }) => isAfter(base) && base.after === save.key)
  }

  /** Shared storage will not make this version: the work stays a draft, and a copy stays where it is kept. */
  private async refuse(save: StoredSave, problem: Problem): Promise<void> {
    const dependents = await this.dependentsOf(save)
    const name = save.target.name
    const asking = this.asked.has(save.key)
    if (!save.draftId && !asking) {
      await this.ports.disk.commit({ expect: [], saves: [{ ...save, refused: problem }] })
    } else {
      // Later saves of the same work hold it, too, and are asked about in their turn; without a file they cannot be.
      const stay = isPlace(save.target) ? [] : dependents.map((one) => ({ ...one, base: save.base }))
      const gone = isPlace(save.target) ? dependents.map(({ key }) => key) : []
      const kept = await this.end(
        save,
        (row) => ({
          refused: { problem, name },
          ...(row.state === 'closed' && { state: 'open' as const, keptUntil: null }),
        }),
        stay,
        gone,
      )
      // No draft of this device holds the work: then its bytes do.
      if (!kept) await this.ports.disk.commit({ expect: [], saves: [{ ...save, refused: problem }] })
      for (const one of dependents)
        if (gone.includes(one.key)) this.ports.say({ say: 'save refused', draftId: one.draftId, key: one.key, problem })
    }
    if (asking) this.ports.say({ say: 'save refused', draftId: save.draftId, key: save.key, problem })
  }

  /**
   * Takes a save out, together with what it changes of its draft if that draft's records are the save's own.
   * @returns whether a draft holds the work, or nobody needs one
   */
  private async end(
    save: StoredSave,
    part: (row: StoredDraft) => Partial<StoredDraft>,
    dependents: StoredSave[],
    gone: string[] = [],
  ): Promise<boolean> {
    const { disk } = this.ports
    this.notBefore.delete(save.key)
    for (const key of [save.key, ...gone]) {
      const index = this.unkept.findIndex((one) => one.key === key)
      if (index >= 0) this.unkept.splice(index, 1)
    }
    for (const one of dependents) {
      const index = this.unkept.findIndex(({ key }) => key === one.key)
      if (index >= 0) this.unkept[index] = one
    }
    const onDisk = dependents.filter((one) => !this.unkept.includes(one))
    const also = { endSaves: [save.key, ...gone], ...(onDisk.length && { saves: onDisk }) }
    if (!save.draftId) {
      await disk.commit({ expect: [], ...also }).catch((error) => this.keeping.refused(error))
      return true
    }
    const held = this.keeping.held(save.draftId)
    if (held && (save.seq === 0 || (await held.has(save.seq, save.head)))) {
      await held.saved(part(held.row), also).catch((error) => this.keeping.refused(error))
      return true
    }
    for (let tries = 0; ; tries++) {
      const row = await disk.draft(save.draftId).catch(() => undefined)
      const chain =
        row && readChain(await disk.rows(row.id), row.baseVersionId, { seq: row.journalSeq, digest: row.head })
      const holds = !!chain && (save.seq === 0 || chain.links[save.seq - 1]?.digest === save.head)
      try {
        if (row && holds)
          await disk.commit({
            expect: [[row.id, row.generation, row.head]],
            drafts: [{ ...row, ...part(row) }],
            ...also,
          })
        else await disk.commit({ expect: [], ...also })
      } catch (error) {
        // Another page writes it: as it stands now.
        if (error instanceof Superseded && tries < 5) continue
        if (!(error instanceof Superseded || error instanceof Cleared)) throw error
        await disk.commit({ expect: [], ...also })
      }
      return holds
    }
  }
}

const isAfter = (base: SaveBase): base is { after: string } => base !== null && 'after' in base
const baseOf = ({ base }: StoredSave): string | null => (base && 'version' in base ? base.version : null)
const pauseOf = (tries: number): number => Math.min(longestPause, firstPause * 2 ** tries)
const headOf = async (held: HeldDraft | null, seq: number) =>
  held ? ((await held.wholeChain().catch(() => []))[seq - 1]?.digest ?? null) : null
