// Answers to "how do I …": two sentences and the command that does it, found by the words that somebody would use.

export interface Answer {
  /** As it is asked, after "How do I". */
  ask: string
  answer: string
  /** Words that mean the same. */
  words: string
  /** The command, offered where it can be carried out now. */
  command?: string
  /** Where it is done, otherwise. */
  at?: string
}

export const answers: readonly Answer[] = [
  {
    ask: 'save my work',
    answer:
      'Press Save once; the first time you are asked for a name and a place. The sentence below the name says how far unsaved work has got.',
    words: 'store keep write disk',
    command: 'save',
  },
  {
    ask: 'save a copy of a file',
    answer:
      'Save a copy asks for its name and place, and you go on in the file that you have open. The copy knows what it was copied from.',
    words: 'duplicate another',
    command: 'save a copy',
  },
  {
    ask: 'save under another name',
    answer: 'Save as a separate file keeps the file as its last version has it. You go on in the new one.',
    words: 'as different new name type',
    command: 'save separately',
  },
  {
    ask: 'rename a file or move it',
    answer: 'Rename or move changes its name and place and keeps all its versions. Search still finds the old name.',
    words: 'change title folder put elsewhere',
    command: 'rename',
  },
  {
    ask: 'get back work after a crash',
    answer: 'Rescue lists all work that was interrupted, with what is in it. Look inside first, then go on with it.',
    words: 'lost recover recovery unsaved closed power gone restore',
    at: '/rescue',
  },
  {
    ask: 'get back an earlier version',
    answer:
      'Versions shows every save of this file. Look at one in its place, then bring back a part or restore all of it.',
    words: 'old previous history undo restore before',
    command: 'versions',
  },
  {
    ask: 'get back a file that was removed',
    answer: 'Removed files of its share keeps it for 30 days. Choose it there and bring it back.',
    words: 'deleted delete trash bin restore lost',
    at: '/files',
  },
  {
    ask: 'find a file',
    answer:
      'Find takes any part of a name, a code, a year, a person or words in it. Its folder is shown beside each hit.',
    words: 'search where look locate lost',
    command: 'find a file',
  },
  {
    ask: 'see how safe my work is',
    answer: 'The sentence below the name says how far your work has got. Press it to see every step with its time.',
    words: 'protected saved protection reach backup',
  },
  {
    ask: 'change how often my work is protected',
    answer:
      'Settings has your recovery interval, within the bounds that a manager may have set. A file, a folder or a kind gets its own from the sentence below a file’s name.',
    words: 'autosave automatic interval seconds minutes every',
    at: '/settings',
  },
  {
    ask: 'bring in files from this computer',
    answer: 'Open a folder in Files and press Bring in files, or drop them there. They are kept byte for byte.',
    words: 'upload import add drop',
    at: '/files?bring=1',
  },
  {
    ask: 'send a file to somebody',
    answer: 'Download this version from the file’s menu gives you the file itself. Any program of its type opens it.',
    words: 'download export share mail email take',
  },
  {
    ask: 'begin from a template',
    answer:
      'The Desk’s From a template lists those of all your shares. What you begin has no name yet and its own content.',
    words: 'form pattern letter',
    at: '/',
  },
  {
    ask: 'check that my work would be found again',
    answer:
      'A recovery drill in Rescue crashes a page of its own and reports what came back. Nothing of yours is touched.',
    words: 'test rehearse drill crash prove',
    at: '/rescue',
  },
  {
    ask: 'set how files are named',
    answer:
      'Names has each share’s conventions and lists; its managers change them. The bench tries them on real names first.',
    words: 'naming convention rule pattern',
    at: '/names',
  },
  {
    ask: 'put wrong names right',
    answer:
      'The audit of a share lists the names that do not follow. It corrects many at once, and all of it can be undone.',
    words: 'audit bulk many wrong correct fix',
    at: '/names',
  },
  {
    ask: 'decide how long versions are kept',
    answer: 'Retention has a rule for each share and says what it would free. A version with a label is never removed.',
    words: 'retention delete old space storage days',
    command: 'go Retention',
  },
]

const wordsOf = (text: string): string[] => text.toLowerCase().match(/[\p{L}\p{N}]+/gu) ?? []
/** Words of a question that say nothing of what it is about. */
const empty = new Set(wordsOf('how do i can a an the my to of is it in me with and on from for'))

/**
 * How well something fits what was typed: every word that was typed begins one of its words.
 * @param label what is read @param more other words for it
 * @returns 0 when it does not fit, more the more of its label was meant
 */
export function fits(typed: string, label: string, more = ''): number {
  const all = wordsOf(typed)
  const wanted = all.filter((word) => !empty.has(word))
  if (!wanted.length) return all.length ? 0 : 1
  const own = wordsOf(label)
  const other = wordsOf(more)
  let points = 0
  for (const word of wanted) {
    if (own.some((one) => one === word)) points += 3
    else if (own.some((one) => one.startsWith(word))) points += 2
    else if (other.some((one) => one.startsWith(word))) points += 1
    else return 0
  }
  return points / (3 * wanted.length)
}
