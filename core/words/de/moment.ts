import type { moment as said } from '../en/moment'

/** Sentences of a share or folder as it was at a moment. */
export const moment: Record<keyof typeof said, string> = {
  'moment.title': '{place}, wie es einmal war',
  'moment.right-before': 'Unmittelbar vor {at}',
  'moment.at': 'Stand {at}',
  'moment.then-changed':
    'Danach {n, plural, one {kam # Änderung} other {kamen # Änderungen}} von {people}{more, plural, =0 {} other { und anderen}}.',
  'moment.now': 'Jetzt',
  'moment.nothing-was-changed': 'In den letzten 400 Tagen wurde hier nichts geändert.',
  'moment.time-line': 'Zeitpunkt, nach dem, was geändert wurde',
  'moment.exactly': 'Genau',
  'moment.nothing-differs': 'Alles hier ist, wie es damals war.',
  'moment.what-differs': 'Was anders ist',
  'moment.written-over': '{n, plural, one {hat # Datei} other {haben # Dateien}} einen anderen Inhalt',
  'moment.went': '{n, plural, one {wurde #} other {wurden #}} entfernt',
  'moment.were-moved': '{n, plural, one {wurde #} other {wurden #}} verschoben',
  'moment.were-renamed': '{n, plural, one {wurde #} other {wurden #}} umbenannt',
  'moment.are-new': '{n, plural, one {kam #} other {kamen #}} dazu',
  'moment.since-then': 'Seitdem {parts}.',
  'moment.of-then': 'Damals Version {number} von {author}, {at}; jetzt Version {now} von {nowAuthor}, {nowAt}.',
  'moment.nearest': 'Die Version von damals hat die Aufbewahrung entfernt; dies ist die davor.',
  'moment.removed': 'Seitdem entfernt.',
  'moment.moved': 'Damals lag es hier.',
  'moment.renamed': 'Heißt jetzt {name}.',
  'moment.new': 'Das gab es damals nicht. Angekreuzt wird es entfernt.',
  'moment.gone': 'Vor zu langer Zeit entfernt, um zurückzukommen.',
  'moment.choose': '{name} zurückholen',
  'moment.choose-all': 'Alles, was war',
  'moment.bring-back':
    '{n, plural, =0 {Nichts ist angekreuzt} one {# Sache wieder machen, wie sie war} other {# Sachen wieder machen, wie sie waren}}',
  'moment.is-as-it-was': '{n, plural, one {# Sache ist, wie sie war.} other {# Sachen sind, wie sie waren.}}',
  'moment.more':
    '{n, plural, one {Eine weitere ist nicht gezeigt und kommt mit.} other {# weitere sind nicht gezeigt und kommen mit.}}',
  'moment.keeps':
    'Was jetzt hier ist, bleibt in den Versionen jeder Datei, und alles lässt sich auf einmal widerrufen.',
  'moment.could-not': 'Das ging nicht. Es wurde nichts geändert.',
  'moment.viewer': 'Sie dürfen nachsehen. Wer hier bearbeiten darf, kann es zurückholen.',
}
