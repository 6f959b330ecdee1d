// A session over the real journal worker, the real IndexedDB of a browser, and a real server.
import { uuidv7 } from 'uuidv7'
import { beforeAll, describe, expect, inject, test } from 'vitest'
import { call } from '../api/call'
import {
  docx,
  enterAs,
  newFile,
  nextVersion,
  textOf,
  textOfVersion,
  uniqueName,
  type Writer,
  writersOf,
} from '../testing/writer'
import { device } from './device'
import { gatherDraft } from './gather'
import { tellJournal } from './journal'
import { openFile } from './opening'
import { isProblem } from './session'
import type { SessionState } from './session-state'

let ida: string
beforeAll(async () => {
  ida = await enterAs('ida')
})
const { begin, goOn, leave } = writersOf(() => ida)
/** A writer in a file that is opened as the editor opens it. */
async function openedIn(fileId: string): Promise<Writer> {
  const opening = await openFile(fileId, ida, uuidv7())
  if (!('beginning' in opening)) throw new Error('This is no document.')
  return goOn(opening.beginning)
}
const place = (name: string) => ({ shareId: inject('shareId'), folderId: null, name })
/** Every state that a session goes through. */
function watched({ session }: Writer): SessionState[] {
  const seen: SessionState[] = []
  session.subscribe(() => seen.push(session.state))
  return seen
}

describe('how far work has got', () => {
  test('is told by confirmations alone, level by level, and never goes back while writing goes on', async () => {
    const writer = begin()
    const seen = watched(writer)
    writer.type('The lower gate was oiled.')
    expect(writer.session.state.reach).toMatchObject({ edit: { seq: 25 }, journal: { seq: 0 }, point: { seq: 0 } })
    expect(writer.session.unsaved).toBe(true)
    await writer.kept()
    await writer.protected()
    const marks = seen.map(({ reach }) => [reach.edit.seq, reach.journal.seq, reach.point.seq])
    for (const [edit, journal, point] of marks) {
      expect(journal).toBeLessThanOrEqual(edit!)
      expect(point).toBeLessThanOrEqual(edit!)
    }
    for (const level of [0, 1, 2])
      expect(marks.map((mark) => mark[level]!)).toEqual(marks.map((mark) => mark[level]!).toSorted((a, b) => a - b))
    await expect
      .poll(() => device.draft(writer.session.state.draftId))
      .toMatchObject({ journalSeq: 25, pointSeq: 25, opening: 'The lower gate was oiled.', state: 'open' })
    const { lines } = await call('draft', { params: { draftId: writer.session.state.draftId } })
    expect(lines).toHaveLength(25)
  })
  test('the outline is one object for as long as nothing changes but the progress of typing', async () => {
    const writer = begin().type('A')
    await writer.protected()
    const { outline } = writer.session
    const before = outline()
    expect(outline()).toBe(before)
    writer.type('B')
    await writer.kept()
    expect(outline()).toBe(before)
    await writer.protected()
    // A point is something that the frame around the work shows.
    expect(outline()).not.toBe(before)
    expect(outline()).toMatchObject({ unsaved: true, pointSeq: 2 })
  })
  test('progress is shown when typing pauses, not at each key; what is no longer true at once', async () => {
    const writer = begin().type('A')
    await writer.protected()
    await expect.poll(() => writer.session.snapshot().reach.point.seq).toBe(1)
    const shown: SessionState[] = []
    writer.session.subscribe(() => shown.push(writer.session.snapshot()))
    writer.type('B')
    // Shared storage had everything; it has not any more.
    expect(shown.map(({ reach }) => reach.edit.seq)).toEqual([2])
    for (const letter of 'CDEFGH') writer.type(letter)
    expect(shown).toHaveLength(1)
    expect(writer.session.snapshot().reach.edit.seq).toBe(2)
    expect(writer.session.state.reach.edit.seq).toBe(8)
    await expect.poll(() => writer.session.snapshot().reach.edit.seq).toBe(8)
    await expect.poll(() => writer.session.snapshot().reach.point.seq).toBe(8)
  })
  test('says since when work waits for a level, and that it waits no longer', async () => {
    const writer = begin()
    const began = Date.now()
    writer.type('Waits.')
    await expect.poll(() => writer.session.state.reach.waiting.device).toBeNull()
    await writer.protected()
    expect(writer.session.state.reach.waiting).toEqual({ device: null, storage: null })
    expect(writer.session.state.reach.point.at).toBeGreaterThanOrEqual(began)
  })
  test('with points switched off, the device alone has it, and the draft says so', async () => {
    const writer = begin()
    writer.session.setInterval(0)
    writer.type('For myself.')
    await writer.kept()
    await expect.poll(async () => (await device.draft(writer.session.state.draftId))?.pointsOff).toBe(true)
    expect(writer.session.state.reach).toMatchObject({ pointsOff: true, interval: 0 })
    expect(writer.session.state.reach.point.seq).toBe(0)
    writer.session.setInterval(5)
    await writer.protected()
  })
})

