// What was changed, in words and numbers.
import type { Limit } from '../formats/refusals'
import type { DocumentChanges, Place, PlaceKind } from './findings'
import type { SheetChange, WorkbookChanges } from './workbook'

const count = (number: number, one: string) => `${number.toLocaleString('en')} ${one}${number === 1 ? '' : 's'}`
const short = (text: string) => (text.length > 40 ? `${text.slice(0, 39)}…` : text)

/** Why a version is not taken in: the editor would lose these of it. */
export const whatWouldBeLost = (limits: readonly Limit[]): string =>
  `That version holds ${limits.map(({ feature, count: many }) => `${many} ${feature}`).join(', ')}, which would be lost in a merge.`

/** "14 words added, 2 removed in ‹What was found›; 1 paragraph moved; 3 rows added …"; at most `most` sections by name. */
export function sayDocumentChanges(changes: DocumentChanges, most = 3): string {
  const parts = [sayWords(changes, most), ...sayPlaces(changes.places)].filter(Boolean)
  if (!parts.length) return changes.otherwise ? 'Only blank lines, page breaks or the page differ.' : 'No words differ.'
  return `${sentence(parts.join('; '))}${changes.coarse ? ', told roughly because so much differs' : ''}.`
}
const sentence = (text: string) => text[0]!.toUpperCase() + text.slice(1)

function sayWords({ wordsAdded, wordsRemoved, sections }: DocumentChanges, most: number): string {
  const both = (added: number, removed: number) =>
    [added && `${count(added, 'word')} added`, removed && `${added ? removed : count(removed, 'word')} removed`]
      .filter(Boolean)
      .join(', ')
  const all = both(wordsAdded, wordsRemoved)
  if (!all || !sections.some(({ title }) => title)) return all
  const name = (title: string) => (title ? `‹${short(title)}›` : 'the beginning')
  if (sections.length === 1) return `${all} in ${name(sections[0]!.title)}`
  const parts = sections
    .slice(0, most)
    .map(
      (one) =>
        `${name(one.title)} (${[one.wordsAdded && `+${one.wordsAdded}`, one.wordsRemoved && `−${one.wordsRemoved}`].filter(Boolean).join(' ')})`,
    )
  const rest = sections.length - parts.length
  return `${all}, in ${parts.join(', ')}${rest > 0 ? ` and ${rest} more` : ''}`
}

const places: [PlaceKind, one: string, done: string][] = [
  ['moved', 'part', 'moved'],
  ['split', 'paragraph', 'split'],
  ['joined', 'paragraph', 'joined'],
  ['table added', 'table', 'added'],
  ['table removed', 'table', 'removed'],
  ['row added', 'row', 'added'],
  ['row removed', 'row', 'removed'],
  ['row moved', 'row', 'moved'],
  ['column added', 'column', 'added'],
  ['column removed', 'column', 'removed'],
  ['image added', 'image', 'added'],
  ['image removed', 'image', 'removed'],
  ['image replaced', 'image', 'replaced'],
]
function sayPlaces(list: readonly Place[]): string[] {
  const numbers = new Map<PlaceKind, number>()
  for (const { kind } of list) numbers.set(kind, (numbers.get(kind) ?? 0) + 1)
  const said = places.flatMap(([kind, one, done]) =>
    numbers.has(kind) ? [`${count(numbers.get(kind)!, one)} ${done}`] : [],
  )
  const looks = numbers.get('look')
  // Signs and spaces alone are no words.
  const trifles = list.filter(({ kind, before, now }) => kind === 'words' && !/[\p{L}\p{N}]/u.test(before + now)).length
  if (trifles && !list.some(({ kind, before, now }) => kind === 'words' && /[\p{L}\p{N}]/u.test(before + now)))
    said.push(`${count(trifles, 'sign')} changed`)
  if (looks) said.push(`another look in ${count(looks, 'place')}`)
  return said
}

/** "3 rows added, 2 cells changed in ‹2026›, 1 of them a formula; the sheet ‹Old› removed." */
export function sayWorkbookChanges({ sheets, reordered, coarse }: WorkbookChanges, most = 3): string {
  const parts = sheets.slice(0, most).map(saySheet)
  if (!parts.length) return reordered ? 'The sheets stand in another order.' : 'No cells differ.'
  const rest = sheets.length - parts.length
  const text = `${parts.join('; ')}${rest > 0 ? `; and ${count(rest, 'more sheet')}` : ''}${coarse ? ', told roughly because so much differs' : ''}.`
  return sentence(text)
}

function saySheet(change: SheetChange): string {
  const { name, state, formerName, cells, formulas, looks, results } = change
  if (state === 'removed') return `the sheet ‹${short(name)}› removed`
  if (state === 'added') return `the sheet ‹${short(name)}› added, with ${count(cells, 'cell')}`
  const lines = (number: number, one: string, done: string) => number > 0 && `${count(number, one)} ${done}`
  const parts = [
    formerName && `‹${short(formerName)}› renamed`,
    lines(change.rowsMoved, 'row', 'moved'),
    lines(change.rowsAdded - change.rowsMoved, 'row', 'added'),
    lines(change.rowsRemoved - change.rowsMoved, 'row', 'removed'),
    lines(change.columnsAdded, 'column', 'added'),
    lines(change.columnsRemoved, 'column', 'removed'),
    lines(cells, 'cell', 'changed'),
  ].filter(Boolean)
  const follow = results
    ? `${parts.length ? '; ' : ''}${count(results, 'result')} in ‹${short(name)}› ${results === 1 ? 'follows' : 'follow'}`
    : ''
  if (!parts.length) return follow || `only the look of ${count(looks, 'cell')} in ‹${short(name)}›`
  const which = formulas
    ? `, ${formulas === cells && cells > 1 ? 'all' : formulas} of them ${formulas === 1 ? 'a formula' : 'formulas'}`
    : ''
  return `${parts.join(', ')} in ‹${short(name)}›${which}${follow}`
}
