/** Sentences of copies on other storage. */
export const copies = {
  'copies.no-line-of-a-manifest': 'Line {line} of the manifest is neither a checksum with a path nor empty.',
  'copies.a-path-outside-the-bag': 'Line {line} of the manifest leads outside the copy.',
  'copies.a-path-that-is-listed-twice': 'Line {line} of the manifest lists a path a second time.',
  'copies.no-such-folder': 'There is no folder {folder}, or it cannot be written to.',
  'copies.something-else-is-there':
    '{folder} holds something else already. It was left as it is. Choose another folder, or move what is there.',
  'copies.a-link-in-the-copy': '{path} is a link. It is not followed.',
  'copies.did-not-read-back': '{path} does not read back as it was written.',
  'copies.not-a-copy': '{folder} is no copy that Jaula made.',
  'copies.another-copying-is-under-way': 'Another copying to {folder} is under way.',
  'copies.not-empty': 'This Jaula has people or files already. Copies are brought back into an empty one only.',
  'copies.versions-missing':
    '{n, plural, one {# version is} other {# versions are}} not in the copies as saved, so nothing was brought back.{damaged, plural, =0 {} other { Damaged or missing: {paths}.}}',
  'copies.changed-meanwhile': 'A file of the copies changed while it was read. Nothing was brought back.',
  'copies.full': 'It is full.',
  'copies.read-only': 'It cannot be written to.',
  'copies.does-not-answer': 'It does not answer as it should ({code}).',
  'copies.not-there': 'It is not there.',
  'copies.copy-gone': 'The copy that was made there is gone. It is made again.',
  'copies.not-named': 'The server may not write there any more.',
  'copies.identity-gone':
    'The folder is there, but not as the place that copies were made in: {file} is missing. Perhaps nothing is mounted there.',
  'copies.identity-other': 'The folder is there, but another place for copies than before ({file} says so).',
  'copies.identity-unreadable': '{file} is there and says nothing.',
  'copies.no-address': 'This is no address of a folder. Write sftp://computer/folder, or https://computer/folder.',
  'copies.no-account-in-an-address': 'Write the name that signs in, and its password, in their own fields.',
  'copies.host-not-named':
    'The server may not be sent to {host}. Whoever runs it names the computers that it may go to in JAULA_COPY_HOSTS.',
  'copies.no-such-host': 'No computer {host} is known here ({code}).',
  'copies.inner-address':
    '{host} has the address {address}, which is inside this network. Whoever runs the server names that address, too, in JAULA_COPY_HOSTS if it is right.',
  'copies.not-protected': 'The way to {host} is not protected, and the password could be read. Use https.',
  'copies.other-key':
    '{host} shows another key than before: {shown}. Perhaps it is another computer. Nothing was sent to it. If whoever runs it says that its key was changed, sign in there again.',
  'copies.not-let-in': '{host} does not let this name in with this password or key.',
  'copies.no-folder-there': 'There is no folder {folder} at {host}.',
  'copies.no-key-file':
    'Passwords of other computers are kept locked, with a key outside the database. Whoever runs the server names a file for it in JAULA_KEY_FILE.',
  'copies.other-seal': 'The key that its password is locked with is gone or another one. Sign in there again.',
  'copies.say-the-key':
    '{host} shows the key {shown}. If whoever runs it says that this is its key, set JAULA_PLACE_KEY to it.',
  'copies.say-who-signs-in': 'Set JAULA_PLACE_ACCOUNT and JAULA_PLACE_SECRET to what Jaula signs in with at {host}.',
  'copies.in-another-share': 'It is in another share now.',
  'copies.damaged-there': 'The copy of it is damaged.',
  'copies.add-it-first': 'No place for copies at {address} is known. Add it on the Copies screen first.',
  'copies.no-answer-of-that-kind': '{host} does not answer as such a place does ({code}).',
  'copies.a-site-already': '{name} is used for copies already.',
  'copies.plan-nothing': 'Nothing is copied.',
  'copies.plan':
    '{what, select, latest {The latest version of each file} kept {The latest version of each file and versions with a label} other {All versions}}{backDays, plural, =0 {} one {, from the last day} other {, from the last # days}}, {hours, plural, =0 {after each change} =1 {every hour} other {{days, plural, =0 {every {hours} hours} =1 {every day} other {every # days}}}}. All of it is read again {checkDays, plural, one {every day} other {every # days}}.{mostRate, plural, =0 {} other { At most # MB a second.}}',
}
