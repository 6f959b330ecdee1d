/** Sentences of the Desk. */
export const desk = {
  'desk.good': 'Good {partOfDay}, {it}',
  'desk.from-a-template': 'From a template',
  'desk.folders-used-last': 'Folders used last',
  'desk.interrupted-work': 'Interrupted work',
  'desk.one-piece-of-work-was-interrupted': 'One piece of work was interrupted',
  'desk.pieces-of-work-were-interrupted': '{interrupted} pieces of work were interrupted',
  'desk.used-last': 'Used last',
  'desk.the-server-does-not-answer-right-now':
    'The server does not answer right now. Interrupted work on this computer is listed all the same.',
  'desk.nothing-used-yet': 'Nothing used yet',
  'desk.begin-something-new-or-look-in-files': 'Begin something new, or look in <link>Files</link>.',
  'desk.changed-by-others': 'Changed by others',
  'desk.new': 'New.',
  'desk.version': 'Version {number}.',
}
