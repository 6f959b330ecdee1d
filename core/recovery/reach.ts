// How far work has got. Every step is fed only by the confirmation of the thing that makes it
// hold: the journal's commit, the server's commit. Nothing here is assumed from having asked.

export interface ReachFacts {
  /** The last edit in this tab; seq 0 when nothing was edited. */
  edit: { seq: number; at: number | null }
  /** The last record committed on this device, with the time of its edit. */
  journal: { seq: number; at: number | null; refused: string | null }
  /** The last record in a recovery point that the server committed; why the server refuses others, in words. */
  point: { seq: number; at: number | null; refused: string | null }
  /** When the oldest edit was made that is not on this device's journal, and that is not on shared storage. */
  waiting: { device: number | null; storage: number | null }
  /** Seconds between recovery points. */
  interval: number
  /**
   * The last record that is in a version that the server committed, and the time of its edit. `savedAt` is the
   * commit's own time: later edits may be older than that, so it never says what is safe.
   */
  version: { seq: number; at: number | null; savedAt: number | null; number: number | null; author: string | null }
  /** A save that the server has not answered; `kept` once it is committed on this device. */
  waitingSave: { at: number; kept: boolean; delayed?: string | null } | null
  /** Recovery points are switched off. */
  pointsOff?: boolean
  server: 'there' | 'away' | 'signed out'
}

export interface ReachStep {
  step: 'tab' | 'device' | 'shared storage' | 'copies'
  /** all: everything is there. behind: up to `until`. stopped: it does not work now. none: nothing is there. */
  state: 'all' | 'behind' | 'stopped' | 'none'
  /** The time of the last edit that it holds, in milliseconds since 1970. */
  until: number | null
}

export interface Reach {
  steps: ReachStep[]
  sentence: string
  alarm: boolean
}

/** A level that has not confirmed for its interval and this long does not work; milliseconds. */
export const deviceGrace = 5_000
export const storageGrace = 15_000

/**
 * @param clock writes a time as people read it
 * @param now what has waited too long for its confirmation is told as stopped
 */
export function reachOf(facts: ReachFacts, clock: (at: number) => string, now: number): Reach {
  const { edit, journal, point, version, waitingSave, server, waiting } = facts
  const journalLate = waiting.device !== null && now - waiting.device > deviceGrace
  const off = facts.pointsOff ?? false
  const storageLate = !off && waiting.storage !== null && now - waiting.storage > facts.interval * 1000 + storageGrace
  const state = (seq: number, works: boolean): ReachStep['state'] =>
    seq >= edit.seq ? 'all' : !works ? 'stopped' : seq > 0 ? 'behind' : 'none'
  const shared = version.seq >= point.seq ? version : point
  const sharedSince = shared.seq > 0 && shared.at !== null
  const steps: ReachStep[] = [
    { step: 'tab', state: 'all', until: edit.at },
    {
      step: 'device',
      state:
        journal.refused !== null && journal.seq < edit.seq
          ? 'stopped'
          : state(Math.max(journal.seq, shared.seq), journal.refused === null && !journalLate),
      until: later(journal, shared),
    },
    {
      step: 'shared storage',
      state: state(shared.seq, server === 'there' && point.refused === null && !storageLate),
      until: shared.at,
    },
    { step: 'copies', state: 'none', until: null },
  ]
  const behind = shared.seq < edit.seq
  const alarm =
    journal.refused !== null ||
    (journal.seq < edit.seq && journalLate) ||
    (waitingSave?.delayed ?? null) !== null ||
    (behind && (server !== 'there' || storageLate || point.refused !== null))
  return { steps, sentence: sentenceOf(), alarm }

  function sentenceOf(): string {
    const number = version.number === null ? '' : `version ${version.number}`
    if (edit.seq === 0) {
      if (waitingSave) return 'Saving …'
      if (version.number === null) return 'Nothing here to protect yet.'
      return `This is ${number}${version.author ? ` by ${version.author}` : ''}${version.savedAt ? `, saved ${clock(version.savedAt)}` : ''}.`
    }
    const until = (one: { at: number | null }) => (one.at === null ? '' : clock(one.at))
    const onDevice =
      journal.seq >= edit.seq
        ? `Everything up to ${until(edit)}`
        : journal.seq > 0
          ? `Work up to ${until(journal)}`
          : ''
    if (journal.refused !== null)
      return `${journal.refused} ${
        shared.seq >= edit.seq
          ? `Everything up to ${until(edit)} is on shared storage.`
          : sharedSince
            ? `Work up to ${until(shared)} is on shared storage.`
            : 'Save now: this work is only in this tab.'
      }`
    if (server !== 'there') {
      const why = server === 'away' ? 'Shared storage does not answer.' : 'You are signed out.'
      if (shared.seq >= edit.seq) return `Everything up to ${until(edit)} is on shared storage. ${why}`
      const waits = !waitingSave
        ? ' It goes to shared storage by itself when it can.'
        : waitingSave.kept
          ? ` Your save of ${clock(waitingSave.at)} is completed as soon as it can be.`
          : ' Your save is being kept on this device.'
      return onDevice ? `${why} ${onDevice} is on this device.${waits}` : `${why} This work is only in this tab so far.`
    }
    if (behind && journal.seq < edit.seq && journalLate)
      return `This device’s journal does not answer. ${sharedSince ? `Work up to ${until(shared)} is on shared storage.` : 'Save now: this work is only in this tab.'}`
    if (behind && (point.refused !== null || storageLate))
      return `${point.refused ?? `Recovery points do not get through since ${clock(waiting.storage!)}.`} ${onDevice ? `${onDevice} is on this device.` : ''} Save to bring it to shared storage.`
    if (version.seq >= edit.seq)
      return `Saved as ${number} at ${clock(version.savedAt!)}. Everything is on shared storage.`
    if (waitingSave?.delayed)
      return `Your save of ${clock(waitingSave.at)} is not completed: ${waitingSave.delayed} It is tried again by itself. ${onDevice ? `${onDevice} is on this device.` : ''}`.trim()
    if (waitingSave) return `Saving … ${onDevice ? `${onDevice} is on this device.` : ''}`.trim()
    const saved = version.number === null ? 'Not saved as a version yet.' : `Not in ${number} yet.`
    if (point.seq >= edit.seq) return `Everything up to ${until(edit)} is on shared storage. ${saved}`
    if (off && journal.seq >= edit.seq)
      return `${onDevice} is on this device only${sharedSince ? `, up to ${until(shared)} on shared storage` : ''}. Recovery points are off.`
    if (journal.seq >= edit.seq)
      return sharedSince
        ? `Everything up to ${until(edit)} is on this device, up to ${until(shared)} on shared storage too.`
        : `Everything up to ${until(edit)} is on this device.`
    return onDevice ? `${onDevice} is on this device.` : 'This work is only in this tab so far.'
  }
}

/**
 * Whether a sentence about `before` says of work that it is on shared storage, or in a version, that by `now` goes beyond
 * it: such a sentence is taken back at once, and not when it is next convenient to show.
 */
export function claimsTooMuch(before: ReachFacts, now: ReachFacts): boolean {
  const holds = ({ edit, point, version }: ReachFacts) => edit.seq > 0 && Math.max(point.seq, version.seq) >= edit.seq
  const inVersion = ({ edit, version }: ReachFacts) => version.seq >= edit.seq
  return (holds(before) && !holds(now)) || (inVersion(before) && !inVersion(now))
}

const later = (a: { at: number | null }, b: { at: number | null }): number | null =>
  a.at === null ? b.at : b.at === null ? a.at : Math.max(a.at, b.at)
