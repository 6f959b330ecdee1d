// What was changed, in words and numbers.
import type { DocumentChanges } from './document'
import type { WorkbookChanges } from './workbook'

const count = (number: number, one: string) => `${number.toLocaleString('en')} ${one}${number === 1 ? '' : 's'}`
const short = (text: string) => (text.length > 40 ? `${text.slice(0, 39)}…` : text)

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

/** "3 cells changed in ‹2026›, one of them a formula; the sheet ‹Old› removed." */
export function sayWorkbookChanges({ sheets }: WorkbookChanges, most = 3): string {
  const parts = sheets.slice(0, most).map(({ name, state, cells, formulas, looks }) => {
    if (state === 'removed') return `the sheet ‹${short(name)}› removed`
    if (state === 'added') return `the sheet ‹${short(name)}› added, with ${count(cells, 'cell')}`
    if (!cells) return `only the look of ${count(looks, 'cell')} in ‹${short(name)}›`
    return `${count(cells, 'cell')} changed in ‹${short(name)}›${formulas ? `, ${formulas === cells && cells > 1 ? 'all' : formulas} of them ${formulas === 1 ? 'a formula' : 'formulas'}` : ''}`
  })
  if (!parts.length) return 'No cells differ.'
  const rest = sheets.length - parts.length
  const text = `${parts.join('; ')}${rest > 0 ? `; and ${count(rest, 'more sheet')}` : ''}.`
  return text[0]!.toUpperCase() + text.slice(1)
}
