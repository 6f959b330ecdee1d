// What was changed, in words and numbers.
import type { Limit } from '../formats/refusals'
import type { DocumentChanges } from './document'
import type { SheetChange, WorkbookChanges } from './workbook'

const count = (number: number, one: string) => `${number.toLocaleString('en')} ${one}${number === 1 ? '' : 's'}`
const short = (text: string) => (text.length > 40 ? `${text.slice(0, 39)}…` : text)

/** Why a version is not taken in: the editor would lose these of it. */
export const whatWouldBeLost = (limits: readonly Limit[]): string =>
  `That version holds ${limits.map(({ feature, count: many }) => `${many} ${feature}`).join(', ')}, which would be lost in a merge.`

/** "14 words added, 2 removed: 12 added in ‹What was found› …"; at most `most` sections by name. */
export function sayDocumentChanges({ wordsAdded, wordsRemoved, sections }: DocumentChanges, most = 3): string {
  const both = (added: number, removed: number) =>
    [added && `${count(added, 'word')} added`, removed && `${added ? removed : count(removed, 'word')} removed`]
      .filter(Boolean)
      .join(', ')
  const all = both(wordsAdded, wordsRemoved)
  if (!all) return 'No words differ.'
  const named = sections.filter(({ title }) => title)
  if (!named.length) return `${all}.`
  if (sections.length === 1) return `${all} in ‹${short(named[0]!.title)}›.`
  const parts = named
    .slice(0, most)
    .map(
      (one) =>
        `‹${short(one.title)}› (${[one.wordsAdded && `+${one.wordsAdded}`, one.wordsRemoved && `−${one.wordsRemoved}`].filter(Boolean).join(' ')})`,
    )
  const rest = sections.length - parts.length
  return `${all}, in ${parts.join(', ')}${rest > 0 ? ` and ${rest} more` : ''}.`
}

/** "3 rows added, 2 cells changed in ‹2026›, 1 of them a formula; the sheet ‹Old› removed." */
export function sayWorkbookChanges({ sheets, reordered, coarse }: WorkbookChanges, most = 3): string {
  const parts = sheets.slice(0, most).map(saySheet)
  if (!parts.length) return reordered ? 'The sheets stand in another order.' : 'No cells differ.'
  const rest = sheets.length - parts.length
  const text = `${parts.join('; ')}${rest > 0 ? `; and ${count(rest, 'more sheet')}` : ''}${coarse ? ', told roughly because so much differs' : ''}.`
  return text[0]!.toUpperCase() + text.slice(1)
}

function saySheet(change: SheetChange): string {
  const { name, state, formerName, cells, formulas, looks } = change
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
  if (!parts.length) return `only the look of ${count(looks, 'cell')} in ‹${short(name)}›`
  const which = formulas
    ? `, ${formulas === cells && cells > 1 ? 'all' : formulas} of them ${formulas === 1 ? 'a formula' : 'formulas'}`
    : ''
  return `${parts.join(', ')} in ‹${short(name)}›${which}`
}
