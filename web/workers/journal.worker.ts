// The journal worker. It outlives a page that hangs: what the page handed over is committed to
// the device within a tenth of a second, recovery points and saves go to the server from here,
// and each is reported to the page only when the thing that keeps it has confirmed it.
import type { Heartbeat, JournalRecord, PointTaken } from '../../core/contract'
import {
  type FromJournal,
  followChannel,
  type StoredDraft,
  type StoredSave,
  type ToJournal,
} from '../../core/recovery/protocol'
import { countEdit, nothingBeyond } from '../../core/recovery/replay'
import { call, isAway, packed, Refused } from '../app/call'
import {
  commitRecords,
  deviceId,
  finishSave,
  forgetDraft,
  heldDrafts,
  keepDraft,
  keepSave,
  lockName,
  readDraft,
  readRecords,
  readSaves,
  setRecordsAside,
} from './journal-store'

/** Edits wait this long for others to share their commit. */
const gatherFor = 25
const heartbeatEvery = 5_000
const askPageEvery = 2_000
const clearedJournal =
  'The browser has cleared this device’s journal. Save, close this file and open it again to have it back.'

const scope = self as unknown as {
  postMessage(message: FromJournal): void
  onmessage: ((event: MessageEvent<ToJournal>) => void) | null
}
const say = (message: FromJournal) => scope.postMessage(message)

let me = { personId: '', deviceId: '', deviceName: '' }
let interval = 30
let keptDays = 14
let current: OpenDraft | null = null
let server: 'there' | 'away' | 'signed out' = 'there'
/** Nobody is signed in: nothing is sent until somebody is. */
let paused = false
/** By the clock that never jumps. */
let pageAnsweredAt = performance.now()
let askedAt = 0

/** The draft that this tab has open. */
interface OpenDraft {
  draft: StoredDraft
  /** Not on the device yet: goes in with the first record. */
  base: Uint8Array | null
  /** Handed over by the page and not committed. */
  arrived: JournalRecord[]
  opening: string
  /** The commit, or the taking over of the draft, that is under way. */
  committing: Promise<void> | null
  /** Committed and not in a recovery point; null when it must be read from the device first. */
  unsent: JournalRecord[] | null
  pointAt: number
  beatAt: number
  sending: boolean
  /** The browser took away what had been committed: nothing is claimed of this device any more. */
  cleared: boolean
  release: () => void
}

scope.onmessage = ({ data }) => {
  switch (data.do) {
    case 'start':
      me = { ...me, personId: data.personId, deviceName: data.deviceName }
      interval = data.interval
      keptDays = data.keptDays
      break
    case 'interval':
      interval = data.seconds
      break
    case 'open':
      void open(data.draft, data.base, data.records, data.seenSeq)
      break
    case 'edit':
      if (current?.draft.id !== data.draftId) break
      current.arrived.push(data.record)
      current.opening = data.opening
      commitSoon(current)
      break
    case 'save':
      void acceptSave(data.save)
      break
    case 'adopt':
      if (current?.draft.id !== data.draftId) break
      current.draft = {
        ...current.draft,
        fileId: data.fileId,
        fileName: data.fileName,
        headVersionId: data.headVersionId,
      }
      if (current.draft.journalSeq > 0) void keepDraft(current.draft).catch(refused)
      break
    case 'close':
      void close(data.draftId, data.how)
      break
    case 'answer':
      pageAnsweredAt = performance.now()
      break
    case 'try now':
      paused = false
      void deliverSaves()
      break
  }
}

/** What the page hands over from now on is taken in at once, and committed when the draft is this tab's own. */
async function open(
  draft: StoredDraft,
  base: Uint8Array | null,
  records: JournalRecord[] | null,
  seenSeq: number,
): Promise<void> {
  current?.release()
  const opened: OpenDraft = {
    draft: { ...draft, state: 'open', keptUntil: null },
    base,
    arrived: [],
    opening: draft.opening,
    unsent: draft.journalSeq > draft.pointSeq ? null : [],
    committing: null,
    pointAt: performance.now(),
    beatAt: Number.NEGATIVE_INFINITY,
    sending: false,
    cleared: false,
    release: () => {},
  }
  current = opened
  opened.committing = prepare(opened, records, seenSeq).finally(() => {
    opened.committing = null
    if (opened.arrived.length && current === opened) commitSoon(opened)
  })
  await opened.committing
}

