import { expect, test } from 'vitest'
import { isReadOnly, mayGoOnAs, nameAs, typeOfWork, typeWritten, writable } from './types'

test('a file goes on as a type of its kind that is written, and as what it is', () => {
  for (const type of writable.document) expect([mayGoOnAs('doc', type), mayGoOnAs('xlsx', type)]).toEqual([true, false])
  for (const type of writable.spreadsheet) expect(mayGoOnAs('xls', type)).toBe(true)
  expect([mayGoOnAs('docm', 'docm'), mayGoOnAs('docx', 'doc'), mayGoOnAs('docx', 'docm')]).toEqual([true, false, false])
  expect([mayGoOnAs('pdf', 'docx'), mayGoOnAs('docx', 'pdf'), mayGoOnAs('png', 'png')]).toEqual([false, false, false])
})

test('what is read and not written goes on as what its kind is written as', () => {
  expect(typeOfWork('Letter.DOC', 'document')).toBe('doc')
  expect([isReadOnly('doc'), typeWritten('doc', 'document'), typeWritten('odt', 'document')]).toEqual([
    true,
    'docx',
    'odt',
  ])
})

test.each([
  ['Levels.docx', 'odt', 'Levels.odt'],
  ['Levels.DOCX', 'docx', 'Levels.DOCX'],
  ['Levels', 'txt', 'Levels.txt'],
  ['Levels.old.docx', 'rtf', 'Levels.old.rtf'],
  ['Levels.docx', '', 'Levels'],
  ['.docx', 'odt', '.docx.odt'],
])('%s as %s is %s', (name, type, called) => {
  expect(nameAs(name, type)).toBe(called)
})
