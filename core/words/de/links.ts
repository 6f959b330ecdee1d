/** Was die Seite eines Links Menschen ohne Konto sagt. */
export const links = {
  'links.ended': 'Dieser Link wurde beendet. Bitten Sie {by} um einen anderen.',
  'links.day-over': 'Dieser Link endete am {day, date, long}. Bitten Sie {by} um einen anderen.',
  'links.used-up':
    '{uses, plural, one {Dieser Link war einmal zu öffnen und wurde geöffnet.} other {Dieser Link war #-mal zu öffnen und wurde so oft geöffnet.}} Bitten Sie {by} um einen anderen.',
  'links.not-known': 'Dieser Link ist hier nicht bekannt. Vielleicht fehlt ein Teil seiner Adresse.',
  'links.has-a-password': 'Dieser Link hat ein Kennwort.',
  'links.not-its-password': 'Das ist nicht das Kennwort dieses Links.',
  'links.version-gone':
    'Die Fassung, die dieser Link zeigt, wird nicht mehr aufbewahrt. Bitten Sie {by} um einen anderen.',
  'links.leads-nowhere': 'Das, wohin dieser Link führt, ist nicht mehr da. Fragen Sie {by}, wo es ist.',
  'links.looking-only': 'Dieser Link ist nur zum Ansehen.',
  'links.one-moment': 'Einen Moment …',
  'links.password': 'Kennwort dieses Links',
  'links.open': 'Öffnen',
  'links.from': '{lasts, select, true {Von {by}, bis {day, date, long}} other {Von {by}}}',
  'links.saved': 'Gespeichert am {day, date, long} · {size}',
  'links.download': 'Herunterladen',
  'links.not-shown': 'Dateien dieses Typs werden hier nicht angezeigt.',
  'links.download-to-see': 'Laden Sie sie herunter, um sie zu sehen.',
  'links.ask-for-it': 'Dieser Link ist nur zum Ansehen. Bitten Sie {by} um die Datei.',
  'links.cut': 'Von {sheets} werden die ersten {rows, number} Zeilen angezeigt.',
  'links.nothing-in-it': 'In diesem Ordner liegt nichts.',
  'links.first-of': 'Die ersten {shown, number} von {total, number} werden angezeigt.',
  'links.too-often':
    'Zu viele Versuche. Versuchen Sie es in {seconds, plural, one {# Sekunde} other {# Sekunden}} noch einmal.',
  'links.server-away': 'Der Server antwortet gerade nicht.',
  'links.try-again': 'Noch einmal versuchen',
  'links.the-way-here': 'Der Weg hierher',
  'links.folder': 'Ordner',
  'links.what-it-shows': 'Was {name} zeigt',
  'links.signed-in-already':
    'Sie sind hier als {name} angemeldet. Öffnen Sie den Link in einem anderen Browser oder in einem privaten Fenster, um als Gast zu schreiben.',
}