async function prepare(opened: OpenDraft, records: JournalRecord[] | null, seenSeq: number): Promise<void> {
  const { draft } = opened
  const release = await hold(draft.id)
  if (!release) {
    if (current === opened) current = null
    say({ say: 'opened', draftId: draft.id, elsewhere: true, stale: false })
    return
  }
  opened.release = release
  if (current !== opened) return release()
  try {
    // Another tab may have gone on between the reading and the lock: what it committed is not overwritten.
    if (((await readDraft(draft.id))?.journalSeq ?? 0) > seenSeq) {
      current = null
      release()
      say({ say: 'opened', draftId: draft.id, elsewhere: false, stale: true })
      return
    }
    // Work that comes from elsewhere is committed here before anything is added to it.
    if (draft.journalSeq > 0) await setRecordsAside(draft.id, draft.journalSeq)
    if (records) await commitRecords(opened.draft, records, opened.base)
    else if (draft.journalSeq > 0) await keepDraft(opened.draft)
    if (records || (await readDraft(draft.id))) opened.base = null
  } catch (error) {
    refused(error)
  }
  say({ say: 'opened', draftId: draft.id, elsewhere: false, stale: false })
  if (draft.journalSeq > 0)
    say({
      say: 'journaled',
      draftId: draft.id,
      seq: draft.journalSeq,
      at: Date.parse(draft.lastEditAt ?? draft.bornAt),
    })
}

/** Takes the draft's lock until released; null when another live page keeps it. */
function hold(draftId: string): Promise<(() => void) | null> {
  return new Promise((resolve) => {
    navigator.locks
      .request(
        lockName(draftId),
        { signal: AbortSignal.timeout(3000) },
        () => new Promise<void>((release) => resolve(() => release())),
      )
      .catch(() => resolve(null))
  })
}

function commitSoon(opened: OpenDraft): void {
  if (opened.committing) return
  opened.committing = new Promise<void>((resolve) => setTimeout(resolve, gatherFor))
    .then(() => commit(opened))
    .finally(() => {
      opened.committing = null
      if (opened.arrived.length && current === opened) commitSoon(opened)
    })
}

async function commit(opened: OpenDraft): Promise<void> {
  const records = opened.arrived
  if (records.length === 0) return
  opened.arrived = []
  const last = records.at(-1)!
  const beyond = records.reduce((count, record) => countEdit(count, record.edit), opened.draft.beyond)
  const draft = {
    ...opened.draft,
    journalSeq: last.seq,
    lastEditAt: new Date(last.at).toISOString(),
    opening: opened.opening,
    beyond,
  }
  try {
    await commitRecords(draft, records, opened.base)
    // The page may have told of a save meanwhile: keep what the commit does not decide.
    opened.draft = {
      ...opened.draft,
      journalSeq: last.seq,
      lastEditAt: draft.lastEditAt,
      opening: draft.opening,
      beyond,
    }
    opened.base = null
    opened.unsent?.push(...records)
    followers.postMessage({ draftId: draft.id, records })
    if (opened.cleared) say({ say: 'refused', reason: clearedJournal })
    else say({ say: 'journaled', draftId: draft.id, seq: last.seq, at: last.at })
  } catch (error) {
    opened.arrived = [...records, ...opened.arrived]
    refused(error)
    await new Promise((resolve) => setTimeout(resolve, 1000))
  }
}

function refused(error: unknown): void {
  const full = (error as DOMException)?.name === 'QuotaExceededError'
  say({
    say: 'refused',
    reason: full ? 'This device has no room left for unsaved work.' : 'This device refuses to keep unsaved work.',
  })
}

// -- Saves ---------------------------------------------------------------------------------

async function acceptSave(save: StoredSave): Promise<void> {
  if (current?.draft.id === save.draftId) await current.committing
  try {
    await keepSave(save)
    say({ say: 'save kept', draftId: save.draftId, key: save.key })
  } catch (error) {
    // The device does not keep it; it can still go to the server from memory.
    refused(error)
    await deliver(save)
    return
  }
  await deliverSaves()
}

let delivering: Promise<void> | null = null
/** Sends what waits, in order; those of other pages only when these pages are gone. */
function deliverSaves(): Promise<void> {
  delivering ??= (async () => {
    const held = await heldDrafts()
    const blocked = new Set<string>()
    for (const save of await readSaves()) {
      if (save.personId !== me.personId || blocked.has(save.draftId)) continue
      const mine = current?.draft.id === save.draftId
      if (!mine && held.has(save.draftId)) continue
      const settled = mine
        ? await deliver(save)
        : await navigator.locks.request(lockName(save.draftId), { ifAvailable: true }, (lock) =>
            lock ? deliver(save) : false,
          )
      if (!settled) blocked.add(save.draftId)
    }
  })()
    .catch(() => {})
    .finally(() => {
      delivering = null
    })
  return delivering
}

