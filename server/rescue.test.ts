import { randomBytes, randomUUID } from 'node:crypto'
import type { DataSource } from 'typeorm'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { type DraftState, type Heartbeat, type JournalRecord, Settings } from '../core/contract'
import { nothingBeyond } from '../core/recovery/beyond'
import { setSettings } from './accounts/service'
import { unbounded } from './counts/quotas'
import { sweepRecoveryPoints } from './drafts/room'
import { activityFor, askForPoint, draftById, draftsOf, noteSafeCopy, pointsOf, visibleDraft } from './drafts/service'
import { endDraft as endDraftOf, heartbeat, takePoint as take } from './drafts/writing'
import { protectionLayers, setOwnProtection, setPlaceProtection } from './protection/service'
import { keepVersion } from './saving/keep'
import { openTestOffice, type TestOffice } from './testing'

let office: TestOffice
beforeAll(async () => {
  office = await openTestOffice()
})
afterAll(() => office.close())

const refused = (promise: Promise<unknown>) =>
  promise.then(
    () => null,
    (error) => error.problem?.type ?? error,
  )
const file = (name: string) =>
  keepVersion(office.database, unbounded, {
    personId: office.people.ida,
    bytes: Buffer.from(name),
    reason: 'saved',
    key: randomUUID(),
    target: { place: { shareId: office.share, folderId: null, name } },
  })
const beat = (id: string, fileId: string | null, journalSeq: number, more: object = {}) => ({
  id,
  kind: 'document' as const,
  deviceId: randomUUID(),
  deviceName: 'test',
  bornAt: new Date().toISOString(),
  baseVersionId: null,
  fileId,
  headVersionId: null,
  savedSeq: 0,
  journalSeq,
  lastEditAt: new Date().toISOString(),
  opening: 'Gate',
  beyond: { ...nothingBeyond, edits: journalSeq },
  pageSilentMs: 0,
  live: true,
  ...more,
})
const takePoint = (database: DataSource, personId: string, heartbeat: Heartbeat, records: JournalRecord[]) =>
  take(database, personId, { heartbeat, records })
const endDraft = (personId: string, id: string, state: DraftState) =>
  endDraftOf(office.database, personId, id, state, (manager) => visibleDraft(manager, personId, id))
const records = (from: number, to: number) =>
  Array.from({ length: to - from + 1 }, (_, index) => ({ seq: from + index, at: from + index, edit: { steps: [] } }))

describe('open work', () => {
  test('is shown to its owner and to the managers of its share, who leave a trace', async () => {
    const { ida, priya, tomas, ben } = office.people
    const { manager } = office.database
    const id = randomUUID()
    const { file: entry } = await file('Open.docx')
    await takePoint(office.database, ida, beat(id, entry.id, 5), records(1, 3))
    const seen = async (person: string) => (await draftsOf(manager, person)).map((draft) => draft.id)
    expect(await seen(ida)).toContain(id)
    expect(await seen(priya)).toContain(id)
    expect(await seen(tomas)).not.toContain(id)
    expect(await refused(draftById(manager, tomas, id))).toBe('not-found')
    expect(await refused(draftById(manager, ben, id))).toBe('not-found')
    expect(await pointsOf(manager, tomas, id)).toEqual([])
    const { draft, points } = await draftById(manager, priya, id)
    expect(await pointsOf(manager, ida, id)).toEqual(points)
    expect(draft).toMatchObject({ mine: false, page: 'answers', pointSeq: 3 })
    expect(points).toMatchObject([{ toSeq: 3 }])
    await draftById(manager, priya, id)
    await noteSafeCopy(manager, priya, id)
    await noteSafeCopy(manager, ida, id)
    // What never had a file belongs to nobody's share.
    const unfiled = randomUUID()
    await heartbeat(office.database, ida, beat(unfiled, null, 2))
    expect(await refused(draftById(manager, priya, unfiled))).toBe('not-found')
    expect((await activityFor(manager, ida)).map(({ person, what }) => `${person} ${what}`)).toEqual([
      'priya saved a safe copy',
      'priya looked inside',
    ])
    expect(await activityFor(manager, tomas)).toEqual([])
  })

  test('tells a page that hangs from one that answers and one that is silent, and is asked for a point once', async () => {
    const { ida } = office.people
    const { manager } = office.database
    const id = randomUUID()
    await takePoint(office.database, ida, beat(id, null, 4), records(1, 2))
    expect((await draftById(manager, ida, id)).draft.page).toBe('answers')
    await heartbeat(office.database, ida, beat(id, null, 4, { pageSilentMs: 30_000 }))
    expect((await draftById(manager, ida, id)).draft.page).toBe('hangs')
    expect((await askForPoint(manager, ida, id)).pointWanted).toBe(true)
    expect((await heartbeat(office.database, ida, beat(id, null, 4))).pointWanted).toBe(true)
    await takePoint(office.database, ida, beat(id, null, 4), records(3, 4))
    expect((await heartbeat(office.database, ida, beat(id, null, 4))).pointWanted).toBe(false)
    await office.database.query("update draft set answered_at = now() - interval '1 minute' where id = $1", [id])
    expect((await draftById(manager, ida, id)).draft.page).toBe('silent')
    expect(await refused(askForPoint(manager, ida, id))).toBe('changed-meanwhile')
    await endDraft(ida, id, 'finished')
    expect(await refused(endDraft(ida, id, 'let go'))).toBe('changed-meanwhile')
  })
})

