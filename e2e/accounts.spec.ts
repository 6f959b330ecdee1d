import { expect, signIn, test } from './office'

// What a browser keeps for when the server is away is kept by its service worker.
test.use({ serviceWorkers: 'allow' })

test('where one is signed in is seen and ended, and the password changed, in Settings', async ({
  page,
  browser,
  office,
}) => {
  await signIn(page, office.url, 'Ben Marlowe')
  const other = await (await browser.newContext()).newPage()
  await signIn(other, office.url, 'Ben Marlowe')
  const third = await (await browser.newContext()).newPage()
  await signIn(third, office.url, 'Ben Marlowe')
  // What was looked at is kept for when the server is away …
  const kept = (one: typeof page) => one.evaluate(async () => (await caches.keys()).includes('jaula-answers'))
  for (const one of [other, third]) {
    await one.reload()
    await expect.poll(() => kept(one)).toBe(true)
  }
  await page.goto(`${office.url}/settings`)
  const list = page.getByRole('list', { name: 'Where you are signed in' })
  await expect(list.getByRole('listitem').filter({ hasText: 'here' })).toHaveCount(1)
  const before = await list.getByRole('listitem').count()
  expect(before).toBeGreaterThanOrEqual(3)
  await list
    .getByRole('button', { name: /^Sign out of/ })
    .first()
    .press('Enter')
  await expect(list.getByRole('listitem')).toHaveCount(before - 1)
  // One of the two is out at once: its news end, and its next question is told.
  await expect
    .poll(async () =>
      (
        await Promise.all([other, third].map((one) => one.evaluate(async () => (await fetch('/api/shares')).status)))
      ).sort(),
    )
    .toEqual([200, 401])
  // … and goes with the session, without anybody touching that browser.
  await expect.poll(async () => (await Promise.all([kept(other), kept(third)])).sort()).toEqual([false, true])

  const form = page.getByRole('form', { name: 'Change the password' })
  await form.getByLabel('Present password').fill('not it')
  await form.getByLabel('New password').fill('windlass and sluice')
  await page.keyboard.press('Enter')
  await expect(form).toContainText('This is not your present password.')
  await form.getByLabel('Present password').fill('lock-and-weir')
  await form.getByLabel('New password').fill('password1234')
  await page.keyboard.press('Enter')
  await expect(form).toContainText('guessed first')
  await form.getByLabel('New password').fill('windlass and sluice')
  await page.keyboard.press('Enter')
  await expect(page.getByText('Your password is changed.')).toBeVisible()
  await expect(list.getByRole('listitem')).toHaveCount(1)
  await expect
    .poll(async () =>
      Promise.all([other, third].map((one) => one.evaluate(async () => (await fetch('/api/shares')).status))),
    )
    .toEqual([401, 401])
  await expect.poll(async () => Promise.all([kept(other), kept(third)])).toEqual([false, false])
  await expect(other.getByRole('dialog', { name: 'Sign in again' })).toBeVisible()
  // Work goes on here; and the demo's own password is put back for those who come after.
  await form.getByLabel('Present password').fill('windlass and sluice')
  await form.getByLabel('New password').fill('lock-and-weir')
  await page.keyboard.press('Enter')
  await expect(page.getByText('Your password is changed.').first()).toBeVisible()
  for (const one of [other, third]) await one.context().close()
})
