/** Sentences of recovery drills. */
export const drill = {
  'drill.the-drill-could-not-be-run': 'Die Probe konnte nicht ablaufen.',
  'drill.recovery-drills': 'Proben',
  'drill.a-scratch-page-writes-with-your-settings':
    'Eine eigene Seite schreibt mit Ihren Einstellungen, wird ohne Vorwarnung beendet und wird zurückgeholt wie echte Arbeit.',
  'drill.once-a-week': 'Einmal in der Woche',
  'drill.with-a': 'Mit',
  'drill.running': 'Läuft …',
  'drill.run-a-drill-now': 'Jetzt proben',
  'drill.opening-the-page-of-the-drill': 'Die Seite der Probe wird geöffnet …',
  'drill.it-writes-letters-it-is-ended-at':
    'Sie schreibt: {letters, plural, one {# Buchstabe} other {# Buchstaben}}. Sie wird zu einem zufälligen Zeitpunkt beendet.',
  'drill.it-was-ended-getting-its-work-back': 'Sie wurde beendet. Ihre Arbeit wird zurückgeholt …',
  'drill.no-drill-was-run-yet-it-takes':
    'Es gab noch keine Probe. Mit dem üblichen Abstand dauert sie weniger als eine Minute.',
  'drill.earlier-drills': '{earlier, plural, one {# frühere Probe} other {# frühere Proben}}',
  'drill.of-letters-lost-on-this-computer':
    '{charactersLost} von {charactersTyped} Buchstaben auf diesem Computer verloren',
  'drill.without-it': ', {charactersLost} ohne ihn',
  'drill.passed': 'Bestanden',
  'drill.failed': 'Nicht bestanden',
  'drill.in-a-on-letters-typed-in':
    '{at}, in {kind, select, document {einem Dokument} other {einer Tabelle}} auf {deviceName}: {charactersTyped, plural, one {# Buchstabe} other {# Buchstaben}} in {seconds} getippt',
  'drill.with-a-point-every': ', mit einem Punkt alle {sayInterval}',
  'drill.would-have-been-lost': 'Wäre verloren gewesen',
  'drill.it-was-behind-by': 'War zurück um',
  'drill.at-most-promised': 'Versprochen höchstens',
  'drill.getting-back-took': 'Das Zurückholen dauerte',
  'drill.no-recovery-point-was-due-within-the':
    'In der Probe war kein Sicherungspunkt fällig; stellen Sie einen kürzeren Abstand ein, um ihn zu proben.',
  'drill.letters': '{charactersLost, plural, one {# Buchstabe} other {# Buchstaben}}',
  'drill.the-weekly-recovery-drill-is-running': 'Die wöchentliche Probe läuft.',
  'drill.the-last-recovery-drill-failed':
    'Die letzte Probe wurde <span>{passed, select, true {bestanden} other {nicht bestanden}}</span>, {at}.',
  'drill.no-recovery-drill-was-run-yet': 'Es gab noch keine Probe.',
  'drill.drills': 'Proben',
  'drill.the-scratch-page-did-not-start': 'Die Seite der Probe ist nicht gestartet.',
  'drill.a-drill-this-page-writes-as-you':
    'Eine Probe: Diese Seite schreibt, wie Sie es täten, und wird mitten in einem Wort beendet, wie bei einem Absturz. ',
  'drill.a-drill-saves-nothing': 'Eine Probe speichert nichts.',
  'drill.this-computer': 'Dieser Computer',
  'drill.server-without': 'Der Server, ohne diesen Computer',
}
