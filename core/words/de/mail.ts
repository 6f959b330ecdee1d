/** Was Nachrichten sagen, die als E-Mail hinausgehen. */
export const mail = {
  'mail.subject-file': '{by} sendet Ihnen {name}',
  'mail.subject-link': '{by} öffnet {name} für Sie',
  'mail.subject-invitation': '{by} teilt {name} mit Ihnen',
  'mail.subject-code': 'Ihr Code zum Anmelden',
  'mail.with-this': 'Mit dieser Nachricht:',
  'mail.version-line': '{name}: Version {number} vom {at, date, long}',
  'mail.link-says':
    '{role, select, edit {Hier können Sie „{name}“ ansehen und bearbeiten:} other {Hier können Sie „{name}“ ansehen:}}',
  'mail.link-until': 'Der Link öffnet es bis {until, date, long}.',
  'mail.link-uses': '{uses, plural, one {Der Link öffnet es einmal.} other {Der Link öffnet es #-mal.}}',
  'mail.link-password': 'Der Link fragt nach einem Kennwort. {by} nennt es Ihnen auf einem anderen Weg als diesem.',
  'mail.invitation-says':
    '{role, select, view {Sie dürfen „{name}“ ansehen.} edit {Sie dürfen „{name}“ ansehen und bearbeiten.} other {Sie dürfen „{name}“ ansehen, bearbeiten und bestimmen, wer es noch darf.}}',
  'mail.invitation-until': 'Das gilt bis {until, date, long}.',
  'mail.invitation-where': 'Es ist hier:',
  'mail.code-says': '{by} hat einen Code für Sie gemacht. Setzen Sie damit Ihr Kennwort:',
  'mail.code-where': 'Adresse: {address}',
  'mail.code-handle': 'Anmelden mit: {handle}',
  'mail.code-is': 'Code: {code}',
  'mail.code-until': 'Er gilt einmal, bis {until, date, long}. Wenn Sie ihn nicht erwartet haben, sagen Sie es {by}.',
  'mail.answers':
    '{answered, select, true {Antworten auf diese Nachricht gehen an {by}.} other {Antworten auf diese Nachricht liest niemand. Fragen Sie {by}.}}',
}
