// Names and places of what comes from a drive: each can be saved, no two are one, and the convention is followed where
// there is one.
import fc from 'fast-check'
import { expect, test } from 'vitest'
import type { ShareNaming } from '../contract'
import { checkName, nameKey } from '../naming/check'
import { planIntake } from './plan'
import { sketchOf } from './sketch'

const file = (no: number, path: string, sha256 = `${no}`) => ({
  no,
  path,
  size: 1,
  at: '2024-03-05T10:00:00.000Z',
  sha256,
  title: '',
  sketch: sketchOf([`${no}`]),
})
const nothing: ShareNaming = { conventions: [], lists: [] }

test('whatever files are called, what they become can be saved, each under a name of its own', () => {
  const name = fc.oneof(
    fc.string({ minLength: 1, maxLength: 12, unit: 'binary' }),
    fc.constantFrom('CON.txt', 'a:b?.docx', ' . ', 'Offer.docx', 'offer.DOCX', '...', 'x'.repeat(300), 'Ｏffer.docx'),
  )
  const path = fc
    .array(
      name.map((one) => one.replaceAll('/', '') || '-'),
      { minLength: 1, maxLength: 3 },
    )
    .map((steps) => steps.join('/'))
  fc.assert(
    fc.property(fc.uniqueArray(path, { maxLength: 25 }), (paths) => {
      const planned = planIntake(
        paths.map((one, no) => file(no, one)),
        { naming: nothing, folders: [{ id: 'f', parentId: null, name: 'Old' }], folderId: 'f' },
      )
      const spots = planned.map(({ folders, name: called }) => [...folders, called].map(nameKey).join('/'))
      expect(new Set(spots).size).toBe(spots.length)
      for (const { name: called, folders } of planned) {
        expect(folders[0]).toBe('Old')
        for (const one of [called, ...folders]) expect(checkName(one)).toBeNull()
      }
    }),
    { numRuns: 300 },
  )
})

test('the convention names what can be read, sends it where its rule says, and leaves the rest to a person', () => {
  const id = (n: number) => `00000000-0000-4000-8000-00000000000${n}`
  const naming: ShareNaming = {
    lists: [
      {
        id: id(1),
        shareId: id(9),
        name: 'Locks',
        revision: 1,
        values: [{ code: 'LK07', label: 'Lock 7', retired: false }],
      },
    ],
    conventions: [
      {
        id: id(2),
        shareId: id(9),
        folderId: null,
        name: 'Papers',
        number: 1,
        since: '2020-01-01T00:00:00.000Z',
        author: 'Priya',
        earlier: [],
        rules: {
          parts: [
            {
              id: id(3),
              label: 'Date',
              kind: 'date',
              form: 'YYYY-MM-DD',
              source: 'content',
              separator: '',
              optional: false,
            },
            { id: id(4), label: 'Lock', kind: 'list', listId: id(1), shows: 'code', separator: '_', optional: false },
            {
              id: id(5),
              label: 'Subject',
              kind: 'words',
              letters: 'as typed',
              longest: 40,
              symbols: 'letters and digits',
              spaces: '-',
              separator: '_',
              optional: false,
            },
          ],
          folders: [[{ text: 'Inspections' }], [{ part: id(4), as: 'name' }]],
        },
      },
    ],
  }
  const planned = planIntake([file(0, 'in/LK07 gate paddles 14.10.2024.docx'), file(1, 'in/Holiday list.docx')], {
    naming,
    folders: [],
    folderId: null,
  })
  expect(planned[0]).toMatchObject({
    name: '2024-10-14_LK07_gate-paddles.docx',
    folders: ['Inspections', 'LK07'],
    certainty: 'sure',
  })
  expect(planned[1]).toMatchObject({ name: 'Holiday list.docx', folders: ['in'], certainty: 'by hand' })
  expect(planned[1]!.remarks.length).toBeGreaterThan(0)
})
