// Texts of older programs: rich text is opened, changed and saved as what it was; a document of the binary format goes on as
// another type, with one history; any file goes on as a type that somebody chooses.

import type { Page } from '@playwright/test'
import { docOf } from '../core/formats/doc/testing'
import { readDocument } from '../core/formats/documents'
import { brought, newest } from './brought'
import { fileFor, goOnAfterLoss, writeNotice } from './flows'
import { expect, paper, reach, signIn, test } from './office'

const rich =
  '{\\rtf1\\ansi\\ansicpg1252\\deff0{\\fonttbl{\\f0\\froman Times;}}{\\stylesheet{\\fs24 Normal;}{\\s1\\b\\fs36 heading 1;}}{\\info{\\author Ida}}\n' +
  '\\pard\\plain\\s1\\b\\fs36 Stoppage at Lock 5\\par\n\\pard\\plain\\fs24\\tx2000 Boats may pass on {\\b\\expnd4 Sundays}{\\footnote\\pard From eight to noon.}.\\par\n' +
  '\\trowd\\cellx2000\\cellx4000\\pard\\intbl LK05\\cell 1.38\\cell\\row\\pard\\par}'

test('rich text of another program is opened with what it shows, and saved with nothing else touched', async ({
  page,
  office,
}) => {
  await signIn(page, office.url)
  const saved = await brought(page, office, 'Stoppage from elsewhere.rtf', Buffer.from(rich))
  await page.goto(`${office.url}/open/${saved.file.id}`)
  await expect(paper(page).locator('h1')).toHaveText('Stoppage at Lock 5')
  await expect(paper(page).locator('strong')).toHaveText('Sundays')
  await expect(paper(page).locator('td')).toHaveText(['LK05', '1.38'])
  await paper(page).press('Control+Home')
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('End')
  await page.keyboard.type(' Moor above – the weir.')
  await expect(paper(page)).toContainText('. Moor above – the weir.')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')
  expect(Buffer.from(await newest(page, office, saved)).toString('latin1')).toBe(
    rich.replace('}.\\par', "}. Moor above {\\uc1\\u8211\\'96} the weir.\\par"),
  )
})

test('work is filed as rich text, survives a lost page as it, and keeps its looks', async ({ page, office }) => {
  await signIn(page, office.url)
  await writeNotice(page, office.url)
  await fileFor(page, 'For an older text', 'Towpath in rich text.rtf')
  await goOnAfterLoss(page)
})

/** A notice of an older program, with a note, words in a box and a macro. */
const old = Buffer.from(
  docOf({
    lines: [
      { runs: ['Stoppage at Lock 7'], style: 1 },
      {
        runs: [
          'The lower gate is closed',
          {
            text: '\u0002',
            says: [
              [0x0855, 1],
              [0x2a48, 1],
            ],
          },
          { text: '\u0008', says: [[0x0855, 1]] },
          '.',
        ],
      },
    ],
    notes: [[{ runs: ['\u0002 See the lock diary.'] }]],
    boxes: [{ shape: 1025, lines: [{ runs: ['Call the duty desk first.'] }] }],
    styles: [{ name: 'Normal' }, { name: 'heading 1', known: 1, base: 0 }],
    storages: ['Macros'],
  }),
)

test('a document of the binary format goes on as another type when it is saved, and its first version stays what it was', async ({
  page,
  office,
}) => {
  await signIn(page, office.url)
  const saved = await brought(page, office, 'Stoppage by an older program.doc', old)
  await page.goto(`${office.url}/open/${saved.file.id}`)
  await expect(paper(page).locator('h1')).toHaveText('Stoppage at Lock 7')
  await expect(paper(page)).toContainText('Call the duty desk first.')
  await expect(page.getByText('Jaula reads files of the type .doc and does not write them.')).toContainText('1 macro')
  await paper(page).press('Control+End')
  await page.keyboard.type(' Then wait.')
  await expect(paper(page)).toContainText('first. Then wait.')
  await page.keyboard.press('Control+s')
  const asked = page.getByRole('dialog', { name: 'Version 2 would lose these' })
  await expect(asked).toContainText('1 macro')
  await page.keyboard.press('Tab')
  await expect(asked.getByRole('button', { name: 'Save version 2 without them' })).toBeFocused()
  await page.keyboard.press('Enter')
  await expect(page.getByRole('banner')).toContainText('Stoppage by an older program.docx')
  await expect(reach(page)).toContainText('This is version 2')
  await expect(page.getByText('does not write them')).toHaveCount(0)
  // It goes on as that, in the same place.
  await paper(page).press('Control+End')
  await page.keyboard.type(' Or turn.')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 3')
  expect(readDocument(await newest(page, office, saved), 'docx').doc.textContent).toContain(
    'first. Then wait. Or turn.',
  )
  expect(page.url()).toBe(`${office.url}/open/${saved.file.id}`)
  // What it was first is looked at as what it was.
  await page.keyboard.press('Alt+v')
  await expect(page.getByRole('button', { name: /^Version 2 / })).toContainText('.doc became .docx')
  const first = await page.request.get(`${office.url}/api/versions/${saved.version.id}/bytes`)
  expect((await first.body()).equals(old)).toBe(true)
})

