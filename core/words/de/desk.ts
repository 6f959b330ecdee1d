/** Sentences of the Desk. */
export const desk = {
  'desk.good': '{partOfDay, select, morning {Guten Morgen} afternoon {Guten Tag} other {Guten Abend}}, {it}',
  'desk.from-a-template': 'Aus einer Vorlage',
  'desk.folders-used-last': 'Zuletzt benutzte Ordner',
  'desk.interrupted-work': 'Unterbrochene Arbeit',
  'desk.one-piece-of-work-was-interrupted': 'Eine Arbeit wurde unterbrochen',
  'desk.pieces-of-work-were-interrupted': '{interrupted} Arbeiten wurden unterbrochen',
  'desk.used-last': 'Zuletzt benutzt',
  'desk.the-server-does-not-answer-right-now':
    'Der Server antwortet gerade nicht. Unterbrochene Arbeit auf diesem Computer wird trotzdem gezeigt.',
  'desk.nothing-used-yet': 'Noch nichts benutzt',
  'desk.begin-something-new-or-look-in-files': 'Beginnen Sie etwas Neues, oder sehen Sie in <link>Dateien</link> nach.',
  'desk.changed-by-others': 'Von anderen geändert',
  'desk.new': 'Neu.',
  'desk.version': 'Version {number}.',
}
