// One version in the list: when, who, what changed, and everything that can be done with it.
import clsx from 'clsx'
import { EllipsisVertical } from 'lucide-react'
import type { HistoryVersion, Trace } from '../../../core/contract'
import { addressOf } from '../../api/call'
import { reasons, saidAuthor } from '../../compare/moments'
import { Button } from '../../design/controls'
import { IconButton } from '../../design/icon-button'
import { Menu, MenuItem, MenuRule } from '../../design/overlay'
import type { Sending } from '../../send/use-sending'
import { t, told } from '../../words/all'
import { size, moment as time } from '../../words/formats'

export interface ListActs {
  mayEdit: boolean
  onRestore: (version: HistoryVersion) => void
  /** null is now. */
  onCompare: (older: HistoryVersion, newer: HistoryVersion | null) => void
  onLabel: (version: HistoryVersion) => void
  /** Looks for where what is selected changed; absent where nothing can be selected. */
  onTrace?: () => Promise<Trace | null>
  /** Absent where a version is not saved as a copy. */
  onCopy?: (version: HistoryVersion) => void
  /** What can be sent, and was. */
  sending: () => Sending
}

export function VersionRow({
  version,
  isNewest,
  before,
  isChosen,
  picked,
  change,
  folded,
  acts,
  onPick,
  onLook,
  onUnfold,
}: {
  version: HistoryVersion
  isNewest: boolean
  /** The version before it. */
  before: HistoryVersion | undefined
  isChosen: boolean
  /** Chosen to be compared. */
  picked: boolean
  /** From what to what a place that is followed changed here. */
  change: Trace['changes'][number] | undefined
  /** Versions that are folded under it. */
  folded: number
  acts: ListActs
  onPick: () => void
  onLook: () => void
  onUnfold: () => void
}) {
  const { send, sentTo } = acts.sending()
  const people = sentTo.get(version.id)
  return (
    <div className={clsx('flex items-center gap-2 px-4', isChosen ? 'bg-wash' : 'hover:bg-desk/60')}>
      <input
        type="checkbox"
        aria-label={t('lifeline.pick-version-to-compare', { number: version.number })}
        className="size-4 accent-[var(--accent)]"
        checked={picked}
        onChange={onPick}
      />
      <button
        type="button"
        data-row
        onClick={onLook}
        className="grid min-w-0 flex-1 grid-cols-[92px_minmax(0,1fr)] items-baseline gap-x-3 md:grid-cols-[92px_120px_132px_minmax(0,1fr)] py-1 text-left text-[14px] hover:text-accent"
      >
        <span className="whitespace-nowrap font-medium">{t('common.version', { number: version.number })}</span>
        <span>{time(version.at)}</span>
        <span className="truncate" title={saidAuthor(version)}>
          {saidAuthor(version)}
        </span>
        <span
          className="truncate text-soft"
          title={
            version.from
              ? t('lifeline.was-at', { path: version.from.path })
              : version.summary
                ? told(version.summary)
                : undefined
          }
        >
          {before && before.type !== version.type && (
            <span className="mr-2 font-mono text-[12.5px] text-ink">
              {t('lifeline.another-type', { before: before.type, type: version.type })}
            </span>
          )}
          {version.label && <strong className="mr-2 font-medium text-ochre">{version.label}</strong>}
          {change ? (
            <Changed before={change.before} now={change.now} />
          ) : (
            <>
              {version.reason !== 'saved' && `${reasons[version.reason]}: `}
              {version.summary === null ? '…' : told(version.summary)}
            </>
          )}
          {people && <span className="ml-2 text-accent">{t('sending.sent-to', { people })}</span>}
        </span>
      </button>
      {folded > 0 && (
        <Button look="quiet" className="h-7 text-[13px]" onClick={onUnfold}>
          {t('lifeline.more-by-itself', { folded })}
        </Button>
      )}
      <span className="w-14 text-right text-[12.5px] text-soft">{size(version.size)}</span>
      <Menu
        trigger={
          <IconButton label={t('lifeline.more-for-version', { number: version.number })} className="size-7">
            <EllipsisVertical />
          </IconButton>
        }
      >
        <MenuItem onSelect={() => acts.onCompare(version, null)}>{t('common.compare-with-now')}</MenuItem>
        <MenuItem disabled={!before} onSelect={() => before && acts.onCompare(before, version)}>
          {t('lifeline.compare-with-the-one-before')}
        </MenuItem>
        <MenuRule />
        {acts.mayEdit && (
          <MenuItem onSelect={() => acts.onLabel(version)}>
            {version.label ? t('lifeline.change-its-label') : t('lifeline.keep-it-under-a-label')}
          </MenuItem>
        )}
        {send && (
          <MenuItem onSelect={() => send({ versionIds: [version.id] })}>{t('lifeline.send-this-version')}</MenuItem>
        )}
        {acts.onCopy && <MenuItem onSelect={() => acts.onCopy!(version)}>{t('lifeline.save-it-as-a-copy')}</MenuItem>}
        <MenuItem onSelect={() => window.location.assign(addressOf('bytes', { params: { versionId: version.id } }))}>
          {t('lifeline.download-this-version')}
        </MenuItem>
        {acts.mayEdit && !isNewest && (
          <>
            <MenuRule />
            <MenuItem onSelect={() => acts.onRestore(version)}>{t('lifeline.restore-the-whole-file-to-it')}</MenuItem>
          </>
        )}
      </Menu>
    </div>
  )
}

/** From what to what, for a place that is followed. */
function Changed({ before, now }: { before: string | null; now: string | null }) {
  if (before === null) return <>{t('lifeline.it-came-as', { now })}</>
  return (
    <>
      <del className="marked-removed">{before || 'nothing'}</del> →{' '}
      <ins className="marked-added">{now || 'nothing'}</ins>
    </>
  )
}
