/** Sentences by which the server refuses. */
export const problem = {
  'problem.too-many-attempts-try-again-in': 'Zu viele Versuche. Versuchen Sie es in {when} noch einmal.',
  'problem.this-is-not-the-code-that-the': 'Das ist nicht der Code, den der Startbefehl ausgegeben hat.',
  'problem.it-is-in-the-terminal-where-jaula': 'Er steht im Terminal, in dem Jaula gestartet wurde.',
  'problem.jaula-has-its-first-administrator-already-sign':
    'Jaula hat schon seine erste Verwaltung. Melden Sie sich an.',
  'problem.this-name-and-password-do-not-belong': 'Dieser Name und dieses Kennwort gehören nicht zusammen.',
  'problem.check-the-name-and-the-password': 'Prüfen Sie den Namen und das Kennwort.',
  'problem.this-is-one-of-the-passwords-that':
    'Das ist eines der Kennwörter, die zuerst geraten werden. Nehmen Sie einige Wörter, die nichts miteinander zu tun haben.',
  'problem.a-password-with-your-own-name-in': 'Ein Kennwort mit Ihrem eigenen Namen ist schnell geraten.',
  'problem.use-more-different-letters': 'Nehmen Sie mehr verschiedene Buchstaben.',
  'problem.this-name-is-not-jaulas': 'Dieser Name ist nicht der von Jaula.',
  'problem.this-request-came-from-another-site': 'Diese Anfrage kam von einer anderen Seite.',
  'problem.this-request-is-not-as-it-should': 'Diese Anfrage ist nicht, wie sie sein soll.',
  'problem.the-server-does-not-answer-right-now': 'Der Server antwortet gerade nicht.',
  'problem.something-went-wrong-here-nothing-was-changed': 'Hier ist etwas schiefgegangen. Nichts wurde geändert.',
  'problem.only-administrators-may-do-this': 'Das darf nur die Verwaltung.',
  'problem.only-administrators-read-the-audit-log': 'Nur die Verwaltung liest das Protokoll.',
  'problem.not-a-byte-differs': 'Kein Byte unterscheidet sich.',
  'problem.what-changed-is-not-known': 'Was sich geändert hat, ist nicht bekannt.',
  'problem.this-file-is-too-large-to-be': 'Diese Datei ist zu groß, um verglichen zu werden.',
  'problem.there-is-nothing-at-this-place-in': 'An dieser Stelle ist in jener Version nichts.',
  'problem.the-versions-in-use-the-that-a':
    'Die Versionen in ‹{name}› belegen die {sayBytes}, die ein Bereich haben darf; deshalb wurde dies dort nicht gespeichert. Ungespeicherte Arbeit geht weiterhin zum Server. Ein Verwalter kann eine Aufbewahrungsregel setzen, oder die Verwaltung kann mehr erlauben.',
  'problem.your-versions-use-the-that-a-person':
    'Ihre Versionen belegen die {sayBytes}, die eine Person haben darf; deshalb wurde dies nicht gespeichert. Ungespeicherte Arbeit geht weiterhin zum Server. Die Verwaltung kann mehr erlauben.',
  'problem.work-closed-without-saving-uses-more-than':
    'Ohne Speichern geschlossene Arbeit belegt mehr als die {storageRoom} MB, die Sie auf dem Server erlauben; deshalb bleibt diese bei Ihrer unterbrochenen Arbeit. Schließen oder speichern Sie einige, oder erlauben Sie in den Einstellungen mehr.',
  'problem.the-address-and-the-draft-in-the': 'Die Adresse und die Arbeit in der Anfrage sind verschieden.',
  'problem.the-computer-that-has-this-work-was':
    'Der Computer mit dieser Arbeit hat sich zuletzt nicht gemeldet und kann nicht gefragt werden.',
  'problem.this-recovery-point-lacks-record-is-the':
    'Diesem Sicherungspunkt fehlt Eintrag {it}; {there} ist der letzte hier.',
  'problem.this-work-is-open-on-now-so':
    'An dieser Arbeit wird jetzt auf {devicename} geschrieben; sie wurde nicht beendet.',
  'problem.this-work-was-finished-already-it-is':
    'Diese Arbeit war schon fertig: Sie ist in einer Version ihrer Datei.',
  'problem.cannot-be-moved-into-itself': '{entryName} kann nicht in sich selbst verschoben werden.',
  'problem.the-folder-it-belongs-in-is-not': 'Den Ordner, in den es gehört, gibt es nicht mehr. Nichts wurde geändert.',
  'problem.the-folder-is-in-another-share': 'Der Ordner ist in einem anderen Bereich.',
  'problem.with-its-folders-would-be-longer-than':
    'Mit seinen Ordnern wäre {moveName} länger als {longestPath} Buchstaben, was viele Computer ablehnen.',
  'problem.this-id-belongs-to-another-act-so': 'Diese Kennung gehört zu einem anderen Vorgang; nichts wurde geändert.',
  'problem.was-brought-back-meanwhile-nothing-was-changed':
    '{entryName} wurde inzwischen {removedat, select, true {entfernt} other {zurückgeholt}}. Nichts wurde geändert.',
  'problem.is-named-by-now-nothing-was-changed': '{from} heißt inzwischen {entryName}. Nichts wurde geändert.',
  'problem.the-ending-tells-other-programs-what-is':
    'Die Endung .{it} sagt anderen Programmen, was {entryName} ist. Sie bleibt.',
  'problem.the-ending-stays': 'Die Endung .{type} bleibt.',
  'problem.was-changed-again-since-so-this-cannot':
    '{toName} wurde seitdem wieder geändert; das lässt sich nicht als Ganzes rückgängig machen. Nichts wurde geändert.',
  'problem.that-version-is-not-of-the-file': 'Jene Version gehört nicht zu der Datei, von der diese kopiert wurde.',
  'problem.its-shares-managers-have-their-reason': 'Die Verwalter des Bereichs haben ihren Grund.',
  'problem.there-is-nothing-to-change': 'Es gibt nichts zu ändern.',
  'problem.a-file-with-this-name-is-here':
    '{kind, select, true {Einen Ordner} other {Eine Datei}} mit diesem Namen gibt es hier schon.',
  'problem.folders-can-be-at-most-deep-in': 'Ordner können höchstens {deepestFolder} tief ineinander liegen.',
  'problem.the-database-does-not-answer': 'Die Datenbank antwortet nicht.',
  'problem.the-servers-disk-has-mb-left-what':
    'Die Platte des Servers hat noch {floor} MB: Lesen geht weiter, Speichern vielleicht nicht.',
  'problem.the-number-is-used-already-the-next':
    'Die Nummer {number} ist schon vergeben. Die nächste freie ist {next}.',
  'problem.line': 'Zeile {it}: {reason}',
  'problem.there-is-a-list-named-here-already': 'Eine Liste namens {name} gibt es hier schon.',
  'problem.this-name-is-used-already': 'Dieser Name ist schon vergeben.',
  'problem.the-convention-uses-this-list': 'Die Konvention ‹{conventionName}› verwendet diese Liste: {reason}',
  'problem.somebody-changed-this-list-meanwhile-look-at':
    'Jemand hat diese Liste inzwischen geändert. Sehen Sie sie noch einmal an; nichts wurde geändert.',
  'problem.this-place-has-a-convention-of-its': 'Dieser Ort hat schon eine eigene Konvention. Ändern Sie jene.',
  'problem.changed-this-convention-meanwhile-look-at-it':
    '{author} hat diese Konvention inzwischen geändert. Sehen Sie sie noch einmal an; nichts wurde geändert.',
  'problem.this-address-is-not-written-as-addresses': 'Diese Adresse ist nicht geschrieben, wie Adressen es sind.',
  'problem.the-pages-are-not-built-run-npm': 'Die Seiten sind nicht gebaut. Führen Sie npm run build aus.',
  'problem.say-for-what-it-is-set-a':
    'Sagen Sie, wofür es gilt: eine Art, ein Bereich oder ein Ordner oder eine Datei.',
  'problem.the-longest-interval-allowed-cannot-be-shorter':
    'Der längste erlaubte Abstand kann nicht kürzer sein als der kürzeste.',
  'problem.this-is-not-here-any-more-or': 'Das gibt es hier nicht mehr, oder Sie dürfen es nicht sehen.',
  'problem.this-request-is-not-json-in-utf': 'Diese Anfrage ist kein JSON in UTF-8.',
  'problem.a-request-like-this-is-sent-without': 'Eine solche Anfrage wird ohne Content-Encoding geschickt.',
  'problem.this-request-is-larger-than-kb': 'Diese Anfrage ist größer als {ceil} KB.',
  'problem.the-request-took-too-long': 'Die Anfrage dauerte zu lange.',
  'problem.this-request-did-not-arrive-whole': 'Diese Anfrage kam nicht vollständig an.',
  'problem.this-request-is-nested-too-deeply': 'Diese Anfrage ist zu tief verschachtelt.',
  'problem.this-request-is-not-json': 'Diese Anfrage ist kein JSON.',
  'problem.you-are-signed-out-sign-in-to':
    'Sie sind abgemeldet. Melden Sie sich an, um weiterzuarbeiten; Ihre Arbeit ist unberührt.',
  'problem.this-text-has-a-symbol-that-cannot': 'Dieser Text hat ein Zeichen, das nicht aufbewahrt werden kann.',
  'problem.something-in-this-request-is-not-as': 'Etwas an dieser Anfrage ist nicht, wie es sein soll.',
  'problem.the-file-did-not-arrive-whole': 'Die Datei kam nicht vollständig an.',
  'problem.the-sender-fell-silent': 'Der Absender verstummte.',
  'problem.files-up-to-mb-can-be-kept': 'Hier können Dateien bis {floor} MB aufbewahrt werden.',
  'problem.a-file-is-sent-as-it-is': 'Eine Datei wird geschickt, wie sie ist, ohne Content-Encoding.',
  'problem.too-many-large-files-arrive-at-this':
    'Im Moment kommen zu viele große Dateien an. Versuchen Sie es in einigen Minuten noch einmal.',
  'problem.the-servers-disk-is-full-so-the':
    'Die Platte des Servers ist voll; die Datei wurde nicht gespeichert. Versuchen Sie es später noch einmal.',
  'problem.put-this-on-hold-and-is-the': '{thereName} hat dies gesperrt und kann es ändern.',
  'problem.say-what-the-rule-would-be': 'Sagen Sie, wie die Regel wäre.',
  'problem.see-this-share': 'diesen Bereich sehen',
  'problem.change-files-in-this-share': 'Dateien in diesem Bereich ändern',
  'problem.manage-this-share': 'diesen Bereich verwalten',
  'problem.you-may-not-ask-one-of-its': 'Sie dürfen nicht {it}. Fragen Sie jemanden, der ihn verwaltet.',
  'problem.work-can-be-begun-from-documents-and':
    'Arbeit lässt sich mit Dokumenten und Tabellen beginnen, die Jaula bearbeitet, nicht mit Dateien dieser Art: {label}.',
  'problem.there-is-a-template-named-in-this': 'Eine Vorlage namens {name} gibt es in diesem Bereich schon.',
  'problem.the-file-changed-on-its-way-here':
    'Die Datei hat sich auf dem Weg verändert und wurde nicht gespeichert. Speichern Sie noch einmal.',
  'problem.you-may-not-change-files-in-this':
    'Sie dürfen in diesem Bereich keine Dateien ändern. Fragen Sie jemanden, der ihn verwaltet.',
  'problem.saved-version-meanwhile': '{authorName} hat inzwischen Version {number} gespeichert.',
  'problem.this-key-belongs-to-another-request-so':
    'Dieser Schlüssel gehört zu einer anderen Anfrage; nichts wurde gespeichert. Speichern Sie noch einmal.',
  'problem.this-version-is-damaged-on-the-server':
    'Diese Version ist auf dem Server beschädigt und kann nicht gelesen werden. Alle anderen und Ihre Arbeit sind unberührt.',
  'problem.on-hold-cannot-be-removed': '{name} ist gesperrt und kann nicht entfernt werden. Nichts wurde geändert.',
  'problem.removed-too-long-ago': '{name} wurde vor mehr als {days} Tagen entfernt.',
  'problem.not-a-list-of-values': '‹{name}› ist keine Liste mit Werten.',
  'problem.cannot-go-on-as': '{name} kann nicht als Datei vom Typ .{type} weitergehen.',
  'problem.has-no-sheets': '{name} hat keine Blätter, aus denen Listen werden könnten.',
  'problem.no-list-by-its-name': '{name} ist kein Name einer Liste: Er endet auf .csv oder .tsv.',
  'problem.no-such-sheet': 'In {name} gibt es kein Blatt ‹{sheet}›. Es wurde nichts angelegt.',
  'problem.no-such-sheet-any-more': 'Das Blatt ‹{sheet}› gibt es nicht mehr.',
  'problem.list-is-removed': 'Die Liste wurde entfernt.',
  'problem.list-is-none-any-more': 'Die Datei hat jetzt einen anderen Typ und ist keine Liste mehr.',
  'problem.list-takes-too-long': 'Die Tabelle ist zu groß, um ihre Listen zu schreiben.',
  'problem.share-does-not-take':
    '{share} nimmt {kind, select, document {Dokumente} other {Tabellen}} nur als {types}, darum wird {name} dort nicht gespeichert.',
  'problem.list-not-read': 'Die Tabelle konnte nicht für ihre Liste gelesen werden.',
  'problem.this-code-is-not-of-this-name': 'Dieser Name und dieser Code gehören nicht zusammen.',
  'problem.this-code-has-ended-ask-for-another':
    'Dieser Code gilt nicht mehr. Bitten Sie die Verwaltung um einen neuen.',
  'problem.nobody-would-manage': 'Niemand würde {share} mehr verwalten. Geben Sie zuerst jemand anderem diese Rolle.',
  'problem.nobody-would-administer':
    'Jaula hätte niemanden mehr in der Verwaltung. Machen Sie zuerst jemand anderen dazu.',
  'problem.your-own-account-is-closed-by-another':
    'Ihr eigenes Konto kann nur jemand anderes aus der Verwaltung schließen.',
  'problem.this-account-is-closed': 'Dieses Konto ist geschlossen.',
  'problem.somebody-signs-in-with': 'Mit {handle} meldet sich schon jemand an.',
  'problem.a-group-is-called-that': 'Eine Gruppe heißt schon {name}.',
  'problem.a-share-is-called-that': 'Ein Bereich heißt schon {name}.',
  'problem.a-group-cannot-lie-in-itself':
    'Eine Gruppe kann nicht zu sich selbst gehören, auch nicht über eine andere Gruppe.',
  'problem.this-day-is-over': 'Dieser Tag ist vorbei. Wählen Sie einen kommenden.',
  'problem.a-share-has-rights-of-its-own': 'Ein Bereich hat immer eigene Rechte.',
  'problem.jaula-has-no-key':
    'Dieses Jaula hat keinen Schlüssel, um ein Geheimnis zu verschließen. Wer es betreibt, setzt JAULA_KEY_FILE.',
  'problem.there-is-a-second-factor': 'Es gibt schon einen zweiten Faktor. Beenden Sie ihn zuerst.',
  'problem.this-code-is-not-right': 'Dieser Code stimmt nicht oder wurde schon benutzt. Warten Sie auf den nächsten.',
  'problem.enter-the-second-code': 'Geben Sie den Code ein, den Ihr Gerät zeigt, oder einen Ihrer Ersatzcodes.',
  'problem.you-may-do-that-already': 'Das dürfen Sie schon.',
  'problem.so-many-are-watched': 'Sie beobachten schon {most} Stellen. Beenden Sie zuerst eine davon.',
  'problem.a-link-leads-to-a-folder-or-file':
    'Ein Link führt zu einem Ordner oder einer Datei, nicht zu einem ganzen Bereich.',
  'problem.an-earlier-version-is-only-looked-at':
    'Eine bestimmte Version wird nur angesehen: Was geschrieben wird, ist die nächste.',
  'problem.this-is-not-for-guests': 'Das ist für Menschen mit einem Konto.',
  'problem.mail-server-away': 'Der Mailserver {host} antwortet nicht ({code}).',
  'problem.mail-server-said': 'Der Mailserver sagte: {said}',
  'problem.mail-other-key': 'Es wurde mit einem Schlüssel verschlossen, den dieses Jaula nicht mehr hat.',
  'problem.too-many-messages':
    'Für einen Menschen gehen in einer Stunde höchstens {most} Nachrichten hinaus. Versuchen Sie es später noch einmal.',
  'problem.this-message-waits-no-more': 'Diese Nachricht wartet nicht mehr.',
  'problem.conversion-takes-too-long': 'Sie in diesem Typ zu schreiben dauert zu lange oder braucht zu viel Speicher.',
  'problem.no-mail-is-set-up': 'Hier ist keine E-Mail eingerichtet. Wer Jaula betreibt, kann es tun (JAULA_MAIL).',
  'problem.cannot-be-sent-as': 'Diese Datei lässt sich nicht als .{type} senden.',
  'problem.cannot-be-converted': 'Sie lässt sich nicht in diesem Typ schreiben. {why}',
  'problem.no-mail-reaches': '{name} hat hier keine E-Mail-Adresse.',
  'problem.too-large-for-mail':
    'Das sind {size, number} Bytes; mit einer Nachricht gehen {most, number}. Senden Sie stattdessen einen Link.',
  'problem.this-key-is-used': 'Diese Anfrage wurde für etwas anderes benutzt.',
  'problem.no-document': 'Das ist kein Dokument.',
  'problem.pages-take-too-long': 'Ihre Seiten zu setzen dauert zu lange.',
  'problem.cannot-be-set': 'Es lässt sich nicht auf Seiten setzen. {why}',
  'problem.mail-version-not-kept': 'Die Version wird nicht mehr aufbewahrt.',
  'problem.no-sheets': 'Das sind keine Tabellenblätter.',
  'problem.too-many-pages':
    'Es wären {pages, number} Seiten, und höchstens {most, number} lassen sich auf einmal setzen. Wählen Sie weniger Blätter oder Zeilen.',
  'problem.nothing-to-print': 'Es steht nichts darauf, was auf eine Seite kommen könnte.',
  'problem.printer-does-not-answer': 'Der Drucker antwortet nicht.',
  'problem.no-printer-there': 'Was dort antwortet, ist kein Drucker{status, plural, =0 {} =200 {} other { (HTTP #)}}.',
  'problem.printer-takes-nothing': 'Der Drucker nimmt im Moment nichts an.',
  'problem.printer-reads-no-pdf': 'Dieser Drucker kann kein PDF drucken.',
  'problem.printer-refuses': 'Der Drucker hat es abgelehnt{quoted, select, true {: „{said}“} other {}}.',
  'problem.no-pdf': 'Das ist kein PDF.',
  'problem.too-many-print-jobs':
    'Es warten schon {most, number} Ihrer Druckaufträge. Warten Sie, bis einige gedruckt sind.',
  'problem.this-print-is-over': 'Es wird nicht mehr gedruckt.',
  'problem.cannot-cancel': 'Es lässt sich jetzt nicht abbrechen. {why}',
  'problem.this-print-is-not-kept': 'Seine Seiten sind nicht mehr da. Drucken Sie noch einmal aus der Datei.',
  'problem.printer-knows-it-no-more': 'Der Drucker weiß nichts mehr davon. Sehen Sie nach, was herausgekommen ist.',
  'problem.printer-gave-it-up': 'Der Drucker hat aufgegeben.',
  'problem.no-printer-address': 'Die Adresse eines Druckers beginnt mit ipp:// oder ipps://.',
  'problem.printer-name-taken': 'Ein anderer Drucker heißt {name}.',
  'problem.too-many-printers': 'Es sind schon {most, number} Drucker, mehr gehen nicht.',
  'problem.too-many-cells-to-set':
    'Es wären {cells, number} Zellen zu setzen, und höchstens {most, number} gehen auf einmal. Wählen Sie nur das Ausgewählte oder eines der Blätter.',
  'problem.too-long-to-set':
    'Es ist zu lang, um auf einmal gesetzt zu werden: höchstens {most, number} Zeichen gehen. Wählen Sie nur das Ausgewählte.',
  'problem.has-no-pages': '{name} hat keine Seiten, aus denen ein PDF werden könnte.',
  'problem.no-pdf-by-its-name': '{name} ist kein Name eines PDF: Er endet auf .pdf.',
  'problem.pdf-is-removed': 'Das PDF wurde entfernt.',
  'problem.pdf-is-none-any-more': 'Die Datei hat jetzt einen anderen Typ und ist kein PDF mehr.',
  'problem.pdf-not-written': 'Das PDF konnte nicht geschrieben werden.',
  'problem.printer-asked': 'Er wird gerade nach seinem Zustand gefragt.',
}
