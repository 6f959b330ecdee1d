/** Sentences of how far work has got. */
export const reach = {
  'reach.this-file': 'diese Datei',
  'reach.the-folder': 'den Ordner ‹{folderName}›',
  'reach.the-share': 'den Bereich ‹{shareName}›',
  'reach.all-files': 'alle {kind, select, document {Dokumente} spreadsheet {Tabellen} other {Dateien}}',
  'reach.everything-of-mine': 'alles von mir',
  'reach.unsaved-work-does-not-go-to-the': 'Ungespeicherte Arbeit geht nicht zum Server',
  'reach.unsaved-work-goes-to-the-server-every':
    'Ungespeicherte Arbeit geht alle <strong>{sayInterval}</strong> zum Server',
  'reach.change-it': 'Ändern',
  'reach.for': 'für',
  'reach.for-what': 'Wofür',
  'reach.save-this-file-by-itself-whenever-i':
    'Diese Datei von selbst speichern, wenn ich innehalte<span>{continuous, select, true {An: {continuousWhy}. Solche Versionen sind in der Liste zusammengefaltet.} other {Aus: Beim Schließen mit ungespeicherter Arbeit wird gefragt.}}</span>',
  'reach.this-tab': 'Dieser Tab',
  'reach.copies': 'Kopien',
  'reach.no-copy-plan-is-set-up': 'Es ist kein Kopierplan eingerichtet.',
  'reach.nothing-yet': 'Noch nichts',
  'reach.everything-up-to': 'Alles, bis {until}',
  'reach.everything': 'Alles',
  'reach.stopped-it-has-work-up-to': 'Angehalten. Arbeit bis {until} ist hier',
  'reach.stopped-and-has-nothing-of-it-yet': 'Angehalten, und noch nichts ist hier',
  'reach.up-to': 'Bis {it}',
  'reach.an-earlier-change': 'einer früheren Änderung',
  'reach.how-far-this-work-has-got': 'Wie weit diese Arbeit gekommen ist',
  'reach.off': 'aus',
}
