// Web pages: work becomes one, one from elsewhere is opened without anything in it running, and is saved clean.
import { brought, newest } from './brought'
import { fileFor, writeNotice } from './flows'
import { expect, paper, reach, signIn, test } from './office'

test('work is filed as a web page with nothing lost, and is gone on in as one', async ({ page, office }) => {
  await signIn(page, office.url)
  await writeNotice(page, office.url)
  await fileFor(page, 'For a web', 'Towpath for the web.html')
  await expect(paper(page).locator('h1')).toHaveText('Towpath closed.')
  await expect(paper(page).locator('strong')).toHaveText('Monday')
  await paper(page).press('Control+End')
  await page.keyboard.type(' on')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')
  const [{ id }] = (await office.query(
    "select head_version_id as id from entry where name = 'Towpath for the web.html'",
  )) as unknown as [{ id: string }]
  const answer = await page.request.get(`${office.url}/api/versions/${id}/bytes`)
  expect(await answer.text()).toContain('<h1>Towpath closed.</h1>\n<p>From <strong>Monday on</strong></p>')
  // It is handed out for keeping: nothing that it holds runs in here.
  expect(answer.headers()['content-type']).not.toContain('html')
  // Its versions are laid beside each other as what they say.
  await page.getByRole('button', { name: '2 versions' }).click()
  await expect(page.getByRole('list', { name: 'Versions' })).toContainText('on')
})

test('a page from elsewhere is opened with nothing running or fetched; what is left out is asked about', async ({
  page,
  office,
}) => {
  await signIn(page, office.url)
  const html = `<!doctype html><html lang="de"><title>Levels</title><script>document.title='ran'</script>
<body onload="document.title='ran'"><h2>Levels in May</h2><img src="https://example.org/seen.png" onerror="document.title='ran'">
<table><tr><th>Lock<th>Level<tr><td>LK01<td><font color="#aa3311">1.43</font></table><svg onload="document.title='ran'"></svg></body></html>`
  const saved = await brought(page, office, 'Levels from a web page.html', Buffer.from(html))
  const asked: string[] = []
  page.on('request', (request) => {
    if (!request.url().startsWith(office.url) && !/^(?:data|blob):/.test(request.url())) asked.push(request.url())
  })
  await page.goto(`${office.url}/open/${saved.file.id}`)
  await expect(paper(page).locator('h2')).toHaveText('Levels in May')
  await expect(paper(page).locator('td')).toHaveText(['Lock', 'Level', 'LK01', '1.43'])
  await expect(page.getByText('What you save will not have these')).toContainText('scripts')
  expect(await page.title()).not.toBe('ran')
  await paper(page).press('Control+Home')
  await page.keyboard.type('Our ')
  await page.keyboard.press('Control+s')
  const question = page.getByRole('alertdialog').or(page.getByRole('dialog'))
  await expect(question).toContainText('Version 2 would lose these')
  await expect(question).toContainText('1 image from elsewhere')
  await question.getByRole('button', { name: 'Save version 2 without them' }).press('Enter')
  await expect(reach(page)).toContainText('Saved as version 2')
  const page2 = (await newest(page, office, saved)).toString()
  expect(page2).toContain('<html lang="de">')
  expect(page2).toContain('<title>Levels</title>')
  expect(page2).toContain('<h2>Our Levels in May</h2>')
  expect(page2).toContain('<span style="color: #aa3311">1.43</span>')
  expect(page2).not.toMatch(/script|onload|example\.org|svg/)
  expect(asked).toEqual([])
})

test('a text in Markdown from elsewhere keeps its letters where nobody wrote', async ({ page, office }) => {
  await signIn(page, office.url)
  const text = '# Gates\n\n* upper\n* lower\n\nThe   sill\n\n```\npump --dry\n```\n'
  const saved = await brought(page, office, 'Gates from elsewhere.md', Buffer.from(text))
  await page.goto(`${office.url}/open/${saved.file.id}`)
  await expect(paper(page).locator('h1')).toHaveText('Gates')
  await expect(page.getByText('These stay in the file when you save it')).toContainText('1 piece of code')
  await paper(page).press('Control+Home')
  await page.keyboard.type('Our ')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')
  expect((await newest(page, office, saved)).toString()).toBe(text.replace('# Gates', '# Our Gates'))
})
