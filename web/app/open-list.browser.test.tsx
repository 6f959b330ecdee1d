// The list of what is open, and closing it all, over real sessions.
import { afterEach, beforeAll, expect, test } from 'vitest'
import { userEvent } from 'vitest/browser'
import { call } from '../api/call'
import { keys } from '../api/keys'
import { focused, show } from '../testing/render'
import { enterAs, newFile, uniqueName, Writer } from '../testing/writer'
import { device } from '../work/device'
import { OpenList, useSwitching } from '../work/open-list'
import { closeOpenWork, openWorks, putAside, showWork } from '../work/open-works'
import { openFile } from '../work/opening'
import { CloseAll } from './close-all'
import { SaveAll, useAnswering } from './save-all'
import { SessionGate } from './session'

let ida: string
beforeAll(async () => {
  ida = await enterAs('ida')
})
afterEach(async () => {
  for (const { draftId } of openWorks()) await closeOpenWork(draftId, 'let go')
})
function aside(writer: Writer): Writer {
  showWork(writer.session, {
    name: () => writer.session.state.file?.name ?? 'Not named',
    save: async () => ({ ok: true, result: '' }),
    savesItself: () => false,
    close: (how) => writer.session.close(how),
  })
  putAside(writer.session)
  return writer
}
async function inFile(name: string, text: string): Promise<Writer> {
  const { file } = await newFile(name, 'Before.')
  const opening = await openFile(file.id, ida, crypto.randomUUID())
  if ('otherType' in opening) throw new Error('This is no document.')
  return aside(new Writer({ ...opening.beginning, personId: ida }).type(text))
}
function Around({ children }: { children: React.ReactNode }) {
  useAnswering()
  useSwitching()
  return children
}
const within = async (part: React.ReactNode) => {
  const session = await call('session', {})
  return show(
    <SessionGate first={session}>
      <Around>{part}</Around>
    </SessionGate>,
  )
}

test('nothing is listed while nothing is open; then each with its mark, and a choice goes there', async () => {
  const { screen, address } = await within(<OpenList />)
  await expect.element(screen.getByRole('button')).not.toBeInTheDocument()
  const file = await inFile(uniqueName('Listed'), ' More.')
  const clean = await inFile(uniqueName('Clean'), '')
  const button = screen.getByRole('button', { name: /2 open/ })
  await expect.element(button).toHaveAccessibleName(/1 of them not saved/)
  await button.click()
  const items = screen.getByRole('menuitem')
  await expect.element(items.nth(0)).toHaveTextContent(`${file.session.state.file!.name}Not saved`)
  await expect.element(items.nth(1)).toHaveTextContent(clean.session.state.file!.name)
  await items.nth(1).click()
  await expect.poll(address).toBe(`/open/${clean.session.state.file!.id}`)
})

test('beside the work that is shown, only others make the list worth a place', async () => {
  const { screen } = await within(<OpenList besides />)
  const shown = Writer.blank(ida).type('Shown.')
  showWork(shown.session, {
    name: () => 'Shown',
    save: async () => ({ ok: true, result: '' }),
    savesItself: () => false,
    close: (how) => shown.session.close(how),
  })
  await expect.element(screen.getByRole('button')).not.toBeInTheDocument()
  aside(Writer.blank(ida).type('Another.'))
  await expect.element(screen.getByRole('button', { name: /2 open/ })).toBeVisible()
})

test('the browser asks before a tab goes that has unsaved work open, and not otherwise', async () => {
  await within(null)
  const asks = () => {
    const event = new Event('beforeunload', { cancelable: true })
    window.dispatchEvent(event)
    return event.defaultPrevented
  }
  expect(asks()).toBe(false)
  await inFile(uniqueName('Clean'), '')
  expect(asks()).toBe(false)
  aside(Writer.blank(ida).type('Unsaved.'))
  await expect.poll(asks).toBe(true)
})

test('closing all asks once: what has a file is saved and closed, the rest stays and is said to', async () => {
  const file = await inFile(uniqueName('Closed'), ' More.')
  const unnamed = aside(Writer.blank(ida).type('No name.'))
  let closed = 0
  const { screen } = await within(<CloseAll onClose={() => closed++} />)
  const question = screen.getByRole('dialog', { name: '2 files are open, 2 with unsaved changes.' })
  await expect.element(question).toBeVisible()
  await screen.getByRole('button', { name: 'Save and close the one with a name' }).click()
  await expect.poll(() => openWorks().map(({ draftId }) => draftId)).toEqual([unnamed.session.state.draftId])
  const { versions } = await call('file', { params: { fileId: file.session.state.file!.id } })
  expect(versions).toHaveLength(2)
  await expect.element(screen.getByRole('listitem')).toHaveTextContent('Has no name yet')
  expect(closed).toBe(0)
  await screen.getByRole('button', { name: 'Close, go on later' }).click()
  await expect.poll(() => closed).toBe(1)
  expect(openWorks()).toEqual([])
  expect(await device.draft(unnamed.session.state.draftId)).toMatchObject({ state: 'closed' })
})

test('with nothing unsaved there is one answer; without saving, what was written is let go and kept', async () => {
  await inFile(uniqueName('Clean'), '')
  const clean = await within(<CloseAll onClose={() => {}} />)
  await expect.element(clean.screen.getByRole('dialog', { name: 'Close the file that is open?' })).toBeVisible()
  await expect.element(clean.screen.getByRole('button', { name: /without saving/ })).not.toBeInTheDocument()
  await clean.screen.getByRole('button', { name: 'Close', exact: true }).click()
  await expect.poll(openWorks).toEqual([])
  await clean.screen.unmount()

  const unwanted = aside(Writer.blank(ida).type('Unwanted.'))
  await unwanted.kept()
  const { screen } = await within(<CloseAll onClose={() => {}} />)
  await screen.getByRole('button', { name: 'Close without saving' }).click()
  await expect.poll(openWorks).toEqual([])
  expect(await device.draft(unwanted.session.state.draftId)).toMatchObject({ state: 'let go', journalSeq: 9 })
})

test('saving everything goes through what is open, one line each, and says what came of it', async () => {
  const file = await inFile(uniqueName('Saved with all'), ' More.')
  aside(Writer.blank(ida).type('No name.'))
  await inFile(uniqueName('Nothing new'), '')
  const { screen, client } = await within(<SaveAll onClose={() => {}} />)
  const lines = screen.getByRole('listitem')
  await expect.element(lines.nth(2)).toHaveTextContent('Nothing new')
  await expect.poll(focused).toMatch(/^Save all/)
  await userEvent.keyboard('{Enter}')
  await expect.element(lines.filter({ hasText: 'Saved with all' })).toHaveTextContent('Saved as version 2')
  await expect.element(lines.filter({ hasText: 'No name.' })).toHaveTextContent('Has no name yet')
  await expect.element(screen.getByRole('status')).toHaveTextContent('1 of 2')
  expect(client.getQueryData(keys.session())).toBeTruthy()
  const { versions } = await call('file', { params: { fileId: file.session.state.file!.id } })
  expect(versions[0]).toMatchObject({ number: 2, reason: 'saved' })
})
