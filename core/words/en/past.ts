/** Sentences of the search in earlier versions. */
export const past = {
  'past.what': 'Words or a number that were there once',
  'past.of-all': 'In all shares',
  'past.in': 'In {place}',
  'past.search-everywhere': 'Search in all shares instead',
  'past.when-did-it-go': 'When did it disappear, and who took it out?',
  'past.how':
    'Type words as they followed each other, a name or a number, written in any way. Jaula looks through every version of documents, spreadsheets and texts.',
  'past.files-lost-them':
    '{n, plural, one {# file has lost these words} other {# files have lost these words}}{more, select, true {, and there are more; add a word to narrow it down} other {}}.',
  'past.in-newest':
    '{now, plural, =0 {The newest version does not say it any more.} one {The newest version says it once.} other {The newest version says it # times.}}',
  'past.never': 'No version of this file says it.',
  'past.no-file-lost-them': 'No file here has lost these words',
  'past.maybe-there': 'Perhaps they are still there: <link>find the files that have them now</link>.',
  'past.check-words': 'The words have to follow each other as they did. Fewer words find more.',
  'past.waiting':
    '{n, plural, one {# version is} other {# versions are}} still to be looked through; what they changed is not found yet.',
  'past.unread':
    '{n, plural, one {# version is} other {# versions are}} not looked through: of a type that Jaula does not read, too large, or damaged.',
  'past.taken-out':
    '{author} {all, select, true {took it out} other {{n, plural, one {took out one of {before} places} other {took out # of {before} places}}}}.',
  'past.put-in':
    '{author} {again, select, true {put it in again} new {put it in} other {{n, plural, one {put it in once more} other {put it in # more times}}}}.',
  'past.between':
    'Version {last} of {lastAt} still said it. The versions between were removed, so it can also have gone in one of them.',
  'past.not-read-between': 'A version before could not be looked through: it can also have gone there.',
  'past.version': 'Version {number}',
  'past.under-heading': 'Under ‹{heading}›',
  'past.row-of-sheet': '‹{sheet}›, row {row}',
  'past.instead': 'Since then:',
  'past.see-it': 'See it in version {number}',
  'past.was-there': 'It was there from {from} to {until}',
  'past.is-there': 'It is there since {from}',
  'past.in-its-versions': 'Search in its history',
  'past.now': 'now',
  'past.not-in-those-looked-through': 'Not in the versions that were looked through',
}