test('protection is set by each for themselves, for everyone by managers only, within bounds that make sense', async () => {
  const { ida, priya, tomas, ben } = office.people
  const { manager } = office.database
  const { file: entry } = await file('Protected.docx')
  const place = { shareId: office.share, folderId: null, interval: null, continuous: null, least: null, most: 60 }
  expect(await refused(setPlaceProtection(manager, ida, place))).toBe('not-allowed')
  expect(await refused(setPlaceProtection(manager, priya, { ...place, least: 120 }))).toBe('invalid')
  await setPlaceProtection(manager, priya, place)
  await setOwnProtection(manager, ida, { entryId: entry.id, interval: 10, continuous: true })
  await setOwnProtection(manager, ida, { entryId: entry.id, interval: 15, continuous: null })
  await setOwnProtection(manager, ida, { kind: 'document', interval: 300, continuous: null })
  expect(await refused(setOwnProtection(manager, ben, { entryId: entry.id, interval: 10, continuous: null }))).toBe(
    'not-found',
  )
  expect(await refused(setOwnProtection(manager, ida, { interval: 10, continuous: null }))).toBe('invalid')
  const layers = (person: string) => protectionLayers(manager, person, { kind: 'document', fileId: entry.id })
  expect((await layers(ida)).map(({ level, by, interval, most }) => [level, by, interval, most])).toEqual([
    ['person', 'me', 30, null],
    ['kind', 'me', 300, null],
    ['share', 'managers', null, 60],
    ['file', 'me', 15, null],
  ])
  expect((await layers(tomas)).map(({ level }) => level)).toEqual(['person', 'share'])
  expect(await refused(layers(ben))).toBe('not-found')
})

describe('room for unsaved work', () => {
  const settings = (part: object) =>
    setSettings(office.database, office.people.ida, Settings.parse({ storageRoom: 1, ...part }))
  const heavy = (from: number) =>
    // Random letters, so that the database cannot pack them away.
    [{ seq: from, at: from, edit: { steps: [randomBytes(350_000).toString('hex')] } }]

  test('nothing goes before its announced day: when the room is short no more is set aside, and that is said', async () => {
    const { ida } = office.people
    const { manager } = office.database
    await settings({})
    const [first, second, open] = [randomUUID(), randomUUID(), randomUUID()]
    for (const id of [first, second, open]) await takePoint(office.database, ida, beat(id, null, 1), heavy(1))
    await endDraft(ida, first, 'closed')
    expect(await refused(endDraft(ida, second, 'closed'))).toBe('no-room')
    await sweepRecoveryPoints(office.database)
    for (const id of [first, second, open]) expect((await draftById(manager, ida, id)).lines).toHaveLength(1)
    expect((await visibleDraft(manager, ida, second)).state).toBe('open')
    // Open work is never refused a recovery point, and what is finished makes room.
    expect((await takePoint(office.database, ida, beat(open, null, 2), heavy(2))).pointSeq).toBe(2)
    await endDraft(ida, first, 'finished')
    await sweepRecoveryPoints(office.database)
    expect((await draftById(manager, ida, first)).lines).toEqual([])
    await endDraft(ida, second, 'closed')
    // Its day is the server's: before it nothing goes, after it everything.
    await sweepRecoveryPoints(office.database)
    expect((await draftById(manager, ida, second)).lines).toHaveLength(1)
    await office.database.query("update draft set kept_until = now() - interval '1 second' where id = $1", [second])
    await sweepRecoveryPoints(office.database)
    const { lines, standing, marks } = await draftById(manager, ida, second)
    expect([lines, standing.over, marks.length]).toEqual([[], true, 1])
  })

  test('work without a file is seen by the managers of the place that its owner chose for it, and by nobody else', async () => {
    const { ida, priya, tomas } = office.people
    const { manager } = office.database
    const alone = randomUUID()
    await settings({})
    await takePoint(office.database, ida, beat(alone, null, 1), records(1, 1))
    await settings({ unsavedPlace: { shareId: office.share, folderId: null } })
    const shared = randomUUID()
    await takePoint(office.database, ida, beat(shared, null, 1), records(1, 1))
    const seen = (await draftsOf(manager, priya)).map(({ id }) => id)
    expect(seen).toContain(shared)
    expect(seen).not.toContain(alone)
    expect((await draftsOf(manager, ida)).find(({ id }) => id === shared)!.keptIn).toEqual(['Waterways'])
    expect(await refused(draftById(manager, tomas, shared))).toBe('not-found')
  })
})
