/** Sentences of an open file. */
export const editor = {
  'editor.nothing': 'nothing',
  'editor.keep-theirs': 'Keep {which, select, true {mine} other {theirs}}',
  'editor.where-both-of-you-wrote': 'Where both of you wrote',
  'editor.the-place-before': 'The place before',
  'editor.one-place-where-both-wrote': 'One place where both wrote',
  'editor.places-where-both-wrote': '{choices} places where both wrote',
  'editor.the-next-place': 'The next place',
  'editor.mine': 'Mine',
  'editor.keep-both': 'Keep both',
  'editor.on-screen': 'On screen',
  'editor.size-words': 'zoom percent magnify bigger',
  'editor.show-it-larger': 'Show it larger',
  'editor.show-it-smaller': 'Show it smaller',
  'editor.show-it-as-usual': 'Show it in its usual size',
  'editor.size-on-screen': 'Size on screen: {size}',
  'editor.back': 'Back',
  'editor.give-it-a-name-and-a-place': 'Give it a name and a place',
  'editor.save': 'Save',
  'editor.save-2': 'Save …',
  'editor.more-for-this-file': 'More for this file',
  'editor.make-a-template-of-it': 'Make a template of it',
  'editor.download-version': 'Download version {number}',
  'editor.this-work-is-open-in-another-tab':
    'This work is open in another tab of this browser, and you write there. Here you see it as it grows; when that tab is closed, you go on here.',
  'editor.write-here-instead': 'Write here instead',
  'editor.look-at-what-was-only-here': 'Look at what was only here',
  'editor.you-went-on-with-this-work-in':
    'You went on with this work {byIs, select, true {on {by}} other {in another tab of this browser}}, so nothing more is written here.',
  'editor.what-only-this-page-had-is-kept':
    'What only this page had ({beyondInWords}) is kept separately. You can combine it with your work there.',
  'editor.this-computers-clock-is-minutes-slow-so':
    'This computer’s clock is {minutes} {minutes, plural, one {minute} other {minutes}} {ahead, select, true {fast} other {slow}}, so the times shown for your work are wrong by as much. Your work is protected all the same; set the clock to put this right.',
  'editor.the-unsaved-work-on-this-computer-is':
    'The unsaved work on this computer is damaged after change {it}. Everything before that is here; what came after could not be read.',
  'editor.you-go-on-with-unsaved-work-of':
    'You go on with unsaved work of {it}, from {from, select, true {this computer} other {the server}}. {missing, select, true {{edits, plural, one {# later change is} other {# later changes are}} on {deviceName} only. When that comes back, you can combine it with this.} other {{lostFrom, select, true {All {edits2, plural, one {# change} other {# changes}} that are known of it are here.} other {}}}}',
  'editor.version-stays-as-it-is-until-you': 'Version {number} stays as it is until you save.',
  'editor.changes-are-on-only-beyond-this-version':
    '{edits, plural, one {# change} other {# changes}} {edits, plural, one {is} other {are}} on {deviceName} only, beyond this version. When that comes back, you can combine it with this.',
  'editor.kept-and-not-shown':
    'These stay in the file when you save it, but cannot be seen or changed here yet: {limits}.',
  'editor.combine-the-two-and-save': 'Combine the two and save',
  'editor.save-mine-as-version': 'Save mine as version {it}',
  'editor.your-work-is-not-saved-yet-and':
    'Your work is not saved yet, and nothing is overwritten: {authorName}’s version stays in the file’s versions whatever you choose.',
  'editor.your-work-stays-open': 'Your work stays open as it is.',
  'editor.saved-version-saving-combines-it-with-your':
    '{own, select, true {You saved version {number} elsewhere} other {{authorName} saved version {number}}}, {at}. Saving combines it with your work on version {number2}.',
  'editor.combine-now': 'Combine now',
  'editor.the-file-this-was-copied-from-has':
    'The file this was copied from, {nameText}, has changed since: {authorName} saved its version {number}, {at}. This copy has what was in version {number2}.',
  'editor.see-what-changed': 'See what changed',
  'editor.combined-with-undo-takes-it-out-again': 'Combined with {originName}: {summary} Undo takes it out again.',
  'editor.what-changed-there-cannot-be-shown-right': 'What changed there cannot be shown right now.',
  'editor.what-changed-in-since-it-was-copied': 'What changed in {originName} since it was copied',
  'editor.bring-in-changes': 'Bring in {chosen, plural, one {# change} other {# changes}}',
  'editor.bring-in-all-of-it': 'Bring in all of it',
  'editor.it-is-combined-with-your-work-and': '{it} It is combined with your work, and can be undone.',
  'editor.what-changed': 'What changed',
  'editor.changes': '{own, plural, one {# change} other {# changes}}',
  'editor.close-this-file': 'Close this file',
  'editor.that-could-not-be-done-right-now': 'That could not be done right now.',
  'editor.jaula-keeps-files-exactly-as-they-are':
    'Jaula keeps {label} files exactly as they are, but does not edit them. {versions, plural, one {# version} other {# versions}}.',
  'editor.restore-version': 'Restore version {number}',
  'editor.version-is-kept-as': 'Version {number} is kept as “{label}”.',
  'editor.its-label-is-taken-away': 'Its label is taken away.',
  'editor.version-is-back-as-version': 'Version {number} is back, as version {it}.',
  'editor.afterwards-it-is-the-same-file-named':
    'Afterwards it is the same file, named {nameText}. Its versions stay with it, and search still finds its old name.',
  'editor.saved-by': 'Saved {time} by {authorName}, {version}.',
  'editor.sha-256': 'SHA-256 {sha256}',
  'editor.and-more-have-it-open':
    '{firstName}{restIs, select, true { and {rest} more} other {}} {people, plural, one {has} other {have}} it open',
  'editor.present': '{name}{placed, select, true {, at {place}} other {}}{writes, select, true {, writing} other {}}',
  'editor.with-unsaved-work': ', with unsaved work',
  'editor.has-changes-since-its-last-save':
    '{name} has changes since {head, select, true {version {number}} other {its last save}}',
  'editor.was-never-saved': '{name} was never saved',
  'editor.save-and-close': 'Save and close',
  'editor.name-and-save-it': 'Name and save it',
  'editor.version-keeps-them-and-stays-in-the': 'Version {number} keeps them and stays in the file’s versions.',
  'editor.version-would-lose-these': 'Version {next} would lose these',
  'editor.save-version-without-them': 'Save version {next} without them',
  'editor.it-becomes-the-newest-version-number-version':
    'It becomes the newest version, number {it}. Version {newest} and all others stay.',
  'editor.your-unsaved-changes-are-kept-in-rescue': 'Your unsaved changes are kept in Rescue.',
  'editor.restore-version-2': 'Restore version {number}?',
  'editor.restore-as-version': 'Restore as version {it}',
  'editor.version-is-restored-as-version': 'Version {number} is restored, as version {number2}.',
  'editor.it-could-not-be-restored': 'It could not be restored.',
  'editor.this-work-is-not-known-here-it':
    'This work is not known here. It may have been saved or closed on another computer.',
  'editor.it-cannot-be-opened-right-now': 'It cannot be opened right now',
  'editor.it-cannot-be-opened': 'It cannot be opened',
  'editor.to-the-desk': 'To the Desk',
  'editor.the-template-is-version-of-this-file':
    'The template {madeName} is version {number} of this file, and stays that version.',
  'editor.make-the-template': 'Make the template',
  'editor.everybody-in-can-begin-from-version-as':
    'Everybody in {shareName} can begin from version {number} as it is. What they fill in becomes a file of its own; the template stays.',
  'editor.name-of-the-template': 'Name of the template',
  'editor.already-filled-in-when-a-file-begun': 'Already filled in when a file begun from it is named',
  'editor.needs-a-name-its-slip-is-open': 'Needs a name: its slip is open in its tab.',
  'editor.jaula': '{unsaved, select, true {• } other {}}{name} – Jaula',
  'editor.saved-as-the-number-before-it-was':
    'Saved as {called}: the number before it was taken by somebody else meanwhile.',
  'editor.combined-with': 'Combined with {thereName}: {summary}',
  'editor.the-copy-waits-on-this-computer-and':
    'The copy waits on this computer and is saved as soon as the server answers. You go on in {name}.',
  'editor.the-copy-is-saved-as-you-go': 'The copy is saved as {copyName}. You go on in {name}.',
  'editor.open-the-copy': 'Open the copy',
  'editor.there-is-nothing-new-to-save': 'There is nothing new to save.',
  'editor.it-could-not-be-saved': 'It could not be saved: {message}',
  'editor.you-may-look-at-this-file-not': 'You may look at this file, not change it.',
  'editor.it-is-kept-as-it-is-you': '{damaged} It is kept as it is; you can download it.',
  'editor.this-work-cannot-be-opened': 'This work cannot be opened',
  'editor.its-type-cannot-hold-them': 'A file of this type cannot hold them. They stay in this page until it is left.',
  'editor.left-out-by-saving':
    'What you save will not have these, which cannot be seen or changed here: {limits}. The version that is there now keeps them.',
  'editor.read-and-not-written':
    'Jaula reads files of the type .{type} and does not write them. When you save, this file goes on as: {label}. Its versions until now stay as they are.',
  'editor.file-is-not-for-you': 'This file is not here any more, or not for you. What you wrote is yours.',
  'editor.may-only-look-now': 'You may only look at this file now. What you have not saved is yours.',
  'editor.the-link-does-not-let-you-write':
    'The link by which you came lets you write here no longer. What you have not saved is still on this page: copy it before you close it, and ask who gave you the link.',
}
