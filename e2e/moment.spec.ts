// A share as it was: somebody's program wrote over everything, and one person brings it back.
import { expect, paper, signIn, test } from './office'

test.use({ apart: 'moment' })

test('after a program wrote over a share, it is as it was before by keys alone, and that is undone as one', async ({
  page,
  office,
}) => {
  await signIn(page, office.url, 'Priya')
  // Everything in the demo was long ago.
  const spoiled = await page.evaluate(async () => {
    const read = async (path: string) => (await fetch(path)).json()
    const post = (path: string, body: unknown) =>
      fetch(path, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) })
    const share = (await read('/api/shares')).find(({ name }: { name: string }) => name === 'Waterways')
    const { files } = (await read(`/api/shares/${share.id}/audit`)) as { files: [string, string, string][] }
    for (const [id] of files) {
      const { file } = await read(`/api/files/${id}`)
      await fetch(`/api/files/${id}/versions?baseId=${file.head.id}&key=${crypto.randomUUID()}`, {
        method: 'POST',
        body: `scrambled ${id}`,
      })
    }
    const some = files.slice(0, 3)
    const changes = some.map(([id, , name], n) => ({ id, name: `${n} locked.${name.split('.').pop()}` }))
    await post('/api/acts', { id: crypto.randomUUID(), what: 'rename', changes })
    const going = files.slice(5, 8).map(([id]) => ({ id }))
    await post('/api/acts', { id: crypto.randomUUID(), what: 'remove', changes: going })
    await fetch(`/api/files?shareId=${share.id}&name=Pay%20us.txt&key=${crypto.randomUUID()}`, {
      method: 'POST',
      body: 'pay',
    })
    return files.length
  })
  await page.goto(`${office.url}/files`)
  await page
    .getByRole('link', { name: /Waterways/ })
    .first()
    .press('Enter')
  await page.getByRole('link', { name: 'As it was at a moment' }).press('Enter')
  const differs = page.getByRole('region', { name: 'What differs' })
  const summary = page.getByText(/^Since then/)
  await expect(summary).toHaveText(
    `Since then ${spoiled} files have another content, 3 were removed, 3 were renamed and 1 is new.`,
  )
  await expect(differs.getByRole('checkbox', { name: 'Bring back Pay us.txt' })).not.toBeChecked()

  // Moments are gone through by what was changed: a week before there was less.
  const line = page.getByRole('slider', { name: 'Moment, by what was changed' })
  await line.focus()
  const before = await line.getAttribute('aria-valuetext')
  await page.keyboard.press('ArrowLeft')
  await expect(line).not.toHaveAttribute('aria-valuetext', before!)
  await expect(summary).toContainText('2 are new')
  await page.keyboard.press('End')
  await expect(line).toHaveAttribute('aria-valuetext', before!)
  await expect(summary).toContainText('1 is new')

  await page.getByRole('checkbox', { name: 'Bring back Pay us.txt' }).press('Space')
  await page.getByRole('button', { name: `Make ${spoiled + 1} things as they were` }).press('Enter')
  await expect(page.getByText('Everything here is as it was then.')).toBeVisible()
  const undo = page.getByRole('button', { name: 'Undo' })
  await undo.press('Enter')
  await expect(summary).toContainText(`${spoiled} files have another content`)

  // One file alone, with its content.
  await differs.getByRole('checkbox', { name: 'All that was' }).press('Space')
  await expect(page.getByRole('button', { name: 'Nothing is ticked' })).toBeDisabled()
  const one = differs.getByRole('listitem').filter({ hasText: 'Now called' }).first()
  const name = (await one.locator('.font-mono').first().getAttribute('title'))!
  await one.getByRole('checkbox').press('Space')
  await page.getByRole('button', { name: 'Make 1 thing as it was' }).press('Enter')
  await expect(page.getByText('1 thing is as it was.')).toBeVisible()
  await page.goto(`${office.url}/find?q=${encodeURIComponent(name)}`)
  await page.getByRole('link', { name }).first().press('Enter')
  await expect(paper(page)).toContainText(/\w/)

  // Whoever may only look sees what differs, and no way to change it.
  const tomas = await page.context().browser()!.newContext()
  const other = await tomas.newPage()
  await signIn(other, office.url, 'Tomas')
  await other.goto(`${office.url}/files`)
  await other
    .getByRole('link', { name: /Waterways/ })
    .first()
    .press('Enter')
  await other.getByRole('link', { name: 'As it was at a moment' }).press('Enter')
  await expect(other.getByText('You may look.')).toBeVisible()
  await expect(other.getByRole('checkbox')).toHaveCount(0)
  await tomas.close()
})
