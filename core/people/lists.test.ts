import { expect, test } from 'vitest'
import type { Access, Reach } from '../contract'
import { recordsOf } from '../formats/csv/records'
import { listOfAccess, listOfReach } from './lists'

const words = {
  head: ['Name', 'Signs in with', 'May', 'Given in', 'Through groups', 'Until'],
  role: { view: 'May look', edit: 'May edit', manage: 'Manages' },
  inside: ' › ',
}
const fields = (text: string) => recordsOf(text, ',').map((record) => record.fields.map((one) => one.text))
const id = (no: number) => `00000000-0000-4000-8000-00000000000${no}`
const person = (no: number, name: string) => ({ id: id(no), name, handle: name.toLowerCase() })

test('who can reach a place: a line a reason, and nothing that a program would take for a formula', () => {
  const grant = (no: number, realm: number, until: string | null = null): Access['grants'][number] => ({
    id: id(no),
    realmId: id(realm),
    subject: { kind: 'group', id: id(9), name: 'Field' },
    role: 'edit',
    until,
    givenBy: null,
    byLink: false,
    givenAt: '2026-11-01T08:00:00.000Z',
  })
  const access: Access = {
    of: { id: id(2), kind: 'folder', name: 'Bids, old', shareId: id(1) },
    role: 'manage',
    archived: false,
    realms: [
      { id: id(1), kind: 'share', name: 'Tenders', closed: false },
      { id: id(2), kind: 'folder', name: 'Bids, old', closed: false },
    ],
    grants: [grant(3, 1), grant(4, 2, '2026-12-31T22:59:59.000Z')],
    people: [
      {
        person: person(5, 'Ida'),
        byLink: false,
        role: 'edit',
        because: [
          { grantId: id(3), through: [] },
          { grantId: id(4), through: ['Field', 'Survey'] },
        ],
      },
      {
        person: { ...person(6, 'Ben'), name: '=HYPERLINK("x")' },
        byLink: false,
        role: 'view',
        because: [{ grantId: id(3), through: [] }],
      },
    ],
  }
  expect(fields(listOfAccess(access, words))).toEqual([
    words.head,
    ['Ida', 'ida', 'May edit', 'Tenders', '', ''],
    ['Ida', 'ida', 'May edit', 'Bids, old', 'Field › Survey', '2026-12-31T22:59:59.000Z'],
    [`'=HYPERLINK("x")`, 'ben', 'May look', 'Tenders', '', ''],
  ])
})

test('what somebody can reach: each share, and each place in it that has rights of its own', () => {
  const reach: Reach = {
    person: person(5, 'Ida'),
    realms: [
      {
        realm: { id: id(1), kind: 'share', name: 'Tenders', closed: false },
        share: 'Tenders',
        role: 'view',
        because: [{ at: 'Tenders', through: ['Field'], until: null }],
      },
      {
        realm: { id: id(2), kind: 'file', name: 'Bid.docx', closed: true },
        share: 'Tenders',
        role: 'edit',
        because: [{ at: 'Bid.docx', through: [], until: null }],
      },
    ],
  }
  expect(
    fields(listOfReach(reach, { ...words, head: ['Share', 'Place', 'May', 'Given in', 'Through', 'Until'] })),
  ).toEqual([
    ['Share', 'Place', 'May', 'Given in', 'Through', 'Until'],
    ['Tenders', '', 'May look', 'Tenders', 'Field', ''],
    ['Tenders', 'Bid.docx', 'May edit', 'Bid.docx', '', ''],
  ])
})