describe('saving', () => {
  test('the first save makes the file, the next ones its versions; what is written meanwhile is unsaved', async () => {
    const writer = begin().type('First.')
    const name = uniqueName('Saved by a session')
    const first = await writer.session.save(place(name))
    if (isProblem(first)) throw new Error(first.title)
    expect(first.version.number).toBe(1)
    expect(writer.session.state).toMatchObject({ file: { id: first.file.id, name }, head: { number: 1 } })
    expect(writer.session.unsaved).toBe(false)
    // The save has its moment's text, also when somebody writes on as soon as the device has it.
    let wroteOn = false
    const stop = writer.session.subscribe(() => {
      if (wroteOn || !writer.session.state.reach.waitingSave?.kept) return
      wroteOn = true
      queueMicrotask(() => writer.type(' Third.'))
    })
    const second = await writer.type(' Second.').session.save('own file')
    stop()
    expect(wroteOn).toBe(true)
    if (isProblem(second)) throw new Error(second.title)
    expect(await textOfVersion(second.version.id)).toBe('First. Second.')
    expect(writer.session.unsaved).toBe(true)
    expect(writer.session.state.reach.version).toMatchObject({ seq: 14, number: 2, author: 'ida' })
    const third = await writer.session.save('own file')
    if (isProblem(third)) throw new Error(third.title)
    expect(await textOfVersion(third.version.id)).toBe('First. Second. Third.')
    expect(writer.session.unsaved).toBe(false)
  })
  test('a name that is taken is a refusal, after which nothing is lost and another name does', async () => {
    const { file } = await newFile(uniqueName('Taken'), 'There already.')
    const writer = begin().type('Another one.')
    const answer = await writer.session.save(place(file.name))
    expect(answer).toMatchObject({ type: 'name-taken' })
    expect(writer.session.state.refusal).toMatchObject({ type: 'name-taken' })
    expect(writer.session.state.file).toBeNull()
    expect(writer.session.unsaved).toBe(true)
    const again = await writer.session.save(place(uniqueName('Not taken')))
    expect(isProblem(again)).toBe(false)
    expect(writer.session.state.refusal).toBeNull()
  })
  test('somebody who saved meanwhile is told of, and adopting that version lets the next save follow it', async () => {
    const { file, version } = await newFile(uniqueName('Both'), 'Ours.')
    const writer = (await openedIn(file.id)).type(' Mine.')
    const theirs = await nextVersion(file.id, version.id, 'Ours. Theirs.')
    const answer = await writer.session.save('own file')
    expect(answer).toMatchObject({ type: 'newer-version', head: { id: theirs.version.id } })
    expect(writer.session.unsaved).toBe(true)
    writer.session.adopt(writer.session.state.file, theirs.version)
    const merged = await writer.session.save('own file', 'merged')
    if (isProblem(merged)) throw new Error(merged.title)
    expect(merged.version).toMatchObject({ number: 3, reason: 'merged' })
    expect(await textOfVersion(merged.version.id)).toBe('Ours. Mine.')
  })
  test('what a version of somebody else’s holds is saved by it, on the device and on the server: nothing of it is work', async () => {
    const { file, version } = await newFile(uniqueName('Together'), 'Ours.')
    const writer = await openedIn(file.id)
    const { draftId } = writer.session.state
    const theirs = await nextVersion(file.id, version.id, 'Ours. Theirs.')
    writer.type(' Theirs.')
    const { seq } = writer.session.state.reach.edit
    writer.session.adopt(writer.session.state.file, theirs.version, seq)
    expect(writer.session.unsaved).toBe(false)
    expect(writer.session.state.reach.version).toMatchObject({ number: 2, seq })
    await expect
      .poll(() => device.draft(draftId))
      .toMatchObject({ savedSeq: seq, headVersionId: theirs.version.id, beyond: { edits: 0 } })
    await writer.protected()
    await expect.poll(async () => (await call('draft', { params: { draftId } })).draft.savedSeq).toBe(seq)
    // What is written after it is work again, and its next version follows that one.
    writer.type(' Mine.')
    expect(writer.session.unsaved).toBe(true)
    const saved = await writer.session.save('own file')
    if (isProblem(saved)) throw new Error(saved.title)
    expect(saved.version).toMatchObject({ number: 3, baseId: theirs.version.id })
    // An earlier place in the work than what was saved says nothing new.
    writer.session.adopt(writer.session.state.file, saved.version, 1)
    expect(writer.session.unsaved).toBe(false)
    await expect.poll(() => device.draft(draftId)).toMatchObject({ headVersionId: saved.version.id })
    expect((await device.draft(draftId))!.savedSeq).toBeGreaterThan(seq)
  })
  test('a copy becomes a file of its own, and the work goes on where it was', async () => {
    const writer = begin().type('Copied.')
    const name = uniqueName('A copy')
    const copy = await writer.session.copy(place(name), (await writer.session.encode()).bytes)
    if (copy === 'kept' || isProblem(copy)) throw new Error('The copy was not saved.')
    expect(copy.file.name).toBe(name)
    expect(copy.version.reason).toBe('copied')
    expect(writer.session.state.file).toBeNull()
    expect(writer.session.unsaved).toBe(true)
    expect(await device.saves()).toEqual([])
  })
  test('a save without anybody signed in waits, and is completed when somebody is', async () => {
    const writer = begin().type('Patient.')
    await writer.protected()
    await call('signOut', {})
    const saving = writer.session.save(place(uniqueName('Patient')))
    await expect.poll(() => writer.session.state.reach.server).toBe('signed out')
    await expect.poll(() => writer.session.state.reach.waitingSave?.kept).toBe(true)
    writer.type(' More.')
    await writer.kept()
    await enterAs('ida')
    const saved = await saving
    if (isProblem(saved)) throw new Error(saved.title)
    expect(await textOfVersion(saved.version.id)).toBe('Patient.')
    await expect.poll(() => writer.session.state.reach.server).toBe('there')
    await writer.protected()
  })
})