/** @returns whether the server gave a final answer */
async function deliver(save: StoredSave): Promise<boolean> {
  if (paused) return false
  const draft = current?.draft.id === save.draftId ? current.draft : await readDraft(save.draftId)
  const facts = { key: save.key, reason: save.reason, draftId: save.draftId, draftSeq: save.seq }
  const timeout = 30_000 + save.bytes.length / 50
  try {
    let saved: Awaited<ReturnType<typeof call<'newFile'>>>
    if (save.target === 'own file') {
      if (!draft?.fileId || !draft.headVersionId)
        throw new Refused({
          type: 'not-found',
          title: 'The file of this work is not known any more. Save it as a new file.',
          status: 404,
        })
      saved = await call(
        'nextVersion',
        { params: { fileId: draft.fileId }, query: { ...facts, baseId: draft.headVersionId }, bytes: save.bytes },
        { timeout },
      )
    } else {
      const { shareId, folderId, path, name, composition, originId } = save.target
      const place = { shareId, name, ...(folderId && { folderId }), ...(path?.length && { path: path.join('/') }) }
      saved = await call(
        'newFile',
        {
          query: { ...facts, ...place, ...(composition && { composition }), ...(originId && { originId }) },
          bytes: save.bytes,
        },
        { timeout },
      )
    }
    reached('there')
    const known = current?.draft.id === save.draftId ? current.draft : draft
    const updated = known && {
      ...known,
      fileId: saved.file.id,
      fileName: saved.file.name,
      headVersionId: saved.version.id,
      savedSeq: Math.max(known.savedSeq, save.seq),
      ...(save.seq >= known.journalSeq && { beyond: nothingBeyond }),
    }
    if (updated && current?.draft.id === save.draftId) current.draft = updated
    await finishSave(save.key, updated && updated.journalSeq > 0 ? updated : undefined).catch(refused)
    say({ say: 'saved', draftId: save.draftId, key: save.key, seq: save.seq, saved })
    return true
  } catch (error) {
    if (failed(error)) return false
    await finishSave(save.key, undefined).catch(refused)
    say({ say: 'save refused', draftId: save.draftId, key: save.key, problem: (error as Refused).problem })
    return true
  }
}

// -- Recovery points and heartbeats ---------------------------------------------------------

/** What is in no recovery point yet; unknown until the records were read from the device. */
const unsentOf = ({ unsent }: OpenDraft) =>
  unsent?.reduce((count, record) => countEdit(count, record.edit), nothingBeyond)

function heartbeatOf(opened: OpenDraft): Heartbeat {
  const { draft } = opened
  return {
    id: draft.id,
    kind: draft.kind,
    deviceId: me.deviceId,
    deviceName: me.deviceName,
    bornAt: draft.bornAt,
    baseVersionId: draft.baseVersionId,
    fileId: draft.fileId,
    headVersionId: draft.headVersionId,
    savedSeq: draft.savedSeq,
    journalSeq: draft.journalSeq,
    lastEditAt: draft.lastEditAt,
    opening: draft.opening,
    beyond: draft.beyond,
    // A page is asked every two seconds; what is younger than one question is no silence.
    pageSilentMs: Math.max(0, Math.round(Math.min(performance.now() - pageAnsweredAt, 86_400_000))),
    unsent: unsentOf(opened),
  }
}

