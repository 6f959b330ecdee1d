// Notes and comments, by keys alone; read by programs that know nothing of this one (python-docx, odfpy), said otherwise,
// undone, told by the lifeline, and taken out again.
import type { Page } from '@playwright/test'
import { odtOf } from '../core/formats/odt/testing'
import { brought, readBy } from './brought'
import { command, enterByKeys } from './flows'
import { expect, fileAs, paper, reach, signIn, test, writeNew } from './office'

const panel = (page: Page) => page.getByRole('region', { name: 'Notes and comments' })
const words = (page: Page) => panel(page).getByRole('textbox')
/** What is said of a text and of which words, its paragraphs, and the styles that the signs of notes have. */
const docxReader = `
import sys, json, docx
from docx.oxml.ns import qn
from lxml import etree
document = docx.Document(sys.argv[1])
def notes(kind):
    for relation in document.part.rels.values():
        if relation.reltype.endswith('/' + kind + 's'):
            return [one for one in etree.fromstring(relation.target_part.blob) if one.get(qn('w:type')) is None]
    return []
said = lambda one: ['|'.join(''.join(t.text or '' for t in p.iter(qn('w:t'))) for p in one.iter(qn('w:p'))).strip(), one.get(qn('w:author')), one.get(qn('w:initials')), bool(one.get(qn('w:date')))]
about, within = [], 0
for one in document.element.body.iter():
    within += {qn('w:commentRangeStart'): 1, qn('w:commentRangeEnd'): -1}.get(one.tag, 0)
    if within and one.tag == qn('w:t'): about.append(one.text)
print(json.dumps({
    'comments': [said(one) for one in notes('comment')],
    'about': about,
    'footnotes': [said(one)[0] for one in notes('footnote')],
    'endnotes': [said(one)[0] for one in notes('endnote')],
    'text': [p.text for p in document.paragraphs],
    'styles': [r.style.name for p in document.paragraphs for r in p.runs if r._r.find(qn('w:footnoteReference')) is not None],
}))
`
const odtReader = `
import sys, json
from odf import office, text, teletype
from odf.opendocument import load
document = load(sys.argv[1])
about, open = [], False
def visit(one):
    global open
    if one.nodeType == 3:
        if open: about.append(str(one))
    elif one.qname[1] in ('annotation', 'note'):
        open = open or one.qname[1] == 'annotation'
    elif one.qname[1] == 'annotation-end':
        open = False
    else:
        for inner in one.childNodes: visit(inner)
visit(document.text)
print(json.dumps({
    'about': about,
    'notes': [[note.getAttribute('noteclass'), teletype.extractText(note.getElementsByType(text.NoteBody)[0])] for note in document.getElementsByType(text.Note)],
    'comments': ['|'.join(teletype.extractText(p) for p in one.getElementsByType(text.P)) for one in document.getElementsByType(office.Annotation)],
}))
`

