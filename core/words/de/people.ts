/** Sentences of people, groups and what they can reach. */
export const people = {
  'people.line-no-name': 'Der Name fehlt.',
  'people.line-long-name': 'Der Name ist länger als 100 Zeichen.',
  'people.line-handle':
    'Mit {handle} kann man sich nicht anmelden: Verwenden Sie 2 bis 40 Kleinbuchstaben, Ziffern, Punkte, Striche.',
  'people.line-taken': 'Mit {handle} meldet sich schon jemand an.',
  'people.line-twice': '{handle} steht auch in Zeile {other}.',
  'people.line-yes-or-no': '„{text}“ heißt weder ja noch nein.',
  'people.line-nobody': 'In dieser Liste steht niemand.',
  'people.line-too-many': 'Höchstens {most, number} Personen werden auf einmal hinzugefügt.',
}
