/** Sentences of the filing slip and the name line. */
export const slip = {
  'slip.filing-slip': 'Filing slip',
  'slip.by': 'by ‹{conventionName}›',
  'slip.this-name-does-not-follow': 'This name does not follow ‹{conventionName}›.',
  'slip.use': 'Use {stem}',
  'slip.choose-a-then-jaula-can-suggest-the': 'Choose a {neededByPlace}, then Jaula can suggest the folder.',
  'slip.and-a': ' and a ',
  'slip.still-missing': 'Still missing: {missing}.',
  'slip.it-is-saved-as-the-ending-is': 'It is saved as {label} ({ending}); the ending {dropped} is left out.',
  'slip.the-filing-rule-suggests': 'The filing rule suggests {ruleElsewhere}',
  'slip.a-file-with-this-name-is-here':
    '{kind, select, true {A folder} other {A file}} with this name is here already{head, select, true {: version {number}, saved {at} by {authorName}} other {}}.',
  'slip.save-as-its-version': 'Save as its version {it}',
  'slip.combine-with-what-is-there': 'Combine with what is there',
  'slip.save-as': 'Save as {free}',
  'slip.nothing-is-overwritten-version-stays-in-that':
    'Nothing is overwritten: version {number} stays in that file’s history.',
  'slip.this-name-does-not-follow-2': 'This name does not follow ‹{conventionName}›. {faults}',
  'slip.version-by-hand': 'version by hand',
  'slip.date-form': 'date form',
  'slip.not-in-its-list': 'not in its list',
  'slip.a-part-missing': 'a part missing',
  'slip.written-otherwise': 'written otherwise',
  'slip.another-order': 'another order',
  'slip.words-left-over': 'words left over',
  'slip.does-not-follow': 'does not follow',
  'slip.from-the-list': 'From the list',
  'slip.in-a-few-words': 'In a few words',
  'slip.set-when-saved': 'Set when saved',
  'slip.is-not-in-the-list': '‹{value}› is not in the list.',
  'slip.is-not-a-date-with-what-this':
    '‹{value}› is not a date with {includes, select, true {its day} other {what this name needs}}.',
  'slip.use-digits-only': 'Use digits only.',
  'slip.nothing-of-can-be-used-in-this': 'Nothing of ‹{value}› can be used in this part.',
  'slip.name-and-place': 'Name and place',
  'slip.afterwards-this-work-is-the-file-and': 'Afterwards this work is the file {bold}, and you go on in it.',
  'slip.save-here': 'Save here',
  'slip.afterwards-there-are-two-files-as-version':
    'Afterwards there are two files: {bold} as version {number} has it, and {bold2} with your work. You go on in {bold2}.',
  'slip.afterwards-there-are-two-files-with-the':
    'Afterwards there are two files: {bold} with the work as it is now, and {bold2}. You go on in {bold2}. The copy knows what it was copied from.',
  'slip.save-the-copy': 'Save the copy',
  'slip.save-as-a-copy': 'Save {it} as a copy',
  'slip.afterwards-there-are-two-files-with-and':
    'Afterwards there are two files: {bold} with {said}, and {bold2} as it is. You go on in {bold2}.',
  'slip.afterwards-it-is-the-same-file-named':
    'Afterwards it is the same file, named {bold}. Its versions stay with it, and search still finds its old name.',
  'slip.enter-a-name': 'Enter a name.',
  'slip.also-in-own': 'Also keep a copy in a folder of mine',
  'slip.own-goes-to': 'A copy goes into the folder {folder}, under this name.',
  'slip.not-there': 'Not there',
}
