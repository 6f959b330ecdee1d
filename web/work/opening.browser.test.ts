// From an address to work that can be gone on with: what is opened, on which base, and with which unsaved edits.
import { uuidv7 } from 'uuidv7'
import { beforeAll, describe, expect, inject, test } from 'vitest'
import { blankDocument } from '../../core/content/document'
import type { StoredRecord } from '../../core/recovery/journal'
import { call, Refused } from '../api/call'
import { enterAs, newFile, nextVersion, textOf, textOfVersion, uniqueName, writersOf } from '../testing/writer'
import { device, heldDrafts } from './device'
import { endedInFile, endPiece } from './ending'
import { gatherDraft } from './gather'
import { tellJournal } from './journal'
import { type Opening, openDraft, openFile, openNew } from './opening'
import { isProblem } from './session'

let ida: string
beforeAll(async () => {
  ida = await enterAs('ida')
})
const { begin, goOn, leave } = writersOf(() => ida)
async function opened(fileId: string): Promise<Opening> {
  const opening = await openFile(fileId, ida, uuidv7())
  if ('otherType' in opening) throw new Error('This is no document.')
  return opening
}

describe('a file', () => {
  test('opens at its newest version, in a draft of its own', async () => {
    const { file, version } = await newFile(uniqueName('Opened'), 'One.')
    const next = await nextVersion(file.id, version.id, 'One.', 'Two.')
    const draftId = uuidv7()
    const opening = await openFile(file.id, ida, draftId)
    if ('otherType' in opening) throw new Error('This is no document.')
    expect(opening.beginning).toMatchObject({
      draftId,
      kind: 'document',
      file: { id: file.id, name: file.name, folderId: null },
      head: { id: next.version.id, number: 2 },
      base: { versionId: next.version.id },
      continued: null,
    })
    expect(textOf(opening.bytes!)).toBe('One.\nTwo.')
    expect(opening.recoveredFrom).toBeNull()
    expect(opening.records).toBeNull()
    // The journal's base and what is shown are two copies: the worker takes one of them over.
    expect(opening.beginning.base!.bytes).not.toBe(opening.bytes)
  })
  test('that no editor reads is shown as what it is', async () => {
    const name = `${uuidv7().slice(-8)}.pdf`
    const { file } = await call('newFile', {
      query: { key: uuidv7(), reason: 'brought in', shareId: inject('shareId'), name },
      bytes: new TextEncoder().encode('%PDF-1.7'),
    })
    expect(await openFile(file.id, ida, uuidv7())).toMatchObject({ otherType: { file: { name } } })
  })
  test('that is not there, or in a share of others, is refused in the same words', async () => {
    const refusal = await openFile(uuidv7(), ida, uuidv7()).catch((error) => error)
    expect(refusal).toBeInstanceOf(Refused)
    expect(refusal.problem.type).toBe('not-found')
    const { file } = await newFile(uniqueName('Ours'), 'Ours.')
    await enterAs('ben')
    const notHis = await openFile(file.id, ida, uuidv7()).catch((error) => error)
    expect(notHis.problem).toEqual(refusal.problem)
    await enterAs('ida')
  })
  test('with unsaved work of this device is gone on with; with another person’s it is not', async () => {
    const { file } = await newFile(uniqueName('Interrupted'), 'Said.')
    const writer = goOn((await opened(file.id)).beginning).type(' And unsaid.')
    await writer.kept()
    const draftId = await leave(writer)
    const back = await opened(file.id)
    expect(back).toMatchObject({ recoveredFrom: 'device', beginning: { draftId, continued: { savedSeq: 0 } } })
    expect(back.records).toHaveLength(12)
    const tomas = await enterAs('tomas')
    const his = await openFile(file.id, tomas, uuidv7())
    expect(his).toMatchObject({ recoveredFrom: null, beginning: { continued: null } })
    await enterAs('ida')
  })
  test('whose unsaved work a page of this browser has open is only shown, until it is taken over', async () => {
    const { file } = await newFile(uniqueName('Twice'), 'Once.')
    const writer = goOn((await opened(file.id)).beginning).type(' Twice.')
    await writer.kept()
    expect(await heldDrafts()).toContain(writer.session.state.draftId)
    const shown = await opened(file.id)
    expect(shown.beginning).toMatchObject({ heldElsewhere: true, draftId: writer.session.state.draftId })
    const taken = await openFile(file.id, ida, uuidv7(), true)
    expect(taken).toMatchObject({ beginning: { continued: { takeOver: true } } })
    expect('beginning' in taken && taken.beginning.heldElsewhere).toBeFalsy()
  })
  test('of two left pieces of work the one that was edited last is gone on with', async () => {
    const { file } = await newFile(uniqueName('Left twice'), 'Base.')
    const first = goOn((await opened(file.id)).beginning).type(' First.')
    await first.kept()
    await leave(first)
    // A second one begins where the first one is not seen: on another base of the same file.
    const other = goOn({ ...(await opened(file.id)).beginning, draftId: uuidv7(), continued: null })
    other.type(' Second.')
    await other.kept()
    const second = await leave(other)
    expect((await opened(file.id)).beginning.draftId).toBe(second)
  })
})

