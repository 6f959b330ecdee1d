/** Sentences of files that are read: what is not kept. */
export const formats = {
  'formats.footnotes': '{n, plural, one {# Fußnote} other {# Fußnoten}}',
  'formats.endnotes': '{n, plural, one {# Endnote} other {# Endnoten}}',
  'formats.comments': '{n, plural, one {# Kommentar} other {# Kommentare}}',
  'formats.comment-ranges':
    '{n, plural, one {auf welche Worte sich # Kommentar bezieht} other {auf welche Worte sich # Kommentare beziehen}}',
  'formats.charts': '{n, plural, one {# Diagramm} other {# Diagramme}}',
  'formats.images': '{n, plural, one {# Bild} other {# Bilder}}',
  'formats.equations': '{n, plural, one {# Formel} other {# Formeln}}',
  'formats.macros': '{n, plural, one {# Makro} other {# Makros}}',
  'formats.bookmarks': '{n, plural, one {# Textmarke} other {# Textmarken}}',
  'formats.drawn-shapes': '{n, plural, one {# gezeichnete Form} other {# gezeichnete Formen}}',
  'formats.drawn-shapes-and-text-boxes':
    '{n, plural, one {# gezeichnete Form oder Textfeld} other {# gezeichnete Formen und Textfelder}}',
  'formats.embedded-objects': '{n, plural, one {# eingebettetes Objekt} other {# eingebettete Objekte}}',
  'formats.symbols-of-a-special-font':
    '{n, plural, one {# Zeichen einer Sonderschrift} other {# Zeichen einer Sonderschrift}}',
  'formats.ruby-text': '{n, plural, one {# Ruby-Text} other {# Ruby-Texte}}',
  'formats.embedded-files': '{n, plural, one {# eingebettete Datei} other {# eingebettete Dateien}}',
  'formats.positioned-tabs': '{n, plural, one {# positionierter Tabulator} other {# positionierte Tabulatoren}}',
  'formats.page-number-fields': '{n, plural, one {# Seitenzahlfeld} other {# Seitenzahlfelder}}',
  'formats.linked-files': '{n, plural, one {# verknüpfte Datei} other {# verknüpfte Dateien}}',
  'formats.named-styles':
    '{n, plural, one {# benannte Formatvorlage (der Text bleibt, im Aussehen von Jaula)} other {# benannte Formatvorlagen (der Text bleibt, im Aussehen von Jaula)}}',
  'formats.page-headers': '{n, plural, one {# Kopfzeile} other {# Kopfzeilen}}',
  'formats.page-footers': '{n, plural, one {# Fußzeile} other {# Fußzeilen}}',
  'formats.tables-inside-tables':
    '{n, plural, one {# Tabelle in einer Tabelle (der Text bleibt)} other {# Tabellen in Tabellen (der Text bleibt)}}',
  'formats.tracked-removals': '{n, plural, one {# nachverfolgte Löschung} other {# nachverfolgte Löschungen}}',
  'formats.sections-with-a-page-layout-of-their-own':
    '{n, plural, one {# Abschnitt mit eigener Seite} other {# Abschnitte mit eigener Seite}}',
  'formats.page-breaks-inside-tables':
    '{n, plural, one {# Seitenumbruch in einer Tabelle} other {# Seitenumbrüche in Tabellen}}',
  'formats.tracked-insertions':
    '{n, plural, one {# nachverfolgte Einfügung (der Text bleibt)} other {# nachverfolgte Einfügungen (der Text bleibt)}}',
  'formats.fields':
    '{n, plural, one {# Feld (sein letztes Ergebnis bleibt)} other {# Felder (ihr letztes Ergebnis bleibt)}}',
  'formats.column-breaks': '{n, plural, one {# Spaltenumbruch} other {# Spaltenumbrüche}}',
  'formats.images-of-a-type-browsers-cannot-show':
    '{n, plural, one {# Bild eines Typs, den Browser nicht zeigen} other {# Bilder eines Typs, den Browser nicht zeigen}}',
  'formats.images-with-a-position-of-their-own':
    '{n, plural, one {# Bild mit eigener Lage (es bleibt in der Zeile)} other {# Bilder mit eigener Lage (sie bleiben in der Zeile)}}',
  'formats.list-numbers-of-their-own':
    '{n, plural, one {# Liste mit eigener Schreibweise der Zahlen (gezeigt werden einfache)} other {# Listen mit eigener Schreibweise der Zahlen (gezeigt werden einfache)}}',
  'formats.defined-names': '{n, plural, one {# definierter Name} other {# definierte Namen}}',
  'formats.workbook-protection': '{n, plural, one {# Mappenschutz} other {# Mappenschutz}}',
  'formats.links-to-other-files':
    '{n, plural, one {# Verweis auf eine andere Datei} other {# Verweise auf andere Dateien}}',
  'formats.sheets-that-are-not-of-cells': '{n, plural, one {# Blatt ohne Zellen} other {# Blätter ohne Zellen}}',
  'formats.hidden-sheets': '{n, plural, one {# verborgenes Blatt} other {# verborgene Blätter}}',
  'formats.comment-threads': '{n, plural, one {# Kommentarfolge} other {# Kommentarfolgen}}',
  'formats.pivot-tables': '{n, plural, one {# Pivot-Tabelle} other {# Pivot-Tabellen}}',
  'formats.tables-with-a-name-of-their-own':
    '{n, plural, one {# Tabelle mit eigenem Namen} other {# Tabellen mit eigenem Namen}}',
  'formats.form-controls': '{n, plural, one {# Formularfeld} other {# Formularfelder}}',
  'formats.input-rules': '{n, plural, one {# Eingaberegel} other {# Eingaberegeln}}',
  'formats.links-in-cells': '{n, plural, one {# Link in einer Zelle} other {# Links in Zellen}}',
  'formats.filters': '{n, plural, one {# Filter} other {# Filter}}',
  'formats.sheet-protection': '{n, plural, one {# Blattschutz} other {# Blattschutz}}',
  'formats.merged-cells':
    '{n, plural, one {# verbundene Zelle (der Inhalt bleibt in der ersten)} other {# verbundene Zellen (der Inhalt bleibt in der ersten)}}',
  'formats.page-breaks': '{n, plural, one {# Seitenumbruch} other {# Seitenumbrüche}}',
  'formats.page-headers-and-footers': '{n, plural, one {# Kopf- oder Fußzeile} other {# Kopf- und Fußzeilen}}',
  'formats.formats-inside-a-cells-text':
    '{n, plural, one {# Format im Text einer Zelle} other {# Formate im Text von Zellen}}',
  'formats.hidden-rows-and-columns':
    '{n, plural, one {# verborgene Zeile oder Spalte} other {# verborgene Zeilen und Spalten}}',
  'formats.row-heights': '{n, plural, one {# Zeilenhöhe} other {# Zeilenhöhen}}',
  'formats.conditional-formats': '{n, plural, one {# bedingtes Format} other {# bedingte Formate}}',
  'formats.array-formulas': '{n, plural, one {# Matrixformel} other {# Matrixformeln}}',
  'formats.data-tables': '{n, plural, one {# Datentabelle} other {# Datentabellen}}',
  'formats.borders': '{n, plural, one {# Rahmen} other {# Rahmen}}',
  'formats.sections': '{n, plural, one {# Abschnitt} other {# Abschnitte}}',
  'formats.other': '{n, plural, other {# {feature}}}',
  'formats.near': '{what} (bei {where})',
  'formats.this-file-is-damaged-it-has-no':
    'Diese Datei ist beschädigt: Sie hat keinen Text. Vielleicht ist sie von einem anderen Typ, als ihr Name sagt.',
  'formats.this-file-is-damaged-its-part-is': 'Diese Datei ist beschädigt: Ihr Teil {part} ist zu tief verschachtelt.',
  'formats.this-file-is-damaged-its-part-is-2':
    'Diese Datei ist beschädigt: Ihr Teil {part} ist nicht wohlgeformt ({message}).',
  'formats.this-file-is-damaged-its-part-is-3': 'Diese Datei ist beschädigt: Ihr Teil {part} ist leer.',
  'formats.this-file-is-protected-by-a-password':
    'Diese Datei ist durch ein Kennwort geschützt; Jaula kann sie noch nicht öffnen. Sie bleibt, wie sie ist.',
  'formats.this-file-would-expand-to-more-than':
    'Diese Datei würde sich auf mehr als {it} MB entfalten und wird nicht geöffnet.',
  'formats.not-in-it': 'Nicht darin, aber in der Datei geblieben, aus der es kommt: {limits}.',
  'formats.would-lose': 'Der nächsten Version würde fehlen: {limits}. Öffnen Sie die Datei und speichern Sie dort.',
  'formats.a-part-of-this-file-would-expand':
    'Ein Teil dieser Datei würde sich auf das Hundertfache entfalten; sie wird nicht geöffnet.',
  'formats.this-file-is-damaged': 'Diese Datei ist beschädigt: {what}.',
  'formats.the-directory-at-its-end-is-missing': 'das Verzeichnis am Ende fehlt, vielleicht wurde sie abgeschnitten',
  'formats.it-has-too-many-parts': 'sie hat zu viele Teile',
  'formats.its-directory-cannot-be-read': 'ihr Verzeichnis ist nicht lesbar',
  'formats.this-file-is-protected-by-a-password-2':
    'Diese Datei ist durch ein Kennwort geschützt; Jaula kann sie nicht öffnen.',
  'formats.this-file-is-damaged-its-part-cannot': 'Diese Datei ist beschädigt: Ihr Teil {entryName} ist nicht lesbar.',
  'formats.this-file-is-packed-in-a-way':
    'Diese Datei ist auf eine Weise gepackt ({method}), die Jaula nicht lesen kann.',
  'formats.this-file-is-damaged-it-has-no-2':
    'Diese Datei ist beschädigt: Sie hat keine Arbeitsmappe. Vielleicht ist sie von einem anderen Typ, als ihr Name sagt.',
  'formats.this-file-is-damaged-its-sheet-is': 'Diese Datei ist beschädigt: Ihr Blatt {name} fehlt.',
  'formats.this-file-is-damaged-it-has-no-3': 'Diese Datei ist beschädigt: Sie hat kein Blatt.',
  'formats.this-file-is-damaged-its-sheet-is-2':
    'Diese Datei ist beschädigt: Ihr Blatt {name} ist nicht wohlgeformt ({message}).',
  'formats.this-file-is-damaged-its-sheet-has': 'Diese Datei ist beschädigt: Ihr Blatt {name} hat eine Zelle bei {r}.',
  'formats.this-file-has-more-than-cells-which': 'Diese Datei hat mehr als {mostCells} Zellen, mehr als Jaula öffnet.',
  'formats.this-file-is-damaged-its-sheet-uses':
    'Diese Datei ist beschädigt: Ihr Blatt {name} verwendet einen Text, den es nicht gibt.',
  'formats.this-file-is-damaged-its-sheet-has-2':
    'Diese Datei ist beschädigt: Ihr Blatt {name} hat ‹{value}›, wo eine Zahl sein sollte.',
  'formats.its-cells-are-too-far-apart':
    'Diese Datei ist beschädigt: Die Zellen ihres Blatts ‹{name}› stehen weiter auseinander, als sich öffnen lässt.',
  'formats.its-formulas-are-too-long': 'Die Formeln des Blatts ‹{name}› sind zusammen länger, als sich öffnen lässt.',
  'formats.its-table-has-too-many-columns': 'Diese Datei hat eine Tabelle mit mehr Spalten, als sich öffnen lässt.',
  'formats.it-has-too-many-paragraphs': 'Diese Datei hat mehr als {most} Absätze, mehr als sich öffnen lässt.',
  'formats.type-docx': 'Dokument (.docx)',
  'formats.type-docm': 'Dokument mit Makros (.docm)',
  'formats.type-dotx': 'Dokumentvorlage (.dotx)',
  'formats.type-dotm': 'Dokumentvorlage mit Makros (.dotm)',
  'formats.type-xlsm': 'Tabelle mit Makros (.xlsm)',
  'formats.type-xltx': 'Tabellenvorlage (.xltx)',
  'formats.type-xltm': 'Tabellenvorlage mit Makros (.xltm)',
  'formats.type-xlsx': 'Tabelle (.xlsx)',
  'formats.type-odt': 'OpenDocument-Text (.odt)',
  'formats.type-ods': 'OpenDocument-Tabelle (.ods)',
  'formats.type-csv': 'Werteliste (.csv)',
  'formats.type-txt': 'Reiner Text (.txt)',
  'formats.type-pdf': 'Portables Dokument (.pdf)',
  'formats.type-image': 'Bild (.{type})',
  'formats.type-other': '{type, select, none {Datei} other {Datei (.{type})}}',
  'formats.csv-no-text': 'Diese Datei ist kein Text: Sie kann nicht als Zeilen von Werten gelesen werden.',
  'formats.csv-too-many-rows': 'Diese Datei hat mehr Zeilen, als ein Blatt haben kann ({rows, number}).',
  'formats.csv-too-many-columns': 'Diese Datei hat mehr Spalten, als ein Blatt haben kann ({columns, number}).',
  'formats.other-sheets': '{n, plural, one {# weiteres Blatt} other {# weitere Blätter}}',
  'formats.formulas': '{n, plural, one {# Formel (ihr Ergebnis bleibt)} other {# Formeln (ihre Ergebnisse bleiben)}}',
  'formats.looks-of-cells': '{n, plural, one {das Aussehen von # Zelle} other {das Aussehen von # Zellen}}',
  'formats.number-formats': '{n, plural, one {# Zahlenformat} other {# Zahlenformate}}',
  'formats.read-as-something-else':
    '{n, plural, one {# Wert, der als etwas anderes gelesen wird} other {# Werte, die als etwas anderes gelesen werden}}',
  'formats.type-tsv': 'Werte mit Tabulatoren (.tsv)',
  'formats.formulas-without-result':
    '{n, plural, one {# Formel, deren Ergebnis nicht bekannt ist (nichts davon bleibt)} other {# Formeln, deren Ergebnisse nicht bekannt sind (nichts davon bleibt)}}',
  'formats.looks-of-text': '{n, plural, one {# Aussehen von Text} other {# Aussehen von Text}}',
  'formats.looks-of-paragraphs': '{n, plural, one {# Aussehen eines Absatzes} other {# Aussehen von Absätzen}}',
  'formats.links-of-text': '{n, plural, one {# Verweis (sein Text bleibt)} other {# Verweise (ihr Text bleibt)}}',
  'formats.headings': '{n, plural, one {# Überschrift (ihr Text bleibt)} other {# Überschriften (ihr Text bleibt)}}',
  'formats.lists': '{n, plural, one {# Aufzählung (ihr Text bleibt)} other {# Aufzählungen (ihr Text bleibt)}}',
  'formats.quotes': '{n, plural, one {# Zitat (sein Text bleibt)} other {# Zitate (ihr Text bleibt)}}',
  'formats.tables': '{n, plural, one {# Tabelle (ihr Text bleibt)} other {# Tabellen (ihr Text bleibt)}}',
  'formats.no-text': 'Diese Datei ist kein Text: Sie kann nicht als Zeilen gelesen werden.',
  'formats.too-many-lines': 'Dieser Text hat mehr Zeilen, als hier bearbeitet werden können ({n, number}).',
  'formats.breaks-inside-paragraphs':
    '{n, plural, one {# Umbruch in einem Absatz (er wird eine Zeile)} other {# Umbrüche in Absätzen (sie werden Zeilen)}}',
  'formats.page-set-up': 'Größe und Ränder seiner Seite',
  'formats.text-too-long': 'Dieser Text ist länger, als hier bearbeitet werden kann ({n, number} Zeichen).',
  'formats.this-file-is-damaged-its-parts': 'Diese Datei ist beschädigt: Ihre Teile sind nicht zu finden.',
  'formats.this-file-is-damaged-its-texts': 'Diese Datei ist beschädigt: Ihre Texte sind nicht lesbar.',
  'formats.this-file-is-damaged-its-records': 'Diese Datei ist beschädigt: Ein Datensatz endet zu früh.',
  'formats.older-than-can-be-read':
    'Diese Datei ist von einer älteren Art (von vor 1997), als Jaula liest. Sie bleibt, wie sie ist.',
  'formats.formulas-that-cannot-be-read':
    '{n, plural, one {# Formel, die hier nicht lesbar ist (ihr Ergebnis bleibt)} other {# Formeln, die hier nicht lesbar sind (ihre Ergebnisse bleiben)}}',
  'formats.beyond-the-type':
    '{n, plural, one {# Zelle außerhalb dessen, was der Typ fasst} other {# Zellen außerhalb dessen, was der Typ fasst}}',
  'formats.borders-and-fonts':
    '{n, plural, one {Rahmen oder Schrift # Zelle} other {Rahmen oder Schrift von # Zellen}}',
  'formats.type-xls': 'Tabelle eines älteren Programms (.xls)',
  'formats.type-doc': 'Dokument eines älteren Programms (.doc)',
  'formats.page-too-deep':
    'Diese Seite ist tiefer verschachtelt oder hat mehr Teile, als Jaula öffnet. Sie bleibt, wie sie ist.',
  'formats.scripts': '{n, plural, one {# Skript} other {# Skripte}}',
  'formats.style-sheets': '{n, plural, one {# Stilvorlage} other {# Stilvorlagen}}',
  'formats.hidden-parts': '{n, plural, one {# verborgener Teil} other {# verborgene Teile}}',
  'formats.lines-across': '{n, plural, one {# Linie quer über die Seite} other {# Linien quer über die Seite}}',
  'formats.images-from-elsewhere':
    '{n, plural, one {# Bild von anderswo (es wird nicht geholt)} other {# Bilder von anderswo (sie werden nicht geholt)}}',
  'formats.said-in-another-way':
    '{n, plural, one {# Ding, das eine Seite anders sagt} other {# Dinge, die eine Seite anders sagt}}',
  'formats.type-html': 'Webseite (.html)',
  'formats.code': '{n, plural, one {# Stück Code (sein Text bleibt)} other {# Stücke Code (ihr Text bleibt)}}',
  'formats.such-a-text-says':
    '{n, plural, one {# Ding, das ein solcher Text anders sagt} other {# Dinge, die ein solcher Text anders sagt}}',
  'formats.type-md': 'Text in Markdown (.md)',
  'formats.paragraphs-of-an-item':
    '{n, plural, one {# weiterer Absatz eines Listenpunkts (er wird zur Zeile)} other {# Absätze von Listenpunkten (sie werden zu Zeilen)}}',
  'formats.groups-of-lines':
    '{n, plural, one {# Gruppe von Zeilen oder Spalten} other {# Gruppen von Zeilen oder Spalten}}',
  'formats.type-rtf': 'Formatierter Text (.rtf)',
  'formats.text-boxes': '{n, plural, one {# Textfeld (sein Text bleibt)} other {# Textfelder (ihr Text bleibt)}}',
  'formats.properties':
    '{n, plural, one {# Eigenschaft der Datei (Titel, Verfasser, Thema, Stichwörter)} other {# Eigenschaften der Datei (Titel, Verfasser, Thema, Stichwörter)}}',
  'formats.letters-not-encoded': 'Buchstaben, die diese Kodierung nicht hat (die Datei ist UTF-8, mit Kennung)',
  'formats.page-without-tables': 'Auf dieser Seite ist keine Tabelle.',
  'formats.type-ott': 'Textvorlage des offenen Standards (.ott)',
  'formats.type-ots': 'Tabellenvorlage des offenen Standards (.ots)',
  'formats.type-dot': 'Dokumentvorlage eines älteren Programms (.dot)',
  'formats.type-xlt': 'Tabellenvorlage eines älteren Programms (.xlt)',
}