describe('leaving and coming back', () => {
  test('what was left is gone on with whole: records, cursor, first words, the version it is based on', async () => {
    const { file, version } = await newFile(uniqueName('Left'), 'Before.')
    const writer = (await openedIn(file.id)).type(' After.')
    await writer.kept()
    writer.select(3, 5)
    await expect.poll(async () => (await device.draft(writer.session.state.draftId))?.resting?.at).toEqual([3, 5])
    await leave(writer)
    const gathered = await gatherDraft(writer.session.state.draftId)
    expect(gathered).toMatchObject({ baseVersionId: version.id, lostFrom: null, savedSeq: 0, missing: null })
    expect(gathered!.records).toHaveLength(7)
    const back = await openedIn(file.id)
    expect(back.session.state.draftId).toBe(writer.session.state.draftId)
    expect(back.text).toBe('Before. After.')
    expect(back.session.restedAt).toEqual([3, 5])
    expect(back.session.unsaved).toBe(true)
    const saved = await back.type(' And on.').session.save('own file')
    if (isProblem(saved)) throw new Error(saved.title)
    expect(await textOfVersion(saved.version.id)).toBe('Before. After. And on.')
  })
  test('work whose base has a newer version by now is saved against its own base', async () => {
    const { file, version } = await newFile(uniqueName('Overtaken'), 'One.')
    const writer = (await openedIn(file.id)).type(' Two.')
    await writer.kept()
    await leave(writer)
    const theirs = await nextVersion(file.id, version.id, 'Uno.')
    const back = await openedIn(file.id)
    expect(back.text).toBe('One. Two.')
    expect(back.session.state.head).toMatchObject({ id: version.id, number: 1 })
    expect(await back.session.save('own file')).toMatchObject({
      type: 'newer-version',
      head: { id: theirs.version.id },
    })
  })
  test('another writer on the server is told of, and what only this page had is a draft of its own', async () => {
    const writer = begin().type('Together.')
    await writer.protected()
    const { draftId } = writer.session.state
    // Another device takes it over, as a page there would.
    const { standing } = await call('draft', { params: { draftId } })
    const other = { from: standing.epoch, writerId: uuidv7(), deviceId: uuidv7(), deviceName: 'the gatehouse' }
    expect((await call('takeOver', { params: { draftId }, body: other })).taken).toBe(true)
    writer.type(' Alone.')
    await expect.poll(() => writer.session.state.taken?.by).toBe('the gatehouse')
    const fork = await forkOf(writer)
    expect(fork.beyond.edits).toBe(7)
    expect(writer.session.unsaved).toBe(false)
    const parted = await gatherDraft(fork.id)
    expect(parted!.forkOf).toMatchObject({ draftId, seq: 9 })
    expect(parted!.records).toHaveLength(16)
  })
  test('the bytes of a moment are had without saving anything', async () => {
    const writer = begin().type('As it is.')
    const { bytes } = await writer.session.encode()
    expect(textOf(bytes)).toBe('As it is.')
    expect(textOf(docx('As it is.'))).toBe('As it is.')
    expect(writer.session.unsaved).toBe(true)
    expect(writer.session.opening()).toBe('As it is.')
    expect(writer.session.clues().text).toContain('As it is.')
  })
})

async function forkOf({ session }: Writer) {
  await expect.poll(() => session.state.taken?.fork).not.toBeNull()
  tellJournal({ do: 'try now' })
  return session.state.taken!.fork!
}
