import { strToU8, zipSync } from 'fflate'
import { expect, test } from 'vitest'
import { documentFromJSON } from '../../content/document'
import { readPageEdges } from './edges'

const w = 'http://schemas.openxmlformats.org/wordprocessingml/2006/main'
const office = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships'
const field = (code: string, result: string) =>
  `<w:r><w:fldChar w:fldCharType="begin"/></w:r><w:r><w:instrText> ${code} </w:instrText></w:r><w:r><w:fldChar w:fldCharType="separate"/></w:r>${result && `<w:r><w:t>${result}</w:t></w:r>`}<w:r><w:fldChar w:fldCharType="end"/></w:r>`
const run = (text: string) => `<w:r><w:t xml:space="preserve">${text}</w:t></w:r>`

function fileOf(title: boolean, stories: Record<string, string>): Uint8Array {
  const names = Object.keys(stories)
  const references = names
    .map((name, index) => {
      const [kind, on] = name.split(' ')
      return `<w:${kind}Reference w:type="${on}" r:id="rId${index + 1}"/>`
    })
    .join('')
  const parts: Record<string, string> = {
    '_rels/.rels': `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="rId1" Type="${office}/officeDocument" Target="word/document.xml"/></Relationships>`,
    'word/document.xml': `<w:document xmlns:w="${w}" xmlns:r="${office}"><w:body><w:p>${run('Text')}</w:p><w:sectPr>${references}${title ? '<w:titlePg/>' : ''}</w:sectPr></w:body></w:document>`,
    'word/_rels/document.xml.rels': `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">${names.map((name, index) => `<Relationship Id="rId${index + 1}" Type="${office}/${name.split(' ')[0]}" Target="story${index}.xml"/>`).join('')}</Relationships>`,
  }
  for (const [index, name] of names.entries())
    parts[`word/story${index}.xml`] = `<w:hdr xmlns:w="${w}"><w:p>${stories[name]}</w:p></w:hdr>`
  return zipSync(Object.fromEntries(Object.entries(parts).map(([name, xml]) => [name, strToU8(xml)])))
}
const told = (bytes: Uint8Array) =>
  readPageEdges(bytes).map(({ edge, on, json }) => [edge, on, documentFromJSON(json).textContent])

test('headers and footers are read with the number of a page, whether it has a result or none', () => {
  const bytes = fileOf(false, {
    'header default': run('Merrowdale Canal Trust'),
    'footer default': run('Page ') + field('PAGE', ''),
    'footer even': run('Page ') + field('PAGE', '2'),
    'header first': run('Only on a title page'),
  })
  expect(told(bytes)).toEqual([
    ['head', 'all', 'Merrowdale Canal Trust'],
    ['foot', 'all', 'Page 1'],
    ['foot', 'even', 'Page 2'],
  ])
})
test('a first page of its own, one with nothing in it, and one that is damaged', () => {
  const stories = { 'header first': run('Title'), 'footer default': '', 'header default': '<w:r>' }
  expect(told(fileOf(true, stories))).toEqual([['head', 'first', 'Title']])
})
