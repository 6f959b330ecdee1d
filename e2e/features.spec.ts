// Features of the table (web/testing/features) that no other walk makes: each in a file of its own, by keys alone, saved, and read
// by programs that know nothing of this one; compare tells it in the words of the table.
import type { Page } from '@playwright/test'
import { sayWorkbookChanges } from '../core/compare/words'
import { compareWorkbooks } from '../core/compare/workbook'
import { documentSchema } from '../core/content/document'
import type { Workbook } from '../core/content/workbook'
import { readDocument, writeDocument } from '../core/formats/documents'
import { readWorkbook, writePackage } from '../core/formats/workbooks'
import { english } from '../core/words/testing'
import { documentFeatures, line, type Stroke } from '../web/testing/features/documents'
import { elsewhereSheet, preludes as ofDocuments, sentence } from '../web/testing/features/held-documents'
import { askPython } from '../web/testing/features/python'
import { sheetFeatures, usual } from '../web/testing/features/sheets'
import { brought, newest } from './brought'
import { command } from './flows'
import { expect, type Office, paper, reach, signIn, test } from './office'

async function strike(page: Page, strokes: readonly Stroke[]): Promise<void> {
  const press = async (name: string | RegExp) => {
    await page.getByRole('button', { name, exact: true }).focus()
    await page.keyboard.press('Enter')
  }
  for (const stroke of strokes) {
    if (typeof stroke === 'string') await page.keyboard.press(stroke)
    else if ('type' in stroke) await page.keyboard.type(stroke.type)
    else if ('command' in stroke) await command(page, stroke.command)
    else if ('press' in stroke) await press(stroke.press)
    else if ('asked' in stroke) await expect(page.getByRole('textbox', { name: stroke.asked })).toBeFocused()
    else if ('menu' in stroke) {
      await press(stroke.menu)
      await expect(page.getByRole('menuitem', { name: new RegExp(`^${stroke.item}`) })).toBeVisible()
      const active = () => page.evaluate(() => document.activeElement?.textContent ?? '')
      for (let at = await active(); !at.startsWith(stroke.item); at = await active()) {
        await page.keyboard.press('ArrowDown')
        await expect.poll(active).not.toBe(at)
      }
      await page.keyboard.press('Enter')
    } else {
      await page.keyboard.press('Alt+l')
      const look = page.getByRole('region', { name: /^Look of the/ })
      if ('field' in stroke) {
        await look.getByLabel(stroke.field, { exact: true }).focus()
        await page.keyboard.type(stroke.is)
      } else await look.getByRole('button', { name: stroke.button, exact: true }).last().focus()
      await page.keyboard.press('Enter')
      await page.keyboard.press('Escape')
      await expect(look).toBeHidden()
    }
  }
}

interface Made {
  name: string
  base: Uint8Array
  strokes: readonly Stroke[]
  there: (page: Page) => Promise<void>
}
/** What each file holds after its feature was made in it. */
async function made(page: Page, office: Office, all: readonly Made[], type: string): Promise<Uint8Array[]> {
  const saved: Uint8Array[] = []
  for (const [index, { name, base, strokes, there }] of all.entries()) {
    const file = await brought(page, office, `Feature ${index} ${type}.${type}`, Buffer.from(base))
    await test.step(name, async () => {
      await page.goto(`${office.url}/open/${file.file.id}`)
      await there(page)
      await strike(page, strokes)
      await page.keyboard.press('Control+s')
      await expect(reach(page)).toContainText('Saved as version 2')
      saved.push(await newest(page, office, file))
    })
  }
  return saved
}
const asked = <T extends { name: string }>(all: readonly T[], answers: readonly unknown[]) =>
  Object.fromEntries(all.map(({ name }, index) => [name, answers[index]]))

test('what hands reach for in a document is made by keys alone', async ({ page, office }) => {
  await signIn(page, office.url)
  const all = documentFeatures.flatMap((one) => (one.by && 'keys' in one.by ? [{ ...one, keys: one.by.keys }] : []))
  const files = all.map(({ name, keys, content, on = 'lower gate', caret, reach: to = [] }): Made => {
    const blocks = [...(content ?? [line('The lower gate leaks.')]), line('Elsewhere it is dry.')]
    const base = writeDocument(documentSchema.nodes.doc.create(null, blocks), null, 'docx').bytes
    const text = readDocument(base, 'docx').doc
    let before = 0
    text.descendants((node) => {
      if (node.isTextblock && node.textContent.includes(on)) before = node.textContent.indexOf(on)
    })
    return {
      name,
      base,
      strokes: [
        'Control+Home',
        ...to,
        ...Array<string>(before).fill('ArrowRight'),
        ...Array<string>(caret ? 0 : on.length).fill('Shift+ArrowRight'),
        ...keys,
      ],
      there: async (own) => {
        await expect(paper(own)).toContainText('Elsewhere it is dry.')
        await expect(paper(own)).toBeFocused()
      },
    }
  })
  const saved = await made(page, office, files, 'docx')
  const answers = askPython(
    all.map(({ docx: [expression] }, index) => ({ bytes: saved[index]!, type: 'docx', expression })),
    ofDocuments,
  )
  expect(asked(all, answers)).toEqual(
    asked(
      all,
      all.map(({ docx }) => docx[1]),
    ),
  )
  const told = saved.map((bytes, index) =>
    sentence(readDocument(files[index]!.base, 'docx').doc, readDocument(bytes, 'docx').doc),
  )
  expect(asked(all, told)).toEqual(
    asked(
      all,
      all.map(({ said }) => said),
    ),
  )
})

test('what hands reach for in a spreadsheet is made by keys alone', async ({ page, office }) => {
  await signIn(page, office.url)
  const all = sheetFeatures.flatMap((one) => (one.by && 'keys' in one.by ? [{ ...one, keys: one.by.keys }] : []))
  const files = all.map(({ name, keys, before }): Made => {
    const book: Workbook = { sheets: [before?.(usual) ?? usual, elsewhereSheet] }
    return {
      name,
      base: writePackage(book, () => undefined, 'xlsx', {}).bytes,
      strokes: ['Control+Home', 'ArrowRight', 'ArrowDown', ...keys],
      there: async (own) => {
        await expect(own.getByTestId('glide-cell-1-1')).toHaveText('LK02')
        await expect.poll(() => own.evaluate(() => document.activeElement?.closest('canvas') !== null)).toBe(true)
      },
    }
  })
  const saved = await made(page, office, files, 'xlsx')
  const answers = askPython(
    all.map(({ xlsx: [expression] }, index) => ({ bytes: saved[index]!, type: 'xlsx', expression })),
    { xlsx: 'import openpyxl\nd = openpyxl.load_workbook(path)\ns = d.worksheets[0]' },
  )
  expect(asked(all, answers)).toEqual(
    asked(
      all,
      all.map(({ xlsx }) => xlsx[1]),
    ),
  )
  const told = saved.map((bytes, index) =>
    english(
      sayWorkbookChanges(
        compareWorkbooks(readWorkbook(files[index]!.base, 'xlsx').workbook, readWorkbook(bytes, 'xlsx').workbook),
      ),
    ),
  )
  expect(asked(all, told)).toEqual(
    asked(
      all,
      all.map(({ said }) => said),
    ),
  )
})