/** Brings the server up to date when it is time to; nothing is sent for a draft without edits. */
async function bringUpToDate(opened: OpenDraft, now: number): Promise<void> {
  if (opened.sending || opened.draft.journalSeq === 0 || paused || !me.deviceId) return
  const pointDue = opened.draft.journalSeq > opened.draft.pointSeq && now - opened.pointAt >= interval * 1000
  const beatDue = now - opened.beatAt >= heartbeatEvery
  if (!pointDue && !beatDue) return
  opened.sending = true
  const asked = Date.now()
  opened.beatAt = now
  try {
    let taken: PointTaken
    let cost = { edits: 0, bytes: 0 }
    if (pointDue) {
      opened.unsent ??= (await readRecords(opened.draft.id, opened.draft.pointSeq)).records
      const records = opened.unsent.slice()
      const body = { heartbeat: heartbeatOf(opened), records }
      const small = await packed(body)
      taken = await call('point', { params: { draftId: opened.draft.id }, body }, { packed: small })
      cost = { edits: records.length, bytes: small.size }
      opened.pointAt = now
    } else taken = await call('heartbeat', { params: { draftId: opened.draft.id }, body: heartbeatOf(opened) })
    reached('there')
    if (current !== opened) return
    tellClock(asked, taken.at)
    // The browser may clear what it keeps for a site; work that is open is told of it at once.
    if (!(await readDraft(opened.draft.id)) && opened.draft.journalSeq > 0) {
      // What was there cannot be made anew here; shared storage gets all of it, at once.
      opened.cleared = true
      opened.pointAt = Number.NEGATIVE_INFINITY
      await keepDraft(opened.draft)
      say({ say: 'refused', reason: clearedJournal })
    }
    // Whoever asks for a point waits for it.
    if (taken.pointWanted) opened.pointAt = Number.NEGATIVE_INFINITY
    if (taken.pointSeq !== opened.draft.pointSeq) {
      // The server's word counts: it may also hold less than was thought.
      opened.unsent =
        taken.pointSeq > opened.draft.pointSeq
          ? (opened.unsent?.filter((record) => record.seq > taken.pointSeq) ?? null)
          : null
      opened.draft = { ...opened.draft, pointSeq: taken.pointSeq }
      say({ say: 'point', draftId: opened.draft.id, seq: taken.pointSeq, ...cost })
    }
  } catch (error) {
    if (!failed(error)) {
      say({
        say: 'point refused',
        draftId: opened.draft.id,
        reason: `Shared storage refuses recovery points: ${(error as Refused).problem.title}`,
      })
      // Begin again from what the server says it has at the next heartbeat.
      opened.unsent = null
      opened.pointAt = now
    }
  } finally {
    opened.sending = false
  }
}

/** Other tabs that show this draft follow what is committed. */
const followers = new BroadcastChannel(followChannel)

let clockTold = 0
/** Tells of a clock that is wrong by more than the answer's way could explain, and of one that is right again. */
function tellClock(asked: number, serverAt: string): void {
  const now = Date.now()
  const ahead = Math.round((asked + now) / 2 - Date.parse(serverAt))
  const wrong = Math.abs(ahead) - (now - asked) > 60_000 ? ahead : 0
  if (wrong === clockTold || (wrong !== 0 && Math.abs(wrong - clockTold) < 30_000)) return
  clockTold = wrong
  say({ say: 'clock', ahead: wrong })
}

function reached(state: typeof server): void {
  if (state === server) return
  server = state
  say({ say: 'server', state })
}

/** @returns whether the failure only means to try again later */
function failed(error: unknown): boolean {
  if (isAway(error)) reached('away')
  else if (error instanceof Refused && error.problem.type === 'signed-out') {
    paused = true
    reached('signed out')
  } else return !(error instanceof Refused)
  return true
}

// -- Closing --------------------------------------------------------------------------------

async function close(draftId: string, how: 'finished' | 'closed' | 'let go'): Promise<void> {
  const opened = current
  if (opened?.draft.id !== draftId) {
    say({ say: 'closed', draftId })
    return
  }
  await opened.committing
  while (opened.arrived.length) await commit(opened)
  current = null
  const state = how === 'finished' ? 'closed' : how
  const keptUntil = new Date(Date.now() + keptDays * 86400_000).toISOString()
  try {
    if (how === 'finished') await forgetDraft(draftId)
    else if (opened.draft.journalSeq > 0) await keepDraft({ ...opened.draft, state, keptUntil })
  } catch (error) {
    refused(error)
  }
  opened.release()
  say({ say: 'closed', draftId })
  if (opened.draft.journalSeq === 0) return
  try {
    const unsent =
      how === 'finished' ? [] : (opened.unsent ?? (await readRecords(draftId, opened.draft.pointSeq)).records)
    if (unsent.length)
      await call('point', { params: { draftId }, body: { heartbeat: heartbeatOf(opened), records: unsent } })
    await call('endDraft', { params: { draftId }, body: { state: how, heartbeat: heartbeatOf(opened) } })
    reached('there')
  } catch (error) {
    failed(error)
  }
}

// Without a journal the device has no lasting id; the drafts of this tab then belong to one that ends with it.
void deviceId()
  .catch(() => crypto.randomUUID())
  .then((id) => {
    me = { ...me, deviceId: id }
  })

setInterval(() => {
  // Intervals by the clock that never jumps.
  const now = performance.now()
  if (now - askedAt >= askPageEvery) {
    askedAt = now
    say({ say: 'do you answer' })
  }
  if (current) void bringUpToDate(current, now)
  if (me.personId && !paused) void deliverSaves()
}, 1000)
