// What was changed, in words and numbers.
import { type AboutField, aboutFields } from '../content/about'
import { type Limit, sayLimit } from '../formats/refusals'
import type { Code } from '../words/en'
import { type Said, type Sentence, say } from '../words/said'
import type { DocumentChanges, Place, PlaceKind } from './findings'
import type { SheetChange, WorkbookChanges } from './workbook'

const short = (text: string) => (text.length > 40 ? `${text.slice(0, 39)}…` : text)
const inTurn = (parts: readonly Sentence[], code: 'changes.and-then' | 'changes.comma'): Sentence =>
  parts.reduce((first, then) => say(code, { first, then }))

/** Why a version is not taken in: the editor would lose these of it. */
export const whatWouldBeLost = (limits: readonly Limit[]): Said =>
  say('changes.would-be-lost', { limits: limits.map(sayLimit) })

/** "14 words added, 2 removed in ‹What was found›; 1 paragraph moved; 3 rows added …"; at most `most` sections by name. */
export function sayDocumentChanges(changes: DocumentChanges, most = 3): Sentence {
  const words = sayWords(changes, most)
  const parts = [...(words ? [words] : []), ...sayPlaces(changes.places, !words)]
  if (!parts.length) return say(changes.otherwise ? 'changes.only-blank' : 'changes.no-words')
  return say('changes.whole', { what: inTurn(parts, 'changes.and-then'), coarse: changes.coarse })
}

function sayWords({ wordsAdded: added, wordsRemoved: removed, sections }: DocumentChanges, most: number): Said | null {
  if (!added && !removed) return null
  const words = say(added && removed ? 'changes.words-both' : added ? 'changes.words-added' : 'changes.words-removed', {
    added,
    removed,
  })
  if (!sections.some(({ title }) => title)) return words
  const name = (title: string): Sentence => (title ? `‹${short(title)}›` : say('changes.the-beginning'))
  if (sections.length === 1) return say('changes.in-section', { words, section: name(sections[0]!.title) })
  const parts = sections.slice(0, most).map((one) =>
    say('changes.section-numbers', {
      section: name(one.title),
      numbers: [one.wordsAdded && `+${one.wordsAdded}`, one.wordsRemoved && `−${one.wordsRemoved}`]
        .filter(Boolean)
        .join(' '),
    }),
  )
  const rest = sections.length - parts.length
  return say('changes.in-sections', { words, sections: inTurn(parts, 'changes.comma'), rest })
}

const ofItself: Readonly<Record<AboutField, Code>> = {
  title: 'changes.title',
  author: 'changes.author',
  subject: 'changes.subject',
  keywords: 'changes.keywords',
}
const places: [PlaceKind, Code][] = [
  ['moved', 'changes.moved'],
  ['split', 'changes.split'],
  ['joined', 'changes.joined'],
  ['table added', 'changes.table-added'],
  ['table removed', 'changes.table-removed'],
  ['row added', 'changes.row-added'],
  ['row removed', 'changes.row-removed'],
  ['row moved', 'changes.row-moved'],
  ['column added', 'changes.column-added'],
  ['column removed', 'changes.column-removed'],
  ['image added', 'changes.image-added'],
  ['image removed', 'changes.image-removed'],
  ['image replaced', 'changes.image-replaced'],
  ['image resized', 'changes.image-resized'],
  ['image described', 'changes.image-described'],
  ['comment added', 'changes.comment-added'],
  ['comment removed', 'changes.comment-removed'],
  ['comment changed', 'changes.comment-changed'],
  ['comment answered', 'changes.comment-answered'],
  ['note added', 'changes.note-added'],
  ['note removed', 'changes.note-removed'],
  ['note changed', 'changes.note-changed'],
  ['head', 'changes.heads'],
  ['head added', 'changes.heads-added'],
  ['head removed', 'changes.heads-removed'],
  ['foot', 'changes.feet'],
  ['foot added', 'changes.feet-added'],
  ['foot removed', 'changes.feet-removed'],
  ['page', 'changes.page'],
  ...aboutFields.map((field): [PlaceKind, Code] => [field, ofItself[field]]),
]
/** @param first whether they begin the sentence */
function sayPlaces(list: readonly Place[], first: boolean): Said[] {
  const numbers = new Map<PlaceKind, number>()
  for (const { kind } of list) numbers.set(kind, (numbers.get(kind) ?? 0) + 1)
  const said = places.flatMap(([kind, code]) => (numbers.has(kind) ? [say(code, { n: numbers.get(kind) })] : []))
  // Signs and spaces alone are no words.
  const isWords = ({ before, now }: Place) => /[\p{L}\p{N}]/u.test(`${before}${now}`)
  const words = list.filter(({ kind }) => kind === 'words')
  if (words.length && !words.some(isWords)) said.push(say('changes.signs', { n: words.length }))
  const looks = numbers.get('look')
  if (looks) said.push(say('changes.looks', { n: looks, first: first && !said.length }))
  return said
}

