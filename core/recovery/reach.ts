// How far work has got. Every step is fed only by the confirmation of the thing that makes it
// hold: the journal's commit, the server's commit. Nothing here is assumed from having asked.

import { type Sentence, say } from '../words/said'

export interface ReachFacts {
  /** The last edit in this tab; seq 0 when nothing was edited. */
  edit: { seq: number; at: number | null }
  /** The last record committed on this device, with the time of its edit. */
  journal: { seq: number; at: number | null; refused: Sentence | null }
  /** The last record in a recovery point that the server committed; why the server refuses others, in words. */
  point: { seq: number; at: number | null; refused: Sentence | null }
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
  waitingSave: { at: number; kept: boolean; delayed?: Sentence | null } | null
  /** Recovery points are switched off. */
  pointsOff?: boolean
  /** The newest version of the file that is in a copy, 0 for none, and whether its copies are well; null where none are made. */
  copied?: { number: number; well: boolean } | null
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
  sentence: Sentence
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
    { step: 'copies', state: copiesState(facts), until: null },
  ]
  const behind = shared.seq < edit.seq
  const alarm =
    journal.refused !== null ||
    (journal.seq < edit.seq && journalLate) ||
    (waitingSave?.delayed ?? null) !== null ||
    (behind && (server !== 'there' || storageLate || point.refused !== null))
  return { steps, sentence: sentenceOf(), alarm }

  function sentenceOf(): Sentence {
    const { number } = version
    if (edit.seq === 0) {
      if (waitingSave) return say('reach.saving')
      if (number === null) return say('reach.nothing-to-protect')
      return say('reach.this-is-version', {
        number,
        author: version.author !== null,
        by: version.author,
        saved: version.savedAt !== null,
        at: version.savedAt === null ? null : clock(version.savedAt),
      })
    }
    const until = (one: { at: number | null }) => (one.at === null ? '' : clock(one.at))
    const onComputer =
      journal.seq >= edit.seq
        ? say('reach.all-on-computer', { at: until(edit) })
        : journal.seq > 0
          ? say('reach.some-on-computer', { at: until(journal) })
          : null
    const allOnServer = say('reach.all-on-server', { at: until(edit) })
    const elsewhere =
      shared.seq >= edit.seq
        ? allOnServer
        : sharedSince
          ? say('reach.some-on-server', { at: until(shared) })
          : say('reach.only-tab-save-now')
    if (journal.refused !== null) return inTurn(journal.refused, elsewhere)
    if (server !== 'there') {
      const why = say(server === 'away' ? 'reach.server-away' : 'reach.signed-out')
      if (shared.seq >= edit.seq) return inTurn(allOnServer, why)
      if (!onComputer) return inTurn(why, say('reach.only-tab'))
      const waits = !waitingSave
        ? say('reach.goes-when-it-can')
        : waitingSave.kept
          ? say('reach.save-completed-later', { at: clock(waitingSave.at) })
          : say('reach.save-being-kept')
      return inTurn(why, onComputer, waits)
    }
    if (behind && journal.seq < edit.seq && journalLate) return inTurn(say('reach.computer-does-not-answer'), elsewhere)
    if (behind && (point.refused !== null || storageLate))
      return inTurn(
        point.refused ?? say('reach.points-do-not-arrive', { at: clock(waiting.storage!) }),
        onComputer,
        say('reach.save-to-bring'),
      )
    if (version.seq >= edit.seq) return say('reach.saved-as', { number, at: clock(version.savedAt!) })
    if (waitingSave?.delayed)
      return inTurn(
        say('reach.save-not-completed', { at: clock(waitingSave.at), why: waitingSave.delayed }),
        onComputer,
      )
    if (waitingSave) return inTurn(say('reach.saving'), onComputer)
    if (point.seq >= edit.seq)
      return inTurn(allOnServer, number === null ? say('reach.never-saved') : say('reach.not-in-version', { number }))
    if (off && journal.seq >= edit.seq)
      return say('reach.points-off', { at: until(edit), shared: sharedSince, until: until(shared) })
    if (journal.seq >= edit.seq && sharedSince) return say('reach.both', { at: until(edit), until: until(shared) })
    return onComputer ?? say('reach.only-tab')
  }
}

/** A copy holds versions: what is not saved is in none. */
function copiesState({ copied, version, edit }: ReachFacts): ReachStep['state'] {
  if (!copied) return 'none'
  if (!copied.well) return 'stopped'
  if (!copied.number) return 'none'
  return version.number !== null && copied.number >= version.number && version.seq >= edit.seq ? 'all' : 'behind'
}

/** Sentences one after the other; those that are null are left out. */
const inTurn = (...sentences: (Sentence | null)[]): Sentence =>
  sentences.filter((one) => one !== null).reduce((first, then) => say('reach.and-then', { first, then }))

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
