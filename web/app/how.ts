// Answers to "how do I …": two sentences and the command that does it, found by the words that somebody would use.
import { t } from '../words'

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
    ask: t('app.save-my-work'),
    answer: t('app.press-save-once-the-first-time-you'),
    words: t('app.store-keep-write-disk'),
    command: 'save',
  },
  {
    ask: t('app.save-a-copy-of-a-file'),
    answer: t('app.save-a-copy-asks-for-its-name'),
    words: t('app.duplicate-another'),
    command: 'save a copy',
  },
  {
    ask: t('app.save-under-another-name'),
    answer: t('app.save-as-a-separate-file-keeps-the'),
    words: t('app.as-different-new-name-type'),
    command: 'save separately',
  },
  {
    ask: t('app.rename-a-file-or-move-it'),
    answer: t('app.rename-or-move-changes-its-name-and'),
    words: t('app.change-title-folder-put-elsewhere'),
    command: 'rename',
  },
  {
    ask: t('app.get-back-work-after-a-crash'),
    answer: t('app.rescue-lists-all-work-that-was-interrupted'),
    words: t('app.lost-recover-recovery-unsaved-closed-power-gone'),
    at: '/rescue',
  },
  {
    ask: t('app.get-back-an-earlier-version'),
    answer: t('app.versions-shows-every-save-of-this-file'),
    words: t('app.old-previous-history-undo-restore-before'),
    command: 'versions',
  },
  {
    ask: t('app.get-back-a-file-that-was-removed'),
    answer: t('app.the-removed-files-of-a-share-keep'),
    words: t('app.deleted-delete-trash-bin-restore-lost'),
    at: '/files',
  },
  {
    ask: t('app.find-a-file'),
    answer: t('app.find-takes-any-part-of-a-name'),
    words: t('app.search-where-look-locate-lost'),
    command: 'find a file',
  },
  {
    ask: t('app.see-how-well-my-work-is-protected'),
    answer: t('app.the-sentence-below-the-name-says-how'),
    words: t('app.protected-saved-protection-reach-backup'),
  },
  {
    ask: t('app.change-how-often-my-work-is-protected'),
    answer: t('app.settings-has-your-recovery-interval-within-the'),
    words: t('app.autosave-automatic-interval-seconds-minutes-every'),
    at: '/settings',
  },
  {
    ask: t('app.bring-in-files-from-this-computer'),
    answer: t('app.open-a-folder-in-files-and-press'),
    words: t('app.upload-import-add-drop'),
    at: '/files?bring=1',
  },
  {
    ask: t('app.send-a-file-to-somebody'),
    answer: t('app.download-in-the-files-menu-gives-you'),
    words: t('app.download-export-share-mail-email-take'),
  },
  {
    ask: t('app.begin-from-a-template'),
    answer: t('app.from-a-template-on-the-desk-lists'),
    words: t('app.form-pattern-letter'),
    at: '/',
  },
  {
    ask: t('app.check-that-my-work-would-be-found'),
    answer: t('app.a-recovery-drill-in-rescue-crashes-a'),
    words: t('app.test-rehearse-drill-crash-prove'),
    at: '/rescue',
  },
  {
    ask: t('app.set-how-files-are-named'),
    answer: t('app.names-has-each-shares-conventions-and-lists'),
    words: t('app.naming-convention-rule-pattern'),
    at: '/names',
  },
  {
    ask: t('app.put-wrong-names-right'),
    answer: t('app.the-audit-of-a-share-lists-the'),
    words: t('app.audit-bulk-many-wrong-correct-fix'),
    at: '/names',
  },
  {
    ask: t('app.decide-how-long-versions-are-kept'),
    answer: t('app.retention-has-a-rule-for-each-share'),
    words: t('app.retention-delete-old-space-storage-days'),
    command: 'go Retention',
  },
  {
    ask: t('app.take-over-a-drive'),
    answer: t('app.files-of-a-share-take-over'),
    words: t('app.drive-import-migrate-old-folder'),
    at: '/files',
  },
]

const wordsOf = (text: string): string[] => text.toLowerCase().match(/[\p{L}\p{N}]+/gu) ?? []
/** Words of a question that say nothing of what it is about. */
const empty = new Set(wordsOf(t('app.how-do-i-can-a-an-the')))

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
