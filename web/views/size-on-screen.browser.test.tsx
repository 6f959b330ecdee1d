// How large work is shown: chosen by keys and by the menu, kept on the device, the same in its other tabs.
import { expect, test } from 'vitest'
import { userEvent } from 'vitest/browser'
import { runByKeys } from '../design/commands'
import { show } from '../testing/render'
import { setSize, sizeOf, sizes, stepFrom } from './size'
import { SizeOnScreen } from './size-on-screen'

test('each step is the next size, from the smallest to the largest and back, and goes no further', () => {
  const steps = (from: number, way: 1 | -1) => sizes.reduce((seen) => [...seen, stepFrom(seen.at(-1)!, way)], [from])
  expect(new Set(steps(sizes[0], 1))).toEqual(new Set(sizes))
  expect(steps(sizes[0], 1).at(-1)).toBe(sizes.at(-1))
  expect(new Set(steps(sizes.at(-1)!, -1))).toEqual(new Set(sizes))
  // From what is none of them to the next one that way.
  expect([stepFrom(1.3, 1), stepFrom(1.3, -1)]).toEqual([1.5, 1.25])
})

test('keys and the menu choose it, texts and sheets apart; what is kept and cannot be is as usual', async () => {
  setSize('sheet', 1)
  setSize('text', 1.25)
  const went: string[] = []
  const { screen } = await show(<SizeOnScreen what="sheet" back={() => went.push('back')} />)
  const button = (size: string) => screen.getByRole('button', { name: `Size on screen: ${size}` })
  await expect.element(button('100%')).toBeVisible()
  const press = (key: string, code: string, shiftKey = false) =>
    runByKeys(new KeyboardEvent('keydown', { key, code, altKey: true, shiftKey, cancelable: true }))
  // Plus with and without Shift, as keyboards of several countries have it.
  expect(press('+', 'BracketRight')).toBe(true)
  expect(press('=', 'Equal')).toBe(true)
  expect(press('+', 'Equal', true)).toBe(true)
  await expect.element(button('150%')).toBeVisible()
  expect(press('-', 'Minus')).toBe(true)
  await expect.element(button('125%')).toBeVisible()
  expect(press('0', 'Digit0')).toBe(true)
  await expect.element(button('100%')).toBeVisible()
  ;(button('100%').element() as HTMLElement).focus()
  await userEvent.keyboard('{Enter}')
  // The menu moves the focus a moment after each key.
  const item = (size: string) => screen.getByRole('menuitem', { name: size, exact: true })
  await expect.element(item('300%')).toHaveFocus()
  await userEvent.keyboard('{End}')
  await expect.element(item('50%')).toHaveFocus()
  await userEvent.keyboard('{ArrowUp}')
  await expect.element(item('75%')).toHaveFocus()
  await userEvent.keyboard('{Enter}')
  await expect.element(button('75%')).toBeVisible()
  await expect.poll(() => went).toEqual(['back'])
  expect([sizeOf('sheet'), sizeOf('text')]).toEqual([0.75, 1.25])
  // Another tab of this browser says so.
  localStorage.setItem('jaula.size.sheet', '2')
  window.dispatchEvent(new StorageEvent('storage', { key: 'jaula.size.sheet', newValue: '2' }))
  await expect.element(button('200%')).toBeVisible()
  for (const kept of ['1e9', 'large', '']) {
    localStorage.setItem('jaula.size.sheet', kept)
    expect(sizeOf('sheet')).toBe(1)
  }
  setSize('sheet', 1)
  setSize('text', 1)
})
