// Rules of retention: what would be removed is told beforehand, and a hold stops it.
import { expect, signIn, test } from './office'

test('a rule of retention tells beforehand what would be removed, holds from then on, and a hold stops it', async ({
  page,
  office,
}) => {
  await signIn(page, office.url, 'Priya')
  await page.goto(`${office.url}/copies/retention`)
  await page.getByRole('link', { name: 'Finance' }).click()
  await page.getByRole('button', { name: 'Set a rule' }).click()
  await page.getByLabel('All versions for').fill('900')
  await expect(page.getByText('Each stretch begins where the one before it ends.')).toBeVisible()
  await expect(page.getByRole('button', { name: 'Turn it on' })).toBeDisabled()
  for (const [label, days] of [
    ['All versions for', '10'],
    ['then one an hour', '10'],
    ['then one a day', '20'],
    ['then one a week', '60'],
  ] as const)
    await page.getByLabel(label).fill(days)
  const preview = page.getByTestId('preview')
  await expect(preview).toContainText(/2[0-9] versions/)
  await expect(preview.getByRole('row').filter({ hasText: 'Maintenance_Budget' })).toContainText('41')
  await page.getByRole('button', { name: 'Turn it on' }).click()
  await expect(page.getByText('All versions for 10 days, then one a day up to 20 days')).toBeVisible()
  await page.getByRole('button', { name: 'Put a folder or a file on hold' }).click()
  await page
    .getByRole('dialog')
    .getByRole('button', { name: /Budgets/ })
    .click()
  await page.getByRole('textbox', { name: 'Why' }).fill('The audit of 2026')
  await page.getByRole('button', { name: 'Put Budgets on hold' }).click()
  await expect(page.getByRole('region', { name: 'On hold' })).toContainText('Finance / Budgets')
  await page.getByRole('button', { name: 'Change' }).click()
  await expect(page.getByTestId('preview')).toContainText('1 of them on hold')
  await expect(page.getByTestId('preview')).toContainText('0 versions')
  await page.getByRole('button', { name: 'Remove the rule' }).click()
  await expect(page.getByText('All versions, for good.')).toBeVisible()
})
