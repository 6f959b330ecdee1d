/** Sätze zu Kopien auf anderem Speicher. */
export const copies = {
  'copies.no-line-of-a-manifest': 'Zeile {line} des Manifests ist weder eine Prüfsumme mit einem Pfad noch leer.',
  'copies.a-path-outside-the-bag': 'Zeile {line} des Manifests führt aus der Kopie hinaus.',
  'copies.a-path-that-is-listed-twice': 'Zeile {line} des Manifests nennt einen Pfad ein zweites Mal.',
  'copies.no-such-folder': 'Den Ordner {folder} gibt es nicht, oder es kann nicht in ihn geschrieben werden.',
  'copies.something-else-is-there':
    'In {folder} liegt bereits etwas anderes. Es blieb, wie es ist. Wählen Sie einen anderen Ordner, oder verschieben Sie, was dort liegt.',
  'copies.a-link-in-the-copy': '{path} ist eine Verknüpfung. Ihr wird nicht gefolgt.',
  'copies.did-not-read-back': '{path} lässt sich nicht so zurücklesen, wie es geschrieben wurde.',
  'copies.not-a-copy': '{folder} ist keine Kopie, die Jaula angelegt hat.',
  'copies.another-copying-is-under-way': 'Nach {folder} wird gerade schon kopiert.',
  'copies.not-empty':
    'In diesem Jaula gibt es bereits Personen oder Dateien. Kopien werden nur in ein leeres zurückgeholt.',
  'copies.versions-missing':
    '{n, plural, one {# Version ist} other {# Versionen sind}} nicht so in den Kopien, wie gespeichert wurde. Es wurde nichts zurückgeholt.{damaged, plural, =0 {} other { Beschädigt oder verschwunden: {paths}.}}',
  'copies.changed-meanwhile': 'Eine Datei der Kopien hat sich beim Lesen geändert. Es wurde nichts zurückgeholt.',
  'copies.full': 'Dort ist kein Platz mehr.',
  'copies.read-only': 'Dorthin kann nicht geschrieben werden.',
  'copies.does-not-answer': 'Dort kommt keine brauchbare Antwort ({code}).',
  'copies.not-there': 'Es ist nicht da.',
  'copies.copy-gone': 'Die Kopie, die dort war, ist weg. Sie wird wieder gemacht.',
  'copies.not-named': 'Der Server darf dort nicht mehr schreiben.',
  'copies.identity-gone':
    'Der Ordner ist da, aber nicht als der Ort, an dem Kopien gemacht wurden: {file} fehlt. Vielleicht ist dort nichts eingehängt.',
  'copies.identity-other': 'Der Ordner ist da, aber ein anderer Ort für Kopien als zuvor (so steht es in {file}).',
  'copies.identity-unreadable': '{file} ist da und sagt nichts.',
  'copies.no-address':
    'Das ist keine Adresse eines Ordners. Schreiben Sie sftp://Rechner/Ordner oder https://Rechner/Ordner.',
  'copies.no-account-in-an-address':
    'Schreiben Sie den Namen, der sich anmeldet, und sein Kennwort in ihre eigenen Felder.',
  'copies.host-not-named':
    'Der Server darf nicht zu {host} geschickt werden. Wer ihn betreibt, nennt die Rechner, zu denen er darf, in JAULA_COPY_HOSTS.',
  'copies.no-such-host': 'Ein Rechner {host} ist hier nicht bekannt ({code}).',
  'copies.inner-address':
    '{host} hat die Adresse {address}, die in diesem Netz liegt. Ist das richtig, nennt, wer den Server betreibt, auch diese Adresse in JAULA_COPY_HOSTS.',
  'copies.not-protected':
    'Der Weg zu {host} ist nicht geschützt, das Kennwort könnte mitgelesen werden. Nehmen Sie https.',
  'copies.other-key':
    '{host} zeigt einen anderen Schlüssel als zuvor: {shown}. Vielleicht ist es ein anderer Rechner. Es wurde nichts dorthin geschickt. Sagt, wer ihn betreibt, dass sein Schlüssel gewechselt wurde, melden Sie sich dort neu an.',
  'copies.not-let-in': '{host} lässt diesen Namen mit diesem Kennwort oder Schlüssel nicht ein.',
  'copies.no-folder-there': 'Bei {host} gibt es keinen Ordner {folder}.',
  'copies.no-key-file':
    'Kennwörter anderer Rechner werden verschlossen aufbewahrt, mit einem Schlüssel außerhalb der Datenbank. Wer den Server betreibt, nennt dafür eine Datei in JAULA_KEY_FILE.',
  'copies.other-seal':
    'Der Schlüssel, mit dem das Kennwort verschlossen ist, fehlt oder ist ein anderer. Melden Sie sich dort neu an.',
  'copies.say-the-key':
    '{host} zeigt den Schlüssel {shown}. Sagt, wer ihn betreibt, dass es seiner ist, setzen Sie JAULA_PLACE_KEY auf ihn.',
  'copies.say-who-signs-in':
    'Setzen Sie JAULA_PLACE_ACCOUNT und JAULA_PLACE_SECRET auf das, womit sich Jaula bei {host} anmeldet.',
  'copies.in-another-share': 'Sie ist jetzt in einem anderen Bereich.',
  'copies.damaged-there': 'Ihre Kopie ist beschädigt.',
  'copies.add-it-first':
    'Ein Ort für Kopien unter {address} ist nicht bekannt. Fügen Sie ihn zuerst auf der Seite Kopien hinzu.',
  'copies.no-answer-of-that-kind': '{host} antwortet nicht, wie ein solcher Ort es tut ({code}).',
  'copies.a-site-already': '{name} dient schon für Kopien.',
  'copies.plan-nothing': 'Nichts wird kopiert.',
  'copies.plan':
    '{what, select, latest {Die neueste Version jeder Datei} kept {Die neueste Version jeder Datei und Versionen mit Etikett} other {Alle Versionen}}{backDays, plural, =0 {} one { vom letzten Tag} other { der letzten # Tage}}, {hours, plural, =0 {nach jeder Änderung} =1 {jede Stunde} other {{days, plural, =0 {alle {hours} Stunden} =1 {jeden Tag} other {alle # Tage}}}}. Alles wird {checkDays, plural, one {jeden Tag} other {alle # Tage}} wieder gelesen.{mostRate, plural, =0 {} other { Höchstens # MB in der Sekunde.}}',
}
