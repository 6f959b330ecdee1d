import type { past as said } from '../en/past'

/** Sentences of the search in earlier versions. */
export const past: Record<keyof typeof said, string> = {
  'past.what': 'Wörter oder eine Zahl, die einmal da waren',
  'past.of-all': 'In allen Bereichen',
  'past.in': 'In {place}',
  'past.search-everywhere': 'Lieber in allen Bereichen suchen',
  'past.when-did-it-go': 'Wann ist es verschwunden, und wer hat es herausgenommen?',
  'past.how':
    'Geben Sie Wörter ein, wie sie aufeinander folgten, einen Namen oder eine Zahl, gleich wie geschrieben. Jaula sieht jede Version von Dokumenten, Tabellen und Texten durch.',
  'past.files-lost-them':
    '{n, plural, one {# Datei hat diese Wörter verloren} other {# Dateien haben diese Wörter verloren}}{more, select, true {, und es gibt weitere; mit einem Wort mehr wird es enger} other {}}.',
  'past.in-newest':
    '{now, plural, =0 {In der neuesten Version steht es nicht mehr.} one {In der neuesten Version steht es einmal.} other {In der neuesten Version steht es #-mal.}}',
  'past.never': 'In keiner Version dieser Datei steht es.',
  'past.no-file-lost-them': 'Keine Datei hier hat diese Wörter verloren',
  'past.maybe-there': 'Vielleicht stehen sie noch da: <link>Dateien suchen, die sie jetzt haben</link>.',
  'past.check-words': 'Die Wörter müssen aufeinander folgen wie damals. Mit weniger Wörtern findet man mehr.',
  'past.waiting':
    '{n, plural, one {# Version wird} other {# Versionen werden}} noch durchgesehen; was dort geändert wurde, ist noch nicht zu finden.',
  'past.unread':
    '{n, plural, one {# Version wird} other {# Versionen werden}} nicht durchgesehen: Jaula liest den Typ nicht, oder sie sind zu groß oder beschädigt.',
  'past.taken-out':
    '{author} hat es {all, select, true {herausgenommen} other {{n, plural, one {an einer von {before} Stellen herausgenommen} other {an # von {before} Stellen herausgenommen}}}}.',
  'past.put-in':
    '{author} hat es {again, select, true {wieder eingefügt} new {eingefügt} other {{n, plural, one {noch einmal eingefügt} other {noch #-mal eingefügt}}}}.',
  'past.between':
    'In Version {last} vom {lastAt} stand es noch. Die Versionen dazwischen wurden entfernt; es kann auch in einer von ihnen verschwunden sein.',
  'past.not-read-between': 'Eine Version davor konnte nicht durchgesehen werden: Es kann auch dort verschwunden sein.',
  'past.version': 'Version {number}',
  'past.under-heading': 'Unter ‹{heading}›',
  'past.row-of-sheet': '‹{sheet}›, Zeile {row}',
  'past.instead': 'Seitdem:',
  'past.see-it': 'In Version {number} ansehen',
  'past.was-there': 'Es war da vom {from} bis zum {until}',
  'past.is-there': 'Es ist da seit dem {from}',
  'past.in-its-versions': 'In ihrem Verlauf suchen',
  'past.now': 'jetzt',
  'past.not-in-those-looked-through': 'Nicht in den Versionen, die durchgesehen wurden',
}
