// What Rescue lists: put together from what this device keeps and from what the server knows.
import { uuidv7 } from 'uuidv7'
import { beforeAll, expect, inject, test } from 'vitest'
import { call } from '../api/call'
import { standardSettings } from '../api/settings'
import { enterAs, newFile, uniqueName, writersOf } from '../testing/writer'
import { device } from './device'
import { endPiece } from './ending'
import { tellJournal } from './journal'
import { openFile } from './opening'
import { beyondInWords, deviceRoom, listPieces, type Piece, tidyDevice } from './pieces'
import { isProblem } from './session'

let ida: string
beforeAll(async () => {
  ida = await enterAs('ida')
})
const { begin, goOn, leave } = writersOf(() => ida)
const pieceOf = async (draftId: string): Promise<Piece | undefined> =>
  (await listPieces(ida)).pieces.find(({ id }) => id === draftId)

test('work that a page has open is here; left, it is interrupted; closed, it is kept for its days', async () => {
  const writer = begin().type('The weir at Kettleford.')
  await writer.protected()
  const { draftId } = writer.session.state
  expect(await pieceOf(draftId)).toMatchObject({
    state: 'here',
    from: 'device',
    opening: 'The weir at Kettleford.',
    name: null,
    mine: true,
    beyondPoint: null,
    missing: null,
    beyond: { edits: 23, charactersAdded: 23 },
  })
  await leave(writer)
  expect(await pieceOf(draftId)).toMatchObject({ state: 'interrupted', from: 'device' })
  await endPiece(draftId, 'let go', 14)
  const aside = await pieceOf(draftId)
  expect(aside).toMatchObject({ state: 'let go' })
  expect(Date.parse(aside!.keptUntil!)).toBeGreaterThan(Date.now())
})

test('what is in a version whole is no piece, and what came after it is', async () => {
  const writer = begin().type('Saved.')
  const saved = await writer.session.save({ shareId: inject('shareId'), folderId: null, name: uniqueName('Piece') })
  if (isProblem(saved)) throw new Error(saved.title)
  const { draftId } = writer.session.state
  await leave(writer)
  expect(await pieceOf(draftId)).toBeUndefined()
  const opening = await openFile(saved.file.id, ida, uuidv7())
  if ('otherType' in opening) throw new Error('This is no document.')
  const again = goOn(opening.beginning)
  await again.type(' More.').protected()
  const piece = await pieceOf(again.session.state.draftId)
  expect(piece).toMatchObject({ name: saved.file.name, where: ['Waterways'], beyond: { charactersAdded: 6 } })
})

test('of work that this device does not have, the server’s is told, with what it does not have', async () => {
  const writer = begin().type('Half of it.')
  await writer.protected()
  const draftId = await leave(writer)
  const row = await device.draft(draftId)
  await device.commit({ expect: [], forget: [draftId] })
  // It was heard from this minute: it may well be open there.
  expect(await pieceOf(draftId)).toMatchObject({ state: 'elsewhere', from: 'shared storage', missing: null })
  // Its device had told of five more edits before it fell silent.
  const { standing } = await call('draft', { params: { draftId } })
  await call('heartbeat', {
    params: { draftId },
    body: {
      id: draftId,
      kind: 'document',
      deviceId: standing.deviceId,
      deviceName: 'the gatehouse',
      bornAt: row!.bornAt,
      baseVersionId: null,
      fileId: null,
      savedSeq: 0,
      journalSeq: 16,
      lastEditAt: new Date().toISOString(),
      opening: 'Half of it. More',
      beyond: { edits: 16, charactersAdded: 16, charactersRemoved: 0, cells: 0 },
      sender: { epoch: standing.epoch, writerId: standing.writerId! },
      live: false,
    },
  })
  await expect.poll(async () => (await pieceOf(draftId))?.state).toBe('interrupted')
  expect(await pieceOf(draftId)).toMatchObject({
    opening: 'Half of it. More',
    seq: 16,
    missing: { edits: 5, deviceName: 'the gatehouse' },
  })
})

test('without the server, what this device keeps is listed, and that not everything could be asked is said', async () => {
  const writer = begin().type('Alone.')
  await writer.kept()
  const away = () => call('drafts', {}, { timeout: 1 })
  const listed = await listPieces(ida, away)
  expect(listed).toMatchObject({ complete: false, device: true })
  expect(listed.pieces.find(({ id }) => id === writer.session.state.draftId)).toMatchObject({
    state: 'here',
    page: 'silent',
  })
})

test('another person’s open work is seen by the managers of its share, and their interrupted work is not', async () => {
  const { file } = await newFile(uniqueName('Watched'), 'Watched.')
  const opening = await openFile(file.id, ida, uuidv7())
  if ('otherType' in opening) throw new Error('This is no document.')
  const writer = goOn(opening.beginning)
  await writer.type(' By Priya.').protected()
  const { draftId } = writer.session.state
  const drafts = async (handle: 'priya' | 'tomas' | 'ida') => {
    await call('signIn', { body: { handle, password: 'a long password' } })
    return call('drafts', {})
  }
  expect((await drafts('priya')).find(({ id }) => id === draftId)).toMatchObject({
    mine: false,
    person: { name: 'ida' },
  })
  expect((await drafts('tomas')).find(({ id }) => id === draftId)).toBeUndefined()
  // For her it is not hers to find: only live work of others is a piece.
  const hers = await listPieces('somebody else', () => drafts('priya'))
  expect(hers.pieces.find(({ id }) => id === draftId)?.mine).toBe(false)
  await drafts('ida')
  tellJournal({ do: 'try now' })
})

test('room is made by what was set aside first, and only of what the server still keeps', async () => {
  const aside = begin().type('Set aside.')
  await aside.protected()
  const asideId = await leave(aside)
  await endPiece(asideId, 'let go', 14)
  const open = begin().type('Still open.')
  await open.protected()
  const me = { id: ida, name: 'ida' } as Parameters<typeof deviceRoom>[0]
  const before = await deviceRoom(me, standardSettings)
  expect(before.taken).toBeGreaterThan(0)
  expect(before.over).toBe(0)
  await tidyDevice(me, { ...standardSettings, deviceRoom: 0 })
  expect(await device.draft(asideId)).toBeUndefined()
  expect(await device.draft(open.session.state.draftId)).toBeDefined()
  // It is still to be had: from the server.
  expect(await pieceOf(asideId)).toMatchObject({ state: 'let go', from: 'shared storage' })
})

test.each([
  [{ charactersAdded: 12, charactersRemoved: 0, cells: 0, edits: 12 }, '12 letters written'],
  [{ charactersAdded: 1, charactersRemoved: 3, cells: 0, edits: 4 }, '1 letter written, 3 removed'],
  [{ charactersAdded: 0, charactersRemoved: 0, cells: 2, edits: 1 }, '2 cells changed'],
  [{ charactersAdded: 0, charactersRemoved: 0, cells: 0, edits: 5 }, '5 changes'],
])('%j reads %s', (beyond, said) => {
  expect(beyondInWords(beyond)).toBe(said)
})
