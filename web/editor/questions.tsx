// What the editor asks before an act whose outcome is not plain.
import type { Version } from '../../core/contract'
import { type Limit, sayLimit } from '../../core/formats/refusals'
import { Button } from '../design/controls'
import { Question } from '../design/overlay'
import { t, told } from '../words/all'

export function LeavingQuestion({
  name,
  head,
  saved,
  keptDays,
  onSave,
  onLeave,
  onStay,
}: {
  name: string
  keptDays: number
  head: Version | null
  /** It is in a file already. */
  saved: boolean
  onSave: () => void
  onLeave: (how: 'closed' | 'let go') => void
  onStay: () => void
}) {
  return (
    <Question
      title={
        saved
          ? t('editor.has-changes-since-its-last-save', { name, head: Boolean(head), number: head?.number })
          : t('editor.was-never-saved', { name })
      }
      onClose={onStay}
      answers={
        <>
          <Button look="main" onClick={onSave}>
            {saved ? t('editor.save-and-close') : t('editor.name-and-save-it')}
          </Button>
          <Button onClick={() => onLeave('closed')}>{t('common.close-go-on-later')}</Button>
          <Button look="quiet" onClick={onStay}>
            {t('common.cancel')}
          </Button>
          <Button look="quiet" className="text-rust" onClick={() => onLeave('let go')}>
            {t('common.close-without-saving')}
          </Button>
        </>
      }
    >
      {t('common.unsaved-work-stays-in-rescue-for-days', { keptDays })}
    </Question>
  )
}

/** @param poorer its type cannot hold them, in any file; otherwise they are the file's own, which an earlier version has */
export function LimitsQuestion({
  head,
  poorer,
  limits,
  onSeparately,
  onAccept,
  onClose,
}: {
  head: Version | null
  poorer: boolean
  limits: readonly Limit[]
  onSeparately: () => void
  onAccept: () => void
  onClose: () => void
}) {
  const next = (head?.number ?? 0) + 1
  return (
    <Question
      title={t('editor.version-would-lose-these', { next })}
      onClose={onClose}
      answers={
        <>
          {!poorer && (
            <Button look="main" onClick={onSeparately}>
              {t('common.save-as-a-separate-file')}
            </Button>
          )}
          <Button {...(poorer && { look: 'main' as const })} onClick={onAccept}>
            {t('editor.save-version-without-them', { next })}
          </Button>
          <Button look="quiet" onClick={onClose}>
            {t('common.cancel')}
          </Button>
        </>
      }
    >
      <ul className="mb-2 list-disc pl-5 text-ink">
        {limits.map((limit) => (
          <li key={limit.feature}>{limitInWords(limit)}</li>
        ))}
      </ul>
      {poorer
        ? t('editor.its-type-cannot-hold-them')
        : t('editor.version-keeps-them-and-stays-in-the', { number: head?.number })}
    </Question>
  )
}

export function RestoringQuestion({
  version,
  newest,
  unsaved,
  onRestore,
  onClose,
}: {
  version: Version
  newest: number
  unsaved: boolean
  onRestore: () => void
  onClose: () => void
}) {
  return (
    <Question
      title={t('editor.restore-version-2', { number: version.number })}
      onClose={onClose}
      answers={
        <>
          <Button look="main" onClick={onRestore}>
            {t('editor.restore-as-version', { it: newest + 1 })}
          </Button>
          <Button look="quiet" onClick={onClose}>
            {t('common.cancel')}
          </Button>
        </>
      }
    >
      {t('editor.it-becomes-the-newest-version-number-version', { it: newest + 1, newest })}{' '}
      {unsaved && t('editor.your-unsaved-changes-are-kept-in-rescue')}
    </Question>
  )
}

export const limitInWords = (limit: Limit) => told(sayLimit(limit))
