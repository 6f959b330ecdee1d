// What is open in one tab: shown, put aside, come back to, saved and closed together.
import { uuidv7 } from 'uuidv7'
import { afterEach, beforeAll, expect, test } from 'vitest'
import { call } from '../api/call'
import { enterAs, newFile, nextVersion, textOfVersion, uniqueName, Writer } from '../testing/writer'
import { device, heldDrafts } from './device'
import {
  closeOpenWork,
  comeBack,
  type HowClosed,
  neighbour,
  openWorks,
  putAside,
  saveOpenWork,
  showWork,
  subscribeOpenWorks,
  workGone,
} from './open-works'
import { openDraft, openFile } from './opening'

let ida: string
beforeAll(async () => {
  ida = await enterAs('ida')
})
afterEach(async () => {
  for (const { draftId } of openWorks()) await closeOpenWork(draftId, 'let go')
})
/** As the editor shows work. */
function show(writer: Writer, name = 'Not named', savesItself = false): Writer {
  showWork(writer.session, {
    name: () => writer.session.state.file?.name ?? name,
    save: async () => ({ ok: true, result: 'saved by its page' }),
    savesItself: () => savesItself,
    close: (how: HowClosed) => writer.session.close(how),
  })
  return writer
}
async function showFile(fileId: string): Promise<Writer> {
  const opening = await openFile(fileId, ida, uuidv7())
  if ('otherType' in opening) throw new Error('This is no document.')
  return show(new Writer({ ...opening.beginning, personId: ida }))
}
const names = () => openWorks().map(({ name, unsaved, shown }) => `${name}${unsaved ? '*' : ''}${shown ? ' <' : ''}`)

test('what is shown is listed with its mark, which follows the work; the list is the same until it changes', async () => {
  const told: number[] = []
  const stop = subscribeOpenWorks(() => told.push(openWorks().length))
  const writer = show(Writer.blank(ida))
  expect(names()).toEqual(['Not named <'])
  const before = openWorks()
  writer.type('A')
  expect(names()).toEqual(['Not named* <'])
  expect(openWorks()).not.toBe(before)
  const marked = openWorks()
  await writer.type('BC').kept()
  expect(openWorks()).toBe(marked)
  expect(told).toEqual([1, 1])
  expect(openWorks()[0]).toMatchObject({ address: `/draft/${writer.session.state.draftId}`, named: false })
  stop()
})

test('unsaved work that is put aside stays held and protected, and is come back to whole', async () => {
  const writer = show(Writer.blank(ida)).type('Put aside.')
  const { draftId } = writer.session.state
  putAside(writer.session)
  expect(openWorks()[0]?.name).toMatch(/^Document begun at .*: Put aside\.$/)
  expect(openWorks()[0]).toMatchObject({ unsaved: true, shown: false, named: false })
  await expect.poll(heldDrafts).toContain(draftId)
  await writer.protected()
  // An address that is not open here is nothing to come back to.
  expect(await comeBack(`/draft/${uuidv7()}`)).toBe(false)
  expect(await comeBack(`/draft/${draftId}`)).toBe(true)
  expect(await heldDrafts()).not.toContain(draftId)
  const opening = await openDraft(draftId)
  const back = show(new Writer({ ...opening!.beginning, personId: ida }))
  expect(back.text).toBe('Put aside.')
  expect(names()).toEqual(['Not named* <'])
  expect(await comeBack(`/draft/${draftId}`)).toBe(false)
})

test('blank paper that nobody wrote on is not kept open', async () => {
  const writer = show(Writer.blank(ida))
  putAside(writer.session)
  expect(openWorks()).toEqual([])
  await expect.poll(heldDrafts).not.toContain(writer.session.state.draftId)
})

