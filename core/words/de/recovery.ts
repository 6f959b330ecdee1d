/** Sentences of keeping unsaved work. */
export const recovery = {
  'recovery.you-type-fast-even-the-shortest-interval':
    'Sie tippen schnell: Selbst der kürzeste Abstand würde im Mittel {lost} Buchstaben kosten, wenn dieser Computer verloren ginge.',
  'recovery.if-this-computer-were-lost-you-would':
    'Ginge dieser Computer verloren, würden Sie im Mittel {lost} Buchstaben noch einmal schreiben, weniger als einen Satz.{shorter, select, true { Ein kürzerer Abstand würde {max} davon sparen und den Server {it}-mal so oft fragen.} other {}}',
  'recovery.this-browser-had-cleared-the-unsaved-work':
    'Dieser Browser hatte die ungespeicherte Arbeit auf diesem Computer gelöscht.',
  'recovery.this-computer-has-no-room-left-for': 'Dieser Computer hat keinen Platz mehr für ungespeicherte Arbeit.',
  'recovery.this-computer-refuses-to-keep-unsaved-work': 'Dieser Computer nimmt keine ungespeicherte Arbeit an.',
  'recovery.server-refuses-points': 'Der Server lehnt ungespeicherte Arbeit ab: {why}',
  'recovery.other-model':
    'Diese Arbeit wurde an ihrer Datei geschrieben, wie ein anderes Jaula sie liest, und lässt sich hier nicht fehlerfrei darauf setzen.',
  'recovery.drill-not-what-was-typed':
    '{device, select, true {Was dieser Computer zurückgab} other {Was der Server zurückgab}}, ist nicht, was getippt wurde.',
  'recovery.drill-behind':
    '{device, select, true {Dieser Computer} other {Der Server}} war {ms} ms zurück; {promised} sind versprochen.',
  'recovery.cannot-be-put-together': 'Die ungespeicherte Arbeit auf diesem Computer lässt sich nicht zusammensetzen.',
}