test('a comment and notes are written by keys, are in the file, say something else, and go without a trace', async ({
  page,
  office,
}, info) => {
  await enterByKeys(page, office.url)
  await writeNew(page, office.url, 'The lower gate leaks.')
  // It is about the words that are selected.
  for (const key of ['Home', ...Array(4).fill('ArrowRight'), ...Array(10).fill('Shift+ArrowRight')])
    await page.keyboard.press(key)
  await page.keyboard.press('Alt+j')
  await expect(panel(page).getByRole('button', { name: 'Write a comment' })).toBeFocused()
  await page.keyboard.press('Enter')
  await expect(words(page)).toBeFocused()
  // What is typed is in the text at once: who typed it, and in its place.
  await page.keyboard.type('Which gate')
  await expect(paper(page).getByRole('img', { name: 'Comment: Ida Thornquist: Which gate' })).toBeVisible()
  await expect(paper(page).locator('mark')).toHaveText('lower gate')
  await page.keyboard.type(' is meant?')
  await page.keyboard.press('Enter')
  await page.keyboard.type('Ask Ben.')
  await page.keyboard.press('Escape')
  await expect(panel(page)).toBeHidden()
  // The caret is behind it: what is typed next takes nothing away.
  await expect(paper(page)).toBeFocused()
  await page.keyboard.type(' there')
  await page.keyboard.press('End')
  await page.keyboard.type(' It is old')
  await command(page, 'Write a footnote')
  await expect(words(page)).toBeFocused()
  await page.keyboard.type('Lock diary, p. 4')
  await page.keyboard.press('Escape')
  await page.keyboard.type('.')
  // One that is begun and says nothing is none.
  await command(page, 'Write an endnote')
  await expect(words(page)).toBeFocused()
  await page.keyboard.type('x')
  await page.keyboard.press('Backspace')
  await page.keyboard.press('Escape')
  await expect(paper(page).locator('.kept')).toHaveCount(2)
  await page.keyboard.press('Control+s')
  await fileAs(page, 'Gates of LK02')
  const read = () => readBy(docxReader, page, office, info, 'Gates of LK02.docx')
  expect(await read()).toEqual({
    comments: [['Which gate is meant?|Ask Ben.', 'Ida Thornquist', 'IT', true]],
    footnotes: ['Lock diary, p. 4'],
    endnotes: [],
    about: ['lower gate'],
    text: ['The lower gate there leaks. It is old.'],
    styles: ['footnote reference'],
  })

  // Opened again, the first of the list is gone to and says something else.
  await page.reload()
  await expect(paper(page).locator('.kept')).toHaveCount(2)
  await paper(page).focus()
  await page.keyboard.press('Alt+j')
  await expect(panel(page).getByRole('button', { name: 'Write a comment' })).toBeFocused()
  await expect(panel(page).getByRole('listitem')).toHaveCount(2)
  await expect(panel(page).getByRole('listitem').nth(1)).toContainText('Footnote 1')
  for (let tabs = 0; tabs < 3; tabs++) await page.keyboard.press('Tab')
  await expect(panel(page).getByRole('button', { name: /^Ida Thornquist, today/ })).toBeFocused()
  await page.keyboard.press('Enter')
  await expect(words(page)).toBeFocused()
  await expect(words(page)).toHaveValue('Which gate is meant?\nAsk Ben.')
  await page.keyboard.press('Control+Home')
  await page.keyboard.type('Ben: ')
  await page.keyboard.press('Escape')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')
  expect((await read()).comments).toEqual([['Ben: Which gate is meant?|Ask Ben.', 'Ida Thornquist', 'IT', true]])
  await expect(page.getByText(/^Version 2.*1 comment says something else\./)).toBeVisible()

  // Undone letter by letter as text is; taken out, nothing of it is in the file.
  await page.keyboard.press('Control+z')
  await expect(paper(page).getByRole('img', { name: /^Comment: Ida Thornquist: Which gate is meant\?/ })).toBeVisible()
  await page.keyboard.press('Control+y')
  await expect(paper(page).getByRole('img', { name: /^Comment: Ida Thornquist: Ben: Which/ })).toBeVisible()
  await page.keyboard.press('Control+a')
  await page.keyboard.press('ArrowLeft')
  for (let letters = 0; letters < 'The lower gate'.length; letters++) await page.keyboard.press('ArrowRight')
  await page.keyboard.press('Delete')
  await expect(page.getByText(/^Comment removed: “Ida Thornquist: Ben: Which/)).toBeVisible()
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 3')
  expect(await read()).toMatchObject({ comments: [], about: [], footnotes: ['Lock diary, p. 4'] })
  await expect(paper(page).locator('mark')).toHaveCount(0)
})

test('a note of a text in the open standard is opened by Enter at its sign, and says something else in the file', async ({
  page,
  office,
}, info) => {
  await signIn(page, office.url)
  const bytes = odtOf(
    '<text:p>The sill is worn<text:note text:id="n1" text:note-class="footnote"><text:note-citation>1</text:note-citation><text:note-body><text:p>Seen in June.</text:p></text:note-body></text:note>.</text:p>',
    { styles: '<style:style style:name="Standard" style:family="paragraph"/>' },
  )
  const { file } = await brought(page, office, 'Sill of LK07.odt', Buffer.from(bytes))
  await page.goto(`${office.url}/open/${file.id}`)
  await expect(paper(page).getByRole('img', { name: 'Footnote: Seen in June.' })).toBeVisible()
  await expect(paper(page)).toBeFocused()
  await page.keyboard.press('Control+Home')
  for (let letters = 0; letters <= 'The sill is worn'.length; letters++) await page.keyboard.press('ArrowRight')
  await expect(paper(page).locator('.kept-card')).toContainText('Enter opens what it says.')
  await page.keyboard.press('Enter')
  await expect(words(page)).toBeFocused()
  await page.keyboard.press('Control+End')
  await page.keyboard.type(' And in July.')
  await page.keyboard.press('Escape')
  await page.keyboard.press('Shift+Home')
  await command(page, 'Write a comment')
  await expect(words(page)).toBeFocused()
  await page.keyboard.type('By whom?')
  await page.keyboard.press('Escape')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')
  expect(await readBy(odtReader, page, office, info, 'Sill of LK07.odt')).toEqual({
    notes: [['footnote', 'Seen in June. And in July.']],
    comments: ['By whom?'],
    about: ['The sill is worn'],
  })
})
