// Under which key an answer is held: every key there is, so that who asks and who makes an answer out of date mean the
// same one. A key begins with what it is about; a shorter one stands for all that begin with it.

/** Which share, file or moment of it, as far as it is known. */
type Rest = readonly (string | number | object | null | undefined)[]
const about =
  (what: string) =>
  <const More extends Rest>(...more: More) =>
    [what, ...more] as const

export const keys = {
  session: about('session'),
  settings: about('settings'),
  sessions: about('sessions'),
  /** Accounts; of one of them something: person, what */
  people: about('people'),
  groups: about('groups'),
  secondFactor: about('second factor'),
  /** What one watches, and what is new there. */
  watched: about('watched'),
  /** What one was given, what is asked of one. */
  rightsNews: about('rights news'),
  /** Who something can be given to. */
  directory: about('directory'),
  /** Links to a share, folder or file, and to what it lies in; what was done with one. */
  links: about('links'),
  /** What was sent of a folder or file; what of one’s own did not arrive, and how mail goes out. */
  sent: about('sent'),
  undelivered: about('undelivered'),
  mail: about('mail'),
  printing: about('printing'),
  printers: about('printers'),
  printed: about('printed'),
  paperLikes: about('paper-likes'),
  /** What a version is as another type: version, type */
  asType: about('as type'),
  /** Who can reach a share, folder or file. */
  access: about('access'),
  /** What this browser says of keeping things. */
  keeping: about('keeping'),
  room: about('room'),
  shares: about('shares'),
  /** share, folder, path, offset, how many */
  place: about('place'),
  /** The names in a place: share, folder */
  names: about('names'),
  removed: about('removed'),
  recent: about('recent'),
  recentPlaces: about('recent places'),
  search: about('search'),
  /** Words in what versions said: words, file, share, folder */
  past: about('past'),
  file: about('file'),
  /** A list as it would be read: file, what is said of it */
  listPreview: about('list preview'),
  /** Lists of a spreadsheet's values that are kept in step beside it: file */
  sideLists: about('side lists'),
  /** How a text is written: its type */
  textWay: about('text way'),
  /** What a type loses: how it is written, up to which edit */
  losses: about('losses'),
  /** Asked anew until what a version changed is known. */
  untold: about('untold'),
  bytes: about('bytes'),
  compared: about('compared'),
  presence: about('presence'),
  templates: about('templates'),
  /** The conventions and lists of a share. */
  naming: about('naming'),
  usedValues: about('used values'),
  nextNumber: about('next number'),
  /** The last audits of the shares that one manages. */
  audits: about('audits'),
  audit: about('audit'),
  /** How copies stand; with a plan, what it would take. */
  copies: about('copies'),
  /** Drives that are taken over into a share, and what becomes of their files. */
  intakes: about('intakes'),
  /** Copies in folders of this computer. */
  ownCopies: about('own copies'),
  /** What was changed in a place, and what of it differs from a moment. */
  changesIn: about('changes in'),
  moment: about('moment'),
  retention: about('retention'),
  retentionPreview: about('retention preview'),
  protection: about('protection'),
  managedProtection: about('managed protection'),
  /** Unsaved work, as Rescue lists it. */
  pieces: about('pieces'),
  draft: about('draft'),
  points: about('points'),
  inside: about('inside'),
  summary: about('summary'),
  activity: about('activity'),
  drills: about('drills'),
} as const
