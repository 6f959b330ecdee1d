import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { strToU8, zipSync } from 'fflate'
import { expect, test } from 'vitest'
import { writeDocx } from '../../core/formats/docx/write'
import { wordsOfFile } from '../../core/formats/words'
import { doc, p } from '../demo/papers'
import { wordsReader } from './read-words'

test('a file that takes for ever, or all memory, is found by its name, and the next one is read', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'jaula-words-'))
  const script = join(folder, 'worker.mjs')
  writeFileSync(
    script,
    `export default ({ type }) => {
       if (type === 'endless') for (;;);
       if (type === 'greedy') { const all = []; for (;;) all.push(new Array(1e6).fill(all.length)) }
       return { title: 'read', headings: [], sheets: [], text: '' }
     }`,
  )
  const reader = wordsReader(pathToFileURL(script), 2500)
  try {
    const title = async (type: string) => (await reader.read(new Uint8Array(1), type)).title
    expect(await title('docx')).toBe('read')
    expect(await title('endless')).toBe('')
    expect(await title('docx')).toBe('read')
    expect(await title('greedy')).toBe('')
    expect(await title('docx')).toBe('read')
  } finally {
    await reader.close()
    rmSync(folder, { recursive: true })
  }
})

test('what expands to more XML than any text has is not read for its words', () => {
  expect(wordsOfFile(writeDocx(doc(p('Sluice'))), 'docx').text).toContain('Sluice')
  const paragraph = `<w:p><w:r><w:t>${'level '.repeat(2000)}</w:t></w:r></w:p>`
  const body = `<w:document xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"><w:body>${paragraph.repeat(5000)}</w:body></w:document>`
  const bytes = zipSync({ 'word/document.xml': strToU8(body) }, { level: 6 })
  expect(bytes.length).toBeLessThan(2_000_000)
  expect(wordsOfFile(bytes, 'docx')).toMatchObject({ text: '' })
})
