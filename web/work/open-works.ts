// What is open in this tab. Leaving work for another screen closes nothing: its session stays, so that its journal and
// recovery points go on and nobody takes it for interrupted; coming back opens it from its journal, cursor and all.
import type { DraftKind } from '../../core/contract'
import { SaidError, saidBy, say } from '../../core/words/said'
import { t, told } from '../words'
import { unnamed } from '../words/unnamed'
import { type DraftSession, isProblem } from './session'

export interface OpenWork {
  draftId: string
  name: string
  kind: DraftKind
  /** Where it is gone on with. */
  address: string
  unsaved: boolean
  /** It is in a file. */
  named: boolean
  /** It is on the screen. */
  shown: boolean
}
export interface Outcome {
  ok: boolean
  result: string
}
export type HowClosed = 'finished' | 'closed' | 'let go'

/** What the editor does for the work that it shows. */
interface Shown {
  name: () => string
  save: () => Promise<Outcome>
  /** It is a file that saves itself, and nothing is in the way of that. */
  savesItself: () => boolean
  close: (how: HowClosed) => Promise<void>
}
interface Entry {
  work: OpenWork
  /** Null when nothing of it is unsaved: then it is an address to go back to. */
  session: DraftSession | null
  shown: Shown | null
  stop: () => void
}

/** So many files with nothing unsaved stay listed; those that were left first go first. */
const mostLinks = 8

let entries: Entry[] = []
let works: readonly OpenWork[] = []
const listeners = new Set<() => void>()

function tell(): void {
  const next = entries.map(({ work }) => work)
  if (JSON.stringify(next) === JSON.stringify(works)) return
  works = next
  for (const listener of listeners) listener()
}
export const subscribeOpenWorks = (listener: () => void) => {
  listeners.add(listener)
  return () => void listeners.delete(listener)
}
/** What is open in this tab, in the order in which it was opened; the same array until something of it changes. */
export const openWorks = (): readonly OpenWork[] => works

const find = (draftId: string) => entries.find(({ work }) => work.draftId === draftId)

const workOf = (session: DraftSession, name: string, shown: boolean): OpenWork => {
  const { draftId, kind, file } = session.state
  return {
    draftId,
    kind,
    name,
    address: file ? `/open/${file.id}` : `/draft/${draftId}`,
    unsaved: session.unsaved,
    named: !!file,
    shown,
  }
}

function drop(entry: Entry): void {
  entry.stop()
  entries = entries.filter((one) => one !== entry)
  tell()
}

/** The editor shows this work. */
export function showWork(session: DraftSession, shown: Shown): void {
  const work = workOf(session, shown.name(), true)
  const stop = session.subscribe(() => follow(session))
  const entry: Entry = { work, session, shown, stop }
  // Another draft of the same file is other work, for as long as anything of it is unsaved.
  const at = entries.findIndex(
    (one) => one.work.draftId === work.draftId || (!one.session && one.work.address === work.address),
  )
  if (at >= 0) entries[at]!.stop()
  entries = at >= 0 ? entries.with(at, entry) : [...entries, entry]
  tell()
}

function follow(session: DraftSession): void {
  const entry = entries.find((one) => one.session === session)
  if (!entry) return
  const { shown } = entry
  entry.work = workOf(session, shown ? shown.name() : (session.state.file?.name ?? entry.work.name), !!shown)
  if (!entry.shown) settle(entry)
  tell()
}

/** Work that nobody looks at needs no session when all of it is in its file, or when another device went on with it. */
function settle(entry: Entry): void {
  const { session } = entry
  if (!session || session.unsaved || session.state.reach.waitingSave) return
  entry.session = null
  entry.stop()
  void session.close(session.state.taken || session.state.elsewhere ? 'closed' : 'finished')
  if (session.state.taken || !session.state.file) return drop(entry)
  entry.work = { ...entry.work, unsaved: false }
  const links = entries.filter((one) => !one.session)
  for (const one of links.slice(0, Math.max(0, links.length - mostLinks))) drop(one)
}

