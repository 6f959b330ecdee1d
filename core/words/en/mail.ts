/** What messages say that go out by mail. */
export const mail = {
  'mail.subject-file': '{by} sends you {name}',
  'mail.subject-link': '{by} opens {name} for you',
  'mail.subject-invitation': '{by} shares {name} with you',
  'mail.subject-code': 'Your code to sign in',
  'mail.with-this': 'With this message:',
  'mail.version-line': '{name}: version {number} of {at, date, long}',
  'mail.link-says': '{role, select, edit {Look at “{name}” and edit it here:} other {Look at “{name}” here:}}',
  'mail.link-until': 'The link opens it until {until, date, long}.',
  'mail.link-uses': '{uses, plural, one {The link opens it once.} other {The link opens it # times.}}',
  'mail.link-password': 'The link asks for a password. {by} will tell you, by another way than this one.',
  'mail.invitation-says':
    '{role, select, view {You may look at “{name}”.} edit {You may look at “{name}” and edit it.} other {You may look at “{name}”, edit it and say who else can.}}',
  'mail.invitation-until': 'This holds until {until, date, long}.',
  'mail.invitation-where': 'It is here:',
  'mail.code-says': '{by} made a code for you. Set your password with it:',
  'mail.code-where': 'Address: {address}',
  'mail.code-handle': 'Sign in with: {handle}',
  'mail.code-is': 'Code: {code}',
  'mail.code-until': 'It can be used once, until {until, date, long}. If you did not expect it, tell {by}.',
  'mail.answers':
    '{answered, select, true {Answers to this message go to {by}.} other {Nobody reads answers to this message. Ask {by}.}}',
}
