// What the editor has to say above the work, each until it is seen to.
import { Link } from 'react-router'
import type { Problem, Version } from '../../core/contract'
import type { Limit } from '../../core/formats/refusals'
import { fileType, typeWritten } from '../../core/formats/types'
import { Button, Notice } from '../design/controls'
import { t, told } from '../words/all'
import { moment } from '../words/formats'
import { beyondInWords } from '../work/pieces'
import type { SessionState } from '../work/session-state'
import { limitInWords } from './questions'

export function ElsewhereNotice({ onHere }: { onHere: () => void }) {
  return (
    <Notice actions={<Button onClick={onHere}>{t('editor.write-here-instead')}</Button>}>
      {t('editor.this-work-is-open-in-another-tab')}
    </Notice>
  )
}

/** Somebody went on with this work elsewhere: this page writes no more, and what only it had is a piece of its own. */
export function TakenNotice({
  taken: { by, fork },
  onHere,
}: {
  taken: NonNullable<SessionState['taken']>
  onHere: () => void
}) {
  return (
    <Notice
      tone="alarm"
      actions={
        <>
          <Button onClick={onHere}>{t('editor.write-here-instead')}</Button>
          {fork && (
            <Link to={`/rescue/${fork.id}`} className="inline-flex h-8 items-center px-2 text-accent underline">
              {t('editor.look-at-what-was-only-here')}
            </Link>
          )}
        </>
      }
    >
      <span data-testid="taken">
        {t('editor.you-went-on-with-this-work-in', { byIs: Boolean(by), by })}{' '}
        {fork && t('editor.what-only-this-page-had-is-kept', { beyondInWords: beyondInWords(fork.beyond) })}
      </span>
    </Notice>
  )
}

/** @param ahead of the server's clock, in milliseconds; negative when behind */
export function ClockNotice({ ahead }: { ahead: number }) {
  const minutes = Math.round(Math.abs(ahead) / 60_000)
  return (
    <Notice tone="alarm">
      {t('editor.this-computers-clock-is-minutes-slow-so', { minutes, ahead: Boolean(ahead > 0) })}
    </Notice>
  )
}

export function GapNotice({ lostFrom, onSeen }: { lostFrom: number; onSeen: () => void }) {
  return (
    <Notice tone="alarm" actions={<Button onClick={onSeen}>{t('common.ok')}</Button>}>
      {t('editor.the-unsaved-work-on-this-computer-is', { it: lostFrom - 1 })}
    </Notice>
  )
}

export function RecoveredNotice({
  lastEditAt,
  from,
  head,
  saved,
  edits,
  missing,
  lostFrom,
  onSeparately,
  onSeen,
}: {
  lastEditAt: string | null
  from: 'device' | 'shared storage' | null
  head: Version | null
  saved: boolean
  /** How many edits are here. */
  edits: number
  /** Edits that are known to have been made and are not here. */
  missing: { edits: number; deviceName: string } | null
  lostFrom: number | null
  onSeparately: () => void
  onSeen: () => void
}) {
  return (
    <Notice
      tone={missing ? 'alarm' : undefined}
      actions={
        <>
          {saved && <Button onClick={onSeparately}>{t('common.save-as-a-separate-file')}</Button>}
          <Button look="quiet" onClick={onSeen}>
            {t('common.ok')}
          </Button>
        </>
      }
    >
      {t('editor.you-go-on-with-unsaved-work-of', {
        it: lastEditAt ? moment(lastEditAt) : 'before',
        from: Boolean(from === 'device'),
        missing: Boolean(missing),
        edits: missing?.edits,
        deviceName: missing?.deviceName,
        lostFrom: Boolean(lostFrom === null),
        edits2: edits,
      })}{' '}
      {head && t('editor.version-stays-as-it-is-until-you', { number: head.number })}
    </Notice>
  )
}

