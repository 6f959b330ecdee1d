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
  'desk.store-is-damaged': 'Versions in Jaula’s own store are damaged, and whole in no copy.',
  'desk.copies-do-not-work': 'Copies to {site} do not work.',
  'desk.copies-are-late': 'Copies to {site} are late.',
  'desk.copies-are-damaged': 'Copies at {site} are damaged, and could not be repaired.',
  'desk.due': 'Due',
  'desk.names-never-audited': 'The names in {share} were never audited.',
  'desk.names-do-not-follow':
    '{n, plural, one {One name in {share} does not follow its convention.} other {# names in {share} do not follow their convention.}}',
  'desk.names-audited-long-ago': 'The names in {share} were last audited {at}.',
  'desk.drill-never': 'Getting work back was never tried here. A drill shows that it works.',
  'desk.drill-long-ago': 'Getting work back was last tried {at}.',
}
