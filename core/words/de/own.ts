import type { own as said } from '../en/own'

/** Sentences of copies in folders of one’s own computer. */
export const own: Record<keyof typeof said, string> = {
  'own.needs-permission': 'Der Browser möchte noch einmal gefragt werden, bevor diese Seite den Ordner benutzen darf.',
  'own.folder-refused': 'Der Ordner hat nicht alles angenommen. Ist das Laufwerk voll oder schreibgeschützt?',
  'own.is-gone':
    'Wovon dies eine Kopie ist, gibt es hier nicht mehr oder nicht für Sie. Die Dateien bleiben, wie sie sind.',
  'own.on-this-computer': 'In Ordnern dieses Rechners',
  'own.while-open':
    'Sie bleiben auf dem Stand, solange Jaula in diesem Browser offen ist, und werden jede Woche neu gelesen.',
  'own.and-more': 'und {n} weitere',
  'own.in-folder': 'im Ordner {folder}',
  'own.is-read': 'Wird gelesen …',
  'own.in-step': '{n, plural, one {# Datei} other {# Dateien}}, auf dem Stand von {at}.',
  'own.never': 'Noch nicht da.',
  'own.changed-there':
    '{n, plural, one {# Datei wurde} other {# Dateien wurden}} dort von jemand anderem geändert und in Ruhe gelassen: {names}.',
  'own.refused': '{n, plural, one {# Datei hat} other {# Dateien hat}} dieser Rechner nicht angenommen: {names}.',
  'own.allow': 'Wieder erlauben',
  'own.write-over': 'Überschreiben',
  'own.more-for': 'Mehr zur Kopie von {name}',
  'own.read-again': 'Alles neu lesen',
  'own.stop': 'Nicht mehr auf dem Stand halten',
  'own.write-over-these': '{n, plural, one {Diese Datei} other {Diese # Dateien}} überschreiben?',
  'own.what-was-changed-goes':
    'Was in jenem Ordner geändert wurde, geht verloren: {names}. Was in Jaula ist, bleibt, wie es ist.',
  'own.stop-it': 'Die Kopie von {name} nicht mehr auf dem Stand halten?',
  'own.stopped': 'Sie wird nicht mehr auf dem Stand gehalten.',
  'own.files-stay': 'Die Dateien in {folder} bleiben, wie sie sind.',
}
