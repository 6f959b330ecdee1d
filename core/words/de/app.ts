/** Sentences of the first screens, the frame around all of them, and the list of commands. */
export const app = {
  'app.the-server-does-not-answer-right-now': 'Der Server antwortet gerade nicht.',
  'app.browser': 'Browser',
  'app.this-computer': 'dieser Computer',
  'app.jaulas-server-does-not-answer-right-now':
    'Der Jaula-Server antwortet gerade nicht. Versuchen Sie es gleich noch einmal.',
  'app.signing-in-did-not-work-try-again': 'Die Anmeldung hat nicht geklappt. Versuchen Sie es noch einmal.',
  'app.there-is-nothing-at-this-address': 'Unter dieser Adresse gibt es nichts',
  'app.the-file-may-have-been-moved-or':
    'Die Datei wurde vielleicht verschoben oder entfernt. <link>In Dateien nachsehen</link>.',
  'app.this-screen-could-not-be-shown': 'Diese Ansicht konnte nicht gezeigt werden',
  'app.rescue-lists-what-is-kept': 'Rettung zeigt, was von Ihrer Arbeit aufbewahrt ist.',
  'app.show-it-again': 'Noch einmal zeigen',
  'app.to-rescue': 'Zur Rettung',
  'app.office': 'Büro',
  'app.this-jaula-is-new-make-its-first':
    'Dieses Jaula ist neu. Legen Sie die erste Verwalterin oder den ersten Verwalter und den ersten Bereich an.',
  'app.your-name': 'Ihr Name',
  'app.sign-in-name': 'Anmeldename',
  'app.password': 'Kennwort',
  'app.first-share': 'Erster Bereich',
  'app.code-from-the-terminal-where-jaula-was': 'Code aus dem Terminal, in dem Jaula gestartet wurde',
  'app.jaulas-server-does-not-answer': 'Der Jaula-Server antwortet nicht',
  'app.check-that-the-server-is-running-then':
    'Prüfen Sie, ob der Server läuft, und versuchen Sie es dann noch einmal. An dem, was dieser Browser aufbewahrt, ändert sich inzwischen nichts.',
  'app.save-my-work': 'meine Arbeit speichern',
  'app.press-save-once-the-first-time-you':
    'Drücken Sie einmal Speichern; beim ersten Mal werden Sie nach Name und Ort gefragt. Der Satz unter dem Namen sagt, wie weit ungespeicherte Arbeit gekommen ist.',
  'app.store-keep-write-disk': 'sichern behalten schreiben platte',
  'app.save-a-copy-of-a-file': 'eine Datei kopieren',
  'app.save-a-copy-asks-for-its-name':
    'Kopie speichern fragt nach Name und Ort, und Sie arbeiten in der geöffneten Datei weiter. Die Kopie weiß, wovon sie kopiert wurde.',
  'app.duplicate-another': 'duplizieren zweite kopie',
  'app.save-under-another-name': 'unter einem anderen Namen speichern',
  'app.save-as-a-separate-file-keeps-the':
    'Als eigene Datei speichern lässt die Datei so, wie ihre letzte Version ist. Sie arbeiten in der neuen weiter.',
  'app.as-different-new-name-type': 'als anderer neuer name typ',
  'app.rename-a-file-or-move-it': 'eine Datei umbenennen oder verschieben',
  'app.rename-or-move-changes-its-name-and':
    'Umbenennen oder verschieben ändert Name und Ort und behält alle Versionen. Die Suche findet weiterhin den alten Namen.',
  'app.change-title-folder-put-elsewhere': 'ändern titel ordner woanders',
  'app.get-back-work-after-a-crash': 'Arbeit nach einem Absturz zurückbekommen',
  'app.rescue-lists-all-work-that-was-interrupted':
    'Rettung zeigt alle unterbrochene Arbeit und was darin steht. Sehen Sie erst hinein, dann arbeiten Sie damit weiter.',
  'app.lost-recover-recovery-unsaved-closed-power-gone': 'verloren wiederherstellen retten ungespeichert zu strom weg',
  'app.get-back-an-earlier-version': 'eine frühere Version zurückbekommen',
  'app.versions-shows-every-save-of-this-file':
    'Versionen zeigt jeden gespeicherten Stand dieser Datei. Sehen Sie einen an seinem Platz an, holen Sie dann einen Teil zurück oder stellen Sie ihn ganz wieder her.',
  'app.old-previous-history-undo-restore-before': 'vorher alt früher verlauf rückgängig',
  'app.get-back-a-file-that-was-removed': 'eine entfernte Datei zurückbekommen',
  'app.the-removed-files-of-a-share-keep':
    'Die entfernten Dateien eines Bereichs bleiben 30 Tage. Wählen Sie die Datei dort und holen Sie sie zurück.',
  'app.deleted-delete-trash-bin-restore-lost': 'gelöscht löschen papierkorb wiederherstellen verloren',
  'app.find-a-file': 'eine Datei finden',
  'app.find-takes-any-part-of-a-name':
    'Suchen nimmt jeden Teil eines Namens, einen Code, ein Jahr, eine Person oder Wörter daraus. Neben jedem Treffer steht sein Ordner.',
  'app.search-where-look-locate-lost': 'suchen wo nachsehen verloren',
  'app.see-how-well-my-work-is-protected': 'sehen, wie gut meine Arbeit geschützt ist',
  'app.the-sentence-below-the-name-says-how':
    'Der Satz unter dem Namen sagt, wie weit Ihre Arbeit gekommen ist. Drücken Sie darauf, um jeden Schritt mit seiner Zeit zu sehen.',
  'app.protected-saved-protection-reach-backup': 'geschützt gespeichert sicherung schutz',
  'app.change-how-often-my-work-is-protected': 'einstellen, wie oft meine Arbeit geschützt wird',
  'app.settings-has-your-recovery-interval-within-the':
    'In den Einstellungen steht Ihr Sicherungsabstand, in den Grenzen, die eine Verwalterin gesetzt haben kann. Eine Datei, ein Ordner oder eine Art bekommt einen eigenen über den Satz unter dem Dateinamen.',
  'app.autosave-automatic-interval-seconds-minutes-every': 'automatisch abstand sekunden minuten alle',
  'app.bring-in-files-from-this-computer': 'Dateien von diesem Computer hereinholen',
  'app.open-a-folder-in-files-and-press':
    'Öffnen Sie einen Ordner in Dateien und drücken Sie Dateien hereinholen, oder ziehen Sie sie dorthin. Sie bleiben Byte für Byte, wie sie sind.',
  'app.upload-import-add-drop': 'hochladen importieren hinzufügen ablegen',
  'app.send-a-file-to-somebody': 'jemandem eine Datei schicken',
  'app.download-in-the-files-menu-gives-you':
    'Herunterladen im Menü der Datei gibt Ihnen die Datei selbst. Jedes Programm für ihren Typ öffnet sie.',
  'app.download-export-share-mail-email-take': 'herunterladen exportieren teilen mail senden',
  'app.begin-from-a-template': 'mit einer Vorlage beginnen',
  'app.from-a-template-on-the-desk-lists':
    'Aus einer Vorlage auf dem Schreibtisch zeigt die Vorlagen aller Ihrer Bereiche. Was Sie beginnen, hat noch keinen Namen und einen eigenen Inhalt.',
  'app.form-pattern-letter': 'formular muster brief',
  'app.check-that-my-work-would-be-found': 'prüfen, ob meine Arbeit wiederkäme',
  'app.a-recovery-drill-in-rescue-crashes-a':
    'Eine Probe unter Rettung lässt eine eigene Seite abstürzen und meldet, was zurückkam. Von Ihrer Arbeit wird nichts berührt.',
  'app.test-rehearse-drill-crash-prove': 'test probe absturz beweis üben',
  'app.set-how-files-are-named': 'festlegen, wie Dateien heißen',
  'app.names-has-each-shares-conventions-and-lists':
    'Namen enthält die Konventionen und Listen jedes Bereichs; seine Verwalter ändern sie. Der Prüfstand probiert sie vorher an echten Namen.',
  'app.naming-convention-rule-pattern': 'namen konvention regel muster',
  'app.put-wrong-names-right': 'falsche Namen berichtigen',
  'app.the-audit-of-a-share-lists-the':
    'Die Durchsicht eines Bereichs zeigt die Namen, die der Konvention nicht folgen. Sie berichtigt viele auf einmal, und alles lässt sich rückgängig machen.',
  'app.audit-bulk-many-wrong-correct-fix': 'durchsicht viele falsch berichtigen',
  'app.decide-how-long-versions-are-kept': 'festlegen, wie lange Versionen bleiben',
  'app.retention-has-a-rule-for-each-share':
    'Aufbewahrung hat für jeden Bereich eine Regel und sagt, was sie frei machen würde. Eine Version mit Etikett wird nie entfernt.',
  'app.retention-delete-old-space-storage-days': 'aufbewahrung löschen alt speicher platz tage',
  'app.how-do-i-can-a-an-the':
    'wie kann ich man ein eine einen der die das mein meine von zu ist es im in mit und auf für aus ob',
  'app.this-address-is-not-protected-by-https':
    'Diese Adresse ist nicht durch https geschützt, deshalb kann der Browser ungespeicherte Arbeit nicht auf diesem Computer aufbewahren und Jaula nicht ohne Netz öffnen. Ungespeicherte Arbeit geht weiterhin zum Server. Bitten Sie Ihre Verwaltung um eine https-Adresse.',
  'app.this-browser-keeps-nothing-on-this-computer':
    'Dieser Browser bewahrt auf diesem Computer nichts auf, deshalb ist ungespeicherte Arbeit nur auf dem Server geschützt. Erlauben Sie dieser Seite in den Browser-Einstellungen, Daten zu speichern, und laden Sie sie neu.',
  'app.this-is-a-private-window-the-browser':
    'Dies ist ein privates Fenster: Der Browser vergisst, was auf diesem Computer ist, wenn Sie es schließen. Was der Server hat, bleibt. Arbeiten Sie in einem gewöhnlichen Fenster.',
  'app.this-browser-may-clear-the-unsaved-work':
    'Dieser Browser kann ungespeicherte Arbeit auf diesem Computer löschen, wenn seine Platte voll ist{free, select, true { ({free2} sind dafür frei)} other {}}. {it}{refused, select, true { } other {. }}',
  'app.it-does-not-promise-to-keep-it':
    'Er verspricht noch nicht, sie zu behalten; ein Lesezeichen für diese Seite ändert das oft. Was der Server hat, bleibt.',
  'app.ask-it-to-keep-unsaved-work': 'Den Browser bitten, sie zu behalten',
  'app.whether-unsaved-work-outlives-this-browser-shows':
    'Ob ungespeicherte Arbeit diesen Browser überdauert, zeigt sich, wenn Sie ihn schließen und zurückkommen; die eines privaten Fensters nicht.',
  'app.underlined': 'Unterstrichen',
  'app.struck-through': 'Durchgestrichen',
  'app.heading-of-that-level': 'Überschrift dieser Stufe',
  'app.to-the-next-cell-deeper-in-a': 'Zur nächsten Zelle, tiefer in einer Liste, sonst aus dem Dokument hinaus',
  'app.out-of-the-document-wherever-the-cursor': 'Aus dem Dokument hinaus, wo immer der Cursor steht',
  'app.change-the-cell': 'Die Zelle ändern',
  'app.take-what-was-typed-and-go-down': 'Das Getippte übernehmen und nach unten gehen',
  'app.take-what-was-typed-and-go-right': 'Das Getippte übernehmen und nach rechts gehen',
  'app.leave-the-cell-as-it-was': 'Die Zelle lassen, wie sie war',
  'app.in-a-list-of-files': 'In einer Liste von Dateien',
  'app.choose': 'Auswählen',
  'app.on-the-lifeline': 'Auf der Zeitleiste',
  'app.one-moment-earlier-or-later': 'Einen Moment früher oder später',
  'app.to-the-first-moment-to-now': 'Zum ersten Moment, zu jetzt',
  'app.all-keys': 'Alle Tasten',
  'app.go-to-or-do': 'Ort oder Befehl',
  'app.where-to-what-to-do-or-how': 'Wohin, was tun, oder wie?',
  'app.no-command-is-called-that-try-another':
    'So heißt kein Befehl. Versuchen Sie ein anderes Wort, oder suchen Sie eine Datei unter Suchen.',
  'app.how-do-i': 'Wie kann ich …',
  'app.no-answer-rescue-shows-what-of-it': 'Keine Antwort. Rettung zeigt, was davon geschützt ist.',
  'app.save-all': '{total, plural, one {Speichern} other {Alle {total} speichern}}',
  'app.of-saved': '{done} von {total} gespeichert',
  'app.has-unsaved-changes': 'Hat ungespeicherte Änderungen',
  'app.has-no-name-yet': 'Hat noch keinen Namen',
  'app.nothing-new-to-save': 'Nichts Neues zu speichern',
  'app.nothing-is-open-in-this-browser': 'In diesem Browser ist nichts geöffnet.',
  'app.sign-in-again': 'Noch einmal anmelden',
  'app.copies': 'Kopien',
  'app.desk': 'Schreibtisch',
  'app.files': 'Dateien',
  'app.jaula': '{it} – Jaula',
  'app.go-to': 'Gehe zu',
  'app.find-a-file-2': 'Eine Datei finden',
  'app.new-from': 'Neu aus ‹{templateName}›',
  'app.all-commands': 'Alle Befehle',
  'app.shortcuts-keyboard': 'tastenkürzel tastatur',
  'app.skip-to-the-content': 'Zum Inhalt springen',
  'app.jaula-to-the-desk': 'Jaula, zum Schreibtisch',
  'app.views': 'Ansichten',
  'app.begin-something-new': 'Etwas Neues beginnen',
  'app.enter-your-name-and-your-password': 'Geben Sie Ihren Namen und Ihr Kennwort ein.',
  'app.sign-in': 'Anmelden',
  'app.sign-in-again-to-go-on': 'Melden Sie sich noch einmal an, um weiterzuarbeiten',
  'app.your-session-ended-your-work-stays-open':
    'Ihre Sitzung ist zu Ende. Ihre Arbeit bleibt offen, wie sie ist, und geht zum Server, wenn Sie angemeldet sind.',
  'app.your-work-under-its-right-name-in':
    'Ihre Arbeit unter dem richtigen Namen, am richtigen Ort, und nie weiter weg als einen Schritt zurück.',
  'app.demo-accounts': 'Probekonten',
  'app.the-merrowdale-canal-trust': 'The Merrowdale Canal Trust',
  'app.an-invented-office-to-try-jaula-in':
    'Ein erfundenes Büro, um Jaula auszuprobieren. Wählen Sie, wer Sie sein möchten.',
  'app.browser-on': '{browser} auf {system}',
  'app.close-everything-open': 'Alles schließen, was offen ist',
  'app.list-what-is-open': 'Zeigen, was offen ist',
  'app.n-open': '{n, number} offen',
  'app.n-of-them-not-saved': '{n, plural, one {# davon nicht gespeichert} other {# davon nicht gespeichert}}',
  'app.not-saved': 'Nicht gespeichert',
  'app.shown-now': 'Jetzt zu sehen',
  'app.open-now': 'Jetzt offen',
  'app.next-open-file': 'Nächste offene Datei',
  'app.open-file-before': 'Offene Datei davor',
  'app.close-all-some-not-saved':
    '{all, plural, one {Eine Datei ist offen, mit ungespeicherten Änderungen.} other {# Dateien sind offen, {unsaved, number} mit ungespeicherten Änderungen.}}',
  'app.close-all-nothing-unsaved':
    '{all, plural, one {Die offene Datei schließen?} other {Die # offenen Dateien schließen?}}',
  'app.close-them': 'Schließen',
  'app.save-n-and-close':
    '{all, select, true {{n, plural, one {Speichern und schließen} other {# speichern und schließen}}} other {{n, plural, one {Die eine mit Namen speichern und schließen} other {Die # mit Namen speichern und schließen}}}}',
  'app.other-tabs-stay-open':
    '{n, plural, one {Eine Datei in einem anderen Tab bleibt offen.} other {# Dateien in anderen Tabs bleiben offen.}}',
  'app.take-over-a-drive': 'ein Laufwerk voller Dateien übernehmen',
  'app.files-of-a-share-take-over':
    'In den Dateien hat ein Bereich, den Sie verwalten, Laufwerk übernehmen. Es schlägt Versionen, Namen und Orte vor; nichts kommt herein, bevor Sie zustimmen.',
  'app.drive-import-migrate-old-folder': 'laufwerk import umzug alter ordner festplatte netz viele',
  'app.people': 'Personen',
  'app.enter-with-a-code': 'Mit einem Code eintreten',
  'app.i-have-a-code': 'Ich habe einen Code',
  'app.i-have-a-password': 'Ich habe ein Kennwort',
  'app.a-code-is-used-once': 'Die Verwaltung hat Ihnen einen Code gegeben. Damit setzen Sie Ihr Kennwort, einmal.',
  'app.code': 'Code',
  'app.a-password-of-your-own': 'Ein eigenes Kennwort, mindestens 10 Zeichen',
  'app.set-it-and-sign-in': 'Setzen und anmelden',
  'app.this-is-needed': 'Das wird gebraucht.',
  'app.add-people': 'Personen hinzufügen',
  'app.code-of-your-device': 'Code, den Ihr Gerät zeigt',
  'app.you-came-by-a-link': 'Sie sind über einen Link hier',
  'app.what-you-saved-is-kept-as': 'Was Sie gespeichert haben, bleibt, als von {name}.',
  'app.back-to-the-link': 'Zurück zu dem, was der Link zeigt',
  'app.open-the-link-again': 'Öffnen Sie den Link noch einmal, um weiterzumachen.',
  'app.sign-in-with-an-account': 'Mit einem Konto anmelden',
}
