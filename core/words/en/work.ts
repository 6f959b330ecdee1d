/** Sentences of work on this computer. */
export const work = {
  'work.yours-from-elsewhere': 'Yours, from elsewhere',
  'work.the-newer-version-could-not-be-combined': 'The newer version could not be combined with this work.',
  'work.the-other-ones': 'The other one’s',
  'work.it-is-combined-with-your-work': '{summary} It is combined with your work.',
  'work.saved-version-meanwhile-it-is-combined-with':
    '{it} saved version {number} {id, select, true {elsewhere} other {meanwhile}}. {summary} It is combined with your work.',
  'work.this-template-is-not-here-any-more': 'This template is not here any more.',
  'work.combine-it-with-this': 'Combine it with this',
  'work.what-only-had-is-kept-separately-from':
    'What only {device} had ({beyondInWords}) is kept separately from this work.',
  'work.this-device': '{deviceName} (this computer)',
  'work.the-file-of-this-work-is-not': 'The file of this work is not known any more. Save it as a new file.',
  'work.characters-written': '{n, plural, one {# letter} other {# letters}} written',
  'work.characters-removed': '{n, number} removed',
  'work.cells-changed': '{n, plural, one {# cell} other {# cells}} changed',
  'work.changes': '{n, plural, one {# change} other {# changes}}',
  'work.document-begun': 'Document begun at {time}{words, select, true {: {opening}} other {}}',
  'work.spreadsheet-begun': 'Spreadsheet begun at {time}{words, select, true {: {opening}} other {}}',
  'work.saved-version-it-is-in-your-work':
    '{own, select, true {You saved version {number} elsewhere; it is in your work} other {{it} saved version {number}; it is in your work}}. {summary}',
}
