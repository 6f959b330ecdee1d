// A rule of retention as it is typed, with what it would do, against a real server.
import { beforeAll, describe, expect, inject, test } from 'vitest'
import { userEvent } from 'vitest/browser'
import type { RetentionRule, Share } from '../../core/contract'
import { usualRule } from '../../core/contract'
import { call } from '../api/call'
import { show } from '../testing/render'
import { enterAs } from '../testing/writer'
import { RuleEditor } from './rule-editor'

let share: Share
beforeAll(async () => {
  await enterAs('priya')
  share = (await call('shares', {})).find(({ id }) => id === inject('shareId'))!
})
async function editing(present: RetentionRule | null = null) {
  const set: (RetentionRule | null)[] = []
  let back = 0
  const { screen } = await show(
    <RuleEditor
      share={share}
      folderId={null}
      path={['Waterways']}
      present={present}
      beginning={usualRule}
      onSet={(rule) => set.push(rule)}
      onBack={() => back++}
    />,
  )
  return { screen, set, back: () => back, field: (label: string) => screen.getByRole('textbox', { name: label }) }
}

test('begins with the usual rule, says it, and tells what it would do before it is set', async () => {
  const { screen, set, field } = await editing()
  await expect.element(field('All versions for')).toHaveValue('30')
  await expect.element(screen.getByRole('checkbox')).toBeChecked()
  await expect.element(screen.getByText(/^All versions for 30 days, then/)).toBeVisible()
  await expect.element(screen.getByTestId('preview')).toHaveTextContent(/would be removed/i)
  expect(set).toEqual([])
  await field('Then one an hour, up to').fill('45')
  await userEvent.keyboard('{Enter}')
  await expect.poll(() => set).toEqual([{ ...usualRule, hourly: 45 }])
})

describe('what is no rule', () => {
  test.each([
    ['All versions for', '2.5', 'Days are whole numbers.'],
    ['All versions for', '-1', 'Days are whole numbers.'],
    ['Then one a month, up to', 'for ever', 'Days are whole numbers.'],
    ['Then one a day, up to', '', 'Something is missing.'],
  ])('%s %s: %s', async (label, typed, said) => {
    const { screen, set, field } = await editing()
    await field(label).fill(typed)
    await expect.element(screen.getByRole('alert')).toHaveTextContent(said)
    await expect.element(screen.getByRole('button', { name: 'Turn it on' })).toBeDisabled()
    await field(label)
      .element()
      .dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true }))
    expect(set).toEqual([])
    await field(label).fill('900')
    await expect.poll(() => document.querySelector('[role=alert]')?.textContent ?? '').not.toContain(said)
  })
  test('a stretch that ends before the one in front of it', async () => {
    const { screen, field } = await editing()
    await field('All versions for').fill('900')
    await expect.element(screen.getByRole('alert')).toBeVisible()
    await expect.element(field('All versions for')).not.toHaveAttribute('aria-invalid', 'true')
  })
})

test('one a month for good, or up to a day; what was typed otherwise stays', async () => {
  const { screen, set, field } = await editing()
  const forGood = screen.getByRole('checkbox')
  await forGood.click()
  await expect.element(field('Then one a month, up to')).toHaveValue('730')
  await field('Then one a month, up to').fill('3650')
  await field('All versions for').fill('10')
  await screen.getByRole('button', { name: 'Turn it on' }).click()
  await expect.poll(() => set.at(-1)).toEqual({ ...usualRule, all: 10, monthly: 3650 })
  await forGood.click()
  await expect.element(field('Then one a month, up to')).toHaveValue('')
  await expect.element(field('All versions for')).toHaveValue('10')
})

test('a rule that holds can be changed and taken away', async () => {
  const present = { all: 7, hourly: 7, daily: 14, weekly: 60, monthly: 400 }
  const { screen, set, back, field } = await editing(present)
  await expect.element(field('Then one a month, up to')).toHaveValue('400')
  await screen.getByRole('button', { name: 'Remove the rule' }).click()
  expect(set).toEqual([null])
  await screen.getByRole('button', { name: 'Back to the rules' }).click()
  await screen.getByRole('button', { name: 'Cancel' }).click()
  expect(back()).toBe(2)
})