test('a file with nothing unsaved is an address to go back to; of many, those that were left first go', async () => {
  const files = await Promise.all(Array.from({ length: 10 }, (_, n) => newFile(uniqueName(`File ${n}`), `${n}`)))
  for (const { file } of files) putAside((await showFile(file.id)).session)
  expect(openWorks().map(({ address }) => address)).toEqual(files.slice(2).map(({ file }) => `/open/${file.id}`))
  expect(openWorks().every(({ unsaved, named }) => !unsaved && named)).toBe(true)
  await expect.poll(async () => (await heldDrafts()).size).toBe(0)
  // Shown once more, a file keeps its place in the list.
  const again = await showFile(files[5]!.file.id)
  expect(openWorks().findIndex(({ shown }) => shown)).toBe(3)
  expect(neighbour(1)?.address).toBe(`/open/${files[6]!.file.id}`)
  expect(neighbour(-1)?.address).toBe(`/open/${files[4]!.file.id}`)
  workGone(again.session)
  await again.session.close('finished')
  expect(neighbour(1)?.address).toBe(`/open/${files[2]!.file.id}`)
  expect(neighbour(-1)?.address).toBe(`/open/${files[9]!.file.id}`)
})

test('going round comes back to where it began, and alone there is nowhere to go', () => {
  expect(neighbour(1)).toBeNull()
  const one = show(Writer.blank(ida), 'One').type('1')
  expect(neighbour(1)).toBeNull()
  putAside(one.session)
  const two = show(Writer.blank(ida), 'Two').type('2')
  putAside(two.session)
  show(Writer.blank(ida), 'Three').type('3')
  expect(neighbour(1)?.name).toMatch(/: 1$/)
  expect(neighbour(-1)?.name).toMatch(/: 2$/)
})

test('what was put aside is saved in its file, with what was written before it was; then it holds nothing', async () => {
  const { file } = await newFile(uniqueName('Aside'), 'First.')
  const writer = (await showFile(file.id)).type(' Second.')
  putAside(writer.session)
  expect(await saveOpenWork(writer.session.state.draftId)).toMatchObject({ ok: true })
  expect(names()).toEqual([file.name])
  const { versions } = await call('file', { params: { fileId: file.id } })
  expect(versions).toHaveLength(2)
  expect(await textOfVersion(versions[0]!.id)).toBe('First. Second.')
  await expect.poll(heldDrafts).not.toContain(writer.session.state.draftId)
  expect(await saveOpenWork(writer.session.state.draftId)).toMatchObject({ ok: true })
  expect(await saveOpenWork(uuidv7())).toMatchObject({ ok: true })
})

test('what stands in the way of saving is said, and nothing is saved and nothing lost', async () => {
  const blank = show(Writer.blank(ida)).type('No name.')
  putAside(blank.session)
  expect(await saveOpenWork(blank.session.state.draftId)).toEqual({ ok: false, result: 'Has no name yet' })

  const { file, version } = await newFile(uniqueName('Overtaken'), 'Ours.')
  const writer = (await showFile(file.id)).type(' Mine.')
  putAside(writer.session)
  await nextVersion(file.id, version.id, 'Theirs.')
  const answer = await saveOpenWork(writer.session.state.draftId)
  expect(answer.ok).toBe(false)
  expect(names()).toEqual([expect.stringMatching(/: No name\.\*$/), `${file.name}*`])

  const limited = await newFile(uniqueName('Limited'), 'Whole.')
  const opening = await openFile(limited.file.id, ida, uuidv7())
  if ('otherType' in opening) throw new Error('This is no document.')
  const hindered = show(new Writer({ ...opening.beginning, personId: ida }))
  hindered.lost = [{ feature: 'charts', count: 1, where: ['Levels'] }]
  hindered.type(' More.')
  putAside(hindered.session)
  expect(await saveOpenWork(hindered.session.state.draftId)).toEqual({
    ok: false,
    result: 'The next version would lose 1 chart (near ‹Levels›). Open it and save it there.',
  })
  expect((await call('file', { params: { fileId: limited.file.id } })).versions).toHaveLength(1)
})

