/** Sentences of documents and workbooks. */
export const content = {
  'content.there-is-no-sheet': 'Es gibt kein Blatt {index}.',
  'content.a-workbook-keeps-at-least-one-sheet': 'Eine Arbeitsmappe behält mindestens ein Blatt.',
  'content.there-is-no-sheet-2': 'Es gibt kein Blatt {sheet}.',
  'content.this-is-past-the-end-of-the': 'Das liegt hinter dem Ende des Blatts.',
  'content.these-rows-or-columns-are-not-there': 'Diese Zeilen oder Spalten gibt es nicht.',
  'content.the-last-cells-would-be-pushed-off': 'Die letzten Zellen würden vom Blatt geschoben.',
  'content.a-sheet-needs-a-name': 'Ein Blatt braucht einen Namen.',
  'content.the-name-of-a-sheet-has-at': 'Der Name eines Blatts hat höchstens 31 Buchstaben.',
  'content.the-name-of-a-sheet-cannot-have': 'Der Name eines Blatts kann : \\ / ? * [ oder ] nicht enthalten.',
  'content.the-name-of-a-sheet-cannot-begin':
    'Der Name eines Blatts kann nicht mit einem Apostroph beginnen oder enden.',
  'content.another-sheet-has-this-name': 'Ein anderes Blatt hat diesen Namen.',
  'content.formula-text-not-closed': 'Hier ist ein Text nicht geschlossen: Sein zweites Anführungszeichen fehlt.',
  'content.formula-bracket-not-closed': 'Eine Klammer ist nicht geschlossen.',
  'content.formula-bracket-too-many': 'Hier ist eine schließende Klammer zu viel.',
  'content.formula-ends-too-soon': 'Am Ende fehlt etwas.',
  'content.formula-not-read-here': '„{piece}“ ist an dieser Stelle nicht lesbar.',
}
