/** Sentences of the filing slip and the name line. */
export const slip = {
  'slip.filing-slip': 'Ablagezettel',
  'slip.by': 'nach ‹{conventionName}›',
  'slip.this-name-does-not-follow': 'Dieser Name folgt ‹{conventionName}› nicht.',
  'slip.use': '{stem} nehmen',
  'slip.choose-a-then-jaula-can-suggest-the': 'Wählen Sie {neededByPlace}, dann kann Jaula den Ordner vorschlagen.',
  'slip.and-a': ' und ',
  'slip.still-missing': 'Es fehlt noch: {missing}.',
  'slip.it-is-saved-as-the-ending-is': 'Es wird als {label} gespeichert ({ending}); die Endung {dropped} entfällt.',
  'slip.the-filing-rule-suggests': 'Die Ablageregel schlägt {ruleElsewhere} vor',
  'slip.a-file-with-this-name-is-here':
    '{kind, select, true {Einen Ordner} other {Eine Datei}} mit diesem Namen gibt es hier schon{head, select, true {: Version {number}, gespeichert {at} von {authorName}} other {}}.',
  'slip.save-as-its-version': 'Als deren Version {it} speichern',
  'slip.combine-with-what-is-there': 'Mit dem zusammenführen, was da ist',
  'slip.save-as': 'Als {free} speichern',
  'slip.nothing-is-overwritten-version-stays-in-that':
    'Nichts wird überschrieben: Version {number} bleibt in den Versionen dieser Datei.',
  'slip.this-name-does-not-follow-2': 'Dieser Name folgt ‹{conventionName}› nicht. {faults}',
  'slip.version-by-hand': 'Version von Hand',
  'slip.date-form': 'Datumsform',
  'slip.not-in-its-list': 'nicht in seiner Liste',
  'slip.a-part-missing': 'ein Teil fehlt',
  'slip.written-otherwise': 'anders geschrieben',
  'slip.another-order': 'andere Reihenfolge',
  'slip.words-left-over': 'Wörter übrig',
  'slip.does-not-follow': 'folgt nicht',
  'slip.from-the-list': 'Aus der Liste',
  'slip.in-a-few-words': 'In wenigen Wörtern',
  'slip.set-when-saved': 'Wird beim Speichern gesetzt',
  'slip.is-not-in-the-list': '‹{value}› ist nicht in der Liste.',
  'slip.is-not-a-date-with-what-this':
    '‹{value}› ist kein Datum mit {includes, select, true {seinem Tag} other {dem, was dieser Name braucht}}.',
  'slip.use-digits-only': 'Nehmen Sie nur Ziffern.',
  'slip.nothing-of-can-be-used-in-this': 'Nichts von ‹{value}› passt in diesen Teil.',
  'slip.name-and-place': 'Name und Ort',
  'slip.afterwards-this-work-is-the-file-and':
    'Danach ist diese Arbeit die Datei {bold}, und Sie arbeiten in ihr weiter.',
  'slip.save-here': 'Hier speichern',
  'slip.afterwards-there-are-two-files-as-version':
    'Danach gibt es zwei Dateien: {bold}, wie Version {number} sie hat, und {bold2} mit Ihrer Arbeit. Sie arbeiten in {bold2} weiter.',
  'slip.afterwards-there-are-two-files-with-the':
    'Danach gibt es zwei Dateien: {bold} mit der Arbeit, wie sie jetzt ist, und {bold2}. Sie arbeiten in {bold2} weiter. Die Kopie weiß, wovon sie kopiert wurde.',
  'slip.save-the-copy': 'Die Kopie speichern',
  'slip.save-as-a-copy': '{it} als Kopie speichern',
  'slip.afterwards-there-are-two-files-with-and':
    'Danach gibt es zwei Dateien: {bold} mit {said}, und {bold2}, wie sie ist. Sie arbeiten in {bold2} weiter.',
  'slip.afterwards-it-is-the-same-file-named':
    'Danach ist es dieselbe Datei, mit dem Namen {bold}. Ihre Versionen bleiben bei ihr, und die Suche findet weiterhin den alten Namen.',
  'slip.enter-a-name': 'Geben Sie einen Namen ein.',
  'slip.also-in-own': 'Auch eine Kopie in einem eigenen Ordner',
  'slip.own-goes-to': 'Eine Kopie kommt unter diesem Namen in den Ordner {folder}.',
  'slip.not-there': 'Dort nicht',
}
