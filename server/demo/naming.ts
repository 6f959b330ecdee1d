// The demo data's conventions: one for the waterways, others where papers of another kind lie.
import type { DataSource } from 'typeorm'
import type { ListValue, NamePart } from '../../core/contract'
import { newConvention, newList, shareNaming } from '../naming/service'

const values = (...all: [code: string, label: string][]): ListValue[] =>
  all.map(([code, label]) => ({ code, label, retired: false }))
const two = (number: number) => String(number).padStart(2, '0')

const locksAndBridges = [
  ...Array.from({ length: 8 }, (_, index): [string, string] => [`LK${two(index + 1)}`, `Lock ${index + 1}`]),
  ...Array.from({ length: 12 }, (_, index): [string, string] => [`BR${two(index + 1)}`, `Bridge ${index + 1}`]),
]

/** Makes the lists and conventions of each share that has none yet. */
export async function seedNaming(
  database: DataSource,
  personId: string,
  shares: { waterways: string; finance: string; office: string },
  folders: { budgets: string; minutes: string; letters: string },
): Promise<void> {
  const fresh = async (shareId: string) =>
    (await shareNaming(database.manager, personId, shareId)).conventions.length === 0
  const date = (form: 'YYYY-MM-DD' | 'YYYY'): NamePart => ({
    id: 'date',
    label: form === 'YYYY' ? 'Year' : 'Date',
    separator: '',
    optional: false,
    kind: 'date',
    form,
    source: 'content',
  })
  const subject: NamePart = {
    id: 'subject',
    label: 'Subject',
    separator: '_',
    optional: false,
    kind: 'words',
    letters: 'as typed',
    longest: 60,
    symbols: 'letters and digits',
    spaces: '-',
  }
  const ofList = (id: string, label: string, listId: string, optional = false): NamePart => ({
    id,
    label,
    separator: '_',
    optional,
    kind: 'list',
    listId,
    shows: 'code',
  })
  if (await fresh(shares.waterways)) {
    const places = await newList(database, personId, {
      shareId: shares.waterways,
      name: 'Locks and bridges',
      values: values(...locksAndBridges),
    })
    const kinds = await newList(database, personId, {
      shareId: shares.waterways,
      name: 'Kinds of paper',
      values: values(
        ['Inspection', 'Inspections'],
        ['Notice', 'Notices'],
        ['Letter', 'Letters'],
        ['Survey', 'Surveys'],
        ['Levels', 'Water'],
        ['Lockages', 'Water'],
      ),
    })
    await newConvention(database, personId, {
      shareId: shares.waterways,
      folderId: null,
      name: 'Waterways files',
      rules: {
        parts: [date('YYYY-MM-DD'), ofList('code', 'Code', places.id, true), ofList('kind', 'Kind', kinds.id), subject],
        folders: [[{ part: 'kind', as: 'label' }], [{ part: 'date', as: 'year' }], [{ part: 'code', as: 'name' }]],
      },
    })
  }
  if (await fresh(shares.finance)) {
    const kinds = await newList(database, personId, {
      shareId: shares.finance,
      name: 'Kinds of account',
      values: values(['Budget', 'Budget'], ['Account', 'Year’s account'], ['Forecast', 'Forecast']),
    })
    await newConvention(database, personId, {
      shareId: shares.finance,
      folderId: folders.budgets,
      name: 'Budgets',
      rules: {
        parts: [date('YYYY'), subject, ofList('kind', 'Kind', kinds.id)],
        folders: [[{ part: 'date', as: 'name' }]],
      },
    })
  }
  if (await fresh(shares.office)) {
    await newConvention(database, personId, {
      shareId: shares.office,
      folderId: folders.minutes,
      name: 'Minutes',
      rules: {
        parts: [
          date('YYYY-MM-DD'),
          { id: 'minutes', label: 'Minutes', separator: '_', optional: false, kind: 'text', text: 'Minutes' },
          { ...subject, label: 'Meeting' },
        ],
        folders: [[{ part: 'date', as: 'year' }]],
      },
    })
    await newConvention(database, personId, {
      shareId: shares.office,
      folderId: folders.letters,
      name: 'Letters',
      rules: {
        parts: [
          { ...date('YYYY'), source: 'today' } as NamePart,
          {
            id: 'number',
            label: 'Number',
            separator: '-',
            optional: false,
            kind: 'counter',
            width: 3,
            start: 1,
            per: ['date'],
          },
          { id: 'by', label: 'By', separator: '_', optional: false, kind: 'initials' },
          subject,
        ],
        folders: [],
      },
    })
  }
}