/** What is known to have been written beyond the version that is open here, and is on another device only. */
export function MissingNotice({ missing: { edits, deviceName } }: { missing: { edits: number; deviceName: string } }) {
  return (
    <Notice tone="alarm">
      <span data-testid="missing">{t('editor.changes-are-on-only-beyond-this-version', { edits, deviceName })}</span>
    </Notice>
  )
}

/** What the file holds and the editor does not show. @param props.stays it is in the next version as well */
/** A file whose type is read and not written, with what of it the type does not hold that it goes on as. */
export function ReadOnlyNotice({
  type,
  limits,
  onSeen,
}: {
  type: string
  limits: readonly Limit[]
  onSeen: () => void
}) {
  return (
    <Notice
      actions={
        <Button look="quiet" onClick={onSeen}>
          {t('common.ok')}
        </Button>
      }
    >
      {t('editor.read-and-not-written', { type, label: fileType(typeWritten(type, 'document')).label })}
      {limits.length > 0 && ` ${t('editor.left-out-by-saving', { limits: limits.map(limitInWords).join('; ') })}`}
    </Notice>
  )
}

export function UnseenNotice({
  limits,
  stays,
  onSeen,
}: {
  limits: readonly Limit[]
  stays: boolean
  onSeen: () => void
}) {
  return (
    <Notice
      actions={
        <Button look="quiet" onClick={onSeen}>
          {t('common.ok')}
        </Button>
      }
    >
      {t(stays ? 'editor.kept-and-not-shown' : 'editor.left-out-by-saving', {
        limits: limits.map(limitInWords).join('; '),
      })}
    </Notice>
  )
}

export function RefusalNotice({
  refusal,
  onMerge,
  onSaveOnTop,
  onSeparately,
}: {
  refusal: Problem
  onMerge: () => void
  onSaveOnTop: (head: Version) => void
  onSeparately: () => void
}) {
  return (
    <Notice
      tone="alarm"
      actions={
        <>
          {refusal.head && (
            <Button look="main" onClick={onMerge}>
              {t('editor.combine-the-two-and-save')}
            </Button>
          )}
          {refusal.head && (
            <Button onClick={() => onSaveOnTop(refusal.head!)}>
              {t('editor.save-mine-as-version', { it: refusal.head.number + 1 })}
            </Button>
          )}
          <Button onClick={onSeparately}>{t('common.save-as-a-separate-file')}</Button>
        </>
      }
    >
      {told(refusal)}{' '}
      {refusal.head
        ? t('editor.your-work-is-not-saved-yet-and', { authorName: refusal.head.author.name })
        : t('editor.your-work-stays-open')}
    </Notice>
  )
}

/** Somebody lost the right to what they have open. @param lowered they may still look at it @param onSeparately null for a guest, who has no other place */
export function LostNotice({ lowered, onSeparately }: { lowered: boolean; onSeparately: (() => void) | null }) {
  if (!onSeparately) return <Notice tone="alarm">{t('editor.the-link-does-not-let-you-write')}</Notice>
  return (
    <Notice tone="alarm" actions={<Button onClick={onSeparately}>{t('common.save-as-a-separate-file')}</Button>}>
      {t(lowered ? 'editor.may-only-look-now' : 'editor.file-is-not-for-you')}
    </Notice>
  )
}

export function NewerNotice({
  newer,
  own,
  mine,
  unsaved,
  onShow,
  onTakeIn,
}: {
  newer: Version
  /** Saved by the same person, on another device or in another tab. */
  own: boolean
  mine: Version | null
  unsaved: boolean
  onShow: () => void
  onTakeIn: () => void
}) {
  return (
    <Notice
      actions={
        unsaved ? (
          <Button onClick={onTakeIn}>{t('editor.combine-now')}</Button>
        ) : (
          <Button onClick={onShow}>{t('common.show-it')}</Button>
        )
      }
    >
      {t('editor.saved-version-saving-combines-it-with-your', {
        own: Boolean(own),
        number: newer.number,
        authorName: newer.author.name,
        at: moment(newer.at),
        number2: mine?.number,
      })}
    </Notice>
  )
}