test('a file that saves itself does so when it is left, and holds nothing then', async () => {
  const { file } = await newFile(uniqueName('By itself'), 'First.')
  const opening = await openFile(file.id, ida, uuidv7())
  if ('otherType' in opening) throw new Error('This is no document.')
  const writer = show(new Writer({ ...opening.beginning, personId: ida }), '', true).type(' Second.')
  putAside(writer.session)
  await expect.poll(names).toEqual([file.name])
  const { versions } = await call('file', { params: { fileId: file.id } })
  expect(versions[0]).toMatchObject({ number: 2, reason: 'by itself' })
  expect(await textOfVersion(versions[0]!.id)).toBe('First. Second.')
})

test('two drafts of one file are two pieces of work; neither takes the other off the list', async () => {
  const { file } = await newFile(uniqueName('Twice'), 'Common.')
  const first = (await showFile(file.id)).type(' First.')
  await first.kept()
  putAside(first.session)
  const opening = await openFile(file.id, ida, uuidv7())
  if ('otherType' in opening) throw new Error('This is no document.')
  const beginning = { ...opening.beginning, draftId: uuidv7(), personId: ida, heldElsewhere: false, continued: null }
  const second = show(new Writer(beginning)).type(' Second.')
  expect(openWorks().map(({ draftId }) => draftId)).toEqual([first, second].map((one) => one.session.state.draftId))
  await second.kept()
})

test('work that its page let go of and that was not opened again is not said to have nothing to save', async () => {
  const writer = show(Writer.blank(ida)).type('Between two screens.')
  await writer.kept()
  const { draftId } = writer.session.state
  putAside(writer.session)
  await comeBack(`/draft/${draftId}`)
  expect(await saveOpenWork(draftId)).toMatchObject({ ok: false })
})

test('what only the page’s memory has is not let go of before something else has it', async () => {
  const writer = show(Writer.blank(ida)).type('On the disk.')
  await writer.protected()
  const { draftId } = writer.session.state
  putAside(writer.session)
  // The journal refuses, and the server has not got the last edit.
  const { state } = writer.session
  const at = Date.now()
  writer.session.state = {
    ...state,
    reach: { ...state.reach, edit: { seq: 13, at }, journal: { ...state.reach.journal, refused: 'No room.' } },
  }
  let back: boolean | null = null
  const coming = comeBack(`/draft/${draftId}`).then((came) => {
    back = came
  })
  await expect.poll(heldDrafts).toContain(draftId)
  expect(back).toBeNull()
  // A record that reaches the server confirms it.
  writer.session.state = { ...writer.session.state, reach: { ...state.reach, edit: { seq: 12, at } } }
  writer.type('!')
  await coming
  expect(back).toBe(true)
  expect((await device.draft(draftId))?.journalSeq).toBe(13)
})

test('what is shown is saved by its page', async () => {
  const writer = show(Writer.blank(ida)).type('Shown.')
  expect(await saveOpenWork(writer.session.state.draftId)).toEqual({ ok: true, result: 'saved by its page' })
})

test('closed together, what is unsaved is kept as it was asked, and what is saved is finished', async () => {
  const { file } = await newFile(uniqueName('Finished'), 'Saved.')
  const saved = await showFile(file.id)
  putAside(saved.session)
  const unsaved = show(Writer.blank(ida)).type('Unsaved.')
  await unsaved.protected()
  for (const { draftId } of openWorks()) await closeOpenWork(draftId, 'closed')
  expect(openWorks()).toEqual([])
  expect(await device.draft(unsaved.session.state.draftId)).toMatchObject({ state: 'closed', journalSeq: 8 })
  await expect.poll(async () => (await heldDrafts()).size).toBe(0)
})

test('work that another device went on with is not kept open here once nobody looks at it', async () => {
  const writer = show(Writer.blank(ida)).type('Together.')
  await writer.protected()
  const { draftId } = writer.session.state
  putAside(writer.session)
  const { standing } = await call('draft', { params: { draftId } })
  const other = { from: standing.epoch, writerId: uuidv7(), deviceId: uuidv7(), deviceName: 'the gatehouse' }
  expect((await call('takeOver', { params: { draftId }, body: other })).taken).toBe(true)
  await expect.poll(openWorks).toEqual([])
})
