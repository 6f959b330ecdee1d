/** Seiten, wie sie aufs Papier kommen. */
export const paper = {
  'paper.on-pages': 'Auf Seiten',
  'paper.look-at-its-pages': 'Die Seiten ansehen',
  'paper.setting': 'Die Seiten werden gesetzt …',
  'paper.pages': '{pages, plural, one {1 Seite} other {# Seiten}}',
  'paper.page-of': 'Seite {page} von {pages}',
  'paper.wider': 'So breit wie das Fenster',
  'paper.beside': 'Neben der Arbeit',
  'paper.save-pdf': 'Als PDF speichern',
  'paper.what-for': 'Wofür das PDF ist',
  'paper.plain': 'Zum Lesen und Drucken',
  'paper.archive': 'Zum langen Aufheben (PDF/A-2a)',
  'paper.accessible': 'Zum guten Vorlesen (PDF/UA-1)',
  'paper.stands-for':
    '{font} fehlt hier, dafür wird {by} genommen{sameWidths, select, true {; die Zeilen brechen wie damit} other {}}.',
  'paper.undrawn':
    '{undrawn, plural, one {Ein Bild lässt sich nicht zeichnen; sein Platz bleibt.} other {# Bilder lassen sich nicht zeichnen; ihre Plätze bleiben.}}',
  'paper.its-pages': 'Ihre Seiten',
}
