/** Sentences of an open file. */
export const editor = {
  'editor.nothing': 'nichts',
  'editor.keep-theirs': '{which, select, true {Meines} other {Das andere}} behalten',
  'editor.where-both-of-you-wrote': 'Wo Sie beide geschrieben haben',
  'editor.the-place-before': 'Die vorige Stelle',
  'editor.one-place-where-both-wrote': 'Eine Stelle, an der beide geschrieben haben',
  'editor.places-where-both-wrote': '{choices} Stellen, an denen beide geschrieben haben',
  'editor.the-next-place': 'Die nächste Stelle',
  'editor.mine': 'Meines',
  'editor.keep-both': 'Beides behalten',
  'editor.on-screen': 'Auf dem Bildschirm',
  'editor.size-words': 'Zoom Prozent vergrößern verkleinern',
  'editor.show-it-larger': 'Größer zeigen',
  'editor.show-it-smaller': 'Kleiner zeigen',
  'editor.show-it-as-usual': 'In der üblichen Größe zeigen',
  'editor.size-on-screen': 'Größe auf dem Bildschirm: {size}',
  'editor.back': 'Zurück',
  'editor.give-it-a-name-and-a-place': 'Namen und Ort geben',
  'editor.save': 'Speichern',
  'editor.save-2': 'Speichern …',
  'editor.more-for-this-file': 'Mehr zu dieser Datei',
  'editor.make-a-template-of-it': 'Eine Vorlage daraus machen',
  'editor.download-version': 'Version {number} herunterladen',
  'editor.this-work-is-open-in-another-tab':
    'Diese Arbeit ist in einem anderen Tab dieses Browsers geöffnet, und Sie schreiben dort. Hier sehen Sie, wie sie wächst; wenn jener Tab zu ist, arbeiten Sie hier weiter.',
  'editor.write-here-instead': 'Stattdessen hier schreiben',
  'editor.look-at-what-was-only-here': 'Ansehen, was nur hier war',
  'editor.you-went-on-with-this-work-in':
    'Sie haben {byIs, select, true {auf {by}} other {in einem anderen Tab dieses Browsers}} weitergearbeitet, deshalb wird hier nichts mehr geschrieben.',
  'editor.what-only-this-page-had-is-kept':
    'Was nur diese Seite hatte ({beyondInWords}), ist getrennt aufbewahrt. Sie können es dort mit Ihrer Arbeit zusammenführen.',
  'editor.this-computers-clock-is-minutes-slow-so':
    'Die Uhr dieses Computers geht {minutes} {minutes, plural, one {Minute} other {Minuten}} {ahead, select, true {vor} other {nach}}, deshalb sind die Zeiten Ihrer Arbeit um so viel falsch. Ihre Arbeit ist trotzdem geschützt; stellen Sie die Uhr richtig.',
  'editor.the-unsaved-work-on-this-computer-is':
    'Die ungespeicherte Arbeit auf diesem Computer ist nach Änderung {it} beschädigt. Alles davor ist hier; was danach kam, ließ sich nicht lesen.',
  'editor.you-go-on-with-unsaved-work-of':
    'Sie arbeiten mit ungespeicherter Arbeit von {it} weiter, von {from, select, true {diesem Computer} other {dem Server}}. {missing, select, true {{edits, plural, one {# spätere Änderung ist} other {# spätere Änderungen sind}} nur auf {deviceName}. Wenn das wiederkommt, können Sie es hiermit zusammenführen.} other {{lostFrom, select, true {{edits2, plural, one {Die eine bekannte Änderung ist} other {Alle # bekannten Änderungen sind}} hier.} other {}}}}',
  'editor.version-stays-as-it-is-until-you': 'Version {number} bleibt, wie sie ist, bis Sie speichern.',
  'editor.changes-are-on-only-beyond-this-version':
    '{edits, plural, one {# Änderung} other {# Änderungen}} {edits, plural, one {ist} other {sind}} nur auf {deviceName}, über diese Version hinaus. Wenn das wiederkommt, können Sie es hiermit zusammenführen.',
  'editor.kept-and-not-shown':
    'Das bleibt beim Speichern in der Datei, ist hier aber noch nicht zu sehen und nicht zu ändern: {limits}.',
  'editor.combine-the-two-and-save': 'Beide zusammenführen und speichern',
  'editor.save-mine-as-version': 'Meine als Version {it} speichern',
  'editor.your-work-is-not-saved-yet-and':
    'Ihre Arbeit ist noch nicht gespeichert, und nichts wird überschrieben: Die Version von {authorName} bleibt in den Versionen der Datei, was immer Sie wählen.',
  'editor.your-work-stays-open': 'Ihre Arbeit bleibt offen, wie sie ist.',
  'editor.saved-version-saving-combines-it-with-your':
    '{own, select, true {Sie haben anderswo Version {number} gespeichert} other {{authorName} hat Version {number} gespeichert}}, {at}. Beim Speichern wird sie mit Ihrer Arbeit an Version {number2} zusammengeführt.',
  'editor.combine-now': 'Jetzt zusammenführen',
  'editor.the-file-this-was-copied-from-has':
    'Die Datei, von der dies kopiert wurde, {nameText}, hat sich seitdem geändert: {authorName} hat ihre Version {number} gespeichert, {at}. Diese Kopie hat, was in Version {number2} stand.',
  'editor.see-what-changed': 'Zeigen, was sich geändert hat',
  'editor.combined-with-undo-takes-it-out-again':
    'Mit {originName} zusammengeführt: {summary} Rückgängig nimmt es wieder heraus.',
  'editor.what-changed-there-cannot-be-shown-right': 'Was sich dort geändert hat, kann gerade nicht gezeigt werden.',
  'editor.what-changed-in-since-it-was-copied': 'Was sich in {originName} seit der Kopie geändert hat',
  'editor.bring-in-changes': '{chosen, plural, one {# Änderung} other {# Änderungen}} übernehmen',
  'editor.bring-in-all-of-it': 'Alles übernehmen',
  'editor.it-is-combined-with-your-work-and':
    '{it} Es wird mit Ihrer Arbeit zusammengeführt und lässt sich rückgängig machen.',
  'editor.what-changed': 'Was sich geändert hat',
  'editor.changes': '{own, plural, one {# Änderung} other {# Änderungen}}',
  'editor.close-this-file': 'Diese Datei schließen',
  'editor.that-could-not-be-done-right-now': 'Das ging gerade nicht.',
  'editor.jaula-keeps-files-exactly-as-they-are':
    'Jaula bewahrt Dateien dieser Art ({label}) genau so auf, wie sie sind, bearbeitet sie aber nicht. {versions, plural, one {# Version} other {# Versionen}}.',
  'editor.restore-version': 'Version {number} wiederherstellen',
  'editor.version-is-kept-as': 'Version {number} bleibt als „{label}“.',
  'editor.its-label-is-taken-away': 'Ihr Etikett ist entfernt.',
  'editor.version-is-back-as-version': 'Version {number} ist wieder da, als Version {it}.',
  'editor.afterwards-it-is-the-same-file-named':
    'Danach ist es dieselbe Datei, mit dem Namen {nameText}. Ihre Versionen bleiben bei ihr, und die Suche findet weiterhin den alten Namen.',
  'editor.saved-by': 'Gespeichert {time} von {authorName}, {version}.',
  'editor.sha-256': 'SHA-256 {sha256}',
  'editor.and-more-have-it-open':
    '{firstName}{restIs, select, true { und {rest} weitere} other {}} {people, plural, one {hat} other {haben}} sie geöffnet',
  'editor.present':
    '{name}{placed, select, true {, bei {place}} other {}}{writes, select, true {, schreibt gerade} other {}}',
  'editor.with-unsaved-work': ', mit ungespeicherter Arbeit',
  'editor.has-changes-since-its-last-save':
    '{name} hat Änderungen seit {head, select, true {Version {number}} other {dem letzten Speichern}}',
  'editor.was-never-saved': '{name} wurde noch nie gespeichert',
  'editor.save-and-close': 'Speichern und schließen',
  'editor.name-and-save-it': 'Benennen und speichern',
  'editor.version-keeps-them-and-stays-in-the':
    'Version {number} hat sie weiterhin und bleibt in den Versionen der Datei.',
  'editor.version-would-lose-these': 'Version {next} würde dies verlieren',
  'editor.save-version-without-them': 'Version {next} ohne sie speichern',
  'editor.it-becomes-the-newest-version-number-version':
    'Sie wird die neueste Version, Nummer {it}. Version {newest} und alle anderen bleiben.',
  'editor.your-unsaved-changes-are-kept-in-rescue': 'Ihre ungespeicherten Änderungen bleiben unter Rettung.',
  'editor.restore-version-2': 'Version {number} wiederherstellen?',
  'editor.restore-as-version': 'Als Version {it} wiederherstellen',
  'editor.version-is-restored-as-version': 'Version {number} ist wiederhergestellt, als Version {number2}.',
  'editor.it-could-not-be-restored': 'Sie konnte nicht wiederhergestellt werden.',
  'editor.this-work-is-not-known-here-it':
    'Diese Arbeit ist hier nicht bekannt. Sie wurde vielleicht auf einem anderen Computer gespeichert oder geschlossen.',
  'editor.it-cannot-be-opened-right-now': 'Es kann gerade nicht geöffnet werden',
  'editor.it-cannot-be-opened': 'Es kann nicht geöffnet werden',
  'editor.to-the-desk': 'Zum Schreibtisch',
  'editor.the-template-is-version-of-this-file':
    'Die Vorlage {madeName} ist Version {number} dieser Datei und bleibt diese Version.',
  'editor.make-the-template': 'Die Vorlage anlegen',
  'editor.everybody-in-can-begin-from-version-as':
    'Alle in {shareName} können mit Version {number} beginnen, wie sie ist. Was sie ausfüllen, wird eine eigene Datei; die Vorlage bleibt.',
  'editor.name-of-the-template': 'Name der Vorlage',
  'editor.already-filled-in-when-a-file-begun': 'Schon ausgefüllt, wenn eine daraus begonnene Datei benannt wird',
  'editor.needs-a-name-its-slip-is-open': 'Braucht einen Namen: Der Ablagezettel ist in seinem Tab offen.',
  'editor.jaula': '{unsaved, select, true {• } other {}}{name} – Jaula',
  'editor.saved-as-the-number-before-it-was':
    'Als {called} gespeichert: Die Nummer davor hat inzwischen jemand anderes bekommen.',
  'editor.combined-with': 'Mit {thereName} zusammengeführt: {summary}',
  'editor.the-copy-waits-on-this-computer-and':
    'Die Kopie wartet auf diesem Computer und wird gespeichert, sobald der Server antwortet. Sie arbeiten in {name} weiter.',
  'editor.the-copy-is-saved-as-you-go': 'Die Kopie ist als {copyName} gespeichert. Sie arbeiten in {name} weiter.',
  'editor.open-the-copy': 'Die Kopie öffnen',
  'editor.there-is-nothing-new-to-save': 'Es gibt nichts Neues zu speichern.',
  'editor.it-could-not-be-saved': 'Es konnte nicht gespeichert werden: {message}',
  'editor.you-may-look-at-this-file-not': 'Sie dürfen diese Datei ansehen, nicht ändern.',
  'editor.it-is-kept-as-it-is-you': '{damaged} Sie bleibt, wie sie ist; Sie können sie herunterladen.',
  'editor.this-work-cannot-be-opened': 'Diese Arbeit kann nicht geöffnet werden',
  'editor.its-type-cannot-hold-them':
    'Eine Datei dieses Typs kann sie nicht enthalten. Sie bleiben auf dieser Seite, bis sie verlassen wird.',
  'editor.left-out-by-saving':
    'Was Sie speichern, wird das hier nicht haben, denn es ist hier nicht zu sehen oder zu ändern: {limits}. Die jetzige Version behält es.',
  'editor.read-and-not-written':
    'Dateien vom Typ .{type} liest Jaula und schreibt sie nicht. Beim Speichern geht diese Datei weiter als: {label}. Ihre bisherigen Versionen bleiben, wie sie sind.',
  'editor.file-is-not-for-you':
    'Diese Datei ist nicht mehr hier, oder nicht für Sie. Was Sie geschrieben haben, gehört Ihnen.',
  'editor.may-only-look-now':
    'Sie dürfen diese Datei jetzt nur noch lesen. Was Sie nicht gespeichert haben, gehört Ihnen.',
  'editor.the-link-does-not-let-you-write':
    'Der Link, über den Sie kamen, lässt Sie hier nicht mehr schreiben. Was Sie nicht gespeichert haben, ist noch auf dieser Seite: Kopieren Sie es, bevor Sie sie schließen, und fragen Sie, wer Ihnen den Link gab.',
}
