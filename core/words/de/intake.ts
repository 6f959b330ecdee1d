import type { intake as said } from '../en/intake'

/** What is said of a drive that is taken over by what reads it, plans it and takes it in. */
export const intake: Record<keyof typeof said, string> = {
  'intake.words-tell-apart': 'Ihre Namen unterscheiden sich in {words}.',
  'intake.folders-tell-apart': 'Einige liegen im Ordner {folders}.',
  'intake.numbers-tell-apart': 'Ihre Namen unterscheiden sich in der Zahl am Ende.',
  'intake.dates-tell-apart': 'Ihre Namen unterscheiden sich im Datum.',
  'intake.alike': 'Mindestens {percent} % ihres Inhalts sind gleich.',
  'intake.same-bytes': '{n, plural, one {# hat} other {# haben}} genau den Inhalt einer anderen.',
  'intake.numbers-and-times-differ':
    'Die Zahlen in den Namen und die Zeiten der Änderung laufen verschieden. Es gilt die Reihenfolge der Zahlen.',
  'intake.not-compared': 'Ihr Inhalt lässt sich nicht vergleichen.',
  'intake.little-alike': 'Nur {percent} % ihres Inhalts sind gleich.',
  'intake.may-be-records': 'Dateien verschiedener Tage können eigene Vorgänge sein.',
  'intake.name-put-right': 'Ihren Namen nehmen viele Rechner nicht an.',
  'intake.name-twice': 'Eine andere Datei hieße auch {name}.',
  'intake.no-such-folder': 'Auf dem Server gibt es keinen Ordner {folder}.',
  'intake.not-named':
    'Der Ordner {folder} darf nicht übernommen werden. Wer den Server betreibt, kann ihn in JAULA_TAKE_OVER_FOLDERS nennen.',
  'intake.leads-out': '{path} führt aus dem Ordner hinaus und wurde nicht gelesen.',
  'intake.leads-out-by-now': 'Sie führt inzwischen aus dem Ordner hinaus und wurde nicht gelesen.',
  'intake.changed-since':
    'Sie wurde geändert, seit sie gelesen wurde. Verwerfen Sie diese Übernahme, und lassen Sie das Laufwerk neu lesen.',
  'intake.gone-since': 'Sie ist nicht mehr auf dem Laufwerk.',
  'intake.refused': 'Das Laufwerk hat sie nicht hergegeben ({code}).',
  'intake.no-free-name': 'Dort heißen zu viele Dateien {name}.',
  'intake.drive-does-not-answer': 'Das Laufwerk antwortet nicht ({code}).',
  'intake.not-wanted': 'Diese Datei wurde ausgelassen.',
  'intake.not-its-turn': 'Erst kommt eine frühere Version dieser Datei.',
  'intake.not-ready': 'Das geht jetzt nicht. Sehen Sie nach, wie weit es ist.',
  'intake.cannot-part': 'Diese Versionen lassen sich nicht mehr trennen.',
  'intake.quoted': '„{word}“',
}
