/** Sentences of work on this computer. */
export const work = {
  'work.yours-from-elsewhere': 'Meines, von anderswo',
  'work.the-newer-version-could-not-be-combined':
    'Die neuere Version konnte nicht mit dieser Arbeit zusammengeführt werden.',
  'work.the-other-ones': 'Das andere',
  'work.it-is-combined-with-your-work': '{summary} Es ist mit Ihrer Arbeit zusammengeführt.',
  'work.saved-version-meanwhile-it-is-combined-with':
    '{id, select, true {Sie haben anderswo Version {number} gespeichert.} other {{it} hat inzwischen Version {number} gespeichert.}} {summary} Es ist mit Ihrer Arbeit zusammengeführt.',
  'work.this-template-is-not-here-any-more': 'Diese Vorlage gibt es nicht mehr.',
  'work.combine-it-with-this': 'Hiermit zusammenführen',
  'work.what-only-had-is-kept-separately-from':
    'Was nur {device} hatte ({beyondInWords}), ist getrennt von dieser Arbeit aufbewahrt.',
  'work.this-device': '{deviceName} (dieser Computer)',
  'work.the-file-of-this-work-is-not':
    'Die Datei dieser Arbeit ist nicht mehr bekannt. Speichern Sie sie als neue Datei.',
  'work.characters-written': '{n, plural, one {# Buchstabe} other {# Buchstaben}} geschrieben',
  'work.characters-removed': '{n, number} entfernt',
  'work.cells-changed': '{n, plural, one {# Zelle} other {# Zellen}} geändert',
  'work.changes': '{n, plural, one {# Änderung} other {# Änderungen}}',
  'work.document-begun': 'Dokument, begonnen um {time}{words, select, true {: {opening}} other {}}',
  'work.spreadsheet-begun': 'Tabelle, begonnen um {time}{words, select, true {: {opening}} other {}}',
  'work.saved-version-it-is-in-your-work':
    '{own, select, true {Sie haben anderswo Version {number} gespeichert; sie ist in Ihrer Arbeit} other {{it} hat Version {number} gespeichert; sie ist in Ihrer Arbeit}}. {summary}',
}
