// Every action by name and by keys: offered while its screen is there, found by words, carried out once.
import { useState } from 'react'
import { describe, expect, test } from 'vitest'
import { userEvent } from 'vitest/browser'
import { runByKeys, runCommand, useCommands, useOffer } from '../design/commands'
import { focused, show } from '../testing/render'
import { AllKeys } from './keys'
import { CommandPalette } from './palette'

const press = (part: KeyboardEventInit & { key: string }) => {
  const event = new KeyboardEvent('keydown', { cancelable: true, ...part })
  return { did: runByKeys(event), stopped: event.defaultPrevented }
}
function Offer({ done, more = false }: { done: string[]; more?: boolean }) {
  useOffer([
    { id: 'save', label: 'Save', keys: 'Mod+S', group: 'This file', run: () => done.push('save') },
    { id: 'level', label: 'Heading 1', keys: 'Alt+Shift+1', group: 'This file', run: () => done.push('level') },
    ...(more
      ? [{ id: 'more', label: 'Look at versions', group: 'This file', words: 'history', run: () => done.push('more') }]
      : []),
  ])
  return null
}

describe('keys', () => {
  test('run their command with Control or Command, and no other one', async () => {
    const done: string[] = []
    const { screen } = await show(<Offer done={done} />)
    expect(press({ key: 's', ctrlKey: true })).toEqual({ did: true, stopped: true })
    expect(press({ key: 'S', metaKey: true })).toEqual({ did: true, stopped: true })
    expect(press({ key: 's' })).toEqual({ did: false, stopped: false })
    expect(press({ key: 's', ctrlKey: true, altKey: true }).did).toBe(false)
    expect(press({ key: 'S', ctrlKey: true, shiftKey: true }).did).toBe(false)
    // With Shift a digit gives another sign; which one depends on the layout.
    expect(press({ key: '!', code: 'Digit1', altKey: true, shiftKey: true }).did).toBe(true)
    expect(done).toEqual(['save', 'save', 'level'])
    await screen.unmount()
    expect(press({ key: 's', ctrlKey: true })).toEqual({ did: false, stopped: false })
  })
  test('of two screens that offer the same, the one that came last has them, and gives them back', async () => {
    const [first, second]: string[][] = [[], []]
    function Two() {
      const [both, setBoth] = useState(true)
      return (
        <>
          <Offer done={first!} />
          {both && <Offer done={second!} />}
          <button type="button" onClick={() => setBoth(false)}>
            Leave
          </button>
        </>
      )
    }
    const { screen } = await show(<Two />)
    press({ key: 's', ctrlKey: true })
    await screen.getByRole('button').click()
    press({ key: 's', ctrlKey: true })
    runCommand('save')
    runCommand('nothing that is offered')
    expect([first, second]).toEqual([['save', 'save'], ['save']])
  })
  test('a command does what it is now, though it was offered before', async () => {
    const counts: number[] = []
    function Counting() {
      const [count, setCount] = useState(0)
      useOffer([{ id: 'count', label: 'Count', keys: 'Alt+C', group: 'Test', run: () => counts.push(count) }])
      return (
        <button type="button" onClick={() => setCount(count + 1)}>
          {count}
        </button>
      )
    }
    const { screen } = await show(<Counting />)
    await screen.getByRole('button', { name: '0' }).click()
    await screen.getByRole('button', { name: '1' }).click()
    press({ key: 'c', altKey: true })
    expect(counts).toEqual([2])
  })
})

describe('the list of commands', () => {
  async function opened(done: string[]) {
    function List() {
      const [open, setOpen] = useState(true)
      return (
        <>
          <Offer done={done} more />
          <CommandPalette open={open} onOpenChange={setOpen} />
        </>
      )
    }
    const shown = await show(<List />)
    await expect.poll(() => document.activeElement?.tagName).toBe('INPUT')
    return shown
  }
  test('finds by the beginnings of words, also of words that are only meant, and runs what is chosen', async () => {
    const done: string[] = []
    const { screen } = await opened(done)
    await userEvent.keyboard('hist')
    await expect.element(screen.getByRole('option', { name: 'Look at versions' })).toBeVisible()
    await expect.element(screen.getByRole('option', { name: /^Save/ })).not.toBeInTheDocument()
    await userEvent.keyboard('{Enter}')
    await expect.poll(() => done).toEqual(['more'])
    await expect.element(screen.getByRole('dialog')).not.toBeInTheDocument()
  })
  test('shows the keys, says when nothing is called that, and Escape does nothing', async () => {
    const done: string[] = []
    const { screen } = await opened(done)
    await expect.element(screen.getByRole('option', { name: /^Heading 1/ })).toHaveTextContent('Alt+Shift+1')
    await userEvent.keyboard('zzzz')
    await expect.element(screen.getByText(/^No command is called that/)).toBeVisible()
    await userEvent.keyboard('{Enter}{Escape}')
    await expect.element(screen.getByRole('dialog')).not.toBeInTheDocument()
    expect(done).toEqual([])
  })
  test('answers how something is done, and goes where it is done', async () => {
    const { screen, address } = await opened([])
    await userEvent.keyboard('crash')
    const answer = screen.getByRole('option', { name: /^get back work after a crash/i })
    await expect.element(answer).toBeVisible()
    await answer.click()
    await expect.poll(address).toBe('/rescue')
  })
})

test('all keys stand on one screen: those of what is offered now, and those that always hold', async () => {
  const { screen } = await show(
    <>
      <Offer done={[]} />
      <AllKeys onClose={() => {}} />
    </>,
  )
  const dialog = screen.getByRole('dialog', { name: 'All keys' })
  await expect.element(dialog).toHaveTextContent('Heading 1')
  await expect.element(dialog).toHaveTextContent('In a spreadsheet')
  expect(document.querySelectorAll('dt')).toHaveLength(document.querySelectorAll('dd').length)
  await expect.poll(focused).toBe('Close')

  function Known() {
    return <p data-testid="known">{useCommands().length}</p>
  }
  const none = await show(<Known />)
  await expect.element(none.screen.getByTestId('known')).toHaveTextContent('2')
})