/** "3 rows added, 2 cells changed in ‹2026›, 1 of them a formula; the sheet ‹Old› removed." */
export function sayWorkbookChanges({ sheets, reordered, about, coarse }: WorkbookChanges, most = 3): Sentence {
  const parts = sheets.slice(0, most).map((sheet, index) => saySheet(sheet, index === 0))
  const said = about.map((field) => say(ofItself[field]))
  if (!parts.length && said.length) return say('changes.whole', { what: inTurn(said, 'changes.and-then'), coarse })
  if (!parts.length) return say(reordered ? 'changes.sheets-reordered' : 'changes.no-cells')
  const rest = sheets.length - parts.length
  if (rest > 0) parts.push(say('changes.more-sheets', { n: rest }))
  parts.push(...said)
  return say('changes.whole', { what: inTurn(parts, 'changes.and-then'), coarse })
}

function saySheet(change: SheetChange, first: boolean): Sentence {
  const { state, formerName, cells, formulas, looks, results } = change
  const name = short(change.name)
  if (state === 'removed') return say('changes.sheet-removed', { name, first })
  if (state === 'added') return say('changes.sheet-added', { name, cells, first })
  const lines = (n: number, code: Code) => (n > 0 ? [say(code, { n })] : [])
  const parts = [
    ...(formerName ? [say('changes.sheet-renamed', { name: short(formerName) })] : []),
    ...lines(change.rowsMoved, 'changes.row-moved'),
    ...lines(change.rowsAdded - change.rowsMoved, 'changes.row-added'),
    ...lines(change.rowsRemoved - change.rowsMoved, 'changes.row-removed'),
    ...lines(change.columnsAdded, 'changes.column-added'),
    ...lines(change.columnsRemoved, 'changes.column-removed'),
    ...lines(cells, 'changes.cells'),
    ...lines(change.merged, 'changes.merged'),
    ...lines(change.parted, 'changes.parted'),
    ...lines(change.hidden, 'changes.hidden'),
    ...lines(change.shown, 'changes.shown'),
    ...(change.filters ? [say('changes.filter')] : []),
    ...(change.rules ? [say('changes.rules')] : []),
    ...lines(change.widths, 'changes.widths'),
    ...lines(change.heights, 'changes.heights'),
    ...(change.kept ? [say('changes.kept-in-sight')] : []),
    ...(change.setUps ? [say('changes.set-up')] : []),
  ]
  if (parts.length) parts.push(...lines(looks, 'changes.cells-look'))
  const follow = results ? [say('changes.results-follow', { n: results, name })] : []
  if (!parts.length) return follow[0] ?? say('changes.only-looks', { n: looks, name, first })
  const told = say('changes.in-sheet', {
    parts: inTurn(parts, 'changes.comma'),
    name,
    formulas,
    which: cells === 1 ? 'the one' : formulas === cells ? 'all' : 'some',
  })
  return inTurn([told, ...follow], 'changes.and-then')
}