describe('a draft', () => {
  test('that nobody knows is nothing', async () => {
    expect(await openDraft(uuidv7())).toBeNull()
    expect(await gatherDraft(uuidv7())).toBeNull()
  })
  test('that this device lost is had from its recovery points', async () => {
    const writer = begin().type('From the server.')
    await writer.protected()
    const draftId = await leave(writer)
    await device.commit({ expect: [], forget: [draftId] })
    const opening = await openDraft(draftId)
    expect(opening).toMatchObject({ recoveredFrom: 'shared storage', lostFrom: null, missing: null })
    expect(opening!.records).toHaveLength(16)
    const back = goOn(opening!.beginning)
    expect(back.text).toBe('From the server.')
    await back.type(' On.').protected()
    const { lines } = await call('draft', { params: { draftId } })
    expect(lines).toHaveLength(20)
  })
  test('kept as a separate file loses its file and keeps its content', async () => {
    const { file } = await newFile(uniqueName('Together'), 'Common.')
    const writer = goOn((await opened(file.id)).beginning).type(' Apart.')
    await writer.kept()
    const draftId = await leave(writer)
    const opening = await openDraft(draftId, null, true)
    expect(opening!.beginning).toMatchObject({ file: null, head: null, continued: { savedSeq: 0 } })
    const back = goOn(opening!.beginning)
    const saved = await back.session.save({ shareId: inject('shareId'), folderId: null, name: uniqueName('Apart') })
    if (isProblem(saved)) throw new Error(saved.title)
    expect(saved.file.id).not.toBe(file.id)
    expect(await textOfVersion(saved.version.id)).toBe('Common. Apart.')
  })
  test('that was saved and went on is based on its own version, whatever came after it', async () => {
    const writer = begin().type('Mine.')
    const first = await writer.session.save({
      shareId: inject('shareId'),
      folderId: null,
      name: uniqueName('Went on'),
    })
    if (isProblem(first)) throw new Error(first.title)
    await writer.type(' More.').protected()
    const draftId = await leave(writer)
    await nextVersion(first.file.id, first.version.id, 'Theirs.')
    const opening = await openDraft(draftId)
    expect(opening).toMatchObject({
      beginning: { head: { id: first.version.id, number: 1 }, continued: { savedSeq: 5 } },
    })
    expect(goOn(opening!.beginning).text).toBe('Mine. More.')
  })
  test('whose journal is damaged is had up to there, and says from where it is not', async () => {
    const writer = begin().type('Whole until here.')
    await writer.protected()
    // What comes now is on this device only: nobody is signed in.
    await call('signOut', {})
    await writer.type(' Not whole.').kept()
    await expect.poll(() => writer.session.state.reach.server).toBe('signed out')
    const draftId = await leave(writer)
    const rows = (await device.rows(draftId)) as StoredRecord[]
    const broken = rows.find(({ seq }) => seq === 20)!
    await device.commit({ expect: [], records: [{ ...broken, text: broken.text.slice(0, -3) }] })
    await call('signIn', { body: { handle: 'ida', password: 'a long password' } })
    const gathered = await gatherDraft(draftId)
    expect(gathered).toMatchObject({ from: 'device', onDevice: 19, lostFrom: 20, pointSeq: 17 })
    expect(gathered!.records).toHaveLength(19)
    expect(goOn((await openDraft(draftId))!.beginning).text).toBe('Whole until here. N')
    await enterAs('ida')
  })
})