/** The editor went to another screen; the work stays open. */
export function putAside(session: DraftSession): void {
  const entry = entries.find((one) => one.session === session)
  if (!entry) return
  const savesItself = entry.shown?.savesItself() ?? false
  entry.shown = null
  // Work without a name is known by its first words.
  const { file, kind, bornAt } = session.state
  const name = file ? entry.work.name : unnamed(kind, new Date(bornAt), session.opening())
  entry.work = workOf(session, name, false)
  // What only follows another tab is that one's.
  if (session.state.elsewhere) {
    void session.close(session.unsaved ? 'closed' : 'finished')
    return drop(entry)
  }
  // A file that saves itself does not wait for somebody to come back.
  if (savesItself && session.unsaved && !session.state.reach.waitingSave)
    void session.save('own file', 'by itself').catch(() => {})
  settle(entry)
  tell()
}

/** The work was closed, or is opened anew. */
export function workGone(session: DraftSession): void {
  const entry = entries.find((one) => one.session === session)
  if (entry) drop(entry)
}

/** What is only in this page's memory is waited for this long; milliseconds. */
const patience = 10_000

/**
 * Until everything that was written can be had from the journal, a recovery point or a version.
 * @throws SaidError when the journal goes on refusing and the server has not got it either
 */
function outOfMemory(session: DraftSession): Promise<void> {
  const isOut = () => {
    const { edit, journal, point, version } = session.state.reach
    return !journal.refused || Math.max(point.seq, version.seq) >= edit.seq
  }
  if (isOut()) return Promise.resolve()
  return new Promise((done, failed) => {
    const end = () => {
      clearTimeout(late)
      stop()
    }
    const late = setTimeout(() => {
      end()
      failed(new SaidError(say('recovery.this-computer-refuses-to-keep-unsaved-work')))
    }, patience)
    const stop = session.subscribe(() => {
      if (!isOut()) return
      end()
      done()
    })
  })
}

/**
 * The work of an address is opened again: its session lets go of it first.
 * @returns whether it was open here with something unsaved
 * @throws SaidError when only this page's memory has some of it: then it stays as it is
 */
export async function comeBack(address: string): Promise<boolean> {
  const entry = entries.find(
    (one) => !one.shown && (one.work.address === address || `/draft/${one.work.draftId}` === address),
  )
  const session = entry?.session
  if (!entry || !session) return false
  await outOfMemory(session)
  entry.session = null
  entry.stop()
  await session.leave()
  return true
}

/** Saves work in its file. What stands in the way is said, and decided by whoever opens it. */
export async function saveOpenWork(draftId: string): Promise<Outcome> {
  const entry = find(draftId)
  if (entry?.shown) return entry.shown.save()
  const session = entry?.session
  if (!entry || !session)
    return entry?.work.unsaved
      ? { ok: false, result: t('app.no-answer-rescue-shows-what-of-it') }
      : { ok: true, result: t('app.nothing-new-to-save') }
  if (!session.state.file) return { ok: false, result: t('app.has-no-name-yet') }
  try {
    const answer = await session.save('own file')
    return isProblem(answer)
      ? { ok: false, result: told(answer) }
      : { ok: true, result: t('common.saved-as-version', { number: answer.version.number }) }
  } catch (error) {
    return { ok: false, result: told(saidBy(error)) }
  }
}

/** Closes work; what is unsaved of it stays in Rescue for its days. Answers when its device has settled that. */
export async function closeOpenWork(draftId: string, how: 'closed' | 'let go'): Promise<void> {
  const entry = find(draftId)
  if (!entry) return
  const { session, shown } = entry
  const ending = session?.unsaved ? how : 'finished'
  drop(entry)
  if (shown) await shown.close(ending)
  else await session?.close(ending)
}

/** The one before or after the work that is shown, in a round. */
export function neighbour(step: 1 | -1): OpenWork | null {
  const at = works.findIndex(({ shown }) => shown)
  const from = at < 0 ? (step > 0 ? -1 : 0) : at
  const next = works.at((from + step + works.length) % Math.max(works.length, 1))
  return next && !next.shown ? next : null
}
