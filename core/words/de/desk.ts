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
  'desk.store-is-damaged': 'Versionen in Jaulas eigenem Speicher sind beschädigt und in keiner Kopie ganz.',
  'desk.copies-do-not-work': 'Kopien nach {site} gehen nicht.',
  'desk.copies-are-late': 'Kopien nach {site} sind im Verzug.',
  'desk.copies-are-damaged': 'Kopien in {site} sind beschädigt und ließen sich nicht ausbessern.',
  'desk.due': 'Fällig',
  'desk.names-never-audited': 'Die Namen in {share} wurden noch nie geprüft.',
  'desk.names-do-not-follow':
    '{n, plural, one {Ein Name in {share} folgt seiner Konvention nicht.} other {# Namen in {share} folgen ihrer Konvention nicht.}}',
  'desk.names-audited-long-ago': 'Die Namen in {share} wurden zuletzt {at} geprüft.',
  'desk.drill-never': 'Das Zurückholen wurde hier noch nie probiert. Eine Übung zeigt, dass es geht.',
  'desk.drill-long-ago': 'Das Zurückholen wurde zuletzt {at} probiert.',
}