describe('how work ends', () => {
  test('closed without saving it is kept for its days, and got back it is interrupted work again', async () => {
    const writer = begin().type('Not wanted.')
    await writer.protected()
    const draftId = await leave(writer)
    await endPiece(draftId, 'let go', 14)
    const { draft } = await call('draft', { params: { draftId } })
    expect(draft.state).toBe('let go')
    expect(Date.parse(draft.keptUntil!) - Date.now()).toBeGreaterThan(13 * 86_400_000)
    await endPiece(draftId, 'open', 14)
    const again = await call('draft', { params: { draftId } })
    expect(again.draft).toMatchObject({ state: 'open', keptUntil: null })
    expect(goOn((await openDraft(draftId))!.beginning).text).toBe('Not wanted.')
  })
  test('got back while the server is still being told that it was closed, it is interrupted work all the same', async () => {
    for (let n = 0; n < 4; n++) {
      const writer = begin().type(`Closed by mistake ${n}.`)
      await writer.protected()
      const { draftId } = writer.session.state
      tellJournal({ do: 'close', draftId, how: 'let go' })
      await expect.poll(async () => (await device.draft(draftId))?.state, { interval: 1 }).toBe('let go')
      await endPiece(draftId, 'open', 14)
      await expect.poll(() => device.draft(draftId)).toMatchObject({ state: 'open', endUntold: false, keptUntil: null })
      expect((await call('draft', { params: { draftId } })).draft).toMatchObject({ state: 'open', keptUntil: null })
    }
  })
  test('work that this device does not have is ended on the server all the same', async () => {
    const writer = begin().type('Elsewhere.')
    await writer.protected()
    const draftId = await leave(writer)
    await device.commit({ expect: [], forget: [draftId] })
    await endPiece(draftId, 'let go', 14)
    expect((await call('draft', { params: { draftId } })).draft.state).toBe('let go')
  })
  test('what was written after a version was made of it is not ended with it', async () => {
    const writer = begin().type('In the file.')
    await writer.protected()
    const gathered = await gatherDraft(writer.session.state.draftId)
    await writer.type(' Not in the file.').kept()
    await endedInFile(gathered!)
    expect(await device.draft(writer.session.state.draftId)).toMatchObject({ journalSeq: 29 })
  })
})

describe('new work', () => {
  test('is blank, or stands on a template’s version, which it never touches', async () => {
    const draftId = uuidv7()
    expect(await openNew(draftId, 'spreadsheet', null)).toMatchObject({
      bytes: null,
      beginning: { draftId, kind: 'spreadsheet', file: null, base: null },
    })
    await enterAs('priya')
    const { version } = await newFile(uniqueName('Pattern'), 'Minutes of')
    const template = await call('newTemplate', {
      body: { versionId: version.id, name: `Pattern ${uuidv7().slice(-6)}`, conventionId: null, presets: {} },
    })
    await enterAs('ida')
    const opening = await openNew(uuidv7(), 'document', template.id)
    expect(opening.beginning).toMatchObject({ file: null, head: null, base: { versionId: version.id } })
    const writer = goOn(opening.beginning).type(' the office.')
    const saved = await writer.session.save({ shareId: inject('shareId'), folderId: null, name: uniqueName('Minutes') })
    if (isProblem(saved)) throw new Error(saved.title)
    expect(await textOfVersion(saved.version.id)).toBe('Minutes of the office.')
    expect(await textOfVersion(version.id)).toBe('Minutes of')
    await expect(openNew(uuidv7(), 'document', uuidv7())).rejects.toThrow()
    expect(blankDocument().textContent).toBe('')
  })
})