test('a file goes on as a type that is chosen where it is renamed, with what that loses in sight', async ({
  page,
  office,
}) => {
  await signIn(page, office.url)
  await writeNotice(page, office.url)
  await page.keyboard.press('Control+s')
  await page.keyboard.press('Control+a')
  await page.keyboard.type('Towpath of many types')
  await page.keyboard.press('Enter')
  await expect(reach(page)).toContainText('Saved as version 1')
  const address = new URL(page.url()).pathname
  await page.keyboard.press('Alt+r')
  await page.getByRole('combobox', { name: 'What is it for?' }).focus()
  await page.keyboard.type('Plain text')
  await expect(page.getByTestId('losses')).toContainText('1 look of text')
  await expect(page.getByRole('form', { name: 'Filing slip' })).toContainText('of another type from version 2 on')
  await page.getByRole('textbox', { name: 'Name', exact: true }).focus()
  await page.keyboard.press('Enter')
  await expect(page.getByRole('banner')).toContainText('Towpath of many types.txt')
  await expect(reach(page)).toContainText('This is version 2')
  await expect(paper(page).locator('strong')).toHaveCount(0)
  expect(new URL(page.url()).pathname).toBe(address)
  // Undone by restoring, it is what it was, under that name.
  const [{ id }] = (await office.query(
    "select v.id from version v join entry e on e.id = v.file_id where e.name = 'Towpath of many types.txt' and v.number = 1",
  )) as unknown as [{ id: string }]
  const bytes = await (await page.request.get(`${office.url}/api/versions/${id}/bytes`)).body()
  expect(readDocument(bytes, 'docx').doc.textContent).toContain('From Monday')
})

test('two people go on with one file of an older program: it becomes another type once, and nobody’s words are lost', async ({
  page,
  office,
  browser,
}) => {
  await signIn(page, office.url)
  const saved = await brought(page, office, 'Shared by an older program.doc', old)
  const other = await (await browser.newContext()).newPage()
  await signIn(other, office.url, 'Ben Marlowe')
  for (const one of [page, other]) {
    await one.goto(`${office.url}/open/${saved.file.id}`)
    await expect(paper(one).locator('h1')).toHaveText('Stoppage at Lock 7')
  }
  const saveWithoutThem = async (one: Page) => {
    await one.keyboard.press('Control+s')
    await one.getByRole('button', { name: 'Save version 2 without them' }).focus()
    await one.keyboard.press('Enter')
  }
  await paper(page).press('Control+End')
  await page.keyboard.type(' Mine.')
  await paper(other).press('Control+Home')
  await other.keyboard.type('Theirs: ')
  await expect(paper(other).locator('h1')).toHaveText('Theirs: Stoppage at Lock 7')
  await saveWithoutThem(page)
  await expect(page.getByRole('banner')).toContainText('Shared by an older program.docx')
  // The other one's save finds it as what it is by now, and both are in it.
  await saveWithoutThem(other)
  await expect(reach(other)).toContainText('version 3')
  await expect(other.getByRole('banner')).toContainText('Shared by an older program.docx')
  const now = readDocument(await newest(page, office, saved), 'docx').doc.textContent
  expect(now).toContain('Theirs: Stoppage at Lock 7')
  expect(now).toContain('first. Mine.')
  const kinds = (await office.query('select number, type from version where file_id = $1 order by number', [
    saved.file.id,
  ])) as unknown as { number: number; type: string }[]
  expect(kinds.map(({ number, type }) => `${number} ${type}`)).toEqual(['1 doc', '2 docx', '3 docx'])
})
