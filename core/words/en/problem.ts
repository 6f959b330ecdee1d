/** Sentences by which the server refuses. */
export const problem = {
  'problem.too-many-attempts-try-again-in': 'Too many attempts. Try again in {when}.',
  'problem.this-is-not-the-code-that-the': 'This is not the code that the start command printed.',
  'problem.it-is-in-the-terminal-where-jaula': 'It is in the terminal where Jaula was started.',
  'problem.jaula-has-its-first-administrator-already-sign': 'Jaula has its first administrator already. Sign in.',
  'problem.this-name-and-password-do-not-belong': 'This name and password do not belong together.',
  'problem.check-the-name-and-the-password': 'Check the name and the password.',
  'problem.this-is-one-of-the-passwords-that':
    'This is one of the passwords that are guessed first. Use a few words that have nothing to do with each other.',
  'problem.a-password-with-your-own-name-in': 'A password with your own name in it is soon guessed.',
  'problem.use-more-different-letters': 'Use more different letters.',
  'problem.this-name-is-not-jaulas': 'This name is not Jaula’s.',
  'problem.this-request-came-from-another-site': 'This request came from another site.',
  'problem.this-request-is-not-as-it-should': 'This request is not as it should be.',
  'problem.the-server-does-not-answer-right-now': 'The server does not answer right now.',
  'problem.something-went-wrong-here-nothing-was-changed': 'Something went wrong here. Nothing was changed.',
  'problem.only-administrators-may-do-this': 'Only administrators may do this.',
  'problem.only-administrators-read-the-audit-log': 'Only administrators read the audit log.',
  'problem.not-a-byte-differs': 'Not a byte differs.',
  'problem.what-changed-is-not-known': 'What changed is not known.',
  'problem.this-file-is-too-large-to-be': 'This file is too large to be compared.',
  'problem.there-is-nothing-at-this-place-in': 'There is nothing at this place in that version.',
  'problem.the-versions-in-use-the-that-a':
    'The versions in ‹{name}› use the {sayBytes} that a share may have, so this was not saved there. Unsaved work still goes to the server. A manager can set a rule of retention, or an administrator can allow more.',
  'problem.your-versions-use-the-that-a-person':
    'Your versions use the {sayBytes} that a person may have, so this was not saved. Unsaved work still goes to the server. An administrator can allow more.',
  'problem.work-closed-without-saving-uses-more-than':
    'Work closed without saving uses more than the {storageRoom} MB that you allow on the server, so this stays among your interrupted work. Close some, save some, or allow more in Settings.',
  'problem.the-address-and-the-draft-in-the': 'The address and the draft in the request differ.',
  'problem.the-computer-that-has-this-work-was':
    'The computer that has this work was not heard from lately, so it cannot be asked.',
  'problem.this-recovery-point-lacks-record-is-the':
    'This recovery point lacks record {it}; {there} is the last one here.',
  'problem.this-work-is-open-on-now-so': 'This work is open on {devicename} now, so it was not ended.',
  'problem.this-work-was-finished-already-it-is': 'This work was finished already: it is in a version of its file.',
  'problem.cannot-be-moved-into-itself': '{entryName} cannot be moved into itself.',
  'problem.the-folder-it-belongs-in-is-not': 'The folder it belongs in is not here any more. Nothing was changed.',
  'problem.the-folder-is-in-another-share': 'The folder is in another share.',
  'problem.with-its-folders-would-be-longer-than':
    'With its folders {moveName} would be longer than {longestPath} letters, which many computers refuse.',
  'problem.this-id-belongs-to-another-act-so': 'This id belongs to another act, so nothing was changed.',
  'problem.was-brought-back-meanwhile-nothing-was-changed':
    '{entryName} was {removedat, select, true {removed} other {brought back}} meanwhile. Nothing was changed.',
  'problem.is-named-by-now-nothing-was-changed': '{from} is named {entryName} by now. Nothing was changed.',
  'problem.the-ending-tells-other-programs-what-is':
    'The ending .{it} tells other programs what {entryName} is. It stays.',
  'problem.the-ending-stays': 'The ending .{type} stays.',
  'problem.was-changed-again-since-so-this-cannot':
    '{toName} was changed again since, so this cannot be undone as one. Nothing was changed.',
  'problem.that-version-is-not-of-the-file': 'That version is not of the file that this one was copied from.',
  'problem.its-shares-managers-have-their-reason': 'Its share’s managers have their reason.',
  'problem.there-is-nothing-to-change': 'There is nothing to change.',
  'problem.a-file-with-this-name-is-here':
    '{kind, select, true {A folder} other {A file}} with this name is here already.',
  'problem.folders-can-be-at-most-deep-in': 'Folders can be at most {deepestFolder} deep in each other.',
  'problem.the-database-does-not-answer': 'The database does not answer.',
  'problem.the-servers-disk-has-mb-left-what':
    'The server’s disk has {floor} MB left: what is read goes on, saving may not.',
  'problem.the-number-is-used-already-the-next': 'The number {number} is used already. The next free one is {next}.',
  'problem.line': 'Line {it}: {reason}',
  'problem.there-is-a-list-named-here-already': 'There is a list named {name} here already.',
  'problem.this-name-is-used-already': 'This name is used already.',
  'problem.the-convention-uses-this-list': 'The convention ‹{conventionName}› uses this list: {reason}',
  'problem.somebody-changed-this-list-meanwhile-look-at':
    'Somebody changed this list meanwhile. Look at it again; nothing was changed.',
  'problem.this-place-has-a-convention-of-its': 'This place has a convention of its own already. Change that one.',
  'problem.changed-this-convention-meanwhile-look-at-it':
    '{author} changed this convention meanwhile. Look at it again; nothing was changed.',
  'problem.this-address-is-not-written-as-addresses': 'This address is not written as addresses are.',
  'problem.the-pages-are-not-built-run-npm': 'The pages are not built. Run npm run build.',
  'problem.say-for-what-it-is-set-a': 'Say for what it is set: a kind, a share, or a folder or file.',
  'problem.the-longest-interval-allowed-cannot-be-shorter':
    'The longest interval allowed cannot be shorter than the shortest one.',
  'problem.this-is-not-here-any-more-or': 'This is not here any more, or you may not see it.',
  'problem.this-request-is-not-json-in-utf': 'This request is not JSON in UTF-8.',
  'problem.a-request-like-this-is-sent-without': 'A request like this is sent without a content encoding.',
  'problem.this-request-is-larger-than-kb': 'This request is larger than {ceil} KB.',
  'problem.the-request-took-too-long': 'The request took too long.',
  'problem.this-request-did-not-arrive-whole': 'This request did not arrive whole.',
  'problem.this-request-is-nested-too-deeply': 'This request is nested too deeply.',
  'problem.this-request-is-not-json': 'This request is not JSON.',
  'problem.you-are-signed-out-sign-in-to': 'You are signed out. Sign in to go on; your work is untouched.',
  'problem.this-text-has-a-symbol-that-cannot': 'This text has a symbol that cannot be kept.',
  'problem.something-in-this-request-is-not-as': 'Something in this request is not as it should be.',
  'problem.the-file-did-not-arrive-whole': 'The file did not arrive whole.',
  'problem.the-sender-fell-silent': 'The sender fell silent.',
  'problem.files-up-to-mb-can-be-kept': 'Files up to {floor} MB can be kept here.',
  'problem.a-file-is-sent-as-it-is': 'A file is sent as it is, without a content encoding.',
  'problem.too-many-large-files-arrive-at-this':
    'Too many large files arrive at this moment. Try again in a few minutes.',
  'problem.the-servers-disk-is-full-so-the': 'The server’s disk is full, so the file was not saved. Try again later.',
  'problem.put-this-on-hold-and-is-the': '{thereName} put this on hold, and is the one to change that.',
  'problem.say-what-the-rule-would-be': 'Say what the rule would be.',
  'problem.see-this-share': 'see this share',
  'problem.change-files-in-this-share': 'change files in this share',
  'problem.manage-this-share': 'manage this share',
  'problem.you-may-not-ask-one-of-its': 'You may not {it}. Ask one of its managers.',
  'problem.work-can-be-begun-from-documents-and':
    'Work can be begun from documents and spreadsheets that Jaula edits, not from {label} files.',
  'problem.there-is-a-template-named-in-this': 'There is a template named {name} in this share already.',
  'problem.the-file-changed-on-its-way-here': 'The file changed on its way here, so it was not saved. Save again.',
  'problem.you-may-not-change-files-in-this': 'You may not change files in this share. Ask one of its managers.',
  'problem.saved-version-meanwhile': '{authorName} saved version {number} meanwhile.',
  'problem.this-key-belongs-to-another-request-so':
    'This key belongs to another request, so nothing was saved. Save again.',
  'problem.this-version-is-damaged-on-the-server':
    'This version is damaged on the server and cannot be read. All others, and your work, are untouched.',
  'problem.on-hold-cannot-be-removed': '{name} is on hold, so it cannot be removed. Nothing was changed.',
  'problem.removed-too-long-ago': '{name} was removed more than {days} days ago.',
  'problem.not-a-list-of-values': '‹{name}› is no list of values.',
  'problem.cannot-go-on-as': '{name} cannot go on as a file of the type .{type}.',
}
