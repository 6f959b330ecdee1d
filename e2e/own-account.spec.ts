// What somebody changes of their own account, in an office of its own: whoever signs in by it is asked for more.
import { Secret, TOTP } from 'otpauth'
import { expect, signIn, test } from './office'

test.use({ apart: 'own account' })

test('a second factor is set, asked for, and stood in for by a recovery code', async ({ page, office, browser }) => {
  await signIn(page, office.url, 'Ben Marlowe')
  await page.getByRole('link', { name: 'Settings', exact: true }).click()
  await page.getByRole('button', { name: 'Set a second factor' }).click()
  await expect(page.getByRole('dialog').getByLabel('Present password')).toBeFocused()
  await page.keyboard.type('lock-and-weir')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('img', { name: 'The secret as a picture' })).toBeVisible()
  const secret = (await page.getByRole('dialog').locator('code').textContent())!.replaceAll(' ', '')
  const device = new TOTP({ secret: Secret.fromBase32(secret) })
  await expect(page.getByLabel('Code that it shows')).toBeFocused()
  await page.keyboard.type('000000')
  await page.keyboard.press('Enter')
  await expect(page.getByText(/This code is not right/)).toBeVisible()
  await page.keyboard.press('Control+a')
  await page.keyboard.type(device.generate())
  await page.keyboard.press('Enter')
  const code = (await page.getByTestId('recovery-codes').getByRole('listitem').first().textContent())!
  await page.keyboard.press('Escape')
  await expect(page.getByText(/10 recovery codes are left/)).toBeVisible()

  const other = await (await browser.newContext()).newPage()
  await other.goto(office.url)
  await expect(other.getByLabel('Sign-in name')).toBeFocused()
  await other.keyboard.type('ben')
  await other.keyboard.press('Tab')
  await other.keyboard.type('lock-and-weir')
  await other.keyboard.press('Enter')
  await expect(other.getByLabel('Code that your device shows')).toBeFocused()
  await other.keyboard.type(code)
  await other.keyboard.press('Enter')
  await expect(other.getByRole('heading', { name: /^Good / })).toBeVisible()
  await other.context().close()
  await page.reload()
  await expect(page.getByText(/9 recovery codes are left/)).toBeVisible()

  // Their name, and the initials that names of files have of it.
  const form = page.getByRole('form', { name: 'Name and initials' })
  await expect(form).toContainText('BM, by your name, where you set none')
  await form.getByLabel('Your name').fill('Ben Marlowe-Hart')
  await form.getByLabel('Initials in names of files').fill('bh')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('button', { name: 'Ben Marlowe-Hart' })).toBeVisible()
  await page.reload()
  await expect(form.getByLabel('Initials in names of files')).toHaveValue('BH')
})
